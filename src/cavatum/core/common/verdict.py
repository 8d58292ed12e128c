"""What the plan has to say to the person: what, why, what to do. Three weights, never colour alone."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BeforeValidator

from .errors import DomainError
from .working import Data

Stage = Literal["survey", "measure", "resin", "layers", "mix", "clock", "pour", "finish", "log"]
BEFORE_0_8 = {
    "stops": "blocker",
    "care": "warning",
    "good": "note",
}  # in plans and lists kept by releases up to 0.7
Weight = Annotated[
    Literal["blocker", "warning", "note"],
    BeforeValidator(lambda value: BEFORE_0_8.get(value, value) if isinstance(value, str) else value),
]
WEIGHTS: tuple[Weight, ...] = ("blocker", "warning", "note")


class Verdict(Data):
    """weight: blocker (the job cannot go on), warning (needs care), note (good to know).

    where  a JSON pointer into the piece, when one field is meant
    """

    weight: Weight
    stage: Stage
    code: str
    title: str
    text: str
    todo: str = ""
    where: str = ""
    rule: str = ""


def refused(stage: Stage, error: DomainError, where: str = "") -> Verdict:
    """What a stage cannot take, as a verdict that stops the job."""
    return Verdict(
        weight="blocker",
        stage=stage,
        code=error.code,
        title=error.argument.capitalize(),
        text=f"{error.argument.capitalize()} is {error.value}; {error.allowed}.",
        todo=error.way_out,
        where=where,
    )


@dataclass(frozen=True)
class StageReport:
    """What a stage says of itself for the rail: what it still misses, in one sentence, and what it came
    to.
    """

    stage: Stage
    missing: str = ""
    summary: str = ""


def counted(number: int, one: str, many: str = "") -> str:
    """ "1 pour", "3 pours"; nothing for none."""
    return f"{number} {one if number == 1 else many or one + 's'}" if number else ""
