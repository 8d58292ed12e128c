"""Spots that were not there: found against what was, and what they look like."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from .view import Image, Mask, View

SURE = 6.0  # standard deviations above what noise, grain and a shift of a quarter pixel do
LEAST_MM2 = 1.0
WAITS = 2  # pictures in which it has to be
NEAR_MM = 3.0  # the same spot in the next picture
PATCH_MM, FAR_MM = 13.0, 8.0  # a thing of before is looked for so far away
LARGE_MM = 5.5  # no single bubble
BARE_MM, BARE = 2.4, 20.0
THE_SAME = 0.96  # correlation: the place that a thing has left looks as it did, without the thing
DARKENS = -50.0  # what rises grows darker by less
STILL_THERE = 0.85  # correlation: a thing of before that rises grows darker where it is


@dataclass(frozen=True, kw_only=True)
class Spot:
    """place_mm, size_mm: from the piece's far left corner, its longer side. darkest, lightest: grey, against
    what was. sigmas: above what noise does, at most. box: left, top, width, height in the view [px].
    seen_in: pictures in a row.
    """

    place_mm: tuple[float, float]
    size_mm: float
    darkest: float
    lightest: float
    sigmas: float
    box: tuple[int, int, int, int]
    seen_in: int = 1

    def is_near(self, place: tuple[float, float], mm: float) -> bool:
        return float(np.hypot(self.place_mm[0] - place[0], self.place_mm[1] - place[1])) < mm


Look = Literal["outside", "float", "darker", "landed", "bare", "bubble"]


class Spots:
    """What is looked at is the median of the last pictures, against a picture of what is known.

    first  the median of the first pictures
    """

    def __init__(self, view: View, first: Image) -> None:
        self.view, self.first, self.known = view, first, first.copy()
        self._waiting: list[Spot] = []
        self._inside: Mask = np.zeros_like(view.seen)
        x0, y0, x1, y1 = view.box
        rim = int(3 * view.px)
        self._inside[y0 + rim : y1 - rim, x0 + rim : x1 - rim] = 1

    def new_in(self, now: Image, band: Mask, flows: Mask | None, dazzled: NDArray[np.bool_]) -> list[Spot]:
        """Spots that were there twice; from now on they are known. band: where the wet edge is. flows: where
        colour moves; dazzled: where a lamp is or was mirrored: what is there now is known.
        """
        px = self.view.px
        unseen: Mask = np.zeros_like(band) if flows is None else flows.copy()
        unseen[cv2.dilate(dazzled.astype(np.uint8), np.ones((int(4 * px) | 1,) * 2)) > 0] = 1
        self.known = np.where(unseen > 0, now, self.known)
        fine, sure = self._sure(now)
        found = self._found(fine, sure, self._hot(sure, band | unseen))
        self._waiting = [self._again(one) for one in found]
        ripe = [one for one in self._waiting if one.seen_in >= WAITS]
        reach = int(1.5 * px)
        for one in ripe:
            x, y, wide, high = one.box
            place = (
                slice(max(0, y - reach), y + high + reach),
                slice(max(0, x - reach), x + wide + reach),
            )
            self.known[place] = now[place]
        self.known = np.where(sure < 3, self.known + np.float32(0.03) * (now - self.known), self.known)
        return ripe

    def looks_like(self, spot: Spot, now: Image) -> Look:
        if not self.view.is_on_piece(spot.place_mm):
            return "outside"
        alike, gain, shift = self._before(spot, now)
        if self._is_bare(spot) and (alike < THE_SAME or gain < 0.01):
            return "bare"
        is_dark = spot.darkest < DARKENS
        if alike > 0.8 and gain > 0.01 and shift > 0.9 and not is_dark:
            return "float"
        if not self._is_a_thing(spot):
            return "bubble"
        return "darker" if alike > STILL_THERE and not is_dark else "landed"

    @staticmethod
    def _is_a_thing(spot: Spot) -> bool:
        """Dark, without a bubble's glint, or too large for one."""
        dark = spot.darkest < -26 and spot.lightest < -0.45 * spot.darkest
        return dark or (spot.size_mm >= LARGE_MM and spot.lightest < -0.8 * spot.darkest)

    @staticmethod
    def _is_bare(spot: Spot) -> bool:
        """Dry wood is lighter than wet wood, all over the spot."""
        return spot.size_mm >= BARE_MM and spot.lightest > BARE and spot.darkest > -0.4 * spot.lightest

    def _sure(self, now: Image) -> tuple[Image, Image]:
        """Differences that are no light, and how many standard deviations they are."""
        px, apart = self.view.px, now - self.known
        fine = cv2.GaussianBlur(apart, (0, 0), 0.35 * px) - cv2.GaussianBlur(apart, (0, 0), 4.5 * px)
        across = cv2.Sobel(self.known, cv2.CV_32F, 1, 0, scale=1 / 8)
        along = cv2.Sobel(self.known, cv2.CV_32F, 0, 1, scale=1 / 8)
        steep = cv2.dilate(np.hypot(across, along), np.ones((5, 5)))
        noise = 1.4826 * float(np.median(np.abs(fine[self._inside > 0][::7])))
        return fine, np.abs(fine) / np.sqrt(noise**2 + (0.25 * steep) ** 2 + 0.6**2)

    def _hot(self, sure: Image, not_looked_at: Mask) -> Mask:
        px = self.view.px
        hot = ((sure > SURE) & (self.view.seen > 0) & (not_looked_at == 0)).astype(np.uint8)
        return cv2.morphologyEx(hot, cv2.MORPH_CLOSE, np.ones((int(1.2 * px) | 1,) * 2)).astype(np.uint8)

    def _found(self, fine: Image, sure: Image, hot: Mask) -> list[Spot]:
        px, found = self.view.px, []
        number, labels, boxes, centres = cv2.connectedComponentsWithStats(hot)
        for label in range(1, number):
            x, y, wide, high, pixels = (int(value) for value in boxes[label])
            if pixels < 5 or pixels / px**2 < LEAST_MM2:
                continue
            own = labels[y : y + high, x : x + wide] == label
            values: NDArray[np.float32] = fine[y : y + high, x : x + wide][own]
            found.append(
                Spot(
                    place_mm=self.view.place_of(float(centres[label][0]), float(centres[label][1])),
                    size_mm=max(wide, high) / px,
                    darkest=float(values.min()),
                    lightest=float(values.max()),
                    sigmas=float(sure[y : y + high, x : x + wide][own].max()),
                    box=(x, y, wide, high),
                )
            )
        return found

    def _again(self, spot: Spot) -> Spot:
        before = next((one for one in self._waiting if spot.is_near(one.place_mm, NEAR_MM)), None)
        return spot if before is None else replace(spot, seen_in=before.seen_in + 1)

    def _before(self, spot: Spot, now: Image) -> tuple[float, float, float]:
        """How much what was here at first is like what is here, or near, now: correlation where it fits
        best, by how much better than where it was, and how far from there [mm]. Nothing near a border.
        """
        view = self.view
        half, far = int(PATCH_MM * view.px), int(FAR_MM * view.px)
        x, y = (int((value + view.round_mm) * view.px) for value in spot.place_mm)
        wide, high = view.size
        reach = half + far
        if not (reach < x < wide - reach and reach < y < high - reach):
            return 0.0, 0.0, 0.0
        before = cv2.GaussianBlur(self.first, (0, 0), view.px)[y - half : y + half, x - half : x + half]
        around = cv2.GaussianBlur(now, (0, 0), view.px)[y - reach : y + reach, x - reach : x + reach]
        alike = cv2.matchTemplate(around, before, cv2.TM_CCOEFF_NORMED)
        _, best, _, at = cv2.minMaxLoc(alike)
        shift = float(np.hypot(at[0] - far, at[1] - far)) / view.px
        return best, best - float(alike[far, far]), shift
