"""The root of a function between two bounds, without loading SciPy: half of the time to plan a file went
there.
"""

from __future__ import annotations

from collections.abc import Callable

from .errors import DomainError

MOST_STEPS = 100
FINEST = 8.881784197001252e-16  # four times the spacing of doubles near 1


def brentq(
    off: Callable[[float], float], low: float, high: float, *, xtol: float = 2e-12, rtol: float = FINEST
) -> float:
    """Where `off` is 0 between low and high, by Brent's method: secant and inverse quadratic steps, held in
    by
    bisection.

    off        a continuous function with different signs at low and high
    xtol, rtol the root is within xtol + rtol |root| of the answer
    Raises DomainError where the signs at both ends are equal, or after MOST_STEPS without an answer.
    Source: R. P. Brent, Algorithms for Minimization without Derivatives (1973), ch. 4; the steps are those of
    SciPy's brentq, which the tests hold it against.
    """
    before, here = low, high
    off_before, off_here = off(before), off(here)
    if off_before == 0 or off_here == 0:
        return before if off_before == 0 else here
    if not _differ(off_before, off_here):
        raise DomainError(
            argument="bounds",
            value=f"{low:g} to {high:g}",
            allowed="the root must lie between them",
            way_out="Widen the bounds.",
            code="no-root",
        )
    other, off_other, last, step = 0.0, 0.0, 0.0, 0.0
    for _ in range(MOST_STEPS):
        if off_before != 0 and off_here != 0 and _differ(off_before, off_here):
            other, off_other = before, off_before
            last = step = here - before
        if abs(off_other) < abs(off_here):
            before, here, other = here, other, here
            off_before, off_here, off_other = off_here, off_other, off_here
        least = (xtol + rtol * abs(here)) / 2
        half = (other - here) / 2
        if off_here == 0 or abs(half) < least:
            return here
        last, step = _step(last, step, half, least, (before, here, other), (off_before, off_here, off_other))
        before, off_before = here, off_here
        here += step if abs(step) > least else (least if half > 0 else -least)
        off_here = off(here)
    raise DomainError(
        argument="root",
        value=f"not found within {MOST_STEPS} steps",
        allowed="the function must be continuous",
        way_out="Report this piece: it should not happen.",
        code="no-root",
    )


def _differ(one: float, other: float) -> bool:
    """Whether their signs do."""
    return (one < 0) != (other < 0)


def _step(
    last: float,
    step: float,
    half: float,
    least: float,
    at: tuple[float, float, float],
    off: tuple[float, float, float],
) -> tuple[float, float]:
    """(the step before, the step to take): interpolated where that shrinks fast enough, else half the
    bracket.
    """
    (before, here, other), (off_before, off_here, off_other) = at, off
    if abs(last) <= least or abs(off_here) >= abs(off_before):
        return half, half
    if before == other:
        tried = -off_here * (here - before) / (off_here - off_before)
    else:
        to_before = (off_before - off_here) / (before - here)
        to_other = (off_other - off_here) / (other - here)
        tried = (
            -off_here
            * (off_other * to_other - off_before * to_before)
            / (to_other * to_before * (off_other - off_before))
        )
    if 2 * abs(tried) < min(abs(last), 3 * abs(half) - least):
        return step, tried
    return half, half
