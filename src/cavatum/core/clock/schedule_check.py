"""A schedule held against its rules by plain arithmetic, not by the solver that made it. Rule 6.2."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.plain_numbers import plainly
from .schedule_model import STEP_S, PieceToPlace, Placed, Shop


def broken(jobs: Sequence[PieceToPlace], shop: Shop, placed: dict[str, Placed]) -> list[str]:
    """Every rule that a schedule breaks, checked by plain arithmetic and not by the solver: hours, windows,
    hands, places, dust, pins.
    """
    found = []
    for job in jobs:
        before: Placed | None = None
        for work in job.works:
            one = placed[work.id]
            if not any(begin <= one.start_s and one.end_s <= end for begin, end in shop.open):
                found.append(f"{work.id}: outside the hours")
            if one.end_s - one.start_s < one.mode.hands_s:
                found.append(f"{work.id}: too short")
            if before is None and one.start_s < job.release_s:
                found.append(f"{work.id}: before it can begin")
            waited = one.start_s - before.end_s if before is not None else one.mode.from_s
            if waited < one.mode.from_s or (one.mode.to_s is not None and waited > one.mode.to_s):
                found.append(f"{work.id}: outside its window")
            if work.id in job.pins and abs(one.start_s - job.pins[work.id]) > STEP_S:
                found.append(f"{work.id}: not where it is pinned")
            before = one
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


def _dusty(jobs: Sequence[PieceToPlace], placed: dict[str, Placed]) -> list[str]:
    quiet = [
        (
            work.id,
            placed[work.id].end_s - min(mode.hands_s - mode.dust_s for mode in work.modes),
            placed[work.id].end_s + work.quiet_s,
        )
        for job in jobs
        for work in job.works
        if work.quiet_s
    ]
    dusty = [
        (work.id, placed[work.id].start_s, placed[work.id].start_s + placed[work.id].mode.dust_s)
        for job in jobs
        for work in job.works
        if placed[work.id].mode.dust_s
    ]
    return [
        f"{one}: dust while {other} is wet"
        for one, begin, end in dusty
        for other, wet, dry in quiet
        if one != other and begin < dry and wet < end
    ]
