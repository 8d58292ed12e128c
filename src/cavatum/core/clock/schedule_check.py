"""A schedule held against its rules by plain arithmetic, not by the solver that made it. Rule 6.2."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..common.plain_numbers import plainly
from .schedule_model import STEP_S, PieceToPlace, Placed, Shop, Work


def broken(jobs: Sequence[PieceToPlace], shop: Shop, placed: dict[str, Placed]) -> list[str]:
    """Every rule that a schedule breaks, checked by plain arithmetic and not by the solver: hours, windows,
    hands, places, dust, pins.
    """
    found = []
    for job in jobs:
        before: Placed | None = None
        for work in job.works:
            found += [f"{work.id}: {what}" for what in _wrong(job, work.id, placed[work.id], before, shop)]
            before = placed[work.id]
    found += _over(list(placed.values()), shop.people, "hands")
    for resource, many in shop.places.items():
        spans = [
            Placed(placed[hold.first].start_s, placed[hold.last].end_s, placed[hold.first].mode)
            for job in jobs
            for hold in job.holds
            if hold.resource == resource
        ]
        found += _over(spans, many, resource)
    return found + _dusty(jobs, placed)


def _over(spans: Sequence[Placed], most: int, what: str) -> list[str]:
    edges = sorted(
        [(one.start_s, 1) for one in spans] + [(one.end_s, -1) for one in spans],
        key=lambda edge: (edge[0], edge[1]),
    )
    level = 0
    for at, change in edges:
        level += change
        if level > most:
            return [f"{what}: {level} at once at {plainly(at)} s, {most} there"]
    return []


def _wrong(job: PieceToPlace, id_: str, one: Placed, before: Placed | None, shop: Shop) -> list[str]:
    """Of one work by itself and after the one before it."""
    found = []
    if not any(begin <= one.start_s and one.end_s <= end for begin, end in shop.open):
        found.append("outside the hours")
    if one.end_s - one.start_s < one.mode.hands_s:
        found.append("too short")
    if before is None and one.start_s < job.release_s:
        found.append("before it can begin")
    waited = one.start_s - before.end_s if before is not None else one.mode.from_s
    most = math.inf if one.mode.to_s is None else one.mode.to_s
    if not one.mode.from_s <= waited <= most:
        found.append("outside its window")
    if abs(one.start_s - job.pins.get(id_, one.start_s)) > STEP_S:
        found.append("not where it is pinned")
    return found


def _least_clean_s(work: Work) -> float:
    """How much of the work is surely without dust [s]."""
    return min(mode.hands_s - mode.dust_s for mode in work.modes)


def _dusty(jobs: Sequence[PieceToPlace], placed: dict[str, Placed]) -> list[str]:
    works = [(work, placed[work.id]) for job in jobs for work in job.works]
    quiet = [
        (work.id, at.end_s - _least_clean_s(work), at.end_s + work.quiet_s)
        for work, at in works
        if work.quiet_s
    ]
    dusty = [(work.id, at.start_s, at.start_s + at.mode.dust_s) for work, at in works if at.mode.dust_s]
    return [
        f"{one}: dust while {other} is wet"
        for one, begin, end in dusty
        for other, wet, dry in quiet
        if one != other and begin < dry and wet < end
    ]
