"""Simulated workshops and cures with hidden truths, for the tests and for `./cavatum speed log`. Invented;
drawn by a seed.
"""

from __future__ import annotations

import csv
import math
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np

from cavatum.core.cure.belief import FUZZ, SPREAD, Tried, belief, chance_to_pass
from cavatum.core.learn.factors import FACTORS, Factor
from cavatum.core.learn.observe import Observation
from cavatum.core.learn.robust import BAND, from_scale

TROUBLES = Path(__file__).resolve().parents[1] / "examples" / "troubles.csv"
NORMAL_90 = 1.6448536  # standard normal quantile, 95 %
WORLDS = ("as the model has it", "a person far from typical", "heavy tails", "drifting", "skewed")
CENTRES = {"soak": 115e-6, "pump": 0.012, "leftover": 0.04}


def centre_of(factor: Factor) -> float:
    return CENTRES.get(factor.code, 1.0)


def simulated(seed: int, code: str, world: str, runs: int) -> tuple[float, float, list[float]]:
    """(truth, wobble of one run on the factor's own scale, values)."""
    rng, factor = np.random.default_rng(seed), FACTORS[code]
    truth = (
        rng.normal(0, factor.people)
        if world != "a person far from typical"
        else rng.choice([-1, 1]) * rng.uniform(2, 3) * factor.people
    )
    truth = abs(truth) if factor.is_share else truth  # a share cannot be less than nothing
    wobble = factor.wobble * math.exp(rng.normal(0, 0.3))
    noise = rng.normal(0, wobble, runs)
    if world == "heavy tails":
        noise = rng.standard_t(3, runs) * wobble / math.sqrt(3)
    if world == "drifting":
        noise = noise + np.linspace(-0.5, 0.5, runs) * wobble
    if world == "skewed":
        noise = (rng.gamma(4.0, 0.5, runs) - 2.0) * wobble
    centre = centre_of(factor)
    least, most = max(factor.least, 1e-9), factor.most
    values = [float(np.clip(from_scale(factor, centre, truth + one), least, most)) for one in noise]
    return from_scale(factor, centre, truth), wobble, values


def known_noise_width(factor: Factor, wobble: float, runs: int) -> float:
    """Of the 90 % band of a fit that knows how much a run wobbles: normal prior, normal noise."""
    return 2 * NORMAL_90 / math.sqrt(runs / wobble**2 + 1 / factor.people**2)


def width_of(factor: Factor, low: float, high: float) -> float:
    return high - low if factor.is_share else math.log(high / low)


def observed(code: str, values: list[float], key: str = "") -> list[Observation]:
    start = datetime(2026, 1, 5, 9, tzinfo=UTC)
    return [
        Observation.model_validate(
            {
                "code": code,
                "key": key,
                "called": key or code,
                "centre": centre_of(FACTORS[code]),
                "value": value,
                "run_id": number + 1,
                "at": start + timedelta(days=3 * number),
                "says": f"{value:g}",
            }
        )
        for number, value in enumerate(values)
    ]


def cure_tested(seed: int, fuzz: float = FUZZ, spread: float = SPREAD) -> Iterator[tuple[float, bool]]:
    """A cure of hidden pace tested at moments people choose: (chance said before, passed)."""
    rng, expected = np.random.default_rng(seed), 48 * 3600.0
    x = rng.normal(0, spread)
    tried: list[Tried] = []
    at = expected * rng.uniform(0.7, 1.15)
    for _ in range(6):
        said = chance_to_pass(belief(tried), at, expected)
        u = (math.log(at / expected) - x) / fuzz + rng.normal()
        result = "passed" if u > 0.35 else "not passed" if u < -0.35 else "not sure"
        yield said, result == "passed"
        if result == "passed":
            return
        tried.append(Tried.model_validate({"at_s": at, "expected_s": expected, "result": result}))
        at *= rng.uniform(1.03, 1.2)


def reliability(pairs: list[tuple[float, bool]], bins: int = 5) -> list[tuple[float, float, int]]:
    """(mean chance said, share that passed, how many) in equal steps of chance."""
    table = []
    for k in range(bins):
        inside = [
            (said, passed)
            for said, passed in pairs
            if k / bins <= said < (k + 1) / bins or (k + 1 == bins and said == 1)
        ]
        if inside:
            table.append(
                (
                    sum(said for said, _ in inside) / len(inside),
                    sum(passed for _, passed in inside) / len(inside),
                    len(inside),
                )
            )
    return table


def brier(pairs: list[tuple[float, bool]]) -> tuple[float, float]:
    """Of what was said, and of always saying the base rate. Source: Brier, Monthly Weather Review 78 (1950)
    1.
    """
    base = sum(passed for _, passed in pairs) / len(pairs)
    return sum((said - passed) ** 2 for said, passed in pairs) / len(pairs), base * (1 - base)


def described() -> list[dict[str, str]]:
    with TROUBLES.open() as file:
        return list(csv.DictReader(line for line in file if not line.startswith("#")))


__all__ = [
    "BAND",
    "WORLDS",
    "brier",
    "described",
    "known_noise_width",
    "observed",
    "reliability",
    "simulated",
    "cure_tested",
    "width_of",
]
