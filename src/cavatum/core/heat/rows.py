"""Any void by its area, width and wetted wall at each height: rows from the floor up, each of them shells
from the middle to the wall.

A row's plan is taken as a rectangle of its least width w and its area (a circle where it is rounder than a
square). Shells are what lies
between two distances from the edge. Their conductance is scaled so that the middle of a steady, evenly heated
plan comes out as
Poisson's equation has it:

    T_middle - T_edge = c q w^2 / k,   c(square) = 0.0737, c(long) = 1/8, circle q R^2 / 4 k

Outside the outermost shell: the wetted wall at that height, its cells storing and conducting, then the side's
air coefficient; under it the floor goes on, and its upper face has the room above it. A long body is cut
across its
middle: its ends take away only what a bar with such sides leads there.
c: Timoshenko and Goodier, Theory of Elasticity, torsion of bars (from memory; the series is checked against
finite differences).
Embedded things take up no heat here, which is the hot side; so is leaving out convection in the liquid.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

import numpy as np

from .body import Body
from .grid import Array
from .materials import Surround

SHELLS = np.array([0.0, 0.2, 0.45, 0.7, 1.0])  # distances from the edge over the greatest one
SQUARE, ROUND, SLAB = 0.073671, 0.0625, 0.125
FURTHER = 0.8
CORNERS = 2.0  # own choice: the walls' corners are cool, and count half of what they would round a circle
HAS_ENDS = 1.02  # of twice its length: a ring's girth is no longer


@cache
def middle_of_section(slender: float) -> float:
    """c in dT_middle = c q w^2 / k, without a unit, for a rectangle of length slender x w whose edges are
    held.

        1/8 - (4/pi^3) sum over odd n of (-1)^((n-1)/2) / (n^3 cosh(n pi l / 2w))

    slender  length over width, > 0; below 1 it stands for rounder plans (area over width squared, a circle
             pi/4):
             linear between square and circle
    Raises nothing. Exact at and over 1 (six terms, to 1e-6). Source: Poisson's equation on a rectangle, in
    any handbook of heat conduction (Carslaw and Jaeger).
    """
    if slender < 1:
        return max(ROUND, SQUARE - (SQUARE - ROUND) * (1 - slender) / (1 - math.pi / 4))
    total = 0.0
    for n in range(1, 12, 2):
        x = n * math.pi * slender / 2
        total += (-1) ** ((n - 1) // 2) / (n**3 * math.cosh(x)) if x < 600 else 0.0
    return SLAB - 4 / math.pi**3 * total


@dataclass(frozen=True, kw_only=True)
class Rows:
    """Resin rows: height dz (n), shell areas (n, cores) from the middle out, faces between and outermost (n,
    cores) [W/K], wall [m2], girth [m] by which walls grow outwards (beside the middle of a long body hardly).
    """

    depth: Array
    areas: Array
    inner: Array
    outer: Array
    wall: Array
    girth: Array


def share_of_girth(
    width: Array, area: Array, girth: Array, conductivity: Array, deep_m: float, surround: Surround
) -> Array:
    """Share of its girth that cools the middle of a body longer than wide: its two sides, and of its ends
    what a
    bar that loses heat along its sides leads to them.

        s = (L + w g) / (L + w),   g = (e(w) - 1) / (e(L) - 1),
        e(x) = (k m / h) sinh(m x / 2) + cosh(m x / 2),
        m^2 = f^2 (2 U / (k w) + (U_top + U_under) / (k d)),   h through wall and air, U also a third of
        the way to the middle;  f = FURTHER, as a reaction that quickens with heat is felt further along

    width, area, girth  of each row [m], [m2], [m], shape (n,);  conductivity  of its resin [W/(m K)];  deep_m
                        of the fill [m];  surround  walls, floor and air
    Raises nothing. Valid for plans like a rectangle; 1 for a square, and where there are no ends (a ring,
    round
    plans). Source: the fin equation with an even source, in any handbook of heat conduction; f is fitted to
    runs in three dimensions.
    """
    length = area / width
    over_air = surround.wall_m / surround.wall_material.conductivity + 1 / max(surround.side_w_m2k, 1e-9)
    side = 1 / (over_air + width / 6 / conductivity)
    floor = surround.floor_m / surround.floor_material.conductivity
    flat = 1 / (1 / surround.over_w_m2k + deep_m / 6 / conductivity) + 1 / (
        floor + 1 / surround.underside_w_m2k + deep_m / 6 / conductivity
    )
    m = FURTHER * np.sqrt(2 * side / (conductivity * width) + flat / (conductivity * deep_m))

    def end(along: Array) -> Array:
        half = np.minimum(m * along / 2, 300.0)
        return np.asarray(conductivity * m * over_air * np.sinh(half) + np.cosh(half) - 1)

    reached = np.minimum(end(width) / np.maximum(end(length), 1e-12), 1.0)
    has_ends = (length > width) & (girth > 2 * length * HAS_ENDS)
    return np.where(has_ends, (length + width * reached) / (length + width), 1.0)


def rows_of(body: Body, edges: list[Array], conductivity: Array, surround: Surround) -> Rows:
    """Rows of resin between heights.

    body  by height;  edges  of the rows of each layer [m];  conductivity  of each row's resin [W/(m K)],
          shape (n,);  surround  walls, floor and air
    Raises nothing. Exact for the middle of a steady, evenly heated plan. Source: this module's head.
    """
    depth = np.concatenate([np.diff(one) for one in edges])
    middles = np.concatenate([(one[:-1] + one[1:]) / 2 for one in edges])
    area = np.maximum(body.of(body.area, middles), 1e-8)
    k = conductivity
    if body.is_wide:
        nothing = np.zeros((len(depth), 0))
        return Rows(
            depth=depth,
            areas=np.ones((len(depth), 1)),
            inner=nothing,
            outer=np.zeros(len(depth)),
            wall=np.zeros(len(depth)),
            girth=np.ones(len(depth)),
        )
    width = np.minimum(np.maximum(body.of(body.width, middles), 1e-4), 2 * np.sqrt(area / math.pi))
    wetted = [np.diff(body.of(body.wetted, one)) for one in edges]
    wall = np.maximum(np.concatenate(wetted), 0.0)
    wall = wall * share_of_girth(width, area, wall / depth, k, float(depth.sum()), surround)
    # Shells by distance x from the edge: what is inside, and the length of that line.
    round_ = area / width**2 < 1
    reach = np.where(round_, np.sqrt(area / math.pi), width / 2)[:, None]
    x = SHELLS[None, :] * reach
    length = np.maximum(area / width, width)[:, None]
    inside = np.where(
        round_[:, None], math.pi * (reach - x) ** 2, (length - 2 * x) * (width[:, None] - 2 * x)
    )
    line = np.where(round_[:, None], 2 * math.pi * (reach - x), 2 * (length + width[:, None]) - 8 * x)
    inside = np.maximum(inside, 0.0) * (area[:, None] / inside[:, :1])
    areas = (inside[:, :-1] - inside[:, 1:])[:, ::-1]
    centres = (x[:, :-1] + x[:, 1:]) / 2
    inner = line[:, 1:-1] / np.diff(centres, axis=1)
    outer = line[:, 0] / centres[:, 0]
    # Scaled so that a steady even source gives the middle its true excess.
    drop = (inside[:, 1:-1] / inner).sum(axis=1) + inside[:, 0] / outer
    true = np.array([middle_of_section(round(float(one), 3)) for one in area / width**2]) * width**2
    scale = (drop / true * k * depth)[:, None]
    return Rows(
        depth=depth,
        areas=areas,
        inner=(inner * scale)[:, ::-1],
        outer=outer * scale[:, 0],
        wall=wall,
        girth=np.maximum(wall / depth, 2 * np.sqrt(math.pi * area))
        * np.where(round_, 1.0, CORNERS * np.maximum(area / width**2, 1.0)),
    )
