"""The shape of a plan as it leaves the core: what the API sends, the store keeps and the drawings are made
from.
"""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from .clock.model import Clock, ClockStep, PourWindow
from .clock.starts import StartBand
from .common.verdict import Verdict
from .common.working import Data, Working
from .layers.model import Chance, HeatMap
from .measure.model import CoatPlan, LevelPlan, VoidPlan
from .measure.section import Section
from .mix.model import PourPlan
from .summary.model import StageState, Totals
from .survey.model import SurveyPlan


class Plan(Data):
    """learned_pace: by system, the times as long that were learned and are in all of this plan's windows and
    curves.
    """

    made_at: datetime
    start_at: datetime | None
    start_is_chosen: bool
    layering: str
    survey: SurveyPlan | None = None
    voids: list[VoidPlan]
    coats: list[CoatPlan] = []
    level: LevelPlan | None = None
    sections: list[Section]
    pours: list[PourPlan]
    heat_maps: list[HeatMap] = []
    heat_notes: list[str] = []
    clock: Clock | None
    steps: list[ClockStep] = []
    windows: list[PourWindow] = []
    prepared_at: datetime | None = None
    starts: list[StartBand] = []
    totals: Totals
    verdicts: list[Verdict]
    stages: list[StageState]
    cautions: list[str]
    typical: dict[str, list[str]]
    learned_pace: dict[str, float] = {}
    workings: dict[str, Working]


class Option(Data):
    """One way to split, worked out in full: what it would take, or why it is not offered."""

    choice: Literal["fewest", "coolest", "soonest", "even", "thirds", "volumes", "whole", "own"]
    title: str
    offered: bool
    reason: str
    pours: int
    depths_m: list[float]
    visits: int
    hands_on_s: float
    out_of_form_at: datetime | None
    sanded: int
    peak_c: float | None = None
    too_hot: bool = False
    runs_away: bool = False
    chance: Chance | None = None
