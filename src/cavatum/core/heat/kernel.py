"""One compiled march for slab, cylinder, sphere, cup, box, column and voxels: heat and reaction on a grid of boxes.

    C dT/dt = sum over faces g (T_next - T) + g_room (T_room(t) - T) + H dm da/dt,    da/dt = rate(a, T)

Time: ROS2, a second-order W-method (Verwer, Spee, Blom and Hundsdorfer, SIAM J. Sci. Comput. 20 (1999) 1456; from memory),
gamma = 1 - 1/sqrt 2, the matrix by approximate factorisation: the pointwise 2 x 2 reaction, then tridiagonal z, y and x.
A reaction's positive eigenvalue is dropped from the matrix, never from the equation. Error by the embedded first-order
solution, step adapted to it. Compiled functions are not seen by coverage: they are run by every test of heat/.
"""

from __future__ import annotations

import numpy as np
from numba import njit

GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# Columns of the table of kinetics, one row a resin.
LAW, LN_K2, E_OVER_R, INVERSE_REFERENCE, B, TG0, DTG, LAM, LAG, WIDTH = range(10)
COLUMNS = 10
KAMAL, FIRST_ORDER, EXPONENTIAL = 0, 1, 2  # laws: m = 1, n = 2 with vitrification; m = n = 1; zero order in a, exp in T
# What is watched of each layer at each step.
HOTTEST, MOST_CURED, LEAST_CURED, TOP_T, TOP_A = range(5)
WATCHED = 5
# How a march ended.
DONE, EVENT, TOO_HOT, MORE_STEPS, NOT_FINITE = range(5)
SMALLEST_STEP_S = 1e-9


@njit(cache=True, nogil=True, error_model="numpy")
def rate_of(p, t, a):  # pragma: no cover
    """Rate [1/s] and its derivatives by T [1/(s K)] and a [1/s]."""
    if p[LAW] == EXPONENTIAL:  # Frank-Kamenetskii: k exp(T), nothing is used up; INVERSE_REFERENCE is the scale [1/K]
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
def _room_at(room, step_s, t):  # pragma: no cover
    """Temperature and slope, linear between the entries, the last one held."""
    x = t / step_s
    i = int(x)
    if i >= room.size - 1:
        return room[room.size - 1], 0.0
    slope = (room[i + 1] - room[i]) / step_s
    return room[i] + slope * (t - i * step_s), slope


@njit(cache=True, nogil=True, error_model="numpy")
def _balance(t, c, g, stride, out):  # pragma: no cover
    """Adds the flow between neighbours at distance `stride` to out [W]."""
    for i in range(t.size - stride):
        if g[i] != 0.0:
            q = g[i] * (t[i + stride] - t[i])
            out[i] += q
            out[i + stride] -= q


@njit(cache=True, nogil=True, error_model="numpy")
def _sweep(v, c, g, extra, stride, length, gt, upper):  # pragma: no cover
    """Solves (1 - gamma tau A) x = v along one axis, in place. extra: conductance to the room, taken with this axis."""
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
def march(t, a, c, heat, kind, kin, gz, gy, gx, groom, shape, room, room_step_s, from_s, to_s, first_step_s, tol_k, tol_a,
          layer, tops, stop, times, watched, kept_t, kept_a):  # pragma: no cover
    """Marches T and a in place from from_s to to_s.

    t, a      state [K], [-], flattened (nz, ny, nx)
    c, heat   capacity [J/K], 0 where there is nothing; heat of the whole reaction [J]
    kind, kin row of the kinetics table, -1 where nothing reacts
    gz gy gx  conductance to the next cell on each axis [W/K]; groom to the room [W/K]
    layer     which layer a cell belongs to, -1 none; tops: the cell at the middle of each layer's upper face
    stop      [watched layer or -1, its surface conversion, the hottest allowed then K, give up above K, end once the peak is passed by K]
    times, watched, kept_t, kept_a  filled step by step; kept_* may have no rows
    Returns (how it ended, time, steps, next step, refused steps).
    """
    n, layers = t.size, tops.size
    nz, ny, nx = shape[0], shape[1], shape[2]
    tn, an = np.empty(n), np.empty(n)
    k1t, k1a, k2t, k2a = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    rt, ra = np.empty(n), np.empty(n)
    upper, none = np.empty(n), np.zeros(n)
    now, tau, count, refused = from_s, min(first_step_s, to_s - from_s), 0, 0
    peak, fresh = 0.0, True
    while now < to_s - 1e-9:
        if count >= times.size:
            return MORE_STEPS, now, count, tau, refused
        tau = min(tau, to_s - now)
        gt = GAMMA * tau
        if fresh:
            room_k, slope = _room_at(room, room_step_s, now)
            k1t[:] = 0.0
            _balance(t, c, gz, ny * nx, k1t)
            if ny > 1:
                _balance(t, c, gy, nx, k1t)
            if nx > 1:
                _balance(t, c, gx, 1, k1t)
            for i in range(n):
                k1a[i] = 0.0
                if c[i] == 0.0:
                    k1t[i] = 0.0
                    continue
                if kind[i] >= 0:
                    k1a[i], rt[i], ra[i] = rate_of(kin[kind[i]], t[i], a[i])
                k1t[i] = (k1t[i] + groom[i] * (room_k - t[i]) + heat[i] * k1a[i]) / c[i]
            k2t[:] = k1t  # kept for a step that has to be taken again
            k2a[:] = k1a
            fresh = False
        else:
            k1t[:] = k2t
            k1a[:] = k2a
        for i in range(n):
            if c[i] == 0.0:
                continue
            k1t[i] += gt * groom[i] * slope / c[i]
            if kind[i] >= 0:
                h = heat[i] / c[i]
                w = h * rt[i] + ra[i]
                if w < 0.0:
                    add = gt * (rt[i] * k1t[i] + ra[i] * k1a[i]) / (1.0 - gt * w)
                    k1t[i] += h * add
                    k1a[i] += add
        _sweep(k1t, c, gz, groom, ny * nx, nz, gt, upper)
        if ny > 1:
            _sweep(k1t, c, gy, none, nx, ny, gt, upper)
        if nx > 1:
            _sweep(k1t, c, gx, none, 1, nx, gt, upper)
        for i in range(n):
            tn[i] = t[i] + tau * k1t[i]
            an[i] = min(max(a[i] + tau * k1a[i], 0.0), 1.0)
        room_next, _ = _room_at(room, room_step_s, now + tau)
        st = np.zeros(n)
        _balance(tn, c, gz, ny * nx, st)
        if ny > 1:
            _balance(tn, c, gy, nx, st)
        if nx > 1:
            _balance(tn, c, gx, 1, st)
        worst = 0.0
        sa = np.zeros(n)
        for i in range(n):
            if c[i] == 0.0:
                continue
            r = 0.0
            if kind[i] >= 0:
                r, _, _ = rate_of(kin[kind[i]], max(tn[i], 150.0), an[i])
            st[i] = (st[i] + groom[i] * (room_next - tn[i]) + heat[i] * r - gt * groom[i] * slope) / c[i] - 2.0 * k1t[i]
            sa[i] = r - 2.0 * k1a[i]
            if kind[i] >= 0:
                h = heat[i] / c[i]
                w = h * rt[i] + ra[i]
                if w < 0.0:
                    add = gt * (rt[i] * st[i] + ra[i] * sa[i]) / (1.0 - gt * w)
                    st[i] += h * add
                    sa[i] += add
        _sweep(st, c, gz, groom, ny * nx, nz, gt, upper)
        if ny > 1:
            _sweep(st, c, gy, none, nx, ny, gt, upper)
        if nx > 1:
            _sweep(st, c, gx, none, 1, nx, gt, upper)
        for i in range(n):
            if c[i] == 0.0:
                continue
            e = 0.5 * tau * abs(k1t[i] + st[i]) / tol_k
            if kind[i] >= 0:
                e = max(e, 0.5 * tau * abs(k1a[i] + sa[i]) / tol_a)
            if not e <= worst:
                worst = e
        if not worst <= 1.0:
            refused += 1
            tau *= 0.2 if not worst < 1e6 else max(0.2, 0.8 / np.sqrt(worst))
            if tau < SMALLEST_STEP_S:
                return NOT_FINITE, now, count, tau, refused
            continue
        for i in range(n):
            t[i] += tau * (1.5 * k1t[i] + 0.5 * st[i])
            if kind[i] >= 0:
                a[i] = min(max(a[i] + tau * (1.5 * k1a[i] + 0.5 * sa[i]), 0.0), 1.0)
        now += tau
        fresh = True
        times[count] = now
        for j in range(layers):
            watched[count, j, HOTTEST] = 0.0
            watched[count, j, MOST_CURED] = 0.0
            watched[count, j, LEAST_CURED] = 1.0
            watched[count, j, TOP_T] = t[tops[j]]
            watched[count, j, TOP_A] = a[tops[j]]
        for i in range(n):
            j = layer[i]
            if j >= 0:
                watched[count, j, HOTTEST] = max(watched[count, j, HOTTEST], t[i])
                watched[count, j, MOST_CURED] = max(watched[count, j, MOST_CURED], a[i])
                watched[count, j, LEAST_CURED] = min(watched[count, j, LEAST_CURED], a[i])
        if kept_t.shape[0] > 0:
            kept_t[count] = t
            kept_a[count] = a
        count += 1
        hottest = 0.0
        for j in range(layers):
            hottest = max(hottest, watched[count - 1, j, HOTTEST])
        peak = max(peak, hottest)
        if hottest > stop[3]:
            return TOO_HOT, now, count, tau, refused
        j = int(stop[0])
        if j >= 0 and watched[count - 1, j, TOP_A] >= stop[1] and hottest <= stop[2]:
            return EVENT, now, count, tau, refused
        if stop[4] > 0.0 and hottest < peak - stop[4]:
            return EVENT, now, count, tau, refused
        tau *= min(3.0, 0.8 / np.sqrt(max(worst, 1e-4)))
    return DONE, now, count, tau, refused
