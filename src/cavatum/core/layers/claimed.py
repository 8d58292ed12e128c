"""A layer that a sheet claims, against the computed heat of that layer. Rule 3.2."""

from __future__ import annotations

from ..calibration.at_pouring import AtPouring
from ..calibration.of_system import Cure, cure_of
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..heat.body import Body
from ..heat.grid import Room
from ..heat.materials import Surround
from ..resin.system import System
from .course import Course

ROOM_C = 23.0
MOST_REMEMBERED = 500


_PEAKS: dict[tuple[float, str], float] = {}


def _peak(depth_m: float, cure: Cure) -> float:
    """Remembered by depth and kinetics, since the Shelf asks again with every look."""
    key = (depth_m, cure.kinetics.model_dump_json())
    if key not in _PEAKS:
        if len(_PEAKS) > MOST_REMEMBERED:
            _PEAKS.clear()
        _PEAKS[key] = _run(depth_m, cure)
    return _PEAKS[key]


def _as_the_sheet_pours(from_m: float, to_m: float, cure: Cure, room_c: float) -> AtPouring:
    return cure.as_the_sheet_pours(room_c)


def _run(depth_m: float, cure: Cure) -> float:
    course = (
        Course.empty(Body.wide(), Surround(), Room.steady(ROOM_C), coarse=True, begins=_as_the_sheet_pours)
        .pour(0.0, depth_m, cure)
        .until_ready(cure.never_c + 60)
    )
    return course.peak_c()


def claimed_layers(system: System) -> list[Verdict]:
    """Depth rules for any mass, poured as a wide layer on 18 mm board in a room of 23 degC: hotter than
    wanted is said with the number.

    Rules with a mass limit hold for small bodies only and are left to the plan. Nothing is said of a system
    whose class is not known.
    """
    try:
        cure = cure_of(system)
    except DomainError:
        return []
    found = []
    for index, rule in enumerate(system.depth_rules):
        if rule.up_to_kg is not None:
            continue
        peak = _peak(rule.most_depth_m.value, cure)
        if peak <= cure.wanted_c:
            continue
        hot = "overheats" if peak > 100 and peak > cure.never_c else f"reaches about ⟦{peak:.0f} °C⟧"
        found.append(
            Verdict(
                weight="warning",
                stage="resin",
                code="claimed-layer-hot",
                rule="3.2",
                title=f"A layer of ⟦{plainly(rule.most_depth_m.value * 1000)} mm⟧ gets hot",
                text=f"The sheet allows it; computed as a wide layer on board at ⟦{plainly(ROOM_C)} °C⟧ "
                f"it {hot}, "
                f"over the ⟦{plainly(cure.wanted_c)} °C⟧ wanted. "
                f"Cure speed worked out from {cure.fitted_to}.",
                todo="Check depth, working time and the class it cures like. The plan goes by whichever "
                "is shallower.",
                where=f"/depth_rules/{index}",
            )
        )
    return found
