"""How much longer than expected a cure takes, as tests tell it: what finishing's gates and a run's next
tests both
rest on. Rule 8.1.

    x ~ Normal(ln pace, spread);   u = (ln(t / T) - x) / w
    P(passed at t | x) = Phi(u - d),   P(not passed) = Phi(-u - d),   "not sure" between;   w = 0.08, d = 0.35

Source: ordered probit, McKelvey and Zavoina, J. Math. Sociol. 4 (1975) 103; Bayes' rule. spread: 0.22
where nothing
was learned (hardening may take a quarter longer, CP); w and d are own judgement.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cache
from typing import Literal

import numpy as np

from ..common.errors import DomainError
from ..common.normal import share_below
from ..common.plain_numbers import plainly
from ..common.working import Data

Result = Literal["passed", "not passed", "not sure"]
SPREAD = 0.22
FUZZ, BETWEEN = 0.08, 0.35
WORTH_IT = 0.75  # own judgement: a test is worth making when it passes three times in four
LEAST_WAIT_S = 1800.0
MOST_TIMES = 4.0  # times as long as expected: past this something is wrong, not late


class Tried(Data):
    """One test: so many seconds after pouring, of a gate expected at expected_s; None: not in this room,
    which tells nothing of the pace.
    """

    at_s: float
    expected_s: float | None
    result: Result


X_GRID = np.linspace(-2.2, 2.2, 241)


def belief(tried: Sequence[Tried], pace: float = 1.0, spread: float = SPREAD) -> np.ndarray:
    """Weights (241,) over x, summing to 1.

    tried  tests of one pour, in their order;  pace, spread  of the prior, in times and in shares (> 0)
    Raises DomainError for a pace or spread that no cure has. Valid within the grid. Source: Bayes' rule.
    """
    if not 0.2 <= pace <= 5 or not 0 < spread <= 1:
        raise DomainError(
            argument="pace",
            value=f"{plainly(pace)}, {plainly(spread)}",
            allowed="it lies between 0.2 and 5, its spread above 0 and up to 1",
            way_out="Leave the learned value out.",
            code="pace",
        )
    log_weight = -0.5 * ((X_GRID - math.log(pace)) / spread) ** 2
    for one in tried:
        if one.expected_s is None:
            continue
        log_weight = log_weight + np.log(np.maximum(_chance(one.result, one.at_s, one.expected_s), 1e-12))
    weight = np.exp(log_weight - log_weight.max())
    return np.asarray(weight / weight.sum())


def _chance(result: Result, at_s: float, expected_s: float) -> np.ndarray:
    """P(result at at_s | x) on the grid."""
    u = (math.log(max(at_s, 1.0) / expected_s) - X_GRID) / FUZZ
    passed, failed = share_below(u - BETWEEN), share_below(-u - BETWEEN)
    return np.asarray(
        passed if result == "passed" else failed if result == "not passed" else 1 - passed - failed
    )


def chance_to_pass(weight: np.ndarray, at_s: float, expected_s: float) -> float:
    """How likely a test passes, as a share.

    weight  (241,) over x;  at_s, expected_s  when it is made and when the model expects it [s after
    pouring], > 0
    Raises nothing. Valid within the grid. Source: ordered probit, as above.
    """
    return float((weight * _chance("passed", at_s, expected_s)).sum())


def when_worth_it(weight: np.ndarray, expected_s: float, after_s: float) -> float | None:
    """The first moment from after_s on at which the test is worth making [s]. None: not within MOST_TIMES.

    weight  (241,) over x;  expected_s, after_s  [s after pouring], > 0
    Raises nothing. Valid to MOST_TIMES. Source: WORTH_IT, own judgement.
    """
    if after_s > expected_s * MOST_TIMES:
        return None
    for at in np.exp(
        np.linspace(math.log(after_s), math.log(max(expected_s * MOST_TIMES, after_s * 1.001)), 200)
    ):
        if chance_to_pass(weight, float(at), expected_s) >= WORTH_IT:
            return float(at)
    return None


@cache
def worth_again() -> tuple[tuple[float, float], ...]:
    """After a test that was not passed at so many times the expected time: at how many the next is worth
    making, both without a unit.

    Raises nothing. Valid to MOST_TIMES, where it is a quarter more. Source: the belief above, from one
    result.
    """
    found: list[tuple[float, float]] = []
    for ratio in np.geomspace(0.25, MOST_TIMES, 25):
        weight = belief([Tried(at_s=ratio * 1e5, expected_s=1e5, result="not passed")])
        when = when_worth_it(weight, 1e5, ratio * 1.02e5)
        then = round(when / 1e5 if when else ratio * 1.25, 4)
        found.append((round(float(ratio), 4), max(then, found[-1][1] if found else 0.0)))  # never sooner
    return tuple(found)
