"""What is done before the first mixing, laid into people's hours: backwards from a mix, or forwards from now.
Waits go on beside each other where nothing hinders; hands do one thing at a time. Rules 1.1 to 1.8, 6.1.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..survey.preparation import PrepStep
from .hours import last_slot, next_slot
from .model import ClockStep

LOOK_BACK = timedelta(days=30)
NEAR = timedelta(days=3)
Span = tuple[datetime, datetime]


@dataclass(frozen=True, kw_only=True)
class Tight:
    """A step that may not be done long before mixing: its begin in seconds before the mix, negative."""

    code: str
    from_s: float
    to_s: float
    hands_s: float


def tight_steps(prep: Sequence[PrepStep]) -> dict[str, Tight]:
    """The open steps whose wait has a most, each in its own span before the mix.

        from = -most - hands,  to = -least - hands, before what comes after it where hands would be wanted
        twice

    Raises nothing. Exact for one pair of hands. Source: the waits of practice/preparing.py.
    """
    found: dict[str, Tight] = {}
    for step in reversed(_open(prep)):
        if step.wait_to_s is None:
            continue
        to_s = -step.wait_from_s - step.hands_s
        for other in sorted(found.values(), key=lambda one: -one.to_s):
            if to_s < other.to_s + other.hands_s and other.to_s < to_s + step.hands_s:
                to_s = other.to_s - step.hands_s
        found[step.code] = Tight(
            code=step.code, from_s=-step.wait_to_s - step.hands_s, to_s=to_s, hands_s=step.hands_s
        )
    return found


def steps_before(prep: Sequence[PrepStep], mix_at: datetime, workshop: Workshop) -> list[ClockStep]:
    """Backwards from mixing: each as late as its wait, what it holds and people's hours let it. at None:
    nobody is there in its span.
    """
    tight, begins, taken, found = tight_steps(prep), dict[str, datetime](), list[Span](), list[ClockStep]()
    for step in reversed(_open(prep)):
        hands = timedelta(seconds=step.hands_s)
        dry = _over_at(step, workshop)
        if dry is not None:
            found.append(_step(step, dry, dry, dry))
            continue
        held = [begins[code] for code in step.holds if code in begins]
        latest = min([mix_at, *held]) - timedelta(seconds=step.wait_from_s) - hands
        earliest = None
        if step.code in tight:
            earliest = mix_at + timedelta(seconds=tight[step.code].from_s)
            latest = min(latest, mix_at + timedelta(seconds=tight[step.code].to_s))
        at = _latest_free(workshop, latest, hands, earliest, [] if step.code in tight else taken)
        if at is not None and hands:
            taken.append((at, at + hands))
        begins[step.code] = at or latest
        found.append(_step(step, earliest or at or latest, latest, at))
    return found


def _latest_free(
    workshop: Workshop, latest: datetime, hands: timedelta, earliest: datetime | None, taken: Sequence[Span]
) -> datetime | None:
    """The latest begin in people's hours at which the hands are free of what comes later."""
    if not hands:
        return latest
    while True:
        at = _latest_slot(workshop, latest, hands, earliest)
        over = [] if at is None else [begin for begin, end in taken if begin < at + hands and at < end]
        if not over:
            return at
        latest = min(over) - hands


def _latest_slot(
    workshop: Workshop, latest: datetime, hands: timedelta, earliest: datetime | None
) -> datetime | None:
    if earliest is not None:
        return last_slot(workshop, latest, hands, earliest)
    near = last_slot(workshop, latest, hands, latest - NEAR)
    return near or last_slot(workshop, latest, hands, latest - LOOK_BACK)


def prepared_from(prep: Sequence[PrepStep], now: datetime, workshop: Workshop) -> datetime:
    """The earliest mixing: every open step in people's hours as soon as what holds it is over, one pair of
    hands for all.
    """
    over, taken, ready = dict[str, datetime](), list[Span](), now
    steps = _open(prep)
    for step in steps:
        hands = timedelta(seconds=step.hands_s)
        end = _over_at(step, workshop)
        if end is None:
            begin = max(
                [now, *(over[one.code] for one in steps if step.code in one.holds and one.code in over)]
            )
            begin = _earliest_free(workshop, begin, hands, taken)
            taken.append((begin, begin + hands))
            end = begin + hands + timedelta(seconds=step.wait_from_s)
        over[step.code] = end
        ready = max(ready, end)
    return ready


def _earliest_free(workshop: Workshop, begin: datetime, hands: timedelta, taken: Sequence[Span]) -> datetime:
    if not hands:
        return begin
    while True:
        at = next_slot(workshop, begin, hands) or begin
        over = [end for start, end in taken if start < at + hands and at < end]
        if not over:
            return at
        begin = max(over)


def steps_by_themselves(prep: Sequence[PrepStep], now: datetime, workshop: Workshop) -> list[ClockStep]:
    """Where nothing is poured (a way back that takes no resin): the open steps forward from now, each in
    people's hours and after the wait of the last.
    """
    found, cursor = [], now
    for step in (one for one in _open(prep) if one.rule == "10"):
        slot = next_slot(workshop, cursor, timedelta(seconds=step.hands_s))
        found.append(_step(step, cursor, None, slot))
        cursor = (slot or cursor) + timedelta(seconds=step.hands_s + step.wait_from_s)
    return found


def late_verdicts(
    steps: Sequence[ClockStep], chosen: datetime | None, now: datetime, wording: Wording
) -> list[Verdict]:
    """A chosen start that leaves no time for what has to be done before it."""
    if chosen is None or chosen < now:
        return []
    said = next((words for one in steps if (words := _late(one, chosen, now, wording))), "")
    if not said:
        return []
    return [
        Verdict(
            weight="warning",
            stage="clock",
            code="prepare-late",
            rule="6.1",
            title="Start is too soon: preparation cannot be finished",
            text=said,
            todo="Set a later start, or tick what is done already in Survey.",
            where="/first_pour_at",
        )
    ]


def _late(step: ClockStep, chosen: datetime, now: datetime, wording: Wording) -> str:
    """What is late of a step of preparation; nothing where there is time for it."""
    if step.kind != "prepare" or step.latest is None:
        return ""
    begin = step.at or step.latest
    if step.latest > chosen:
        return f"{step.title}: over {wording.moment(step.latest)}, after a start {wording.moment(chosen)}."
    if begin >= now:
        return ""
    return (
        f"{step.title}: it would have had to begin by {wording.moment(begin)} for a start "
        f"{wording.moment(chosen)}."
    )


def _open(prep: Sequence[PrepStep]) -> list[PrepStep]:
    return [one for one in prep if not one.is_done]


def _over_at(step: PrepStep, workshop: Workshop) -> datetime | None:
    """When a wait that goes on by itself since a known day is over."""
    if step.over_on is None:
        return None
    return datetime.combine(step.over_on, time(), ZoneInfo(workshop.zone)).astimezone(ZoneInfo("UTC"))


def _step(step: PrepStep, earliest: datetime, latest: datetime | None, at: datetime | None) -> ClockStep:
    return ClockStep(
        code=step.code,
        kind="prepare",
        title=step.title,
        text=step.text,
        why=step.why,
        rule=step.rule,
        pour=None,
        earliest=earliest,
        latest=latest,
        at=at,
        hands_s=step.hands_s,
        tools="",
        waits_s=(step.wait_from_s, step.wait_to_s),
        holds=step.holds,
    )
