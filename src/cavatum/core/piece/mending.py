"""The document's part of a piece that mends another one."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..common.readings import Id, Label
from ..common.working import Data

Words = Annotated[str, Field(max_length=600)]


class MendStep(Data):
    """wait_s: least time until the next; hands_s: at the bench."""

    code: Id
    title: Label
    text: Words
    why: Words = ""
    caution: Words = ""
    wait_s: float = Field(default=0.0, ge=0, le=30 * 86400.0)
    hands_s: float = Field(default=900.0, ge=0, le=86400.0)


class Mend(Data):
    """Which piece and run it mends, what was seen, what it came from, which way back; steps before any
    resin.
    """

    of_piece: int = Field(ge=1)
    of_run: int | None = Field(default=None, ge=1)
    trouble: Label
    cause: Label
    back: Label
    steps: Annotated[list[MendStep], Field(max_length=20)] = []
    done: Annotated[list[Id], Field(max_length=40)] = []
