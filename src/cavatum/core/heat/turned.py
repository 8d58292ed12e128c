"""A void without corners (a cylinder, a cone, a bowl) as it would come off a lathe: rows from the floor up,
in each of them rings about its axis, the same rings in every row.

A void's radius at a height is that of the circle of its area, R = sqrt(A / pi). A cell belongs to the resin
where more than half of it lies inside, to the wall where it lies within the wall's thickness outside; the
resin of cells that are cut is kept, with the cell further in. The steps of the cells are longer than the
slope they stand for, and coarse cells lead less than they should: what goes through a step counts by a
power of what the slope has of its faces there, fitted to finite elements. Source: by definition of the
grid; compared with finite elements in tests/core/test_finite_elements.py.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numba import njit

from .body import Body
from .cast import Cast, by_row, floor_steps, layer_by_row, reach_of, rows_of, tops_of, wall_steps
from .grid import Array, Grid
from .materials import Surround

RINGS, COARSE_RINGS = 8, 4
# Power of the share that steps count: fitted to finite elements of thirteen bowls.
COUNTS, COARSE_COUNTS = 0.7, 0.2
ROUNDS_OFF = 0.6
LOOKS = 6  # at a row's radius, over its height
NOTHING, RESIN, WALL, FLOOR = range(4)


@dataclass(frozen=True, kw_only=True)
class Turned:
    """Cells (rows, rings): edges of the rings [m], what each cell is, how much resin stands in it [m3], and
    what the faces of its outline count: upright and level ones (rows).
    """

    rings: Array
    material: Array
    resin_m3: Array
    upright: Array
    level: Array


def radius(body: Body, heights: Array) -> Array:
    """Of the circle [m] that is as large as the void at each height.

        R = sqrt(A / pi)

    body  by height;  heights  [m], shape (n,)
    Raises nothing. Exact for circles. Source: elementary geometry.
    """
    return np.asarray(np.sqrt(np.maximum(body.of(body.area, heights), 1e-12) / math.pi))


def turned(
    body: Body, surround: Surround, rings: Array, rows: Array, top_m: float, counts: float = COUNTS
) -> Turned:
    """What each cell of rows and rings is.

        share = (sqrt(dr^2 + dz^2) / (dr + dz))^counts of each row, dr and dz of its slope

    body  by height;  rings, rows  edges [m], rows from the floor's underside up;  surround  wall and floor;
    top_m  to which the wall stands round it
    Raises nothing. Valid to the size of a cell. Source: this module's head.
    """
    ring = math.pi * np.diff(rings**2)
    depth, above = np.diff(rows), rows[:-1] > -1e-12
    looks = rows[:-1][:, None] + depth[:, None] * (np.arange(LOOKS) + 0.5) / LOOKS
    reach = radius(body, np.maximum(looks, 0.0).ravel()).reshape(looks.shape)[:, :, None]
    inside = (math.pi * (np.minimum(reach, rings[1:]) ** 2 - rings[:-1] ** 2) / ring).clip(0.0, 1.0)
    share = inside.mean(axis=1) * above[:, None]
    is_resin = share >= 0.5
    is_resin[above, 0] = True
    volume = share * ring * depth[:, None]
    cut = np.where(is_resin, 0.0, volume).sum(axis=1)
    volume = np.where(is_resin, volume, 0.0)
    last = np.maximum(is_resin.sum(axis=1) - 1, 0)
    volume[np.arange(len(depth)), last] += cut
    material = _around(body, surround, (rings, rows), is_resin, top_m)
    ends = radius(body, np.maximum(rows, 0.0))
    sideways = np.abs(np.diff(ends))
    share = (np.hypot(sideways, depth) / (sideways + depth)) ** counts
    share = np.where(above, share, 1.0)
    return Turned(
        rings=np.broadcast_to(rings, (len(depth), len(rings))),
        material=material,
        resin_m3=volume,
        upright=share,
        level=share,
    )


def steep(body: Body, rings: Array, rows: Array, walls: Array) -> Turned:
    """The same for a void that is nowhere much narrower: the rings of each row fill it, its wall stands round
    them and counts by what is wetted.

        R_row = sqrt(A / pi),   upright = A_wetted / (2 pi R dz)

    body  by height;  rings  shares of the radius, 0 to 1;  rows  edges [m], from the floor's underside up;
    walls  thickness of each wall cell outwards [m]
    Raises nothing. Exact for cylinders. Source: elementary geometry.
    """
    depth, above = np.diff(rows), rows[:-1] > -1e-12
    reach = radius(body, np.maximum((rows[1:] + rows[:-1]) / 2, rows[above.argmax()] + depth[above][0] / 2))
    edges = np.hstack([reach[:, None] * rings, reach[:, None] + np.cumsum(walls)])
    cores = len(rings) - 1
    material = np.full((len(depth), edges.shape[1] - 1), WALL)
    material[:, :cores] = RESIN
    material[~above] = FLOOR
    wetted = np.diff(body.of(body.wetted, np.maximum(rows, 0.0)))
    upright = np.where(above, wetted / (2 * math.pi * reach * depth), 1.0)
    volume = np.where(material == RESIN, math.pi * np.diff(edges**2, axis=1) * depth[:, None], 0.0)
    return Turned(
        rings=edges,
        material=material,
        resin_m3=volume,
        upright=upright,
        level=np.ones(len(depth)),
    )


@lru_cache(maxsize=64)  # asked with every layer of an ensemble
def rounds_off(body: Body, tall_m: float) -> bool:
    """To its bottom or its top, which is less than ROUNDS_OFF of the widest of it."""
    wide = radius(body, np.linspace(0.0, tall_m, 9))
    return bool(wide.min() < ROUNDS_OFF * wide.max())


def _around(
    body: Body, surround: Surround, edges: tuple[Array, Array], is_resin: Array, top_m: float
) -> Array:
    """Wall and floor where they lie near enough to the void's outline."""
    across, up = ((one[:-1] + one[1:]) / 2 for one in edges)
    # Closest at both ends: where a bowl is flat its radius grows by a ring within a hair's height.
    heights = top_m * (1 - np.cos(np.linspace(0.0, np.pi, 90))) / 2
    beside = radius(body, heights)
    outline = np.vstack(
        [
            np.column_stack([beside, heights]),
            np.column_stack([np.linspace(0.0, beside[0], 20), np.zeros(20)]),
        ]
    )
    x, z = np.meshgrid(across, up)
    away = np.sqrt(((np.stack([x, z], -1)[:, :, None, :] - outline) ** 2).sum(-1)).min(axis=2)
    material = np.where(is_resin, RESIN, NOTHING)
    stores = surround.wall_m if len(wall_steps(body, surround)) else 0.0
    material[~is_resin & (up >= 0)[:, None] & (away <= stores)] = WALL
    material[(up < 0)[:, None] & (away <= max(stores, surround.floor_m) + 1e-9)] = FLOOR
    return material


def turned_grid(body: Body, surround: Surround, casts: tuple[Cast, ...]) -> Grid:
    """Rows (floor, then layers) x (rings from the axis out, then wall cells outwards).

    body  by height [m];  surround  walls, floor and air;  casts  from and to [m], each with its resin
    Raises nothing. Exact for cylinders, as its cells get finer. Source: this module's head.
    """
    is_coarse = casts[0].is_coarse
    below = floor_steps(surround, is_coarse=is_coarse)
    outwards = wall_steps(body, surround, is_coarse=is_coarse)
    tall = body.tall_m or casts[-1].to_m
    count = COARSE_RINGS if is_coarse else RINGS
    depth = np.concatenate([below, rows_of(casts).depth])
    rows = np.concatenate([[0.0], np.cumsum(depth)]) - below.sum()
    if rounds_off(body, tall):
        widest = float(radius(body, np.linspace(0.0, tall, 33)).max())
        rings = np.concatenate([np.linspace(0.0, widest, count + 1), widest + np.cumsum(outwards)])
        made = turned(body, surround, rings, rows, tall, COARSE_COUNTS if is_coarse else COUNTS)
    else:
        made = steep(body, np.linspace(0.0, 1.0, count + 1), rows, outwards)
    index = layer_by_row(casts, len(below))
    is_resin = made.material == RESIN
    solids = surround.wall_material, surround.floor_material
    k, stored = np.ones(made.material.shape), np.zeros(made.material.shape)
    for what, solid in zip((WALL, FLOOR), solids, strict=True):
        k[made.material == what] = solid.conductivity
        stored[made.material == what] = solid.density * solid.heat_capacity
    floor = len(below)
    resin_k = by_row(casts, floor, lambda one: one.conductivity_w_m_k, 1.0)[:, None]
    resin_c = by_row(casts, floor, lambda one: one.density_kg_m3 * one.heat_capacity_j_kg_k, 0.0)[:, None]
    resin_h = by_row(casts, floor, lambda one: one.density_kg_m3 * one.heat_j_kg, 0.0)[:, None]
    k = np.where(is_resin, resin_k, k)
    cell = math.pi * np.diff(made.rings**2, axis=1) * depth[:, None]
    leaves = (
        1 / max(surround.side_w_m2k, 1e-9),
        1 / surround.underside_w_m2k,
        1 / surround.over_w_m2k,
        0.0 if floor else surround.floor_m / solids[1].conductivity,
        0.0 if len(outwards) else surround.wall_m / solids[0].conductivity,
        surround.under_off_k,
        surround.top_off_k,
    )
    gz, gx, groom, power = _conductances(
        np.ascontiguousarray(made.rings), made.material, made.upright, made.level, depth, k, leaves
    )
    layer = np.where(is_resin, index[:, None], -1).ravel()
    across = made.material.shape[1]
    nothing = np.zeros(layer.size)
    return Grid(
        shape=(len(depth), 1, across),
        capacity=np.where(is_resin, resin_c * made.resin_m3, stored * cell).ravel(),
        heat=(resin_h * made.resin_m3).ravel(),
        kind=layer,
        kinetics=np.array([one.row for one in casts]),
        gz=gz.ravel(),
        gy=nothing,
        gx=gx.ravel(),
        groom=groom.ravel(),
        layer=layer,
        tops=tops_of(casts, floor, across),
        power=power.ravel(),
        reach=reach_of(body, casts),
    )


@njit(cache=True, nogil=True, error_model="numpy")
def _conductances(
    rings: Array, material: Any, upright: Array, level: Array, depth: Array, k: Array, leaves: Any
) -> Any:  # pragma: no cover
    """Along z, outwards, to the room [W/K], and what flows in for what is below and above is warmer [W], all
    (rows, rings). leaves: resistance of the side air, the underside and the top [m2 K/W], of a floor and a
    wall that have no cells, and how much warmer it is below and above [K].

    g = A s / (d1 / 2 k1 + d2 / 2 k2),   s of a face between resin and what is not
    """
    gz, gx, groom, power = np.zeros(k.shape), np.zeros(k.shape), np.zeros(k.shape), np.zeros(k.shape)
    for i in range(k.shape[0]):
        for j in range(k.shape[1]):
            if material[i, j] != NOTHING:
                _over(i, j, rings, material, level, depth, k, leaves, gz, groom, power)
                _under(i, j, rings, material, level, depth, k, leaves, groom, power)
                _outwards(i, j, rings, material, upright, depth, k, leaves, gx, groom)
    return gz, gx, groom, power


@njit(cache=True, nogil=True, error_model="numpy")
def _over(
    i: int,
    j: int,
    rings: Array,
    material: Any,
    level: Array,
    depth: Array,
    k: Array,
    leaves: Any,
    gz: Array,
    groom: Array,
    power: Array,
) -> Any:  # pragma: no cover
    """From one cell to the one over it, or to the air."""
    side, _, top, _, thin_wall, _, top_off_k = leaves
    ring, up = math.pi * (rings[i, j + 1] ** 2 - rings[i, j] ** 2), depth[i] / 2 / k[i, j]
    if i + 1 == k.shape[0]:
        lost = ring / (up + top)
        groom[i, j] += lost
        power[i, j] += lost * top_off_k
    elif material[i + 1, j] == NOTHING:
        groom[i, j] += ring * level[i] / (up + (thin_wall if material[i, j] == RESIN else 0.0) + side)
    else:
        over = math.pi * (rings[i + 1, j + 1] ** 2 - rings[i + 1, j] ** 2)
        is_face = (material[i, j] == RESIN) != (material[i + 1, j] == RESIN)
        share = (level[i] + level[i + 1]) / 2 if is_face else 1.0
        gz[i, j] = min(ring, over) * share / (up + depth[i + 1] / 2 / k[i + 1, j])


@njit(cache=True, nogil=True, error_model="numpy")
def _under(
    i: int,
    j: int,
    rings: Array,
    material: Any,
    level: Array,
    depth: Array,
    k: Array,
    leaves: Any,
    groom: Array,
    power: Array,
) -> Any:  # pragma: no cover
    """From one cell to what it stands on, where that is no cell: what stands on nothing has air under it."""
    side, under, _, thin_floor, thin_wall, under_off_k, _ = leaves
    bare = material[i, j] == RESIN
    ring, up = math.pi * (rings[i, j + 1] ** 2 - rings[i, j] ** 2), depth[i] / 2 / k[i, j]
    if i == 0:
        lost = ring * level[i] / (up + (thin_floor if bare else 0.0) + under)
        groom[i, j] += lost
        power[i, j] += lost * under_off_k
    elif material[i - 1, j] == NOTHING:
        groom[i, j] += ring * level[i] / (up + (thin_wall if bare else 0.0) + side)


@njit(cache=True, nogil=True, error_model="numpy")
def _outwards(
    i: int,
    j: int,
    rings: Array,
    material: Any,
    upright: Array,
    depth: Array,
    k: Array,
    leaves: Any,
    gx: Array,
    groom: Array,
) -> Any:  # pragma: no cover
    """From one cell to the next further out, or to the air."""
    is_resin = material[i, j] == RESIN
    face, out = 2 * math.pi * rings[i, j + 1] * depth[i], (rings[i, j + 1] - rings[i, j]) / 2 / k[i, j]
    if j + 1 == k.shape[1] or material[i, j + 1] == NOTHING:
        groom[i, j] += face * upright[i] / (out + (leaves[4] if is_resin else 0.0) + leaves[0])
    else:
        share = upright[i] if is_resin != (material[i, j + 1] == RESIN) else 1.0
        beyond = (rings[i, j + 2] - rings[i, j + 1]) / 2 / k[i, j + 1]
        gx[i, j] = face * share / (out + beyond)
