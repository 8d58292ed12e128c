"""When the rest of a run falls into people's hours, in an order that can be done: for calendars. Rules
6.2, 7.1.

Windows say from when a thing may be done; an agenda says when somebody would do it. What is mixed is one
piece of
work: weighed right before it is stirred, stirred right before it is poured.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..clock.hours import next_slot
from ..common.workshop import Workshop
from .script_model import Script, ScriptStep
from .view import RunView, StepView

IN_ONE_GO = ("ready", "weigh", "stir", "rest", "part", "pour")  # kinds of work between which nobody goes home


@dataclass(frozen=True, kw_only=True)
class Due:
    """A step that is still to be done, from when to when hands are on it."""

    step: ScriptStep
    from_at: datetime
    to_at: datetime


@dataclass
class _Hand:
    workshop: Workshop
    now: datetime
    ends: dict[str, tuple[datetime, datetime]]

    def put(self, step: ScriptStep, at: datetime) -> Due:
        end = at + timedelta(seconds=step.hands_s)
        self.ends[step.id] = at, max(end, at + timedelta(seconds=step.timer_s or 0.0))
        return Due(step=step, from_at=at, to_at=end)

    def opens(self, step: ScriptStep, seen: StepView) -> tuple[datetime, datetime | None]:
        """The step's window, counted from where what it waits for is laid here."""
        begun = self.ends.get(step.anchor or "")
        if begun is None:
            return max(seen.opens_at or step.planned_at, self.now), seen.closes_at
        from_ = begun[0] if step.on == "begun" else begun[1]
        closes = None if step.to_s is None else from_ + timedelta(seconds=step.to_s)
        return max(from_ + timedelta(seconds=step.from_s), self.now), closes

    def free(self, at: datetime, seconds: float, to: datetime | None = None) -> datetime:
        """The first moment from `at` on at which somebody is there so long; `at` itself where nobody is in
        time:
        a window does not wait for people.
        """
        latest = None if to is None else max(to, at)
        return next_slot(self.workshop, at, timedelta(seconds=seconds), latest) or at


def agenda(script: Script, view: RunView, workshop: Workshop, now: datetime) -> list[Due]:
    """Every step that is still to come and wants hands, in the order it can be done.

    view  of the run at `now` (look)
    A mixing that has not begun starts where all of it, from the first weighing to the last pour, fits into
    one
    stretch of people's hours; one that has begun goes on at once. Everything else comes in its window when
    somebody is there, or at its opening where nobody is before it closes.
    Raises nothing. Valid for the windows as they stand now. Source: own, rules 6.2 and 7.1.
    """
    seen = {one.id: one for one in view.steps}
    gone = ("done", "skipped", "over", "elsewhere")
    hand, found = _Hand(workshop, now, {}), list[Due]()
    left = [step for step in script.steps if seen[step.id].when not in gone]
    place = 0
    while place < len(left):
        group = _in_one_go(left, place)
        if len(group) > 1 or group[0].kind in IN_ONE_GO:
            found += _mixed(group, script, seen, hand)
        else:
            step = group[0]
            at, to = hand.opens(step, seen[step.id])
            found.append(hand.put(step, hand.free(at, step.hands_s, to)))
        place += len(group)
    return sorted((one for one in found if one.step.hands_s > 0), key=lambda one: one.from_at)


def _in_one_go(left: Sequence[ScriptStep], place: int) -> list[ScriptStep]:
    """This step, and those after it that belong to the same mixing."""
    first = left[place]
    end = place + 1
    if first.kind in IN_ONE_GO:
        while end < len(left) and left[end].kind in IN_ONE_GO and left[end].pour == first.pour:
            end += 1
    return list(left[place:end])


def _mixed(group: Sequence[ScriptStep], script: Script, seen: dict[str, StepView], hand: _Hand) -> list[Due]:
    first = group[0]
    begun = any(
        one.pour == first.pour and one.kind in ("stir", "rest", "part") and seen[one.id].when == "done"
        for one in script.steps
    )
    at, closes = hand.opens(first, seen[first.id])
    if not begun:
        long = sum(max(one.hands_s, one.timer_s or 0.0) for one in group)
        at = hand.free(at, long, closes)
    found = []
    for step in group:
        at = max(at, hand.now)
        found.append(hand.put(step, at))
        at = hand.ends[step.id][1]
    return found
