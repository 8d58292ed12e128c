"""What clashes, in words, and at least one way out of it: what giving up each wish costs, or all of a
kind, the
earliest date that can be kept. Rules 6.1 and 6.2.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

from ..clock.schedule import solve
from ..clock.schedule_model import STEP_S, Clash, PieceToPlace, Shop, Solution, TooShort
from ..common.wording import Wording
from ..common.working import Data

NAMED = 4  # pieces named in a way out
MOST_TRIED = 8  # wishes of a clash that are given up one by one


class WayOut(Data):
    words: str
    missed: int
    late_days: float


def clash_words(
    clash: Clash, jobs: Mapping[str, PieceToPlace], from_at: datetime, wording: Wording
) -> list[str]:
    if not clash.wishes:
        return ["Nobody is ever there long enough for one of these works: look at the workshop's hours."]
    return [_wish_words(kind, jobs[job], work, from_at, wording) for kind, job, work in clash.wishes]


def short_words(short: TooShort) -> list[str]:
    """What was lacking where the time ended with neither a schedule nor a proof."""
    if not short.unplaced:
        return ["No schedule was found in the time there was. Ask again when the computer is less busy."]
    names = ", ".join(short.unplaced[:6]) + (
        f" and {len(short.unplaced) - 6} more" if len(short.unplaced) > 6 else ""
    )
    return [f"No place was found for {names}, with the musts, hours and places there are."]


def _wish_words(kind: str, job: PieceToPlace, work: str, from_at: datetime, wording: Wording) -> str:
    words = next((one.words for one in job.works if one.id == work), "")
    if kind == "pin":
        return f"{job.name}, {words}: fixed at {wording.moment(from_at + timedelta(seconds=job.pins[work]))}"
    if kind == "due":
        return f"{job.name}: ready by its due date"
    return f"{job.name}, {words}: in the bond window, not sanded"


def without_wish(jobs: Sequence[PieceToPlace], wish: tuple[str, str, str]) -> list[PieceToPlace]:
    """The jobs with one wish given up."""
    kind, id_, work = wish
    changed = []
    for job in jobs:
        if job.id == id_:
            if kind == "pin":
                job = replace(job, pins={key: at for key, at in job.pins.items() if key != work})
            else:
                job = replace(job, must_due=False) if kind == "due" else replace(job, must_bond=False)
        changed.append(job)
    return changed


def ways_out(
    clash: Clash,
    jobs: Sequence[PieceToPlace],
    shop: Shop,
    from_at: datetime,
    wording: Wording,
    seconds: float = 3.0,
) -> list[WayOut]:
    """What giving up each wish of a clash would cost, the cheapest first. Where none by itself gives room,
    what
    giving up all of a kind does: which dates are kept then, and the earliest for the others. A clash
    without any
    wish: how long one work takes, and how long anybody is there.
    """
    by_id = {job.id: job for job in jobs}
    found = []
    for wish in clash.wishes[:MOST_TRIED]:
        answer = solve(without_wish(jobs, wish), shop, seconds)
        if isinstance(answer, Solution):
            words = _given_up(wish, by_id[wish[1]], answer, from_at, wording)
            found.append(WayOut(words=words, missed=answer.missed, late_days=answer.late_s / 86400))
    if not found:
        found = _all_of_a_kind(jobs, shop, from_at, wording, seconds)
    if not found:
        found = [WayOut(words=_longer_hours(jobs, shop), missed=0, late_days=0.0)]
    return sorted(found, key=lambda one: (one.missed, one.late_days))


def _given_up(
    wish: tuple[str, str, str], job: PieceToPlace, answer: Solution, from_at: datetime, wording: Wording
) -> str:
    kind, _, work = wish
    if kind == "pin":
        at = from_at + timedelta(seconds=answer.placed[work].start_s)
        words = next(one.words for one in job.works if one.id == work)
        return f"{job.name}: {words} {wording.moment(at)} instead"
    if kind == "due":
        return f"{job.name}: ready {wording.moment(_ready(job, answer, from_at))}, after it is due"
    following = next((one.words for one in job.works if one.id == work), "the next pour")
    return f"{job.name}: let it cure and sand it before {following}"


def _ready(job: PieceToPlace, answer: Solution, from_at: datetime) -> datetime:
    return from_at + timedelta(seconds=answer.placed[job.ready_id].end_s + (job.ready_s or 0.0))


GIVEN_UP: tuple[tuple[str, dict[str, Any]], ...] = (
    ("Let the due dates be wishes", {"must_due": False}),
    ("Let windows be missed and sand", {"must_bond": False}),
    ("Let every start be chosen anew", {"pins": {}}),
    ("Give up dates and windows as musts", {"must_due": False, "must_bond": False}),
    ("Give up dates, windows and fixed starts", {"must_due": False, "must_bond": False, "pins": {}}),
)


def _all_of_a_kind(
    jobs: Sequence[PieceToPlace], shop: Shop, from_at: datetime, wording: Wording, seconds: float
) -> list[WayOut]:
    """The kinds of wishes of which giving up all gives room, the least first; the first two that do."""
    found: list[WayOut] = []
    for words, change in GIVEN_UP:
        loose = [replace(job, **change) for job in jobs]
        if loose == list(jobs):
            continue
        answer = solve(loose, shop, seconds)
        if isinstance(answer, Solution):
            told = _told(loose, jobs, answer, from_at, wording)
            found.append(
                WayOut(words=f"{words}: {told}", missed=answer.missed, late_days=answer.late_s / 86400)
            )
        if len(found) == 2:
            break
    return found


def _told(
    loose: Sequence[PieceToPlace],
    jobs: Sequence[PieceToPlace],
    answer: Solution,
    from_at: datetime,
    wording: Wording,
) -> str:
    """Which musts are kept all the same, and the earliest date of the others."""
    parts = [
        *_dates(loose, jobs, answer, from_at, wording),
        *_sanded(answer.missed),
        *_moved(jobs, answer, from_at, wording),
    ]
    return "; ".join(parts[: NAMED + 3]) or "all of it fits then"


def _dates(
    loose: Sequence[PieceToPlace],
    jobs: Sequence[PieceToPlace],
    answer: Solution,
    from_at: datetime,
    wording: Wording,
) -> list[str]:
    dues = {job.id: from_at + timedelta(seconds=job.due_s) for job in jobs if job.due_s is not None}
    if not dues:
        return []
    ready = {job.id: _ready(job, answer, from_at) for job in loose}
    late = sorted(
        (job for job in jobs if job.id in dues and ready[job.id] > dues[job.id]),
        key=lambda one: ready[one.id],
    )
    parts = [f"{len(dues) - len(late)} of {len(dues)} are ready by their date"]
    parts += [f"{job.name} {wording.moment(ready[job.id])}" for job in late[:NAMED]]
    if late:
        last = wording.moment(ready[late[-1].id])
        more = len(late) - NAMED
        parts.append(f"{more} more by {last}" if more > 0 else f"the earliest date for all is {last}")
    return parts


def _sanded(missed: int) -> list[str]:
    return [f"{missed} {'pour goes' if missed == 1 else 'pours go'} on a sanded layer"] if missed else []


def _moved(jobs: Sequence[PieceToPlace], answer: Solution, from_at: datetime, wording: Wording) -> list[str]:
    """Works that a person had fixed, where they go instead."""
    pinned = [(job, work) for job in jobs for work in job.works if work.id in job.pins]
    return [
        f"{job.name}, {work.words} "
        f"{wording.moment(from_at + timedelta(seconds=answer.placed[work.id].start_s))}"
        for job, work in pinned
        if abs(answer.placed[work.id].start_s - job.pins[work.id]) > STEP_S
    ]


def _longer_hours(jobs: Sequence[PieceToPlace], shop: Shop) -> str:
    """How long the longest work takes and how long anybody is there at most."""
    longest = max(
        (
            (min(mode.hands_s for mode in work.modes), job.name, work.words)
            for job in jobs
            for work in job.works
        ),
        default=(0.0, "", ""),
    )
    there = max((end - begin for begin, end in shop.open), default=0.0)
    if longest[0] > there:
        return (
            f"{longest[1]}, {longest[2]}: it takes {longest[0] / 3600:.1f} h in one go and nobody is there "
            f"longer than {there / 3600:.1f} h. Lengthen the workshop's hours on one day, or split the batch."
        )
    return "Put off one of the pieces, take one more shelf or chamber, or a second pair of hands."
