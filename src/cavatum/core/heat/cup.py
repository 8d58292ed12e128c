"""A batch in its cup: axisymmetric, as high as wide unless said, heat lost through thin wall, bottom and
top.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import Kinetics
from .grid import Grid, kinetics_row
from .materials import MATERIALS, SIDE_W_M2K, TOP_W_M2K, UNDERSIDE_W_M2K

CUP_WALL_M = 0.001
LEAST_KG, MOST_KG = 0.001, 50.0


@dataclass(frozen=True, kw_only=True)
class Cup:
    """slender: fill height over diameter. radial, up: cells; fewer for ensembles."""

    slender: float = 1.0
    wall_m: float = CUP_WALL_M
    radial: int = 8
    up: int = 12

    def size(self, mass_kg: float, density_kg_m3: float) -> tuple[float, float]:
        """Diameter and height of the fill [m]."""
        diameter = (4 * mass_kg / (density_kg_m3 * math.pi * self.slender)) ** (1 / 3)
        return diameter, self.slender * diameter


def cup_grid(kinetics: Kinetics, mass_kg: float, cup: Cup | None = None) -> Grid:
    """The batch as (up, 1, radial) rings. Thin wall as a series resistance. Raises DomainError outside 1 g to
    50 kg.
    """
    if not LEAST_KG <= mass_kg <= MOST_KG:
        raise DomainError(
            argument="batch",
            value=f"{plainly(mass_kg * 1000)} g",
            allowed="a cup holds between 1 g and 50 kg",
            way_out="Check the unit.",
            code="out-of-range",
        )
    cup = cup or Cup()
    diameter, height = cup.size(mass_kg, kinetics.density_kg_m3)
    plastic, k = MATERIALS["plastic"], kinetics.conductivity_w_m_k
    radial, up = cup.radial, cup.up
    edges, dz = np.linspace(0, diameter / 2, radial + 1), height / up
    dr, middle = edges[1], (edges[:-1] + edges[1:]) / 2
    ring = math.pi * np.diff(edges**2)
    wall = cup.wall_m / plastic.conductivity
    gz, gx, groom = np.zeros((up, radial)), np.zeros((up, radial)), np.zeros((up, radial))
    gz[:-1] = k * ring / dz
    gx[:, :-1] = k * 2 * math.pi * edges[1:-1] * dz / np.diff(middle)
    groom[:, -1] += 2 * math.pi * edges[-1] * dz / (dr / 2 / k + wall + 1 / SIDE_W_M2K)
    groom[0] += ring / (dz / 2 / k + wall + 1 / UNDERSIDE_W_M2K["bench"])
    groom[-1] += ring / (dz / 2 / k + 1 / TOP_W_M2K)
    cells = up * radial
    volume = np.tile(ring * dz, up)
    rho = kinetics.density_kg_m3
    return Grid(
        shape=(up, 1, radial),
        capacity=rho * kinetics.heat_capacity_j_kg_k * volume,
        heat=rho * kinetics.heat_j_kg * volume,
        kind=np.zeros(cells, np.int64),
        kinetics=kinetics_row(kinetics).reshape(1, -1),
        gz=gz.ravel(),
        gy=np.zeros(cells),
        gx=gx.ravel(),
        groom=groom.ravel(),
        layer=np.zeros(cells, np.int64),
        tops=np.array([(up - 1) * radial]),
    )
