"""A rectangular block of resin in a form, in three dimensions: resin cells inside, wall cells on five sides,
the top open.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..common.errors import DomainError
from ..cure.parameters import Kinetics
from .grid import Array, Grid, kinetics_row
from .materials import Surround

MOST_CELLS = 2_000_000
SHELL_CELLS = 3


@dataclass(frozen=True, kw_only=True)
class Faces:
    """Coefficients [W/(m2 K)] to the room through the six faces of bare resin: bottom, top, and all sides;
    and how much warmer than the room what is below and above seems [K].
    """

    bottom: float
    top: float
    side: float
    bottom_off_k: float = 0.0
    top_off_k: float = 0.0


def box_grid(
    spacing: tuple[Array, Array, Array],
    conductivity: Array,
    capacity: Array,
    heat: Array,
    layer: Array,
    kinetics: Array,
    faces: Faces,
    top_cell: int | list[int],
    side_by_row: Array | None = None,
) -> Grid:
    """Any stack of boxes: spacings (z, y, x) [m]; conductivity [W/(m K)], capacity and heat per volume (nz,
    ny, nx); 0 capacity is nothing.

    Faces to nothing or to the outside exchange with the room: up through `top`, down through `bottom`, else
    `side`; but for those upwards and the lowest they count so many times as side_by_row has it (nz,).
    """
    dz, dy, dx = (np.asarray(one) for one in spacing)
    nz, ny, nx = capacity.shape
    _check_cells(capacity.shape)
    there = capacity > 0
    volume = dz[:, None, None] * dy[None, :, None] * dx[None, None, :]
    ones = np.ones(capacity.shape)
    sizes = (dz[:, None, None] * ones, dy[None, :, None] * ones, dx[None, None, :] * ones)
    conductances, groom, power = [], np.zeros(capacity.shape), np.zeros(capacity.shape)
    for axis, size in enumerate(sizes):
        area = volume * ones / size
        half = np.where(there, size / 2 / np.where(there, conductivity, 1.0), 0.0)
        g = np.zeros(capacity.shape)
        low, high = _pair(axis)
        both = there[low] & there[high]
        g[low] = np.where(both, area[low] / np.where(both, half[low] + half[high], 1.0), 0.0)
        conductances.append(g)
        for side, inner in ((0, _neighbour(there, axis, -1)), (1, _neighbour(there, axis, 1))):
            outward = (faces.bottom, faces.top)[side] if axis == 0 else faces.side
            if outward > 0:
                to_room = np.where(there & ~inner, area / (half + 1 / outward), 0.0)
                if side_by_row is not None and (axis, side) != (0, 1):
                    to_room *= _steps(side_by_row, axis)
                groom += to_room
                if axis == 0:
                    power += to_room * (faces.bottom_off_k, faces.top_off_k)[side]
    kind = np.where(layer >= 0, layer, -1).astype(np.int64)
    return Grid(
        shape=(nz, ny, nx),
        capacity=(capacity * volume).ravel(),
        heat=(heat * volume).ravel(),
        kind=kind.ravel(),
        kinetics=kinetics,
        gz=conductances[0].ravel(),
        gy=conductances[1].ravel(),
        gx=conductances[2].ravel(),
        groom=groom.ravel(),
        layer=kind.ravel(),
        tops=np.atleast_1d(np.array(top_cell)),
        power=power.ravel(),
    )


def _steps(by_row: Array, axis: int) -> Array:
    """What a face of each row counts; those under the lowest are the floor's, and level."""
    return np.concatenate([[1.0] if axis == 0 else by_row[:1], by_row[1:]])[:, None, None]


def faces_of(surround: Surround, *, thin_wall: float = 0.0, thin_floor: float = 0.0) -> Faces:
    """thin_*: resistance [m2 K/W] of a wall or floor that is too thin for cells of its own."""
    return Faces(
        bottom=1 / (1 / surround.underside_w_m2k + thin_floor),
        top=surround.over_w_m2k,
        side=1 / (1 / max(surround.side_w_m2k, 1e-9) + thin_wall),
        bottom_off_k=surround.under_off_k,
        top_off_k=surround.top_off_k,
    )


def _check_cells(shape: tuple[int, ...]) -> None:
    if np.prod(shape) > MOST_CELLS:
        raise DomainError(
            argument="cells",
            value=f"{np.prod(shape)}",
            allowed=f"at most {MOST_CELLS} fit",
            way_out="Take larger cells.",
            code="too-many",
        )


def _pair(axis: int) -> tuple[tuple[slice, ...], tuple[slice, ...]]:
    low, high = [slice(None)] * 3, [slice(None)] * 3
    low[axis], high[axis] = slice(None, -1), slice(1, None)
    return tuple(low), tuple(high)


def _neighbour(there: Array, axis: int, step: int) -> Array:
    moved = np.zeros_like(there)
    low, high = _pair(axis)
    if step < 0:
        moved[high] = there[low]
    else:
        moved[low] = there[high]
    return moved


def block_grid(
    kinetics: Kinetics,
    length_m: float,
    width_m: float,
    depth_m: float,
    surround: Surround,
    cells: tuple[int, int, int] = (20, 20, 20),
) -> Grid:
    """Resin length x width x depth in its form, (z, y, x) cells of resin, SHELL_CELLS through each wall and
    the floor.
    """
    wall, floor = surround.wall_material, surround.floor_material
    shell_x = SHELL_CELLS if surround.wall_m > 0 else 0
    shell_z = SHELL_CELLS if surround.floor_m > 0 else 0
    dz = np.concatenate(
        [np.full(shell_z, surround.floor_m / max(shell_z, 1)), np.full(cells[0], depth_m / cells[0])]
    )
    beside = np.full(shell_x, surround.wall_m / max(shell_x, 1))
    dy = np.concatenate([beside, np.full(cells[1], width_m / cells[1]), beside])
    dx = np.concatenate([beside, np.full(cells[2], length_m / cells[2]), beside])
    shape = (len(dz), len(dy), len(dx))
    _check_cells(shape)
    k, c = np.full(shape, wall.conductivity, float), np.full(shape, wall.density * wall.heat_capacity, float)
    k[:shell_z], c[:shell_z] = floor.conductivity, floor.density * floor.heat_capacity
    heat, layer = np.zeros(shape), np.full(shape, -1, np.int64)
    inside = (slice(shell_z, None), slice(shell_x, shape[1] - shell_x), slice(shell_x, shape[2] - shell_x))
    rho = kinetics.density_kg_m3
    k[inside], c[inside], heat[inside], layer[inside] = (
        kinetics.conductivity_w_m_k,
        rho * kinetics.heat_capacity_j_kg_k,
        rho * kinetics.heat_j_kg,
        0,
    )
    top = np.ravel_multi_index((shape[0] - 1, shape[1] // 2, shape[2] // 2), shape)
    return box_grid(
        (dz, dy, dx),
        k,
        c,
        heat,
        layer,
        kinetics_row(kinetics).reshape(1, -1),
        faces_of(surround),
        int(top),
    )
