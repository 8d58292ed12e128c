"""What finishing answers: gates, steps in order, the ladder, the oven, the care note."""

from __future__ import annotations

from datetime import datetime

from ..common.verdict import Verdict
from ..common.working import Data, Figure, Working
from .care import CareNote
from .gates import Readiness
from .grit import Rung
from .oven import OvenProgram


class GateView(Data):
    """expected: by the model, s after pouring; None: never in this room. chance: that the test passes
    at next_at, when it is worth making. too_warm: the last reading says that it
    is not back to the room's temperature."""

    code: str
    title: str
    pour: int
    test: str
    passes: str
    poured_at: datetime | None
    expected: Figure | None
    expected_at: datetime | None
    readiness: Readiness
    chance: Figure | None
    next_at: datetime | None
    low_at: datetime | None
    high_at: datetime | None
    too_warm: bool
    rests_on: str


class FinishStep(Data):
    """by: the latest for what cannot wait."""

    code: str
    title: str
    text: str
    why: str
    rule: str
    gate: str
    caution: str
    at: datetime
    hands_s: float
    by: datetime | None = None


class FinishPlan(Data):
    """oven_top: the warmest of the oven [degC]. workings: of the figures in it."""

    gates: list[GateView]
    steps: list[FinishStep]
    ladder: list[Rung]
    ladder_why: str
    oven: OvenProgram | None
    oven_top: Figure | None
    hand_over_at: datetime | None
    care: CareNote
    verdicts: list[Verdict]
    workings: dict[str, Working]
