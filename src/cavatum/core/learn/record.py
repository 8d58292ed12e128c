"""One run in figures: what was planned, what was done, and where they differ. Rule 9.1.

Read off the frozen plan, the run's own events and what stood on the scale; nothing is asked twice. What
nobody measured is None, never a guess.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, TypeVar

from ..clock.expected import expected_after
from ..common.working import Figure
from ..mix.model import BatchPlan, PourPlan
from ..mix.weigh_events import WeighEvent, WeighTask
from ..mix.weighing import reduce
from ..plan_model import Plan
from ..pour.branches import plan_as_taken
from ..pour.events import (
    OF_THE_CAMERA,
    Amount,
    GateTested,
    Kept,
    Noted,
    Pictured,
    Rated,
    ReadOff,
    Saw,
    Troubled,
)
from ..pour.pace import is_absurd
from ..pour.script_model import Script, ScriptStep
from ..pour.state import Mark, RunState, fold, poured_at, ratio_off, target_kg, window_of
from ..practice.finishing import GATES
from ..practice.mishaps import MISHAPS
from ..practice.troubles import TROUBLES
from .record_model import BatchRecord, ColourUsed, PourRecord, RunRecord, SeenRecord, TestRecord

Weighed = tuple[int, int, WeighTask, list[WeighEvent]]


def run_record(
    run_id: int,
    piece_id: int | None,
    script: Script,
    plan: Plan,
    kept: Sequence[Kept],
    weighed: Sequence[Weighed],
    begun_at: datetime,
    room_c: float,
    probe_peaks: dict[int, float] | None = None,
) -> RunRecord:
    """The whole run.

    weighed      (pour, batch, task, events) of the batches that stood on the scale
    probe_peaks  hottest of the logger's readings [degC], by pour
    """
    state = fold(script, kept)
    plan = plan_as_taken(plan, state)
    standing = [one for one in kept if str(one.event_id) not in state.undone]
    amounts = _events(standing, Amount)
    batches = [
        _batch(pour, batch, script, state, weighed, amounts) for pour in plan.pours for batch in pour.batches
    ]
    peaks, pace = probe_peaks or {}, plan.learned_pace
    skipped, totals = _skipped(script, state), plan.totals
    return RunRecord(
        run_id=run_id,
        piece_id=piece_id,
        piece=script.piece,
        kind_of_work=script.kind_of_work,
        systems=sorted({one.system for one in batches}),
        begun_at=begun_at,
        ended_at=state.ended_at,
        how=state.ended,
        room_c=_room(standing, room_c),
        planned_kg=sum(one.planned_kg for one in batches),
        used_kg=_used_kg(batches),
        leftover_kg=_sum(amounts, "leftover_kg"),
        planned_hours_s=_value(totals.hands_on),
        hours_s=_last(amounts, "hours_s"),
        cost_minor=_value(totals.cost),
        **_rated(standing),
        batches=batches,
        pours=[_pour(pour, script, state, standing, peaks, pace) for pour in plan.pours],
        tests=_tests(script, state, standing) + _gates(plan, script, state, standing),
        amounts=amounts,
        **_told(state, standing),
        went_wrong=_went_wrong(state, standing),
        left_out=list(dict.fromkeys(step.title for step in skipped)),
        skipped=sorted({step.code for step in skipped}),
        events=len(kept),
    )


E = TypeVar("E")


def _events(standing: Sequence[Kept], kind: type[E]) -> list[E]:
    return [one.event for one in standing if isinstance(one.event, kind)]


def _rated(standing: Sequence[Kept]) -> dict[str, Any]:
    """Stars and words, the newest that were given."""
    rating = next(reversed(_events(standing, Rated)), None)
    return {"stars": rating.stars, "words": rating.text} if rating else {"stars": None, "words": ""}


def _told(state: RunState, standing: Sequence[Kept]) -> dict[str, Any]:
    return {
        "mishaps": [one.code for one in state.mishaps],
        "troubles": [one.code for one in _events(standing, Troubled)],
        "notes": [one.text for one in _events(standing, Noted)],
        "photos": [one.sha256 for one in _events(standing, Pictured)],
        "seen": [
            SeenRecord(at=one.at, **one.event.model_dump(exclude={"kind", "rings", "urgent"}))
            for one in standing
            if isinstance(one.event, Saw) and one.event.what not in OF_THE_CAMERA
        ],
    }


def _value(figure: Figure | None) -> float | None:
    return figure.value if figure else None


def _skipped(script: Script, state: RunState) -> list[ScriptStep]:
    marks = state.marks
    return [step for step in script.steps if step.id in marks and marks[step.id].status == "skipped"]


def _used_kg(batches: Sequence[BatchRecord]) -> float | None:
    """All that was weighed; None unless every batch stood on the scale."""
    weighed = [one.weighed_kg for one in batches if one.weighed_kg is not None]
    return sum(weighed) if batches and len(weighed) == len(batches) else None


def _last(amounts: Sequence[Amount], what: str) -> float | None:
    return next((one.value for one in reversed(amounts) if one.what == what), None)


def _went_wrong(state: RunState, standing: Sequence[Kept]) -> list[str]:
    words = {one.code: one.key for one in MISHAPS}
    troubles = {one.code: one.title for one in TROUBLES}
    said = [words.get(one.code, one.code) for one in state.mishaps]
    return list(
        dict.fromkeys(
            [
                *said,
                *(
                    troubles.get(one.event.code, one.event.code)
                    for one in standing
                    if one.event.kind == "trouble"
                ),
            ]
        )
    )


def _room(standing: Sequence[Kept], planned_c: float) -> float:
    """The mean of what was read of the room, else what the plan took it for."""
    read = [
        one.event.value for one in standing if isinstance(one.event, ReadOff) and one.event.what == "room_c"
    ]
    return sum(read) / len(read) if read else planned_c


def _batch(
    pour: PourPlan,
    batch: BatchPlan,
    script: Script,
    state: RunState,
    weighed: Sequence[Weighed],
    amounts: Sequence[Amount],
) -> BatchRecord:
    base = f"p{pour.number}/b{batch.number}"
    here = [one for one in amounts if one.of == base]
    rest = state.marks.get(f"{base}/rest")
    return BatchRecord(
        pour=pour.number,
        batch=batch.number,
        system_id=batch.system_id,
        system=batch.system_name,
        planned_kg=batch.mass.value,
        cup_m3=batch.mixed.value / batch.cup_fill.value if batch.cup_fill.value else None,
        scrape=script.scrape,
        stir_planned_s=batch.stir_s,
        stir_s=_lasted(state.marks.get(f"{base}/stir")),
        rest_planned_s=batch.rest_s,
        rested=None if rest is None else rest.status == "done",
        residue_kg=_sum(here, "residue_kg"),
        leftover_kg=_sum(here, "leftover_kg"),
        **(_on_the_scale(weighed, (pour.number, batch.number)) or _by_hand(script, state, f"{base}/weigh")),
    )


def _on_the_scale(weighed: Sequence[Weighed], place: tuple[int, int]) -> dict[str, Any]:
    """What the scale knows of the batch, the newest time that it stood there; empty where it never did."""
    tasks = [(task, events) for number, batch, task, events in weighed if (number, batch) == place]
    if not tasks:
        return {}
    sums = reduce(*tasks[-1])
    colours = [one for one in sums.steps if one.kind == "colourant" and one.taken_kg > 0]
    return {
        "weighed_kg": sums.total_kg or None,
        "ratio_off": sums.off,
        "lots": sorted({lot for step in sums.steps for lot in step.lots}),
        "colours": [ColourUsed(name=one.name, kg=one.taken_kg) for one in colours],
    }


def _by_hand(script: Script, state: RunState, id_: str) -> dict[str, Any]:
    """What was typed at the bench of a batch; the part that nobody typed as it was asked for."""
    said = state.weighed.get(id_)
    step = next((one for one in script.steps if one.id == id_), None)
    if not said or step is None:
        return {}
    total = sum(said.get(one.part, target_kg(step, state, one.part)) for one in step.parts)
    return {"weighed_kg": total, "ratio_off": ratio_off(step, state)}


def _lasted(mark: Mark | None) -> float | None:
    """From begin to end [s]; None where it was not timed to its end."""
    if mark is None or mark.status != "done" or not (mark.begun_at and mark.ended_at):
        return None
    return (mark.ended_at - mark.begun_at).total_seconds() or None


def _sum(amounts: Sequence[Amount], what: str) -> float | None:
    found = [one.value for one in amounts if one.what == what]
    return sum(found) if found else None


def _pour(
    pour: PourPlan,
    script: Script,
    state: RunState,
    standing: Sequence[Kept],
    probe_peaks: dict[int, float],
    learned: dict[str, float],
) -> PourRecord:
    deepest = max(pour.layers, key=lambda one: one.depth.value)
    heats = [one.heat for one in pour.layers if one.heat]
    ready = next((step for step in script.steps if step.id == f"p{pour.number}/ready"), None)
    late, early = _off(ready, state)
    hottest = max(heats, key=lambda one: one.peak.value, default=None)
    return PourRecord(
        pour=pour.number,
        called=pour.called,
        is_coat=pour.called.startswith("coat"),
        poured_at=poured_at(script, state, pour.number),
        planned_m3=pour.net.value,
        soak_m3=sum(one.volume.value for one in pour.allowances if one.code in ("soak", "runoff")),
        density_kg_m3=deepest.mass.value / deepest.volume.value,
        depth_m=deepest.depth.value,
        allowed_m=deepest.allowed.value,
        late_s=late,
        early_s=early,
        peak_predicted_c=hottest.peak.value if hottest else None,
        peak_wanted_c=hottest.wanted_c if hottest else None,
        peak_measured_c=_warmest(pour.number, standing, probe_peaks),
        pace=state.pace.get(str(pour.number)),
        foretold_pace=learned.get(deepest.system_id, 1.0),
    )


def _warmest(pour: int, standing: Sequence[Kept], probe_peaks: dict[int, float]) -> float | None:
    """Of what was read of the pour by hand or by a logger [degC]; readings that cannot be do not count."""
    read = [one for one in _events(standing, ReadOff) if one.pour == pour]
    values = [one.value for one in read if one.what in ("surface_c", "probe_c")]
    sound = [value for value in values if not is_absurd(value)]
    sound += [probe_peaks[pour]] if pour in probe_peaks else []
    return max(sound, default=None)


def _off(step: ScriptStep | None, state: RunState) -> tuple[float, float]:
    mark = state.marks.get(step.id) if step else None
    if step is None or mark is None or mark.status != "done" or mark.begun_at is None or step.anchor is None:
        return 0.0, 0.0
    opens, closes, _ = window_of(step, state)
    late = max((mark.begun_at - closes).total_seconds(), 0.0) if closes else 0.0
    return late, max((opens - mark.begun_at).total_seconds(), 0.0) if opens else 0.0


def _tests(script: Script, state: RunState, standing: Sequence[Kept]) -> list[TestRecord]:
    found = []
    for step in script.steps:
        if step.kind != "test" or step.pour is None:
            continue
        poured, mark = poured_at(script, state, step.pour), state.marks.get(step.id)
        if poured is None or mark is None:
            continue
        tried = [
            ((one.at - poured).total_seconds(), one.event.result)
            for one in standing
            if one.event.kind == "test" and one.event.step == step.id
        ]
        passed = next((at for at, result in tried if result == "passed"), None)
        found.append(
            TestRecord(
                step=step.id,
                code=step.code,
                title=step.title,
                pour=step.pour,
                expected_s=step.from_s,
                tried=tried,
                passed_s=passed,
                skipped=mark.status == "skipped",
                branch=_branch(step, mark),
                found=_found(step, standing),
            )
        )
    return found


def _branch(step: ScriptStep, mark: Mark) -> str:
    """Which way an inspection went; empty where it did not decide."""
    if not step.decides or mark.status != "done":
        return ""
    return "it was the flood" if mark.result == "passed" else "it was the seal: the coat was made again"


def _found(step: ScriptStep, standing: Sequence[Kept]) -> list[str]:
    """What was seen at a test, each once."""
    told = [one.event.found for one in standing if one.event.kind == "test" and one.event.step == step.id]
    return list(dict.fromkeys(what for found in told for what in found))


def _gates(plan: Plan, script: Script, state: RunState, standing: Sequence[Kept]) -> list[TestRecord]:
    """Tests of finishing, each with when the plan's windows expect it."""
    tried: dict[tuple[str, int], list[tuple[float, str]]] = {}
    for one in standing:
        poured = poured_at(script, state, one.event.pour) if isinstance(one.event, GateTested) else None
        if isinstance(one.event, GateTested) and poured is not None:
            tried.setdefault((one.event.gate, one.event.pour), []).append(
                ((one.at - poured).total_seconds(), one.event.result)
            )
    windows = {window.pour: window for window in plan.windows}
    return [
        TestRecord(
            step=f"p{pour}/{gate}",
            code=gate,
            title=GATES[gate].title,
            pour=pour,
            expected_s=expected,
            tried=found,
            skipped=False,
            passed_s=next((at for at, result in found if result == "passed"), None),
        )
        for (gate, pour), found in tried.items()
        if gate in GATES
        and pour in windows
        and (expected := expected_after(GATES[gate], windows[pour])) is not None
    ]
