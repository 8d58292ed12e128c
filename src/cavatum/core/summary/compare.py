"""Systems side by side on one piece: for each, in one line, what speaks for it and what against. Rules 3.4
and 4.4.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime

from ..common.wording import Wording
from ..common.working import Data
from ..layers.model import Chance


class Facts(Data):
    """One system tried on this piece. buy_minor: whole kits beyond the shelf; left_kg: what they and the
    shelf leave; all None where it is not offered.
    """

    system_id: str
    name: str
    offered: bool
    why_not: str = ""
    pours: int = 0
    visits: int = 0
    sanded: int = 0
    hands_on_s: float = 0.0
    days: float | None = None
    out_of_form_at: datetime | None = None
    peak_c: float | None = None
    wanted_c: float | None = None
    runs_away: bool = False
    chance: Chance | None = None
    buy_minor: int | None = None
    left_kg: float | None = None
    in_stock: bool = False
    doubts: int = 0
    stops: int = 0
    typical: int = 0
    pressure: bool = False
    is_coat: bool = False


class Reasons(Data):
    for_it: str
    against: str


Better = Callable[[Facts], float | None]


def reasons(all_: Sequence[Facts], wording: Wording) -> dict[str, Reasons]:
    """In the order of what costs most when it goes wrong: first what stops it, then heat, then pours, days,
    money, trust.
    """
    offered = [one for one in all_ if one.offered]
    return {
        one.system_id: Reasons(for_it=_for(one, offered, wording), against=_against(one, offered, wording))
        for one in all_
    }


def _best(one: Facts, others: Sequence[Facts], measure: Better) -> bool:
    """Alone the best of at least two, or among the best where not all are alike."""
    mine, values = (
        measure(one),
        [value for value in (measure(other) for other in others) if value is not None],
    )
    return mine is not None and len(values) > 1 and mine == min(values) and max(values) > mine


def _stays_cool(one: Facts, offered: Sequence[Facts], wording: Wording) -> str:
    """Where that is something that not all of them do."""
    if one.peak_c is None or not _cool(one) or all(_cool(other) for other in offered):
        return ""
    return f"stays cool, {wording.temperature(one.peak_c)}"


def _price(one: Facts) -> float | None:
    return None if one.buy_minor is None else float(one.buy_minor)


def _for(one: Facts, offered: Sequence[Facts], wording: Wording) -> str:
    if not one.offered:
        return ""
    said = []
    if one.in_stock:
        said.append("on the shelf already")
    if one.pours == 1:
        said.append("one pour")
    elif _best(one, offered, lambda other: float(other.visits)):
        said.append("fewest visits")
    if _best(one, offered, lambda other: other.days):
        said.append("soonest ready to be handled" if one.is_coat else "soonest out of the form")
    if cool := _stays_cool(one, offered, wording):
        said.append(cool)
    if not one.in_stock and _best(one, offered, _price):
        said.append("cheapest to buy")
    if one.typical == 0 and one.doubts == 0:
        said.append("its sheet is confirmed")
    return _sentence(said)


COOL_C = 50.0  # own judgement: what a hand can rest on


def _cool(one: Facts) -> bool:
    """Well below its own limit, and cool in anybody's words."""
    if one.peak_c is None or one.wanted_c is None:
        return False
    likely_c = max(one.peak_c, one.chance.high_c) if one.chance else one.peak_c
    return one.peak_c <= min(one.wanted_c - 10, COOL_C) and likely_c <= one.wanted_c


def _against(one: Facts, offered: Sequence[Facts], wording: Wording) -> str:
    if not one.offered:
        return one.why_not
    said = []
    if heat := _heat_against(one, wording):
        said.append(heat)
    if one.stops:
        said.append("something stops the job")
    if one.pressure:
        said.append("needs a pressure chamber")
    if one.sanded:
        said.append(f"{one.sanded} bond {'window' if one.sanded == 1 else 'windows'} missed: cure and sand")
    fewest = min((other.pours for other in offered), default=one.pours)
    if one.pours >= 2 * max(fewest, 1) and one.pours > 2:
        said.append(f"{one.pours} pours")
    said += [word for word in (_left_over(one, wording), _sheet_against(one, offered)) if word]
    return _sentence(said)


def _left_over(one: Facts, wording: Wording) -> str:
    if not one.buy_minor or one.left_kg is None or one.left_kg <= 0.5:
        return ""
    return f"leaves {wording.mass(one.left_kg)} over"


def _heat_against(one: Facts, wording: Wording) -> str:
    if one.runs_away:
        return "a layer overheats"
    if one.chance is not None and one.chance.is_risky:
        return f"overheats in about {round(one.chance.over_never * 100)} of a hundred such pours"
    if one.peak_c is None or one.wanted_c is None or one.peak_c <= one.wanted_c:
        return ""
    return f"gets to {wording.temperature(one.peak_c)}, over the {wording.temperature(one.wanted_c)} wanted"


def _sheet_against(one: Facts, offered: Sequence[Facts]) -> str:
    if one.doubts:
        return f"{one.doubts} {'doubt' if one.doubts == 1 else 'doubts'} about its sheet"
    confirmed = any(not other.typical for other in offered)
    return "typical values, not your sheet" if one.typical and confirmed else ""


def _sentence(said: list[str]) -> str:
    kept = ", ".join(said[:3])
    return kept[:1].upper() + kept[1:] + "." if kept else ""
