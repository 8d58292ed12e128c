"""What a run looked like afterwards: what was in time, what was late, what was answered and how soon. Rules
7.5, 9.1.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data
from .events import Kept, ReadOff
from .pace import is_absurd
from .script_model import Script, ScriptStep
from .state import OpenMishap, RunState, fold, window_of

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
    rows = [row for step in script.steps if (row := _row(step, state)) is not None]
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
        says=_sentences(script, state, late, early, absurd, wording),
    )


def _row(step: ScriptStep, state: RunState) -> StepDebrief | None:
    mark = state.marks.get(step.id)
    if mark is None or mark.status == "to do":
        return None
    opens, closes, _ = window_of(step, state)
    at = mark.begun_at
    late = max((at - closes).total_seconds(), 0.0) if at and closes and mark.status == "done" else 0.0
    early = (
        max((opens - at).total_seconds(), 0.0)
        if at and opens and step.anchor and mark.status == "done"
        else 0.0
    )
    return StepDebrief(id=step.id, title=step.title, status=mark.status, late_s=late, early_s=early)


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
    late: list[StepDebrief],
    early: list[StepDebrief],
    absurd: int,
    wording: Wording,
) -> list[Verdict]:
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
    found += _left_out(script, state)
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
    if not found:
        found.append(
            Verdict(
                weight="note",
                stage="pour",
                code="clean",
                title="Everything in its window",
                text="No step late, none early, no mishap.",
            )
        )
    return found
