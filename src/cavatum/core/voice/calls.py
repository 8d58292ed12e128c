"""What there is to tell of: the alarms of a run, and the moments of a plan that nobody has begun. Rules 6.2
and 7.1.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final, Literal, get_args

from ..common.working import Data
from ..pour.script_model import Kind, Script
from ..pour.state import RunState
from ..pour.view import Alarm, RunView, StepView
from ..schedule.bench import Moment
from .listeners import Urgency

CallKind = Literal["pouring", "rounds", "tests", "finishing", "seen", "starts"]
CALL_KINDS: Final[tuple[CallKind, ...]] = get_args(CallKind)
OF_STEP: dict[Kind, CallKind] = {
    "prepare": "pouring",
    "ready": "pouring",
    "weigh": "pouring",
    "stir": "pouring",
    "rest": "pouring",
    "part": "pouring",
    "pour": "pouring",
    "defoam": "rounds",
    "watch": "rounds",
    "test": "tests",
    "form": "finishing",
    "sand": "finishing",
    "finish": "finishing",
}
NO_END = timedelta(hours=12)  # own judgement: nobody is called to what stood open for half a day
SEEN_FOR = timedelta(hours=1)  # own judgement: what a camera saw is worth telling
MOVED = timedelta(minutes=10)  # own judgement: what moves by more is told anew


class Called(Data):
    """A moment as it stands now.

    key    stays while it moves; alarm: of the run, to say that it was heard
    at     when hands are wanted; latest: until when telling is of use
    """

    key: str
    alarm: str = ""
    kind: CallKind
    urgency: Urgency
    title: str
    text: str
    at: datetime
    latest: datetime


def of_run(run_id: int, script: Script, state: RunState, view: RunView) -> list[Called]:
    """Of each alarm that is set and that nobody has heard. Raises nothing. Exact. Source: rule 7.1."""
    urgent = {one.event_id for one in state.saw if one.urgent}
    steps = {one.id: one for one in script.steps}
    seen = {one.id: one for one in view.steps}
    found = []
    for alarm in view.alarms:
        step = steps.get(alarm.step)
        if step is None:
            found.append(_seen(run_id, script, alarm, alarm.id.removeprefix("saw/") in urgent))
            continue
        name = alarm.id.rpartition("/")[2]
        if not name.startswith("later"):  # what somebody put off is a moment of its own each time
            name = name.partition("-")[0]
        found.append(
            Called(
                key=f"run/{run_id}/{step.id}/{name}",
                alarm=alarm.id,
                kind=OF_STEP[step.kind],
                urgency="at once" if name == "closes" else "in its window",
                title=alarm.words,
                text=f"{script.piece}. {step.text}",
                at=alarm.at,
                latest=_latest(alarm.at, seen[step.id]),
            )
        )
    return found


def _seen(run_id: int, script: Script, alarm: Alarm, urgent: bool) -> Called:
    seen, _, todo = alarm.words.rpartition(": ")  # a phone shows little of a long title
    return Called(
        key=f"run/{run_id}/{alarm.id}",
        alarm=alarm.id,
        kind="seen",
        urgency="at once" if urgent else "in its window",
        title=seen or alarm.words,
        text=f"{todo[:1].upper()}{todo[1:]}. {script.piece}, seen by its camera.",
        at=alarm.at,
        latest=alarm.at + SEEN_FOR,
    )


def _latest(at: datetime, seen: StepView) -> datetime:
    closes = seen.closes_at
    return closes if closes is not None and closes > at else at + NO_END


def of_plan(piece_id: int, piece: str, moments: Sequence[Moment]) -> list[Called]:
    """Of the moments of a plan with a set start whose piece is not being poured. Raises nothing. Exact.
    Source: rule 6.2.
    """
    return [
        Called(
            key=f"piece/{piece_id}/{one.label}",
            kind="starts" if one.label.startswith("mix") else "finishing",
            urgency="in its window",
            title=f"{one.label[:1].upper()}{one.label[1:]}",
            text=f"{piece}. {one.detail}".strip(),
            at=one.at,
            latest=one.until if one.until is not None and one.until > one.at else one.at + NO_END,
        )
        for one in moments
    ]


def has_moved(first_at: datetime, at: datetime) -> bool:
    """By so much that it is another moment. Raises nothing. Exact. Source: own judgement."""
    return abs(at - first_at) > MOVED
