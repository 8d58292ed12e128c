"""A void of any form in three dimensions, as boxes: resin where the form is open, its wall around, layers
poured one after the other.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely

from ..common.errors import DomainError
from ..cure.parameters import Kinetics
from .block import box_grid, faces_of
from .grid import Array, Grid, Room, kinetics_row
from .materials import Surround
from .run import march

MOST_RESIN_CELLS = 30_000
ROWS = 14
SEGMENT_STEPS = 4  # between looks at how hot each cell is; layers' peaks are watched at every step
TOLERANCE_3D_K = 0.2


@dataclass(frozen=True)
class Voxels:
    """open: where resin can stand (nz, ny, nx), from the floor up; spacing (dz, dy, dx) [m]; origin: x and y
    of the first cell's middle [m].
    """

    open: Array
    spacing: tuple[float, float, float]
    origin: tuple[float, float]


@dataclass(frozen=True, kw_only=True)
class Layer3D:
    """from and to [m], the resin, when it is poured [s]."""

    from_m: float
    to_m: float
    kinetics: Kinetics
    at_s: float


@dataclass(frozen=True)
class Run3D:
    """peaks [K] of each layer; hottest [K] (nz, ny, nx) each cell ever was, NaN where no resin stands."""

    peaks_k: list[float]
    hottest_k: Array
    cells: int


def voxels_of(
    slices: Callable[[float], list[list[tuple[float, float]]]], size_m: tuple[float, float], fill_m: float
) -> Voxels:
    """Cells from rings seen from above at each height (even-odd).

    slices  rings [m] of the open form at a height; size: length and width about the middle; fill: height of
            the fill line
    """
    dz = fill_m / ROWS
    across = np.sqrt(size_m[0] * size_m[1] / (MOST_RESIN_CELLS / ROWS))
    nx, ny = (max(int(np.ceil(one / across)), 6) for one in size_m)
    dx, dy = size_m[0] / nx, size_m[1] / ny
    x, y = (np.arange(nx) + 0.5) * dx - size_m[0] / 2, (np.arange(ny) + 0.5) * dy - size_m[1] / 2
    gx, gy = np.meshgrid(x, y)
    there = np.zeros((ROWS, ny, nx), bool)
    for k in range(ROWS):
        for ring in slices((k + 0.5) * dz):
            if len(ring) >= 3:
                there[k] ^= shapely.contains_xy(shapely.Polygon(ring), gx, gy)
    if not there.any():
        raise DomainError(
            argument="form",
            value="too narrow for its cells",
            allowed="it is wider than a cell somewhere",
            way_out="Plan it by its measures.",
            code="no-cells",
        )
    return Voxels(there, (dz, dy, dx), (float(x[0]), float(y[0])))


def _walled(voxels: Voxels, surround: Surround) -> tuple[Array, int, tuple[int, int]]:
    """Material by cell, 0 nothing, 1 room for resin, 2 wall, 3 floor; and how many cells were added below and
    beside. Thinner than half a cell: none.
    """
    dz, dy, dx = voxels.spacing
    below = int(round(surround.floor_m / dz)) if surround.floor_m >= dz / 2 else 0
    aside = (int(round(surround.wall_m / dy)), int(round(surround.wall_m / dx)))
    wide = np.pad(voxels.open, ((below, 0), (aside[0], aside[0]), (aside[1], aside[1])))
    from scipy import ndimage  # loaded only where used

    away = ndimage.distance_transform_edt(~wide, sampling=voxels.spacing)
    material = np.where(wide, 1, 0)
    # An open cell's top stays open: what lies over resin is air, not wall.
    beside = ~wide & (away <= surround.wall_m + 1e-9) & ~np.maximum.accumulate(wide, axis=0)
    material[beside] = 2
    lowest = np.arange(material.shape[0])[:, None, None] < below
    material[lowest & ~wide & (away <= max(surround.floor_m, surround.wall_m) + 1e-9)] = 3
    return material, below, aside


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
    material, below, aside = _walled(voxels, surround)
    dz = voxels.spacing[0]
    shape = material.shape
    middle = (np.arange(shape[0]) - below + 0.5) * dz
    number = np.full(shape, -1, np.int64)
    for i, layer in enumerate(layers):
        number[(material == 1) & ((middle > layer.from_m) & (middle <= layer.to_m))[:, None, None]] = i
    t, a = np.full(shape, room.at(0.0)), np.zeros(shape)
    hottest, peaks = np.full(shape, np.nan), np.zeros(len(layers))
    ends = [*(layer.at_s for layer in layers[1:]), until_s]
    for i, (layer, end) in enumerate(zip(layers, ends, strict=True)):
        grid = _grid(voxels, surround, material, np.where(number <= i, number, -1), layers)
        t[number == i] = room.at(layer.at_s)
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


def _grid(voxels: Voxels, surround: Surround, material: Array, number: Array, layers: list[Layer3D]) -> Grid:
    wall, floor = surround.wall_material, surround.floor_material
    k, c, heat = np.ones(material.shape), np.zeros(material.shape), np.zeros(material.shape)
    for value, solid in ((2, wall), (3, floor)):
        k[material == value], c[material == value] = solid.conductivity, solid.density * solid.heat_capacity
    for i, layer in enumerate(layers):
        one, cells = layer.kinetics, number == i
        k[cells], c[cells] = one.conductivity_w_m_k, one.density_kg_m3 * one.heat_capacity_j_kg_k
        heat[cells] = one.density_kg_m3 * one.heat_j_kg
    dz, dy, dx = voxels.spacing
    down, deep, wide = material.shape
    spacing = (np.full(down, dz), np.full(deep, dy), np.full(wide, dx))
    # A wall too thin for cells is a resistance of its own.
    faces = faces_of(
        surround,
        thin_wall=0.0 if (material == 2).any() else surround.wall_m / wall.conductivity,
        thin_floor=0.0 if (material == 3).any() else surround.floor_m / floor.conductivity,
    )
    table = np.array([kinetics_row(layer.kinetics) for layer in layers])
    return box_grid(spacing, k, c, heat, number, table, faces, [0] * len(layers))
