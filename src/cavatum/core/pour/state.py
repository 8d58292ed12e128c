"""What a log of events makes of a script: the pure fold; how that stands at a moment is in view.py. Rules
7.1,
7.2, 7.5.

The same fold is kept in web/src/domain/run.ts, so that a phone out of reach goes on by itself; the examples
in tests/examples/runs.json
are read by both. No rule of the trade is in it: windows, waits and words come with the script.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Any, Literal

from ..common.working import Data
from .events import Kept
from .script_model import Script, ScriptStep

StepStatus = Literal["to do", "done", "skipped"]


class Mark(Data):
    """What became of one step. again_at: after a test that was not passed. repeats: said again although it
    was done.
    """

    status: StepStatus = "to do"
    begun_at: datetime | None = None
    ended_at: datetime | None = None
    result: str = ""
    again_at: datetime | None = None
    later_at: datetime | None = None
    who: str = ""
    repeats: int = 0
    event_id: str = ""


class OpenMishap(Data):
    event_id: str
    code: str
    at: datetime
    over_at: datetime | None = None


class CupRead(Data):
    at: datetime
    celsius: float


class SawMark(Data):
    event_id: str
    words: str
    at: datetime
    urgent: bool


class RunState(Data):
    """marks: by step. pace: by pour, how many times as long as predicted the cure takes by its temperatures.
    slow: at least so many by its tests. weighed: by step and part, what was typed [kg]. cup: by step of
    stirring, the newest reading of its cup (when, degC). saw: by a camera. attached: the pour the probe
    lies in.
    """

    marks: dict[str, Mark]
    mishaps: list[OpenMishap] = []
    heard: list[str] = []
    pace: dict[str, float] = {}
    slow: dict[str, float] = {}
    weighed: dict[str, dict[str, float]] = {}
    cup: dict[str, CupRead] = {}
    saw: list[SawMark] = []
    attached: int | None = None
    ended: Literal["", "finished", "given up"] = ""
    ended_at: datetime | None = None
    undone: list[str] = []
    events: int = 0


OF_TWO = 2
LEAST_WAIT_S = 1800  # own judgement: a test repeated sooner tells nothing new


def fold(script: Script, events: Sequence[Kept]) -> RunState:
    """The state after these events in their order. What an undo names counts as if it had never been said; it
    stays in the log.
    """
    known = {step.id: step for step in script.steps}
    undone = {str(one.event.event_id) for one in events if one.event.kind == "undo"}
    state: dict[str, Any] = {
        "marks": {},
        "mishaps": {},
        "heard": [],
        "pace": {},
        "slow": {},
        "weighed": {},
        "cup": {},
        "saw": [],
        "attached": None,
        "ended": "",
        "ended_at": None,
    }
    for one in events:
        if str(one.event_id) not in undone:
            _apply(state, known, one)
            _judge(state, known, script, one)
    return RunState(
        marks=state["marks"],
        mishaps=list(state["mishaps"].values()),
        heard=state["heard"],
        pace=state["pace"],
        slow=state["slow"],
        weighed=state["weighed"],
        cup=state["cup"],
        saw=state["saw"],
        attached=state["attached"],
        ended=state["ended"],
        ended_at=state["ended_at"],
        undone=sorted(undone),
        events=len(events),
    )


TURNS = frozenset({"attach", "end", "undo"})


def may_turn(kinds: Iterable[str]) -> bool:
    """Whether words of these kinds can change where the probe lies or whether the run is over; no other kind
    does (see _apply).
    """
    return not TURNS.isdisjoint(kinds)


def _end_mishap(mishaps: dict[str, OpenMishap], event_id: str, at: datetime) -> None:
    found = mishaps.get(event_id)
    if found and found.over_at is None:
        mishaps[event_id] = found.model_copy(update={"over_at": at})


def _apply(state: dict[str, Any], known: dict[str, ScriptStep], one: Kept) -> None:
    event = one.event
    if event.kind in ("begin", "done", "skip", "test", "later"):
        if event.step in known:
            _mark(state["marks"].setdefault(event.step, dict(_FRESH)), known[event.step], one)
    elif event.kind in ("weighed", "reading"):
        _measured(state, one)
    elif event.kind in ("heard", "saw"):
        _told(state, one)
    elif event.kind == "mishap":
        state["mishaps"][str(one.event_id)] = OpenMishap(
            event_id=str(one.event_id), code=event.code, at=one.at
        )
    elif event.kind == "mishap-over":
        _end_mishap(state["mishaps"], str(event.event_id), one.at)
    elif event.kind == "pace":
        state["pace"][str(event.pour)] = event.times
    elif event.kind == "attach":
        state["attached"] = event.pour
    elif event.kind == "end" and not state["ended"]:
        state["ended"], state["ended_at"] = event.how, one.at


def _told(state: dict[str, Any], one: Kept) -> None:
    """What rings, and what was heard of it."""
    event = one.event
    if event.kind == "saw" and event.rings:
        mark = SawMark(event_id=str(one.event_id), words=event.words, at=one.at, urgent=event.urgent)
        state["saw"].append(mark)
    elif event.kind == "heard" and event.alarm not in state["heard"]:
        state["heard"].append(event.alarm)


def _measured(state: dict[str, Any], one: Kept) -> None:
    """What was weighed by hand, and how warm a cup is: the newest word counts."""
    event = one.event
    if event.kind == "weighed":
        state["weighed"].setdefault(event.step, {})[event.part] = event.kg
    elif event.kind == "reading" and event.what == "cup_c" and event.step:
        state["cup"][event.step] = CupRead(at=one.at, celsius=event.value)


_FRESH = Mark().model_dump()


def _mark(mark: dict[str, Any], step: ScriptStep, one: Kept) -> None:
    """A step that is over stays so: the first word counts, the others are numbered."""
    event = one.event
    if mark["status"] != "to do":
        _repeat(mark, step, one)
    elif event.kind == "begin":
        if mark["begun_at"] is None:
            mark |= {"begun_at": one.at, "who": one.who, "event_id": str(one.event_id), "later_at": None}
    elif event.kind == "later":
        mark["later_at"] = one.at + timedelta(seconds=event.seconds)
    elif _is_due_again(step, event):
        again = one.at + timedelta(seconds=whole(step.again_s or 0.0))
        mark |= {
            "result": getattr(event, "result", ""),
            "again_at": again,
            "begun_at": mark["begun_at"] or one.at,
            "later_at": None,
        }
    else:
        mark |= {
            "status": "skipped" if event.kind == "skip" else "done",
            "result": event.result if event.kind == "test" else mark["result"],
            "begun_at": mark["begun_at"] or one.at,
            "ended_at": one.at,
            "who": one.who,
            "event_id": str(one.event_id),
            "later_at": None,
            "again_at": None,
        }


def _repeat(mark: dict[str, Any], step: ScriptStep, one: Kept) -> None:
    mark["repeats"] += 1
    if mark["status"] == "done" and one.event.kind == "done" and step.most_s is not None:
        mark["ended_at"] = one.at  # wiped again, warmed again: the last time counts


def _judge(state: dict[str, Any], known: dict[str, ScriptStep], script: Script, one: Kept) -> None:
    """What a test tells of the cure of its pour: not passed, it takes at least as long as until the next
    is worth
    making; passed after that, no longer than it took.
    """
    step = known.get(getattr(one.event, "step", ""))
    if (
        one.event.kind != "test"
        or step is None
        or not script.again
        or step.anchor is None
        or step.from_s <= 0
    ):
        return
    mark, anchor = state["marks"][step.id], state["marks"].get(step.anchor)
    if anchor is None or anchor["ended_at"] is None:
        return
    pour = _pour_of(step.anchor)
    ratio = max((one.at - anchor["ended_at"]).total_seconds(), 0.0) / step.from_s
    if mark["status"] == "to do":
        times = _next_times(script.again, ratio)
        wait = max(whole(step.from_s * times), whole(step.from_s * ratio) + LEAST_WAIT_S)
        mark["again_at"] = _when_here(script, anchor["ended_at"] + timedelta(seconds=wait), step.hands_s)
        state["slow"][pour] = max(state["slow"].get(pour, 1.0), times)
    elif mark["result"] == "passed" and pour in state["slow"]:
        state["slow"][pour] = max(1.0, min(state["slow"][pour], ratio))


def _next_times(table: Sequence[tuple[float, float]], ratio: float) -> float:
    """Between the table's points straight; past its ends its last step goes on."""
    if ratio <= table[0][0]:
        return table[0][1]
    for (low, first), (high, then) in pairwise(table):
        if ratio <= high:
            return first + (then - first) * (ratio - low) / (high - low)
    return ratio * table[-1][1] / table[-1][0]


def _when_here(script: Script, at: datetime, hands_s: float) -> datetime:
    """The first moment from `at` on when somebody is there long enough; `at` itself past what the script
    knows."""
    for begin, end in script.here:
        start = max(begin, at)
        if (end - start).total_seconds() >= hands_s:
            return start
    return at


def _is_due_again(step: ScriptStep, event: Any) -> bool:
    """A test that was not passed; an inspection that decides is over then."""
    if event.kind != "test" or event.result == "passed":
        return False
    return not (step.decides and event.result == "not passed")


def is_elsewhere(step: ScriptStep, state: RunState) -> bool:
    """Whether a step belongs to a branch that was not taken, or only to the other one."""
    return (step.branch is not None and not _failed(state, step.branch)) or (
        step.unless is not None and _failed(state, step.unless)
    )


def _failed(state: RunState, decider: str) -> bool:
    mark = state.marks.get(decider)
    return mark is not None and mark.status == "done" and mark.result == "not passed"


def poured_at(script: Script, state: RunState, pour: int) -> datetime | None:
    """When the last batch of a pour was poured, as the record has it."""
    last = [
        step.id
        for step in script.steps
        if step.pour == pour and step.kind == "pour" and step.batch is not None
    ]
    mark = state.marks.get(last[-1]) if last else None
    return mark.ended_at if mark and mark.status == "done" else None


def window_of(step: ScriptStep, state: RunState) -> tuple[datetime | None, datetime | None, bool]:
    """Opens, closes, and whether it is settled: the anchor was really done (or there is none). A skipped
    anchor leaves the plan's own moments.
    """
    if step.anchor is None:
        return step.planned_at, step.planned_to, True
    anchor = state.marks.get(step.anchor)
    at = None if anchor is None else anchor.begun_at if step.on == "begun" else anchor.ended_at
    if anchor is not None and anchor.status == "skipped":
        return step.planned_at, step.planned_to, True
    if at is None or (step.on == "done" and anchor is not None and anchor.status != "done"):
        return step.planned_at, step.planned_to, False
    pace = pace_of_pour(state, _pour_of(step.anchor)) if step.with_cure else 1.0
    opens = at + timedelta(seconds=whole(step.from_s * pace))
    closes = None if step.to_s is None else at + timedelta(seconds=whole(step.to_s * pace))
    return _by_its_gate(step, state, opens), closes, True


def target_kg(step: ScriptStep, state: RunState, part: str) -> float:
    """What a part of this batch should be [kg]: by the plan, or as the other one came out asks for it."""
    said = state.weighed.get(step.id, {})
    own = next(one for one in step.parts if one.part == part)
    other = next(one for one in step.parts if one.part != part)
    if other.part not in said or (part in said and step.parts[0].part == part):
        return own.target_kg
    grid = step.step_kg or 1e-4
    return math.floor(said[other.part] * own.per_other / grid + 0.5) * grid


def ratio_off(step: ScriptStep, state: RunState) -> float | None:
    """By how much what was typed of both parts is off their ratio, as a share; None while one is not
    typed."""
    said = state.weighed.get(step.id, {})
    if len(step.parts) != OF_TWO or any(one.part not in said for one in step.parts):
        return None
    first, second = step.parts
    return said[second.part] / (said[first.part] * second.per_other) - 1


def pace_of_pour(state: RunState, pour: str) -> float:
    """How many times as long its cure takes: by its temperatures, and at least what its tests tell."""
    return max(state.pace.get(pour, 1.0), state.slow.get(pour, 0.0))


def _by_its_gate(step: ScriptStep, state: RunState, opens: datetime) -> datetime:
    """A test that was passed early opens early; one that was not passed keeps it shut until the next."""
    mark = state.marks.get(step.gate) if step.gate else None
    lag = timedelta(seconds=whole(step.gate_lag_s))
    if mark is None:
        return opens
    if mark.status == "done" and mark.result == "passed" and mark.ended_at is not None:
        return min(opens, mark.ended_at + lag)
    return opens if mark.again_at is None else max(opens, mark.again_at + lag)


def whole(seconds: float) -> int:
    """To the second, halves up, as the browser does it too."""
    return math.floor(seconds + 0.5)


def _pour_of(step_id: str) -> str:
    """ "2" of "p2/b1/pour"."""
    return step_id.split("/")[0][1:]
