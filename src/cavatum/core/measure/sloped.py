"""Hollows with sloped walls: four-sided with draft or as a groove, cracks by their form, and a volume known
only as a whole.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from .hollow import Hollow, Point, circle

CRACK_POWER = {"straight": 0.0, "v": 1.0, "round": 0.5}
CRACK_SHARE = {"straight": "the box", "v": "half the box", "round": "two thirds of the box"}


@dataclass(frozen=True, kw_only=True)
class TaperedHollow(Hollow):
    """Prismatoid with four flat sides: length and width grow evenly from floor to rim.

        A(h) = l(h) w(h), quadratic in h, so V(h) = h (A(0) + 4 A(h/2) + A(h)) / 6 is exact (prismoidal
        formula)

    Wetted: the floor and four slanted trapezia.
    """

    length_m: float
    width_m: float
    bottom_length_m: float
    bottom_width_m: float
    depth_m: float
    cut_note = "cut across the short side"

    def sides(self, height_m: float) -> tuple[float, float]:
        part = height_m / self.depth_m
        return (
            self.bottom_length_m + (self.length_m - self.bottom_length_m) * part,
            self.bottom_width_m + (self.width_m - self.bottom_width_m) * part,
        )

    def area(self, height_m: float) -> float:
        length, width = self.sides(height_m)
        return length * width

    def volume(self, height_m: float) -> float:
        return height_m * (self.area(0.0) + 4 * self.area(height_m / 2) + self.area(height_m)) / 6

    def wetted(self, height_m: float) -> float:
        length, width = self.sides(height_m)
        along = (self.bottom_length_m + length) * (
            height_m**2 + ((width - self.bottom_width_m) / 2) ** 2
        ) ** 0.5
        across = (self.bottom_width_m + width) * (
            height_m**2 + ((length - self.bottom_length_m) / 2) ** 2
        ) ** 0.5
        return float(self.area(0.0) + along + across)

    def width(self, height_m: float) -> float:
        return self.sides(height_m)[0 if self.length_m < self.width_m else 1]

    def extent(self, height_m: float) -> tuple[str, float, float]:
        return "square", *self.sides(height_m)

    def rim(self) -> list[Point]:
        x, y = self.length_m / 2, self.width_m / 2
        return [(-x, -y), (x, -y), (x, y), (-x, y)]

    def formula(self) -> tuple[str, str]:
        return (
            "depth × (floor + 4 × area half way up + opening) / 6",
            "prismoidal formula, exact for flat sides",
        )


@dataclass(frozen=True, kw_only=True)
class CrackHollow(Hollow):
    """A crack as wide as w (h/d)^n: n = 0 straight, 1/2 round, 1 closing to a line.

        V(h) = L w h (h/d)^n / (n + 1): the box, two thirds of it, half of it at h = d

    Wetted: the two flanks as straight lines from root to face, and the floor of a straight crack.
    Common practice, no source: which form a crack has is judged by eye with a feeler.
    """

    length_m: float
    face_width_m: float
    depth_m: float
    form: str
    cut_note = "cut across the crack"

    @property
    def _power(self) -> float:
        return CRACK_POWER[self.form]

    def area(self, height_m: float) -> float:
        return self.length_m * self.width(height_m)

    def volume(self, height_m: float) -> float:
        return self.area(height_m) * height_m / (self._power + 1)

    def wetted(self, height_m: float) -> float:
        floor = self.area(0.0) if self.form == "straight" else 0.0
        lean = (self.width(height_m) - self.width(0.0)) / 2
        return floor + 2 * self.length_m * math.sqrt(height_m**2 + lean**2)

    def width(self, height_m: float) -> float:
        return self.face_width_m * math.pow(height_m / self.depth_m, self._power)

    def rim(self) -> list[Point]:
        x, y = self.length_m / 2, self.face_width_m / 2
        return [(-x, -y), (x, -y), (x, y), (-x, y)]

    def formula(self) -> tuple[str, str]:
        return (
            f"length × width × depth, {CRACK_SHARE[self.form]}",
            "width taken as a power of the height; form by eye (common practice, no source)",
        )


@dataclass(frozen=True, kw_only=True)
class WholeHollow(Hollow):
    """A volume known only as a whole, over a depth: straight walls, or with the opening's area A_t known a
    power law.

        A(h) = A_t (h/d)^n,  V(h) = V (h/d)^(n+1),  n = A_t d / V - 1

    Wetted: floor and walls of a round hollow of these areas, an estimate. Needs A_t d >= V (no undercut).
    """

    whole_m3: float
    depth_m: float
    opening_m2: float | None
    words: str
    source: str
    cut = "equivalent"

    @property
    def cut_note(self) -> str:  # type: ignore[override]
        return "drawn as a round hollow of this volume and depth"

    @property
    def _power(self) -> float:
        return self.opening_m2 * self.depth_m / self.whole_m3 - 1 if self.opening_m2 else 0.0

    def area(self, height_m: float) -> float:
        power = self._power
        if power <= 0:
            return self.whole_m3 / self.depth_m
        return (power + 1) * self.whole_m3 / self.depth_m * math.pow(height_m / self.depth_m, power)

    def volume(self, height_m: float) -> float:
        return self.whole_m3 * math.pow(height_m / self.depth_m, max(self._power, 0.0) + 1)

    def wetted(self, height_m: float) -> float:
        girth = 2 * (math.pi * self.area(height_m)) ** 0.5
        low = 2 * (math.pi * self.area(0.0)) ** 0.5
        return float(self.area(0.0) + (girth + low) / 2 * height_m)

    def width(self, height_m: float) -> float:
        return 2 * math.sqrt(self.area(height_m) / math.pi)

    def rim(self) -> list[Point]:
        return circle(self.width(self.depth_m) / 2)

    @property
    def boxed_m3(self) -> float | None:
        return None

    def formula(self) -> tuple[str, str]:
        return self.words, self.source


def whole_hollow(
    volume_m3: float, depth_m: float, opening_m2: float | None, words: str, source: str
) -> WholeHollow:
    """Raises DomainError where the opening is too small for the volume: then the hollow widens below its
    rim.
    """
    if opening_m2 is not None and opening_m2 * depth_m < volume_m3 * (1 - 1e-9):
        raise DomainError(
            argument="opening",
            value=f"{plainly(opening_m2 * 1e4, 4)} cm²",
            allowed=f"over this depth the volume needs at least {plainly(volume_m3 / depth_m * 1e4, 4)} cm²",
            way_out="Check the opening, the depth and the volume, or leave the opening out.",
            code="opening-too-small",
        )
    return WholeHollow(whole_m3=volume_m3, depth_m=depth_m, opening_m2=opening_m2, words=words, source=source)
