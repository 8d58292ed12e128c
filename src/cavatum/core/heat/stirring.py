"""A layer that warms while it is liquid stirs itself: warm resin rises to the cool surface and sinks along
cool walls. Heat then goes through it as if it led so many times better, by the Rayleigh number.

    Ra = g beta dT L^3 rho^2 c / (eta k),   k_eff = Nu(Ra) k

Upwards from the hottest row, over the depth of what lies above it; sideways between the middle and the
coldest place of that row, over half the width. What lies below the hottest row is warm on top and at rest.
The viscosity is that at the mean temperature and of the most cured place, so that stirring ends when the
first of it gels. Correlations: see `layer_times` and `slot_times`.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numba import njit

from ..cure.viscosity import GEL_POWER, GLASS_PA_S, SOLID_BELOW_K, WLF_K, WLF_LOG
from .laws import BUOYANCY, GEL, LAM, THICK_DTG, THICK_TG0, Array

GRAVITY_M_S2 = 9.81
# Volume of liquid resin per kelvin: typical of liquid epoxies and polyols, from memory.
EXPANSION_1_K = 5.5e-4
CRITICAL = 1708.0
RELAXED = 0.5  # of the way to the new value a step: a sudden start would swing about its threshold
HOTTEST, MOST_CURED, TOP_T = 0, 1, 3  # columns of what the march watches of each layer
UP, ASIDE, FROM_ROW = range(3)
HOT, FIRST, LAST = range(3)
DEEP, HALF, TIMES_RAYLEIGH = range(3)
LN_GLASS = math.log(GLASS_PA_S)


@njit(cache=True, nogil=True, error_model="numpy")
def layer_times(rayleigh: float) -> Any:  # pragma: no cover
    """How many times better heat goes up through a level layer that is cooler on top.

        Nu = 1 + 1.44 [1 - 1708/Ra]+ + [(Ra/5830)^(1/3) - 1]+

    rayleigh  over the layer's depth [-]
    Raises nothing. Valid for 1e3 < Ra < 1e8; thick liquids carry rather more above 1e5. Source: Hollands,
    Raithby and Konicek, Int. J. Heat Mass Transfer 18 (1975) 879, from memory.
    """
    if rayleigh <= CRITICAL:
        return 1.0
    return 1.0 + 1.44 * (1.0 - CRITICAL / rayleigh) + max((rayleigh / 5830.0) ** (1.0 / 3.0) - 1.0, 0.0)


@njit(cache=True, nogil=True, error_model="numpy")
def slot_times(rayleigh: float, slender: float) -> Any:  # pragma: no cover
    """How many times better heat goes sideways through an upright slot.

        1 to 2 times as high as wide: 0.18 Ra^0.29;   to 10: 0.22 Ra^0.28 (H/L)^-0.25;
        higher: 0.42 Ra^0.25 (H/L)^-0.3;   never below 1;   lower than wide: 1

    rayleigh  over its width L [-];  slender  H/L [-]
    Raises nothing. Valid for thick liquids (Pr >> 1) and Ra < 1e7; lower than wide it is left out, the hot
    side. Source: Berkovsky and Polevikov (in Catton, 6th Int. Heat Transfer Conf. 1978); MacGregor and
    Emery, J. Heat Transfer 91 (1969) 391, without its Pr^0.012; both from memory.
    """
    if slender < 1.0:
        return 1.0
    if slender <= 2.0:
        times = 0.18 * rayleigh**0.29
    elif slender <= 10.0:
        times = 0.22 * rayleigh**0.28 * slender**-0.25
    else:
        times = 0.42 * rayleigh**0.25 * slender**-0.3
    return max(times, 1.0)


@njit(cache=True, nogil=True, error_model="numpy")
def thickness(row: Array, t: float, a: float) -> Any:  # pragma: no cover
    """Viscosity [Pa s] as cure/viscosity.py has it, of one row of the table; a test holds them equal."""
    d = t - row[THICK_TG0] - row[THICK_DTG] * row[LAM] * a / (1.0 - (1.0 - row[LAM]) * a)
    if a >= row[GEL] or d < SOLID_BELOW_K:
        return np.inf
    return np.exp(LN_GLASS - WLF_LOG * d / (WLF_K + d)) * (1.0 - a / row[GEL]) ** -GEL_POWER


@njit(cache=True, nogil=True, error_model="numpy")
def _between(t: Any, i: int, plane: int, layer: Any) -> Any:  # pragma: no cover
    """By how many rows the hottest height lies over cell i: the parabola through it and its neighbours."""
    if i < plane or i + plane >= t.size or layer[i - plane] != layer[i] or layer[i + plane] != layer[i]:
        return 0.0
    bend = t[i - plane] - 2.0 * t[i] + t[i + plane]
    return 0.5 * (t[i - plane] - t[i + plane]) / bend if bend < 0.0 else 0.0


@njit(cache=True, nogil=True, error_model="numpy")
def _places(t: Any, layer: Any, plane: int, watched: Array, at: Any) -> Any:  # pragma: no cover
    """Of each layer, into at (layers, 3): its hottest cell, its first row, its last; returns the coldest of
    the row that the hottest cell lies in (layers).
    """
    at[:, :] = -1
    cold = np.full(at.shape[0], 1e9)
    for i in range(t.size):
        j = layer[i]
        if j >= 0:
            if at[j, FIRST] < 0:
                at[j, FIRST] = i // plane
            at[j, LAST] = i // plane
            if t[i] == watched[j, HOTTEST]:
                at[j, HOT] = i
    for i in range(t.size):
        j = layer[i]
        if j >= 0 and i // plane == at[j, HOT] // plane:
            cold[j] = min(cold[j], t[i])
    return cold


@njit(cache=True, nogil=True, error_model="numpy")
def _up(
    row: Array, reach: Array, t: Any, layer: Any, top: int, plane: int, at: Any, watched: Array
) -> Any:  # pragma: no cover
    """Of one layer: from its hottest height to its surface, whose temperature lies half a row on."""
    j, hot_row = layer[top], at[HOT] // plane
    rows = at[LAST] - hot_row + 0.5 - _between(t, at[HOT], plane, layer)
    deep = reach[DEEP] * (1.0 if hot_row == at[FIRST] else rows / (at[LAST] - at[FIRST] + 1))
    surface, under = watched[TOP_T], top - plane
    if under >= 0 and layer[under] == j:
        surface -= 0.5 * (t[under] - surface)
    over = max(watched[HOTTEST] - surface, 0.0)
    eta = thickness(row, watched[HOTTEST] - over / 2, watched[MOST_CURED])
    return layer_times(row[BUOYANCY] * reach[TIMES_RAYLEIGH] * over * deep**3 / eta)


@njit(cache=True, nogil=True, error_model="numpy")
def _aside(row: Array, reach: Array, cold: float, watched: Array) -> Any:  # pragma: no cover
    """Of one layer: between its middle and its wall."""
    half = reach[HALF]
    if half <= 0.0:
        return 1.0
    over = watched[HOTTEST] - cold
    eta = thickness(row, watched[HOTTEST] - over / 2, watched[MOST_CURED])
    driven = row[BUOYANCY] * reach[TIMES_RAYLEIGH]
    return slot_times(driven * over * half**3 / eta, reach[DEEP] / half)


@njit(cache=True, nogil=True, error_model="numpy")
def stir(
    reach: Array, kin: Array, t: Any, layer: Any, tops: Any, shape: Any, watched: Array, times: Array
) -> Any:  # pragma: no cover
    """Brings times (layers, 3) up to date: upwards, sideways, and from which row on; zeros at first. False:
    nothing stirs any more, as all of it has gelled.

    reach    (layers, 3) depth and half width [m], 0 where it does not count; times its Rayleigh number
    kin      table of kinetics, one row a layer;  t, layer, tops, shape  as in the march
    watched  (layers, WATCHED) of the state that t belongs to
    """
    plane, layers, is_liquid = shape[1] * shape[2], reach.shape[0], False
    at = np.empty((layers, 3), np.int64)
    cold = _places(t, layer, plane, watched, at)
    for j in range(layers):
        up, aside = 1.0, 1.0
        if reach[j, DEEP] > 0.0 and watched[j, MOST_CURED] < kin[j, GEL] and at[j, HOT] >= 0:
            is_liquid = True
            up = _up(kin[j], reach[j], t, layer, tops[j], plane, at[j], watched[j])
            aside = _aside(kin[j], reach[j], cold[j], watched[j])
        share = RELAXED if up > 1.0 and times[j, UP] > 0.0 else 1.0
        times[j, UP] += share * (up - times[j, UP])
        times[j, ASIDE] += share * (aside - times[j, ASIDE])
        times[j, FROM_ROW] = at[j, HOT] // plane
    return is_liquid


@njit(cache=True, nogil=True, error_model="numpy")
def led(
    at_rest: Any, stride: int, plane: int, layer: Any, times: Array, is_up: bool, led_by: Any
) -> Any:  # pragma: no cover
    """Conductances along one axis, so many times those at rest within a layer: upwards from its hottest row
    on, sideways everywhere. at_rest, led_by: (after, before), as the march has them.
    """
    rest_after, rest_before = at_rest
    after, before = led_by
    for i in range(rest_after.size - stride):
        j, k, by = layer[i], i + stride, 1.0
        if j >= 0 and layer[k] == j:
            if not is_up:
                by = times[j, ASIDE]
            elif i // plane >= times[j, FROM_ROW]:
                by = times[j, UP]
        after[i] = rest_after[i] * by
        before[k] = rest_before[k] * by
