"""A run compiled into steps, as benches interpret it. Rule 7.1."""

from __future__ import annotations

from datetime import datetime
from typing import Final, Literal

from ..common.working import Data

Kind = Literal[
    "prepare",
    "ready",
    "sand",
    "weigh",
    "stir",
    "rest",
    "part",
    "pour",
    "defoam",
    "watch",
    "form",
    "test",
    "finish",
]


FORMAT: Final = 1


class WeighPart(Data):
    """per_other: of this part for one of the other, by mass: what overshooting the other asks for."""

    part: Literal["A", "B"]
    target_kg: float
    per_other: float


class CupClock(Data):
    """The batch in its cup by the model: (s from the first stir, degC). split_c, pour_c, most_c: when
    colours are
    parted, from and up to when it is poured.
    """

    curve: list[tuple[float, float]]
    split_c: float | None = None
    pour_c: float | None = None
    most_c: float | None = None


class ScriptStep(Data):
    """One thing to do.

    anchor          the step its window counts from; None: planned_at and planned_to stand
    on              whether the anchor's begin or its end counts
    from_s, to_s    the window from there [s]; to None: no end. with_cure: it moves with the pace of the cure
    planned_at, planned_to  the same window by the plan
    timer_s         runs from the moment the step is begun
    late            what it means when its window has closed
    again_s         after a test that was not passed: when to test again, where the script has no table of
    that
    ounces          the scale shows ounces; cup: how warm the batch gets in it; system_id,
                    colour: what is in it
    least_s, most_s  of preparation: from its end until mixing; holds: steps that come after it
    waits           of the first mixing: preparation, with the least wait after each [s]
    gate, gate_lag_s  the test that opens it, and so long after: passed early it opens early, not passed it
    waits
    passes          once its window is over there is nothing left to do
    decides         a test whose failing takes a branch instead of being due again
    branch, unless  the deciding step: it is there only once that failed, or only until it does
    rings           an alarm sounds when its window opens; not of what follows another step of the same pour
                    at once
    """

    id: str
    code: str
    kind: Kind
    title: str
    text: str
    why: str
    rule: str
    pour: int | None = None
    batch: int | None = None
    tools: str = ""
    caution: str = ""
    hand: str = ""
    late: str = ""
    checks: list[str] = []
    parts: list[WeighPart] = []
    doses: list[str] = []
    step_kg: float | None = None
    ounces: bool = False
    cup: CupClock | None = None
    system_id: str = ""
    colour: str = ""
    anchor: str | None = None
    on: Literal["begun", "done"] = "done"
    from_s: float = 0.0
    to_s: float | None = None
    with_cure: bool = False
    planned_at: datetime
    planned_to: datetime | None = None
    timer_s: float | None = None
    again_s: float | None = None
    least_s: float = 0.0
    most_s: float | None = None
    holds: list[str] = []
    waits: list[tuple[str, float]] = []
    gate: str | None = None
    gate_lag_s: float = 0.0
    hands_s: float = 0.0
    passes: bool = False
    rings: bool = True
    decides: bool = False
    branch: str | None = None
    unless: str | None = None


class PourCurve(Data):
    """What is expected of one pour, for readings to land on: (s after it was poured, hottest degC of its
    layer).
    """

    pour: int
    called: str
    curve: list[tuple[float, float]]
    peak_c: float
    never_c: float


class Script(Data):
    """may_be_again: surfaces whose last coat may be made once more. again: after a test that was not
    passed at so
    many times the expected time, at how many the next is worth making. here: when somebody is there.
    scrape: how cups
    are emptied here.
    """

    format: Literal[1] = FORMAT
    piece_id: int
    piece: str
    tint: str
    kind_of_work: str
    zone: str
    steps: list[ScriptStep]
    curves: list[PourCurve]
    depth_share: list[float]
    may_be_again: list[str] = []
    again: list[tuple[float, float]] = []
    here: list[tuple[datetime, datetime]] = []
    scrape: str = ""
