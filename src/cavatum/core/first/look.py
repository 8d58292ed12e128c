"""A first look: what lies on the bench, how big it is, how much is wanted on it; the answer is the plan of
the piece that it would be, with all that was taken for granted named. Nothing is kept.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, ValidationError

from ..coats.amount import Bed, bed_of, film_from, mixed_for
from ..coats.laid import with_cups
from ..common import units
from ..common.amounts import read_amount, read_coverage
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Id, Length
from ..common.unit_table import US_FLUID_OUNCE_M3
from ..common.wording import FOOT_M, Wording
from ..common.working import Data
from ..common.workshop import Workshop
from ..mix.amount import mixed_volume
from ..piece.coats import Coat
from ..piece.document import Piece
from ..piece.lays import Lay, LayAmount, LayRule
from ..piece.shelf_items import NONE, ShelfItems
from ..plan import make_plan
from ..plan_model import Plan
from ..practice.coats import called
from ..resin.ratio import ratio_of
from ..resin.system import System
from .benches import BENCHES, Ask, Bench, Choice, Kind

Typed = Annotated[str, StringConstraints(max_length=80)]
Side = Literal["amount", "film", "rule"]


class FirstLook(Data):
    """readings: as typed, by the key of their question, a bare number in the workshop's unit. One of amount,
    film and rule; none: the film that is usual. system_id: of the shelf or a typical class; None: the class
    that suits.
    """

    bench: Bench
    readings: dict[str, Typed] = Field(default={}, max_length=12)
    choices: dict[str, Typed] = Field(default={}, max_length=6)
    amount: Typed = ""
    film: Typed = ""
    rule: Typed = ""
    system_id: Id | None = None


class TakenForNow(Data):
    """Something nobody said here. key: of the question that says it; "room" and "cup": the workshop's own
    settings.
    """

    key: str
    words: str


class Sides(Data):
    """A coat's amount, film and rule as they are read aloud; typed: the one that the others follow."""

    typed: Side
    amount: str
    film: str
    rule: str
    says: str


class FirstAnswer(Data):
    """asks, choices: what this kind asks for;  is_coat  it is covered, not filled: asked for amount, film or
    rule;  missing  keys of what has still to be said;  piece, plan  None
    until then;  is_typical  nobody's sheet: the values are those of the class
    """

    asks: list[Ask]
    choices: list[Choice]
    is_coat: bool
    missing: list[str]
    system_id: str
    system: str
    is_typical: bool
    sides: Sides | None = None
    taken: list[TakenForNow] = []
    piece: Piece | None = None
    plan: Plan | None = None


class AtKey(Exception):
    """A refusal with the key of the question it belongs to."""

    def __init__(self, error: DomainError, key: str):
        super().__init__(str(error))
        self.error, self.key = error, key


def first_look(
    look: FirstLook,
    shelf: Mapping[str, System],
    classes: Mapping[str, System],
    workshop: Workshop,
    now: datetime,
    shelf_items: ShelfItems = NONE,
) -> FirstAnswer:
    """The answer to a first look.

    shelf  sheets of the workshop by id;  classes  typical ones;  now  with a zone
    Raises AtKey for what cannot be read or cannot be.
    """
    kind = BENCHES[look.bench]
    system = _system(look.system_id, kind, shelf, classes)
    missing = [one.key for one in kind.asks if not one.taken and not look.readings.get(one.key, "").strip()]
    answer = FirstAnswer(
        asks=list(kind.asks),
        choices=list(kind.choices),
        is_coat=kind.is_coat,
        missing=missing,
        system_id=system.id,
        system=system.name,
        is_typical=system.id not in shelf,
    )
    if missing:
        return answer
    chosen = {one.key: _chosen(one, look.choices.get(one.key, "")) for one in kind.choices}
    parts = kind.made({one.key: _read(one, look, workshop) for one in kind.asks}, chosen)
    piece = _piece(look, kind, parts, system, workshop)
    sheets = {**shelf, system.id: system}

    sides = None
    if kind.is_coat:
        piece, sides = _by_its_side(look, kind, piece, system, workshop)
    plan = make_plan(piece, sheets, workshop, now, in_full=False, shelf_items=shelf_items)
    return answer.model_copy(
        update={
            "piece": piece,
            "plan": plan,
            "sides": sides,
            "taken": _taken(look, kind, chosen, workshop, is_typical=answer.is_typical),
        }
    )


def _system(
    wanted: str | None, kind: Kind, shelf: Mapping[str, System], classes: Mapping[str, System]
) -> System:
    """The one that was named; else the shelf's own of the class that suits, else the class."""
    id_ = wanted or kind.system_id
    found = shelf.get(id_) or classes.get(id_)
    if found is None:
        raise AtKey(
            DomainError(
                argument="resin",
                value=id_,
                allowed="it stands on the shelf, or is a typical class",
                way_out="Choose another.",
                code="no-system",
            ),
            "system_id",
        )
    return found


def _chosen(choice: Choice, said: str) -> str:
    if said and said not in choice.options:
        raise AtKey(
            DomainError(
                argument=choice.label,
                value=said,
                allowed=f"it is one of {', '.join(choice.options)}",
                way_out="Choose one of these.",
                code="unknown-choice",
            ),
            choice.key,
        )
    return said or choice.options[0]


def _unit(workshop: Workshop) -> str:
    return "in" if workshop.units == "us" else "mm"


def _read(ask: Ask, look: FirstLook, workshop: Workshop) -> Any:
    """A reading as documents have it; a count as a whole number."""
    said = look.readings.get(ask.key, "").strip()
    try:
        if ask.kind == "count":
            return int(units.parse(said or ask.taken, "count").value)
        found = units.parse(said or ask.taken, "length", _unit(workshop))
        return _checked(found.value, found.as_typed, "measured" if said else "typical", found.spread)
    except DomainError as error:
        raise AtKey(error, ask.key) from error


def _checked(value: float, as_typed: str, origin: str, spread: float | None = None) -> dict[str, Any]:
    """A length as documents have it, within the bounds of sense. Raises DomainError outside them."""
    reading = {"value": value, "as_typed": as_typed, "origin": origin, "spread": spread}
    try:
        Length.model_validate(reading)
    except ValidationError as error:
        refused = error.errors()[0].get("ctx", {}).get("error")
        if isinstance(refused, DomainError):
            raise refused from error
        raise
    return reading


def _piece(look: FirstLook, kind: Kind, parts: dict[str, Any], system: System, workshop: Workshop) -> Piece:
    one = {"id": "first", "name": look.bench.capitalize(), **parts}
    if kind.is_coat:
        one["lays"] = [{"id": "first-p", "film_m": {"as_typed": kind.film, "origin": "typical"}}]
    else:
        one["portions"] = [{"id": "first-p"}]
    return Piece.model_validate(
        {
            "name": look.bench.capitalize(),
            "kind_of_work": kind.kind_of_work,
            "system_id": system.id,
            "coats" if kind.is_coat else "voids": [one],
        }
    )


def _said(look: FirstLook) -> Side | None:
    """The side that was typed; None: nobody typed any. Raises AtKey where there are two."""
    said: list[Side] = [one for one in ("amount", "film", "rule") if getattr(look, one).strip()]
    if len(said) > 1:
        raise AtKey(
            DomainError(
                argument=said[-1],
                value=f"typed beside {said[0]}",
                allowed="one of amount, film and rule is typed; the others follow",
                way_out="Empty one of the two.",
                code="said-twice",
            ),
            said[-1],
        )
    return said[0] if said else None


def _by_its_side(
    look: FirstLook, kind: Kind, piece: Piece, system: System, workshop: Workshop
) -> tuple[Piece, Sides]:
    """The coat by the side that was typed, and all three sides."""
    said = _said(look)
    side: Side = said or "film"
    coat = piece.coats[0]
    try:
        bed = bed_of(coat, 0.0, workshop.with_waste_of(system.id))
    except DomainError as error:  # measures that are sound one by one and not together
        raise AtKey(error, "band" if error.argument == "bare band" else kind.asks[0].key) from error
    try:
        lay, film_m, bed = _lay(look, side, coat, bed, system, workshop)
        _checked(film_m, "", "chosen")
    except DomainError as error:
        raise AtKey(error, side) from error
    words = Wording(workshop)
    sides = Sides(
        typed=side,
        amount=look.amount.strip() or words.volume(mixed_for(film_m, bed)),
        film=look.film.strip() or words.film(film_m),
        rule=look.rule.strip() or _as_rule(film_m, workshop),
        says=f"{words.film(film_m)} is {called(film_m)}.",
    )
    return piece.model_copy(update={"coats": [coat.model_copy(update={"lays": [lay]})]}), sides


def _lay(
    look: FirstLook, side: Side, coat: Coat, bed: Bed, system: System, workshop: Workshop
) -> tuple[Lay, float, Bed]:
    """The coat as it was typed, its film [m], and what it lies on with the cups it is mixed in."""
    ratio, id_ = ratio_of(system), coat.lays[0].id
    if side == "amount":
        said = read_amount(look.amount, asks=False)
        mixed_m3 = mixed_volume(said, ratio, system.name)
        bed = with_cups(bed, mixed_m3, coat, system, ratio, workshop)
        amount = LayAmount(as_typed=said.as_typed, value=said.value, by=said.by, sense=said.sense)
        return Lay(id=id_, amount=amount), film_from(mixed_m3, bed), bed
    if side == "rule":
        found = read_coverage(look.rule)
        rule = LayRule(as_typed=look.rule.strip(), value=found.value, by=found.by)
        return Lay(id=id_, rule=rule), found.film(ratio.mixed_density), bed
    if not look.film.strip():
        return coat.lays[0], coat.film_m.value, bed
    film = units.parse(look.film.strip(), "length", _unit(workshop))
    checked = _checked(film.value, film.as_typed, "chosen", film.spread)
    return Lay(id=id_, film_m=Length.model_validate(checked)), film.value, bed


def _as_rule(film_m: float, workshop: Workshop) -> str:
    if workshop.units == "us":
        return f"{plainly(film_m * FOOT_M**2 / US_FLUID_OUNCE_M3, 2)} fl oz per ft²"
    return f"{plainly(film_m * 1e5, 3)} mL per 1000 cm²"


def _taken(
    look: FirstLook, kind: Kind, chosen: Mapping[str, str], workshop: Workshop, *, is_typical: bool
) -> list[TakenForNow]:
    """All that the answer rests on and nobody said here."""
    words = Wording(workshop)
    found = [
        TakenForNow(key=one.key, words=f"{one.label} {words.length(units.parse(one.taken, 'length').value)}")
        for one in kind.asks
        if one.kind == "length" and one.taken and not look.readings.get(one.key, "").strip()
    ]
    found += [
        TakenForNow(key=one.key, words=f"{one.label}: {chosen[one.key]}")
        for one in kind.choices
        if not look.choices.get(one.key, "")
    ]
    if kind.is_coat and not (look.amount.strip() or look.film.strip() or look.rule.strip()):
        found.append(
            TakenForNow(key="film", words=f"a film of {words.film(units.parse(kind.film, 'length').value)}")
        )
    found.append(TakenForNow(key="room", words=f"room {words.temperature(workshop.room_c.value)}"))
    found += _stays(workshop, words)
    if is_typical:
        found.append(TakenForNow(key="system_id", words="values typical of the class, not your sheet"))
    return found


def _stays(workshop: Workshop, words: Wording) -> list[TakenForNow]:
    """What stays in the cup; nothing where all of it is scraped out."""
    share, fixed_m3 = workshop.stays
    if not share and not fixed_m3:
        return []
    return [TakenForNow(key="cup", words=f"{share:.0%} and {words.volume(fixed_m3)} stay in the cup")]
