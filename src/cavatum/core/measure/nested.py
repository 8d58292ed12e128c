"""The space between two shapes: an inner mould in an outer one, or a block form minus the body that stands in
it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from .hollow import Hollow, Point, Ring

CHECKED_HEIGHTS = 33
TOUCH_M = 1e-9


@dataclass(frozen=True)
class NestedHollow(Hollow):
    """A(h) = A_outer(h) - A_inner(h - h0), V and wetted surface likewise; the inner one's underside counts as
    wetted when it
    stands clear of the floor (h0 > 0)."""

    outer: Hollow
    inner: Hollow
    inner_from_m: float
    cut_note = "cut through the middle"

    @property
    def depth_m(self) -> float:  # type: ignore[override]
        return self.outer.depth_m

    def _inside(self, height_m: float) -> float:
        return min(max(height_m - self.inner_from_m, 0.0), self.inner.depth_m)

    def area(self, height_m: float) -> float:
        up = height_m - self.inner_from_m
        body = (
            self.inner.area(up)
            if 0 <= up < self.inner.depth_m or (up == self.inner.depth_m and height_m == self.depth_m)
            else 0.0
        )
        return self.outer.area(height_m) - body

    def volume(self, height_m: float) -> float:
        return self.outer.volume(height_m) - self.inner.volume(self._inside(height_m))

    def submerged(self, height_m: float) -> float:
        """Volume [m3] of the inner one below a height."""
        return self.inner.volume(self._inside(height_m))

    def wetted(self, height_m: float) -> float:
        inside = self._inside(height_m)
        body = self.inner.wetted(inside) if height_m > self.inner_from_m else 0.0
        lid = (
            self.inner.area(self.inner.depth_m) if height_m - self.inner_from_m > self.inner.depth_m else 0.0
        )
        underside = 2 * self.inner.area(0.0) if self.inner_from_m <= TOUCH_M and height_m > 0 else 0.0
        return self.outer.wetted(height_m) + body + lid - underside

    def width(self, height_m: float) -> float:
        return self.outer.width(height_m)

    def through(self, height_m: float) -> float:
        up = height_m - self.inner_from_m
        if not 0 <= up <= self.inner.depth_m:
            return self.outer.through(height_m)
        around = (_girth(self.outer.extent(height_m)) + _girth(self.inner.extent(up))) / 2
        return self.area(height_m) / around

    def rim(self) -> list[Point]:
        return self.outer.rim()

    @property
    def boxed_m3(self) -> float | None:
        return None  # nobody would take the box round a ring for its volume

    def cut_rings(self) -> list[Ring]:
        return [
            _ring(self.outer, 0.0, self.outer.depth_m),
            _ring(self.inner, self.inner_from_m, self.depth_m),
        ]

    def formula(self) -> tuple[str, str]:
        return (
            f"outer, {self.outer.formula()[0]}, less the inner as far as it stands in it, "
            f"{self.inner.formula()[0]}",
            "volumes deducted; each by its own formula",
        )


def _girth(extent: tuple[str, float, float]) -> float:
    form, a, b = extent
    return math.pi * a if form == "round" else 2 * (a + b)


def _ring(hollow: Hollow, from_m: float, top_m: float) -> Ring:
    """Half widths on both sides of the middle, from the bottom up and down again."""
    span = min(hollow.depth_m, top_m - from_m)
    rows = [(hollow.width(span * i / 24) / 2, from_m + span * i / 24) for i in range(25)]
    return [(-half, height) for half, height in rows] + [(half, height) for half, height in reversed(rows)]


def nested_hollow(outer: Hollow, inner: Hollow, inner_from_m: float) -> NestedHollow:
    """Raises where the inner one stands above the rim or does not fit into the outer one at some height."""
    if inner_from_m >= outer.depth_m:
        raise DomainError(
            argument="inner shape",
            value=f"{plainly(inner_from_m * 1000)} mm up",
            allowed=f"the rim is at {plainly(outer.depth_m * 1000)} mm",
            way_out="Give the height of its underside over the floor.",
            code="above-rim",
        )
    top = min(inner.depth_m, outer.depth_m - inner_from_m)
    for i in range(CHECKED_HEIGHTS):
        up = top * i / (CHECKED_HEIGHTS - 1)
        if not _fits(outer.extent(inner_from_m + up), inner.extent(up)):
            raise Infeasible(
                argument="inner shape",
                value=f"wider than the outer one at {plainly((inner_from_m + up) * 1000, 4)} mm",
                allowed="it must leave a gap all round",
                way_out="Check both shapes and the height of its underside.",
                code="no-room",
            )
    return NestedHollow(outer, inner, inner_from_m)


def _fits(outer: tuple[str, float, float], inner: tuple[str, float, float]) -> bool:
    """Both about one axis: round in round by diameter, square in square by sides, square in round by its
    diagonal.
    """
    (out_form, out_a, out_b), (in_form, in_a, in_b) = outer, inner
    if out_form == "round":
        return out_a > (in_a if in_form == "round" else math.hypot(in_a, in_b)) + TOUCH_M
    return out_a > in_a + TOUCH_M and out_b > in_b + TOUCH_M
