"""The rate laws as the compiled march takes them: one row of numbers a resin, one function a law."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

# Columns of the table of kinetics, one row a resin.
LAW, LN_K2, E_OVER_R, INVERSE_REFERENCE, B, TG0, DTG, LAM, LAG, WIDTH = range(10)
# Of the same row, for what stirs itself: gel point, glass temperature of its viscosity and what it gains with
# conversion [K], and g beta rho c rho / k [Pa s/(K m3)].
GEL, THICK_TG0, THICK_DTG, BUOYANCY = range(10, 14)
START_LESS = 14  # (E1 - E) / R [K]: how much more the start's energy is
COLUMNS = 15
KAMAL, FIRST_ORDER, EXPONENTIAL = (
    0,
    1,
    2,
)  # laws: m = 1, n = 2 with vitrification; m = n = 1; zero order in a, exp in T

Array = NDArray[np.float64]


@njit(cache=True, nogil=True, error_model="numpy")
def kamal(
    ln_k2: float,
    e_over_r: float,
    inverse_reference: float,
    b: float,
    tg0: float,
    dtg: float,
    lam: float,
    lag: float,
    width: float,
    start_less: float,
    t: Any,
    a: Any,
) -> Any:  # pragma: no cover
    """Rate [1/s] and its derivatives by T [1/(s K)] and a [1/s], of one row of the table. Numbers one by one:
    handing over a view of the row would cost three times as much as the law itself.
    """
    inverse, by_width = 1.0 / t, 1.0 / width
    left = max(1.0 - a, 0.0)
    below = 1.0 / (1.0 - (1.0 - lam) * a)
    k = np.exp(ln_k2 - e_over_r * (inverse - inverse_reference))
    b_t = 0.0
    if start_less != 0.0:  # an exponential more, for the few that have two energies
        b = b * np.exp(-start_less * (inverse - inverse_reference))
        b_t = b * start_less * inverse * inverse
    x = (tg0 + dtg * lam * a * below - t - lag) * by_width
    free = 1.0 / (1.0 + np.exp(min(x, 500.0)))
    r = free * k * (b + a) * left * left
    slowed = r * (1.0 - free) * by_width
    rt = r * e_over_r * inverse * inverse + slowed + free * k * b_t * left * left
    ra = free * k * (left * left - 2.0 * (b + a) * left) - slowed * dtg * lam * below * below
    return r, rt, ra


@njit(cache=True, nogil=True, error_model="numpy")
def simpler(
    law: float, ln_k2: float, e_over_r: float, inverse_reference: float, b: float, t: Any, a: Any
) -> Any:  # pragma: no cover
    """As `kamal`, of the laws that others have solved in closed form or in tables."""
    if law == EXPONENTIAL:
        # Frank-Kamenetskii: k exp(T), nothing is used up; inverse_reference is the scale [1/K]
        r = np.exp(ln_k2 + t * inverse_reference)
        return r, r * inverse_reference, 0.0
    k = np.exp(ln_k2 - e_over_r * (1.0 / t - inverse_reference))
    left = max(1.0 - a, 0.0)
    r = k * (b + a) * left
    return r, r * e_over_r / (t * t), k * (left - (b + a))
