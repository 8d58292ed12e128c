"""A void of any form in three dimensions, as boxes: resin where the form is open, its wall around, layers
poured one after the other.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..common.errors import DomainError
from ..cure.parameters import Kinetics
from .block import box_grid, faces_of
from .cast import STORES_FROM_M
from .grid import Array, Grid, Room, kinetics_row
from .materials import Surround
from .run import march

FLOOR_SHARES = np.array([6, 5, 4, 3, 2, 1]) / 21  # of its thickness from below: finest under the resin
LEAST_ROWS = 6  # of each layer
LEAST_ACROSS = 6
SEGMENT_STEPS = 4  # between looks at how hot each cell is; layers' peaks are watched at every step
TOLERANCE_3D_K = 0.2


@dataclass(frozen=True, kw_only=True)
class Voxels:
    """open: where resin can stand (nz, ny, nx), from the floor up; deep: height of each row [m]; across: (dy,
    dx) [m]; origin: x and y of the first cell's middle [m]; round: the area of each row's wall
    over that of its cells, whose stairs are longer than a curve or a slope.
    """

    open: Array
    deep: Array
    across: tuple[float, float]
    origin: tuple[float, float]
    round: Array

    @property
    def heights(self) -> Array:
        """Middles of the rows above the floor [m]."""
        return np.cumsum(self.deep) - self.deep / 2


@dataclass(frozen=True, kw_only=True)
class Layer3D:
    """from and to [m], the resin, when it is poured [s], how warm [K] and how far cured it is then; None: as
    the room. reach: depth and half width [m] in which it stirs itself, and at how many times its
    Rayleigh number; None: it is at rest.
    """

    from_m: float
    to_m: float
    kinetics: Kinetics
    at_s: float
    poured_k: float | None = None
    conversion: float = 0.0
    reach: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class Run3D:
    """peaks [K] of each layer; hottest [K] (nz, ny, nx) each cell ever was, NaN where no resin stands."""

    peaks_k: list[float]
    hottest_k: Array
    cells: int


def voxels_of(
    slices: Callable[[float], list[list[tuple[float, float]]]],
    size_m: tuple[float, float],
    edges_m: list[float],
    most_cells: int,
) -> Voxels:
    """Cells from rings seen from above at each height (even-odd). Rows follow the layers: as many in each as
    its depth asks for beside the width of a cell, at least LEAST_ROWS.

    slices  rings [m] of the open form at a height; size: length and width about the middle; edges: heights
            between the layers, the floor and the fill line among them [m]
    Raises DomainError where no cell is open. Valid to the size of a cell. Source: by definition of the grid.
    """
    fill_m = edges_m[-1] - edges_m[0]
    cube = (size_m[0] * size_m[1] * fill_m / most_cells) ** (1 / 3)
    deep = np.concatenate(
        [
            np.full(rows := max(round((high - low) / cube), LEAST_ROWS), (high - low) / rows)
            for low, high in zip(edges_m, edges_m[1:], strict=False)
        ]
    )
    across = math.sqrt(size_m[0] * size_m[1] / (most_cells / len(deep)))
    nx, ny = (max(math.ceil(one / across), LEAST_ACROSS) for one in size_m)
    dx, dy = size_m[0] / nx, size_m[1] / ny
    x, y = (np.arange(nx) + 0.5) * dx - size_m[0] / 2, (np.arange(ny) + 0.5) * dy - size_m[1] / 2
    gx, gy = np.meshgrid(x, y)
    there, girth, area = np.zeros((len(deep), ny, nx), bool), np.zeros(len(deep)), np.zeros(len(deep))
    for k, height in enumerate(edges_m[0] + np.cumsum(deep) - deep / 2):
        for ring in slices(float(height)):
            if len(ring) >= 3:
                there[k] ^= shapely.contains_xy(shapely.Polygon(ring), gx, gy)
                girth[k] += shapely.Polygon(ring).length
        area[k] = there[k].sum() * dx * dy
    if not there.any():
        raise DomainError(
            argument="form",
            value="too narrow for its cells",
            allowed="it is wider than a cell somewhere",
            way_out="Plan it by its measures.",
            code="no-cells",
        )
    upright, level = girth * deep, np.abs(np.diff(area, prepend=area[0]))
    steps = _girth_of_cells(there, dy, dx) * deep + level
    share = np.where(steps > 0, np.hypot(upright, level) / np.maximum(steps, 1e-12), 1.0)
    return Voxels(
        open=there,
        deep=deep,
        across=(dy, dx),
        origin=(float(x[0]), float(y[0])),
        round=np.clip(share, 0.5, 1.5),
    )


def _girth_of_cells(there: Array, dy: float, dx: float) -> Array:
    """Length of the cells' outline in each row [m]."""
    edged = np.pad(there, ((0, 0), (1, 1), (1, 1))).astype(np.int8)
    along_x = np.abs(np.diff(edged, axis=1)).sum(axis=(1, 2)) * dx
    along_y = np.abs(np.diff(edged, axis=2)).sum(axis=(1, 2)) * dy
    return np.asarray(along_x + along_y)


@dataclass(frozen=True, kw_only=True)
class _Walled:
    """material by cell: 0 nothing, 1 room for resin, 2 wall, 3 floor; sizes of the cells (z, y, x) [m]; how
    many were added below and beside.
    """

    material: Array
    sizes: tuple[Array, Array, Array]
    below: int
    aside: tuple[int, int]
    round: Array


def _walled(voxels: Voxels, surround: Surround) -> _Walled:
    """Walls as thick as they are: their own cells beside and below. A wall that stores nothing gets none."""
    dy, dx = voxels.across
    floor = surround.floor_m * FLOOR_SHARES if surround.floor_m >= STORES_FROM_M else np.zeros(0)
    below = len(floor)
    thick = surround.wall_m if surround.wall_m >= STORES_FROM_M else 0.0
    aside = (max(round(thick / dy), 1), max(round(thick / dx), 1)) if thick else (0, 0)
    wide = np.pad(voxels.open, ((below, 0), (aside[0], aside[0]), (aside[1], aside[1])))
    sizes = (
        np.concatenate([floor, voxels.deep]),
        _bordered(dy, voxels.open.shape[1], thick, aside[0]),
        _bordered(dx, voxels.open.shape[2], thick, aside[1]),
    )
    material = np.where(wide, 1, 0)
    if thick or below:
        near = _near(wide, sizes, max(thick, surround.floor_m if below else 0.0), (dy, dx))
        beside = ~wide & (near <= thick + max(dy, dx) / 2 + 1e-9)
        beside &= thick > 0
        material[beside] = 2
        lowest = np.arange(material.shape[0])[:, None, None] < below
        reach = max(surround.floor_m, thick) + max(dy, dx) / 2
        material[lowest & ~wide & (near <= reach + 1e-9)] = 3
    around = np.concatenate([np.full(below, voxels.round[0]), voxels.round])
    return _Walled(material=material, sizes=sizes, below=below, aside=aside, round=around)


def _bordered(step_m: float, count: int, thick_m: float, cells: int) -> Array:
    border = np.full(cells, thick_m / max(cells, 1))
    return np.concatenate([border, np.full(count, step_m), border])


def _near(
    wide: Array, sizes: tuple[Array, Array, Array], reach_m: float, across: tuple[float, float]
) -> Array:
    """Distance [m] of every cell's middle from the nearest open one's; infinite beyond what is asked."""
    from scipy.spatial import cKDTree  # loaded only where used

    middles = np.stack(
        np.meshgrid(*(np.cumsum(one) - one / 2 for one in sizes), indexing="ij"), axis=-1
    ).reshape(-1, 3)
    open_ = wide.ravel()
    found = np.zeros(wide.size)
    most = reach_m + max(across)
    found[~open_] = cKDTree(middles[open_]).query(middles[~open_], distance_upper_bound=most)[0]
    return found.reshape(wide.shape)


def run_voxels(
    voxels: Voxels,
    surround: Surround,
    layers: list[Layer3D],
    room: Room,
    until_s: float,
    tell: Callable[[float], bool] | None = None,
) -> Run3D | None:
    """The layers poured at their hours and followed to until_s. tell: called with the share of the time done;
    False ends it (None is returned).
    """
    walled = _walled(voxels, surround)
    material, below, aside = walled.material, walled.below, walled.aside
    shape = material.shape
    middle = np.concatenate([np.full(below, -1.0), voxels.heights])
    number = np.full(shape, -1, np.int64)
    for i, layer in enumerate(layers):
        number[(material == 1) & ((middle > layer.from_m) & (middle <= layer.to_m))[:, None, None]] = i
    t, a = np.full(shape, room.at(0.0)), np.zeros(shape)
    hottest, peaks = np.full(shape, np.nan), np.zeros(len(layers))
    ends = [*(layer.at_s for layer in layers[1:]), until_s]
    for i, (layer, end) in enumerate(zip(layers, ends, strict=True)):
        grid = _grid(walled, surround, np.where(number <= i, number, -1), layers)
        t[number == i] = room.at(layer.at_s) if layer.poured_k is None else layer.poured_k
        a[number == i] = layer.conversion
        at, step = layer.at_s, 1.0
        while at < end - 1e-6:
            done = march(
                grid,
                t.ravel(),
                a.ravel(),
                room,
                at,
                end,
                first_step_s=step,
                tolerance_k=TOLERANCE_3D_K,
                tolerance_a=TOLERANCE_3D_K / 100,
                most_steps=SEGMENT_STEPS,
            )
            peaks[: i + 1] = np.maximum(peaks[: i + 1], done.hottest.max(axis=0)[: i + 1])
            t, a, at, step = (
                done.t.reshape(shape),
                done.a.reshape(shape),
                done.at_s,
                max(done.next_step_s, 1.0),
            )
            here = (number >= 0) & (number <= i)
            hottest[here] = np.fmax(hottest[here], t[here])
            if tell is not None and not tell(min(at / until_s, 1.0)):
                return None
    core = (slice(below, None), slice(aside[0], shape[1] - aside[0]), slice(aside[1], shape[2] - aside[1]))
    return Run3D([float(one) for one in peaks], hottest[core], int((number >= 0).sum()))


def _grid(walled: _Walled, surround: Surround, number: Array, layers: list[Layer3D]) -> Grid:
    material, wall, floor = walled.material, surround.wall_material, surround.floor_material
    k, c, heat = np.ones(material.shape), np.zeros(material.shape), np.zeros(material.shape)
    for value, solid in ((2, wall), (3, floor)):
        k[material == value], c[material == value] = solid.conductivity, solid.density * solid.heat_capacity
    for i, layer in enumerate(layers):
        one, cells = layer.kinetics, number == i
        k[cells], c[cells] = one.conductivity_w_m_k, one.density_kg_m3 * one.heat_capacity_j_kg_k
        heat[cells] = one.density_kg_m3 * one.heat_j_kg
    # A wall too thin for cells is a resistance of its own.
    faces = faces_of(
        surround,
        thin_wall=0.0 if (material == 2).any() else surround.wall_m / wall.conductivity,
        thin_floor=0.0 if (material == 3).any() else surround.floor_m / floor.conductivity,
    )
    table = np.array([kinetics_row(layer.kinetics) for layer in layers])
    tops = [_middle_of_top(number == i) for i in range(len(layers))]
    made = box_grid(walled.sizes, k, c, heat, number, table, faces, tops, side_by_row=walled.round)
    reach = np.array([layer.reach or (0.0, 0.0, 0.0) for layer in layers])
    return replace(_stairs_as_slopes(made, (material == 1).ravel(), walled.round), reach=reach)


def _middle_of_top(here: Array) -> int:
    """Of a layer's cells: the one nearest to the middle of its highest row; 0 where it is not poured yet."""
    at = np.argwhere(here)
    if not len(at):
        return 0
    top = at[at[:, 0] == at[:, 0].max()]
    off = top[:, 1:] - top[:, 1:].mean(axis=0)
    return int(np.ravel_multi_index(tuple(top[(off**2).sum(axis=1).argmin()]), here.shape))


def _stairs_as_slopes(grid: Grid, is_open: Array, by_row: Array) -> Grid:
    """What goes from the void into its wall counts as much less as the stairs are larger than the wall."""
    _, ny, nx = grid.shape
    share = np.repeat(by_row, ny * nx)

    def counted(g: Array, stride: int) -> Array:
        steps = is_open[:-stride] != is_open[stride:]
        return np.concatenate([np.where(steps, g[:-stride] * share[stride:], g[:-stride]), g[-stride:]])

    return replace(grid, gz=counted(grid.gz, ny * nx), gy=counted(grid.gy, nx), gx=counted(grid.gx, 1))
