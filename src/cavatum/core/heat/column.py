"""Any void as rows from the floor up, each of them shells from the middle to the wall (rows.py), then its
wall and its floor: layers poured one on the other, and their state.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import Kinetics
from .body import Body
from .grid import COLDEST_K, HOTTEST_K, Array, Grid, Room, kinetics_row
from .materials import Material, Surround
from .rows import SHELLS, Rows, rows_of
from .run import TOLERANCE_K, March, Stop, march

LAYER_CELLS, THIN_CELLS, THIN_M = 20, 10, 0.008
FLOOR_CELLS, WALL_CELLS, WOOD_CELLS = 5, 2, 4
STORES_FROM_M = 0.006  # a thinner wall is a resistance only
DEEPEST_M = 2.0


@dataclass(frozen=True, kw_only=True)
class Cast:
    """One layer to be poured: from and to [m] above the bottom, its resin, its temperature when poured (None:
    the room's), how far it is cured by then.

    is_coarse: half the cells, for ensembles
    """

    from_m: float
    to_m: float
    kinetics: Kinetics
    poured_k: float | None = None
    conversion: float = 0.0
    is_coarse: bool = False

    def __post_init__(self) -> None:
        if not 0 < self.to_m - self.from_m <= DEEPEST_M:
            raise DomainError(
                argument="layer",
                value=f"{plainly((self.to_m - self.from_m) * 1000)} mm deep",
                allowed=f"it is deeper than 0 and at most {plainly(DEEPEST_M * 1000)} mm",
                way_out="Correct it.",
                code="out-of-range",
            )
        if self.poured_k is not None and not COLDEST_K <= self.poured_k <= HOTTEST_K:
            raise DomainError(
                argument="pour temperature",
                value=f"{self.poured_k - 273.15:.0f} °C",
                allowed="it lies between -40 and 100 °C",
                way_out="Check the unit.",
                code="out-of-range",
            )
        if not 0 <= self.conversion < 1:
            raise DomainError(
                argument="conversion when poured",
                value=f"{self.conversion:.2f}",
                allowed="it lies between 0 and 1",
                way_out="Pour it sooner.",
                code="out-of-range",
            )

    @property
    def cells(self) -> int:
        return THIN_CELLS if self.is_coarse or self.to_m - self.from_m < THIN_M else LAYER_CELLS


@dataclass(frozen=True, kw_only=True)
class Stack:
    """Layers poured so far and their state. heights: middle of each row above the bottom [m], floor below 0.
    Never changed in place.
    """

    body: Body
    surround: Surround
    room: Room
    casts: tuple[Cast, ...] = ()
    at_s: float = 0.0
    t: Array = field(default_factory=lambda: np.empty(0))
    a: Array = field(default_factory=lambda: np.empty(0))
    grid: Grid | None = None
    step_s: float = 1.0
    tolerance_k: float = TOLERANCE_K

    def pour(self, cast: Cast) -> Stack:
        """The next layer on top, now."""
        if self.casts and abs(cast.from_m - self.casts[-1].to_m) > 1e-6:
            raise DomainError(
                argument="layer",
                value=f"from {plainly(cast.from_m * 1000)} mm",
                allowed=f"it starts where the last one ends, {plainly(self.casts[-1].to_m * 1000)} mm",
                way_out="Correct its height.",
                code="out-of-order",
            )
        casts = (*self.casts, cast)
        grid = column_grid(self.body, self.surround, casts)
        room_k = self.room.at(self.at_s)
        rows, across = grid.shape[0], grid.shape[2]
        t, a = np.full((rows, across), room_k), np.zeros((rows, across))
        old = len(self.t) // across
        t[:old], a[:old] = self.t.reshape(-1, across), self.a.reshape(-1, across)
        poured = (slice(rows - cast.cells, None), slice(0, core_cells(self.body)))
        if cast.poured_k is not None:
            t[poured] = cast.poured_k
        a[poured] = cast.conversion
        return replace(self, casts=casts, grid=grid, t=t.ravel(), a=a.ravel(), step_s=1.0)

    def wait(self, to_s: float, stop: Stop | None = None, *, keep: bool = False) -> tuple[Stack, March]:
        """Time goes by to to_s, or to where `stop` is met."""
        assert self.grid is not None
        done = march(
            self.grid,
            self.t,
            self.a,
            self.room,
            self.at_s,
            to_s,
            stop,
            keep=keep,
            first_step_s=self.step_s,
            tolerance_k=self.tolerance_k,
            tolerance_a=self.tolerance_k / 100,
        )
        return replace(self, at_s=done.at_s, t=done.t, a=done.a, step_s=done.next_step_s), done

    @property
    def heights(self) -> Array:
        return column_heights(self.surround, self.casts)


def floor_cells(surround: Surround) -> int:
    """Rows of the floor, below those of the resin; none where it is thin enough to be a resistance only.

    surround  with the floor's thickness [m]
    Raises nothing. Valid for column_grid. Source: by definition of the grid.
    """
    return FLOOR_CELLS if surround.floor_m >= STORES_FROM_M else 0


def _wall_cells(body: Body, surround: Surround) -> int:
    if body.is_wide or surround.wall_m < STORES_FROM_M or surround.wall == "metal":
        return 0
    return WOOD_CELLS if surround.wall == "wood" else WALL_CELLS


def column_heights(surround: Surround, casts: tuple[Cast, ...]) -> Array:
    """Heights [m] of the middles of all rows of a column, floor first, shape (n,); 0 is the void's floor.

    casts  layers with from_m and to_m [m] and their number of cells
    Raises nothing. Exact for equal rows in each part. Source: by definition of the grid.
    """
    floor = floor_cells(surround)
    parts = [(np.arange(floor) + 0.5) / max(floor, 1) * surround.floor_m - surround.floor_m]
    parts += [
        cast.from_m + (np.arange(cast.cells) + 0.5) * (cast.to_m - cast.from_m) / cast.cells for cast in casts
    ]
    return np.concatenate(parts)


def core_cells(body: Body) -> int:
    """Shells of resin across, before those of the wall; one where the body is wide.

    body  by height [m]
    Raises nothing. Valid for column_grid. Source: by definition of the grid.
    """
    return 1 if body.is_wide else len(SHELLS) - 1


def column_grid(body: Body, surround: Surround, casts: tuple[Cast, ...]) -> Grid:
    """Rows (floor, then layers) x (shells from the middle out, then wall cells outwards)."""
    floor, walls, cores = floor_cells(surround), _wall_cells(body, surround), core_cells(body)
    under, wall = surround.floor_material, surround.wall_material
    edges = [np.linspace(cast.from_m, cast.to_m, cast.cells + 1) for cast in casts]
    resin = rows_of(body, edges, _by_row(casts, 0, lambda one: one.conductivity_w_m_k, 0.0), surround)
    index = _layer_by_row(casts, floor)
    rows, across, top = len(index), cores + walls, slice(floor, None)
    depth = np.concatenate([np.full(floor, surround.floor_m / max(floor, 1)), resin.depth])
    areas = np.concatenate([np.repeat(resin.areas[:1], floor, axis=0), resin.areas])
    k = _by_row(casts, floor, lambda one: one.conductivity_w_m_k, under.conductivity)
    shape = (rows, across)
    capacity, heat, gz, gx, groom, power = (np.zeros(shape) for _ in range(6))
    volume = areas * depth[:, None]
    capacity[:, :cores] = (
        volume
        * _by_row(
            casts,
            floor,
            lambda one: one.density_kg_m3 * one.heat_capacity_j_kg_k,
            under.density * under.heat_capacity,
        )[:, None]
    )
    heat[:, :cores] = (
        volume * _by_row(casts, floor, lambda one: one.density_kg_m3 * one.heat_j_kg, 0.0)[:, None]
    )
    half = (depth / 2 / k)[:, None]
    gz[:-1, :cores] = np.minimum(areas[:-1], areas[1:]) / (half[:-1] + half[1:])
    below = 0.0 if floor else surround.floor_m / under.conductivity
    down = areas[0] / (half[0] + below + 1 / surround.underside_w_m2k)
    up = areas[-1] / (half[-1] + 1 / surround.over_w_m2k)
    groom[0, :cores] += down
    groom[-1, :cores] += up
    power[0, :cores] += down * surround.under_off_k
    power[-1, :cores] += up * surround.top_off_k
    if cores > 1:
        gx[top, : cores - 1] = resin.inner
        gx[:floor, : cores - 1] = (
            resin.inner[:1] / resin.depth[0] * under.conductivity / k[floor] * depth[:floor, None]
        )
    if cores > 1 and walls:
        _standing_walls(
            wall,
            surround,
            resin,
            (capacity[top, cores:], gz[top, cores:], gx[top, cores - 1 :], groom[top, cores:]),
        )
        if floor:
            _floor_beside(
                surround,
                resin,
                depth[0],
                float(k[floor]),
                (capacity[:, cores:], gz[:, cores:], gx[:, cores - 1 :], groom[:, cores:]),
            )
    elif cores > 1:
        groom[top, cores - 1] += _in_series(
            resin.outer, resin.wall, surround.wall_m / wall.conductivity + 1 / max(surround.side_w_m2k, 1e-9)
        )
    layer = np.full(shape, -1, np.int64)
    layer[:, :cores] = index[:, None]
    tops = np.array(
        [(floor + sum(one.cells for one in casts[: i + 1]) - 1) * across for i in range(len(casts))]
    )
    return Grid(
        shape=(rows, 1, across),
        capacity=capacity.ravel(),
        heat=heat.ravel(),
        kind=layer.ravel(),
        kinetics=np.array([kinetics_row(one.kinetics) for one in casts]),
        gz=gz.ravel(),
        gy=np.zeros(rows * across),
        gx=gx.ravel(),
        groom=groom.ravel(),
        layer=layer.ravel(),
        tops=tops,
        power=power.ravel(),
    )


def _layer_by_row(casts: tuple[Cast, ...], floor: int) -> Array:
    """Which layer each row belongs to, -1 the floor."""
    return np.concatenate(
        [np.full(floor, -1), *[np.full(cast.cells, i) for i, cast in enumerate(casts)]]
    ).astype(np.int64)


def _by_row(casts: tuple[Cast, ...], floor: int, pick: Callable[[Kinetics], float], below: float) -> Array:
    return np.concatenate(
        [np.full(floor, below), *[np.full(cast.cells, pick(cast.kinetics)) for cast in casts]]
    )


def _standing_walls(
    wall: Material, surround: Surround, resin: Rows, into: tuple[Array, Array, Array, Array]
) -> None:
    """Wall cells outwards. Round a narrow body the wall grows: perimeter P + 2 pi x at the distance x
    (rounded corners).
    """
    capacity, gz, gx, groom = into
    walls = capacity.shape[1]
    thick = surround.wall_m / walls
    step = thick / wall.conductivity
    grown = 2 * math.pi * thick / resin.girth[:, None]
    middles = resin.wall[:, None] * (1 + grown * (np.arange(walls) + 0.5))
    faces = resin.wall[:, None] * (1 + grown * np.arange(1, walls + 1))
    capacity[:] = wall.density * wall.heat_capacity * thick * middles
    gx[:, 0] = _in_series(resin.outer, resin.wall, step / 2)
    gx[:, 1:-1] = faces[:, :-1] / step
    groom[:, -1] += _in_series(middles[:, -1] / (step / 2), faces[:, -1], 1 / max(surround.side_w_m2k, 1e-9))
    # over the wall as over the fill
    groom[-1] += (
        thick
        * middles[-1]
        / resin.depth[-1]
        / (resin.depth[-1] / 2 / wall.conductivity + 1 / surround.over_w_m2k)
    )
    up = wall.conductivity * thick * middles / resin.depth[:, None] ** 2
    gz[:-1] = 2 * up[:-1] * up[1:] / np.maximum(up[:-1] + up[1:], 1e-300)
    capacity[resin.wall <= 0] = 0.0


def _floor_beside(
    surround: Surround,
    resin: Rows,
    row_m: float,
    resin_k: float,
    into: tuple[Array, Array, Array, Array],
) -> None:
    """The floor under the walls: it takes heat from the floor under the fill and from the wall above."""
    capacity, gz, gx, groom = into
    floor, wall = surround.floor_material, surround.wall_material
    walls, rows = capacity.shape[1], len(capacity) - len(resin.depth)
    thick = surround.wall_m / walls
    girth = resin.wall[0] / resin.depth[0]
    grown = 2 * math.pi * thick / resin.girth[0]
    plan = girth * (1 + grown * (np.arange(walls) + 0.5)) * thick  # seen from above
    faces = girth * (1 + grown * np.arange(1, walls + 1)) * row_m
    under = slice(0, rows)
    capacity[under] = floor.density * floor.heat_capacity * row_m * plan
    out = resin.outer[0] / resin.depth[0] * floor.conductivity / resin_k * row_m
    first = thick / 2 / floor.conductivity / max(girth * row_m, 1e-300)
    gx[under, 0] = 1 / (1 / max(out, 1e-300) + first)
    gx[under, 1:-1] = floor.conductivity * faces[:-1] / thick
    side = thick / 2 / floor.conductivity + 1 / max(surround.side_w_m2k, 1e-9)
    groom[under, -1] += faces[-1] / side
    groom[0] += plan / (row_m / 2 / floor.conductivity + 1 / surround.underside_w_m2k)
    gz[: rows - 1] = plan * floor.conductivity / row_m
    gz[rows - 1] = plan / (row_m / 2 / floor.conductivity + resin.depth[0] / 2 / wall.conductivity)


def _in_series(conductance: Array, area: Array, resistance: float) -> Array:
    """A conductance [W/K] in series with a resistance [m2 K/W] over an area; 0 where there is no area."""
    return np.where(
        area > 0, 1 / (1 / np.maximum(conductance, 1e-300) + resistance / np.maximum(area, 1e-300)), 0.0
    )
