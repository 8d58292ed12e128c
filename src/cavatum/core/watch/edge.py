"""The film's wet edge, followed in pieces along each side: out where it creeps, in where it drains."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from .view import Image, Mask, View

PARTS = 24  # of each side
OUT_MM, IN_MM = 5.0, 24.0  # how far outside and inside of the piece's side is looked at
FROM_SIDE_MM = 1.2  # nearer than this it cannot be told from the piece's own side
TEMPLATE_MM, STEP_MM = 2.0, 1.5  # about the edge; how far it may go between two pictures
BAND_MM = 4.5  # on either side of it nothing else is looked for
LEAST_SLOPE = 1.5  # grey per pixel
ALIKE = 0.75
LEAST_PARTS, AGREE = 7, 0.55  # of a side, that tell the same


@dataclass(kw_only=True)
class _Part:
    side: int
    number: int
    at_px: int
    slope: NDArray[np.float32]
    out_px: float = 0.0


@dataclass
class WetEdge:
    """Of a view at first; asked of later ones how far it went."""

    view: View
    first: Image
    parts: list[_Part] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.band: Mask = np.zeros_like(self.view.seen)
        for side in range(4):
            for number in range(PARTS):
                slope = _slope(self._profile(self.first, side, number))
                at = self._steepest(slope)
                if at is not None:
                    self.parts.append(_Part(side=side, number=number, at_px=at, slope=slope))
                    self._mark(side, number, at)

    def moved_mm(self, now: Image) -> NDArray[np.float64]:
        """[4]: outwards on each side; NaN where too few parts of it tell the same."""
        told: list[list[float]] = [[], [], [], []]
        for part in self.parts:
            out = self._offset(part, _slope(self._profile(now, part.side, part.number)))
            if out is None:
                continue
            told[part.side].append(out / self.view.px)
            if round(out) != round(part.out_px):
                self._mark(part.side, part.number, part.at_px - round(out))
            part.out_px = out
        return np.array([_together(one) for one in told])

    def _profile(self, image: Image, side: int, number: int) -> Image:
        """Across the side, from outside inwards, over one part of its length."""
        (x0, y0, x1, y1), px = self.view.box, self.view.px
        inwards, out = int(IN_MM * px), int(OUT_MM * px)
        a, b = self._along(side, number, number + 1)
        across = {
            0: (slice(y0 - out, y0 + inwards), slice(x0 + a, x0 + b)),
            1: (slice(y0 + a, y0 + b), slice(x1 - inwards, x1 + out)),
            2: (slice(y1 - inwards, y1 + out), slice(x0 + a, x0 + b)),
            3: (slice(y0 + a, y0 + b), slice(x0 - out, x0 + inwards)),
        }
        profile: Image = image[across[side]].mean(1 if side in (0, 2) else 0)
        return profile[::-1] if side in (1, 2) else profile

    def _along(self, side: int, from_: float, to: float) -> tuple[int, int]:
        """Pixels along a side; its corners are left out."""
        x0, y0, x1, y1 = self.view.box
        long = x1 - x0 if side in (0, 2) else y1 - y0
        return int(long * (0.08 + 0.84 * from_ / PARTS)), int(long * (0.08 + 0.84 * to / PARTS))

    def _steepest(self, slope: Image) -> int | None:
        px = self.view.px
        least, most = math.ceil((OUT_MM + FROM_SIDE_MM) * px), len(slope) - int(TEMPLATE_MM * px) - 1
        high = np.abs(slope)
        tops = [
            at
            for at in range(least, most)
            if high[at] >= LEAST_SLOPE and high[at] >= high[at - 1] and high[at] >= high[at + 1]
        ]
        return max(tops, key=lambda at: float(high[at])) if tops else None

    def _mark(self, side: int, number: int, at: int) -> None:
        """The band round the film's edge."""
        (x0, y0, x1, y1), px = self.view.box, self.view.px
        inside, half = at - int(OUT_MM * px), int(BAND_MM * px)
        a, b = self._along(side, number - 1, number + 2)
        if number == 0:
            a = 0
        if number == PARTS - 1:
            b = x1 - x0 if side in (0, 2) else y1 - y0
        lines = {0: y0 + inside, 1: x1 - inside, 2: y1 - inside, 3: x0 + inside}
        across = slice(max(0, lines[side] - half), lines[side] + half)
        if side in (0, 2):
            self.band[across, x0 + max(a, 0) : x0 + b] = 1
        else:
            self.band[y0 + max(a, 0) : y0 + b, across] = 1

    def _offset(self, part: _Part, now: Image) -> float | None:
        """Pixels outwards, by the best fit of the slopes about the edge, near where it was last."""
        px = self.view.px
        half, reach = int(TEMPLATE_MM * px), max(2, int(STEP_MM * px))
        begin = max(part.at_px - half, 0)
        wanted = part.slope[begin : part.at_px + half + 1]
        middle = -round(part.out_px)
        fits = [
            _alike(wanted, now, begin + shift, int((OUT_MM - 0.5) * px))
            for shift in range(middle - reach, middle + reach + 1)
        ]
        best = int(np.argmax(fits))
        if fits[best] < ALIKE:
            return None
        return -(middle - reach + best + _between(fits, best))


def _slope(profile: Image) -> Image:
    slope: Image = np.gradient(cv2.GaussianBlur(profile[:, None], (0, 0), 0.8)[:, 0])
    return slope


def _alike(wanted: Image, now: Image, begin: int, least: int) -> float:
    """Correlation; -1 where the place lies outside of what was looked at."""
    there = now[max(begin, 0) : begin + len(wanted)]
    if begin < least or len(there) < len(wanted):
        return -1.0
    return float((wanted * there).sum() / math.sqrt(float((wanted**2).sum() * (there**2).sum()) + 1e-9))


def _between(fits: list[float], best: int) -> float:
    """Parts of a pixel, from a parabola through the best fit and its neighbours."""
    if not 0 < best < len(fits) - 1 or fits[best - 1] == -1 or fits[best + 1] == -1:
        return 0.0
    bend = fits[best - 1] - 2 * fits[best] + fits[best + 1]
    return 0.5 * (fits[best - 1] - fits[best + 1]) / bend if bend < 0 else 0.0


def _together(told: list[float]) -> float:
    """The median, where most parts tell about that."""
    if len(told) < LEAST_PARTS:
        return math.nan
    middle = float(np.median(told))
    near = np.abs(np.array(told) - middle) < 0.35 + 0.3 * abs(middle)
    return middle if near.mean() >= AGREE else math.nan
