"""What a run looked like afterwards: what was in time, what was late, what was answered and how soon. Rules
7.5, 9.1.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import datetime

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data
from .events import DoneStep, Kept, ReadOff
from .pace import is_absurd
from .script_model import Script, ScriptStep
from .state import Mark, OpenMishap, RunState, fold, ratio_off, window_of

SHOWN = 4
MINUTE_S = 60.0
SHORT = 0.9  # own judgement: a stir ended a little before its bell is no fault
RATIO_CARE = 0.02  # common practice, no source: more shows in the cure of most systems
QUICK_S = 180.0  # own judgement: a mishap answered within three minutes


class StepDebrief(Data):
    """late_s: begun so long after its window closed; early_s: so long before it opened."""

    id: str
    title: str
    status: str
    late_s: float
    early_s: float


class Debrief(Data):
    steps: list[StepDebrief]
    done: int
    skipped: int
    late: int
    early: int
    tests: int
    mishaps: int
    absurd: int
    repeats: int
    says: list[Verdict]


def _absurd(events: Sequence[Kept]) -> int:
    """How many readings of temperature cannot be."""
    read = [one.event for one in events if isinstance(one.event, ReadOff)]
    return sum(one.what in ("surface_c", "probe_c") and is_absurd(one.value) for one in read)


def debrief(script: Script, events: Sequence[Kept], wording: Wording) -> Debrief:
    """Counts and sentences of a run, at any moment of it."""
    state = fold(script, events)
    rows = [row for step in script.steps if (row := _row(script, step, state)) is not None]
    late, early = [row for row in rows if row.late_s > 60], [row for row in rows if row.early_s > 60]
    absurd = _absurd(events)
    by_status = Counter(row.status for row in rows)
    return Debrief(
        steps=rows,
        done=by_status["done"],
        skipped=by_status["skipped"],
        late=len(late),
        early=len(early),
        tests=sum(one.event.kind == "test" for one in events),
        mishaps=len(state.mishaps),
        absurd=absurd,
        repeats=sum(mark.repeats for mark in state.marks.values()),
        says=_sentences(script, state, rows, absurd, events, wording),
    )


def _row(script: Script, step: ScriptStep, state: RunState) -> StepDebrief | None:
    mark = state.marks.get(step.id)
    if mark is None or mark.status == "to do":
        return None
    if step.kind == "prepare":
        return _prepared(script, step, mark, state)
    opens, closes, _ = window_of(step, state)
    if step.hands_s == 0:  # it only had to be known: to have tapped it away is not early
        opens = None
    at = mark.begun_at
    late = max((at - closes).total_seconds(), 0.0) if at and closes and mark.status == "done" else 0.0
    early = (
        max((opens - at).total_seconds(), 0.0)
        if at and opens and step.anchor and mark.status == "done"
        else 0.0
    )
    return StepDebrief(id=step.id, title=step.title, status=mark.status, late_s=late, early_s=early)


def _prepared(script: Script, step: ScriptStep, mark: Mark, state: RunState) -> StepDebrief:
    """Preparation against the mixing that really followed: too near to it is late, too long before it
    early."""
    mixed = _mixed_at(script, state)
    late = early = 0.0
    if mark.status == "done" and mark.ended_at is not None and mixed is not None:
        waited = (mixed - mark.ended_at).total_seconds()
        late = max(step.least_s - waited, 0.0)
        early = 0.0 if step.most_s is None else max(waited - step.most_s, 0.0)
    return StepDebrief(id=step.id, title=step.title, status=mark.status, late_s=late, early_s=early)


def _mixed_at(script: Script, state: RunState) -> datetime | None:
    """When the first batch was stirred."""
    stirs = [step.id for step in script.steps if step.kind == "stir" and step.pour == 1]
    marks = [state.marks[id_] for id_ in stirs if id_ in state.marks]
    return min((one.begun_at for one in marks if one.begun_at), default=None)


def _timers(script: Script, state: RunState, wording: Wording) -> list[Verdict]:
    """Stirring and resting that were ended before their time."""
    found = []
    for step in script.steps:
        mark = state.marks.get(step.id)
        if not step.timer_s or mark is None or mark.status != "done" or not (mark.begun_at and mark.ended_at):
            continue
        took = (mark.ended_at - mark.begun_at).total_seconds()
        if took >= SHORT * step.timer_s:
            continue
        said = wording.duration(took) if took >= MINUTE_S else f"{took:.0f} s"
        found.append(
            Verdict(
                weight="warning",
                stage="pour",
                code="timer-short",
                rule="5.3",
                title=f"{step.title}: cut short",
                text=f"{said} of {wording.duration(step.timer_s)}.",
                todo="What is not stirred through stays sticky in streaks: test it in several places.",
            )
        )
    return found


def _out_of_order(script: Script, state: RunState) -> list[Verdict]:
    """Preparation that was done after what it comes before."""
    titles = {step.id: step.title for step in script.steps}
    done = {
        id_: mark.ended_at for id_, mark in state.marks.items() if mark.status == "done" and mark.ended_at
    }
    pairs = [
        (step.id, held)
        for step in script.steps
        for held in step.holds
        if step.id in done and held in done and done[step.id] > done[held]
    ]
    return [
        Verdict(
            weight="warning",
            stage="pour",
            code="prepared-out-of-order",
            rule="1.2",
            title=f"{titles[one]}: after {titles[other].lower()}",
            text="It comes before it: what was done first is touched or dusted again.",
            todo="Do what was spoilt once more.",
        )
        for one, other in pairs
        if other in titles
    ]


def _unticked(events: Sequence[Kept], script: Script, state: RunState) -> list[Verdict]:
    """Ready, with checks that nobody ticked."""
    checks = {step.id: len(step.checks) for step in script.steps}
    return [
        Verdict(
            weight="warning",
            stage="pour",
            code="not-ready",
            rule="1.9",
            title=f"Ready with {one.event.unticked} of {checks[one.event.step]} not ticked",
            text="What was not looked at before mixing is looked for while it sets.",
            todo="Walk round the bench once, and tap what is there.",
        )
        for one in events
        if isinstance(one.event, DoneStep)
        and one.event.unticked
        and one.event.step in checks
        and str(one.event_id) not in state.undone
    ]


def _off_ratio(script: Script, state: RunState) -> list[Verdict]:
    """Batches weighed by hand that were ended off their ratio."""
    found = []
    for step in script.steps:
        off = ratio_off(step, state) if step.parts else None
        if off is None or abs(off) <= RATIO_CARE:
            continue
        found.append(
            Verdict(
                weight="warning",
                stage="pour",
                code="off-ratio",
                rule="5.2",
                title=f"{step.title}: {abs(off):.1%} off its ratio",
                text=f"Too {'much' if off > 0 else 'little'} of part {step.parts[1].part}, as it was typed.",
                todo="It may stay sticky or brittle: give the tests more time, and try it in several places.",
            )
        )
    return found


def _mishap(one: OpenMishap, wording: Wording) -> Verdict:
    took = (one.over_at - one.at).total_seconds() if one.over_at else None
    quick = took is not None and took <= QUICK_S
    return Verdict(
        weight="note" if quick else "warning",
        stage="pour",
        code="mishap",
        rule="7.2",
        title=f"Mishap: {one.code}",
        text="Never marked as over." if took is None else f"Over after {wording.duration(max(took, 60.0))}.",
        todo="" if quick else "Walk through its first steps once before the next pour.",
    )


def _skipped(rows: Sequence[StepDebrief]) -> list[Verdict]:
    """Steps that were left out, in one sentence."""
    names = [row.title for row in rows if row.status == "skipped"]
    if not names:
        return []
    more = f" and {len(names) - SHOWN} more" if len(names) > SHOWN else ""
    return [
        Verdict(
            weight="note",
            stage="pour",
            code="left-out",
            title=f"{len(names)} left out",
            text=f"{'; '.join(names[:SHOWN])}{more}.",
            todo="",
        )
    ]


def _left_out(script: Script, state: RunState) -> list[Verdict]:
    skipped_tests = [
        step.title
        for step in script.steps
        if step.kind == "test" and (mark := state.marks.get(step.id)) and mark.status == "skipped"
    ]
    return [
        Verdict(
            weight="warning",
            stage="pour",
            code="test-skipped",
            rule="8.1",
            title=f"{title}: left out",
            text="The next step rested on the clock alone.",
            todo="Two minutes with a stick tell more than any clock.",
        )
        for title in skipped_tests
    ]


def _sentences(
    script: Script,
    state: RunState,
    rows: list[StepDebrief],
    absurd: int,
    events: Sequence[Kept],
    wording: Wording,
) -> list[Verdict]:
    late, early = [row for row in rows if row.late_s > 60], [row for row in rows if row.early_s > 60]
    found = [
        Verdict(
            weight="warning",
            stage="pour",
            code="was-late",
            rule="7.5",
            title=f"{row.title}: late",
            text=f"{wording.duration(row.late_s)} after its window closed.",
            todo="Set the reminder on the device that is with you, or plan the start so that the window "
            "meets your hours.",
        )
        for row in late[:6]
    ]
    found += [
        Verdict(
            weight="warning",
            stage="pour",
            code="was-early",
            rule="8.1",
            title=f"{row.title}: early",
            text=f"{wording.duration(row.early_s)} before it was due.",
            todo="Readiness is a test: stick, nail, temperature.",
        )
        for row in early[:6]
    ]
    found += [_mishap(one, wording) for one in state.mishaps]
    found += _left_out(script, state) + _timers(script, state, wording) + _out_of_order(script, state)
    found += _unticked(events, script, state) + _off_ratio(script, state)
    if absurd:
        found.append(
            Verdict(
                weight="note",
                stage="pour",
                code="absurd",
                rule="7.4",
                title="Readings that cannot be",
                text=f"{absurd} were stored but ignored as impossible.",
                todo="Look at where the instrument pointed, and at its batteries.",
            )
        )
    found += _skipped(rows)
    if not found:
        found.append(
            Verdict(
                weight="note",
                stage="pour",
                code="clean",
                title="Everything in its window",
                text="No step late, none early, none left out, no timer cut short, no mishap.",
            )
        )
    return found
