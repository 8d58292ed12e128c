"""The totals line and the state of each stage on the rail."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ..common.verdict import Stage
from ..common.working import Data, Figure
from ..mix.model import Allowance


class Totals(Data):
    """band: how far off `net` may be either way, from the spreads that were given; again: the reading that
    matters most.
    """

    net: Figure | None = None
    band: Figure | None = None
    again: str = ""
    need: Figure | None = None
    mass: Figure | None = None
    pours: int = 0
    layers: int = 0
    coats: int = 0
    batches: int = 0
    visits: int = 0
    hands_on: Figure | None = None
    cost: Figure | None = None
    allowances: list[Allowance] = []
    out_of_form_at: datetime | None = None
    ready_at: datetime | None = None
    depths_m: list[float] = []


class StageState(Data):
    """title: what this kind of work calls the stage; empty in a plan that version 0.7 kept."""

    stage: Stage
    title: str = ""
    state: Literal["settled", "needs you", "stops", "later"]
    summary: str
    reason: str
