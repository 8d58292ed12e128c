"""A void traced from a photo taken from above: perspective removed by a known rectangle or two known lengths,
the edge found
to parts of a pixel, the area with its band. OpenCV and NumPy; never reads files.

Pixel coordinates run right and down; metric ones right and up, in metres, in the plane of the reference.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly

Floats = NDArray[np.float64]
Image = NDArray[np.uint8]
CORNER_SIGMA_PX = 1.0  # own judgement: a corner or an end set by hand with a magnifier
FITTED_SIGMA_PX = (
    0.18  # own judgement: a corner where straight edges meet, with what blur and the rim of a card add
)
EDGE_SIGMA_PX = 0.3  # own judgement: bias of the 50 % edge through blur, shadow and rounded rims
COVERAGE = 2.0  # about 95 of 100, GUM 6.3
SCALES_AGREE = 0.05
WORKING_PX = (
    480  # longer side of the image in which the region is grown; the edge is then found in the full one
)
REACH_PX = 7
LUMA_SHARE = 0.45  # lightness counts less than hue: a shadow changes it most


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


@dataclass(frozen=True, kw_only=True)
class Traced:
    """Outline in metres (n, 2), its area [m2], how far off it may be either way (about 95 of 100), and the
    shares of that.
    """

    points_m: Floats
    area_m2: float
    half_m2: float
    shares: dict[str, float]


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

    Each edge is looked for within a few pixels of the line between two corners, at many places; where its
    points do not
    lie on a line (no card, a worn edge) the corners stay as they were set. corner_sigma_px says how sure they
    are then.
    """
    corners = np.asarray(reference.corners_px, float)
    lines = [_edge_line(image, corners[i], corners[(i + 1) % 4], corners.mean(axis=0)) for i in range(4)]
    if any(line is None for line in lines):
        return reference
    met = np.array([_meet(lines[i - 1], lines[i]) for i in range(4)])  # type: ignore[arg-type]
    if not np.isfinite(met).all() or np.linalg.norm(met - corners, axis=1).max() > 2 * REACH_PX:
        return reference
    doubt = max(line[2] for line in lines if line is not None)
    return replace(reference, corners_px=met, corner_sigma_px=math.hypot(FITTED_SIGMA_PX, doubt))


def _edge_line(image: Image, a: Floats, b: Floats, middle: Floats) -> tuple[Floats, Floats, float] | None:
    """A point, a direction and the doubt [px] of the straight edge near a-b; None where it is not straight or
    not there.
    """
    span = float(np.linalg.norm(b - a))
    if span < 40:
        return None
    along = (b - a) / span
    normal = np.array([along[1], -along[0]])
    normal = normal if np.dot((a + b) / 2 - middle, normal) > 0 else -normal
    base = a + along * np.linspace(0.08, 0.92, max(int(span / 2), 20))[:, None] * span
    for reach in (9.0, 4.0):
        found = base + normal * _edge_shift(image, base, normal, reach)[:, None]
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
    return point, direction, float(1.5 * np.median(off) * 2 / math.sqrt(len(found)))


def _edge_shift(image: Image, base: Floats, normal: Floats, reach: float) -> Floats:
    offsets = np.linspace(-reach, reach, int(4 * reach) + 1)
    places = (base[:, None, :] + normal[None, None, :] * offsets[None, :, None]).astype(np.float32)
    grey = cv2.GaussianBlur(cv2.cvtColor(image, cv2.COLOR_BGR2GRAY), (0, 0), 0.8).astype(np.float32)
    seen = cv2.remap(grey, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    quarter = len(offsets) // 4
    inside, outside = seen[:, :quarter].mean(axis=1), seen[:, -quarter:].mean(axis=1)
    level = (seen - inside[:, None]) / np.where(np.abs(outside - inside) < 12, np.nan, outside - inside)[
        :, None
    ]
    return _half_way(np.nan_to_num(level, nan=-1.0), offsets)


def _meet(one: tuple[Floats, Floats, float], other: tuple[Floats, Floats, float]) -> Floats:
    """Where two lines cross; not a number where they are parallel."""
    (p, d, _), (q, e, _) = one, other
    cross = d[0] * e[1] - d[1] * e[0]
    if abs(cross) < 1e-6:
        return np.array([np.nan, np.nan])
    t = ((q[0] - p[0]) * e[1] - (q[1] - p[1]) * e[0]) / cross
    return np.asarray(p + t * d)


def find_outline(image: Image, seeds_px: Floats, outside_px: Floats | None = None) -> Floats:
    """Closed edge (n, 2) [pixels] round the region that the seeds lie in.

    image       BGR, 8 bit
    seeds_px    points inside the void, at least one;  outside_px  points known to lie outside, to correct a
                leak
    The region is grown by colour (GrabCut), then each edge point is moved along its normal to where the
    colour is half way
    between inside and outside. Raises Infeasible where no region of sense is found.
    Source: Rother, Kolmogorov and Blake, "GrabCut", ACM Trans. Graph. 23 (2004) 309; the half-way edge: own.
    """
    region = _region(image, np.asarray(seeds_px, float), outside_px)
    rings, _ = cv2.findContours(region, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(rings, key=cv2.contourArea).reshape(-1, 2).astype(float)
    scale = max(image.shape[:2]) / max(region.shape)
    if cv2.contourArea(ring.astype(np.float32)) < 60:
        raise Infeasible(
            argument="outline",
            value="hardly larger than the point that was set",
            allowed="the void stands out in colour from what is round it",
            way_out="Set more points inside, or draw the outline by hand.",
            code="not-found",
        )
    coarse = _even((ring + 0.5) * scale - 0.5, max(3.0, scale))
    for _ in range(2):
        coarse = _moved_to_edge(image, _smooth(coarse), max(REACH_PX, 2.2 * scale))
        coarse = _even(coarse, 3.0)
    return coarse


def _region(image: Image, seeds: Floats, outside: Floats | None) -> NDArray[np.uint8]:
    height, width = image.shape[:2]
    shrink = min(1.0, WORKING_PX / max(height, width))
    small = cv2.resize(image, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    lab = cv2.cvtColor(small, cv2.COLOR_BGR2LAB).astype(np.float32)
    lab[..., 0] = 128 + (lab[..., 0] - 128) * LUMA_SHARE
    lab[..., 1:] = 128 + (lab[..., 1:] - 128) * 2
    calm: NDArray[np.uint8] = np.asarray(cv2.medianBlur(np.clip(lab, 0, 255).astype(np.uint8), 5), np.uint8)
    mask = np.full(calm.shape[:2], cv2.GC_PR_BGD, np.uint8)
    spots = np.round(seeds * shrink).astype(int)
    _grow_probable(calm, spots, mask)
    border = max(2, round(0.015 * max(mask.shape)))
    mask[:border], mask[-border:], mask[:, :border], mask[:, -border:] = (cv2.GC_BGD,) * 4
    for x, y in spots:
        cv2.circle(mask, (int(x), int(y)), 3, cv2.GC_FGD, -1)
    for x, y in np.round(np.asarray(outside if outside is not None else np.empty((0, 2))) * shrink).astype(
        int
    ):
        cv2.circle(mask, (int(x), int(y)), 4, cv2.GC_BGD, -1)
    cv2.setRNGSeed(7)  # the same picture gives the same outline
    cv2.grabCut(calm, mask, (0, 0, 0, 0), np.zeros((1, 65)), np.zeros((1, 65)), 4, cv2.GC_INIT_WITH_MASK)
    found = np.isin(mask, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.uint8)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (3, 3))
    found = np.asarray(cv2.morphologyEx(found, cv2.MORPH_OPEN, disc), np.uint8)
    _, labels = cv2.connectedComponents(found)
    wanted = {
        int(labels[y, x]) for x, y in spots if 0 <= y < labels.shape[0] and 0 <= x < labels.shape[1]
    } - {0}
    if not wanted:
        raise Infeasible(
            argument="outline",
            value="not found round the point",
            allowed="the point lies inside the void, in the picture",
            way_out="Set the point again, or draw by hand.",
            code="not-found",
        )
    return np.isin(labels, list(wanted)).astype(np.uint8)


def _grow_probable(calm: Image, spots: NDArray[np.int64], mask: NDArray[np.uint8]) -> None:
    """What is like the seeds in colour is probably inside."""
    values = []
    for x, y in spots:
        values.append(calm[max(y - 3, 0) : y + 4, max(x - 3, 0) : x + 4].reshape(-1, 3))
    near = np.concatenate(values).astype(float)
    apart = np.min(
        [
            np.linalg.norm(calm.astype(float) - one, axis=2)
            for one in np.unique(np.round(near[:: max(1, len(near) // 12)]), axis=0)
        ],
        axis=0,
    )
    mask[apart < 26] = cv2.GC_PR_FGD


def _even(ring: Floats, step: float) -> Floats:
    """The closed ring walked in equal steps."""
    closed = np.vstack([ring, ring[:1]])
    lengths = np.linalg.norm(np.diff(closed, axis=0), axis=1)
    way = np.concatenate([[0], np.cumsum(lengths)])
    count = max(int(way[-1] / step), 16)
    at = np.linspace(0, way[-1], count, endpoint=False)
    return np.stack([np.interp(at, way, closed[:, k]) for k in (0, 1)], axis=1)


def _smooth(ring: Floats) -> Floats:
    """A binomial mean over five neighbours round the ring; it takes off the stairs of the pixels."""
    weights = (1, 4, 6, 4, 1)
    rolled = [w * np.roll(ring, shift, axis=0) for shift, w in zip(range(-2, 3), weights, strict=True)]
    return np.asarray(np.sum(rolled, axis=0) / 16)


def _moved_to_edge(image: Image, ring: Floats, reach: float) -> Floats:
    """Each point moved along its normal to the half-way colour; outliers take the mean of their
    neighbours.
    """
    tangent = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1) / np.maximum(
        np.linalg.norm(tangent, axis=1, keepdims=True), 1e-9
    )
    if _signed_area(ring) < 0:
        normal = -normal
    offsets = np.linspace(-reach, reach, 2 * int(2 * reach) + 1)
    places = (ring[:, None, :] + normal[:, None, :] * offsets[None, :, None]).astype(np.float32)
    calm = cv2.GaussianBlur(image, (0, 0), 0.8).astype(np.float32)
    colours = cv2.remap(
        calm, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    quarter = len(offsets) // 4
    inside, outside = colours[:, :quarter].mean(axis=1), colours[:, -quarter:].mean(axis=1)
    axis = outside - inside
    strength = np.linalg.norm(axis, axis=1)
    level = (
        np.einsum("nkc,nc->nk", colours - inside[:, None, :], axis) / np.maximum(strength**2, 1e-6)[:, None]
    )
    shift = _half_way(level, offsets)
    shift[strength < 6] = np.nan
    return np.asarray(ring + normal * _calm(shift)[:, None])


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


def _calm(shift: Floats) -> Floats:
    """Missing and outlying shifts replaced by the median of their neighbours."""
    count = len(shift)
    window = np.stack([np.roll(shift, k) for k in range(-4, 5)])
    with np.errstate(all="ignore"):
        median = np.array(
            [
                np.median(column[np.isfinite(column)]) if np.isfinite(column).any() else 0.0
                for column in window.T
            ]
        )
    out = np.where(np.isfinite(shift), shift, median)
    return np.where(np.abs(out - median) > 2.0, median, out)[:count]


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def outline_area(points: Floats) -> float:
    """Area of a closed ring by the shoelace formula."""
    return abs(_signed_area(points))


def traced(
    outline_px: Floats,
    reference: Rectangle | Lengths,
    parallax: Parallax | None = None,
    *,
    by_hand: bool = False,
) -> Traced:
    """The outline in metres with its area and band.

        half width = 2 sqrt(corners^2 + reference^2 + edge^2 + parallax^2)

    corners    each of the reference's points moved by its sigma in x and y, the changes of area added in
               squares
    reference  its spreads as given (taken as two sigma); none given counts as exact
    edge       the whole edge moved out by EDGE_SIGMA_PX (three times as much where it was drawn by hand)
    parallax   area scaled by (1 - above / camera)^-2 onto the rim; half of that change counts as doubt
    Lens distortion is left out: keep the void in the middle half of the picture.
    Raises DomainError where the outline crosses the horizon of the plane.
    """
    plane = plane_of(reference)
    points = plane.to_metres(outline_px)
    if not np.isfinite(points).all() or np.abs(points).max() > 20:
        raise DomainError(
            argument="outline",
            value="beyond the plane of the reference",
            allowed="it lies on the same plane, in front of the camera",
            way_out="Set the corners again.",
            code="horizon",
        )
    area = outline_area(points)
    scale = 1.0
    if parallax is not None:
        if parallax.camera_m <= abs(parallax.above_m) * 2:
            raise DomainError(
                argument="camera height",
                value=f"{plainly(parallax.camera_m)} m",
                allowed="it is well above the piece",
                way_out="Give its height over the rim.",
                code="too-low",
            )
        scale = (1 - parallax.above_m / parallax.camera_m) ** -2
    moved = _moved_out(outline_px, EDGE_SIGMA_PX * (3 if by_hand else 1))
    shares = {
        "where the reference's corners were set": _corner_share(outline_px, reference),
        "the reference's own size": _size_share(outline_px, reference),
        "where the edge was found" if not by_hand else "where the edge was drawn": abs(
            outline_area(plane.to_metres(moved)) - area
        ),
        "reference above or below the rim": abs(scale - 1) * area / 2,
    }
    half = COVERAGE * math.sqrt(sum(one**2 for one in shares.values()))
    return Traced(
        points_m=points * math.sqrt(scale),
        area_m2=area * scale,
        half_m2=half * scale,
        shares={name: COVERAGE * one * scale for name, one in shares.items()},
    )


def _moved_out(ring: Floats, by_px: float) -> Floats:
    tangent = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1) / np.maximum(
        np.linalg.norm(tangent, axis=1, keepdims=True), 1e-9
    )
    return np.asarray(ring + normal * (by_px if _signed_area(ring) > 0 else -by_px))


def _corner_share(outline: Floats, reference: Rectangle | Lengths) -> float:
    points = reference.corners_px if isinstance(reference, Rectangle) else reference.ends_px
    middle = outline_area(plane_of(reference).to_metres(outline))
    total = 0.0
    for index in np.ndindex(points.shape):
        shifted = np.array(points, float)
        shifted[index] += reference.corner_sigma_px if isinstance(reference, Rectangle) else CORNER_SIGMA_PX
        changed = _with_points(reference, shifted)
        total += (outline_area(plane_of(changed).to_metres(outline)) - middle) ** 2
    if isinstance(
        reference, Lengths
    ):  # what is left of perspective shows as the difference of the two scales
        spans = np.linalg.norm(reference.ends_px[:, 1] - reference.ends_px[:, 0], axis=1)
        apart = reference.first_m / spans[0] / (reference.second_m / spans[1]) - 1
        total += (middle * apart / 2) ** 2
    return math.sqrt(total)


def _with_points(reference: Rectangle | Lengths, points: Floats) -> Rectangle | Lengths:
    if isinstance(reference, Rectangle):
        return Rectangle(
            corners_px=points, first_side_m=reference.first_side_m, second_side_m=reference.second_side_m
        )
    return Lengths(ends_px=points, first_m=reference.first_m, second_m=reference.second_m)


def _size_share(outline: Floats, reference: Rectangle | Lengths) -> float:
    """Area goes with the product of both sides; for two lengths with the square of their mean scale."""
    area = outline_area(plane_of(reference).to_metres(outline))
    if isinstance(reference, Rectangle):
        sides = (
            (reference.first_side_m, reference.first_spread_m),
            (reference.second_side_m, reference.second_spread_m),
        )
    else:
        sides = (
            (reference.first_m, reference.first_spread_m),
            (reference.second_m, reference.second_spread_m),
        )
    return area * math.hypot(*(spread / side / COVERAGE for side, spread in sides))
