"""What the maker's sheet says of a window beside what is computed, and why the two differ. Rules 6.1, 6.2."""

from __future__ import annotations

from collections.abc import Sequence

from ..calibration.told import loose_times
from ..common.wording import Wording
from ..layers.course import Window
from ..layers.pours import Fill, Pour
from ..resin.system import SHEET_ROOM_C, System
from .windows import window_by_sheets

CLOSE = 0.03  # nearer than the sheet's own rounding: it is the same
OTHER_DEPTH = 0.15
OTHER_ROOM_K = 0.5


def sheet_beside(pour: Pour, window: Window, wording: Wording) -> str:
    """The sheet's own bond window with what moved it here, or that it stands; nothing where the sheet's is
    typical.
    """
    systems = tuple({fill.system.id: fill.system for fill in pour.fills}.values())
    if any(one.bond_from_s.origin == "typical" for one in systems):
        return ""
    sheet = window_by_sheets(systems)
    if _is_close(window.opens_s, sheet.opens_s) and _is_close(window.closes_s, sheet.closes_s):
        return "as the sheet says"
    opens, closes = sheet.opens_s or 0.0, sheet.closes_s or 0.0
    reasons = list(dict.fromkeys(reason for fill in pour.fills for reason in _reasons(fill, wording)))
    return (
        f"the sheet says {wording.duration(opens)} to {wording.duration(closes)}; "
        f"moved as {', and '.join(reasons or ['this form keeps or loses heat otherwise'])}"
    )


def _is_close(here: float | None, sheet: float | None) -> bool:
    if here is None or sheet is None:
        return here is sheet
    return abs(here - sheet) <= CLOSE * sheet


def _reasons(fill: Fill, wording: Wording) -> Sequence[str]:
    """What differs here from what the sheet measured."""
    system, depth = fill.system, fill.layer.to_m - fill.layer.from_m
    found = []
    said = system.times_depth_m
    if said is not None and not loose_times(system) and abs(depth / said.value - 1) > OTHER_DEPTH:
        than = "deeper" if depth > said.value else "thinner"
        found.append(f"this layer, {wording.length(depth)}, is {than} than its {wording.length(said.value)}")
    return [*found, *_of_room(system, wording), *_learned(system)]


def _of_room(system: System, wording: Wording) -> list[str]:
    room, night = wording.workshop.room_c.value, wording.workshop.night
    sheet_c = system.times_at_c.value if system.times_at_c else SHEET_ROOM_C
    is_said = system.times_at_c is not None and system.times_at_c.origin != "typical"
    usual = "" if is_said else ", which is usual where a sheet does not say"
    found = []
    if abs(room - sheet_c) >= OTHER_ROOM_K:
        than = "colder" if room < sheet_c else "warmer"
        found.append(
            f"this room, {wording.temperature(room)}, is {than} than its "
            f"{wording.temperature(sheet_c)}{usual}"
        )
    if night is not None and abs(night.room_c.value - room) >= OTHER_ROOM_K:
        found.append(f"the room has {wording.temperature(night.room_c.value)} at night")
    return found


def _learned(system: System) -> list[str]:
    if system.cure_fit is not None:
        return ["a measured curve of this resin goes before it"]
    if system.learned_pace is not None:
        return [f"in your runs it cured {system.learned_pace.times:.2f} times as slowly"]
    return []
