"""A pour that is not there: what the instruments would read and what goes wrong, for training and for a dry
run of tomorrow. Rule 7.

The readings follow the plan's own curve at a hidden pace with noise, as the stand-ins do; troubles are drawn
from the seed.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Literal

import numpy as np
from pydantic import Field

from ..common.working import Data
from .script_model import PourCurve

MOST_SPEED = 240
READ_EVERY_S = 900.0
NOISE_K = 0.3
SILENT_S = 4 * 3600.0
ABSURD_C = 900.0


class Rehearsal(Data):
    """Time runs speed times as fast from real_from on, which is start_at in the rehearsal; jumped_s was
    skipped by hand.
    """

    speed: float = Field(ge=1, le=MOST_SPEED)
    seed: int = Field(ge=0, le=10_000)
    start_at: datetime
    real_from: datetime
    jumped_s: float = Field(default=0.0, ge=0)
    troubles: bool = True

    def now(self, real: datetime) -> datetime:
        """The rehearsal's moment at a real one."""
        return self.start_at + timedelta(
            seconds=(real - self.real_from).total_seconds() * self.speed + self.jumped_s
        )


class Trouble(Data):
    """Something that comes up so long after a pour: words for the bench, and the mishap key that answers it,
    if one does.
    """

    id: str
    pour: int
    after_s: float
    kind: Literal["mishap", "silent", "absurd", "behind", "ahead"]
    code: str = ""
    words: str


class Warm(Data):
    """What the stand-ins read at a moment after a pour: degC at the probe and of the room; None while
    silent.
    """

    at_s: float
    probe_c: float | None
    room_c: float


STORIES = (
    ("leak", "A drop hangs under the form, and another."),
    ("fly", "A fly has landed in the middle of it."),
    ("fisheyes", "Three small craters near the edge."),
    ("over", "It stands over the rim at one corner."),
    ("bubbles", "A chain of bubbles comes up at the wood."),
    ("smoke", "The cup you put down smells and smokes."),
)


def troubles_of(seed: int, pours: Sequence[int]) -> list[Trouble]:
    """One or two mishaps in the first hour of each pour, one lie of the instruments, and a cure that keeps
    its own time.
    """
    chance = np.random.default_rng(seed)
    found = []
    for pour in pours:
        for number in range(int(chance.integers(1, 3))):
            code, words = STORIES[int(chance.integers(len(STORIES)))]
            found.append(
                Trouble(
                    id=f"p{pour}-{number}",
                    pour=pour,
                    after_s=float(chance.uniform(4, 50)) * 60,
                    kind="mishap",
                    code=code,
                    words=words,
                )
            )
        lie = ("silent", "absurd")[int(chance.integers(2))]
        words = (
            "The probe logger has gone quiet: go by hand and infrared."
            if lie == "silent"
            else "The infrared shows 900 °C: look at where it points."
        )
        found.append(
            Trouble(
                id=f"p{pour}-lie",
                pour=pour,
                after_s=float(chance.uniform(2, 8)) * 3600,
                kind=lie,
                words=words,
            )
        )
    return sorted(found, key=lambda one: (one.pour, one.after_s))


def true_pace(seed: int) -> float:
    """How many times as long as predicted this cure takes: hidden from the bench, 0.8 to 1.25."""
    return float(np.exp(np.random.default_rng(seed + 77_000).uniform(np.log(0.8), np.log(1.25))))


def _as_troubled(mine: Sequence[Trouble], at: float, every_s: float, sound: float) -> float | None:
    """What the instrument shows: nothing while it is silent, nonsense once where it fails."""

    def troubled(kind: str, lasts_s: float) -> bool:
        return any(one.kind == kind and one.after_s <= at < one.after_s + lasts_s for one in mine)

    if troubled("silent", SILENT_S):
        return None
    return ABSURD_C if troubled("absurd", every_s) else sound


def warmth(
    curve: PourCurve,
    seed: int,
    from_s: float,
    to_s: float,
    room_c: float,
    troubles: Sequence[Trouble] = (),
    every_s: float = READ_EVERY_S,
) -> list[Warm]:
    """Readings at every_s between two moments after the pour, the same for the same seed whatever span is
    asked.
    """
    pace = true_pace(seed)
    times, celsius = (
        np.array([one[0] for one in curve.curve]) * pace,
        np.array([one[1] for one in curve.curve]),
    )
    first = int(np.ceil(max(from_s, 0.0) / every_s - 1e-9))
    mine = [one for one in troubles if one.pour == curve.pour]
    found = []
    for number in range(first, int(np.floor(to_s / every_s + 1e-9)) + 1):
        at = number * every_s
        noise = np.random.default_rng((seed, curve.pour, number)).normal(0, 1, 2)
        sound = round(float(np.interp(at, times, celsius)) + NOISE_K * float(noise[0]), 2)
        value = _as_troubled(mine, at, every_s, sound)
        found.append(
            Warm(
                at_s=at,
                probe_c=value,
                room_c=round(room_c + 0.4 * float(np.sin(at / 13_751)) + 0.1 * float(noise[1]), 2),
            )
        )
    return found
