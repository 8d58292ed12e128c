"""What the plan has to say to the person: what, why, what to do. Three weights, never colour alone."""

from __future__ import annotations

from typing import Literal

from .working import Data

Stage = Literal["survey", "measure", "resin", "layers", "mix", "clock", "pour", "finish", "log"]
Weight = Literal["stops", "care", "good"]


class Verdict(Data):
    """weight: stops the job, needs care, good to know. `where` is a JSON pointer into the piece, when one
    field is meant.
    """

    weight: Weight
    stage: Stage
    code: str
    title: str
    text: str
    todo: str = ""
    where: str = ""
    rule: str = ""
