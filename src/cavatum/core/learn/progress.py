"""Is Cavatum getting better for this person? Each run against what would have been said before it, with
typical values and with learned ones.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime
from statistics import median

from ..common.working import Data
from .factors import FACTORS, FactorCode, can_be
from .learned import LEAST_RUNS
from .observe import Observation
from .robust import estimate


class Foretold(Data):
    """One run's value, and what was said before it was known. off: shares by which each missed."""

    code: FactorCode
    key: str
    called: str
    run_id: int
    at: datetime
    measured: float
    typical: float
    learned: float
    off_typical: float
    off_learned: float


class Progress(Data):
    """typical, learned: median miss over all runs that came after the third. says: in words, with the number
    of runs.
    """

    points: list[Foretold]
    typical: float | None
    learned: float | None
    says: str


def progress(observations: Sequence[Observation]) -> Progress:
    """In the order of time; a run never sees itself."""
    past: dict[tuple[str, str], list[float]] = {}
    points = []
    for one in sorted(observations, key=lambda one: one.at):
        factor = FACTORS[one.code]
        before = past.setdefault((one.code, one.key), [])
        if one.code == "pump" or not can_be(factor, one.value):
            continue  # a pump's stroke has no typical value to compare with
        said = estimate(factor, one.centre, before).value if len(before) >= LEAST_RUNS else one.centre
        if len(before) >= LEAST_RUNS:
            points.append(
                Foretold(
                    code=one.code,
                    key=one.key,
                    called=one.called,
                    run_id=one.run_id,
                    at=one.at,
                    measured=one.value,
                    typical=one.centre,
                    learned=said,
                    off_typical=_off(factor.is_share, one.value, one.centre),
                    off_learned=_off(factor.is_share, one.value, said),
                )
            )
        before.append(one.value)
    if not points:
        return Progress(
            points=[],
            typical=None,
            learned=None,
            says=f"Nothing to compare yet: a value is learned from {LEAST_RUNS} runs up.",
        )
    typical, learned = median(one.off_typical for one in points), median(one.off_learned for one in points)
    word = "closer" if learned < typical else "no closer"
    return Progress(
        points=points,
        typical=typical,
        learned=learned,
        says=f"Over {len(points)} values foretold, typical values missed by {typical:.0%}, yours by "
        f"{learned:.0%}: {word}.",
    )


def _off(is_share: bool, measured: float, said: float) -> float:
    return abs(measured - said) if is_share else abs(math.expm1(math.log(said / measured)))
