"""What every coat of a piece comes to: films from amounts and rules, before anything is planned. Rules 2.5
and 5.1."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ..common.amounts import Said
from ..common.answer import Answer
from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.readings import Length
from ..common.verdict import Verdict, refused
from ..common.workshop import Workshop
from ..mix.amount import mixed_volume
from ..piece.coats import Coat
from ..piece.document import Piece
from ..piece.given import Given
from ..piece.lays import Lay, LayAmount
from ..resin.ratio import MixRatio
from ..resin.system import System
from .amount import Bed, bed_of, cups_for, film_from

MOST_FILM_M = 0.1  # own judgement: what stands higher is no coat


def settle_coats(given: Given, ratios: Mapping[str, MixRatio]) -> Answer[Piece]:
    """The piece with the film of every coat that was typed as an amount or a rule.

    A coat whose film cannot be known yet is left as it was, and a verdict says what is missing.
    """
    found: list[Verdict] = []
    coats = []
    for index, coat in enumerate(given.piece.coats):
        lays = []
        for place, lay in enumerate(coat.lays):
            try:
                lays.append(_settled(given, coat, lay, ratios, is_first=place == 0))
            except DomainError as error:
                found.append(refused("measure", error, f"/coats/{index}/lays/{place}/{lay.typed}"))
                lays.append(lay)
        coats.append(coat.model_copy(update={"lays": lays}))
    return Answer(given.piece.model_copy(update={"coats": coats}), found)


def said_of(amount: LayAmount) -> Said:
    return Said(
        value=amount.value,
        by=amount.by,
        sense=amount.sense,
        words=amount.as_typed,
        as_typed=amount.as_typed,
    )


def _settled(given: Given, coat: Coat, lay: Lay, ratios: Mapping[str, MixRatio], *, is_first: bool) -> Lay:
    if lay.amount is None and lay.rule is None:
        return lay
    system = given.system_of(lay)
    ratio = ratios.get(system.id) if system else None
    if lay.rule is not None:
        film_m = lay.rule.coverage.film(_density(ratio, lay.rule.as_typed, needed=lay.rule.by == "mass"))
    else:
        assert lay.amount is not None
        reserve = given.piece.reserve.value if given.piece.reserve else 0.0
        bare = is_first and coat.existing_m is None
        bed = bed_of(coat, reserve, given.workshop_for(system), is_first=bare)
        mixed = mixed_of(lay.amount, system, ratio)
        bed = with_cups(bed, mixed, coat, system, ratio, given.workshop_for(system))
        film_m = film_from(mixed, bed)
    if film_m > MOST_FILM_M:
        raise Infeasible(
            argument=lay.typed,
            value=lay.amount.as_typed if lay.amount else lay.rule.as_typed if lay.rule else "",
            allowed=f"here it would stand {plainly(film_m * 1000, 3)} mm high",
            way_out="Check it, and the area.",
            code="too-much",
        )
    return lay.model_copy(update={"film_m": Length(value=film_m, origin="computed")})


def with_cups(
    bed: Bed,
    mixed_m3: float,
    coat: Coat,
    system: System | None,
    ratio: MixRatio | None,
    workshop: Workshop,
) -> Bed:
    """The same bed, with as many cups as the amount is mixed in."""
    return replace(bed, cups=cups_for(mixed_m3, coat, bed, system, ratio, workshop))


def mixed_of(amount: LayAmount, system: System | None, ratio: MixRatio | None) -> float:
    """An amount in all [m3]. Raises DomainError where the resin or the sense is not known."""
    if ratio is None or system is None:
        if amount.by == "volume" and amount.sense == "in all":
            return amount.value
        _density(None, amount.as_typed, needed=True)
    assert ratio is not None and system is not None
    return mixed_volume(said_of(amount), ratio, system.name)


def _density(ratio: MixRatio | None, typed: str, *, needed: bool) -> float:
    if ratio is not None:
        return ratio.mixed_density
    if needed:
        raise DomainError(
            argument="film",
            value=f"not known yet from {typed}",
            allowed="it takes the resin's densities and ratio",
            way_out="Choose the resin system.",
            code="film-not-known",
        )
    return 1.0
