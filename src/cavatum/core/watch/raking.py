"""A photo in low side light: dust that stands up, craters and pits that go down, hairs: found and marked."""

from __future__ import annotations

import math
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from .corners import check_face
from .seen import Flaw, Side
from .view import Image, Mask

LONGEST_PX = 1600  # of the face from above
SCALES_MM = (0.5, 0.8, 1.3, 2.1)  # half widths that are looked for
SURE, STEEP = 5.0, 3.0  # standard deviations of what noise and grain do; grey of the difference at least
GLARE = 250
RIM_MM = 3.0
HAIR = 4.0  # so many times as long as wide
APART = 2.2  # half widths between two spots
MOST = 400
HAIR_BESIDE_MM = 3.0
SHADOW, SHADOW_REACH = 0.65, 5.0

# Towards the lamp, in the picture from above: x to the right, y towards the viewer.
TOWARDS: dict[Side, tuple[float, float]] = {
    "far": (0.0, -1.0),
    "right": (1.0, 0.0),
    "near": (0.0, 1.0),
    "left": (-1.0, 0.0),
}


def flaws_in(
    picture: NDArray[np.uint8],
    corners_px: NDArray[np.float64],
    length_m: float,
    width_m: float,
    lamp: Side,
) -> list[Flaw]:
    """What stands out of a glossy face in light from one side, the strongest first, at most MOST.

        r_s = I * d/du G_s   for u towards the lamp and half widths s; a spot where |r_s| is largest over
        places and s, and above SURE times 1.4826 median|r_s|; dip where r < 0

    picture  [height, width] grey; corners_px: far left, far right, near right, near left
    lamp     the side from which the light comes

    Raises DomainError as check_face does. Valid for light below about 25 degrees over a face that mirrors it
    away from the camera; grain that is seen through the resin and is as steep as a spot is taken for one.
    What is smaller than about 0.4 mm is not seen at 1600 px. Source: own; scale selection after
    Lindeberg 1998; tried on made-up faces (tests/scenes/raking.py).
    """
    corners = np.asarray(corners_px, np.float64)
    check_face(corners, length_m, width_m)
    px = LONGEST_PX / (1000 * max(length_m, width_m))
    sides = np.linalg.norm(np.roll(corners, -1, 0) - corners, axis=1)
    px = min(px, 1.5 * float(sides.max()) / (1000 * max(length_m, width_m)))
    size = max(int(1000 * length_m * px), 8), max(int(1000 * width_m * px), 8)
    flat = np.array([[0, 0], [size[0], 0], size, [0, size[1]]], np.float32)
    matrix = cv2.getPerspectiveTransform(corners.astype(np.float32), flat)
    top = cv2.warpPerspective(picture, matrix, size, flags=cv2.INTER_AREA).astype(np.float32)
    responses = _responses(top, px, TOWARDS[lamp])
    if not responses:
        return []
    back = np.linalg.inv(matrix.astype(np.float64))
    found = [_flaw(*one, px, back) for one in _peaks(responses, top, px)]
    return found[:MOST]


_Response = tuple[float, Image, Image]


def _responses(top: Image, px: float, towards: tuple[float, float]) -> list[_Response]:
    """One for each half width that the picture is fine enough for, in standard deviations."""
    found = []
    for half_mm in SCALES_MM:
        sigma = half_mm * px / 1.4
        if sigma < 0.8:  # noqa: PLR2004, pixels: finer than the picture is
            continue
        smooth = cv2.GaussianBlur(top, (0, 0), sigma)
        across = cv2.Sobel(smooth, cv2.CV_32F, 1, 0, scale=1 / 8)
        along = cv2.Sobel(smooth, cv2.CV_32F, 0, 1, scale=1 / 8)
        raw = (towards[0] * across + towards[1] * along) * sigma
        slope: Image = (raw - cv2.GaussianBlur(raw, (0, 0), 6 * sigma)).astype(np.float32)
        noise = 1.4826 * float(np.median(np.abs(slope))) + 0.15
        found.append((half_mm, slope, (slope / noise).astype(np.float32)))
    return found


def _peaks(
    responses: list[_Response], top: Image, px: float
) -> list[tuple[float, float, float, float, float]]:
    """(x, y, half width [mm], sign, length over width) in the picture from above, the strongest first."""
    glare = cv2.dilate((top > GLARE).astype(np.uint8), np.ones((int(3 * px) | 1,) * 2)) > 0
    rim = int(RIM_MM * px)
    taken, spots, kept = np.zeros(top.shape, bool), [], list[tuple[int, int, float, float]]()
    strongest = []
    for half_mm, slope, sure in responses:
        strong = np.abs(sure)
        reach = max(3, int(half_mm * px) | 1)
        tops = (strong == cv2.dilate(strong, np.ones((reach, reach)))) & (strong > SURE)
        tops &= (np.abs(slope) > STEEP) & ~glare
        tops[:rim], tops[-rim:], tops[:, :rim], tops[:, -rim:] = False, False, False, False
        ys, xs = np.nonzero(tops)
        strongest += [
            (float(strong[y, x]), half_mm, int(x), int(y), float(np.sign(slope[y, x])), slope)
            for y, x in zip(ys, xs, strict=True)
        ]
    for strength, half_mm, x, y, sign, slope in sorted(strongest, key=lambda one: -one[0]):
        if taken[y, x] or _is_its_shadow(x, y, strength, kept, px):
            continue
        long, own = _shape(slope, x, y, half_mm * px)
        beside = HAIR_BESIDE_MM if long >= HAIR else APART * half_mm
        taken |= cv2.dilate(own, np.ones((int(2 * beside * px) | 1,) * 2)) > 0
        kept.append((x, y, half_mm, strength))
        spots.append((float(x), float(y), half_mm, sign, long))
        if len(spots) >= MOST:
            break
    return spots


def _is_its_shadow(
    x: int, y: int, strength: float, kept: list[tuple[int, int, float, float]], px: float
) -> bool:
    """The weaker reverse that every spot has on either side of it."""
    return any(
        strength < SHADOW * other and math.hypot(x - at, y - down) < SHADOW_REACH * half_mm * px
        for at, down, half_mm, other in kept
    )


def _shape(slope: Image, x: int, y: int, half_px: float) -> tuple[float, Mask]:
    """How many times as long as wide what stands out there is, and where it is."""
    reach = int(10 * half_px)
    y0, x0 = max(0, y - reach), max(0, x - reach)
    around = slope[y0 : y + reach, x0 : x + reach]
    same = (around * np.sign(slope[y, x]) > 0.4 * abs(slope[y, x])).astype(np.uint8)
    _, labels = cv2.connectedComponents(same)
    own = (labels == labels[y - y0, x - x0]).astype(np.uint8)
    whole = np.zeros(slope.shape, np.uint8)
    whole[y0 : y + reach, x0 : x + reach] = own
    points = cv2.findNonZero(own)
    if points is None or len(points) < 5:  # noqa: PLR2004, pixels
        return 1.0, whole
    (_, sides, _) = cv2.minAreaRect(points)
    short, long = sorted(side + 1 for side in sides)
    return float(long / short), whole


def _flaw(
    x: float, y: float, half_mm: float, sign: float, long: float, px: float, back: NDArray[np.float64]
) -> Flaw:
    at = back @ np.array([x, y, 1.0])
    beside = back @ np.array([x + 2 * half_mm * px, y, 1.0])
    there, then = at[:2] / at[2], beside[:2] / beside[2]
    kind: Literal["raised", "dip", "hair"] = "hair" if long >= HAIR else "raised" if sign > 0 else "dip"
    return Flaw(
        kind=kind,
        place_m=(x / px / 1000, y / px / 1000),
        size_m=2 * half_mm / 1000,
        circle_px=(float(there[0]), float(there[1]), math.dist(there, then)),
    )
