"""The piece from above, as it was in the first pictures: the camera's trembling, its exposure and the light
that changes taken out of each picture.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import cv2
import numpy as np
from numpy.typing import NDArray

from .corners import check_face

Image = NDArray[np.float32]
Mask = NDArray[np.uint8]

LONGEST_PX = 900  # of the view: finer costs time and shows no more
ROUND_SHARE = 0.22  # of the shorter side, shown round the piece
FINER = 1.25  # than the camera's own pixels: nothing is lost in turning
WHOLE_PX, WENT_ASIDE = 640, 0.1  # of the picture; answer of a phase correlation that can be believed
STANDS_BY = 0.55  # correlation of what does not change, below which the picture is not used
PARTS, LEAST_OF_A_PART = 3, 0.03
GLARE = 235  # grey: where a lamp is mirrored nothing can be seen
LIGHT_MM = 11.0  # what is smaller than this is a thing, what is larger may be light
OTHER_BESIDE_MM = 6.0  # of another piece: its shadow
COVERS = 0.2  # natural logarithm of light, far from the rest of the picture


@dataclass(frozen=True, kw_only=True)
class Aligned:
    """A picture as it would have been seen at first.

    even        its light as in the first pictures
    dazzled     where a lamp is mirrored
    shift_mm    how far the camera moved since
    contrast    of what does not change, against at first
    clearest    the same where most of it is left: smoke lowers it everywhere, a hand where it is
    cover       share of the view that is far lighter or darker than its surroundings used to be
    """

    even: Image
    dazzled: NDArray[np.bool_]
    shift_mm: float
    contrast: float
    clearest: float
    cover: float


class View:
    """Four corners of the piece in the picture, and its size, make a plane seen from above.

    corners_px  far left, far right, near right, near left; (x, y) in the picture
    length_m, width_m  of the piece's upper face, along the first and the second of these sides
    others_px  corners of other pieces in the picture: what happens there is not looked at

    Raises DomainError for corners that do not go round in that order or lie too near each other. Valid for a
    flat face; what stands higher is seen shifted. Source: plane homography, OpenCV; Evangelidis and Psarakis
    2008 for the alignment; the limits are own judgement, tried on made-up scenes.
    """

    def __init__(
        self,
        corners_px: NDArray[np.float64],
        length_m: float,
        width_m: float,
        others_px: Sequence[NDArray[np.float64]] = (),
    ) -> None:
        self._others_px = [np.asarray(one, np.float32) for one in others_px]
        corners = np.asarray(corners_px, np.float64)
        check_face(corners, length_m, width_m)
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
        self._texture: Image | None = None
        self._whole: Image | None = None

    def begin(self, picture: NDArray[np.uint8]) -> Image:
        """The first picture: all others are brought onto it. Grey, 0 to 255."""
        full = np.full(picture.shape, 255, np.uint8)
        whole = (cv2.warpPerspective(full, self._to_top, self.size) > 254).astype(np.uint8)
        for one in self._others_px:
            there = cv2.perspectiveTransform(one[None], self._to_top)[0]
            other = cv2.fillConvexPoly(np.zeros_like(whole), there.round().astype(np.int32), 1)
            whole[cv2.dilate(other, np.ones((int(2 * OTHER_BESIDE_MM * self.px) | 1,) * 2)) > 0] = 0
        self.seen = cv2.erode(whole, np.ones((9, 9))).astype(np.uint8)
        inner, (x0, y0, x1, y1) = int(6 * self.px), self.box
        self._still = self.seen.copy()  # bench and rim: what happens in the film does not move them
        self._still[y0 + inner : y1 - inner, x0 + inner : x1 - inner] = 0
        self._whole = _details(picture)
        first = self._top(picture, self._to_top)
        self._texture = self._fine(first)
        return first

    def align(self, picture: NDArray[np.uint8], before: Image) -> Aligned | None:
        """None where it cannot be told where the picture lies. before: whose light it is given."""
        near = self._near(picture)
        found = self._fitted(self._fine(self._top(picture, near)))
        if found is None:
            return None
        matrix = found @ near
        top = self._top(picture, matrix)
        even, cover = self._even(top, before)
        fine = self._fine(even)
        return Aligned(
            even=even,
            dazzled=top > GLARE,
            shift_mm=self._shift_mm(matrix),
            contrast=self._contrast(fine, self._still > 0),
            clearest=self._clearest(fine),
            cover=cover,
        )

    def place_of(self, x: float, y: float) -> tuple[float, float]:
        """mm from the piece's far left corner, of a place in the view."""
        return x / self.px - self.round_mm, y / self.px - self.round_mm

    def in_picture(self, place: tuple[float, float]) -> tuple[float, float]:
        """The same place in the camera's picture as it was at first [px], from mm."""
        x, y = ((value + self.round_mm) * self.px for value in place)
        at = np.linalg.solve(self._to_top, np.array([x, y, 1.0]))
        return float(at[0] / at[2]), float(at[1] / at[2])

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

    def _near(self, picture: NDArray[np.uint8]) -> NDArray[np.float64]:
        """3x3 from the picture to the view, as far as the whole picture went aside."""
        assert self._whole is not None
        now = _details(picture)
        (dx, dy), alike = cv2.phaseCorrelate(self._whole, now)
        if alike < WENT_ASIDE:
            return self._to_top
        times = picture.shape[1] / now.shape[1]
        aside = np.array([[1, 0, -dx * times], [0, 1, -dy * times], [0, 0, 1]])
        return np.asarray(self._to_top @ aside, np.float64)

    def _shift_mm(self, matrix: NDArray[np.float64]) -> float:
        """How far the middle of the piece is from where it was, as the first view shows it."""
        x0, y0, x1, y1 = self.box
        middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2, 1.0])
        now = self._to_top @ np.linalg.solve(matrix, middle)
        return float(np.hypot(*(now[:2] / now[2] - middle[:2]))) / self.px

    def _fitted(self, fine: Image) -> NDArray[np.float64] | None:
        """3x3 that brings a view onto the first."""
        assert self._texture is not None
        near = np.eye(2, 3, dtype=np.float32)
        try:  # coarse first, where a step costs a quarter
            _, near = _ecc(_half(self._texture), _half(fine), near, _half_mask(self._still), 25)
            near = np.array(near, np.float32)
            near[:, 2] *= 2
            alike, found = _ecc(self._texture, fine, near, self._still, 8)
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

    def _clearest(self, fine: Image) -> float:
        """The contrast of the parts, each a ninth of the view, that kept more of it than two thirds do."""
        high, wide = self._still.shape
        found = []
        for row, column in product(range(PARTS), range(PARTS)):
            where = np.zeros(self._still.shape, bool)
            part = (
                slice(row * high // PARTS, (row + 1) * high // PARTS),
                slice(column * wide // PARTS, (column + 1) * wide // PARTS),
            )
            where[part] = self._still[part] > 0
            if where.sum() > LEAST_OF_A_PART * self._still.sum():
                found.append(self._contrast(fine, where))
        return float(np.percentile(found, 67)) if found else 1.0

    def _contrast(self, fine: Image, where: NDArray[np.bool_]) -> float:
        """Of what does not change, in the light of the first picture, against it."""
        assert self._texture is not None
        was, now = self._texture[where], fine[where]
        return float((was * now).sum() / (was * was).sum())


def _ecc(
    first: Image, now: Image, start: NDArray[np.float32], mask: Mask, steps: int
) -> tuple[float, NDArray[np.float32]]:
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, steps, 1e-4)
    alike, found = cv2.findTransformECC(first, now, start, cv2.MOTION_EUCLIDEAN, stop, mask, 5)
    return float(alike), np.asarray(found, np.float32)


def _details(picture: NDArray[np.uint8]) -> Image:
    """What is small in the whole picture, fading to its borders; glare counts no more than grain."""
    times = min(1.0, WHOLE_PX / max(picture.shape))
    small = cv2.resize(picture, None, fx=times, fy=times, interpolation=cv2.INTER_AREA).astype(np.float32)
    fine = cv2.GaussianBlur(small, (0, 0), 1.5) - cv2.GaussianBlur(small, (0, 0), 8)
    window = cv2.createHanningWindow(small.shape[::-1], cv2.CV_32F)  # phaseCorrelate's own spoils its input
    faded: Image = (np.clip(fine, -25, 25) * window).astype(np.float32)
    return faded


def _half(image: Image) -> Image:
    return cv2.resize(image, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA).astype(np.float32)


def _half_mask(mask: Mask) -> Mask:
    return cv2.resize(mask, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_NEAREST).astype(np.uint8)
