"""Hollows read at stations: a river between two natural edges along its length, a turned profile along its
height.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..piece.shapes import Profile, River
from .hollow import Hollow, Point, circle


def trapezoid(xs: list[float], ys: list[float]) -> float:
    """Integral of y over x by straight lines, in the product of their units (m x m2 gives m3).

        sum of (x_i+1 - x_i) (y_i + y_i+1) / 2

    xs  places [m], growing;  ys  values there, as many
    Raises nothing. Exact for straight lines between the places. Source: trapezoidal rule.
    """
    return sum((b - a) * (p + q) / 2 for a, b, p, q in zip(xs, xs[1:], ys, ys[1:], strict=False))


def simpson_weights(xs: list[float]) -> list[float]:
    """Weights [m] of composite Simpson for any spacing; an even number of stations ends with one parabola
    over the last three.

        for equal spacing s and an odd number: s/3 (1, 4, 2, ..., 4, 1)

    xs  places of the stations [m], growing, at least 2 (two give the trapezoid)
    Raises nothing. Exact for parabolas.
    Source: parabola through three points integrated; the last interval as in Cartwright, "Simpson's Rule
    Cumulative Integration with MS Excel and Irregularly-spaced Data", J. Math. Sci. Math. Educ. 12 (2017).
    """
    count = len(xs)
    weights = [0.0] * count
    if count == 2:
        return [(xs[1] - xs[0]) / 2] * 2
    last = count - 1 if count % 2 else count - 2
    for i in range(0, last, 2):
        a, b = xs[i + 1] - xs[i], xs[i + 2] - xs[i + 1]
        span = a + b
        weights[i] += span / 6 * (2 - b / a)
        weights[i + 1] += span**3 / (6 * a * b)
        weights[i + 2] += span / 6 * (2 - a / b)
    if count % 2 == 0:
        a, b = xs[-2] - xs[-3], xs[-1] - xs[-2]
        weights[-1] += (2 * b * b + 3 * a * b) / (6 * (a + b))
        weights[-2] += (b * b + 3 * a * b) / (6 * a)
        weights[-3] -= b**3 / (6 * a * (a + b))
    return weights


@dataclass(frozen=True, kw_only=True)
class RiverHollow(Hollow):
    """Between two edges: at each station the width runs straight from floor to face.

        A(h) = sum w_i b_i(h),  b_i(h) = bottom_i + (top_i - bottom_i) h / d,  V(h) = integral of A, exact in
        h

    w_i by Simpson; by the trapezoid where uneven stations would give one of them a weight below zero (formula
    says which).
    between_m3: the two rules beside each other, as the spread of what lies between the stations.
    """

    at_m: tuple[float, ...]
    top_m: tuple[float, ...]
    bottom_m: tuple[float, ...]
    edge_m: tuple[float, ...] | None
    depth_m: float
    cut = "equivalent"
    cut_note = "drawn as wide as its area over its length"

    @cached_property
    def _by_simpson(self) -> bool:
        return min(simpson_weights(list(self.at_m))) >= 0

    def _along(self, ordinates: tuple[float, ...] | list[float]) -> float:
        if not self._by_simpson:
            return trapezoid(list(self.at_m), list(ordinates))
        return sum(w * y for w, y in zip(simpson_weights(list(self.at_m)), ordinates, strict=True))

    @cached_property
    def _floor(self) -> float:
        return self._along(self.bottom_m)

    @cached_property
    def _opening(self) -> float:
        return self._along(self.top_m)

    def area(self, height_m: float) -> float:
        return self._floor + (self._opening - self._floor) * height_m / self.depth_m

    def volume(self, height_m: float) -> float:
        return (self._floor + self.area(height_m)) / 2 * height_m

    def wetted(self, height_m: float) -> float:
        """Floor, both edges as slanted strips between the stations, and the two ends."""
        part = height_m / self.depth_m
        ends = sum(
            (self.bottom_m[i] + (self.bottom_m[i] + (self.top_m[i] - self.bottom_m[i]) * part)) / 2 * height_m
            for i in (0, -1)
        )
        lean = max(0.0, (self._opening - self._floor) / (self.at_m[-1] - self.at_m[0]) / 2 * part)
        return self._floor + ends + sum(self._edge_lengths) * math.hypot(height_m, lean)

    @cached_property
    def _edge_lengths(self) -> tuple[float, float]:
        near = self._near
        far = [y + w for y, w in zip(near, self.top_m, strict=True)]
        return tuple(  # type: ignore[return-value]
            sum(
                math.hypot(b - a, q - p)
                for a, b, p, q in zip(self.at_m, self.at_m[1:], side, side[1:], strict=False)
            )
            for side in (near, far)
        )

    @property
    def _near(self) -> list[float]:
        return list(self.edge_m) if self.edge_m else [-width / 2 for width in self.top_m]

    def width(self, height_m: float) -> float:
        return self.area(height_m) / (self.at_m[-1] - self.at_m[0])

    def through(self, height_m: float) -> float:
        """At its widest station, where it gets hottest."""
        part = height_m / self.depth_m
        return max(low + (top - low) * part for low, top in zip(self.bottom_m, self.top_m, strict=True))

    def rim(self) -> list[Point]:
        near = list(zip(self.at_m, self._near, strict=True))
        far = [(x, y + w) for (x, y), w in zip(near, self.top_m, strict=True)]
        ring = near + far[::-1]
        return [point for i, point in enumerate(ring) if point != ring[i - 1]]

    @property
    def between_m3(self) -> float:
        tops, floors = (trapezoid(list(self.at_m), list(one)) for one in (self.top_m, self.bottom_m))
        return abs(self.volume(self.depth_m) - (tops + floors) / 2 * self.depth_m)

    def formula(self) -> tuple[str, str]:
        if len(self.at_m) == 2:
            return "mean width × length × depth", "trapezoid: two stations allow no more"
        rule = (
            "Simpson's rule for any spacing"
            if self._by_simpson
            else "the trapezoid; the stations are too uneven for Simpson's rule"
        )
        return (
            f"widths summed along the stations by {rule}, mean of top and bottom, × depth",
            "Simpson's rule, irregular form (Cartwright 2017)",
        )


def _check_stations(shape: River, places: list[float]) -> None:
    for number, (low, high) in enumerate(zip(places, places[1:], strict=False), start=2):
        if high <= low:
            raise DomainError(
                argument="stations",
                value=f"station {number} at {plainly(high * 1000)} mm, after one at {plainly(low * 1000)} mm",
                allowed="each lies further along than the one before",
                way_out="Put them in order along the river.",
                code="not-in-order",
            )
    if not any(station.width_m.value > 0 for station in shape.stations):
        raise DomainError(
            argument="stations",
            value="0 wide everywhere",
            allowed="at least one width is more than 0",
            way_out="Type the widths.",
            code="no-area",
        )


def river_hollow(shape: River) -> RiverHollow:
    places = [station.at_m.value for station in shape.stations]
    _check_stations(shape, places)
    edges = [station.edge_m for station in shape.stations]
    return RiverHollow(
        at_m=tuple(places),
        top_m=tuple(station.width_m.value for station in shape.stations),
        bottom_m=tuple((station.bottom_width_m or station.width_m).value for station in shape.stations),
        edge_m=tuple(one.value for one in edges if one) if all(edges) else None,
        depth_m=shape.depth_m.value,
    )


@dataclass(frozen=True)
class ProfileHollow(Hollow):
    """Turned: frusta of cones between the readings.

    V = sum pi dh (R^2 + R r + r^2) / 3,  the same as Pappus's 2 pi x centroid x area of the half profile
    """

    heights_m: tuple[float, ...]
    radii_m: tuple[float, ...]
    cut_note = "cut through the middle"

    @property
    def depth_m(self) -> float:  # type: ignore[override]
        return self.heights_m[-1]

    def radius(self, height_m: float) -> float:
        i = self._segment(height_m)
        low, high = self.heights_m[i], self.heights_m[i + 1]
        return self.radii_m[i] + (self.radii_m[i + 1] - self.radii_m[i]) * (height_m - low) / (high - low)

    def _segment(self, height_m: float) -> int:
        return next(
            (i for i in range(len(self.heights_m) - 1) if height_m <= self.heights_m[i + 1]),
            len(self.heights_m) - 2,
        )

    def area(self, height_m: float) -> float:
        return math.pi * self.radius(height_m) ** 2

    def _sum(self, height_m: float, part: Callable[[float, float, float], float]) -> float:
        last = self._segment(height_m)
        total = 0.0
        for i in range(last + 1):
            top = min(height_m, self.heights_m[i + 1])
            total += part(top - self.heights_m[i], self.radii_m[i], self.radius(top))
        return total

    def volume(self, height_m: float) -> float:
        return self._sum(height_m, lambda dh, r, big: math.pi * dh * (big * big + big * r + r * r) / 3)

    def wetted(self, height_m: float) -> float:
        return self.area(0.0) + self._sum(
            height_m, lambda dh, r, big: math.pi * (r + big) * math.hypot(dh, big - r)
        )

    def width(self, height_m: float) -> float:
        return 2 * self.radius(height_m)

    def rim(self) -> list[Point]:
        return circle(max(self.radii_m))

    def formula(self) -> tuple[str, str]:
        return (
            "π × height × (R² + R r + r²) / 3, summed between the readings",
            "frusta of cones; Pappus's theorem gives the same",
        )


def profile_hollow(shape: Profile) -> ProfileHollow:
    heights = [row.height_m.value for row in shape.rows]
    if heights[0] != 0:
        raise DomainError(
            argument="profile",
            value=f"begun at {plainly(heights[0] * 1000)} mm",
            allowed="the first reading is at height 0, the deepest point",
            way_out="Add the diameter at the bottom; 0 for a point.",
            code="no-bottom",
        )
    for low, high in zip(heights, heights[1:], strict=False):
        if high <= low:
            raise DomainError(
                argument="profile",
                value=f"{plainly(high * 1000)} mm after {plainly(low * 1000)} mm",
                allowed="each reading lies higher than the one before",
                way_out="Put them in order from the bottom up.",
                code="not-in-order",
            )
    if shape.rows[-1].diameter_m.value == 0 or not any(row.diameter_m.value for row in shape.rows):
        raise DomainError(
            argument="profile",
            value="closed at its top",
            allowed="the rim's diameter is more than 0",
            way_out="End at the opening.",
            code="no-opening",
        )
    return ProfileHollow(tuple(heights), tuple(row.diameter_m.value / 2 for row in shape.rows))
