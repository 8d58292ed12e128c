"""All pieces on one clock: where each stands at a moment, and what needs hands next. Rules 6.1 and 6.2."""

from __future__ import annotations

from datetime import datetime

from ..clock.model import Clock, Pin
from ..common.plain_numbers import plainly
from ..common.working import Data
from ..plan_model import Plan

STATE_WORDS = {
    "mix": "being poured",
    "workable": "liquid",
    "liquid": "liquid",
    "setting": "setting",
    "bond": "takes the next pour",
    "closed": "hardening",
    "demould": "ready to come out",
}


class Standing(Data):
    """Where one piece stands: a sentence, how full its hollow is (0 to 1), and whether anything is under
    way.
    """

    status: str
    filled: float
    phase: str


class Moment(Data):
    """A hands-on moment. `label` is the step, `until` when its window closes."""

    at: datetime
    until: datetime | None
    label: str
    detail: str


def _missing(plan: Plan) -> str:
    """The first thing that keeps the piece from being poured."""
    open_stages = [one for one in plan.stages if one.state == "needs you" and one.stage != "survey"]
    held = [one.reason for one in plan.stages if one.state == "stops" or one in open_stages]
    return held[0] if held else "nothing measured yet"


def standing_at(plan: Plan, now: datetime) -> Standing:
    """Reads the plan at `now` as if it had been kept; without a chosen start it is still a plan."""
    clock = plan.clock
    if clock is None or not plan.pours:
        return Standing(status=_missing(plan), filled=0.0, phase="in planning")
    if not plan.start_is_chosen:
        return Standing(status="planned, start not set", filled=0.0, phase="in planning")
    if plan.start_at is not None and now < plan.start_at:
        return Standing(status="planned", filled=0.0, phase="planned")
    poured = sum(1 for row in clock.rows if row.segments and row.segments[0].to_at <= now)
    filled = poured / len(clock.rows)
    if plan.totals.ready_at is not None and now >= plan.totals.ready_at:
        return Standing(status="fully cured by the plan", filled=1.0, phase="done")
    segment = _segment_at(clock, now)
    words = STATE_WORDS[segment] if segment else "hardening"
    return Standing(
        status=f"{clock.rows[max(poured, 1) - 1].label} of {len(clock.rows)}, {words}",
        filled=filled,
        phase="curing",
    )


def _segment_at(clock: Clock, now: datetime) -> str | None:
    """The state of the topmost layer that has begun."""
    begun = [row for row in clock.rows if row.segments and row.segments[0].from_at <= now]
    if not begun:
        return None
    return next((one.state for one in begun[-1].segments if one.from_at <= now < one.to_at), None)


def moments_after(plan: Plan, now: datetime) -> list[Moment]:
    """Hands-on moments of a piece with a set start that are still to come or whose window is still open."""
    if plan.clock is None or not plan.start_is_chosen:
        return []
    moments = []
    for pin in plan.clock.pins:
        until = _window_end(plan.clock, pin) if pin.kind == "pour" else pin.until
        if (until or pin.at) >= now:
            moments.append(Moment(at=pin.at, until=until, label=pin.label, detail=_detail(plan, pin)))
    return moments


def _window_end(clock: Clock, pin: Pin) -> datetime | None:
    """The end of the bond window that a pour uses; its mixing may begin before the window opens."""
    poured_at = pin.until or pin.at
    windows = [one for row in clock.rows for one in row.segments if one.state == "bond"]
    return next((one.to_at for one in windows if one.from_at <= poured_at <= one.to_at), None)


def _detail(plan: Plan, pin: Pin) -> str:
    """What to bring and what to test first: readiness is a test, never only an elapsed time (rule 8.1)."""
    if pin.kind == "demould":
        return "Press a nail in at the edge first: no dent. The clock alone never says it is ready."
    for pour in plan.pours:
        if pin.label == f"mix, {pour.called}":
            batches = len(pour.batches)
            return (
                f"{pour.mass.value:.2f} kg in {batches} {'batch' if batches == 1 else 'batches'}, "
                f"stir {plainly(pour.batches[0].stir_s / 60)} min each."
                + (
                    " Test the layer below with a stick first: the clock alone never says it is ready."
                    if pour.number > 1
                    else ""
                )
            )
    return ""
