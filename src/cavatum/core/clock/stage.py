"""The stage: when hands are needed, from the first preparation to hand-over. Rules 6.1 to 6.4."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ..common.answer import Answer
from ..common.verdict import StageReport, counted
from ..layers.heat import HeatOfPiece, HeatRun
from ..layers.planner import Split
from ..layers.pours import Pour, last_of_voids
from ..layers.split import Stretch
from ..mix.batches import WEIGHING_S
from ..piece.document import Piece
from ..piece.given import Given
from ..resin.system import bond_window_s
from ..survey.preparation import PrepStep
from . import ribbon
from .before import prepared_from, steps_by_themselves, tight_steps
from .model import ClockStep
from .moments import anchors_of, moment_of, wanted
from .starts import Job, best_start
from .steps import clock_steps, rows_of
from .tasks import task_of
from .windows import Days, PourTask, lay_out, whole_half_hour, window_told

HeatFrom = Callable[[datetime], HeatOfPiece]  # the piece's heat in the room from a start on


@dataclass(frozen=True, kw_only=True)
class LaidOut:
    """start: None while there is nothing to pour. run: the heat at the hours taken. job: what other starts
    are
    tried with, by the windows of these days.
    """

    start: datetime | None
    days: Days
    run: HeatRun | None
    job: Job | None = None


def lay_out_days(
    given: Given,
    prep: Sequence[PrepStep],
    pours: Sequence[Pour],
    soonest: HeatRun,
    heat_from: HeatFrom,
) -> Answer[LaidOut]:
    """The start, the windows from the computed cure, and what to do when nobody is there in one.

    A start is sought from when what comes before mixing can be done, with the windows of pours made as soon
    as they may; the days are laid out with those of the hours really taken.

    soonest  the piece's heat, before anything is poured
    """
    if not pours:
        return Answer(LaidOut(start=None, days=Days.none(), run=None))
    ready = prepared_from(prep, given.now, given.workshop)
    piece, workshop, tasks = given.piece, given.workshop, _soonest_tasks(given, pours, soonest)
    job = _job(given, prep, pours, tasks, ready)
    better = best_start(job, workshop, whole_half_hour(ready))
    start = piece.first_pour_at or (better.at if better else whole_half_hour(ready))
    run = heat_from(start).run()
    days = lay_out(
        tasks,
        workshop,
        start,
        lambda index, poured_s: run.pour(pours[index].heats, poured_s),
        fixed_mixes(piece),
    )
    laid = [replace(task, window=times.window) for task, times in zip(tasks, days.pours, strict=False)]
    said = ribbon.window_verdicts(
        days, better, piece.first_pour_at, given.now, given.wording, fixed_mixes(piece)
    )
    said += ribbon.due_verdicts(days, piece.due, workshop, given.wording)
    return Answer(LaidOut(start=start, days=days, run=run, job=_job(given, prep, pours, laid, ready)), said)


def _job(
    given: Given,
    prep: Sequence[PrepStep],
    pours: Sequence[Pour],
    tasks: Sequence[PourTask],
    ready: datetime,
) -> Job:
    """What starts are tried with: these windows, and all that needs somebody round each pour."""
    piece, workshop = given.piece, given.workshop
    return Job(
        tasks=tasks,
        moments=[
            wanted(
                [
                    moment_of(row, anchors_of(window_told(task)))
                    for row in rows_of(piece, pours, index, workshop)
                ]
            )
            for index, task in enumerate(tasks)
        ],
        before=list(tight_steps(prep).values()),
        ready=ready,
        wanted=fixed_mixes(piece),
    )


def fixed_mixes(piece: Piece) -> dict[int, datetime]:
    """Begins of later mixes that a person fixed, by index; none while the start is not."""
    return {one.pour - 1: one.at for one in piece.later_mixes} if piece.first_pour_at else {}


def _soonest_tasks(given: Given, pours: Sequence[Pour], soonest: HeatRun) -> list[PourTask]:
    """Every pour with its windows, poured as soon as the one below takes it. After one that never does, the
    rest are not followed.
    """
    at_s, tasks, ends = 0.0, list[PourTask](), last_of_voids(pours)
    is_followed = True
    for place, pour in enumerate(pours):
        window = soonest.pour(pour.heats, at_s) if is_followed else None
        tasks.append(task_of(pour, given.workshop, window, ends=place in ends))
        opens = window.opens_s if window else max(bond_window_s(fill.system)[0] for fill in pour.fills)
        is_followed = is_followed and opens is not None
        at_s += opens or 0.0
    return tasks


def out_of_form(given: Given) -> Callable[[Stretch, Split], float]:
    """When a portion split so would be out of the form [s since 1970], poured in the hours people are here: a
    proxy for the whole piece, each layer one batch.
    """
    workshop, from_ = given.workshop, whole_half_hour(given.now)

    def out_at(stretch: Stretch, split: Split) -> float:
        system, tasks = stretch.system, []
        course = split.course.emptied()
        for layer in split.course.layers:
            course = course.pour(layer.from_m, layer.to_m, layer.cure)
            volume_m3 = stretch.cavity.volume(layer.to_m) - stretch.cavity.volume(layer.from_m)
            tasks.append(
                PourTask(
                    systems=(system,),
                    mix_s=WEIGHING_S + system.stir_s.value + system.rest_s.value,
                    pour_s=volume_m3 / workshop.pour_rate_m3_s,
                    window=course.window(),
                )
            )
            course = course.until_ready()
        better = best_start(Job(tasks=tasks, moments=[()] * len(tasks), ready=from_), workshop, from_)
        days = lay_out(tasks, workshop, given.piece.first_pour_at or (better.at if better else from_))
        out = days.demould_at or days.out_from
        return out.timestamp() if out else math.inf

    return out_at


def steps_of_plan(
    given: Given,
    prep: Sequence[PrepStep],
    pours: Sequence[Pour],
    days: Days,
) -> list[ClockStep]:
    """What has to be done when, with the hour the heat comes where it is computed."""
    if not days.pours:
        return steps_by_themselves(prep, given.now, given.workshop)
    return clock_steps(given.piece, prep, pours, days, given.workshop)


def report(days: Days) -> StageReport:
    if not days.pours:
        return StageReport("clock", "Nothing to pour yet.")
    return StageReport("clock", summary=counted(len(days.pours) + (1 if days.demould_at else 0), "visit"))
