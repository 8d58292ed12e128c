"""Any void that is no circle as a quarter of a rectangle at each height, cut through its two planes of
symmetry: rows from the floor up, in each the same cells along its half length and its half width, then its
walls and what is under them.

A row's plan is the rectangle of the void's least width w and its area A, A/w long: exact for boxes and
troughs, and for a ring or a winding river but for their bends. Where the wetted wall is larger than the
rectangle's (a slope, a rough edge), the way into the wall counts so many times more. Where a body has no
ends (a ring), nothing leaves there. Source: by definition of the grid; compared with finite elements in
tests/core/test_finite_elements.py.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from statistics import median

import numpy as np

from ..cure.parameters import Kinetics
from .body import Body
from .cast import (
    Cast,
    Rows,
    by_row,
    floor_steps,
    layer_by_row,
    reach_of,
    rows_of,
    tops_of,
    wall_steps,
)
from .grid import Array, Grid
from .materials import Surround

CELLS, COARSE_CELLS = 4, 2  # of half a width, and of half a length
HAS_ENDS = 1.02  # of twice its length: a ring's girth is no longer


@dataclass(frozen=True, kw_only=True)
class Plan:
    """Cells of each row: along and across (rows, n) [m] from the middle out, so many of resin first; stretch
    (rows) of its wall over the rectangle's; has_ends: whether there are walls along it too.
    """

    along: Array
    across: Array
    stretch: Array
    has_ends: bool
    cores: tuple[int, int]

    def over(self, floor: int) -> Plan:
        """The same with the floor's rows below, which are as the lowest one."""

        def below(one: Array) -> Array:
            return np.concatenate([np.repeat(one[:1], floor, axis=0), one])

        stretch = np.concatenate([np.ones(floor), self.stretch])
        return replace(self, along=below(self.along), across=below(self.across), stretch=stretch)


def _measures(body: Body, rows: Rows) -> tuple[Array, Array, Array]:
    """Width, length and girth [m] of each row."""
    area = np.maximum(body.of(body.area, rows.middle), 1e-8)
    width = np.minimum(np.maximum(body.of(body.width, rows.middle), 1e-4), np.sqrt(area))
    wetted = np.maximum(np.diff(body.of(body.wetted, rows.edges)), 0.0)
    return width, area / width, wetted / rows.depth


def _from_the_middle(half: Array, cells: int) -> Array:
    return np.repeat(half[:, None] / cells, cells, axis=1)


def plan_of(body: Body, rows: Rows, walls: Array, cells: int = CELLS) -> Plan:
    """The cells of each row of resin, and of the walls beside it.

    body  by height;  rows  of the layers;  walls  thickness of each wall cell outwards [m];
    cells  of half a width and of half a length
    Raises nothing. Exact for rectangles. Source: this module's head.
    """
    width, length, girth = _measures(body, rows)
    # By its first layer with all its rows: what is poured on top leaves the cells below as they are.
    lowest = _measures(body, rows.lowest) if rows.lowest else (width, length, girth)
    of_length = (lowest[2] / (2 * lowest[1]))[: (rows.lowest or rows).first]
    has_ends = median(of_length.tolist()) > HAS_ENDS
    beside = np.broadcast_to(walls, (len(rows.depth), len(walls)))
    return Plan(
        along=np.hstack([_from_the_middle(length / 2, cells), beside]) if has_ends else length[:, None] / 2,
        across=np.hstack([_from_the_middle(width / 2, cells), beside]),
        stretch=girth / (2 * (length + width) if has_ends else 2 * length),
        has_ends=has_ends,
        cores=(cells, cells if has_ends else 1),
    )


@dataclass(frozen=True, kw_only=True)
class Block:
    """Cells (rows, across, along): their conductances [W/K] along z, y, x and to the room, their volumes
    [m3], and what flows in for what is below and above is warmer than the room [W].
    """

    gz: Array
    gy: Array
    gx: Array
    groom: Array
    power: Array
    volume: Array


def block_of(plan: Plan, depth: Array, k: Array, surround: Surround, *, thin: tuple[float, float]) -> Block:
    """How heat goes between the cells, and out of them.

        g = A / (d1 / 2 k1 + d2 / 2 k2),   to the room A / (d / 2 k + R + 1/h)

    plan  with floor rows;  depth (rows) [m];  k (rows, across, along) [W/(m K)];  surround  what leaves
    where;  thin  resistances [m2 K/W] of a floor and a wall that have no cells
    Raises nothing. Exact for boxes in line. Source: conduction in series, any handbook.
    """
    dz, dy, dx = depth[:, None, None], plan.across[:, :, None], plan.along[:, None, :]
    shape = k.shape
    side = 1 / max(surround.side_w_m2k, 1e-9) + thin[1]
    gz, gy, gx, groom, power = (np.zeros(shape) for _ in range(5))
    flat = dy * dx
    half = dz / 2 / k
    gz[:-1] = _less(dy) * _less(dx) / (half[:-1] + half[1:])
    down = flat[0] / (half[0] + thin[0] + 1 / surround.underside_w_m2k)
    up = flat[-1] / (half[-1] + 1 / surround.over_w_m2k)
    groom[0] += down
    groom[-1] += up
    power[0] += down * surround.under_off_k
    power[-1] += up * surround.top_off_k
    stretch = plan.stretch[:, None, None]
    half = dy / 2 / k
    gy[:, :-1] = dz * dx / (half[:, :-1] + half[:, 1:])
    groom[:, -1:] += stretch * dz * dx / (half[:, -1:] + side)
    half = dx / 2 / k
    gx[:, :, :-1] = dz * dy / (half[:, :, :-1] + half[:, :, 1:])
    if plan.has_ends:
        groom[:, :, -1:] += stretch * dz * dy / (half[:, :, -1:] + side)
    gy[:, plan.cores[0] - 1 : -1] *= stretch
    if plan.has_ends:
        gx[:, :, plan.cores[1] - 1 : -1] *= stretch
    return Block(gz=gz, gy=gy, gx=gx, groom=groom, power=power, volume=dz * flat)


def _less(size: Array) -> Array:
    """The smaller of each row and the next above."""
    return np.asarray(np.minimum(size[:-1], size[1:]))


def quarter_grid(body: Body, surround: Surround, casts: tuple[Cast, ...]) -> Grid:
    """Rows (floor, then layers) x (cells across, walls outwards) x (cells along, walls outwards); the first
    of each row is the middle.

    body  by height [m];  surround  walls, floor and air;  casts  from and to [m], each with its resin
    Raises nothing. Exact for boxes, as its cells get finer. Source: this module's head.
    """
    is_coarse = casts[0].is_coarse
    below = floor_steps(surround, is_coarse=is_coarse)
    outwards = wall_steps(body, surround, is_coarse=is_coarse)
    floor, under, wall = len(below), surround.floor_material, surround.wall_material
    rows = rows_of(casts)
    cells = COARSE_CELLS if is_coarse else CELLS
    plan = plan_of(body, rows, outwards, cells).over(floor)
    index = layer_by_row(casts, floor)
    shape = (len(index), plan.across.shape[1], plan.along.shape[1])
    core = np.zeros(shape, bool)
    core[:, : plan.cores[0], : plan.cores[1]] = True
    is_floor = (index < 0)[:, None, None]
    is_resin = core & ~is_floor

    def made_of(resin: Callable[[Kinetics], float], below: float, beside: float) -> Array:
        return np.where(
            is_resin, by_row(casts, floor, resin, below)[:, None, None], np.where(is_floor, below, beside)
        )

    k = made_of(lambda one: one.conductivity_w_m_k, under.conductivity, wall.conductivity)
    stored = made_of(
        lambda one: one.density_kg_m3 * one.heat_capacity_j_kg_k,
        under.density * under.heat_capacity,
        wall.density * wall.heat_capacity,
    )
    heat = made_of(lambda one: one.density_kg_m3 * one.heat_j_kg, 0.0, 0.0)
    depth = np.concatenate([below, rows.depth])
    thin = (
        0.0 if floor else surround.floor_m / under.conductivity,
        0.0 if len(outwards) else surround.wall_m / wall.conductivity,
    )
    block = block_of(plan, depth, k, surround, thin=thin)
    layer = np.where(is_resin, index[:, None, None], -1).ravel()
    row = shape[1] * shape[2]
    return Grid(
        shape=shape,
        capacity=(stored * block.volume).ravel(),
        heat=(heat * block.volume).ravel(),
        kind=layer,
        kinetics=np.array([one.row for one in casts]),
        gz=block.gz.ravel(),
        gy=block.gy.ravel(),
        gx=block.gx.ravel(),
        groom=block.groom.ravel(),
        layer=layer,
        tops=tops_of(casts, floor, row),
        power=block.power.ravel(),
        reach=reach_of(body, casts),
    )
