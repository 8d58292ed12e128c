"""A void so wide that no wall matters: rows from the floor up, per square metre."""

from __future__ import annotations

import numpy as np

from .body import Body
from .cast import Cast, by_row, floor_steps, layer_by_row, reach_of, rows_of, tops_of
from .grid import Grid
from .materials import Surround


def slab_grid(surround: Surround, casts: tuple[Cast, ...]) -> Grid:
    """Rows (floor, then layers) of one square metre [J/K], [W/K].

        g = 1 / (d1 / 2 k1 + d2 / 2 k2),   to the room 1 / (d / 2 k + R + 1/h)

    surround  floor and air;  casts  from and to [m], each with its resin
    Raises nothing. Exact as its rows get finer. Source: conduction in series, any handbook.
    """
    below, under = floor_steps(surround, is_coarse=casts[0].is_coarse), surround.floor_material
    floor, index = len(below), layer_by_row(casts, len(below))
    depth = np.concatenate([below, rows_of(casts).depth])
    half = depth / 2 / by_row(casts, floor, lambda one: one.conductivity_w_m_k, under.conductivity)
    stored = by_row(
        casts,
        floor,
        lambda one: one.density_kg_m3 * one.heat_capacity_j_kg_k,
        under.density * under.heat_capacity,
    )
    nothing, gz, groom, power = (np.zeros(len(depth)) for _ in range(4))
    gz[:-1] = 1 / (half[:-1] + half[1:])
    thin = 0.0 if floor else surround.floor_m / under.conductivity
    down, up = (
        1 / (half[0] + thin + 1 / surround.underside_w_m2k),
        1 / (half[-1] + 1 / surround.over_w_m2k),
    )
    groom[0] += down
    groom[-1] += up
    power[0] += down * surround.under_off_k
    power[-1] += up * surround.top_off_k
    return Grid(
        shape=(len(depth), 1, 1),
        capacity=stored * depth,
        heat=by_row(casts, floor, lambda one: one.density_kg_m3 * one.heat_j_kg, 0.0) * depth,
        kind=index,
        kinetics=np.array([one.row for one in casts]),
        gz=gz,
        gy=nothing,
        gx=nothing,
        groom=groom,
        layer=index,
        tops=tops_of(casts, floor, 1),
        power=power,
        reach=reach_of(Body.wide(), casts),
    )
