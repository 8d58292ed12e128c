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

from .laws import (
    DTG,
    E_OVER_R,
    INVERSE_REFERENCE,
    KAMAL,
    LAG,
    LAM,
    LAW,
    LN_K2,
    START_LESS,
    TG0,
    WIDTH,
    Array,
    B,
    kamal,
    simpler,
)
from .stirring import UP, led, stir

GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# What is watched of each layer at each step; STIRRED: how many times better heat goes up in it than at rest.
HOTTEST, MOST_CURED, LEAST_CURED, TOP_T, TOP_A, STIRRED = range(6)
WATCHED = 6
# How a march ended.
DONE, EVENT, TOO_HOT, MORE_STEPS, NOT_FINITE = range(5)
SMALLEST_STEP_S = 1e-9


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
def _axis(inverse: Array, g: Array, stride: int, length: int) -> Any:  # pragma: no cover
    """Conductance to the cell after and to the one before, along one axis, over each cell's capacity [1/s];
    nothing to where there is nothing.
    """
    after, before = np.zeros(g.size), np.zeros(g.size)
    for i in range(g.size - stride):
        j = i + stride
        if (i // stride) % length < length - 1 and inverse[i] > 0.0 and inverse[j] > 0.0:
            after[i] = g[i] * inverse[i]
            before[j] = g[i] * inverse[j]
    return after, before


@njit(cache=True, nogil=True, error_model="numpy")
def _flow(t: Array, after: Array, before: Array, stride: int, out: Array) -> Any:  # pragma: no cover
    """Adds what flows in from both neighbours along one axis to out [K/s]."""
    for i in range(t.size - stride):
        out[i] += after[i] * (t[i + stride] - t[i])
    for i in range(stride, t.size):
        out[i] -= before[i] * (t[i] - t[i - stride])


@njit(cache=True, nogil=True, error_model="numpy")
def _factor(
    after: Array,
    before: Array,
    extra: Array,
    stride: int,
    gt: float,
    lower: Array,
    upper: Array,
    pivot: Array,
) -> Any:  # pragma: no cover
    """Factors of (1 - gamma tau A) along one axis. extra: rate to the room [1/s], taken with this axis. One
    loop over all lines at once: where a line begins, nothing is `before`.
    """
    for i in range(stride):
        pivot[i] = 1.0 / (1.0 + gt * (after[i] + extra[i]))
        upper[i] = gt * after[i] * pivot[i]
        lower[i] = 0.0
    for i in range(stride, after.size):
        back = gt * before[i]
        here = 1.0 / (1.0 + back + gt * (after[i] + extra[i]) - back * upper[i - stride])
        pivot[i] = here
        lower[i] = back * here
        upper[i] = gt * after[i] * here


@njit(cache=True, nogil=True, error_model="numpy")
def _sweep(v: Array, stride: int, lower: Array, upper: Array, pivot: Array) -> Any:  # pragma: no cover
    """Solves (1 - gamma tau A) x = v along one axis by its factors, in place."""
    for i in range(stride):
        v[i] *= pivot[i]
    for i in range(stride, v.size):
        v[i] = v[i] * pivot[i] + lower[i] * v[i - stride]
    for i in range(v.size - stride - 1, -1, -1):
        v[i] += upper[i] * v[i + stride]


@njit(cache=True, nogil=True, error_model="numpy")
def _react(
    body: Any,
    cells: Any,
    source: Array,
    t: Array,
    a: Array,
    out_t: Array,
    out_a: Array,
    rt: Array,
    ra: Array,
    with_matrix: bool,
) -> Any:  # pragma: no cover
    """Adds the reaction [K/s], [1/s] of the cells that react; with_matrix: its derivatives too."""
    kind, kin = body[2], body[3]
    for j in range(cells.size):
        i = cells[j]
        # A trial step may overshoot for a moment before it is refused: the law is asked within what it
        # knows.
        p, ti, ai = kind[i], max(t[i], 150.0), min(max(a[i], 0.0), 1.0)
        if kin[p, LAW] == KAMAL:
            r, dt, da = kamal(
                kin[p, LN_K2],
                kin[p, E_OVER_R],
                kin[p, INVERSE_REFERENCE],
                kin[p, B],
                kin[p, TG0],
                kin[p, DTG],
                kin[p, LAM],
                kin[p, LAG],
                kin[p, WIDTH],
                kin[p, START_LESS],
                ti,
                ai,
            )
        else:
            r, dt, da = simpler(
                kin[p, LAW], kin[p, LN_K2], kin[p, E_OVER_R], kin[p, INVERSE_REFERENCE], kin[p, B], ti, ai
            )
        out_a[i] = r
        out_t[i] += source[i] * r
        if with_matrix:
            rt[i], ra[i] = dt, da


@njit(cache=True, nogil=True, error_model="numpy")
def _error(
    cells: Any, tau: float, k1t: Array, k1a: Array, k2t: Array, k2a: Array, tol_k: float, tol_a: float
) -> Any:  # pragma: no cover
    """Largest difference between the second and the first order solution over its tolerance; NaN counts as
    the largest.
    """
    worst = 0.0
    for i in range(k1t.size):
        e = 0.5 * tau * abs(k1t[i] + k2t[i]) / tol_k
        if not e <= worst:
            worst = e
    for j in range(cells.size):
        i = cells[j]
        e = 0.5 * tau * abs(k1a[i] + k2a[i]) / tol_a
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
              nx); steady power [W]; depth and half width [m] in which each layer stirs itself
              and times its Rayleigh number
    layer     which layer a cell belongs to, -1 none; tops: the cell at the middle of each layer's upper face
    stop      [watched layer or -1, its surface conversion, the hottest allowed then K, give up above K, end
              once the peak is passed by K, its least conversion]
    times, watched, kept_t, kept_a  filled step by step; kept_* may have no rows
    Returns (how it ended, time, steps, next step, refused steps).
    """
    c, heat, kind, kin, gz, gy, gx, groom, shape, power, reach = body
    n, (nz, ny, nx) = t.size, (shape[0], shape[1], shape[2])
    inverse = np.where(c > 0.0, 1.0 / np.maximum(c, 1e-300), 0.0)
    source, drawn, steady = heat * inverse, groom * inverse, power * inverse
    cells = np.flatnonzero((kind >= 0) & (c > 0.0))
    z_after, z_before = _axis(inverse, gz, ny * nx, nz)
    y_after, y_before = _axis(inverse, gy, nx, ny)
    x_after, x_before = _axis(inverse, gx, 1, nx)
    times_better = np.zeros((tops.size, 3))
    scratch = np.empty((tops.size, WATCHED))
    stirs = reach.size > 0 and reach.max() > 0.0
    if stirs:
        z_rest, y_rest, x_rest = (
            (z_after.copy(), z_before.copy()),
            (y_after.copy(), y_before.copy()),
            (x_after.copy(), x_before.copy()),
        )
    else:
        z_rest, y_rest, x_rest = (z_after, z_before), (y_after, y_before), (x_after, x_before)
    none = np.zeros(n)
    z_lower, z_upper, z_pivot = np.empty(n), np.empty(n), np.empty(n)
    y_lower, y_upper, y_pivot = np.empty(n), np.empty(n), np.empty(n)
    x_lower, x_upper, x_pivot = np.empty(n), np.empty(n), np.empty(n)
    tn, an = np.empty(n), np.empty(n)
    f0t, k1t, k2t = np.zeros(n), np.zeros(n), np.zeros(n)
    f0a, k1a, k2a = np.zeros(n), np.zeros(n), np.zeros(n)
    rt, ra, damped = np.zeros(n), np.zeros(n), np.zeros(n)
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
            if stirs:
                _watch(t, a, layer, tops, scratch)
                stirs = stir(reach, kin, t, layer, tops, shape, scratch, times_better)
                led(z_rest, ny * nx, ny * nx, layer, times_better, True, (z_after, z_before))
                if ny > 1:
                    led(y_rest, nx, ny * nx, layer, times_better, False, (y_after, y_before))
                if nx > 1:
                    led(x_rest, 1, ny * nx, layer, times_better, False, (x_after, x_before))
            for i in range(n):
                f0t[i] = drawn[i] * (room_k - t[i]) + steady[i]
            _flow(t, z_after, z_before, ny * nx, f0t)
            if ny > 1:
                _flow(t, y_after, y_before, nx, f0t)
            if nx > 1:
                _flow(t, x_after, x_before, 1, f0t)
            _react(body, cells, source, t, a, f0t, f0a, rt, ra, True)
            fresh = False
        _factor(z_after, z_before, drawn, ny * nx, gt, z_lower, z_upper, z_pivot)
        if ny > 1:
            _factor(y_after, y_before, none, nx, gt, y_lower, y_upper, y_pivot)
        if nx > 1:
            _factor(x_after, x_before, none, 1, gt, x_lower, x_upper, x_pivot)
        for j in range(cells.size):
            i = cells[j]
            w = source[i] * rt[i] + ra[i]
            damped[i] = gt / (1.0 - gt * w) if w < 0.0 else 0.0
        room_k, _ = _room_at(room, room_step_s, now + tau)
        for stage in range(2):
            vt, va = (k1t, k1a) if stage == 0 else (k2t, k2a)
            if stage == 0:
                for i in range(n):
                    vt[i] = f0t[i] + gt * slope * drawn[i]
                    va[i] = f0a[i]
            else:
                for i in range(n):
                    tn[i] = t[i] + tau * k1t[i]
                    an[i] = a[i] + tau * k1a[i]
                for i in range(n):
                    vt[i] = drawn[i] * (room_k - tn[i]) + steady[i] - gt * slope * drawn[i] - 2.0 * k1t[i]
                    va[i] = 0.0
                _flow(tn, z_after, z_before, ny * nx, vt)
                if ny > 1:
                    _flow(tn, y_after, y_before, nx, vt)
                if nx > 1:
                    _flow(tn, x_after, x_before, 1, vt)
                _react(body, cells, source, tn, an, vt, va, rt, ra, False)
                for j in range(cells.size):
                    va[cells[j]] -= 2.0 * k1a[cells[j]]
            # the factorised inverse: reaction, then z, y, x
            for j in range(cells.size):
                i = cells[j]
                add = damped[i] * (rt[i] * vt[i] + ra[i] * va[i])
                vt[i] += source[i] * add
                va[i] += add
            _sweep(vt, ny * nx, z_lower, z_upper, z_pivot)
            if ny > 1:
                _sweep(vt, nx, y_lower, y_upper, y_pivot)
            if nx > 1:
                _sweep(vt, 1, x_lower, x_upper, x_pivot)
        worst = _error(cells, tau, k1t, k1a, k2t, k2a, tol_k, tol_a)
        if not worst <= 1.0:
            refused += 1
            tau *= max(0.2, 0.8 / np.sqrt(worst)) if worst < 1e6 else 0.2
            if tau < SMALLEST_STEP_S:
                return NOT_FINITE, now, count, tau, refused
            continue
        for i in range(n):
            t[i] += tau * (1.5 * k1t[i] + 0.5 * k2t[i])
        for j in range(cells.size):
            i = cells[j]
            a[i] = min(max(a[i] + tau * (1.5 * k1a[i] + 0.5 * k2a[i]), 0.0), 1.0)
        now, fresh = now + tau, True
        times[count] = now
        hottest = _watch(t, a, layer, tops, watched[count])
        for j in range(tops.size):
            watched[count, j, STIRRED] = max(times_better[j, UP], 1.0)
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
