"""Evaluates one piece: measure -> resin -> survey -> layers -> mix -> clock -> summary. Reads as the flow of
the job.

A plan is a pure function of the piece, the systems' sheets, the workshop, a start and the moment it is made.
Each stage takes what the earlier ones answered and hands back an Answer: its value, what it has to say, and
the
workings of its figures. What is not known yet leaves the later parts empty, and a verdict says what is
needed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any, TypeVar

from .clock import ribbon
from .clock import stage as clock
from .clock.before import late_verdicts
from .clock.outside import outside_verdicts
from .clock.places import chamber_openings, chamber_verdicts, spare_verdicts
from .clock.starts import bands
from .clock.windows import whole_half_hour, window_of
from .coats.laid import settle_coats
from .coats.stage import coats as coats_in_full
from .common.answer import Answer
from .common.verdict import WEIGHTS, Verdict
from .common.wording import Wording, rendered
from .common.working import Workbook, Working
from .common.workshop import Workshop
from .layers import stage as layers
from .layers.course import Course
from .layers.heat import HeatOfPiece
from .layers.heat_plan import heat_of_layers, understand
from .layers.pours import Pour, deepest_fills
from .measure import stage as measure
from .measure.section import section_of
from .measure.stand import Liquid
from .mix import stage as mix
from .mix.model import PourPlan
from .piece.document import Piece
from .piece.given import Given
from .piece.shelf_items import NONE, ShelfItems
from .plan_model import Plan
from .resin import stage as resin
from .resin.system import System, typical_fields
from .summary.cautions import cautions_of
from .summary.rail import after_planning, rail_of, without_resin
from .summary.totals import totals_of, with_band
from .survey import stage as survey

T = TypeVar("T")


def make_plan(
    piece: Piece,
    systems: Mapping[str, System],
    workshop: Workshop,
    now: datetime,
    *,
    in_full: bool = True,
    chances: bool = True,
    provisional: bool = False,
    shelf_items: ShelfItems = NONE,
) -> Plan:
    """The whole plan of a piece.

    systems  sheets by id, at least those that the piece names
    now      the moment it is made, with a zone; the start is worked out from it when the piece names none
    in_full  with what only the drawing shows: map of the heat, pouring too early, how warm the room may get
    chances  of getting too hot; without them for those who read only hours, heights and weights: no verdict
             says then what may overheat
    shelf_items  colourants, recipes and form materials of the shelf
    provisional  on half the cells, for figures that follow a drag
    Never raises for a piece that the document's own checks let through: what stops the job is a verdict.
    """
    given = Given(piece=piece, systems=systems, workshop=workshop, now=now, shelf_items=shelf_items)
    chosen = resin.choose_systems(_named(piece), systems)
    used, ratios = chosen.value.used, chosen.value.ratios
    settled = settle_coats(given, ratios)
    piece = settled.value
    given = replace(given, piece=piece)
    voids = measure.measure_voids(given)
    coats = measure.measure_coats(given, ratios)
    found = survey.survey(given, used)

    cavities = {**voids.value.cavities, **coats.value.cavities}

    def heat_from(start: datetime) -> HeatOfPiece:
        return understand(given, cavities, start, coarse=provisional)

    heat = heat_from(piece.first_pour_at or whole_half_hour(now))
    coated = coats_in_full(given, coats.value.plans, ratios, heat.cures)
    cut = layers.cut_layers(given, cavities, ratios, heat, clock.out_of_form(given))
    poured = mix.mixable(given, cut.value)
    pours = poured.value
    stood = measure.stand(given, voids.value.plans, cavities, _liquids(pours))
    mixed = mix.mix(given, pours, heat.cures)

    laid = clock.lay_out_days(given, found.value.steps, pours, heat.run(), heat_from)
    days, job = laid.value.days, laid.value.job
    heated = heat_of_layers(
        given,
        pours,
        [plan.layers for plan in mixed.value],
        laid.value.run,
        in_full=in_full,
        chances=chances,
    )
    plans = _joined(piece, pours, mixed.value, heated.value.layers)
    steps = clock.steps_of_plan(given, found.value.steps, pours, days)

    book = Workbook()
    totals = totals_of(book, cavities, pours, plans, days, workshop)
    totals = with_band(book, totals, stood.value.voids, coated.value)
    verdicts = [
        *_said(voids, chosen, settled, coats, coated, found, cut, poured),
        *layers.layers_verdicts(given, pours),
        *_said(stood, mixed, laid, heated),
        *spare_verdicts(plans, given.wording),
        *chamber_verdicts(piece, stood.value.voids, used, workshop, given.wording),
        *(outside_verdicts(pours, days, steps, job, workshop, now) if job else []),
        *chamber_openings(steps),
        *late_verdicts(steps, piece.first_pour_at, now, given.wording),
    ]
    reports = [
        survey.report(piece),
        measure.report(piece, len(stood.value.voids), len(coats.value.plans)),
        resin.report(used, is_measured=bool(piece.voids or piece.coats)),
        layers.report(pours),
        mix.report(plans),
        clock.report(days),
        *after_planning(piece, has_pours=bool(days.pours)),
    ]

    def said(words: T) -> T:
        return rendered(words, given.wording)

    return Plan(
        made_at=now,
        start_at=laid.value.start,
        start_is_chosen=piece.first_pour_at is not None,
        layering=piece.layering,
        survey=said(found.value),
        voids=stood.value.voids,
        coats=coated.value,
        level=stood.value.level,
        pours=_limits_said(plans, given.wording),
        sections=[section_of(cavity) for cavity in cavities.values()],
        heat_maps=heated.value.maps,
        heat_notes=said(heated.value.notes),
        clock=ribbon.draw(pours, days, workshop, clock.fixed_mixes(piece)),
        steps=said(steps),
        windows=[window_of(pour.number, times) for pour, times in zip(pours, days.pours, strict=False)],
        prepared_at=job.ready if job else now,
        starts=bands(job, workshop, whole_half_hour(now)) if job and in_full and not provisional else [],
        totals=totals,
        verdicts=sorted(said(verdicts), key=lambda one: WEIGHTS.index(one.weight)),
        stages=said(rail_of(without_resin(piece, reports), verdicts, piece)),
        cautions=cautions_of(used, has_pours=bool(plans)),
        typical={one.id: typical_fields(one) for one in used},
        learned_pace=_learned_pace(used),
        workings=_workings(given.wording, voids, coats, coated, found, stood, mixed, heated) | book.workings,
    )


def courses_of(
    piece: Piece,
    systems: Mapping[str, System],
    workshop: Workshop,
    plan: Plan,
    shelf_items: ShelfItems = NONE,
) -> dict[str, Course]:
    """The heat of a plan that was made before, for long work on it: every void with the layers that heat was
    computed for, each poured at the plan's own hour and followed until it is ready.
    """
    given = Given(piece=piece, systems=systems, workshop=workshop, now=plan.made_at, shelf_items=shelf_items)
    piece = settle_coats(given, resin.choose_systems(_named(piece), systems).value.ratios).value
    given = replace(given, piece=piece)
    heat = understand(given, measure.cavities_of(piece), plan.start_at or plan.made_at)
    courses: dict[str, Course] = {}
    for layer in (layer for pour in plan.pours for layer in pour.layers):
        if layer.heat is None or layer.void_id not in heat.empty:
            continue
        course = courses.get(layer.void_id, heat.empty[layer.void_id])
        course = course.at(layer.heat.poured_s)
        courses[layer.void_id] = course.pour(layer.from_m, layer.to_m, heat.cures[layer.system_id])
    return {void: course.until_ready() for void, course in courses.items()}


def _named(piece: Piece) -> list[str]:
    """The systems that the piece's portions are filled with, in their order."""
    parts = [part for one in (*piece.voids, *piece.coats) for part in one.filling]
    return [name for part in parts if (name := part.system_id or piece.system_id) is not None]


def _liquids(pours: Sequence[Pour]) -> dict[str, Liquid]:
    return {
        void: Liquid(fill.cavity, fill.layer.depth_m, fill.ratio.mixed_density)
        for void, fill in deepest_fills(pours).items()
    }


def _joined(
    piece: Piece, pours: Sequence[Pour], plans: Sequence[PourPlan], layers: Sequence[Any]
) -> list[PourPlan]:
    """Each pour with its layers as the heat left them; the last coat marked where it may have to be made
    again.
    """
    done = [plan.model_copy(update={"layers": row}) for plan, row in zip(plans, layers, strict=True)]
    if piece.spare_coat and pours and pours[-1].coat:
        done[-1] = done[-1].model_copy(update={"spare": True})
    return done


def _learned_pace(used: Sequence[System]) -> dict[str, float]:
    """By system, the times as long that were learned; a measured curve says it better."""
    return {one.id: one.learned_pace.times for one in used if one.learned_pace and not one.cure_fit}


def _workings(wording: Wording, *answers: Answer[Any]) -> dict[str, Working]:
    return {key: rendered(one, wording) for answer in answers for key, one in answer.workings.items()}


def _limits_said(plans: Sequence[PourPlan], wording: Wording) -> list[PourPlan]:
    """Why each layer is no deeper, in the workshop's units."""
    return [
        plan.model_copy(
            update={
                "layers": [
                    layer.model_copy(update={"limited_by": wording.words(layer.limited_by)})
                    for layer in plan.layers
                ]
            }
        )
        for plan in plans
    ]


def _said(*answers: Answer[Any]) -> list[Verdict]:
    return [verdict for answer in answers for verdict in answer.verdicts]
