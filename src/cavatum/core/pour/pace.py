"""Readings against the predicted curve: does this cure run ahead or behind, and by how much? Rule 7.4.

Fits one number, how many times as long everything takes, together with a constant offset of the thermometer:

    T(t) - T_room = (P(t / f) - P_room) + d

by least squares over f on a grid, refined by a bounded search; d in closed form. Nothing is claimed where the
readings cannot tell: too few, a
predicted curve too flat, or a fit hardly better than the prediction itself.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..common.plain_numbers import plainly
from ..common.working import Data

LEAST_READINGS = 6
LEAST_RISE_K = 2.0  # of the prediction over the span measured: flatter curves do not tell time
LEAST_BETTER = 0.35  # own judgement: the fit has to take away a third of the misfit
FASTEST, SLOWEST = 0.5, 2.0
MOVES_FROM = 0.04  # smaller shifts than this are not worth moving a window for; own judgement
SURFACE_LEAST_C, SURFACE_MOST_C = -20.0, 320.0  # outside, an instrument is wrong, not the resin
OFFSET_MOST_K = 3.0


class PaceFound(Data):
    """times: the cure takes so many times as long as predicted. rms_k: misfit after, before_k: with the
    prediction as it was.
    """

    times: float
    offset_k: float
    rms_k: float
    before_k: float
    readings: int
    says: str


def is_absurd(celsius: float) -> bool:
    """No surface of a piece has such a temperature: the instrument is pointed wrong or broken."""
    return not SURFACE_LEAST_C <= celsius <= SURFACE_MOST_C


def expected_c(curve: Sequence[tuple[float, float]], at_s: float) -> float:
    """The predicted degC at a moment after pouring, between the curve's points; before and after them its
    ends.
    """
    return float(np.interp(at_s, [one[0] for one in curve], [one[1] for one in curve]))


def _misfit(
    factor: float, times: np.ndarray, measured: np.ndarray, curve_t: np.ndarray, curve_c: np.ndarray
) -> tuple[float, float]:
    """(rms [K], offset [K]); times (n,) s after pouring, measured (n,) degC, curve (m,)."""
    expected = np.interp(times / factor, curve_t, curve_c)
    offset = float(np.clip(np.mean(measured - expected), -OFFSET_MOST_K, OFFSET_MOST_K))
    return float(np.sqrt(np.mean((measured - expected - offset) ** 2))), offset


def pace_of(
    readings: Sequence[tuple[float, float]], curve: Sequence[tuple[float, float]]
) -> PaceFound | None:
    """readings, curve: (s after pouring, degC). None: nothing can be said from these. Absurd readings are
    left out.
    """
    sound = [(at, celsius) for at, celsius in readings if not is_absurd(celsius) and at >= 0]
    if len(sound) < LEAST_READINGS or len(curve) < 3:
        return None
    times, measured = (np.array(part, dtype=float) for part in zip(*sound, strict=True))
    curve_t, curve_c = (np.array(part, dtype=float) for part in zip(*curve, strict=True))
    span = np.interp(np.linspace(times.min(), times.max(), 40), curve_t, curve_c)
    if max(float(np.ptp(span)), float(np.ptp(measured))) < LEAST_RISE_K:
        return None
    grid = np.exp(np.linspace(np.log(FASTEST), np.log(SLOWEST), 81))
    best = min(grid, key=lambda one: _misfit(one, times, measured, curve_t, curve_c)[0])
    step = np.log(SLOWEST / FASTEST) / 80
    fine = best * np.exp(np.linspace(-step, step, 41))
    best = float(min(fine, key=lambda one: _misfit(one, times, measured, curve_t, curve_c)[0]))
    rms, offset = _misfit(best, times, measured, curve_t, curve_c)
    before, _ = _misfit(1.0, times, measured, curve_t, curve_c)
    if abs(best - 1) < MOVES_FROM or rms > (1 - LEAST_BETTER) * before:
        return PaceFound(
            times=1.0,
            offset_k=offset,
            rms_k=before,
            before_k=before,
            readings=len(sound),
            says="as predicted, as far as these readings tell",
        )
    word = "ahead of" if best < 1 else "behind"
    return PaceFound(
        times=best,
        offset_k=offset,
        rms_k=rms,
        before_k=before,
        readings=len(sound),
        says=f"the cure takes {best:.2f} times as long as predicted, so it is {word} the plan "
        f"({len(sound)} readings, {_closer(rms, before)} to the curve moved so than to the predicted one)",
    )


def _closer(rms_k: float, before_k: float) -> str:
    """How much nearer the readings lie, as times: the same in degrees of either kind."""
    if rms_k <= 0:
        return "much closer"
    return f"{plainly(before_k / rms_k, 2)} times closer"
