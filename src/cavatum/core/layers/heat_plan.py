"""Heat in a plan: which voids can be computed, the search for layers, and the finished run put beside each
layer. Rules 4.1 to 4.4.
"""

from __future__ import annotations

import math
from datetime import datetime
from typing import TYPE_CHECKING

from ..calibration.of_system import cure_of
from ..clock.windows import PourTask, best_start, lay_out, whole_half_hour
from ..common.errors import DomainError
from ..cure.parameters import ZERO_C_K
from ..heat.around import room_of
from ..mix.batches import WEIGHING_S
from ..mix.model import PourPlan
from ..piece.coats import Coat
from ..piece.parts import Void
from ..resin.system import System
from .course import Course
from .heat import HeatOfPiece, Run
from .heat_figures import heat_map, layer_heat, rooms_to
from .heat_verdicts import heat_verdicts, not_computed, room_verdict, sheet_doubt
from .model import HeatMap, LayerPlan
from .planner import Split, candidates, choose, rules_only
from .split import Layer, Stretch, split

MOST_FOLLOWED = 16

if TYPE_CHECKING:
    from ..mix.pours import Fill, Pour
    from ..plan import Job

SEARCHED = ("fewest", "coolest", "soonest")


def understand(job: Job, start: datetime) -> HeatOfPiece:
    """Cures of the systems in use and an empty course for every void that they fill, in the room from `start`
    on.
    """
    heat, room = HeatOfPiece(materials=job.goods.materials), room_of(job.workshop, start)
    for filled in (*job.piece.voids, *job.piece.coats):
        if filled.id not in job.cavities:
            continue
        systems = []
        for portion in filled.portions:
            system = job.systems.get(portion.system_id or job.piece.system_id or "")
            if system is None:
                break
            systems.append(system)
            if system.id not in heat.cures and system.id not in heat.doubts:
                try:
                    heat.cures[system.id] = cure_of(system)
                except DomainError as error:
                    heat.doubts[system.id] = error
        else:
            count = _least_layers(filled, job.cavities[filled.id].fill_m, systems)
            if count > MOST_FOLLOWED:
                heat.doubts[filled.id] = DomainError(
                    "layers",
                    f"{count} or more",
                    f"heat is followed through at most {MOST_FOLLOWED} layers",
                    "Choose a system for deeper pours.",
                    "too-many-layers",
                )
            else:
                heat.add_void(job.cavities[filled.id], systems, room, coarse=job.provisional)
    return heat


def _least_layers(filled: Void | Coat, fill_m: float, systems: list[System]) -> int:
    deepest = max(rule.most_depth_m.value for system in systems for rule in system.depth_rules)
    drawn = sum(len(portion.boundaries_m or []) + 1 for portion in filled.portions)
    return max(math.ceil(fill_m / deepest - 1e-9), drawn)


def void_layers(
    job: Job, stretch: Stretch, portion_id: str, boundaries_m: list[float] | None, course: Course | None
) -> tuple[list[Layer], Course | None]:
    """The layers of one portion by the piece's choice, and the void as it stands when the next portion may
    follow.
    """
    choice = "fewest" if isinstance(stretch.cavity.void, Coat) else job.piece.layering
    if course is None:
        return split(stretch, "fewest" if choice in SEARCHED else choice, boundaries_m), None
    cure = job.heat.cures[stretch.system.id]
    if choice in SEARCHED:
        try:
            chosen = choose(
                _candidates(job, stretch, portion_id, course),
                choice,
                lambda one: _out_of_form(job, stretch, one),
            )
            return list(chosen.layers), chosen.course
        except DomainError as error:
            if error.code == "too-many-layers":
                raise
            layers = rules_only(stretch, error)
    else:
        return split(
            stretch, choice, boundaries_m
        ), course  # no search follows: nobody asks how the void stands then
    for layer in layers:
        course = course.pour(layer.from_m, layer.to_m, cure).until_ready()
    return layers, course


def _out_of_form(job: Job, stretch: Stretch, split_: Split) -> float:
    """When this portion would be out of the form, poured in the hours people are here: a proxy for the whole
    piece, each layer one batch.
    """
    system = stretch.system
    tasks, course = (
        [],
        Course.empty(split_.course.stack.body, split_.course.stack.surround, split_.course.stack.room),
    )
    for layer in split_.course.layers:
        course = course.pour(layer.from_m, layer.to_m, layer.cure)
        litres = stretch.cavity.volume(layer.to_m) - stretch.cavity.volume(layer.from_m)
        tasks.append(
            PourTask(
                (system,),
                WEIGHING_S + system.stir_s.value + system.rest_s.value,
                litres / job.workshop.pour_rate_m3_s,
                course.window(),
            )
        )
        course = course.until_ready()
    from_ = whole_half_hour(job.now)
    better = best_start(tasks, job.workshop, from_)
    days = lay_out(tasks, job.workshop, job.piece.first_pour_at or (better.at if better else from_))
    return (days.demould_at or days.pours[-1].demould_from).timestamp()


def _candidates(job: Job, stretch: Stretch, portion_id: str, course: Course) -> list[Split]:
    key = (portion_id, tuple((one.from_m, one.to_m) for one in course.layers))
    if key not in job.memo:
        try:
            job.memo[key] = candidates(stretch, job.heat.cures[stretch.system.id], course)
        except DomainError as error:
            job.memo[key] = error
    found = job.memo[key]
    if isinstance(found, DomainError):
        raise found
    return found


def with_heat(
    job: Job, pours: list[Pour], plans: list[PourPlan], run: Run | None, *, in_full: bool
) -> tuple[list[PourPlan], list[HeatMap], list[str]]:
    """The layers with what becomes of them, the maps for drawing, and what all this assumed."""
    if run is None:
        return plans, [], []
    run.finish()
    if in_full:
        run = _kept(job, run)
    poured = {
        fill.void.id
        for pour in pours
        for fill in pour.fills
        if fill.void.id in run.courses and not isinstance(fill.void, Coat)
    }
    rooms = {void: rooms_to(run, void) for void in poured} if in_full else {}
    done = []
    for pour, plan in zip(pours, plans, strict=True):
        layers = [
            _with_heat(job, run, pour, fill, layer, rooms.get(fill.void.id))
            for fill, layer in zip(pour.fills, plan.layers, strict=True)
        ]
        done.append(plan.model_copy(update={"layers": layers}))
    _say_all(job, pours, done)
    return (
        done,
        [heat_map(course, void) for void, course in run.courses.items()] if in_full else [],
        _notes(job, run),
    )


def _kept(job: Job, run: Run) -> Run:
    """The same run once more with every state kept: done last, at the hours that were settled on."""
    again = Run(run.heat, dict(run.heat.empty), own=run.own, windows=run.windows, keep=True)
    for void, course in run.courses.items():
        kept = again.courses[void]
        for layer in course.layers:
            kept = kept.wait(layer.at_s, keep=True) if kept.layers else kept.later(layer.at_s)
            kept = kept.pour(layer.from_m, layer.to_m, layer.cure)
        again.courses[void] = kept.wait(course.stack.at_s, keep=True)
    return again


def _with_heat(
    job: Job, run: Run, pour: Pour, fill: Fill, layer: LayerPlan, rooms: dict[int, float] | None
) -> LayerPlan:
    number = pour.number - 1
    if (fill.void.id, number) not in run.own:
        return layer
    heat = layer_heat(job.book, run, fill.void.id, number, f"Layer {layer.number} of {fill.void.name}", rooms)
    return layer.model_copy(update={"heat": heat})


def _say_all(job: Job, pours: list[Pour], plans: list[PourPlan]) -> None:
    say, rooms, wanted = job.say, [], 0.0
    for pour, plan in zip(pours, plans, strict=True):
        for fill, layer in zip(pour.fills, plan.layers, strict=True):
            if layer.heat is None:
                continue
            job.verdicts += heat_verdicts(
                pour.layer_called,
                fill.void.name,
                layer.to_m - layer.from_m,
                layer.heat,
                layer.is_allowed,
                layer.allowed.value,
                say,
            )
            if layer.heat.room_to_c is not None and layer.heat.peak.value <= layer.heat.wanted_c:
                rooms.append((pour.layer_called, layer.heat.room_to_c))
                wanted = layer.heat.wanted_c
    if rooms:
        job.verdicts.append(room_verdict(rooms, job.workshop.room_c.value, wanted, say))
    job.verdicts += [
        sheet_doubt(job.systems[one].name, cure.doubt) for one, cure in job.heat.cures.items() if cure.doubt
    ]
    missing = [fill for pour in pours for fill in pour.fills if fill.void.id not in job.heat.empty]
    if missing:
        doubt = next(
            (
                job.heat.doubts[one]
                for fill in missing
                for one in (fill.void.id, fill.system.id)
                if one in job.heat.doubts
            ),
            None,
        )
        job.verdicts.append(not_computed(doubt))


def _notes(job: Job, run: Run) -> list[str]:
    """What the heat rests on, in sentences. Every plan says it."""
    if not run.courses:
        return []
    notes = [
        f"Kinetics of {job.systems[cure.system_id].name}: fitted to {cure.fitted_to}."
        for cure in run.heat.cures.values()
    ]
    room = next(iter(run.courses.values())).stack.room
    low, high = min(room.by_step_k) - ZERO_C_K, max(room.by_step_k) - ZERO_C_K
    notes.append(
        f"Room {job.say.temperature(high)} throughout."
        if low == high
        else f"Room between {job.say.temperature(low)} at night and {job.say.temperature(high)} by day."
    )
    typical = sorted(
        {
            f"{told.name}" + (f" {job.say.length(told.value)}" if told.quantity == "length" else "")
            for void in run.courses
            for told in run.heat.told[void]
            if told.origin == "typical" and not told.name.startswith("to the air")
        }
    )
    if typical:
        notes.append("Typical, as nobody said: " + "; ".join(typical) + ".")
    notes.append(
        "Left out: currents in the liquid (deep thin resin stays cooler), heat taken up by what is "
        "embedded, stress from shrinking."
    )
    return notes
