"""Whether colour in the film still moves, and where: it flows as long as it does."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from .view import GLARE, Image, Mask, View

PX = 1.0  # per mm, of what is compared
OVER_S, AT_MOST_S = 110.0, 240.0  # between the two pictures
RIM_MM = 14.0  # the wet edge and the dry wood beside it tell nothing of the film
MOVES_MM_S = 0.15 / 60  # slower is what trembling and noise do
LEAST_SHARE = 0.1  # of the piece in one place: less is a leaf that rises or a hole that opens
GOES_ON_SHARE = 0.04  # what flowed a moment ago goes on; noise alone moves half of that
BESIDE_MM = 30.0  # colour moves slower there, and is a spot after a while
WINDOW_PX = 13  # of the fit of the movement, five of them on each of three scales


@dataclass(frozen=True, kw_only=True)
class Moving:
    """mm_s: the median where it moves. where: in the view, with what lies beside; None where too little of
    the piece moves in one place.
    """

    share: float
    mm_s: float
    where: Mask | None


class Flow:
    """Compares pictures about two minutes apart.

    Raises nothing. Valid for colour whose patterns are 3 mm and larger, and for 0.3 to 15 mm/min; clear resin
    has no pattern and tells nothing. Source: dense optical flow, Farneback 2003, OpenCV; the limits are own
    judgement, tried on made-up scenes.
    """

    def __init__(self, view: View) -> None:
        self.view = view
        self.knows = False  # there was something to compare with
        self._flows = False
        self._before: deque[tuple[float, Image]] = deque()
        x0, y0, x1, y1 = (round(value * PX / view.px) for value in view.box)
        rim = round(RIM_MM * PX)
        self._inner = slice(y0 + rim, y1 - rim), slice(x0 + rim, x1 - rim)
        self.can_tell = min(y1 - y0, x1 - x0) - 2 * rim >= 3 * WINDOW_PX

    def moving(self, at_s: float, now: Image) -> Moving | None:
        """How far colour went in about two minutes; None while there is nothing to compare with.

        at_s  seconds, never back; now: [height, width] in grey of the view, the median of the last pictures
        Raises nothing. Valid and Source: as the class.
        """
        if not self.can_tell:
            return None
        small = self._small(now)
        self._before.append((at_s, small))
        while len(self._before) > 1 and at_s - self._before[1][0] >= OVER_S:
            self._before.popleft()
        since = at_s - self._before[0][0]
        if not OVER_S <= since <= AT_MOST_S:
            return None
        self.knows = True
        before = self._before[0][1]
        moved = cv2.calcOpticalFlowFarneback(
            _bytes(before),
            _bytes(small),
            np.zeros((*small.shape, 2), np.float32),
            0.5,
            3,
            WINDOW_PX,
            5,
            7,
            1.5,
            0,
        )
        mm_s = np.hypot(moved[..., 0], moved[..., 1]) / PX / since
        dazzled = cv2.dilate(((before > GLARE) | (small > GLARE)).astype(np.uint8), np.ones((9, 9))) > 0
        mm_s[dazzled] = 0.0
        return self._largest(mm_s.astype(np.float32))

    def _small(self, now: Image) -> Image:
        """Of what lies inside the wet edge, PX to the millimetre."""
        share = PX / self.view.px
        small = cv2.resize(now, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)[self._inner]
        return cv2.GaussianBlur(small, (0, 0), 1.0).astype(np.float32)

    def _largest(self, mm_s: Image) -> Moving:
        fast = cv2.morphologyEx((mm_s > MOVES_MM_S).astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5)))
        number, labels, boxes, _ = cv2.connectedComponentsWithStats(fast)
        if number == 1:
            self._flows = False
            return Moving(share=0.0, mm_s=0.0, where=None)
        label = 1 + int(np.argmax(boxes[1:, cv2.CC_STAT_AREA]))
        own = labels == label
        share = float(own.sum()) / (self.view.length_mm * self.view.width_mm * PX**2)
        self._flows = share >= (GOES_ON_SHARE if self._flows else LEAST_SHARE)
        where = self._in_view(fast > 0) if self._flows else None
        return Moving(share=share, mm_s=float(np.median(mm_s[own])), where=where)

    def _in_view(self, own: NDArray[np.bool_]) -> Mask:
        high, wide = self.view.seen.shape
        small = np.zeros((round(high * PX / self.view.px), round(wide * PX / self.view.px)), np.uint8)
        small[self._inner] = own
        beside = int(BESIDE_MM * PX)
        small = cv2.dilate(small, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * beside + 1,) * 2))
        return cv2.resize(small, (wide, high), interpolation=cv2.INTER_NEAREST).astype(np.uint8)


def _bytes(image: Image) -> Mask:
    return np.clip(image, 0, 255).astype(np.uint8)
