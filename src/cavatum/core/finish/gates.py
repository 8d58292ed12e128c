"""Readiness by test: what the tests so far say together with the cure model, and when the next one is worth
making. Rule 8.1.

Let T be the time after pouring at which the model expects a test to pass, and x the logarithm of how many
times as long this cure really takes.

    x ~ Normal(ln pace, spread);   u = (ln(t / T) - x) / w
    P(passed at t | x) = Phi(u - d),   P(not passed) = Phi(-u - d),   "not sure" between;   w = 0.08, d = 0.35

Every test of the same pour narrows x (grid of 241 points). Time alone never passes a gate: until its own test
is passed it is not tested.
spread: 0.22 where nothing was learned (hardening may take a quarter longer, CP), else as learned; w and d are
own judgement.
Source: ordered probit, McKelvey and Zavoina, J. Math. Sociol. 4 (1975) 103; Bayes' rule.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cache
from typing import Literal

import numpy as np

from ..common.errors import DomainError
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


class Readiness(Data):
    """chance_now: that the test passes now; next_s: when to test (again), s after pouring; chance_then: that
    it passes then.

    likely: passes with even chance at this time, low and high its 80 % band. None past MOST_TIMES: something
    is wrong, see Mend. never: not in this room by the model; only a test can pass it, none is foretold.
    """

    state: Literal["not tested", "passed", "not passed", "not sure", "never"]
    chance_now: float
    next_s: float | None
    chance_then: float | None
    likely_s: float | None
    low_s: float | None
    high_s: float | None
    times: float
    says: str


_X = np.linspace(-2.2, 2.2, 241)


def belief(tried: Sequence[Tried], pace: float = 1.0, spread: float = SPREAD) -> np.ndarray:
    """Weights (241,) over x, summing to 1. pace, spread: of the prior, in times and in shares (> 0)."""
    if not 0.2 <= pace <= 5 or not 0 < spread <= 1:
        raise DomainError(
            argument="pace",
            value=f"{plainly(pace)}, {plainly(spread)}",
            allowed="it lies between 0.2 and 5, its spread above 0 and up to 1",
            way_out="Leave the learned value out.",
            code="pace",
        )
    log_weight = -0.5 * ((_X - math.log(pace)) / spread) ** 2
    for one in tried:
        if one.expected_s is None:
            continue
        log_weight = log_weight + np.log(np.maximum(_chance(one.result, one.at_s, one.expected_s), 1e-12))
    weight = np.exp(log_weight - log_weight.max())
    return np.asarray(weight / weight.sum())


def _chance(result: Result, at_s: float, expected_s: float) -> np.ndarray:
    """P(result at at_s | x) on the grid."""
    u = (math.log(max(at_s, 1.0) / expected_s) - _X) / FUZZ
    from scipy.special import ndtr  # loaded only where used

    passed, failed = ndtr(u - BETWEEN), ndtr(-u - BETWEEN)
    return np.asarray(
        passed if result == "passed" else failed if result == "not passed" else 1 - passed - failed
    )


def chance_to_pass(weight: np.ndarray, at_s: float, expected_s: float) -> float:
    return float((weight * _chance("passed", at_s, expected_s)).sum())


def _passed(expected_s: float, own: Sequence[Tried], others: Sequence[Tried]) -> str:
    """In words how the gate was passed; empty where it was not."""
    if any(one.result == "passed" and (one.expected_s or math.inf) >= expected_s for one in others):
        return "A harder test of this pour was passed."
    return "Tested and passed." if any(one.result == "passed" for one in own) else ""


def readiness(
    expected_s: float,
    now_s: float,
    own: Sequence[Tried],
    others: Sequence[Tried] = (),
    pace: float = 1.0,
    spread: float = SPREAD,
) -> Readiness:
    """How a gate stands.

    expected_s  when the model expects it to pass, s after pouring, > 0
    own, others  tests of this gate, and of other gates of the same pour, in their order
    pace, spread  what is known of this resin here, or of this very run by its temperatures
    Raises DomainError for an expected time that is not positive.
    """
    if not expected_s > 0:
        raise DomainError(
            argument="expected time",
            value=f"{plainly(expected_s)} s",
            allowed="it is more than 0",
            way_out="Plan the pour first.",
            code="expected",
        )
    weight = belief([*own, *others], pace, spread)
    now = max(now_s, 1.0)
    likely, low, high = (expected_s * math.exp(_quantile(weight, q)) for q in (0.5, 0.1, 0.9))
    last = own[-1].result if own else None
    times = likely / expected_s
    if passed := _passed(expected_s, own, others):
        return Readiness(
            state="passed",
            chance_now=1.0,
            next_s=None,
            chance_then=None,
            likely_s=likely,
            low_s=low,
            high_s=high,
            times=times,
            says=passed,
        )
    chance = chance_to_pass(weight, now, expected_s)
    after = max(now, own[-1].at_s + LEAST_WAIT_S) if own else now
    when = _when(weight, expected_s, after)
    then = chance_to_pass(weight, when, expected_s) if when is not None else None
    return Readiness(
        state=last or "not tested",
        chance_now=chance,
        next_s=when,
        chance_then=then,
        likely_s=likely,
        low_s=low,
        high_s=high,
        times=times,
        says=_says(last, chance, when, then, now),
    )


def _when(weight: np.ndarray, expected_s: float, after_s: float) -> float | None:
    """The first moment from after_s on at which the test is worth making. None: not within MOST_TIMES."""
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
    making.

    Raises nothing. Valid to MOST_TIMES, where it is a quarter more. Source: the belief above, from one
    result.
    """
    found: list[tuple[float, float]] = []
    for ratio in np.geomspace(0.25, MOST_TIMES, 25):
        weight = belief([Tried(at_s=ratio * 1e5, expected_s=1e5, result="not passed")])
        when = _when(weight, 1e5, ratio * 1.02e5)
        then = round(when / 1e5 if when else ratio * 1.25, 4)
        found.append((round(float(ratio), 4), max(then, found[-1][1] if found else 0.0)))  # never sooner
    return tuple(found)


def _says(last: Result | None, chance: float, when: float | None, then: float | None, now: float) -> str:
    if when is None or then is None:
        return "It takes so much longer than it should that waiting longer will not help. Look under Mend."
    head = {"not passed": "Not passed. ", "not sure": "Not sure counts as not passed. "}.get(
        last or "", "Not tested. "
    )
    if when <= now + 60:
        return f"{head}Test it now. Chance of passing: about {chance:.0%}."
    return f"{head}Chance of passing at the best time to test: about {then:.0%}."


def _quantile(weight: np.ndarray, share: float) -> float:
    return float(np.interp(share, np.cumsum(weight) - 0.5 * weight, _X))


def never_ready(own: Sequence[Tried]) -> Readiness:
    """A gate that the model does not reach in this room: a passed test holds all the same."""
    passed = any(one.result == "passed" for one in own)
    return Readiness(
        state="passed" if passed else "never",
        chance_now=1.0 if passed else 0.0,
        next_s=None,
        chance_then=None,
        likely_s=None,
        low_s=None,
        high_s=None,
        times=1.0,
        says="Tested and passed."
        if passed
        else "By the model never in this room. Warm the piece as Layers says, then test.",
    )
