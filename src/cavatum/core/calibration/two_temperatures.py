"""A sheet that gives times at two temperatures: how much the warmth matters to this resin, instead of to its
class. Rules 3.1, 4.1.

The working time of the same batch says it of the start, the time until it leaves the form of the rest. Where
a sheet gives one of the two alone, one energy for both meets it.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import GAS_J_MOL_K, ZERO_C_K, Kinetics
from ..heat import kernel
from ..heat.run import Stop
from ..resin.two_temperatures import OtherTimes
from .from_sheet import NEVER_S, PotLife, refitted, working_time
from .gates import SheetTimes, gates_of
from .own_layer import own_layer

ENERGY_J_MOL = (20e3, 120e3)  # own judgement: what cures of this kind have, and some to either side
CLOSE_LN = 2e-3
SLOPE_J_MOL, MOST_STEP_J_MOL, MOST_STEPS = 1500.0, 20e3, 15
LEAST_SLOPE = 1e-6
Floats = NDArray[np.float64]


def energy_sd(first_c: float, other_c: float, time_sd: float) -> float:
    """How well two times tell an energy [J/mol].

        sd(E) = R sqrt(2) sd(ln t) / |1/T1 - 1/T2|

    first_c, other_c  [degC];  time_sd  of each time, as a share
    Raises ZeroDivisionError where they are the same. Valid for small time_sd. Source: propagation of error
    through Arrhenius' law.
    """
    apart = abs(1 / (first_c + ZERO_C_K) - 1 / (other_c + ZERO_C_K))
    return GAS_J_MOL_K * math.sqrt(2) * time_sd / apart


def fit_energies(kinetics: Kinetics, pot: PotLife, times: SheetTimes, other: OtherTimes) -> Kinetics:
    """E and E1 such that the model meets a sheet's times at its second temperature, with the working
    time at the first as it is.

        working time(E1, E; T2) = working time(T1) x t_work2 / t_work1;   least cured cell of the sheet's own
        layer: t(a_demould; T2) = t_demould2, a_demould the conversion it has at t_demould1 and T1

    kinetics  of the sheet at its first temperature;  pot, times  what it gives there;  other  what it gives
              at the second
    Raises DomainError where no energy within 20 and 120 kJ/mol meets it. Valid to CLOSE_LN of the times.
    Source: Arrhenius 1889, the heat equation of heat/.
    """

    def early(made: Kinetics) -> float:
        wanted_s = other.working_s or pot.time_s
        there = replace(pot, temperature_c=other.at_c, time_s=max(wanted_s, pot.time_s))
        times_as_long = working_time(made, there) / working_time(made, pot)
        return math.log(times_as_long * pot.time_s / wanted_s)

    def late(made: Kinetics) -> float:
        return _late(made, times, other.at_c, other.demould_s or times.demould_s)

    first_s = working_time(kinetics, pot, coarse=True)

    def own(x: Floats) -> Kinetics:
        start, rest = (float(x[0]), float(x[1])) if len(x) == 2 else (None, float(x[0]))
        changed = kinetics.model_copy(update={"energy_j_mol": rest, "energy_start_j_mol": start})
        return refitted(changed, pot, first_s, CLOSE_LN)

    asked: list[Callable[[Kinetics], float]] = [
        one for one, said in ((early, other.working_s), (late, other.demould_s)) if said is not None
    ]
    made = _met(own, asked, np.full(len(asked), kinetics.energy_j_mol))
    if made is None:
        raise DomainError(
            argument="times of the sheet",
            value=f"those at ⟦{plainly(other.at_c)} °C⟧",
            allowed="no resin of this class minds the temperature so much, or so little",
            way_out="Look both temperatures and their times up again.",
            code="contradicts-warmth",
        )
    return made


def _met(
    own: Callable[[Floats], Kinetics], off: list[Callable[[Kinetics], float]], start: Floats
) -> Kinetics | None:
    """Newton's steps with differences for slopes, held within ENERGY_J_MOL; None where they lead nowhere."""
    x = start
    for _ in range(MOST_STEPS):
        made = own(x)
        here = np.array([one(made) for one in off])
        if np.abs(here).max() < CLOSE_LN:
            return made
        aside = [own(x + step) for step in np.eye(len(x)) * SLOPE_J_MOL]
        slopes = np.array([[one(made) for made in aside] for one in off]) - here[:, None]
        if abs(np.linalg.det(slopes)) < LEAST_SLOPE:  # it never gets there at that temperature
            return None
        step = np.linalg.solve(slopes, -here) * SLOPE_J_MOL
        x = np.clip(x + np.clip(step, -MOST_STEP_J_MOL, MOST_STEP_J_MOL), *ENERGY_J_MOL)
    return None


@lru_cache(maxsize=128)
def known_energies(
    kinetics: Kinetics, pot: PotLife, times: SheetTimes, other: OtherTimes
) -> Kinetics | DomainError:
    """fit_energies, or why no energy meets the times."""
    try:
        return fit_energies(kinetics, pot, times, other)
    except DomainError as error:
        return error


def _late(made: Kinetics, times: SheetTimes, at_c: float, demould_s: float) -> float:
    gate = gates_of(made, times).demould
    layer = own_layer(made, times.depth_m, at_c, coarse=True)
    done = layer.wait(20 * demould_s, Stop(layer=0, conversion=0.0, least=gate + 0.01))[1]
    return math.log((done.first(0, kernel.LEAST_CURED, gate) or NEVER_S) / demould_s)
