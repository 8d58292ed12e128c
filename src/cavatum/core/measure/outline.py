"""A drawn outline times depth, with or without draft. Outlines, holes and offsets through Shapely."""

from __future__ import annotations

import math
import re
from functools import cached_property

import shapely
from shapely.geometry import Polygon
from shapely.validation import explain_validity

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..piece.shapes import Outline
from .hollow import Hollow, Point, widest_circle

# Simpson panels over the depth; the area of a drafted polygon is quadratic in height, so they are exact
PANELS = 24
LEAST_AREA_M2 = 1e-7
MITRE_LIMIT = 50.0


def outline_hollow(shape: Outline) -> OutlineHollow:
    """Check the outline before use: closed by itself, not crossing, not empty, its draft possible over its
    depth.
    """
    polygon = checked_polygon(shape.points_m, shape.holes_m)
    hollow = OutlineHollow(
        polygon, shape.depth_m.value, math.tan(math.radians(shape.draft_deg.value if shape.draft_deg else 0))
    )
    floor = hollow.section(0.0)
    if floor.is_empty or floor.geom_type != "Polygon" or floor.area < LEAST_AREA_M2:
        raise Infeasible(
            argument="draft",
            value=f"{plainly(shape.draft_deg.value if shape.draft_deg else 0)} degrees over "
            f"{plainly(shape.depth_m.value * 1000)} mm",
            allowed="the walls meet or split the floor before the bottom",
            way_out="Check draft and depth, or make it two voids.",
            code="walls-meet",
        )
    return hollow


def checked_polygon(points_m: list[Point], holes_m: list[list[Point]]) -> Polygon:
    """The area inside a ring, its holes taken out. Raises DomainError where it crosses itself, encloses
    nothing or is over 10 m long.
    """
    polygon = Polygon(points_m, holes_m)
    if not polygon.is_valid:
        raise DomainError(
            argument="outline",
            value=_where_it_fails(polygon),
            allowed="its line may not cross or touch itself",
            way_out="Walk round the edge in order and look for two points swapped.",
            code="crosses-itself",
        )
    if polygon.area < LEAST_AREA_M2:
        raise DomainError(
            argument="outline",
            value=f"{plainly(polygon.area * 1e6, 3)} mm² in area",
            allowed="it must enclose something",
            way_out="Check the points and their unit.",
            code="no-area",
        )
    span = max(polygon.bounds[2] - polygon.bounds[0], polygon.bounds[3] - polygon.bounds[1])
    if span > 10.0:
        raise DomainError(
            argument="outline",
            value=f"{plainly(span)} m long",
            allowed="it must be at most 10 m",
            way_out="Check the unit of the points.",
        )
    return polygon


def _where_it_fails(polygon: Polygon) -> str:
    """Shapely's explanation ends with the place, "Self-intersection[0.05 0.05]"; say it in millimetres."""
    place = re.search(r"\[(\S+) (\S+)\]", explain_validity(polygon))
    if place is None:
        return "not a closed line round an area"
    return "crossing or touching itself near x {:g}, y {:g} mm".format(
        *(float(one) * 1000 for one in place.groups())
    )


class OutlineHollow(Hollow):
    """A(h) = area of the rim's outline moved inwards by (depth - h) tan(draft); V by composite Simpson over
    it.

    Source: Shapely offsets with mitred corners; Simpson is exact for sections quadratic in height.
    """

    cut = "equivalent"
    cut_note = "drawn as wide as its area over its length"

    def __init__(self, polygon: Polygon, depth_m: float, slope: float):
        self.polygon, self.depth_m, self.slope = polygon, depth_m, slope

    def section(self, height_m: float) -> Polygon:
        inset = (self.depth_m - height_m) * self.slope
        if inset <= 0:
            return self.polygon
        return shapely.buffer(self.polygon, -inset, join_style="mitre", mitre_limit=MITRE_LIMIT)

    def area(self, height_m: float) -> float:
        return float(self.section(height_m).area)

    @cached_property
    def _table(self) -> tuple[list[float], list[float]]:
        """Volume and wall area below each of PANELS + 1 equal heights."""
        step = self.depth_m / PANELS
        slant = math.sqrt(1 + self.slope**2)
        volumes, walls = [0.0], [self.area(0.0)]
        for i in range(PANELS):
            low, mid, high = (self.section((i + part) * step) for part in (0.0, 0.5, 1.0))
            volumes.append(volumes[-1] + step * (low.area + 4 * mid.area + high.area) / 6)
            walls.append(walls[-1] + step * slant * (low.length + 4 * mid.length + high.length) / 6)
        return volumes, walls

    def volume(self, height_m: float) -> float:
        if self.slope == 0:
            return float(self.polygon.area * height_m)
        step = self.depth_m / PANELS
        node = min(int(height_m / step), PANELS - 1)
        start = node * step
        part = height_m - start
        areas = self.area(start) + 4 * self.area(start + part / 2) + self.area(height_m)
        return self._table[0][node] + part * areas / 6

    def wetted(self, height_m: float) -> float:
        if self.slope == 0:
            return float(self.polygon.area + self.polygon.length * height_m)
        place = height_m / self.depth_m * PANELS
        node = min(int(place), PANELS - 1)
        walls = self._table[1]
        return walls[node] + (place - node) * (walls[node + 1] - walls[node])

    def width(self, height_m: float) -> float:
        return self.area(height_m) / max(self.size_m)

    @cached_property
    def _circle(self) -> float:
        return widest_circle(self.polygon)

    def through(self, height_m: float) -> float:
        """Across the widest place; moved inwards by the draft, its circle loses as much on both sides."""
        return max(self._circle - 2 * (self.depth_m - height_m) * self.slope, self.width(height_m))

    def rim(self) -> list[Point]:
        return [(x, y) for x, y in self.polygon.exterior.coords[:-1]]

    def formula(self) -> tuple[str, str]:
        if self.slope == 0:
            return "area of the outline × depth", "Shapely polygon area (shoelace)"
        return (
            "sections moved inwards by the draft, summed by Simpson's rule over 24 panels",
            "Simpson's rule; Shapely offsets",
        )
