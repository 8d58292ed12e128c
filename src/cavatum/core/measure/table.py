"""A hollow read from a mesh: area, volume and wetted surface as a table over height, joined without ever
falling.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from functools import cached_property

from shapely.geometry import Polygon

from ..piece.shapes import Mesh
from .hollow import Hollow, Point, Ring, widest_circle


@dataclass(frozen=True)
class TableHollow(Hollow):
    """V(h) between the rows by cubic Hermite pieces with the areas as slopes, limited to three times the mean
    slope on
    either side, so that V never falls; exact at the rows.

    Source of the limit: Fritsch and Carlson, SIAM J. Numer. Anal. 17 (1980) 238.
    """

    shape: Mesh

    @property
    def depth_m(self) -> float:  # type: ignore[override]
        return self.shape.rows[-1].height_m

    @property
    def cut(self) -> str:  # type: ignore[override]
        return "true" if self.shape.cut_m else "equivalent"

    @property
    def cut_note(self) -> str:  # type: ignore[override]
        return (
            "cut through the mesh in its middle"
            if self.shape.cut_m
            else "drawn as wide as its area over its length"
        )

    @cached_property
    def _columns(self) -> tuple[list[float], list[float], list[float], list[float]]:
        rows = self.shape.rows
        heights = [row.height_m for row in rows]
        volumes = [row.volume_m3 for row in rows]
        means = [
            (v - u) / (b - a) for a, b, u, v in zip(heights, heights[1:], volumes, volumes[1:], strict=False)
        ]
        slopes = []
        for i, row in enumerate(rows):
            beside = means[max(i - 1, 0) : i + 1]
            slopes.append(min(row.area_m2, 3 * min(beside)))
        return heights, volumes, slopes, [row.wetted_m2 for row in rows]

    def _place(self, height_m: float) -> tuple[int, float, float]:
        heights = self._columns[0]
        i = min(max(bisect_right(heights, height_m) - 1, 0), len(heights) - 2)
        step = heights[i + 1] - heights[i]
        return i, step, (height_m - heights[i]) / step

    def area(self, height_m: float) -> float:
        _, volumes, slopes, _ = self._columns
        i, step, t = self._place(height_m)
        rise = volumes[i + 1] - volumes[i]
        return (
            6 * t * (1 - t) * rise / step
            + (1 - t) * (1 - 3 * t) * slopes[i]
            + t * (3 * t - 2) * slopes[i + 1]
        )

    def volume(self, height_m: float) -> float:
        _, volumes, slopes, _ = self._columns
        i, step, t = self._place(height_m)
        rise = volumes[i + 1] - volumes[i]
        return (
            volumes[i]
            + t * t * (3 - 2 * t) * rise
            + step * t * (1 - t) * ((1 - t) * slopes[i] - t * slopes[i + 1])
        )

    def wetted(self, height_m: float) -> float:
        wetted = self._columns[3]
        i, _, t = self._place(height_m)
        return wetted[i] + t * (wetted[i + 1] - wetted[i])

    def width(self, height_m: float) -> float:
        if self.shape.cut_m:
            across = [x for ring in self.shape.cut_m for x, _ in ring]
            return 2 * max(abs(min(across)), abs(max(across)))
        return self.area(height_m) / max(self.size_m)

    @cached_property
    def _circle(self) -> float | None:
        """Of the opening; None round a body, and where the opening is no closed line."""
        rim = Polygon(self.shape.rim_m) if len(self.shape.rim_m) > 2 else Polygon()
        return widest_circle(rim) if self.shape.role != "body" and rim.is_valid and rim.area > 0 else None

    def through(self, height_m: float) -> float:
        """Across the widest place of the opening, lower down in proportion to what is left of its area."""
        if self._circle is None:
            return self.area(height_m) / max(self.size_m)
        return self._circle * math.sqrt(self.area(height_m) / self.area(self.depth_m))

    def cut_rings(self) -> list[Ring]:
        return [list(ring) for ring in self.shape.cut_m]

    def rim(self) -> list[Point]:
        return list(self.shape.rim_m)

    @property
    def size_m(self) -> tuple[float, float]:
        return self.shape.size_m

    def formula(self) -> tuple[str, str]:
        note = (
            "the space the mesh encloses"
            if self.shape.role == "cavity"
            else "the form less the body the mesh encloses"
        )
        return (
            f"{note}, integrated over every triangle up to each height",
            "divergence theorem, exact for flat triangles",
        )
