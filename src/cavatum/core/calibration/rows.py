"""A sheet that gives its working time for several batches or temperatures: how much warmth matters to this
resin, and how much its start runs by itself, by all rows together. Rules 3.1, 4.1.

The first row is met as it stands. The others say the activation energy, where they lie at other temperatures,
and b, where they weigh otherwise and no film has said it. The heat of reaction they do not say: with the rate
refitted, a fifth more heat changes a large batch's time by half a per cent.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import Kinetics
from ..resin.two_temperatures import LEAST_APART_K
from ..resin.working_rows import LEAST_HEAVIER, times_heavier
from .from_sheet import PotLife, refitted, working_time
from .spread import B_FROM, TIME_SD

ENERGY_STEP_J_MOL = 10e3  # unit of the search
ENERGY_REACH = 4.0  # own judgement, in these steps
B_SD, B_MOST = 0.8, 3.0  # of ln b: that of the range that b is drawn from; fit_film's greatest
MOST_OFF = 0.3  # own judgement: of a time; further off, rows speak of different things
CLOSE_LN = 2e-3
SLOPE = 0.4  # wide, since the coarse cup's times jump by a per cent
MOST_STEP, NEAR, MOST_LOOKS = 2.0, 2e-3, 12  # of the search
Floats = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class RowFit:
    """One working time of the sheet, and what is computed for the same batch [s]."""

    pot: PotLife
    computed_s: float

    @property
    def off(self) -> float:
        """Computed over said, less one."""
        return self.computed_s / self.pot.time_s - 1


@dataclass(frozen=True, kw_only=True)
class RowsFit:
    """The rate law by all rows, and each row beside it, the first as it stands."""

    kinetics: Kinetics
    rows: tuple[RowFit, ...]

    @property
    def worst(self) -> float:
        return max(abs(one.off) for one in self.rows)


def fit_rows(
    kinetics: Kinetics, first: PotLife, others: Sequence[PotLife], *, b_is_fitted: bool = False
) -> RowsFit:
    """E and b that meet all rows best, with k2 such that the first is met.

        least sum over i of (ln(t_i(E, b) / t_i,sheet) / (sqrt(2) sd))^2 + (ln(b / b0) / 0.8)^2, sd 8 % of a
        time;   b0 alone where all weigh the same or a film said it, E alone where all are as warm

    kinetics  that meets the first row;  first  the batch it was fitted to;  others  at least one
    Raises DomainError where a row stays further off than 30 %. Valid to CLOSE_LN of the times. Source: least
    squares (Gauss), Arrhenius 1889; spreads are own judgement, as in spread.py.
    """
    first_s = working_time(kinetics, first, coarse=True)
    wants_energy = any(abs(one.temperature_c - first.temperature_c) >= LEAST_APART_K for one in others)
    weighs_otherwise = any(times_heavier(one.mass_kg, first.mass_kg) >= LEAST_HEAVIER for one in others)
    wants_b = weighs_otherwise and not b_is_fitted

    def own(x: Floats) -> Kinetics:
        energy = ENERGY_STEP_J_MOL * float(x[0]) if wants_energy else 0.0
        start = kinetics.energy_start_j_mol
        changed = kinetics.model_copy(
            update={
                "energy_j_mol": kinetics.energy_j_mol + energy,
                "energy_start_j_mol": None if start is None else start + energy,
                "b": kinetics.b * math.exp(float(x[-1])) if wants_b else kinetics.b,
            }
        )
        return refitted(changed, first, first_s, CLOSE_LN)

    def off(x: Floats) -> Floats:
        told = [
            math.log(one.computed_s / one.pot.time_s) / (math.sqrt(2) * TIME_SD)
            for one in compared(own(x), first, others)[1:]
        ]
        return np.array([*told, *([x[-1] / B_SD] if wants_b else [])])

    ends = [(-ENERGY_REACH, ENERGY_REACH)] * wants_energy
    ends += [(math.log(B_FROM / kinetics.b), math.log(B_MOST / kinetics.b))] * wants_b
    made = own(_least(off, ends)) if ends else kinetics
    found = RowsFit(kinetics=made, rows=compared(made, first, others))
    if found.worst > MOST_OFF:
        worst = max(found.rows, key=lambda one: abs(one.off))
        raise DomainError(
            argument="working times of the sheet",
            value=f"{plainly(worst.pot.time_s / 60, 3)} min for ⟦{plainly(1000 * worst.pot.mass_kg, 3)} g⟧ "
            f"at ⟦{plainly(worst.pot.temperature_c)} °C⟧",
            allowed=f"beside the others it would take about {plainly(worst.computed_s / 60, 2)} min",
            way_out="Look that line of the sheet up again: its batch, its temperature and its time.",
            code="contradicts-rows",
        )
    return found


def _least(off: Callable[[Floats], Floats], ends: list[tuple[float, float]]) -> Floats:
    """Gauss-Newton within `ends`."""
    low, high = np.array(ends).T
    x = np.clip(np.zeros(len(ends)), low, high)
    for _ in range(MOST_LOOKS):
        slopes = [(off(x + step) - off(x - step)) / (2 * SLOPE) for step in np.eye(len(x)) * SLOPE]
        step = np.linalg.lstsq(np.array(slopes).T, -off(x))[0]
        moved = np.clip(x + np.clip(step, -MOST_STEP, MOST_STEP), low, high)
        near = np.abs(moved - x).max() < NEAR
        x = moved
        if near:
            break
    return np.asarray(x, dtype=np.float64)


def compared(kinetics: Kinetics, first: PotLife, others: Sequence[PotLife]) -> tuple[RowFit, ...]:
    """Each row with the time computed for it, over the first's, which is met.

    kinetics  that meets the first
    Raises DomainError outside the rate law's temperatures. Valid as working_time, coarse. Source: as there.
    """
    scale = first.time_s / working_time(kinetics, first, coarse=True)
    longest = max(one.time_s for one in (first, *others))
    rows = [
        RowFit(pot=one, computed_s=scale * working_time(kinetics, replace(one, time_s=longest), coarse=True))
        for one in others
    ]
    return (RowFit(pot=first, computed_s=first.time_s), *rows)


@lru_cache(maxsize=128)
def known_rows(
    kinetics: Kinetics, first: PotLife, others: tuple[PotLife, ...], b_is_fitted: bool
) -> RowsFit | DomainError:
    """fit_rows, or why the rows do not fit together."""
    try:
        return fit_rows(kinetics, first, others, b_is_fitted=b_is_fitted)
    except DomainError as error:
        return error
