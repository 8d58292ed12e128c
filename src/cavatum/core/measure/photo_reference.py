"""What is known in a photo: a rectangle or two lengths, and the plane they give. Rule 2.1."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError, Infeasible

Floats = NDArray[np.float64]
Image = NDArray[np.uint8]


CORNER_SIGMA_PX = 1.0  # own judgement: a corner or an end set by hand with a magnifier


FITTED_SIGMA_PX = (
    0.18  # own judgement: a corner where straight edges meet, with what blur and the rim of a card add
)
UNFOUND_SIGMA_PX = 8.0  # own judgement: corners of a sheet whose edges are not where its corners were set
EDGE_SIGMA_PX = 0.3  # own judgement: bias of the 50 % edge through blur, shadow and rounded rims
SCALES_AGREE = 0.05
REACH_PX = 7
FARTHEST_PX = 80  # a sheet's edge is looked for this far from the line between two corners, at most
SOFT_REACH = 3.0  # deviations of a blurred edge to look past
IN_FOCUS_PX = 1.5  # own judgement: a sharp picture's own softness
SOFT_SIGMA = 0.15  # own judgement: of that deviation, how far such an edge's line may be off
WIDE_PX = 36  # a blurred edge is looked for this far to either side, at most
FARTHEST_SHARE = 0.2  # of that side


@dataclass(frozen=True)
class Plane:
    """Homography from pixels to metres (3 x 3), and how it was come by."""

    matrix: Floats
    words: str

    def to_metres(self, pixels: Floats) -> Floats:
        moved = cv2.perspectiveTransform(np.asarray(pixels, float).reshape(-1, 1, 2), self.matrix)
        return np.asarray(moved, float).reshape(-1, 2)


@dataclass(frozen=True, kw_only=True)
class Rectangle:
    """A known rectangle lying in the picture: its corners in pixels, walked round once from any corner, its
    first side first.
    """

    corners_px: Floats
    first_side_m: float
    second_side_m: float
    first_spread_m: float = 0.0
    second_spread_m: float = 0.0
    corner_sigma_px: float = CORNER_SIGMA_PX
    is_on_edges: bool = False


@dataclass(frozen=True, kw_only=True)
class Lengths:
    """Two known lengths in a picture taken straight from above: ends in pixels, shape (2, 2, 2), and
    metres.
    """

    ends_px: Floats
    first_m: float
    second_m: float
    first_spread_m: float = 0.0
    second_spread_m: float = 0.0


@dataclass(frozen=True)
class Parallax:
    """The reference lies `above_m` over the rim (below: negative), seen from a camera `camera_m` over the
    rim.
    """

    above_m: float
    camera_m: float


def plane_of(reference: Rectangle | Lengths) -> Plane:
    """The plane of the reference. Raises where corners lie on a line or cross, or where two lengths disagree
    by over 5 %.
    """
    if isinstance(reference, Rectangle):
        return _plane_of_rectangle(reference)
    spans = np.linalg.norm(reference.ends_px[:, 1] - reference.ends_px[:, 0], axis=1)
    if spans.min() < 10:
        raise DomainError(
            argument="known length",
            value=f"{spans.min():.0f} pixels long in the picture",
            allowed="it spans at least 10 pixels",
            way_out="Set its ends again.",
            code="too-short",
        )
    scales = np.array([reference.first_m, reference.second_m]) / spans
    apart = abs(scales[0] / scales[1] - 1)
    if apart > SCALES_AGREE:
        raise Infeasible(
            argument="two known lengths",
            value=f"{apart:.0%} apart in scale",
            allowed=f"they agree within {SCALES_AGREE:.0%} in a picture from straight above",
            way_out="Use a known rectangle instead: it takes the perspective out.",
            code="not-from-above",
        )
    scale = float(scales.mean())
    return Plane(
        np.array([[scale, 0, 0], [0, -scale, 0], [0, 0, 1.0]]),
        "mean scale of two known lengths, taken from straight above",
    )


def _plane_of_rectangle(reference: Rectangle) -> Plane:
    corners = np.asarray(reference.corners_px, float)
    cross = [_turn(corners[i], corners[(i + 1) % 4], corners[(i + 2) % 4]) for i in range(4)]
    if min(abs(one) for one in cross) < 25 or len({one > 0 for one in cross}) != 1:
        raise DomainError(
            argument="rectangle",
            value="crossed or flat in the picture",
            allowed="its four corners go round once",
            way_out="Set the corners in order round the rectangle.",
            code="corners",
        )
    a, b = reference.first_side_m, reference.second_side_m
    up = 1.0 if cross[0] < 0 else -1.0  # keeps the picture unmirrored whichever way round it was walked
    target = np.array([[0, 0], [a, 0], [a, up * b], [0, up * b]])
    return Plane(
        cv2.getPerspectiveTransform(corners.astype(np.float32), target.astype(np.float32)).astype(float),
        "homography from four corners of a known rectangle",
    )


def _turn(a: Floats, b: Floats, c: Floats) -> float:
    return float((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))


def on_its_edges(image: Image, reference: Rectangle) -> Rectangle:
    """The rectangle with its corners where straight lines through its own four edges meet, found to parts of
    a pixel.

    image      BGR, 8 bit
    reference  its corners as they were set, each within FARTHEST_PX and FARTHEST_SHARE of a side of its own

    Each edge is the straight line with the strongest step of light within that reach, then its own half-way
    points, refined. Where there is none (no sheet, a worn edge) the corners stay as they were set, and are
    doubted by UNFOUND_SIGMA_PX. corner_sigma_px says how sure they are.
    Raises nothing. Source: own; the line by least absolute deviations (Huber), as OpenCV fits it.
    """
    corners = np.asarray(reference.corners_px, float)
    grey = _calm_grey(image)
    lines = [_edge_line(grey, corners[i], corners[(i + 1) % 4]) for i in range(4)]
    unfound = replace(reference, corner_sigma_px=UNFOUND_SIGMA_PX)
    if any(line is None for line in lines):
        return unfound
    met = np.array([_meet(lines[i - 1], lines[i]) for i in range(4)])  # type: ignore[arg-type]
    if not np.isfinite(met).all() or np.linalg.norm(met - corners, axis=1).max() > 2 * FARTHEST_PX:
        return unfound
    doubt = max(line[2] for line in lines if line is not None)
    return replace(
        reference, corners_px=met, corner_sigma_px=math.hypot(FITTED_SIGMA_PX, doubt), is_on_edges=True
    )


def _calm_grey(image: Image) -> Floats:
    grey = cv2.GaussianBlur(cv2.cvtColor(image, cv2.COLOR_BGR2GRAY), (0, 0), 0.8)
    return np.asarray(grey, np.float32)


def _edge_line(grey: Floats, a: Floats, b: Floats) -> tuple[Floats, Floats, float] | None:
    """A point, a direction and the doubt [px] of the straight edge near a-b; None where it is not straight or
    not there.
    """
    if float(np.linalg.norm(b - a)) < 40:
        return None
    a, b = _strongest(grey, a, b)
    span = float(np.linalg.norm(b - a))
    along = (b - a) / span
    normal = np.array([along[1], -along[0]])
    base = a + along * np.linspace(0.1, 0.9, max(int(span / 2), 20))[:, None] * span
    soft = _soft_reach(grey, base, normal)
    for reach in (max(9.0, soft), max(4.0, soft)):
        found = base + normal * _edge_shift(grey, base, normal, reach)[:, None]
        found = found[np.isfinite(found).all(axis=1)]
        if len(found) < 0.6 * len(base):
            return None
        vx, vy, x0, y0 = (
            cv2.fitLine(found.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel().astype(float)
        )
        point, direction = np.array([x0, y0]), np.array([vx, vy])
        off = np.abs((found - point) @ np.array([-vy, vx]))
        base = point + np.outer((base - point) @ direction, direction)
    if np.median(off) > 0.6:
        return None
    doubt = 1.5 * np.median(off) * 2 / math.sqrt(len(found))
    return point, direction, math.hypot(doubt, SOFT_SIGMA * max(soft / SOFT_REACH - IN_FOCUS_PX, 0.0))


def _strongest(grey: Floats, a: Floats, b: Floats) -> tuple[Floats, Floats]:
    """a-b moved to the straight line of the strongest step near it: both its ends tried at every two
    pixels."""
    span = float(np.linalg.norm(b - a))
    reach = int(min(FARTHEST_PX, FARTHEST_SHARE * span))
    along = (b - a) / span
    normal = np.array([along[1], -along[0]])
    shares = np.linspace(0.12, 0.88, 48)
    base = a + along * shares[:, None] * span
    offsets = np.arange(-reach - 4, reach + 5, dtype=float)
    places = (base[:, None, :] + normal[None, None, :] * offsets[None, :, None]).astype(np.float32)
    seen = cv2.remap(grey, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    step = np.clip(
        (seen[:, 4:] - seen[:, :-4])[:, 2:-2], -40, 40
    )  # from 2 px on one side to 2 px on the other
    ends = np.arange(-reach, reach + 1, 2)
    first, last = np.meshgrid(ends, ends, indexing="ij")
    at = np.rint(first[..., None] * (1 - shares) + last[..., None] * shares).astype(int) + reach
    strength = np.abs(step[np.arange(len(shares)), at].mean(axis=-1))
    # Of equally strong lines the nearest: a sheet has two edges of its shadow, and a board has others.
    strength -= 0.02 * (np.abs(first) + np.abs(last)) / 2
    i, j = np.unravel_index(int(strength.argmax()), strength.shape)
    return a + normal * float(ends[i]), b + normal * float(ends[j])


def _soft_reach(grey: Floats, base: Floats, normal: Floats) -> float:
    """How far to look to either side of a blurred edge [px]: past its softness, by the mean step along it."""
    offsets = np.linspace(-WIDE_PX, WIDE_PX, 4 * WIDE_PX + 1)
    places = (base[:, None, :] + normal[None, None, :] * offsets[None, :, None]).astype(np.float32)
    seen = cv2.remap(grey, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    mean = np.median(seen, axis=0)
    slope = np.abs(np.gradient(mean))
    near = np.abs(offsets) <= WIDE_PX / 2
    step = float(np.abs(mean[-1] - mean[0]))
    steepest = float(slope[near].max()) * 2  # a pixel
    # A step of height h blurred by s is steepest by h / (s sqrt(2 pi)).
    return min(SOFT_REACH * step / (steepest * math.sqrt(2 * math.pi)), WIDE_PX) if steepest > 0 else 0.0


def _edge_shift(grey: Floats, base: Floats, normal: Floats, reach: float) -> Floats:
    offsets = np.linspace(-reach, reach, int(4 * reach) + 1)
    places = (base[:, None, :] + normal[None, None, :] * offsets[None, :, None]).astype(np.float32)
    seen = cv2.remap(grey, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    quarter = len(offsets) // 4
    near, far = seen[:, :quarter].mean(axis=1), seen[:, -quarter:].mean(axis=1)
    level = (seen - near[:, None]) / np.where(np.abs(far - near) < 12, np.nan, far - near)[:, None]
    return _half_way(np.nan_to_num(level, nan=-1.0), offsets)


def _meet(one: tuple[Floats, Floats, float], other: tuple[Floats, Floats, float]) -> Floats:
    """Where two lines cross; not a number where they are parallel."""
    (p, d, _), (q, e, _) = one, other
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < 1e-6:
        return np.array([np.nan, np.nan])
    t = ((q[0] - p[0]) * e[1] - (q[1] - p[1]) * e[0]) / cross
    return np.asarray(p + t * d)


def _half_way(level: Floats, offsets: Floats) -> Floats:
    """Place where the level crosses one half, the crossing nearest to the middle; NaN where there is none."""
    above = level >= 0.5
    crossing = ~above[:, :-1] & above[:, 1:]
    middle = (offsets[:-1] + offsets[1:]) / 2
    cost = np.where(crossing, np.abs(middle)[None, :], np.inf)
    at = cost.argmin(axis=1)
    rows = np.arange(len(level))
    low, high = level[rows, at], level[rows, at + 1]
    found = offsets[at] + (0.5 - low) / np.maximum(high - low, 1e-6) * (offsets[1] - offsets[0])
    found[~np.isfinite(cost[rows, at])] = np.nan
    return np.asarray(found)
