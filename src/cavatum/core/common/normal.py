"""The normal distribution's share below a value, for arrays, without SciPy: a plan needs nothing else of
it."""

from __future__ import annotations

import math

import numpy as np
from numba import vectorize

_ROOT_2 = math.sqrt(2.0)


@vectorize(["float64(float64)"], cache=True)  # type: ignore[no-untyped-call, untyped-decorator]
def _below(x: float) -> float:
    return 0.5 * math.erfc(-x / _ROOT_2)


def share_below(x: np.ndarray) -> np.ndarray:
    """P(X <= x) of the standard normal distribution, elementwise: erfc(-x / sqrt 2) / 2.

    x  any shape, without a unit; returned in the same shape, 0 to 1
    Raises nothing. Exact to the last digits of the C library's erfc. Source: Abramowitz and Stegun 26.2.29.
    """
    return np.asarray(_below(x))
