"""Bottles on the shelf: what is left, how long it keeps, what plans reserve of it. Rule 3.4. Nothing goes
below zero and nothing is guessed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal

from pydantic import Field

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Id, Label, Mass
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data
from ..resin.ratio import MixRatio
from ..resin.system import System
from .solver import FOREVER_S, Held

Part = Literal["A", "B"]
PARTS: tuple[Part, ...] = ("A", "B")
OVERFULL = 1.02  # own judgement: what a filler gives on top
SOON = timedelta(days=30)  # own judgement: time enough for one more piece
LOW = 0.15  # own judgement: of a full bottle


class Bottle(Data):
    """One bottle, tin or bag as it was bought. part: A or B of a system; "" of a colourant. price_minor: of
    this bottle alone, or of its kit by weight.
    """

    goods: Literal["system", "colourant"]
    goods_id: Id
    part: Literal["A", "B", ""] = ""
    lot: Label = ""
    full_kg: Mass
    opened_on: date | None = None
    best_before: date | None = None
    price_minor: int | None = Field(default=None, ge=0, le=100_000_000)
    note: Label = ""


class OnShelf(Data):
    """A bottle with what is left in it [kg] by all that was booked; id and revision of the store."""

    id: int
    bottle: Bottle
    left_kg: float
    revision: int = 1


class PartNeed(Data):
    """What somebody needs of a system's parts [kg], and when. who: the piece."""

    who: str
    system_id: str
    a_kg: float
    b_kg: float
    at: datetime | None = None


def check_sound(bottle: Bottle, left_kg: float, today: date) -> None:
    """Refuses what no bottle can be: more in it than it holds, opened tomorrow, bought for nothing.

    left_kg  what is said to be in it [kg], >= 0
    Raises DomainError. Exact but for OVERFULL, which a filler's tolerance takes. Source: own, rule 3.4.
    """
    if left_kg > bottle.full_kg.value * OVERFULL:
        raise DomainError(
            argument="left in it",
            value=f"{plainly(left_kg * 1000)} g",
            allowed=f"at most the {plainly(bottle.full_kg.value * 1000)} g of a full one",
            way_out="Was the bottle weighed with it?",
            code="over-full",
        )
    if bottle.opened_on is not None and bottle.opened_on > today:
        raise DomainError(
            argument="opened on",
            value=f"{bottle.opened_on:%d %b %Y}",
            allowed="it is not after today",
            way_out="Leave it empty until the bottle is opened.",
            code="opened-in-the-future",
        )
    if bottle.price_minor == 0:
        raise DomainError(
            argument="price",
            value="nothing",
            allowed="it is more than nothing",
            way_out="Leave it empty where it is not known: a price of nothing would make the cheapest kit.",
            code="no-price",
        )


def check_fits(bottle: Bottle, key: str, system_id: str) -> None:
    """Refuses a bottle of something else than what is due at the scale.

    key  A or B, or cup/colourant;  system_id  what the batch is mixed of
    Raises DomainError. Exact. Source: own, rule 5.1: the wrong bottle is the one mistake no weighing shows.
    """
    if key in PARTS:
        fits = bottle.goods == "system" and bottle.goods_id == system_id and bottle.part == key
        due = f"part {key} of {system_id}"
    else:
        fits = bottle.goods == "colourant" and bottle.goods_id == key.partition("/")[2]
        due = key.partition("/")[2]
    if not fits:
        of = f"part {bottle.part} of {bottle.goods_id}" if bottle.part else bottle.goods_id
        raise DomainError(
            argument="bottle",
            value=f"of {of}",
            allowed=f"{due} is due",
            way_out="Put it back and look at the labels of both.",
            code="other-bottle",
        )


def good_until(bottle: Bottle, system: System | None) -> date | None:
    """The earlier of what is printed on it and, once opened, the sheet's shelf life. None: neither is
    known.
    """
    opened = (
        bottle.opened_on + timedelta(seconds=system.shelf_life_s.value)
        if bottle.opened_on and system and system.shelf_life_s
        else None
    )
    return min((one for one in (bottle.best_before, opened) if one is not None), default=None)


def booked(left_kg: float, take_kg: float) -> float:
    """What is left after taking. Raises DomainError below zero: the bottle's figure is wrong then, and has to
    be weighed.
    """
    if take_kg > left_kg + 1e-9:
        raise DomainError(
            argument="bottle",
            value=f"down to {left_kg * 1000:.1f} g",
            allowed=f"{take_kg * 1000:.1f} g cannot be taken from it",
            way_out="Weigh the bottle, take off its empty weight, and correct what is left.",
            code="below-zero",
        )
    return max(left_kg - take_kg, 0.0)


def held(stock: Sequence[OnShelf], system: System, ratio: MixRatio, now: datetime) -> list[Held]:
    """Usable mix from the bottles of both parts, what goes off first paired first. Expired bottles do not
    count; a part without its partner makes nothing.

    mix = min(A (1 + 1/r), B (1 + r))
    """

    def pile(part: str) -> list[list[float]]:
        rows = []
        for one in stock:
            if (
                one.bottle.goods == "system"
                and one.bottle.goods_id == system.id
                and one.bottle.part == part
                and one.left_kg > 0
            ):
                until = good_until(one.bottle, system)
                if until is None or until >= now.date():
                    end = (
                        FOREVER_S
                        if until is None
                        else (datetime.combine(until, time.max, UTC) - now).total_seconds()
                    )
                    rows.append([end, one.left_kg])
        return sorted(rows)

    a, b, found = pile("A"), pile("B"), []
    while a and b:
        mix = min(a[0][1] * (1 + 1 / ratio.by_weight), b[0][1] * (1 + ratio.by_weight))
        found.append(Held(mix, min(a[0][0], b[0][0])))
        a[0][1] -= ratio.part_a(mix)
        b[0][1] -= mix - ratio.part_a(mix)
        a, b = [one for one in a if one[1] > 1e-9], [one for one in b if one[1] > 1e-9]
    return found


def unpromised(
    stock: Sequence[OnShelf], reserved: Sequence[PartNeed], systems: Mapping[str, System], today: date
) -> list[OnShelf]:
    """The bottles with what other plans reserve taken off, from those that count, what goes off first before
    the rest.
    """

    def end(one: OnShelf) -> date:
        return good_until(one.bottle, systems[one.bottle.goods_id]) or date.max

    left = {one.id: one.left_kg for one in stock}
    for need in reserved:
        if need.system_id not in systems:
            continue
        for part, kg in (("A", need.a_kg), ("B", need.b_kg)):
            fitting = [
                one
                for one in stock
                if one.bottle.goods_id == need.system_id
                and one.bottle.part == part
                and _counts(one.bottle, systems[need.system_id], today)
            ]
            for one in sorted(fitting, key=end):
                taken = min(kg, left[one.id])
                left[one.id] -= taken
                kg -= taken
    return [one.model_copy(update={"left_kg": left[one.id]}) for one in stock]


def _date_verdicts(one: OnShelf, system: System | None, today: date, wording: Wording) -> list[Verdict]:
    found: list[Verdict] = []
    until = good_until(one.bottle, system)
    if until is None or one.left_kg <= 0:
        return found
    name = f"part {one.bottle.part}" if one.bottle.part else "it"
    opened = system is not None and one.bottle.opened_on is not None and until != one.bottle.best_before
    if until < today:
        how = "its opened life is over" if opened else "its printed date is past"
        found.append(
            Verdict(
                weight="warning",
                stage="resin",
                code="expired",
                rule="3.4",
                title=f"Past its date: lot {one.bottle.lot or 'not noted'}",
                text=f"Since {until:%d %b %Y} {how}. Old hardener goes dark and slow, old resin "
                "crystallises; either can stay sticky.",
                todo="Do not pour a piece with it. Try a spoonful first, or dispose of it as its safety "
                "data sheet says.",
            )
        )
    elif until <= today + SOON:
        found.append(
            Verdict(
                weight="note",
                stage="resin",
                code="expires-soon",
                rule="3.4",
                title=f"Use {name} first",
                text=f"It is good until {until:%d %b %Y}; {wording.mass(one.left_kg)} are left.",
            )
        )
    return found


def bottle_verdicts(one: OnShelf, system: System | None, today: date, wording: Wording) -> list[Verdict]:
    """Expired, soon to expire, nearly empty."""
    found = _date_verdicts(one, system, today, wording)
    if 0 < one.left_kg < LOW * one.bottle.full_kg.value:
        found.append(
            Verdict(
                weight="note",
                stage="resin",
                code="nearly-empty",
                rule="3.4",
                title="Nearly empty",
                text=f"{wording.mass(one.left_kg)} left by what was booked.",
                todo="Weigh it before you rely on it.",
            )
        )
    return found


def _of_part(need: PartNeed, part: Part) -> float:
    return need.a_kg if part == "A" else need.b_kg


def _good_kg(bottles: Sequence[OnShelf], part: Part, system: System, today: date) -> float:
    """What is left of a part in bottles that may still be poured."""
    mine = [one for one in bottles if one.bottle.part == part]
    return sum(one.left_kg for one in mine if _counts(one.bottle, system, today))


def need_verdicts(
    need: PartNeed,
    reserved: Sequence[PartNeed],
    stock: Sequence[OnShelf],
    system: System,
    now: datetime,
    wording: Wording,
) -> list[Verdict]:
    """Whether the shelf holds what this piece needs, once earlier plans have had theirs."""
    found = []
    for part in PARTS:
        wanted = _of_part(need, part)
        there = _good_kg([one for one in stock if one.bottle.goods_id == system.id], part, system, now.date())
        others = sum(_of_part(one, part) for one in reserved if one.system_id == system.id)
        if wanted > there:
            found.append(
                Verdict(
                    weight="warning",
                    stage="mix",
                    code=f"jug-empty-{part.lower()}",
                    rule="3.4",
                    title=f"Not enough of part {part} on the shelf",
                    text=f"{system.name}: {wording.mass(wanted)} are needed, "
                    f"{wording.mass(there) if there > 0 else 'nothing'} in good bottles is there.",
                    todo="Buy it before the first pour, or weigh the bottles anew.",
                    where=f"/stock/{system.id}",
                )
            )
        elif wanted > there - others:
            found.append(
                Verdict(
                    weight="warning",
                    stage="mix",
                    code=f"jug-promised-{part.lower()}",
                    rule="3.4",
                    title=f"Part {part} is reserved for other pieces",
                    text=f"{system.name}: {wording.mass(there)} are there, {wording.mass(others)} of "
                    "it reserved "
                    f"by {_names(reserved, system.id)}; this piece needs "
                    f"{wording.mass(wanted)}.",
                    todo="Buy more, or change which piece comes first.",
                    where=f"/stock/{system.id}",
                )
            )
    return found


class Low(Data):
    """Of one part of a system: what the shelf holds and what plans with a start still take [kg]."""

    system_id: str
    name: str
    part: Literal["A", "B"]
    left_kg: float
    needed_kg: float


def low_of(
    reserved: Sequence[PartNeed], stock: Sequence[OnShelf], systems: Mapping[str, System], today: date
) -> list[Low]:
    """Parts of which plans take more than the shelf holds; of a system of which nothing was ever put on the
    shelf nothing is said.
    """
    found = []
    for system_id in sorted({need.system_id for need in reserved} & set(systems)):
        mine = [one for one in stock if one.bottle.goods == "system" and one.bottle.goods_id == system_id]
        wanted = [one for one in reserved if one.system_id == system_id]
        for part in PARTS if mine else ():
            needed = sum(_of_part(one, part) for one in wanted)
            left = _good_kg(mine, part, systems[system_id], today)
            if left < needed:
                found.append(
                    Low(
                        system_id=system_id,
                        name=systems[system_id].name,
                        part=part,
                        left_kg=left,
                        needed_kg=needed,
                    )
                )
    return found


def _counts(bottle: Bottle, system: System, today: date) -> bool:
    until = good_until(bottle, system)
    return bottle.goods == "system" and (until is None or until >= today)


def _names(reserved: Sequence[PartNeed], system_id: str) -> str:
    names = list(dict.fromkeys(one.who for one in reserved if one.system_id == system_id))
    return names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
