"""Heat in a plan: which voids can be computed, and the finished run put beside each layer. Rules 4.1 to
4.4.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from ..calibration.of_system import cure_of
from ..common.answer import Answer
from ..common.errors import DomainError
from ..common.verdict import Verdict
from ..common.working import Workbook
from ..cure.parameters import ZERO_C_K
from ..heat.around import room_of
from ..measure.cavity import Cavity
from ..piece.given import Given
from ..piece.parts import Filled
from ..resin.system import System
from .breathing import breathing_verdict
from .chance import known_chances
from .heat import HeatOfPiece, HeatRun
from .heat_figures import heat_map, index_of, layer_heat, rooms_to
from .heat_verdicts import heat_verdicts, not_computed, room_verdict, sheet_doubt
from .model import Chance, HeatMap, LayerPlan
from .pours import Fill, Pour
from .shrinking import shrinking_verdict, shrinks_of

MOST_FOLLOWED = 16


def understand(
    given: Given, cavities: Mapping[str, Cavity], start: datetime, *, coarse: bool = False
) -> HeatOfPiece:
    """Cures of the systems in use and an empty course for every void that they fill, in the room from `start`
    on. coarse: half the cells, for figures that follow a drag.
    """
    heat, room = HeatOfPiece(shelf_items=given.shelf_items), room_of(given.workshop, start)
    for filled in (*given.piece.voids, *given.piece.coats):
        if filled.id not in cavities:
            continue
        systems = [given.system_of(portion) for portion in filled.filled_by]
        known = [system for system in systems if system is not None]
        for system in known[: systems.index(None)] if None in systems else known:
            _learn_cure(heat, system)
        if None in systems:
            continue
        cavity = cavities[filled.id]
        count = _least_layers(filled, cavity.fill_m, known)
        if count > MOST_FOLLOWED:
            heat.doubts[filled.id] = DomainError(
                argument="layers",
                value=f"{count} or more",
                allowed=f"heat is followed through at most {MOST_FOLLOWED} layers",
                way_out="Choose a system for deeper pours.",
                code="too-many-layers",
            )
        else:
            heat.add_void(cavity, known, room, given.workshop, coarse=coarse)
    return heat


def _learn_cure(heat: HeatOfPiece, system: System) -> None:
    if system.id in heat.cures or system.id in heat.doubts:
        return
    try:
        heat.cures[system.id] = cure_of(system)
    except DomainError as error:
        heat.doubts[system.id] = error


def _least_layers(filled: Filled, fill_m: float, systems: Sequence[System]) -> int:
    deepest = max(rule.most_depth_m.value for system in systems for rule in system.depth_rules)
    drawn = sum(len(portion.boundaries_m or []) + 1 for portion in filled.filled_by)
    return max(math.ceil(fill_m / deepest - 1e-9), drawn)


@dataclass(frozen=True)
class Heated:
    """layers: by pour, in the order of its fills, each with what becomes of it."""

    layers: list[list[LayerPlan]]
    maps: list[HeatMap]
    notes: list[str]


def heat_of_layers(
    given: Given,
    pours: Sequence[Pour],
    layers: list[list[LayerPlan]],
    run: HeatRun | None,
    *,
    in_full: bool,
    chances: bool = True,
) -> Answer[Heated]:
    """The layers with what becomes of them, the maps for drawing, and what all this assumed.

    layers   by pour, in the order of its fills, as they were cut
    run      at the hours really taken
    in_full  with the maps, pouring too early, and how warm the room may get
    chances  how many of a hundred such pours would get too hot
    """
    if run is None:
        return Answer(Heated(layers, [], []))
    run.finish()
    if in_full:
        run = _kept(run)
    book = Workbook()
    rooms = _rooms(run, pours) if in_full else {}
    poured = {void: course for void, course in run.courses.items() if course.layers and chances}
    found = {void: known_chances(course) for void, course in poured.items()}
    done = [
        [
            _with_heat(
                book,
                run,
                pour.number,
                layer,
                fill,
                rooms.get(layer.void_id),
                found.get(layer.void_id, []),
            )
            for fill, layer in zip(pour.fills, row, strict=True)
        ]
        for pour, row in zip(pours, layers, strict=True)
    ]
    maps = [heat_map(course, void) for void, course in run.courses.items()] if in_full else []
    return Answer(Heated(done, maps, _notes(given, run)), _verdicts(given, pours, done, run), book.workings)


def _kept(run: HeatRun) -> HeatRun:
    """The same run once more with every state kept: done last, at the hours that were settled on."""
    again = HeatRun(heat=run.heat, courses=dict(run.heat.empty), own=run.own, windows=run.windows, keep=True)
    for void, course in run.courses.items():
        kept = again.courses[void].poured_as(course.layers, keep=True)
        again.courses[void] = kept.wait(course.stack.at_s, keep=True)
    return again


def _rooms(run: HeatRun, pours: Sequence[Pour]) -> dict[str, dict[int, float]]:
    """By void: how warm the room may get before its first layer fails."""
    voids = {fill.void.id for pour in pours for fill in pour.fills if not fill.void.is_coat}
    return {void: rooms_to(run, void) for void in voids if void in run.courses}


def _with_heat(
    book: Workbook,
    run: HeatRun,
    number: int,
    layer: LayerPlan,
    fill: Fill,
    rooms: dict[int, float] | None,
    chances: list[Chance],
) -> LayerPlan:
    if (layer.void_id, number - 1) not in run.own:
        return layer
    called = f"Layer {layer.number} of {fill.void.name}"
    heat = layer_heat(book, run, layer.void_id, number - 1, called, rooms, chances)
    course, index = run.courses[layer.void_id], index_of(run, layer.void_id, number - 1)
    shrinks = shrinks_of(book, course, index, fill, called, f"layer/{layer.void_id}/{number}")
    return layer.model_copy(update={"heat": heat.model_copy(update={"shrinks": shrinks})})


def _verdicts(
    given: Given, pours: Sequence[Pour], layers: list[list[LayerPlan]], run: HeatRun
) -> list[Verdict]:
    found: list[Verdict] = []
    rooms: list[tuple[str, float]] = []
    last = {layer.void_id: layer.number for row in layers for layer in row}
    wanted = 0.0
    survey = given.piece.survey
    is_sealed = survey is not None and ("seal" in survey.done or survey.finish not in ("bare", "not said"))
    for pour, row in zip(pours, layers, strict=True):
        for fill, layer in zip(pour.fills, row, strict=True):
            if layer.heat is None:
                continue
            is_last = last[layer.void_id] == layer.number
            found += heat_verdicts(
                pour.layer_called, fill.void.name, layer, layer.heat, given.wording, is_last=is_last
            )
            found += shrinking_verdict(pour.layer_called, fill.void.name, layer.heat, given.wording)
            found += breathing_verdict(
                pour.layer_called, fill.void.name, layer, given.wording, is_sealed=is_sealed
            )
            if layer.heat.room_to_c is not None and layer.heat.peak.value <= layer.heat.wanted_c:
                rooms.append((pour.layer_called, layer.heat.room_to_c))
                wanted = layer.heat.wanted_c
    if rooms:
        found.append(room_verdict(rooms, given.workshop.room_c.value, wanted, given.wording))
    return [*found, *_doubts(given, pours, run.heat)]


def _doubts(given: Given, pours: Sequence[Pour], heat: HeatOfPiece) -> list[Verdict]:
    """Sheets that contradict themselves, and layers whose heat is not computed with the first reason why."""
    found = [
        sheet_doubt(given.systems[one].name, doubt)
        for one, cure in heat.cures.items()
        for doubt in cure.doubts
    ]
    missing = [fill for pour in pours for fill in pour.fills if fill.void.id not in heat.empty]
    if not missing:
        return found
    names = [one for fill in missing for one in (fill.void.id, fill.system.id)]
    return [*found, not_computed(next((heat.doubts[one] for one in names if one in heat.doubts), None))]


def _notes(given: Given, run: HeatRun) -> list[str]:
    """What the heat rests on, in sentences. Every plan says it."""
    if not run.courses:
        return []
    notes = [
        f"Cure speed of {given.systems[cure.system_id].name} worked out from {cure.fitted_to}."
        for cure in run.heat.cures.values()
    ]
    room = next(iter(run.courses.values())).stack.room
    low, high = min(room.by_step_k) - ZERO_C_K, max(room.by_step_k) - ZERO_C_K
    night, day = given.wording.temperature(low), given.wording.temperature(high)
    notes.append(
        f"Room {day} throughout." if low == high else f"Room between {night} at night and {day} by day."
    )
    typical = sorted(
        {
            f"{told.name}" + (f" {given.wording.length(told.value)}" if told.quantity == "length" else "")
            for void in run.courses
            for told in run.heat.told[void]
            if told.origin == "typical" and not told.name.startswith("to the air")
        }
    )
    if typical:
        notes.append("Not entered yet, so typical: " + "; ".join(typical) + ".")
    notes.append(
        "Left out: currents in the liquid (deep thin resin stays cooler), heat taken up by embedded things "
        "whose stuff was not said, stress where layers and walls hold each other."
    )
    return notes
