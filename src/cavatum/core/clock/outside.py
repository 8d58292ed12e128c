"""What nobody is there for, and the ways out: start by, start next, somebody else, what may be left. Rule
6.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from .hours import is_attended
from .model import ClockStep
from .starts import Job, best_start, latest_of_the_day
from .windows import START_STEP, Days, PourTimes, whole_half_hour

SHOWN = 4


def outside_verdicts(
    pours: Sequence[Pour], days: Days, steps: Sequence[ClockStep], job: Job, workshop: Workshop, now: datetime
) -> list[Verdict]:
    """Mixing outside people's hours, and everything round a pour that meets nobody in its span. What lies
    behind
    is not judged any more.
    """
    if not days.pours:
        return []
    wording = Wording(workshop)
    unattended = [
        (pour, times)
        for pour, times in zip(pours, days.pours, strict=False)
        if times.poured_at > now and not is_attended(workshop, times.mix_at, times.poured_at)
    ]
    alone = [one for one in steps if _is_alone(one, now)]
    if not unattended and not alone:
        return []
    ways = _ways(days, job, workshop, wording, now)
    found = [_mixing(pour, times, ways, wording) for pour, times in unattended]
    if alone:
        found.append(_steps(alone, "" if unattended else ways, wording))
    return found


def _is_alone(step: ClockStep, now: datetime) -> bool:
    """Hands are wanted in its span, and nobody is there; sanding goes with the pour that it is done for."""
    if step.at is not None or step.latest is None or step.code == "sand":
        return False
    return step.hands_s > 0 and step.latest > now


def _mixing(pour: Pour, times: PourTimes, ways: str, wording: Wording) -> Verdict:
    return Verdict(
        weight="warning",
        stage="clock",
        code="pour-outside-hours",
        rule="6.2",
        title=f"Nobody is here to mix {pour.called}",
        text=f"Mixing and pouring take from {_between(times.mix_at, times.poured_at, wording)}; that is "
        "outside your hours.",
        todo=ways,
        where="/first_pour_at",
    )


def _steps(alone: Sequence[ClockStep], ways: str, wording: Wording) -> Verdict:
    named = "; ".join(f"{one.title.lower()}, {_span(one, wording)}" for one in alone[:SHOWN])
    more = f"; and {len(alone) - SHOWN} more" if len(alone) > SHOWN else ""
    instead = list(dict.fromkeys(one.instead for one in alone if one.instead))
    return Verdict(
        weight="warning",
        stage="clock",
        code="step-outside-hours",
        rule="6.2",
        title=f"Nobody is here: {alone[0].title.lower()}"
        + (f" and {len(alone) - 1} more" if len(alone) > 1 else ""),
        text=f"Outside your hours: {named}{more}.",
        todo=" ".join([ways, *instead]).strip(),
        where="/first_pour_at",
    )


def _span(one: ClockStep, wording: Wording) -> str:
    if one.latest is None or one.latest == one.earliest:
        return wording.moment(one.earliest)
    return _between(one.earliest, one.latest, wording)


def _between(begin: datetime, end: datetime, wording: Wording) -> str:
    """A span, its day said once."""
    day, _, _ = wording.moment(begin).rpartition(", ")
    other, _, hour = wording.moment(end).rpartition(", ")
    return f"{wording.moment(begin)} to {hour if day == other else wording.moment(end)}"


def _ways(days: Days, job: Job, workshop: Workshop, wording: Wording, now: datetime) -> str:
    """By when to start this day, and the next start after it; nothing once the first pour is made."""
    if days.pours[0].poured_at <= now:
        return ""
    start = days.pours[0].mix_at
    by = latest_of_the_day(job, workshop, start)
    after = best_start(job, workshop, max(whole_half_hour(start + START_STEP), whole_half_hour(job.ready)))
    said = []
    if by is not None and by.missed + by.alone == 0:
        said.append(f"Start by {wording.moment(by.at)}.")
    elif by is not None and by.at != start:
        said.append(
            f"No start of that day meets everything; the one by {wording.moment(by.at)} misses least."
        )
    if after is not None and after.missed == after.alone == 0:
        said.append(f"{'The next start' if said else 'Start'}: {wording.moment(after.at)}.")
    if not said:
        said.append(
            "No start of the next week meets your hours in all: look at the hours, or share the work."
        )
    return " ".join(said)
