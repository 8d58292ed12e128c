"""Faces with four corners in a picture, so that a person need not set them: found, never taken unseen."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from .corners import is_seen_whole, lengths, sines
from .view import Image

LONGEST_PX = 640
LEAST_SHARE, MOST_SHARE = 0.03, 0.9  # of the picture
LEVELS = 14  # of grey at which it is cut in two
FILLS = 0.9  # of its four corners by what was found there
ASIDE_PX = 5  # how far beside a rough side the true one is looked for
ON_A_SIDE = 48  # places
STANDS_OUT, LEAST_STEP = 2.0, 5.0  # times what the picture has anywhere; grey over three pixels
BORNE_OUT = 0.75  # share of the places on each side where there is an edge
LEAST_SINE, SIDES_ALIKE = 0.7, 1.6  # of a corner; opposite sides, as perspective shortens one
SLIMMEST = 8.0  # times as long as wide: a strip of grain or of the film's edge is slimmer
THE_SAME = 0.45  # share that two faces have in common

Quad = NDArray[np.float64]


def faces_in(picture: NDArray[np.uint8]) -> list[Quad]:
    """Four-cornered faces, the largest first: each [4, 2] in the picture's pixels, far left, far right, near
    right, near left; none where none stands out on all four sides, none that reaches the picture's border.

    picture  [height, width] grey, 0 to 255

    Raises nothing. Valid for a face that is lighter or darker than what lies round it, with straight sides,
    of LEAST_SHARE to MOST_SHARE of the picture. Source: own; cut at LEVELS of grey and along edges (Canny
    1986), each side fitted anew to the steepest change across it; tried on made-up scenes.
    """
    times = min(1.0, LONGEST_PX / max(picture.shape))
    resized = cv2.resize(picture, None, fx=times, fy=times, interpolation=cv2.INTER_AREA)
    small = resized.astype(np.uint8)
    soft = cv2.GaussianBlur(small, (0, 0), 1.2).astype(np.float32)
    steep = np.hypot(
        cv2.Sobel(soft, cv2.CV_32F, 1, 0, scale=1 / 8), cv2.Sobel(soft, cv2.CV_32F, 0, 1, scale=1 / 8)
    )
    least = max(LEAST_STEP / 3, STANDS_OUT * float(np.median(steep)))
    found = [
        face
        for rough in _rough(small)
        for face, borne in [_fitted(rough, soft, least)]
        if borne >= BORNE_OUT and is_seen_whole(face, small.shape[::-1]) and _is_face(face, small.size)
    ]
    return [face / times for face in _apart(found)]


def _rough(small: NDArray[np.uint8]) -> Iterator[Quad]:
    """Whatever has about four corners."""
    calm = cv2.medianBlur(small, 9)
    levels = np.unique(np.percentile(calm, np.linspace(4, 96, LEVELS)))
    cuts = [(calm > level).astype(np.uint8) for level in levels]
    for sigma in (1.5, 3.0):
        edges = cv2.Canny(cv2.GaussianBlur(small, (0, 0), sigma), 12, 36)
        cuts.append(cv2.dilate(edges, np.ones((5, 5))))
    for cut in (
        one for each in cuts for one in (each, cv2.morphologyEx(each, cv2.MORPH_OPEN, np.ones((9, 9))))
    ):
        for way in (cut, 1 - (cut > 0).astype(np.uint8)):
            outlines, _ = cv2.findContours(way.astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
            for outline in outlines:
                hull = cv2.convexHull(outline)
                area = cv2.contourArea(hull)
                if not LEAST_SHARE * small.size < area < MOST_SHARE * small.size:
                    continue
                four = _four(hull)
                if four is not None and FILLS * cv2.contourArea(four.astype(np.float32)) < area:
                    yield four


def _four(hull: NDArray[Any]) -> Quad | None:
    round_it = cv2.arcLength(hull, True)
    for share in np.linspace(0.01, 0.1, 10):
        few = cv2.approxPolyDP(hull, share * round_it, True)[:, 0]
        if len(few) == 4:  # noqa: PLR2004, corners
            return _in_order(few.astype(np.float64))
        if len(few) < 4:  # noqa: PLR2004
            return None
    return None


def _in_order(four: Quad) -> Quad:
    """Round the face as it is seen, from the far left corner: the one whose x and y together are least."""
    middle = four.mean(0)
    turned = four[np.argsort(np.arctan2(four[:, 1] - middle[1], four[:, 0] - middle[0]))]
    return np.roll(turned, -int(np.argmin(turned.sum(1))), 0)


def _fitted(rough: Quad, soft: Image, least: float) -> tuple[Quad, float]:
    """Each side through the steepest changes across it, all lighter inwards or all darker; and how much of
    the poorest side has one.
    """
    lighter, darker = (_with_sign(rough, soft, least, sign) for sign in (1, -1))
    return lighter if lighter[1] > darker[1] else darker


def _with_sign(rough: Quad, soft: Image, least: float, sign: int) -> tuple[Quad, float]:
    lines, borne = [], []
    for a, b in zip(rough, np.roll(rough, -1, 0), strict=True):
        along = (b - a) / max(math.dist(a, b), 1e-9)
        inwards = np.array([-along[1], along[0]])
        places = a + (b - a) * np.linspace(0.06, 0.94, ON_A_SIDE)[:, None]
        asides = np.arange(-ASIDE_PX - 1.5, ASIDE_PX + 2.0)
        where = (places[:, None] + asides[None, :, None] * inwards).astype(np.float32)
        light = cv2.remap(
            soft, where[..., 0], where[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        step = sign * (light[:, 3:] - light[:, :-3]) / 3
        good = step.max(1) > least
        borne.append(float(good.mean()))
        at = places + (step.argmax(1) - ASIDE_PX)[:, None] * inwards
        lines.append(_line(at[good] if good.sum() > 2 else places))  # noqa: PLR2004, a line
    corners = np.array([_meet(lines[side - 1], lines[side]) for side in range(4)])
    return corners, min(borne) if np.isfinite(corners).all() else 0.0


def _line(points: Quad) -> Quad:
    """(a, b, c) of a x + b y = c; what lies far off does not count (Huber 1964)."""
    right, down, x, y = (
        float(value) for value in cv2.fitLine(points.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01)[:, 0]
    )
    return np.array([-down, right, -down * x + right * y])


def _meet(one: Quad, other: Quad) -> Quad:
    matrix = np.array([one[:2], other[:2]])
    if abs(np.linalg.det(matrix)) < 0.1:  # noqa: PLR2004, sine of the angle between them
        return np.full(2, np.nan)
    return np.linalg.solve(matrix, np.array([one[2], other[2]]))


def _is_face(face: Quad, pixels: int) -> bool:
    long = lengths(face)
    alike = np.maximum(long / np.roll(long, 2), np.roll(long, 2) / long).max() < SIDES_ALIKE
    is_slim = long.max() > SLIMMEST * long.min()
    if is_slim or not alike or not (sines(face) > LEAST_SINE).all():
        return False
    return cv2.contourArea(face.astype(np.float32)) > LEAST_SHARE * pixels


def _apart(found: list[Quad]) -> list[Quad]:
    """The largest of those that lie over each other: a wet film has an edge of its own inside the piece's."""
    kept: list[Quad] = []
    for face in sorted(found, key=lambda one: -cv2.contourArea(one.astype(np.float32))):
        if all(_common(face, other) < THE_SAME * cv2.contourArea(face.astype(np.float32)) for other in kept):
            kept.append(face)
    return kept


def _common(one: Quad, other: Quad) -> float:
    return float(cv2.intersectConvexConvex(one.astype(np.float32), other.astype(np.float32))[0])
