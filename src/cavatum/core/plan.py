"""Evaluates one piece: survey -> measure -> resin -> layers -> mix -> clock. Reads as the flow of the job.

A plan is a pure function of the piece, the systems' sheets, the workshop, a start and the moment it is made.
What is
not known yet leaves the later parts empty, and a verdict says what is needed.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from .clock import ribbon
from .clock.model import ClockStep
from .clock.places import chamber_verdicts, spare_verdicts
from .clock.steps import clock_steps, late_verdicts, prepared_from, steps_by_themselves
from .clock.windows import Days, best_start, lay_out, whole_half_hour, window_of
from .common.errors import DomainError
from .common.verdict import Verdict
from .common.wording import Say
from .common.working import Workbook
from .common.workshop import Workshop
from .layers.course import Course
from .layers.heat import HeatOfPiece, Run
from .layers.heat_plan import understand, void_layers, with_heat
from .layers.split import Layer, Stretch
from .layers.verdicts import layer_verdicts
from .measure.cavity import Cavity, cavity_of, coat_cavity
from .measure.coat_figures import coat_plan
from .measure.figures import void_plan
from .measure.model import CoatPlan, VoidPlan
from .measure.section import section_of
from .measure.stand import level_plan, with_forms
from .measure.verdicts import coat_verdicts, floating_verdicts, soak_verdicts, stand_verdicts
from .mix.colour_verdicts import colour_verdicts
from .mix.model import PourPlan
from .mix.pours import Fill, Pour, pour_plan, pours_of
from .mix.verdicts import mix_verdicts
from .piece.coats import Coat
from .piece.document import Piece, Portion, Void
from .piece.shelf_items import NONE, Goods
from .plan_model import Plan
from .practice.cautions import CUP, GENERAL, PRESSURE, SKIN, product_cautions
from .resin.checks import check_system
from .resin.ratio import Ratio, ratio_of
from .resin.system import System, typical_fields
from .summary.model import Totals
from .summary.rail import stages_of
from .summary.totals import totals_of, with_band
from .survey.air import room_verdicts
from .survey.model import SurveyPlan
from .survey.report import survey_plan, survey_verdicts


@dataclass
class Job:
    """What is carried from step to step. Lives only while one plan is made."""

    piece: Piece
    systems: dict[str, System]
    workshop: Workshop
    now: datetime
    book: Workbook = field(default_factory=Workbook)
    verdicts: list[Verdict] = field(default_factory=list)
    cavities: dict[str, Cavity] = field(default_factory=dict)
    ratios: dict[str, Ratio] = field(default_factory=dict)
    heat: HeatOfPiece = field(default_factory=HeatOfPiece)
    memo: dict = field(default_factory=dict)
    provisional: bool = False
    goods: Goods = NONE

    @property
    def say(self) -> Say:
        return Say(self.workshop)

    def stop(self, stage: str, error: DomainError, where: str = "") -> None:
        self.verdicts.append(
            Verdict(
                weight="stops",
                stage=stage,
                code=error.code,
                title=error.argument.capitalize(),
                text=f"{error.argument.capitalize()} is {error.value}; {error.allowed}.",
                todo=error.way_out,
                where=where,
            )
        )


def make_plan(
    piece: Piece,
    systems: dict[str, System],
    workshop: Workshop,
    now: datetime,
    *,
    in_full: bool = True,
    memo: dict | None = None,
    provisional: bool = False,
    goods: Goods = NONE,
) -> Plan:
    """The whole plan of a piece.

    systems  sheets by id, at least those that the piece names
    now      the moment it is made, with a zone; the start is worked out from it when the piece names none
    in_full  with what only the drawing shows: map of the heat, pouring too early, how warm the room may get
    goods    colourants, recipes and form materials of the shelf
    provisional  on half the cells, for figures that follow a drag
    memo     splits searched for already, shared between plans of one piece that differ in nothing but the
             choice among them
    Never raises for a piece that the document's own checks let through: what stops the job is a verdict.
    """
    job = Job(
        piece, systems, workshop, now, memo={} if memo is None else memo, provisional=provisional, goods=goods
    )
    voids = measure(job)
    used = choose_resin(job)
    coats = measure_coats(job)
    found = survey(job, used)
    pours = cut_layers(job)
    level = level_plan(job.book, piece, job.cavities)
    voids = with_forms(job.book, voids, pours, piece.level)
    job.verdicts += stand_verdicts(piece, voids, level, job.say)
    plans = [pour_plan(job.book, pour, workshop, job.heat.cures, goods) for pour in pours]
    job.verdicts += mix_verdicts(pours, plans, workshop, job.say) + colour_verdicts(
        pours, plans, goods, workshop, job.say
    )
    prepared_at = prepared_from(found.steps, now, workshop)
    start, days, run = lay_out_days(job, pours, prepared_at)
    plans, maps, notes = with_heat(job, pours, plans, run, in_full=in_full)
    if piece.spare_coat and pours and pours[-1].coat:
        plans[-1] = plans[-1].model_copy(update={"spare": True})
    job.verdicts += spare_verdicts(plans, job.say) + chamber_verdicts(piece, voids, used, workshop, job.say)
    totals: Totals = with_band(
        job.book, totals_of(job.book, job.cavities, pours, days, used, workshop), voids, coats
    )
    steps = _steps(job, found, pours, plans, days)
    job.verdicts += late_verdicts(steps, piece.first_pour_at, now, job.say)
    return Plan(
        made_at=now,
        start_at=start,
        start_is_chosen=piece.first_pour_at is not None,
        layering=piece.layering,
        survey=found,
        voids=voids,
        coats=coats,
        level=level,
        pours=plans,
        sections=[section_of(cavity) for cavity in job.cavities.values()],
        heat_maps=maps,
        heat_notes=notes,
        clock=ribbon.draw(pours, days, workshop, now),
        steps=steps,
        windows=[window_of(pour.number, times) for pour, times in zip(pours, days.pours, strict=False)],
        prepared_at=prepared_at,
        totals=totals,
        verdicts=sorted(job.verdicts, key=lambda one: ("stops", "care", "good").index(one.weight)),
        stages=stages_of(piece, len(voids), len(coats), used, plans, days, job.verdicts),
        cautions=_cautions(used, bool(plans)),
        typical={one.id: typical_fields(one) for one in used},
        learned_pace={
            one.id: one.learned_pace.times for one in used if one.learned_pace and not one.cure_fit
        },
        workings=job.book.workings,
    )


def measure(job: Job) -> list[VoidPlan]:
    """Rules 2.1 to 2.3: each void's volume, net of what is embedded in it."""
    plans = []
    for index, void in enumerate(job.piece.voids):
        try:
            cavity = cavity_of(void)
        except DomainError as error:
            job.stop("measure", error, f"/voids/{index}")
            continue
        job.cavities[void.id] = cavity
        plans.append(void_plan(job.book, cavity))
    job.verdicts += soak_verdicts(job.piece)
    return plans


def measure_coats(job: Job) -> list[CoatPlan]:
    """Rules 2.4, 2.5, 2.9 and 2.10: areas, films, and what rules of thumb would make of them."""
    plans = []
    for index, coat in enumerate(job.piece.coats):
        system = system_of(job, coat.portions[-1])
        ratio = job.ratios.get(system.id) if system else None
        try:
            cavity = coat_cavity(coat)
            plans.append(coat_plan(job.book, cavity, system, ratio, job.piece.level))
        except DomainError as error:
            job.stop("measure", error, f"/coats/{index}")
            continue
        job.cavities[coat.id] = cavity
    job.verdicts += coat_verdicts(job.piece, plans, job.say)
    return plans


def choose_resin(job: Job) -> list[System]:
    """Rules 3.1 to 3.3: the systems in use, each checked; one without a basis gets no ratio, and so no
    batches.
    """
    used: dict[str, System] = {}
    for filled in (*job.piece.voids, *job.piece.coats):
        for portion in filled.portions:
            system = system_of(job, portion)
            if system is not None:
                used[system.id] = system
    for system in used.values():
        job.verdicts += check_system(system)
        if system.basis is not None:
            job.ratios[system.id] = ratio_of(system)
    return list(used.values())


def system_of(job: Job, portion: Portion) -> System | None:
    """The portion's own system, else the piece's. A name that the shelf does not hold stops the job."""
    wanted = portion.system_id or job.piece.system_id
    if wanted is None:
        return None
    if wanted not in job.systems:
        if not any(verdict.code == "system-gone" for verdict in job.verdicts):
            job.stop(
                "resin",
                DomainError(
                    "resin system", wanted, "it must stand on the shelf", "Choose another.", "system-gone"
                ),
            )
        return None
    return job.systems[wanted]


def survey(job: Job, used: list[System]) -> SurveyPlan:
    """Rules 1.1 to 1.8: the piece, its room against the sheets, and what has to be done before mixing."""
    seen: set[str] = set()
    for system in used:
        for verdict in room_verdicts(job.workshop, system):
            if verdict.code not in seen:
                seen.add(verdict.code)
                job.verdicts.append(verdict)
    found = survey_plan(job.book, job.piece, used, job.workshop)
    job.verdicts += survey_verdicts(job.piece, found, used, job.say)
    return found


def cut_layers(job: Job) -> list[Pour]:
    """Rules 4.1 to 4.4: each void's portions into layers from the bottom up under every limit, then joined
    into pours.
    """
    job.heat = understand(job, job.piece.first_pour_at or whole_half_hour(job.now))
    pours = pours_of(_columns(job, job.piece.voids, "voids"), _columns(job, job.piece.coats, "coats"))
    try:
        for pour in pours:
            pour.mixes(job.workshop)
    except DomainError as error:
        job.stop("mix", error)
        return []
    for pour in pours:
        job.verdicts += layer_verdicts(pour, job.say)
    job.verdicts += floating_verdicts(pours, job.say)
    return pours


def _columns(job: Job, filled: Sequence[Void | Coat], place: str) -> list[list[Fill]]:
    columns = []
    for index, one in enumerate(filled):
        if one.id not in job.cavities:
            continue
        try:
            columns.append(_column(job, one))
        except DomainError as error:
            job.stop("layers", error, f"/{place}/{index}/portions")
    return columns


def _column(job: Job, void: Void | Coat) -> list[Fill]:
    cavity, start, fills = job.cavities[void.id], 0.0, []
    course: Course | None = job.heat.empty.get(void.id)
    for portion in void.portions:
        end = portion.to_m.value if portion.to_m else cavity.fill_m
        if end > cavity.fill_m + 1e-9 or end <= start:
            raise DomainError(
                "portion",
                f"filled to {end * 1000:g} mm",
                f"it ends above {start * 1000:g} and at most at the fill line, {cavity.fill_m * 1000:g} mm",
                "Correct its height.",
                "over-fill-line",
            )
        system = system_of(job, portion)
        if system is not None and system.id in job.ratios:
            ratio = job.ratios[system.id]
            stretch = Stretch(cavity, system, ratio.mixed_density, start, end)
            boundaries = (
                [one.value for one in portion.boundaries_m] if portion.boundaries_m is not None else None
            )
            layers: list[Layer]
            layers, course = void_layers(job, stretch, portion.id, boundaries, course)
            fills += [
                Fill(
                    void,
                    portion,
                    cavity,
                    system,
                    ratio,
                    layer,
                    job.piece.reserve,
                    job.goods.recipes.get(portion.recipe_id or ""),
                )
                for layer in layers
            ]
        start = end
    return fills


def lay_out_days(job: Job, pours: list[Pour], ready: datetime) -> tuple[datetime | None, Days, Run | None]:
    """Rules 6.1 and 6.2: the start, the windows from the computed cure, and what to do when nobody is there
    in one.

    A start is sought from `ready` on, when what comes before mixing can be done, with the windows of pours
    made as soon as they may; the days
    are laid out with those of the hours really taken.
    """
    if not pours:
        return None, Days([], None, []), None
    soonest, at_s = job.heat.run(), 0.0
    tasks = []
    for pour in pours:
        window = soonest.pour(pour.heats, at_s)
        tasks.append(pour.task(job.workshop, window))
        at_s += (
            window.opens_s
            if window and window.opens_s
            else max(fill.system.bond_from_s.value for fill in pour.fills)
        )
    better = best_start(tasks, job.workshop, whole_half_hour(ready))
    start = job.piece.first_pour_at or (better.at if better else whole_half_hour(ready))
    run = understand(job, start).run()
    days = lay_out(
        tasks,
        job.workshop,
        start,
        lambda index, poured_s: run.pour(pours[index].heats, poured_s),
        {one.pour - 1: one.at for one in job.piece.later_mixes} if job.piece.first_pour_at else None,
    )
    job.verdicts += ribbon.window_verdicts(days, better, job.piece.first_pour_at, job.now, job.say)
    job.verdicts += ribbon.due_verdicts(days, job.piece.due, job.workshop, job.say)
    return start, days, run


def _steps(
    job: Job, found: SurveyPlan, pours: list[Pour], plans: list[PourPlan], days: Days
) -> list[ClockStep]:
    """Rules 6.1 and 7.1: what has to be done when, with the hour the heat comes where it is computed."""
    if not days.pours:
        return steps_by_themselves(found.steps, job.now, job.workshop)
    first = days.pours[0].poured_at
    peaks: list[datetime | None] = []
    for plan in plans:
        heats = [layer.heat for layer in plan.layers if layer.heat]
        hottest = max(heats, key=lambda heat: heat.peak.value, default=None)
        peaks.append(first + timedelta(seconds=hottest.poured_s + hottest.peak_s) if hottest else None)
    return clock_steps(job.piece.kind_of_work, found.steps, pours, days, peaks, job.workshop)


def _cautions(used: list[System], has_pours: bool) -> list[str]:
    if not has_pours:
        return []
    return [
        GENERAL,
        *product_cautions([system.cures_like or system.id for system in used]),
        CUP,
        SKIN,
        *([PRESSURE] if any(system.needs_pressure for system in used) else []),
    ]
