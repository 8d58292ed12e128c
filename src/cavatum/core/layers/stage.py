"""The stage: every void's portions cut into layers from the bottom up under every limit, joined into
pours. Rules 4.1 to 4.4.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..common.answer import Answer
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.verdict import StageReport, Verdict, counted, refused
from ..common.wording import Wording
from ..measure.cavity import Cavity
from ..piece.coats import Coat
from ..piece.given import Given
from ..piece.parts import Filled, Portion
from ..resin.ratio import MixRatio
from .floating import floating_verdicts
from .heat import HeatOfPiece
from .pours import Fill, Pour, pours_of
from .search import OutOfForm, Search, void_layers
from .split import THINNEST_M, Stretch
from .verdicts import layer_verdicts

UNPOURED_M = 1e-4  # what a rule cannot be set to


def cut_layers(
    given: Given,
    cavities: Mapping[str, Cavity],
    ratios: Mapping[str, MixRatio],
    heat: HeatOfPiece,
    out_of_form: OutOfForm,
) -> Answer[list[Pour]]:
    """ratios: by system; one without a ratio fills nothing. out_of_form: see Search."""
    found: list[Verdict] = []

    def columns(filled: Sequence[Filled], place: str) -> list[list[Fill]]:
        made = []
        for index, one in enumerate(filled):
            if one.id not in cavities:
                continue
            found.extend(_left_unpoured(one, cavities[one.id], f"/{place}/{index}/portions", given.wording))
            try:
                made.append(_column(given, one, cavities[one.id], ratios, heat, out_of_form))
            except DomainError as error:
                found.append(refused("layers", error, f"/{place}/{index}/portions"))
        return made

    pours = pours_of(
        columns(given.piece.voids, "voids"),
        columns(given.piece.coats, "coats"),
        one_visit=given.piece.sealed_with_filling,
    )
    return Answer(pours, found)


def layers_verdicts(given: Given, pours: Sequence[Pour]) -> list[Verdict]:
    """What stands out about layers that can be mixed: too deep, too thin, what floats in them."""
    found = [verdict for pour in pours for verdict in layer_verdicts(pour, given.wording)]
    return found + floating_verdicts(pours, given.wording)


def _column(
    given: Given,
    filled: Filled,
    cavity: Cavity,
    ratios: Mapping[str, MixRatio],
    heat: HeatOfPiece,
    out_of_form: OutOfForm,
) -> list[Fill]:
    fills, course = list[Fill](), heat.empty.get(filled.id)
    start, portions = filled.there, [one for one in filled.filled_by if not _is_there(one, filled)]
    for portion in portions:
        end = portion.to_m.value if portion.to_m else cavity.fill_m
        _check_height(start, end, cavity.fill_m)
        if filled.is_coat:
            _check_film(end - start)
        system = given.system_of(portion)
        if system is not None and system.id in ratios:
            ratio = ratios[system.id]
            stretch = Stretch(
                cavity=cavity, system=system, density_kg_m3=ratio.mixed_density, from_m=start, to_m=end
            )
            search = _search(given, filled, portion, out_of_form)
            layers, course = void_layers(search, stretch, heat.cures.get(system.id), course)
            fills += [
                Fill(
                    void=filled,
                    portion=portion,
                    cavity=cavity,
                    system=system,
                    ratio=ratio,
                    layer=layer,
                    reserve=given.piece.reserve,
                    recipe=given.shelf_items.recipes.get(portion.recipe_id or ""),
                    lay=filled.lay_of(portion) if isinstance(filled, Coat) else None,
                )
                for layer in layers
            ]
        start = end
    return fills


def _search(given: Given, filled: Filled, portion: Portion, out_of_form: OutOfForm) -> Search:
    drawn = [one.value for one in portion.boundaries_m] if portion.boundaries_m is not None else None
    choice = "fewest" if filled.is_coat else given.piece.layering
    return Search(choice=choice, boundaries_m=drawn, out_of_form=out_of_form)


def _is_there(portion: Portion, filled: Filled) -> bool:
    """A portion that ends within what is there already."""
    return portion.to_m is not None and portion.to_m.value <= filled.there


def _left_unpoured(filled: Filled, cavity: Cavity, where: str, wording: Wording) -> list[Verdict]:
    """The last portion ends below the fill line: what lies above it is in no pour."""
    last = filled.filled_by[-1].to_m
    if last is None or last.value >= cavity.fill_m - UNPOURED_M:
        return []
    whole = cavity.volume(cavity.fill_m)
    left = whole - cavity.volume(last.value)
    return [
        Verdict(
            weight="warning",
            stage="layers",
            code="left-unpoured",
            rule="4.4",
            title=f"{filled.name}: {wording.volume(left)} stays empty",
            text=f"Its last portion ends at {wording.length(last.value)}, below the fill line at "
            f"{wording.length(cavity.fill_m)}: {wording.volume(left)} of {wording.volume(whole)} are in no "
            "pour and in no weight.",
            todo="Let the last portion go to the fill line, add one above it, or lower the fill line.",
            where=where,
        )
    ]


def _check_height(start: float, end: float, fill_m: float) -> None:
    if end > fill_m + 1e-9 or end <= start:
        raise DomainError(
            argument="portion",
            value=f"filled to ⟦{plainly(end * 1000)} mm⟧",
            allowed=f"it ends above {plainly(start * 1000)} and at most at the fill line, "
            f"⟦{plainly(fill_m * 1000)} mm⟧",
            way_out="Correct its height.",
            code="over-fill-line",
        )


def _check_film(film_m: float) -> None:
    if film_m < THINNEST_M:
        raise DomainError(
            argument="film",
            value=f"⟦{plainly(film_m * 1000, 2)} mm⟧",
            allowed=f"a coat is at least ⟦{plainly(THINNEST_M * 1000)} mm⟧: less is wiped on and off again",
            way_out="Lay more, or count it as what soaks in.",
            code="too-thin-to-lay",
        )


def report(pours: Sequence[Pour]) -> StageReport:
    if not pours:
        return StageReport("layers", "Measure and choose a system first.")
    return StageReport("layers", summary=counted(len(pours), "pour"))
