"""What the survey answers: air and wood as figures, preparation, patches, what has to be ready."""

from __future__ import annotations

from typing import Literal

from ..common.working import Data, Figure
from .patches import Patch
from .preparation import PrepStep


class ReadyItem(Data):
    code: str
    text: str
    is_done: bool


class ToAccept(Data):
    """A room the sheet does not want, until a person says in words why it will do. value: degC, or share."""

    what: Literal["cold", "night", "damp"]
    value: float
    called: str


class SurveyPlan(Data):
    """expected_moisture: where the wood was not measured. lead_time: least time from the first open step to
    mixing.
    """

    expected_moisture: Figure | None
    dew_point: Figure
    margin: Figure
    steps: list[PrepStep]
    lead_time: Figure | None
    patches: list[Patch]
    ready: list[ReadyItem]
    to_accept: list[ToAccept] = []
