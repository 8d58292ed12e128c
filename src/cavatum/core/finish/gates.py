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
from typing import Literal

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data
from ..cure.belief import (
    LEAST_WAIT_S,
    SPREAD,
    X_GRID,
    Result,
    Tried,
    belief,
    chance_to_pass,
    when_worth_it,
)


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
    when = when_worth_it(weight, expected_s, after)
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
    return float(np.interp(share, np.cumsum(weight) - 0.5 * weight, X_GRID))


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
