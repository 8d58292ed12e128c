"""The piece from above, as it was in the first pictures: the camera's trembling, its exposure and the light
that changes taken out of each picture.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError

Image = NDArray[np.float32]
Mask = NDArray[np.uint8]

LONGEST_PX = 900  # of the view: finer costs time and shows no more
ROUND_SHARE = 0.22  # of the shorter side, shown round the piece
FINER = 1.25  # than the camera's own pixels: nothing is lost in turning
STANDS_BY = 0.55  # correlation of what does not change, below which the picture is not used
LIGHT_MM = 11.0  # what is smaller than this is a thing, what is larger may be light
COVERS = 0.2  # natural logarithm of light, far from the rest of the picture
LEAST_SIDE_M, MOST_SIDE_M = 0.02, 10.0


@dataclass(frozen=True, kw_only=True)
class Aligned:
    """A picture as it would have been seen at first.

    even        its light as in the first pictures
    shift_mm    how far the camera moved since
    contrast    of what does not change, against at first: smoke lowers it
    cover       share of the view that is far lighter or darker than its surroundings used to be
    """

    even: Image
    shift_mm: float
    contrast: float
    cover: float


class View:
    """Four corners of the piece in the picture, and its size, make a plane seen from above.

    corners_px  far left, far right, near right, near left; (x, y) in the picture
    length_m, width_m  of the piece's upper face, along the first and the second of these sides

    Raises DomainError for corners that do not go round in that order or lie too near each other. Valid for a
    flat face; what stands higher is seen shifted. Source: plane homography, OpenCV; Evangelidis and Psarakis
    2008 for the alignment; the limits are own judgement, tried on made-up scenes.
    """

    def __init__(self, corners_px: NDArray[np.float64], length_m: float, width_m: float) -> None:
        corners = np.asarray(corners_px, np.float64)
        _check(corners, length_m, width_m)
        self.length_mm, self.width_mm = 1000 * length_m, 1000 * width_m
        self.round_mm = ROUND_SHARE * min(self.length_mm, self.width_mm)
        whole = self.length_mm + 2 * self.round_mm, self.width_mm + 2 * self.round_mm
        seen = np.linalg.norm(np.roll(corners, -1, 0) - corners, axis=1)
        true = np.array([self.length_mm, self.width_mm, self.length_mm, self.width_mm])
        self.px = float(min(FINER * np.mean(seen / true), LONGEST_PX / max(whole)))  # per mm
        self.size = int(whole[0] * self.px), int(whole[1] * self.px)
        x0 = y0 = int(self.round_mm * self.px)
        self.box = x0, y0, x0 + int(self.length_mm * self.px), y0 + int(self.width_mm * self.px)
        flat = np.array([[0, 0], [self.length_mm, 0], [self.length_mm, self.width_mm], [0, self.width_mm]])
        to = (flat + self.round_mm) * self.px
        matrix = cv2.getPerspectiveTransform(corners.astype(np.float32), to.astype(np.float32))
        self._to_top = matrix.astype(np.float64)
        self.seen: Mask = np.zeros(self.size[::-1], np.uint8)
        self._still: Mask = self.seen
        self._first: Image | None = None
        self._texture: Image | None = None

    def begin(self, picture: NDArray[np.uint8]) -> Image:
        """The first picture: all others are brought onto it. Grey, 0 to 255."""
        full = np.full(picture.shape, 255, np.uint8)
        whole = (cv2.warpPerspective(full, self._to_top, self.size) > 254).astype(np.uint8)
        self.seen = cv2.erode(whole, np.ones((9, 9))).astype(np.uint8)
        inner, (x0, y0, x1, y1) = int(6 * self.px), self.box
        self._still = self.seen.copy()  # bench and rim: what happens in the film does not move them
        self._still[y0 + inner : y1 - inner, x0 + inner : x1 - inner] = 0
        self._first = self._top(picture, self._to_top)
        self._texture = self._fine(self._first)
        return self._first

    def align(self, picture: NDArray[np.uint8], before: Image) -> Aligned | None:
        """None where it cannot be told where the picture lies. before: whose light it is given."""
        found = self._shift(self._top(picture, self._to_top))
        if found is None:
            return None
        top = self._top(picture, found @ self._to_top)
        even, cover = self._even(top, before)
        return Aligned(
            even=even,
            shift_mm=math.hypot(found[0, 2], found[1, 2]) / self.px,
            contrast=self._contrast(top),
            cover=cover,
        )

    def place_of(self, x: float, y: float) -> tuple[float, float]:
        """mm from the piece's far left corner, of a place in the view."""
        return x / self.px - self.round_mm, y / self.px - self.round_mm

    def is_on_piece(self, place: tuple[float, float]) -> bool:
        """2 mm inside its sides at least."""
        return 2 < place[0] < self.length_mm - 2 and 2 < place[1] < self.width_mm - 2

    def _top(self, picture: NDArray[np.uint8], matrix: NDArray[np.float64]) -> Image:
        return cv2.warpPerspective(picture, matrix, self.size, flags=cv2.INTER_LINEAR).astype(np.float32)

    def _fine(self, top: Image) -> Image:
        """What is small in it, the same in any light; glare counts no more than grain."""
        fine = cv2.GaussianBlur(top, (0, 0), 1.5) - cv2.GaussianBlur(top, (0, 0), 8)
        clipped: Image = np.clip(fine, -25, 25)
        return clipped

    def _shift(self, top: Image) -> NDArray[np.float64] | None:
        """3x3 that brings a view onto the first."""
        assert self._texture is not None
        fine = self._fine(top)
        still = self._still.astype(np.float32)
        for window in (still, self.seen.astype(np.float32)):  # of all of it, where it moved far
            (dx, dy), _ = cv2.phaseCorrelate(self._texture * window, fine * window)
            found = self._fitted(fine, dx, dy)
            if found is not None:
                return found
        return None

    def _fitted(self, fine: Image, dx: float, dy: float) -> NDArray[np.float64] | None:
        assert self._texture is not None
        start = np.array([[1, 0, dx], [0, 1, dy]], np.float32)
        stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 25, 1e-4)
        try:
            alike, found = cv2.findTransformECC(
                self._texture, fine, start, cv2.MOTION_EUCLIDEAN, stop, self._still, 5
            )
        except cv2.error:  # it does not converge: a hand, another piece, nothing to hold on to
            return None
        return np.linalg.inv(np.vstack([found, [0, 0, 1]])) if alike >= STANDS_BY else None

    def _even(self, top: Image, before: Image) -> tuple[Image, float]:
        """In the light of before, and how much of it is covered."""
        seen = self.seen.astype(np.float32)
        light = (self._coarse(before * seen) + 1) / (self._coarse(top * seen) + 1)
        far = np.log(light)
        far -= np.median(far)
        valid = cv2.resize(self.seen, light.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
        cover = float((np.abs(far) > COVERS)[valid].mean())
        full = cv2.resize(np.clip(light, 0.4, 2.5), self.size, interpolation=cv2.INTER_LINEAR)
        return top * full, cover

    def _coarse(self, image: Image) -> Image:
        small = cv2.resize(image, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
        return cv2.GaussianBlur(small, (0, 0), LIGHT_MM * self.px / 4).astype(np.float32)

    def _contrast(self, top: Image) -> float:
        """Of what does not change, per light, against the first picture."""
        assert self._texture is not None and self._first is not None
        where = self._still > 0
        was, now = self._texture[where], self._fine(top)[where]
        slope = float((was * now).sum() / (was * was).sum())
        gain = float(np.median(top[where]) / max(1.0, float(np.median(self._first[where]))))
        return slope / max(gain, 0.05)


def _check(corners: NDArray[np.float64], length_m: float, width_m: float) -> None:
    if min(length_m, width_m) < LEAST_SIDE_M or max(length_m, width_m) > MOST_SIDE_M:
        raise DomainError(
            argument="size",
            value=f"{length_m} x {width_m} m",
            allowed=f"each side is {LEAST_SIDE_M} to {MOST_SIDE_M} m",
            way_out="Measure the face again.",
            code="size",
        )
    sides = np.roll(corners, -1, 0) - corners
    ahead = np.roll(sides, -1, 0)
    turns = sides[:, 0] * ahead[:, 1] - sides[:, 1] * ahead[:, 0]
    if corners.shape != (4, 2) or not (turns > 0).all() or np.linalg.norm(sides, axis=1).min() < 40:
        raise DomainError(
            argument="corners",
            value="not the corners of a face",
            allowed="far left, far right, near right, near left, at least 40 pixels apart",
            way_out="Mark the four corners again, one after the other.",
            code="corners",
        )
