"""Hollows by closed form: area, volume and wetted wall at each height above the deepest point.

Every hollow answers the same four questions; heights h run from 0 at the bottom to depth_m at the rim.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from dataclasses import dataclass
from functools import cached_property

import shapely
from shapely.geometry import Polygon

Point = tuple[float, float]
Ring = list[Point]
CIRCLE_POINTS = 96


def widest_circle(polygon: Polygon) -> float:
    """Diameter [m] of the largest circle that fits inside: what stands in its middle is furthest from a wall.

    polygon  with its holes
    Raises nothing. Valid to a thousandth of its extent. Source: Shapely (pole of inaccessibility).
    """
    return 2 * float(shapely.maximum_inscribed_circle(polygon).length)


class Hollow(ABC):
    """A void as area by height. `cut` says whether `width` is a real cut through it or A(h) over its
    length.
    """

    depth_m: float
    cut: str = "true"
    cut_note: str = ""

    @abstractmethod
    def area(self, height_m: float) -> float:
        """Horizontal area [m2] at a height in 0..depth_m."""

    @abstractmethod
    def volume(self, height_m: float) -> float:
        """Volume [m3] below a height in 0..depth_m."""

    @abstractmethod
    def wetted(self, height_m: float) -> float:
        """Floor and walls [m2] touched by a filling up to a height in 0..depth_m."""

    @abstractmethod
    def width(self, height_m: float) -> float:
        """Width [m] of the section at a height."""

    def through(self, height_m: float) -> float:
        """The way [m] across the fill at a height that its heat takes: the width, or a ring's gap."""
        return self.width(height_m)

    @abstractmethod
    def rim(self) -> list[Point]:
        """The opening seen from above [m]."""

    @abstractmethod
    def formula(self) -> tuple[str, str]:
        """The formula of the whole volume in words, and its source."""

    def extent(self, height_m: float) -> tuple[str, float, float]:
        """Plan at a height: ("round", diameter, diameter) or ("square", length, width) [m]. Only of shapes
        that can be nested.
        """
        return "round", self.width(height_m), self.width(height_m)

    def cut_rings(self) -> list[Ring]:
        """The real cut as closed rings of (across, height) [m], where half widths on both sides of a middle
        do not tell it.
        """
        return []

    @property
    def boxed_m3(self) -> float | None:
        """Volume [m3] of the box round the hollow: what length x width x depth would give. None where no size
        is known.
        """
        length, width = self.size_m
        return length * width * self.depth_m

    @property
    def between_m3(self) -> float:
        """How far off [m3] the volume may be because the shape between the readings is not known; 0 where it
        is.
        """
        return 0.0

    @cached_property  # asked for at every height of a heat run
    def size_m(self) -> tuple[float, float]:
        """Length and width of the opening's bounding box [m]."""
        xs, ys = zip(*self.rim(), strict=True)
        return max(xs) - min(xs), max(ys) - min(ys)


def circle(radius_m: float) -> list[Point]:
    turn = 2 * math.pi / CIRCLE_POINTS
    return [(radius_m * math.cos(i * turn), radius_m * math.sin(i * turn)) for i in range(CIRCLE_POINTS)]


@dataclass(frozen=True)
class BoxHollow(Hollow):
    """V = length x width x h. Source: elementary geometry."""

    length_m: float
    width_m: float
    depth_m: float
    cut_note = "cut across the short side"

    def area(self, height_m: float) -> float:
        return self.length_m * self.width_m

    def volume(self, height_m: float) -> float:
        return self.area(height_m) * height_m

    def wetted(self, height_m: float) -> float:
        return self.area(0.0) + 2 * (self.length_m + self.width_m) * height_m

    def width(self, height_m: float) -> float:
        return min(self.length_m, self.width_m)

    def extent(self, height_m: float) -> tuple[str, float, float]:
        return "square", self.length_m, self.width_m

    def rim(self) -> list[Point]:
        x, y = self.length_m / 2, self.width_m / 2
        return [(-x, -y), (x, -y), (x, y), (-x, y)]

    def formula(self) -> tuple[str, str]:
        return "length × width × depth", "elementary geometry"


@dataclass(frozen=True)
class ConeHollow(Hollow):
    """Frustum of a cone, a cylinder when both radii are equal.

        V(h) = pi h (b^2 + b r + r^2) / 3,   r = radius at h,  b = bottom radius

    Wetted: the floor and pi (b + r) sqrt(h^2 + (r - b)^2). Source: elementary geometry.
    """

    bottom_radius_m: float
    top_radius_m: float
    depth_m: float
    cut_note = "cut through the middle"

    def radius(self, height_m: float) -> float:
        return self.bottom_radius_m + (self.top_radius_m - self.bottom_radius_m) * height_m / self.depth_m

    def area(self, height_m: float) -> float:
        return math.pi * self.radius(height_m) ** 2

    def volume(self, height_m: float) -> float:
        b, r = self.bottom_radius_m, self.radius(height_m)
        return math.pi * height_m * (b * b + b * r + r * r) / 3

    def wetted(self, height_m: float) -> float:
        b, r = self.bottom_radius_m, self.radius(height_m)
        return math.pi * b * b + math.pi * (b + r) * math.hypot(height_m, r - b)

    def width(self, height_m: float) -> float:
        return 2 * self.radius(height_m)

    def rim(self) -> list[Point]:
        return circle(self.top_radius_m)

    def formula(self) -> tuple[str, str]:
        if self.bottom_radius_m == self.top_radius_m:
            return "π × (diameter / 2)² × depth", "elementary geometry"
        return (
            "π × depth × (R² + R r + r²) / 3, R and r half the diameters at rim and bottom",
            "elementary geometry",
        )


@dataclass(frozen=True)
class BowlHollow(Hollow):
    """Part of a sphere of radius R = (a^2 + d^2) / (2 d), filled from its lowest point.

        V(h) = pi h^2 (3 R - h) / 3,   A(h) = pi h (2 R - h),   wetted = 2 pi R h

    a  half the rim's diameter [m];  d  depth [m], may exceed a (undercut)
    Source: disc areas integrated from pole to rim; at h = d equal to pi d (3 a^2 + d^2) / 6.
    """

    rim_radius_m: float
    depth_m: float
    cut_note = "cut through the middle"

    @property
    def sphere_radius_m(self) -> float:
        return (self.rim_radius_m**2 + self.depth_m**2) / (2 * self.depth_m)

    def area(self, height_m: float) -> float:
        return math.pi * height_m * (2 * self.sphere_radius_m - height_m)

    def volume(self, height_m: float) -> float:
        return math.pi * height_m**2 * (3 * self.sphere_radius_m - height_m) / 3

    def wetted(self, height_m: float) -> float:
        return 2 * math.pi * self.sphere_radius_m * height_m

    def width(self, height_m: float) -> float:
        return 2 * math.sqrt(max(self.area(height_m), 0.0) / math.pi)

    def rim(self) -> list[Point]:
        return circle(self.rim_radius_m)

    def formula(self) -> tuple[str, str]:
        return (
            "π × depth × (3 a² + depth²) / 6, a half the rim's diameter",
            "disc areas integrated from pole to rim",
        )
