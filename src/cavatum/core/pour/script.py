"""A frozen plan compiled into a script of steps that any device can carry out by itself. Rules 5.1 to 5.10,
6.1, 7.1 to 7.6.

A step's window counts from an anchor: the moment another step was begun or done, as the record has it. Until
then the plan's own moments stand.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from ..clock.hours import open_spans
from ..clock.model import ClockStep, Row
from ..common.wording import Wording, rendered
from ..common.workshop import Workshop
from ..cure.belief import worth_again
from ..mix.model import BatchPlan, PourPlan
from ..piece.document import Piece
from ..piece.survey_findings import Survey
from ..plan_model import Plan
from ..practice.mixing import (
    CAUTIONS,
    CLEAN_HAND,
    LATE,
    PART,
    POUR,
    READY,
    REST,
    SAND,
    STICKY,
    STIR,
    STIR_AGAIN,
    WEIGH,
    BenchStep,
)
from ..practice.readiness import ready_list
from .script_model import CupClock, Kind, PourCurve, Script, ScriptStep, WeighPart
from .script_windows import (
    SAND_LEAD_S,
    after_pours,
    is_bonded,
    span_of,
    window_of_mixing,
)
from .script_words import batch_words, dose_words, shares_words

FIRST_READY = "p1/ready"
HERE_AFTER, HERE_MOST = timedelta(days=30), timedelta(days=120)


def _with_cautions(step: ScriptStep, hand: str) -> ScriptStep:
    told = {
        "caution": CAUTIONS.get(step.code, ""),
        "late": LATE.get(step.kind, ""),
        "hand": hand if step.code in STICKY else "",
    }
    return step.model_copy(update=told)


def compile_script(piece_id: int, piece: Piece, plan: Plan, workshop: Workshop) -> Script:
    """The script of a piece's plan, from preparation to hand-over, in the order things are expected.

    Raises nothing: a plan without pours gives a script without steps.
    """
    wording, kind = Wording(workshop), piece.kind_of_work
    steps = _after_preparing(_in_order(piece, plan, wording))
    hand = CLEAN_HAND[workshop.clean_hand]
    volumes = [pour.net.value for pour in plan.pours]
    script = Script(
        piece_id=piece_id,
        piece=piece.name,
        tint=piece.tint,
        kind_of_work=kind,
        zone=wording.workshop.zone,
        steps=[_with_cautions(one, hand) for one in steps],
        curves=list(filter(None, map(_curve, plan.pours))),
        depth_share=[one / (sum(volumes) or 1.0) for one in volumes],
        again=list(worth_again()),
        here=_here(steps, workshop),
        scrape=workshop.scrape_cup,
    )
    return rendered(script, Wording(workshop))


def _in_order(piece: Piece, plan: Plan, wording: Wording) -> list[ScriptStep]:
    """Every step as it is expected."""
    kind, stir_with = piece.kind_of_work, wording.workshop.stir_with
    air = (piece.survey or Survey()).air_school
    rows = plan.clock.rows if plan.clock else []
    steps = [_prepare(one) for one in plan.steps if one.pour is None]
    after = after_pours(plan, rows)
    for place, pour in enumerate(plan.pours[: len(rows)]):  # what waits for warmth is not in it
        steps += _mixing(pour, place, plan, rows, kind, air, stir_with, wording)
    return sorted([*steps, *after], key=lambda one: one.planned_at)


def _here(steps: Sequence[ScriptStep], workshop: Workshop) -> list[tuple[datetime, datetime]]:
    """When somebody is there while the run goes on, and for a month after."""
    if not steps:
        return []
    begin, end = min(one.planned_at for one in steps), max(one.planned_at for one in steps)
    return list(open_spans(workshop, begin, min(end + HERE_AFTER, begin + HERE_MOST)))


def _after_preparing(steps: list[ScriptStep]) -> list[ScriptStep]:
    """The first mixing waits for what was prepared."""
    before = [(one.id, one.least_s) for one in steps if one.kind == "prepare" and one.least_s > 0]
    return [one.model_copy(update={"waits": before}) if one.id == FIRST_READY else one for one in steps]


def _prepare(step: ClockStep) -> ScriptStep:
    return ScriptStep(
        id=f"prep/{step.code}",
        code=step.code,
        kind="prepare",
        title=step.title,
        text=step.text,
        why=step.why,
        rule=step.rule,
        tools=step.tools,
        planned_at=step.at or step.earliest,
        planned_to=step.latest,
        hands_s=step.hands_s,
        least_s=step.waits_s[0] if step.waits_s else 0.0,
        most_s=step.waits_s[1] if step.waits_s else None,
        holds=[f"prep/{code}" for code in step.holds],
    )


def _mixing(
    pour: PourPlan,
    place: int,
    plan: Plan,
    rows: list[Row],
    kind: str,
    air: str,
    stir_with: str,
    wording: Wording,
) -> list[ScriptStep]:
    """Ready, then each batch from the scale to the mould, in the window of the layer below."""
    row = rows[place]
    mix_at = (span_of(row, "mix") or (row.segments[0].from_at, row.segments[0].from_at))[0]
    window = window_of_mixing(plan, rows, place, mix_at)
    is_pressed = any(one.code == "lid" and one.pour == pour.number for one in plan.steps)
    steps = [
        _made(
            READY,
            f"p{pour.number}/ready",
            "ready",
            pour,
            None,
            mix_at,
            hands_s=120.0,
            **{**window, "checks": [words for _, words in ready_list(kind, air, pressed=is_pressed)]},
        )
    ]
    if place and not is_bonded(rows, place):
        lead = {**window, "from_s": window.get("from_s", 0.0) - SAND_LEAD_S}
        steps.insert(
            0,
            _made(
                SAND,
                f"p{pour.number}/sand",
                "sand",
                pour,
                None,
                mix_at - timedelta(seconds=SAND_LEAD_S),
                hands_s=SAND_LEAD_S,
                **_sand_words(pour),
                **lead,
            ),
        )
    cursor = mix_at
    for batch in pour.batches:
        more, cursor = _batch(pour, batch, cursor, window, stir_with, wording)
        steps += more
    return steps


def _sand_words(pour: PourPlan) -> dict[str, str]:
    """What is done to what is below, or to a pocket that was cut for this pour."""
    if pour.new_pocket:
        return {
            "title": "Clean out the new pocket",
            "text": "Dust out with air and a brush, wipe; pre-coat what drinks.",
        }
    return {
        "title": SAND.title.format(wipe_title=", wipe" if pour.wiped else ""),
        "text": SAND.text.format(
            grit=f"{pour.grit} grit" if pour.grit else "120 to 320 grit",
            wipe=", wipe with solvent, let it flash off" if pour.wiped else "",
        ),
    }


def _made(
    row: BenchStep, id_: str, kind: Kind, pour: PourPlan, batch: int | None, at: datetime, **more: object
) -> ScriptStep:
    values = {
        "code": row.code,
        "title": row.title,
        "text": row.text,
        "why": row.why,
        "rule": row.rule,
        **more,
    }
    return ScriptStep.model_validate(
        {"id": id_, "kind": kind, "pour": pour.number, "batch": batch, "planned_at": at, **values}
    )


def _batch(
    pour: PourPlan, batch: BatchPlan, at: datetime, window: dict[str, Any], stir_with: str, wording: Wording
) -> tuple[list[ScriptStep], datetime]:
    many = len(pour.batches) > 1
    called = f"batch {batch.number} of {len(pour.batches)}" if many else "the batch"
    base = f"p{pour.number}/b{batch.number}"
    first, second = batch.parts
    by_weight = {
        first.part: first.mass.value / second.mass.value,
        second.part: second.mass.value / first.mass.value,
    }
    weigh = _made(
        WEIGH,
        f"{base}/weigh",
        "weigh",
        pour,
        batch.number,
        at,
        **window,
        title=WEIGH.title.format(batch=called),
        text=WEIGH.text.format(first=first.part, second=second.part),
        step_kg=wording.workshop.scale.step_kg.value,
        ounces="oz" in wording.workshop.scale.step_kg.as_typed,
        hands_s=180.0,
        rings=False,
        parts=[
            WeighPart(part=one.part, target_kg=one.mass.value, per_other=by_weight[one.part])
            for one in (first, second)
        ],
        doses=[
            dose_words(colour, dose.name, dose.mass.value, dose.drops, wording)
            for colour in batch.colours
            for dose in colour.doses
        ],
    )
    steps, cursor = [weigh], at + timedelta(minutes=3)

    def add(row: BenchStep, kind: Kind, seconds: float, **more: object) -> None:
        nonlocal cursor
        steps.append(
            _made(
                row,
                f"{base}/{row.code}",
                kind,
                pour,
                batch.number,
                cursor,
                hands_s=seconds,
                anchor=steps[-1].id,
                **more,
            )
        )
        cursor += timedelta(seconds=seconds)

    drill = " Hold or clamp the cup: thin resin is flung." if stir_with == "drill" else ""
    add(
        STIR,
        "stir",
        batch.stir_s,
        timer_s=batch.stir_s,
        title=STIR.title.format(batch=called),
        text=STIR.text.format(drill=drill),
    )
    if batch.stir_again_s:
        add(STIR_AGAIN, "stir", batch.stir_again_s, timer_s=batch.stir_again_s)
    if len(batch.colours) > 1:
        add(PART, "part", 120.0, text=PART.text.format(colours=shares_words(batch.colours, wording)))
    if batch.rest_s:
        add(REST, "rest", batch.rest_s, timer_s=batch.rest_s, title=REST.title.format(batch=called))
    add(
        POUR,
        "pour",
        60.0,
        title=POUR.title.format(batch=called),
        text=POUR.text.format(what=batch_words(pour, batch, wording)),
    )
    # The pot clock runs from the first stir, whatever was done since.
    steps[-1] = steps[-1].model_copy(
        update={
            "cup": _cup(batch),
            "system_id": batch.system_id,
            "colour": batch.colour,
            "anchor": f"{base}/stir",
            "on": "begun",
            "to_s": batch.stir_s + (batch.stir_again_s or 0.0) + batch.pour_within.value,
        }
    )
    return steps, cursor


def _cup(batch: BatchPlan) -> CupClock | None:
    """How warm the batch gets in its cup, and the temperatures its sheet wants it poured at."""
    pot = batch.pot
    if pot is None or pot.pour_from_c is None:
        return None
    return CupClock(
        curve=[(at, celsius) for at, celsius, _ in pot.curve],
        split_c=pot.split_c if len(batch.colours) > 1 else None,
        pour_c=pot.pour_from_c,
        most_c=pot.pour_to_c,
    )


def _curve(pour: PourPlan) -> PourCurve | None:
    heats = [layer.heat for layer in pour.layers if layer.heat]
    if not heats:
        return None
    hottest = max(heats, key=lambda one: one.peak.value)
    points = [(at - hottest.poured_s, celsius) for at, celsius in hottest.curve if at >= hottest.poured_s]
    return PourCurve(
        pour=pour.number, called=pour.called, curve=points, peak_c=hottest.peak.value, never_c=hottest.never_c
    )
