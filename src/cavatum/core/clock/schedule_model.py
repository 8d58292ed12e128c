"""What the workshop's schedule is asked and what it answers. Rule 6.2."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

STEP_S = 300
BLOCK_S = (
    4 * 3600
)  # own judgement: a visit is a stretch of at most four hours in which somebody is wanted at the bench


RESOURCES = ("chamber", "rotator", "shelf")


@dataclass(frozen=True, kw_only=True)
class Mode:
    """One way to do a piece of work: hands for so long, begun from_s to to_s after the work before it has
    ended; to_s None: any time later.

    misses  1 where a bond window is given up for it (cured and sanded instead); dust_s: so long of it, from
            its begin, makes dust
    """

    name: Literal["bond", "sand", "only"]
    hands_s: float
    from_s: float = 0.0
    to_s: float | None = None
    misses: int = 0
    dust_s: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Work:
    """One visit of hands to one piece. quiet_s: from its begin (sanding left out) until so long after it
    nobody may make dust.
    """

    id: str
    words: str
    modes: tuple[Mode, ...]
    quiet_s: float = 0.0


@dataclass(frozen=True)
class Hold:
    """A place that is taken from the begin of one work to the end of another."""

    resource: str
    first: str
    last: str


@dataclass(frozen=True, kw_only=True)
class PieceToPlace:
    """A piece: its works in order. ready_s: so long after the end of ready_work (the last one unless said) it
    is ready; None: never in this room, and then no due date is asked of it. must: its due date, or its
    windows,
    are no wish but a must.

    pins  begins that the person fixed; near: (work, begin, half width) that an earlier round found, for which
          the windows were worked out
    """

    id: str
    name: str
    works: tuple[Work, ...]
    release_s: float = 0.0
    due_s: float | None = None
    ready_s: float | None = 0.0
    holds: tuple[Hold, ...] = ()
    pins: dict[str, float] = field(default_factory=dict)
    near: tuple[str, float, float] | None = None
    must_bond: bool = False
    must_due: bool = False
    ready_work: str = ""

    @property
    def ready_id(self) -> str:
        """The work whose end the ready time counts from: the last one unless said."""
        return self.ready_work or self.works[-1].id


@dataclass(frozen=True)
class Shop:
    """open: spans in which hands are there [s]; people: how many; places: by resource, absent: not counted.
    blocks: the visits, cut from open.
    """

    open: tuple[tuple[float, float], ...]
    people: int = 1
    places: dict[str, int] = field(default_factory=dict)

    @property
    def blocks(self) -> list[tuple[float, float]]:
        found = []
        for begin, end in self.open:
            count = max(1, -(-int(end - begin) // BLOCK_S))
            size = -(-int((end - begin) / count) // STEP_S) * STEP_S
            cursor = begin
            while cursor < end:
                found.append((cursor, min(cursor + size, end)))
                cursor += size
        return found


@dataclass(frozen=True)
class Placed:
    start_s: float
    end_s: float
    mode: Mode


@dataclass(frozen=True, kw_only=True)
class Solution:
    """proven: windows and lateness are the best there are. visits_bound: no schedule with these windows and
    lateness has fewer; missed_bound, late_bound_s: no schedule at all misses fewer windows, or is less late.
    """

    placed: dict[str, Placed]
    missed: int
    late_s: float
    visits: int
    visits_bound: int
    proven: bool
    missed_bound: int = 0
    late_bound_s: float = 0.0


@dataclass(frozen=True)
class TooShort:
    """In the time given neither a schedule nor a proof that there is none; unplaced: names of pieces that
    found
    no place when they were put one after the other.
    """

    unplaced: tuple[str, ...]


def slots_up(seconds: float) -> int:
    """Whole slots of STEP_S that hold so many seconds.

        ceil(seconds / STEP_S)

    seconds  [s]
    Raises nothing. Exact. Source: by definition.
    """
    return -int(-seconds // STEP_S)


@dataclass(frozen=True)
class Clash:
    """Wishes that cannot all be met; without any one of them the others can. Each as (kind, job, work). None
    at all: not even without any wish.
    """

    wishes: tuple[tuple[str, str, str], ...]
