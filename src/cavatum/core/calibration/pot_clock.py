"""A batch in its cup, minute by minute: it warms itself, gets thinner, then thick, then sets. Rules 5.4, 5.5,
5.7, 5.9.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..common.plain_numbers import plainly
from ..common.unit_table import STANDARD_GRAVITY
from ..cure.parameters import ZERO_C_K, Kinetics
from ..cure.particles import mobility
from ..cure.viscosity import viscosity
from ..heat import kernel
from ..heat.cup import Cup, cup_grid
from ..heat.grid import Room
from ..heat.run import Stop, crossing, march

LONGEST_S = 4 * 86400.0
THICKENS = 2.0  # times its thinnest: from then on it no longer runs as it did
WARM_C = 50.0  # own judgement: a cup this warm through is about to run away
SHARE_OF_GEL = 0.8  # own judgement
GLITTER_RESTS_S = (600.0, 900.0, 1800.0)
GLITTER_M, FOIL_M, GLITTER_KG_M3 = 1e-3, 25e-6, 1380.0  # polyester flakes of 1 mm, class
POINTS = 40


@dataclass(frozen=True, kw_only=True)
class PotRun:
    """Seconds from the first stir. pour_by: the earliest of thickening, warm through, most of the gel time;
    why says which.

    gel_s      hottest cell gels; None within four days
    curve      (s, mean degC of the stirred batch, Pa s)
    """

    pour_by_s: float
    why: str
    thickens_s: float | None
    gel_s: float | None
    hottest_c: float
    curve: tuple[tuple[float, float, float], ...]

    def when(self, celsius: float) -> float | None:
        """When the stirred batch first reads a temperature."""
        at, t = np.array([row[0] for row in self.curve]), np.array([row[1] for row in self.curve])
        return crossing(at, t, celsius)


@lru_cache(maxsize=512)
def pot_clock(kinetics: Kinetics, mass_kg: float, room_c: float, start_c: float | None = None) -> PotRun:
    """A batch of mass_kg (1 g to 50 kg) left standing in its cup in a room. Raises DomainError outside.

    Viscosity and temperature of the curve are those of the whole, stirred; it thickens where either the
    whole or
    the hottest cell, in the middle, has doubled from its thinnest, and gels in that cell.
    """
    grid = cup_grid(kinetics, mass_kg, Cup())
    begin = (room_c if start_c is None else start_c) + ZERO_C_K
    done = march(
        grid,
        np.full(grid.cells, begin),
        np.zeros(grid.cells),
        Room.steady(room_c),
        0.0,
        LONGEST_S,
        Stop(layer=0, conversion=kinetics.gel + 0.1),
        keep=True,
    )
    share = grid.capacity / grid.capacity.sum()
    times = np.concatenate([[0.0], done.times])
    warmth, cured = (
        np.concatenate([[begin], done.kept_t @ share]),
        np.concatenate([[0.0], done.kept_a @ share]),
    )
    middle = int(np.argmax(done.kept_a[-1]))  # where it is hottest it thickens and gels first
    thick = _thick(kinetics, cured, warmth)
    in_the_middle = _thick(
        kinetics,
        np.concatenate([[0.0], done.kept_a[:, middle]]),
        np.concatenate([[begin], done.kept_t[:, middle]]),
    )
    gel = done.first(0, kernel.MOST_CURED, kinetics.gel)
    doubled = [crossing(times, one / np.minimum.accumulate(one), THICKENS) for one in (thick, in_the_middle)]
    thickens = min((one for one in doubled if one is not None), default=None)
    ends = [
        (thickens, "it has doubled from its thinnest"),
        (crossing(times, warmth, WARM_C + ZERO_C_K), f"it is {plainly(WARM_C)} °C warm through"),
        (gel * SHARE_OF_GEL if gel else None, "most of the time to gel in the middle has gone"),
    ]
    by, why = min(
        ((at, words) for at, words in ends if at is not None), default=(LONGEST_S, "it stays liquid for days")
    )
    until = min(gel or LONGEST_S, times[-1])
    at = np.linspace(0, until, POINTS)
    curve = tuple(
        (
            round(float(s)),
            round(float(np.interp(s, times, warmth)) - ZERO_C_K, 2),
            float(np.interp(s, times, np.minimum(thick, 1e4))),
        )
        for s in at
    )
    # How hot it gets if nobody comes: the hottest cell up to a little past gel; a floor, since it may go on
    # rising.
    return PotRun(
        pour_by_s=float(by),
        why=why,
        thickens_s=thickens,
        gel_s=gel,
        hottest_c=float(done.hottest.max()) - ZERO_C_K,
        curve=curve,
    )


def _thick(kinetics: Kinetics, cured: np.ndarray, warmth: np.ndarray) -> np.ndarray:
    """Viscosity [Pa s] (n,) of conversions and temperatures [K] (n,)."""
    return np.array(
        [min(viscosity(kinetics, float(a), float(t)), 1e9) for a, t in zip(cured, warmth, strict=True)]
    )


@dataclass(frozen=True)
class Drift:
    """Glitter of 1 mm in a still film at the room's temperature: how far it sinks [m] if added at once, and
    what share is left after a rest.
    """

    at_once_m: float
    left: tuple[tuple[float, float], ...]


@lru_cache(maxsize=256)
def glitter_drift(kinetics: Kinetics, room_c: float, density_kg_m3: float) -> Drift:
    """Sinking only (Stokes, flakes lying every way). Climbing on a turning cup goes with the film and with
    air: a rule of thumb, not this.
    """
    room_k = room_c + ZERO_C_K
    phi = mobility(kinetics, room_k)
    fall = phi * np.pi * (GLITTER_KG_M3 - density_kg_m3) * STANDARD_GRAVITY * GLITTER_M * FOIL_M / 24
    return Drift(
        float(fall), tuple((rest, mobility(kinetics, room_k, rest) / phi) for rest in GLITTER_RESTS_S)
    )
