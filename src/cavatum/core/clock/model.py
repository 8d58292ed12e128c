"""What the clock answers: windows of pours, steps, rows and pins for drawing."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ..common.working import Data


class Segment(Data):
    state: Literal["mix", "workable", "liquid", "setting", "bond", "closed", "demould"]
    label: str
    from_at: datetime
    to_at: datetime


class Pin(Data):
    """A hands-on moment. why: the rule and the origin of its times in words."""

    at: datetime
    until: datetime | None
    label: str
    kind: Literal["pour", "coat", "sand", "demould"]
    why: str


class PourWindow(Data):
    """What the clock knows of one pour: hands for mixing and pouring, and its windows in seconds after it was
    poured.

    None: not in this room, by the computed cure; closes_s None: the window stays open. touch_s, light_s:
    dry to the
    touch and fit for light use; None too where the sheet does not say.
    """

    pour: int
    mix_s: float
    pour_s: float
    opens_s: float | None
    closes_s: float | None
    demould_s: float | None
    cured_s: float | None
    touch_s: float | None = None
    light_s: float | None = None
    mix_at: datetime
    bonded: bool
    computed: bool


class ClockStep(Data):
    """One thing to do. at: the first moment in its window at which hands are there; None: nobody is. latest
    None: it may wait.

    pour: which one it belongs to; None before the first. with_cure: its window follows the cure, not the
    clock on the wall. waits_s: of preparation, least and most from its end until mixing; holds: what it
    comes before. instead: what may be
    done where nobody is there.
    """

    code: str
    kind: Literal["prepare", "pour", "defoam", "watch", "form", "test", "finish"]
    title: str
    text: str
    why: str
    rule: str
    pour: int | None
    earliest: datetime
    latest: datetime | None
    at: datetime | None
    hands_s: float
    tools: str
    with_cure: bool = False
    waits_s: tuple[float, float | None] | None = None
    instead: str = ""
    holds: list[str] = []


class Row(Data):
    label: str
    segments: list[Segment]


class Clock(Data):
    """from_at to to_at is what the axis shows; away are the spans nobody is there."""

    from_at: datetime
    to_at: datetime
    zone: str
    away: list[tuple[datetime, datetime]]
    rows: list[Row]
    pins: list[Pin]
