"""Every start that could be, tried at once: which leave hands free for all that has to be done, which miss
something, and which are impossible. Rules 6.1 and 6.2.

The same rules as windows.lay_out and the steps, for arrays of starts instead of one; moments are whole
microseconds since 1970, as a datetime counts.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, time, timedelta
from typing import Literal, cast
from zoneinfo import ZoneInfo

import numpy as np
import numpy.typing as npt

from ..common.working import Data
from ..common.workshop import Workshop
from .before import Tight
from .hours import open_spans
from .moments import Moment
from .windows import CUT_S, SAND_S, START_STEP, PourTask, Start, window_told

Moments = npt.NDArray[np.int64]
Flags = npt.NDArray[np.bool_]
MICRO = timedelta(microseconds=1)
EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
NEVER = np.int64(-(2**62))
MINUTE, BAND_STEP = timedelta(minutes=1), timedelta(minutes=5)
SEARCH = timedelta(days=7)
FEWEST_SEARCH = timedelta(days=3)  # own judgement: nobody waits longer to sand once less
LOOK_AHEAD, LOOK_BACK = timedelta(days=70), timedelta(days=2)
Judged = Literal["good", "misses", "impossible"]


@dataclass(frozen=True, kw_only=True)
class Job:
    """A piece's pours as its starts are tried: with the windows as they hold, what needs somebody at its time
    round each, and what has to be done right before mixing.

    ready   the earliest mixing;  wanted  begins of later pours that a person fixed, by index
    """

    tasks: Sequence[PourTask]
    moments: Sequence[Sequence[Moment]]
    before: Sequence[Tight] = ()
    ready: datetime
    wanted: Mapping[int, datetime] = field(default_factory=dict)


class StartBand(Data):
    """Starts from one moment to another that are alike. misses: windows nobody meets; alone: things nobody is
    there for, of the best among them.
    """

    from_at: datetime
    to_at: datetime
    judged: Judged
    misses: int = 0
    alone: int = 0


@dataclass(frozen=True)
class Tried:
    """By start, (n,): whether it can be begun at all, how many bond windows it misses, and how many things
    nobody is there for.
    """

    possible: Flags
    missed: npt.NDArray[np.int64]
    alone: npt.NDArray[np.int64]

    @property
    def good(self) -> Flags:
        return cast(Flags, self.possible & (self.missed + self.alone == 0))


class _Hours:
    """The spans in which hands are there, as arrays."""

    def __init__(self, workshop: Workshop, from_: datetime, to: datetime) -> None:
        spans = list(open_spans(workshop, from_, to))
        self.begins = np.array([_micro(begin) for begin, _ in spans], dtype=np.int64)
        self.ends = np.array([_micro(end) for _, end in spans], dtype=np.int64)

    def fit(self, from_: Moments, hands: int, to: Moments | None = None) -> Moments:
        """As hours.next_slot, for many; NEVER where there is none, or where from_ never comes."""
        wide = self.ends - self.begins >= hands
        begins, last = self.begins[wide], self.ends[wide] - hands
        if not begins.size:
            return np.full_like(from_, NEVER)
        place = np.searchsorted(last, from_, "left")
        at = np.maximum(from_, begins[np.minimum(place, begins.size - 1)])
        sound = (place < begins.size) & (from_ != NEVER)
        return np.where(sound if to is None else sound & (at <= to), at, NEVER)


def _micro(moment: datetime) -> int:
    return (moment - EPOCH) // MICRO


def _span(seconds: float) -> int:
    return timedelta(seconds=seconds) // MICRO


def _moment(micro: int) -> datetime:
    return EPOCH + int(micro) * MICRO


def try_starts(job: Job, workshop: Workshop, starts: Sequence[datetime]) -> Tried:
    """What comes of each start.

    job, workshop  as they are;  starts  (n,) first mixes, ascending
    Raises nothing. Exact for windows that do not depend on the hour. Source: windows.lay_out.
    """
    at = np.array([_micro(one) for one in starts], dtype=np.int64)
    hours = _Hours(workshop, starts[0] - LOOK_BACK, starts[-1] + LOOK_AHEAD)
    missed, alone = np.zeros_like(at), np.zeros_like(at)
    first = _span(job.tasks[0].mix_s + job.tasks[0].pour_s)
    possible = (hours.fit(at, first, at) != NEVER) & (at >= _micro(job.ready))
    for step in job.before:
        span = at + _span(step.from_s), at + _span(step.to_s)
        alone += hours.fit(span[0], _span(step.hands_s), span[1]) == NEVER
    poured = list[Moments]()
    for index, task in enumerate(job.tasks):
        mix = at
        if index:
            placed = _placed(task, index, job, poured, hours, workshop)
            mix, bonds, kept, attended = placed
            possible &= mix != NEVER
            alone += ~attended
            missed += ~kept
            if not task.after_cut and not task.is_sanded(workshop):
                missed += ~bonds
        poured.append(np.where(mix == NEVER, NEVER, mix + _span(task.mix_s) + _span(task.pour_s)))
        for moment in job.moments[index]:
            span = poured[-1] + _span(moment.from_s), poured[-1] + _span(moment.to_s or 0.0)
            alone += hours.fit(span[0], _span(moment.row.hands_s), span[1]) == NEVER
    return Tried(possible, missed, alone)


_Placed = tuple[Moments, Flags, Flags, Flags]


def _placed(
    task: PourTask, index: int, job: Job, poured: list[Moments], hours: _Hours, workshop: Workshop
) -> _Placed:
    """(mix, bonds fresh, the wish was kept, somebody is there) of a later pour; mix NEVER where what is below
    never takes it.
    """
    below, window = poured[-1], window_told(job.tasks[index - 1])
    hands, sand = _span(task.mix_s) + _span(task.pour_s), _span(SAND_S)
    wish = None if index not in job.wanted else _micro(job.wanted[index])
    no = np.zeros(below.shape, dtype=np.bool_)
    if task.after_cut:
        hard = _last_out(job, index, poured)
        cut_at = hours.fit(hard, _span(CUT_S))
        there, cut = cut_at != NEVER, np.where(cut_at == NEVER, hard, cut_at) + _span(CUT_S)
    else:
        hard = NEVER + np.zeros_like(below) if window.demould_s is None else below + _span(window.demould_s)
        there, cut = ~no, hard
    slot = hours.fit(cut, sand + hands)
    never = hard == NEVER
    sanded = np.where(never, NEVER, np.where(slot == NEVER, cut, slot) + sand)
    fresh = _fresh(task, below, window.opens_s, window.closes_s, hours, workshop, hands)
    mix, bonds = np.where(fresh != NEVER, fresh, sanded), fresh != NEVER
    there = there & ((slot != NEVER) | bonds)
    if wish is None:
        return mix, bonds, ~no, there | (mix == NEVER)
    in_window = (
        no if task.after_cut else _in_window(wish, task, below, window.opens_s, window.closes_s, workshop)
    )
    on_hard = ~never & (wish >= cut + sand)
    kept = in_window | on_hard
    begins = np.where(in_window, np.int64(wish), np.int64(wish) - sand)
    held = hours.fit(begins, hands + sand, begins) != NEVER
    fits = np.where(in_window, hours.fit(begins, hands, begins) != NEVER, held)
    return (
        np.where(kept, np.int64(wish), mix),
        np.where(kept, in_window, bonds),
        kept,
        np.where(kept, fits, there),
    )


def _ready(task: PourTask, below: Moments, opens_s: float) -> Moments:
    return np.maximum(below + _span(opens_s) - _span(task.mix_s), below)


def _fresh(
    task: PourTask,
    below: Moments,
    opens_s: float | None,
    closes_s: float | None,
    hours: _Hours,
    workshop: Workshop,
    hands: int,
) -> Moments:
    if task.after_cut or task.is_sanded(workshop) or opens_s is None:
        return np.full_like(below, NEVER)
    last = None if closes_s is None else below + _span(closes_s) - hands
    return hours.fit(np.where(below == NEVER, NEVER, _ready(task, below, opens_s)), hands, last)


def _in_window(
    wish: int,
    task: PourTask,
    below: Moments,
    opens_s: float | None,
    closes_s: float | None,
    workshop: Workshop,
) -> Flags:
    if task.is_sanded(workshop) or opens_s is None:
        return np.zeros(below.shape, dtype=np.bool_)
    hands = _span(task.mix_s) + _span(task.pour_s)
    opened = (_ready(task, below, opens_s) <= wish) & (below != NEVER)
    closes = below + (_span(closes_s) - hands if closes_s is not None else -int(NEVER))
    return cast(Flags, opened & (wish <= closes))


def _last_out(job: Job, index: int, poured: list[Moments]) -> Moments:
    """When all before a coat may be out of their forms; NEVER where one of them never is."""
    outs = []
    for task, at in zip(job.tasks[:index], poured, strict=True):
        out_s = window_told(task).demould_s
        outs.append(
            np.full_like(at, NEVER) if out_s is None else np.where(at == NEVER, NEVER, at + _span(out_s))
        )
    stacked = np.stack(outs)
    return np.where((stacked == NEVER).any(axis=0), NEVER, stacked.max(axis=0))


def _grid(from_: datetime, to: datetime, step: timedelta) -> list[datetime]:
    return [from_ + number * step for number in range(max((to - from_) // step + 1, 0))]


def best_start(job: Job, workshop: Workshop, from_: datetime) -> Start | None:
    """The earliest start from from_ on, in half hours, for which everything meets somebody.

    Where none does within SEARCH: the earliest of those in FEWEST_SEARCH that miss fewest windows, then least
    else. None when
    nobody is
    there long enough.
    """
    starts = _grid(from_, from_ + SEARCH, START_STEP)
    tried = try_starts(job, workshop, starts)
    good = np.flatnonzero(tried.good)
    if good.size:
        return Start(starts[good[0]], 0)
    possible = np.flatnonzero(tried.possible)
    near = [one for one in possible if starts[one] <= from_ + FEWEST_SEARCH] or possible[:1].tolist()
    if not near:
        return None
    best = min(near, key=lambda one: (tried.missed[one], tried.alone[one], one))
    return Start(starts[best], int(tried.missed[best]), int(tried.alone[best]))


def latest_of_the_day(job: Job, workshop: Workshop, start: datetime) -> Start | None:
    """The latest start of this day, to the minute, for which everything meets somebody; where none does, the
    latest of those that miss fewest windows, then least else. None when it cannot be begun that day.
    """
    zone = ZoneInfo(workshop.zone)
    day = start.astimezone(zone).date()
    begin = datetime.combine(day, time(), zone).astimezone(UTC)
    end = datetime.combine(day + timedelta(days=1), time(), zone).astimezone(UTC) - MINUTE
    starts = _grid(begin, end, MINUTE)
    tried = try_starts(job, workshop, starts)
    possible = np.flatnonzero(tried.possible)
    if not possible.size:
        return None
    best = min(possible, key=lambda one: (tried.missed[one], tried.alone[one], -one))
    return Start(starts[best], int(tried.missed[best]), int(tried.alone[best]))


def bands(job: Job, workshop: Workshop, from_: datetime) -> list[StartBand]:
    """The starts of the days to come as bands that are alike, in five minutes; the nights in between too."""
    starts = _grid(from_, from_ + SEARCH, BAND_STEP)
    tried = try_starts(job, workshop, starts)
    found: list[StartBand] = []
    for place, at in enumerate(starts):
        judged: Judged = (
            "impossible" if not tried.possible[place] else "good" if tried.good[place] else "misses"
        )
        missed, alone = (
            (0, 0) if judged == "impossible" else (int(tried.missed[place]), int(tried.alone[place]))
        )
        last = found[-1] if found else None
        if last is not None and (last.judged, last.misses) == (judged, missed):
            least = min(last.alone, alone)
            found[-1] = last.model_copy(update={"to_at": at + BAND_STEP, "alone": least})
        else:
            found.append(
                StartBand(from_at=at, to_at=at + BAND_STEP, judged=judged, misses=missed, alone=alone)
            )
    return found
