"""How every step of a run stands at a moment, what is to be done now, and which alarms are set. Rules 7.1,
7.2.

The same is kept in web/src/domain/run.ts, as state.py is.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Literal

from ..common.working import Data
from .script_model import Script, ScriptStep
from .state import Mark, RunState, is_elsewhere, whole, window_of

When = Literal["waits", "early", "open", "late", "over", "done", "skipped", "elsewhere"]
CLOSING_S = 120.0  # own judgement: a warning before a cup has to be poured


class StepView(Data):
    """One step at a moment. elsewhere: of a branch that was not taken. early: not open yet; over: its
    window closed and nothing is left to do; late:
    past due, or past its window.
    """

    id: str
    when: When
    opens_at: datetime | None
    closes_at: datetime | None
    timer_ends_at: datetime | None


class Alarm(Data):
    """at: when it sounds; is_past: it should have sounded by now and nobody heard it. step: empty where a
    camera saw something.
    """

    id: str
    step: str
    at: datetime
    words: str
    is_past: bool


class RunView(Data):
    current: str | None
    steps: list[StepView]
    alarms: list[Alarm]


def look(script: Script, state: RunState, now: datetime) -> RunView:
    """How every step stands at a moment, what is to be done now, and which alarms are set."""
    views = [_view(step, state, now) for step in script.steps]
    current = None if state.ended else _current(script, views)
    alarms = (
        []
        if state.ended
        else [
            alarm
            for step, view in zip(script.steps, views, strict=True)
            for alarm in _alarms(step, view, state, now)
        ]
        + _saw(state, now)
    )
    return RunView(current=current, steps=views, alarms=sorted(alarms, key=lambda one: (one.at, one.id)))


def _current(script: Script, views: Sequence[StepView]) -> str | None:
    """What hands can do now, in order; else what only has to be known; else what comes first."""
    pairs = list(zip(script.steps, views, strict=True))
    hands = next(
        (view.id for step, view in pairs if view.when in ("open", "late") and step.hands_s > 0), None
    )
    known = next((view.id for step, view in pairs if view.when in ("open", "late")), None)
    early = min(
        (
            (view.opens_at, place, view.id)
            for place, view in enumerate(views)
            if view.when == "early" and view.opens_at
        ),
        default=None,
    )
    return hands or known or (early[2] if early else None)


def _view(step: ScriptStep, state: RunState, now: datetime) -> StepView:
    mark = state.marks.get(step.id, Mark())
    opens, closes, settled = window_of(step, state)
    if mark.again_at is not None:
        opens = mark.again_at
        closes = None if closes is None else max(closes, opens)
    timer = (
        mark.begun_at + timedelta(seconds=step.timer_s)
        if step.timer_s and mark.begun_at and mark.status == "to do"
        else None
    )
    over = _gone_by(step, mark, state, now)
    if over is not None:
        return StepView(id=step.id, when="late", opens_at=mark.ended_at, closes_at=over, timer_ends_at=None)
    waited = _waited(step, state)
    if waited is not None and waited > now and mark.status == "to do":
        return StepView(id=step.id, when="early", opens_at=waited, closes_at=closes, timer_ends_at=None)
    if is_elsewhere(step, state):
        return StepView(id=step.id, when="elsewhere", opens_at=opens, closes_at=closes, timer_ends_at=None)
    return StepView(
        id=step.id,
        when=_when(step, mark, opens, closes, settled, now),
        opens_at=opens,
        closes_at=closes,
        timer_ends_at=timer,
    )


def _gone_by(step: ScriptStep, mark: Mark, state: RunState, now: datetime) -> datetime | None:
    """When what was prepared would have had to be mixed on; None while that holds, or once it was stirred."""
    if step.most_s is None or step.kind != "prepare" or mark.status != "done" or mark.ended_at is None:
        return None
    if any(one.begun_at for id_, one in state.marks.items() if id_.startswith("p1/") and "/stir" in id_):
        return None
    over = mark.ended_at + timedelta(seconds=whole(step.most_s))
    return over if now > over else None


def _waited(step: ScriptStep, state: RunState) -> datetime | None:
    """From when the first mixing may begin, after the waits of what was prepared."""
    found = [
        mark.ended_at + timedelta(seconds=whole(wait))
        for id_, wait in step.waits
        if (mark := state.marks.get(id_)) and mark.status == "done" and mark.ended_at
    ]
    return max(found, default=None)


def _when(
    step: ScriptStep,
    mark: Mark,
    opens: datetime | None,
    closes: datetime | None,
    settled: bool,
    now: datetime,
) -> When:
    if mark.status == "done":
        return "done"
    if mark.status == "skipped":
        return "skipped"
    if not settled:
        return "waits"
    if step.passes and closes is not None and now > closes:
        return "over"
    if closes is not None and now > closes:
        return "late"
    return "early" if opens is not None and now < opens and step.anchor is not None else "open"


def _cup_due(step: ScriptStep, state: RunState) -> list[tuple[str, datetime, str]]:
    """When the batch in its cup is as warm as its sheet wants it: by the model, from the newest reading
    on."""
    stir = state.marks.get(step.anchor or "")
    if step.cup is None or stir is None or stir.begun_at is None:
        return []
    found = []
    for name, celsius, words in (
        ("split", step.cup.split_c, "part the colours now"),
        ("warm", step.cup.pour_c, "it is warm enough: pour"),
    ):
        at = None if celsius is None else _warm_at(step, state, stir.begun_at, celsius)
        if at is not None:
            found.append((name, at, f"{step.title}: {words}"))
    return found


def _warm_at(step: ScriptStep, state: RunState, begun: datetime, celsius: float) -> datetime | None:
    """When the cup reads so warm; what was read moves the model's curve in time. None: never, by the
    model."""
    assert step.cup is not None
    wanted = _first_at(step.cup.curve, celsius)
    if wanted is None:
        return None
    read = state.cup.get(step.id)
    if read is None:
        return begun + timedelta(seconds=whole(wanted))
    if read.celsius >= celsius:
        return read.at
    model = _first_at(step.cup.curve, read.celsius)
    return read.at + timedelta(seconds=whole(max(wanted - (model or 0.0), 0.0)))


def _first_at(curve: Sequence[tuple[float, float]], celsius: float) -> float | None:
    """When a curve first reaches a temperature [s]."""
    if curve and curve[0][1] >= celsius:
        return curve[0][0]
    for (at, low), (then, high) in pairwise(curve):
        if low < celsius <= high:
            return at + (then - at) * (celsius - low) / (high - low)
    return None


def _rings_at_opening(step: ScriptStep) -> bool:
    return bool(step.rings and step.anchor and step.hands_s > 0 and step.from_s > 0)


def _saw(state: RunState, now: datetime) -> list[Alarm]:
    """What a camera saw rings at once, until somebody heard it."""
    return [
        Alarm(id=f"saw/{one.event_id}", step="", at=one.at, words=one.words, is_past=one.at <= now)
        for one in state.saw
        if f"saw/{one.event_id}" not in state.heard
    ]


def _alarms(step: ScriptStep, view: StepView, state: RunState, now: datetime) -> list[Alarm]:
    """Set where something has to be done by somebody: a timer's end, a window's opening, a cup that has to be
    poured, a reminder put off.
    """
    if view.when in ("done", "skipped", "waits", "over", "elsewhere"):
        return []
    mark = state.marks.get(step.id, Mark())
    found = _cup_due(step, state)
    if view.timer_ends_at:
        found.append(("timer", view.timer_ends_at, f"{step.title}: time is up"))
    elif mark.later_at:
        found.append((f"later-{int(mark.later_at.timestamp())}", mark.later_at, step.title))
    elif view.opens_at and _rings_at_opening(step):
        found.append((f"opens-{int(view.opens_at.timestamp())}", view.opens_at, step.title))
    if step.kind == "pour" and view.closes_at:
        found.append(
            (
                "closes",
                view.closes_at - timedelta(seconds=CLOSING_S),
                f"{step.title}: the cup has to be empty in 2 min",
            )
        )
    return [
        Alarm(id=f"{step.id}/{name}", step=step.id, at=at, words=words, is_past=at <= now)
        for name, at, words in found
        if f"{step.id}/{name}" not in state.heard
    ]
