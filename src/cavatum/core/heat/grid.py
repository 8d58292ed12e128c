"""A body cut into boxes for the kernel: capacities, heats, conductances. Shapes differ only in how these are
filled in.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ..common.errors import DomainError
from ..cure.kinetics import LAG_K, WIDTH_K, start_less
from ..cure.parameters import GAS_J_MOL_K, REFERENCE_K, Kinetics
from ..cure.viscosity import viscosity_glass
from .laws import COLUMNS, KAMAL
from .stirring import EXPANSION_1_K, GRAVITY_M_S2

Array = np.ndarray
COLDEST_K, HOTTEST_K = 233.0, 373.0  # rooms and pour temperatures; no workshop lies outside -40 to 100 degC


def kinetics_row(kinetics: Kinetics, law: int = KAMAL) -> Array:
    """One row of the kernel's table, shape (COLUMNS,): the law's number, ln k2 [ln 1/s], E/R [K], 1/T_ref
    [1/K], b, Tg0 [K], Tginf - Tg0 [K], lambda, lag and width of the diffusion switch [K]; gel point, glass
    temperature of the viscosity and what it gains [K], g beta rho^2 c / k [Pa s/(K m3)], (E1 - E)/R [K].

    law  which rate law the kernel takes
    Raises nothing. Valid for the kernel of this release only. Source: the parameters themselves.
    """
    thick_tg0 = viscosity_glass(kinetics, 0.0)
    row = np.zeros(COLUMNS)
    row[:] = (
        law,
        math.log(kinetics.k2_ref_1_s),
        kinetics.energy_j_mol / GAS_J_MOL_K,
        1 / REFERENCE_K,
        kinetics.b,
        kinetics.tg0_k,
        kinetics.tginf_k - kinetics.tg0_k,
        kinetics.lam,
        LAG_K,
        WIDTH_K,
        kinetics.gel,
        thick_tg0,
        kinetics.tginf_k - thick_tg0,
        GRAVITY_M_S2
        * EXPANSION_1_K
        * kinetics.density_kg_m3**2
        * kinetics.heat_capacity_j_kg_k
        / kinetics.conductivity_w_m_k,
        start_less(kinetics),
    )
    return row


@dataclass(frozen=True)
class Room:
    """Air temperature [K] by the step, linear between, the last one held; a single entry is a steady room."""

    by_step_k: tuple[float, ...]
    step_s: float = 3600.0

    def __post_init__(self) -> None:
        for value in self.by_step_k:
            if not COLDEST_K <= value <= HOTTEST_K:
                raise DomainError(
                    argument="room",
                    value=f"{value - 273.15:.0f} °C",
                    allowed="it lies between -40 and 100 °C",
                    way_out="Check the unit.",
                    code="out-of-range",
                )

    @classmethod
    def steady(cls, temperature_c: float) -> Room:
        return cls((temperature_c + 273.15,))

    def at(self, seconds: float) -> float:
        x = max(seconds, 0.0) / self.step_s
        i = min(int(x), len(self.by_step_k) - 1)
        j = min(i + 1, len(self.by_step_k) - 1)
        return self.by_step_k[i] + (self.by_step_k[j] - self.by_step_k[i]) * min(x - i, 1.0)

    def array(self) -> Array:
        return np.array(self.by_step_k)

    def warmer(self, kelvin: float) -> Room:
        return Room(tuple(one + kelvin for one in self.by_step_k), self.step_s)


@dataclass(frozen=True, kw_only=True)
class Grid:
    """shape (nz, ny, nx), all arrays flattened in that order. tops: per layer the cell under the middle of
    its upper face. power: steady heat into each cell [W]; none where left out. reach: depth and half
    width [m] in which each layer stirs itself while it is liquid, and at how many times its Rayleigh number
    (layers, 3); none where left out.
    """

    shape: tuple[int, int, int]
    capacity: Array
    heat: Array
    kind: Array
    kinetics: Array
    gz: Array
    gy: Array
    gx: Array
    groom: Array
    layer: Array
    tops: Array
    power: Array = field(default_factory=lambda: np.empty(0))
    reach: Array = field(default_factory=lambda: np.empty((0, 3)))

    @property
    def cells(self) -> int:
        return len(self.capacity)

    @property
    def body(self) -> tuple[Any, ...]:
        """As the kernel takes it."""
        return (
            self.capacity,
            self.heat,
            self.kind,
            self.kinetics,
            self.gz,
            self.gy,
            self.gx,
            self.groom,
            np.array(self.shape),
            self.power if self.power.size else np.zeros(self.cells),
            self.reach,
        )


@dataclass
class Line:
    """Cells in a row with their resistances, for slab, cylinder and sphere: metric 0, 1 or 2; from the middle
    (or one face) outwards.
    """

    metric: int = 0
    edges: list[float] = field(default_factory=lambda: [0.0])

    def grid(
        self,
        conductivity: float,
        density: float,
        heat_capacity: float,
        heat_j_kg: float,
        kinetics: Array,
        outer_w_m2k: float,
    ) -> Grid:
        """One material with reaction, insulated at the start (symmetry), to the room at the end. Per m2, per
        m or per body.
        """
        x = np.array(self.edges)
        factor = (1.0, 2 * math.pi, 4 * math.pi)[self.metric]
        area = factor * x**self.metric
        volume = factor * np.diff(x ** (self.metric + 1)) / (self.metric + 1)
        middle = (x[:-1] + x[1:]) / 2
        n = len(middle)
        g = np.zeros(n)
        g[:-1] = conductivity * area[1:-1] / np.diff(middle)
        groom = np.zeros(n)
        groom[-1] = area[-1] / (1 / outer_w_m2k + (x[-1] - middle[-1]) / conductivity)
        return Grid(
            shape=(n, 1, 1),
            capacity=density * heat_capacity * volume,
            heat=density * heat_j_kg * volume,
            kind=np.zeros(n, np.int64),
            kinetics=kinetics.reshape(1, -1),
            gz=g,
            gy=np.zeros(n),
            gx=np.zeros(n),
            groom=groom,
            layer=np.zeros(n, np.int64),
            tops=np.array([0]),
        )
