"""A first schedule, one piece after the other where it fits: what the exact solver starts from, and what
stands where
its time was too short. Rule 6.2.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .schedule_model import STEP_S, Hold, Mode, PieceToPlace, Placed, Shop, Work, slots_up

STARTS = 400  # begins of a piece that are tried, evenly over the hours
Ints = NDArray[np.int32]
Span = tuple[int, int, Mode]


@dataclass(frozen=True)
class Greedy:
    """placed: works of all that found a place; unplaced: names of those that did not."""

    placed: dict[str, Placed]
    unplaced: tuple[str, ...]


class _Calendar:
    """What is taken, slot by slot: hands, places, dust and what must stay clean."""

    def __init__(self, shop: Shop) -> None:
        self.shop = shop
        length = slots_up(max((end for _, end in shop.open), default=0.0)) + 1
        self.there = np.zeros(length, bool)
        for begin, end in shop.open:
            self.there[slots_up(begin) : int(end // STEP_S)] = True
        # Works end with the span they lie in: a gap between two spans is no time to work through.
        self.hands = np.where(self.there, 0, shop.people).astype(np.int32)
        self.held = {name: np.zeros(length, np.int32) for name in shop.places}
        self.dust = np.zeros(length, np.int32)
        self.wet = np.zeros(length, np.int32)

    def starts(self, size: int, from_: int, to: int) -> Ints:
        """Slots in from_..to at which hands are free for `size` on end."""
        free = np.concatenate([[0], np.cumsum(self.hands < self.shop.people)])
        last = min(to, len(self.hands) - size)
        at = np.arange(max(from_, 0), last + 1) if last >= max(from_, 0) else np.empty(0, int)
        return np.asarray(at[free[at + size] - free[at] == size], np.int32)

    def is_clean(self, work: Work, mode: Mode, at: int, size: int) -> bool:
        dust = slots_up(mode.dust_s)
        if dust and (self.wet[at : at + dust].any() or self.dust[at : at + dust].any()):
            return False
        first, last = _wet_span(work, at + size)
        return not work.quiet_s or not self.dust[first:last].any()

    def has_room(self, hold: Hold, begin: int, end: int) -> bool:
        if hold.resource not in self.held:
            return True
        return bool((self.held[hold.resource][begin:end] < self.shop.places[hold.resource]).all())

    def take(self, job: PieceToPlace, spans: dict[str, Span]) -> None:
        for work in job.works:
            at, end, mode = spans[work.id]
            self.hands[at:end] += 1
            self.dust[at : at + slots_up(mode.dust_s)] += 1
            if work.quiet_s:
                first, last = _wet_span(work, end)
                self.wet[first:last] += 1
        for hold in job.holds:
            if hold.resource in self.held:
                self.held[hold.resource][spans[hold.first][0] : spans[hold.last][1]] += 1


def _wet_span(work: Work, end: int) -> tuple[int, int]:
    wet = min(slots_up(mode.hands_s) - slots_up(mode.dust_s) for mode in work.modes)
    return max(end - wet, 0), end + slots_up(work.quiet_s)


def greedy(jobs: Sequence[PieceToPlace], shop: Shop) -> Greedy:
    """Pieces by pins, then due dates, then the most visits, each at the begin that misses the fewest
    windows, is
    the least late and then the earliest, of STARTS that are tried.

    jobs  times in seconds from the schedule's beginning;  shop  its hours, people and places
    Every rule is kept (hours, windows, hands, places, dust, pins, musts); what finds no place is named.
    Raises nothing. Not the best schedule there is. Source: list scheduling (Graham 1966).
    """
    calendar, placed, unplaced = _Calendar(shop), dict[str, Placed](), list[str]()
    order = sorted(
        jobs, key=lambda job: (not job.pins, job.due_s if job.due_s is not None else 1e18, -len(job.works))
    )
    for job in order:
        spans = _best(job, calendar)
        if spans is None:
            unplaced.append(job.name)
            continue
        calendar.take(job, spans)
        for id_, (at, end, mode) in spans.items():
            placed[id_] = Placed(float(at * STEP_S), float(end * STEP_S), mode)
    return Greedy(placed, tuple(unplaced))


def _best(job: PieceToPlace, calendar: _Calendar) -> dict[str, Span] | None:
    first = job.works[0]
    best: tuple[tuple[int, float, int], dict[str, Span]] | None = None
    for mode in first.modes:
        size = max(slots_up(mode.hands_s), 1)
        begins = _pinned(job, first, calendar.starts(size, slots_up(job.release_s), len(calendar.hands)))
        for at in begins[:: max(len(begins) // STARTS, 1)]:
            spans = _from(job, calendar, int(at), size, mode)
            if spans is None:
                continue
            late = _late_slots(job, spans)
            if late and job.must_due:
                continue
            missed = sum(span[2].misses for span in spans.values())
            key = (missed, late, spans[job.works[-1].id][1])
            if best is None or key < best[0]:
                best = key, spans
            if missed == 0 and late == 0:
                return spans
    return None if best is None else best[1]


def _late_slots(job: PieceToPlace, spans: dict[str, Span]) -> float:
    if job.due_s is None:
        return 0.0
    return max(spans[job.ready_id][1] + slots_up(job.ready_s or 0.0) - int(job.due_s // STEP_S), 0)


def _pinned(job: PieceToPlace, work: Work, begins: Ints) -> Ints:
    if work.id not in job.pins:
        return begins
    return np.asarray(begins[begins == round(job.pins[work.id] / STEP_S)], np.int32)


def _from(job: PieceToPlace, calendar: _Calendar, at: int, size: int, mode: Mode) -> dict[str, Span] | None:
    """All works of a piece whose first begins at `at`; None where one finds no place."""
    if not calendar.is_clean(job.works[0], mode, at, size):
        return None
    spans: dict[str, Span] = {job.works[0].id: (at, at + size, mode)}
    end = at + size
    for work in job.works[1:]:
        found = _next(job, calendar, work, end)
        if found is None:
            return None
        spans[work.id] = found
        end = found[1]
    for hold in job.holds:
        if not calendar.has_room(hold, spans[hold.first][0], spans[hold.last][1]):
            return None
    return spans


def _next(job: PieceToPlace, calendar: _Calendar, work: Work, before: int) -> Span | None:
    for mode in sorted(work.modes, key=lambda one: one.misses):
        if mode.misses and job.must_bond:
            continue
        size = max(slots_up(mode.hands_s), 1)
        to = len(calendar.hands) if mode.to_s is None else before + int(mode.to_s // STEP_S)
        begins = _pinned(job, work, calendar.starts(size, before + slots_up(mode.from_s), to))
        for at in begins[:STARTS]:
            if calendar.is_clean(work, mode, int(at), size):
                return int(at), int(at) + size, mode
    return None
