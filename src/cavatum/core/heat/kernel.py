"""One compiled march for slab, cylinder, sphere, cup, box, column and voxels: heat and reaction on a grid of
boxes.

    C dT/dt = sum over faces g (T_next - T) + g_room (T_room(t) - T) + H dm da/dt,    da/dt = rate(a, T)

Time: ROS2, a second-order W-method (Verwer, Spee, Blom and Hundsdorfer, SIAM J. Sci. Comput. 20 (1999) 1456;
from memory),
gamma = 1 - 1/sqrt 2, the matrix by approximate factorisation: the pointwise 2 x 2 reaction, then tridiagonal
z, y and x.
A reaction's positive eigenvalue is dropped from the matrix, never from the equation. Error by the embedded
first-order
solution, step adapted to it. Compiled functions are not seen by coverage: they are run by every test of
heat/.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# Columns of the table of kinetics, one row a resin.
LAW, LN_K2, E_OVER_R, INVERSE_REFERENCE, B, TG0, DTG, LAM, LAG, WIDTH = range(10)
COLUMNS = 10
KAMAL, FIRST_ORDER, EXPONENTIAL = (
    0,
    1,
    2,
)  # laws: m = 1, n = 2 with vitrification; m = n = 1; zero order in a, exp in T
# What is watched of each layer at each step.
HOTTEST, MOST_CURED, LEAST_CURED, TOP_T, TOP_A = range(5)
WATCHED = 5
# How a march ended.
DONE, EVENT, TOO_HOT, MORE_STEPS, NOT_FINITE = range(5)
SMALLEST_STEP_S = 1e-9


Array = NDArray[np.float64]


@njit(cache=True, nogil=True, error_model="numpy")
def rate_of(p: Array, t: Any, a: Any) -> Any:  # pragma: no cover
    """Rate [1/s] and its derivatives by T [1/(s K)] and a [1/s]."""
    if (
        p[LAW] == EXPONENTIAL
    ):  # Frank-Kamenetskii: k exp(T), nothing is used up; INVERSE_REFERENCE is the scale [1/K]
        r = np.exp(p[LN_K2] + t * p[INVERSE_REFERENCE])
        return r, r * p[INVERSE_REFERENCE], 0.0
    k = np.exp(p[LN_K2] - p[E_OVER_R] * (1.0 / t - p[INVERSE_REFERENCE]))
    dk = p[E_OVER_R] / (t * t)
    left = max(1.0 - a, 0.0)
    if p[LAW] == FIRST_ORDER:
        r = k * (p[B] + a) * left
        return r, r * dk, k * (left - (p[B] + a))
    below = 1.0 - (1.0 - p[LAM]) * a
    x = (p[TG0] + p[DTG] * p[LAM] * a / below - t - p[LAG]) / p[WIDTH]
    r = k * (p[B] + a) * left * left
    ra = k * (left * left - 2.0 * (p[B] + a) * left)
    rt = r * dk
    if x > -30.0:
        free = 1.0 / (1.0 + np.exp(min(x, 500.0)))
        slowed = free * (1.0 - free) / p[WIDTH]
        rt = free * rt + r * slowed
        ra = free * ra - r * slowed * p[DTG] * p[LAM] / (below * below)
        r = free * r
    return r, rt, ra


@njit(cache=True, nogil=True, error_model="numpy")
def _room_at(room: Array, step_s: float, t: Any) -> Any:  # pragma: no cover
    """Temperature and slope, linear between the entries, the last one held."""
    x = t / step_s
    i = int(x)
    if i >= room.size - 1:
        return room[room.size - 1], 0.0
    slope = (room[i + 1] - room[i]) / step_s
    return room[i] + slope * (t - i * step_s), slope


@njit(cache=True, nogil=True, error_model="numpy")
def _balance(t: Any, c: Array, g: Array, stride: int, out: Array) -> Any:  # pragma: no cover
    """Adds the flow between neighbours at distance `stride` to out [W]."""
    for i in range(t.size - stride):
        if g[i] != 0.0:
            q = g[i] * (t[i + stride] - t[i])
            out[i] += q
            out[i + stride] -= q


@njit(cache=True, nogil=True, error_model="numpy")
def _sweep(
    v: Array, c: Array, g: Array, extra: Array, stride: int, length: int, gt: Array, upper: Array
) -> Any:  # pragma: no cover
    """Solves (1 - gamma tau A) x = v along one axis, in place. extra: conductance to the room, taken with
    this axis.
    """
    n = v.size
    for block in range(n // (stride * length)):
        for offset in range(stride):
            start = block * stride * length + offset
            before = 0.0
            value = 0.0
            last = 0.0
            for k in range(length):
                i = start + k * stride
                if c[i] == 0.0:
                    upper[i] = 0.0
                    before = 0.0
                    value = 0.0
                    last = 0.0
                    continue
                after = g[i] if k < length - 1 else 0.0
                f = gt / c[i]
                diagonal = 1.0 + f * (before + after + extra[i]) - f * before * last
                last = f * after / diagonal
                upper[i] = last
                v[i] = (v[i] + f * before * value) / diagonal
                value = v[i]
                before = after
            for k in range(length - 2, -1, -1):
                i = start + k * stride
                v[i] += upper[i] * v[i + stride]


@njit(cache=True, nogil=True, error_model="numpy")
def _slopes(
    body: Any,
    t: Any,
    a: Any,
    room_k: float,
    out_t: Array,
    out_a: Array,
    rt: Array,
    ra: Array,
    with_matrix: bool,
) -> Any:  # pragma: no cover
    """The right-hand side [K/s], [1/s]; with_matrix: the reaction's derivatives too."""
    c, heat, kind, kin, gz, gy, gx, groom, shape, power = body
    out_t[:] = 0.0
    _balance(t, c, gz, shape[1] * shape[2], out_t)
    if shape[1] > 1:
        _balance(t, c, gy, shape[2], out_t)
    if shape[2] > 1:
        _balance(t, c, gx, 1, out_t)
    for i in range(t.size):
        out_a[i] = 0.0
        if c[i] == 0.0:
            out_t[i] = 0.0
            continue
        if kind[i] >= 0:
            # A trial step may overshoot for a moment before it is refused: the law is asked within what it
            # knows.
            r, dt, da = rate_of(kin[kind[i]], max(t[i], 150.0), min(max(a[i], 0.0), 1.0))
            out_a[i] = r
            if with_matrix:
                rt[i], ra[i] = dt, da
        out_t[i] = (out_t[i] + groom[i] * (room_k - t[i]) + power[i] + heat[i] * out_a[i]) / c[i]


@njit(cache=True, nogil=True, error_model="numpy")
def _solve(
    body: Any, vt: Array, va: Array, rt: Array, ra: Array, gt: Array, upper: Array, none: Any
) -> Any:  # pragma: no cover
    """Applies the factorised inverse of (1 - gamma tau J) in place: reaction, then z, y, x."""
    c, heat, kind, _, gz, gy, gx, groom, shape, _ = body
    for i in range(vt.size):
        if kind[i] >= 0 and c[i] != 0.0:
            h = heat[i] / c[i]
            w = h * rt[i] + ra[i]
            if w < 0.0:
                add = gt * (rt[i] * vt[i] + ra[i] * va[i]) / (1.0 - gt * w)
                vt[i] += h * add
                va[i] += add
    _sweep(vt, c, gz, groom, shape[1] * shape[2], shape[0], gt, upper)
    if shape[1] > 1:
        _sweep(vt, c, gy, none, shape[2], shape[1], gt, upper)
    if shape[2] > 1:
        _sweep(vt, c, gx, none, 1, shape[2], gt, upper)


@njit(cache=True, nogil=True, error_model="numpy")
def _error(
    body: Any, tau: float, k1t: Array, k1a: Array, k2t: Array, k2a: Array, tol_k: float, tol_a: float
) -> Any:  # pragma: no cover
    """Largest difference between the second and the first order solution over its tolerance; NaN counts as
    the largest.
    """
    c, kind = body[0], body[2]
    worst = 0.0
    for i in range(k1t.size):
        if c[i] == 0.0:
            continue
        e = 0.5 * tau * abs(k1t[i] + k2t[i]) / tol_k
        if kind[i] >= 0:
            e = max(e, 0.5 * tau * abs(k1a[i] + k2a[i]) / tol_a)
        if not e <= worst:
            worst = e
    return worst


@njit(cache=True, nogil=True, error_model="numpy")
def _watch(t: Any, a: Any, layer: Any, tops: Any, row: Array) -> Any:  # pragma: no cover
    """What is watched of each layer, into row (layers, WATCHED); returns the hottest of all."""
    for j in range(tops.size):
        row[j, HOTTEST] = 0.0
        row[j, MOST_CURED] = 0.0
        row[j, LEAST_CURED] = 1.0
        row[j, TOP_T] = t[tops[j]]
        row[j, TOP_A] = a[tops[j]]
    for i in range(t.size):
        j = layer[i]
        if j >= 0:
            row[j, HOTTEST] = max(row[j, HOTTEST], t[i])
            row[j, MOST_CURED] = max(row[j, MOST_CURED], a[i])
            row[j, LEAST_CURED] = min(row[j, LEAST_CURED], a[i])
    hottest = 0.0
    for j in range(tops.size):
        hottest = max(hottest, row[j, HOTTEST])
    return hottest


@njit(cache=True, nogil=True, error_model="numpy")
def _ends(stop: Any, row: Array, hottest: Array, peak: Array) -> Any:  # pragma: no cover
    if hottest > stop[3]:
        return TOO_HOT
    j = int(stop[0])
    if j >= 0 and row[j, TOP_A] >= stop[1] and row[j, LEAST_CURED] >= stop[5] and hottest <= stop[2]:
        return EVENT
    if stop[4] > 0.0 and hottest < peak - stop[4]:
        return EVENT
    return DONE


@njit(cache=True, nogil=True, error_model="numpy")
def march(
    t: Any,
    a: Any,
    body: Any,
    room: Array,
    room_step_s: float,
    from_s: float,
    to_s: float,
    first_step_s: float,
    tol_k: float,
    tol_a: float,
    layer: Any,
    tops: Any,
    stop: Any,
    times: Array,
    watched: Array,
    kept_t: Array,
    kept_a: Array,
) -> Any:  # pragma: no cover
    """Marches T and a in place from from_s to to_s.

    t, a      state [K], [-], flattened (nz, ny, nx)
    body      capacity [J/K], 0 where there is nothing; heat of the whole reaction [J]; row of the kinetics
              table, -1 where nothing
              reacts; that table; conductance to the next cell along z, y, x and to the room [W/K]; (nz, ny,
              nx); steady power [W]
    layer     which layer a cell belongs to, -1 none; tops: the cell at the middle of each layer's upper face
    stop      [watched layer or -1, its surface conversion, the hottest allowed then K, give up above K, end
              once the peak is passed by K, its least conversion]
    times, watched, kept_t, kept_a  filled step by step; kept_* may have no rows
    Returns (how it ended, time, steps, next step, refused steps).
    """
    n = t.size
    tn, an, upper, none = np.empty(n), np.empty(n), np.empty(n), np.zeros(n)
    f0t, f0a, k1t, k1a, k2t, k2a = (
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n),
        np.empty(n),
    )
    rt, ra = np.zeros(n), np.zeros(n)
    drawn = np.where(body[0] > 0.0, body[7] / np.maximum(body[0], 1e-300), 0.0)
    now, tau, count, refused, peak, fresh, slope = (
        from_s,
        min(first_step_s, to_s - from_s),
        0,
        0,
        0.0,
        True,
        0.0,
    )
    while now < to_s - 1e-9:
        if count >= times.size:
            return MORE_STEPS, now, count, tau, refused
        tau = min(tau, to_s - now)
        gt = GAMMA * tau
        if fresh:
            room_k, slope = _room_at(room, room_step_s, now)
            _slopes(body, t, a, room_k, f0t, f0a, rt, ra, True)
            fresh = False
        k1t[:] = f0t + gt * slope * drawn
        k1a[:] = f0a
        _solve(body, k1t, k1a, rt, ra, gt, upper, none)
        tn[:] = t + tau * k1t
        an[:] = a + tau * k1a
        room_k, _ = _room_at(room, room_step_s, now + tau)
        _slopes(body, tn, an, room_k, k2t, k2a, rt, ra, False)
        k2t -= gt * slope * drawn + 2.0 * k1t
        k2a -= 2.0 * k1a
        _solve(body, k2t, k2a, rt, ra, gt, upper, none)
        worst = _error(body, tau, k1t, k1a, k2t, k2a, tol_k, tol_a)
        if not worst <= 1.0:
            refused += 1
            tau *= max(0.2, 0.8 / np.sqrt(worst)) if worst < 1e6 else 0.2
            if tau < SMALLEST_STEP_S:
                return NOT_FINITE, now, count, tau, refused
            continue
        t += tau * (1.5 * k1t + 0.5 * k2t)
        a[:] = np.minimum(np.maximum(a + tau * (1.5 * k1a + 0.5 * k2a), 0.0), 1.0)
        now, fresh = now + tau, True
        times[count] = now
        hottest = _watch(t, a, layer, tops, watched[count])
        if kept_t.shape[0] > 0:
            kept_t[count] = t
            kept_a[count] = a
        peak = max(peak, hottest)
        ended = _ends(stop, watched[count], hottest, peak)
        count += 1
        if ended != DONE:
            return ended, now, count, tau, refused
        tau *= min(3.0, 0.8 / np.sqrt(max(worst, 1e-4)))
    return DONE, now, count, tau, refused
