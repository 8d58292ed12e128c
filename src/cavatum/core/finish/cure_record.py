"""What is known of a cure when its gates are asked: the tests of its run, its pace, the last reading, and
what was learned of its resin. Rules 8.1, 9.2.
"""

from __future__ import annotations

from datetime import datetime

from ..common.working import Data
from ..cure.belief import Result


class GateTest(Data):
    """One test as it was made: s after that pour."""

    gate: str
    pour: int
    at_s: float
    result: Result


class CureRecord(Data):
    """What a run knows of its cure: when each pour was made, tests, the last surface reading [degC] and the
    room; over_at: the run has ended.

    paces: by pour, times as long as predicted, by its temperatures
    learned, runs: times as long as this plan has it, for a plan made before that was learned; spread: how
    much one run wobbles; None: nothing learned
    """

    poured_at: dict[int, datetime] = {}
    tests: list[GateTest] = []
    paces: dict[int, float] = {}
    learned: float | None = None
    runs: int = 0
    spread: float | None = None
    surface_c: float | None = None
    surface_at: datetime | None = None
    room_c: float | None = None
    over_at: datetime | None = None
