"""From what a data sheet says to kinetics: the class's values, moved so that the model meets the sheet's own
figures.

Fixed by class: E, m, n, H, cp, k, Tg's. Fitted: ln k2 always, b only where a second number exists. Each
figure is met by the criterion
it means. What the sheet cannot mean is said, never extrapolated.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.roots import brentq
from ..cure.parameters import ZERO_C_K, Kinetics
from ..cure.viscosity import viscosity
from ..heat import kernel
from ..heat.cup import Cup, cup_grid
from ..heat.grid import Room
from ..heat.run import TOLERANCE_K, March, Stop, crossing, march
from .own_layer import COARSE_K, own_layer

NEVER_S = 60 * 86400.0  # stands for "does not gel": large and finite, so that a bracket can be walked
TOO_THICK = 6.0  # own choice: times the fresh mix's viscosity, what the fast class has at its working time
TACK_FREE = 0.65  # conversion of a film that no longer sticks, class
REACH = math.log(100.0)  # a sheet a hundredfold off its class is another kind of resin
TOLERANCE_LN = 1e-4
CLOSE, MOST_LOOKS = 0.04, 8  # far below the 8 % that an ensemble draws


@dataclass(frozen=True, kw_only=True)
class PotLife:
    """A working time with its batch, its temperature and what it means."""

    time_s: float
    mass_kg: float
    temperature_c: float
    criterion: str  # gel, doubled viscosity, too thick to pour, a temperature
    until_c: float | None = None  # of "a temperature": the stirred batch reads this


def scaled(kinetics: Kinetics, ln_factor: float) -> Kinetics:
    return kinetics.model_copy(update={"k2_ref_1_s": kinetics.k2_ref_1_s * math.exp(ln_factor)})


def working_time(kinetics: Kinetics, pot: PotLife, *, coarse: bool = False) -> float:
    """Modelled working time [s] of a batch in its cup, by the sheet's own sign; NEVER_S when it does not
    come.

        gel: the hottest cell reaches the gel point.   viscosity: the mean of the batch reaches 2 or
        TOO_THICK times its
        fresh one.   temperature: the mean reaches it.

    pot     mass [kg], temperature [degC], time [s] and sign of the sheet
    coarse  fewer cells and wider tolerance, for searches
    Raises DomainError outside the rate law's temperatures. Valid for a cup as wide as high, in still air.
    Source: the heat equation of heat/ with the rate law of cure/, on the cup's own grid.
    """
    grid = cup_grid(kinetics, pot.mass_kg, Cup(radial=4, up=6) if coarse else Cup())
    start = np.full(grid.cells, pot.temperature_c + ZERO_C_K)
    gel = pot.criterion not in ("doubled viscosity", "too thick to pour", "a temperature")
    until = 4 * max(pot.time_s, 600.0) if gel else 3 * max(pot.time_s, 600.0)
    stop = Stop(layer=0, conversion=kinetics.gel + 0.02, hottest_k=1e9) if gel else None
    done = march(
        grid,
        start,
        np.zeros(grid.cells),
        Room.steady(pot.temperature_c),
        0.0,
        until,
        stop,
        keep=not gel,
        tolerance_k=COARSE_K if coarse else TOLERANCE_K,
        tolerance_a=(COARSE_K if coarse else TOLERANCE_K) / 100,
    )
    if gel:
        return done.first(0, kernel.MOST_CURED, kinetics.gel) or NEVER_S
    share = grid.capacity / grid.capacity.sum()
    mean_a, mean_t = done.kept_a @ share, done.kept_t @ share
    if pot.criterion == "a temperature" and pot.until_c is not None:
        return crossing(done.times, mean_t, pot.until_c + ZERO_C_K) or NEVER_S
    return (
        crossing(done.times, _thickening(kinetics, pot, mean_a, mean_t), _THICK_AT[pot.criterion]) or NEVER_S
    )


Floats = NDArray[np.float64]
_THICK_AT = {"doubled viscosity": 2.0, "too thick to pour": TOO_THICK, "a temperature": TOO_THICK}


def _thickening(kinetics: Kinetics, pot: PotLife, a: Floats, t: Floats) -> Floats:
    """Viscosity over that of the fresh mix, for the whole batch; at most 1e6."""
    fresh = viscosity(kinetics, 0.0, pot.temperature_c + ZERO_C_K)
    times = [viscosity(kinetics, one, at) / fresh for one, at in zip(a, t, strict=True)]
    return np.array([min(one, 1e6) for one in times])


def fit_rate(
    kinetics: Kinetics, wanted_s: float, modelled: Callable[[Kinetics], float], what: str
) -> Kinetics:
    """k2 such that the model meets a time: brentq on ln k2, objective ln(t_model / t_sheet), the bracket
    walked outwards.

    Raises DomainError when no k2 within a factor of 100 of the class does.
    """

    def off(x: float) -> float:
        return math.log(modelled(scaled(kinetics, x)) / wanted_s)

    here = off(0.0)
    if abs(here) < TOLERANCE_LN:
        return kinetics
    step = min(max(here, -REACH), REACH)  # time goes as 1 / k2 while nothing heats
    while True:
        value = off(step)
        if value * here <= 0:
            return scaled(
                kinetics, float(brentq(off, min(0.0, step), max(0.0, step), xtol=TOLERANCE_LN, rtol=1e-6))
            )
        if abs(step) >= REACH:
            break
        step = min(max(step + (value if abs(value) > 0.05 else math.copysign(0.05, here)), -REACH), REACH)
    raise DomainError(
        argument=what,
        value=f"{plainly(wanted_s / 60, 3)} min",
        allowed="no resin of this class is a hundred times as quick or as slow",
        way_out="Check the time and its unit, or choose the class it cures like.",
        code="contradicts-class",
    )


def fit_pot_life(kinetics: Kinetics, pot: PotLife) -> Kinetics:
    """k2 from a working time, by the criterion it means. A batch outside 1 g to 50 kg raises DomainError."""
    return fit_rate(kinetics, pot.time_s, lambda one: working_time(one, pot), "working time")


def refitted(kinetics: Kinetics, pot: PotLife, time_s: float, close: float = CLOSE) -> Kinetics:
    """As fit_pot_life, coarsely and quickly: a few looks at the cup, and the last step by the slope between
    the last two.

        x += -ln(t(x) / t_sheet) / slope, from the class's own scaling (time goes as 1 / k2)

    kinetics  to begin from;  pot  the batch;  time_s  what it is to take [s];  close  of the logarithm of
              the time: nearer, the slope is good enough for the rest
    Raises as working_time. Valid to about a tenth of `close`, for ensembles and searches. Source: secants.
    """
    x, slope = 0.0, -1.0
    off = math.log(working_time(kinetics, pot, coarse=True) / time_s)
    for _ in range(MOST_LOOKS):
        step = -off / slope
        x += step
        if abs(off) < close:
            break
        now = math.log(working_time(scaled(kinetics, x), pot, coarse=True) / time_s)
        slope = min(max((now - off) / step, -3.0), -0.3)
        off = now
    return scaled(kinetics, x)


def _slab(kinetics: Kinetics, depth_m: float, room_c: float, to_s: float, stop: Stop | None = None) -> March:
    return own_layer(kinetics, depth_m, room_c, stirs=0.0).wait(to_s, stop)[1]


def fit_slab_gel(kinetics: Kinetics, depth_m: float, room_c: float, gel_s: float) -> Kinetics:
    """k2 from the time at which a wide layer on 18 mm board first gels."""

    def modelled(one: Kinetics) -> float:
        return (
            _slab(one, depth_m, room_c, 4 * gel_s, Stop(layer=0, conversion=one.gel + 0.05)).first(
                0, kernel.MOST_CURED, one.gel
            )
            or NEVER_S
        )

    return fit_rate(kinetics, gel_s, modelled, "gel time")


def fit_slab_peak(kinetics: Kinetics, depth_m: float, room_c: float, peak_c: float) -> Kinetics:
    """k2 from the peak [degC] of a wide layer on 18 mm board: the objective is the rise over the room."""

    def off(x: float) -> float:
        rise = (
            _slab(scaled(kinetics, x), depth_m, room_c, 10 * 86400.0, Stop(past_peak_k=0.5)).peak(0)[0]
            - ZERO_C_K
            - room_c
        )
        return math.log(max(rise, 1e-3) / (peak_c - room_c))

    low, high = -math.log(6.0), math.log(6.0)
    if peak_c <= room_c + 0.5 or off(low) > 0 or off(high) < 0:
        raise DomainError(
            argument="peak temperature",
            value=f"{plainly(peak_c)} °C",
            allowed="this class reaches it at no speed in that layer",
            way_out="Check the layer it holds for.",
            code="contradicts-class",
        )
    return scaled(kinetics, float(brentq(off, low, high, xtol=1e-3)))


def fit_film(kinetics: Kinetics, pot: PotLife, film_m: float, tack_free_s: float) -> Kinetics:
    """b and k2 from two numbers: the working time in the cup and the tack-free time of a thin film at 23 degC
    (a = 0.65).

    Outer brentq on ln b within 0.02 to 3, inner k2 by the working time. Raises DomainError when no b meets
    both: then the sheet
    contradicts itself.
    """

    def at(x: float) -> Kinetics:
        return fit_pot_life(kinetics.model_copy(update={"b": math.exp(x)}), pot)

    def off(x: float) -> float:
        done = _slab(at(x), film_m, 23.0, 4 * tack_free_s)
        return math.log((done.first(0, kernel.TOP_A, TACK_FREE) or NEVER_S) / tack_free_s)

    low, high = math.log(0.02), math.log(3.0)
    if off(low) * off(high) > 0:
        raise DomainError(
            argument="tack-free time",
            value=f"{plainly(tack_free_s / 3600, 3)} h",
            allowed="no resin of this class has both this and the working time",
            way_out="Look both up again: the sheet contradicts itself.",
            code="contradicts-itself",
        )
    return at(float(brentq(off, low, high, xtol=1e-3)))


@lru_cache(maxsize=128)
def cached_film(
    kinetics: Kinetics, pot: PotLife, film_m: float, tack_free_s: float
) -> Kinetics | DomainError:
    """fit_film, or why the two numbers cannot both be met."""
    try:
        return fit_film(kinetics, pot, film_m, tack_free_s)
    except DomainError as error:
        return error


@lru_cache(maxsize=256)
def cached_pot_life(kinetics: Kinetics, pot: PotLife) -> Kinetics:
    return fit_pot_life(kinetics, pot)
