"""A void's plan against a run in three dimensions of its own form: where the column is right, and where the
edges are cooler. Rule 4.1.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..common.working import Data
from ..cure.parameters import ZERO_C_K
from ..heat.voxels import Layer3D, run_voxels, voxels_of
from ..measure.solids import solid_of
from ..measure.triangles import Solid
from ..piece.shapes import Shape
from .course import Course

AFTER_LAST_S = 3 * 86400.0
AGREES_K = 5.0


class Three(Data):
    """peak_c: of each layer in three dimensions and by the plan's column. section_c: hottest by height
    (first) and across, in the middle cut.

    agrees    within AGREES_K of each other
    across_m, heights_m  middles of the cells; null where no resin stands
    """

    cells: int
    peak_c: list[float]
    plan_peak_c: list[float]
    agrees: list[bool]
    across_m: list[float]
    heights_m: list[float]
    section_c: list[list[float | None]]


def _column_peaks(course: Course) -> list[float]:
    """Of the plan's column, by layer [degC]."""
    return [round(float(course.curve(i)[1].max()), 1) for i in range(len(course.layers))]


def _shown(kelvin: float) -> float | None:
    return None if math.isnan(kelvin) else round(kelvin - ZERO_C_K, 1)


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

    voxels = voxels_of(slices, (x1 - x0, y1 - y0), fill_m)
    layers = [
        Layer3D(from_m=one.from_m, to_m=one.to_m, kinetics=one.cure.kinetics, at_s=one.at_s)
        for one in course.layers
    ]
    run = run_voxels(
        voxels, course.stack.surround, layers, course.stack.room, layers[-1].at_s + AFTER_LAST_S, tell
    )
    if run is None:
        return None
    dz, dy, dx = voxels.spacing
    along_x = (x1 - x0) >= (y1 - y0)  # the cut runs across the longer side
    middle_cell = run.hottest_k.shape[2 if along_x else 1] // 2
    cut = run.hottest_k.take(middle_cell, axis=2 if along_x else 1)
    step = dy if along_x else dx
    across = (np.arange(cut.shape[1]) + 0.5) * step - cut.shape[1] * step / 2
    peaks = [round(one - ZERO_C_K, 1) for one in run.peaks_k]
    columns = _column_peaks(course)
    return Three(
        cells=run.cells,
        peak_c=peaks,
        plan_peak_c=columns,
        agrees=[abs(peak - column) <= AGREES_K for peak, column in zip(peaks, columns, strict=True)],
        across_m=[round(float(one), 5) for one in across],
        heights_m=[round((i + 0.5) * dz, 6) for i in range(cut.shape[0])],
        section_c=[[_shown(float(v)) for v in row] for row in cut],
    )
