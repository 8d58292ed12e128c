"""What a stage of the plan hands on: its answer, what it has to say, and the workings of its figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, TypeVar

from .verdict import Verdict
from .working import Working

T = TypeVar("T")


@dataclass(frozen=True)
class Answer(Generic[T]):
    """Never changed once it is made: a later stage reads `value`, the plan gathers the rest."""

    value: T
    verdicts: Sequence[Verdict] = ()
    workings: Mapping[str, Working] = field(default_factory=dict)
