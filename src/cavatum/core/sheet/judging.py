"""What was found, put in order: the same thing said twice is one, two that differ are both kept and doubted,
and each says how sure it is.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Literal

from ..common.plain_numbers import plainly
from ..common.working import Data
from .finding import SIDE, Hit
from .grammar import Value, in_si
from .page import Place, box_of
from .vocabulary import Quantity, Vocabulary

Sure = Literal["sure", "likely", "unsure"]
SAME = 0.015  # relative: the same value said in two units, or rounded
ROUNDED = 0.07  # relative: "1/4 in (6 mm)"
LEAST_READ = 0.6  # of a picture's words: below, a character may be another
GRAVITY_KG_M3 = 1000.0  # specific gravity is over water's density; by 4 or 20 degC differs by 0.2 %


class Found(Data):
    """One thing a sheet says. low, high: SI; of a ratio both sides as they stand. as_typed: as a person
    would type it. at_c, mass_kg, depth_m: what it holds at, where that is said. where: the value's places,
    the first the best; named_by: the words that name it. product: the head of its column, where a sheet
    tells several products apart. doubts: codes of what speaks against it.
    """

    quantity: str
    part: Literal["", "a", "b", "mix"] = ""
    basis: Literal["", "volume", "weight"] = ""
    until: str = ""
    low: float
    high: float
    limit: Literal["", "most", "least"] = ""
    as_typed: str
    written: str
    at_c: float | None = None
    mass_kg: float | None = None
    depth_m: float | None = None
    where: list[Place]
    named_by: list[Place] = []
    product: str = ""
    sure: Sure
    doubts: list[str] = []


def judged(hits: Iterable[tuple[int, Hit]], vocabulary: Vocabulary) -> list[Found]:
    """Every thing the hits say, once.

    hits  each with the number of its page, in reading order
    Raises nothing. Valid within the quantities' bounds of sense. Source: own judgement.
    """
    found = [_found(page, hit, vocabulary.quantities) for page, hit in _each_kit(_with_sides(hits))]
    return _without_repeats([one for one in found if one is not None])


def _with_sides(hits: Iterable[tuple[int, Hit]]) -> list[tuple[int, Hit]]:
    """Parts of A and of B on one basis make a ratio."""
    done: list[tuple[int, Hit]] = []
    open_sides: dict[tuple[str, str], Hit] = {}
    for page, hit in hits:
        if hit.quantity != SIDE:
            done.append((page, hit))
            continue
        other = open_sides.pop((hit.basis, "b" if hit.part == "a" else "a"), None)
        if other is None:
            open_sides[hit.basis, hit.part] = hit
            continue
        a, b = (hit, other) if hit.part == "a" else (other, hit)
        value = replace(
            a.value,
            kind="ratio",
            low=a.value.low,
            high=b.value.low,
            written=f"{a.value.written} : {b.value.written}",
            words=(*a.value.words, *b.value.words),
            certain=a.value.certain and b.value.certain,
        )
        done.append((page, replace(a, quantity="ratio", value=value, part="", column="")))
    return done


def _each_kit(hits: Iterable[tuple[int, Hit]]) -> Iterator[tuple[int, Hit]]:
    """Sizes are a row, however they are written: "1 kg - 5 kg" is no kit of anything between."""
    for page, hit in hits:
        ends = dict.fromkeys((hit.value.low, hit.value.high)) if hit.quantity == "kit" else ()
        if len(ends) == 2:
            yield from ((page, replace(hit, value=replace(hit.value, low=end, high=end))) for end in ends)
        else:
            yield page, hit


def _found(page: int, hit: Hit, quantities: object) -> Found | None:
    known: Quantity = quantities[hit.quantity]  # type: ignore[index]
    value = _turned(hit.value) if known.kind == "ratio" else hit.value
    quantity = hit.quantity
    if quantity == "gravity":
        quantity = "density"
        value = replace(
            value, kind="density", unit="g/mL", low=value.low * GRAVITY_KG_M3, high=value.high * GRAVITY_KG_M3
        )
        known = quantities["density"]  # type: ignore[index]
    if not math.isfinite(value.low) or not math.isfinite(value.high):
        return None
    doubts = [*hit.doubts, *_doubts(quantity, value, hit, known)]
    ratio = known.kind == "ratio"
    return Found(
        quantity=quantity,
        part="" if ratio else hit.part,
        basis=hit.basis if ratio else "",
        until=hit.until if quantity in ("working_time", "gel_time") else "",
        low=value.low,
        high=value.high,
        limit=value.limit,
        as_typed=_typed(value),
        written=value.written,
        at_c=_condition(hit, "temperature", known.kind),
        mass_kg=_condition(hit, "mass", known.kind),
        depth_m=_condition(hit, "length", known.kind),
        where=[box_of(value.words, page)],
        named_by=[box_of(hit.label, page)] if hit.label else [],
        product=hit.column,
        sure=_sure(doubts),
        doubts=doubts,
    )


def _turned(value: Value) -> Value:
    """A to B, whichever the sheet names first."""
    if value.parts[0] == "b" or value.parts[1] == "a":
        return replace(value, low=value.high, high=value.low)
    return value


def _condition(hit: Hit, kind: str, own: str) -> float | None:
    """The middle of what the value is said to hold at."""
    if own == kind:
        return None
    return next(((one.low + one.high) / 2 for one in hit.conditions if one.kind == kind), None)


def _doubts(quantity: str, value: Value, hit: Hit, known: Quantity) -> list[str]:
    told = []
    if known.kind == "ratio":
        ratio = value.low / value.high if value.high else math.inf
        told += [] if known.low <= ratio <= known.high else ["out-of-sense"]
        told += [] if hit.basis else ["no-basis"]
    elif not (known.low <= value.low and value.high <= known.high) or value.low > value.high:
        told.append("out-of-sense")
    if not value.certain:
        told.append("two-readings")
    read = min((word.sure for word in value.words), default=1.0)
    if read < 1.0:
        told.append("hard-to-read" if read < LEAST_READ else "from-a-picture")
    return told


def _sure(doubts: Sequence[str]) -> Sure:
    if not doubts:
        return "sure"
    return "likely" if set(doubts) <= {"named-behind", "two-readings", "from-a-picture"} else "unsure"


def _typed(value: Value) -> str:
    if value.kind == "ratio":
        return f"{plainly(value.low)}:{plainly(value.high)}"
    ends = [plainly(in_unit(end, value.unit), 6) for end in dict.fromkeys((value.low, value.high))]
    return f"{'-'.join(ends)} {value.unit}".strip()


def in_unit(si: float, unit: str) -> float:
    """A value in SI as a number in a unit of the table; as it stands without one.

    si, unit  as core/sheet/grammar.in_si takes and gives them
    Raises nothing. Exact. Source: NIST SP 811.
    """
    if not unit:
        return si
    nought = in_si(0.0, unit)
    return (si - nought) / (in_si(1.0, unit) - nought)


def _without_repeats(found: Sequence[Found]) -> list[Found]:
    kept: list[Found] = []
    for one in found:
        place = next((at for at, other in enumerate(kept) if _is_said_by(one, other)), None)
        if place is None:
            kept.append(one)
        else:
            kept[place] = _joined(kept[place], one)
    return [_against(one, kept) for one in kept]


def _same_thing(one: Found, other: Found) -> bool:
    return (
        one.quantity == other.quantity
        and (one.part == other.part or not one.part or not other.part)
        and (one.basis == other.basis or not one.basis or not other.basis)
        and one.product == other.product
        and one.quantity != "kit"
    )


def _same_conditions(one: Found, other: Found) -> bool:
    pairs = ((one.at_c, other.at_c), (one.mass_kg, other.mass_kg), (one.depth_m, other.depth_m))
    return all(
        a is None or b is None or math.isclose(a, b, rel_tol=0.02, abs_tol=0.6) for a, b in pairs[:1]
    ) and all(a is None or b is None or math.isclose(a, b, rel_tol=0.05) for a, b in pairs[1:])


def _close(one: Found, other: Found, share: float) -> bool:
    if one.quantity == "ratio":
        return math.isclose(one.low / one.high, other.low / other.high, rel_tol=1e-6)
    return all(
        math.isclose(a, b, rel_tol=share, abs_tol=1.2 if one.quantity in TEMPERATURES else 0.0)
        for a, b in ((one.low, other.low), (one.high, other.high))
    )


TEMPERATURES = frozenset({"room", "pour_temperature", "heat_resistance", "tg", "hdt", "peak"})


def _is_said_by(one: Found, other: Found) -> bool:
    if one.quantity == "kit":
        return other.quantity == "kit" and one.as_typed == other.as_typed
    share = SAME if _unit(one) == _unit(other) else ROUNDED
    return _same_thing(one, other) and _same_conditions(one, other) and _close(one, other, share)


def _unit(one: Found) -> str:
    return one.as_typed.partition(" ")[2]


def _joined(kept: Found, again: Found) -> Found:
    """The same, said again: what one of them leaves out the other tells."""
    basis = kept.basis or again.basis
    doubts = sorted(set(kept.doubts) & set(again.doubts))
    if kept.quantity == "ratio" and not basis:
        doubts = [*doubts, *({"no-basis"} - set(doubts))]
    told: dict[str, object] = {
        name: _told(getattr(kept, name), getattr(again, name))
        for name in ("part", "until", "limit", "at_c", "mass_kg", "depth_m")
    }
    places = {"where": [*kept.where, *again.where], "named_by": [*kept.named_by, *again.named_by]}
    return kept.model_copy(update={**told, **places, "basis": basis, "doubts": doubts, "sure": _sure(doubts)})


def _told(kept: object, again: object) -> object:
    return again if kept in ("", None) else kept


def _against(one: Found, all_found: Sequence[Found]) -> Found:
    """Two places that disagree are both doubted; what is only rounded otherwise does not."""
    others = [
        other
        for other in all_found
        if other is not one
        and _same_thing(one, other)
        and _same_conditions(one, other)
        and not _close(one, other, ROUNDED)
        and not (one.basis != other.basis and one.quantity == "ratio")
    ]
    if not others or one.quantity == "kit":
        return one
    doubts = [*one.doubts, "said-otherwise"]
    return one.model_copy(update={"doubts": doubts, "sure": _sure(doubts)})


def agreed(first: Sequence[Found], second: Sequence[Found]) -> list[Found]:
    """One picture read twice: what both readings say is no longer doubted for being from a picture; what they
    say otherwise, or one alone says, is.

    first  whose places count;  second  another reading of the same picture
    Raises nothing. Valid as far as the two readings slip by themselves. Source: own judgement.
    """
    borne_out = [_borne_out(one, second) for one in first]
    alone = [
        _doubted(one, "read-once") for one in second if not any(_same_place(one, other) for other in first)
    ]
    return [*borne_out, *alone]


def _borne_out(one: Found, others: Sequence[Found]) -> Found:
    same = [other for other in others if _same_place(one, other)]
    if not same:
        return _doubted(one, "read-once")
    if not any(_says_the_same(one, other) for other in same):
        return _doubted(one, "read-otherwise")
    doubts = [doubt for doubt in one.doubts if doubt != "from-a-picture"]
    return one.model_copy(update={"doubts": doubts, "sure": _sure(doubts)})


def _same_place(one: Found, other: Found) -> bool:
    """Of the same quantity and part, of a product or of none, and over each other on the page. A product's
    name may be read otherwise: it is the same column.
    """
    a, b = one.where[0], other.where[0]
    over = min(a.bottom, b.bottom) - max(a.top, b.top) > 0 and min(a.x1, b.x1) - max(a.x0, b.x0) > 0
    same_thing = (one.quantity, one.part, not one.product) == (other.quantity, other.part, not other.product)
    return over and same_thing


def _says_the_same(one: Found, other: Found) -> bool:
    names = ("low", "high", "basis", "limit", "until", "at_c", "mass_kg", "depth_m")
    return all(getattr(one, name) == getattr(other, name) for name in names)


def _doubted(one: Found, doubt: str) -> Found:
    doubts = [*one.doubts, doubt]
    return one.model_copy(update={"doubts": doubts, "sure": _sure(doubts)})
