"""A void's plan against a run in three dimensions of its own form: where the plan is right, and where the
edges are cooler. Rule 4.1.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..common.working import Data
from ..cure.parameters import ZERO_C_K
from ..heat.voxels import Layer3D, Run3D, Voxels, run_voxels, voxels_of
from ..measure.solids import solid_of
from ..measure.triangles import Solid
from ..piece.shapes import Shape
from .course import Course

AFTER_LAST_S = 3 * 86400.0
AGREES_K = 5.0
STANDS_K = 1.0
CELLS, SHARES = (4_000, 10_000, 25_000, 60_000), (0.04, 0.11, 0.25, 0.6)  # of the resin; of all the time

Slices = Callable[[float], list[list[tuple[float, float]]]]


class Three(Data):
    """peak_c: of each layer in three dimensions and by the plan. section_c: hottest by height
    (first) and across, in the middle cut.

    within_k  how far its peaks moved when the cells were last made finer [K]
    agrees    within AGREES_K of each other
    across_m, heights_m  middles of the cells; null where no resin stands
    """

    cells: int
    within_k: float
    peak_c: list[float]
    plan_peak_c: list[float]
    agrees: list[bool]
    across_m: list[float]
    heights_m: list[float]
    section_c: list[list[float | None]]


def _planned_peaks(course: Course) -> list[float]:
    """By the plan, by layer [degC]."""
    return [round(float(course.curve(i)[1].max()), 1) for i in range(len(course.layers))]


def _shown(kelvin: float) -> float | None:
    return None if math.isnan(kelvin) else round(kelvin - ZERO_C_K, 1)


def _refined(
    slices: Slices,
    size_m: tuple[float, float],
    edges_m: list[float],
    course: Course,
    tell: Callable[[float], bool] | None,
) -> tuple[Voxels, Run3D, float] | None:
    """Run on finer and finer cells until no peak moves by more than STANDS_K, or the finest is reached."""
    layers = [
        Layer3D(
            from_m=one.from_m,
            to_m=one.to_m,
            kinetics=one.load.kinetics,
            at_s=one.at_s,
            poured_k=one.began.celsius + ZERO_C_K,
            conversion=one.began.conversion,
            reach=(float(reach[0]), float(reach[1]), float(reach[2])),
        )
        for one, reach in zip(course.layers, course.reach, strict=True)
    ]
    done, moved = 0.0, math.inf
    before: list[float] | None = None
    found: tuple[Voxels, Run3D] | None = None
    for cells, share in zip(CELLS, SHARES, strict=True):

        def part(told: float, done: float = done, share: float = share) -> bool:
            return tell is None or tell(done + share * told)

        voxels = voxels_of(slices, size_m, edges_m, cells)
        until_s = layers[-1].at_s + AFTER_LAST_S
        run = run_voxels(voxels, course.stack.surround, layers, course.stack.room, until_s, part)
        if run is None:
            return None
        done, found = done + share, (voxels, run)
        if before is not None:
            moved = max(abs(a - b) for a, b in zip(run.peaks_k, before, strict=True))
        if moved <= STANDS_K:
            break
        before = run.peaks_k
    return None if found is None else (*found, moved)


def in_three(
    shape: Shape,
    mesh: Solid | None,
    course: Course,
    fill_m: float,
    tell: Callable[[float], bool] | None = None,
) -> Three | None:
    """The poured layers of `course`, at its hours, on voxels of the shape. None when it was ended.

    mesh  of a mesh shape, in metres, its floor at 0. Raises DomainError for shapes known by their volume
          only.
    """
    body = solid_of(shape, mesh)
    top = body.bounding_box()[5]
    x0, y0, _, x1, y1, _ = body.bounding_box()
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)

    def slices(height_m: float) -> list[list[tuple[float, float]]]:
        rings = body.slice(min(height_m, top * (1 - 1e-6))).to_polygons()
        return [[(float(x) - middle[0], float(y) - middle[1]) for x, y in ring] for ring in rings]

    edges = [course.layers[0].from_m, *(one.to_m for one in course.layers)]
    size_m = (x1 - x0, y1 - y0)
    found = _refined(slices, size_m, edges, course, tell)
    if found is None:
        return None
    voxels, run, within_k = found
    dy, dx = voxels.across
    along_x = (x1 - x0) >= (y1 - y0)  # the cut runs across the longer side
    middle_cell = run.hottest_k.shape[2 if along_x else 1] // 2
    cut = run.hottest_k.take(middle_cell, axis=2 if along_x else 1)
    step = dy if along_x else dx
    across = (np.arange(cut.shape[1]) + 0.5) * step - cut.shape[1] * step / 2
    peaks = [round(one - ZERO_C_K, 1) for one in run.peaks_k]
    planned = _planned_peaks(course)
    return Three(
        cells=run.cells,
        within_k=round(within_k, 2),
        peak_c=peaks,
        plan_peak_c=planned,
        agrees=[abs(peak - by_plan) <= AGREES_K for peak, by_plan in zip(peaks, planned, strict=True)],
        across_m=[round(float(one), 5) for one in across],
        heights_m=[round(float(one), 6) for one in edges[0] + voxels.heights],
        section_c=[[_shown(float(v)) for v in row] for row in cut],
    )
