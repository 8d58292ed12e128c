"""A void traced from a photo taken from above: perspective removed by a known rectangle or two known lengths,
the edge found
to parts of a pixel, the area with its band. OpenCV and NumPy; never reads files.

Pixel coordinates run right and down; metric ones right and up, in metres, in the plane of the reference.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from .photo_doubt import STEP_LEAST, Borne, check_light, reach_for
from .photo_edge import across, signed_area
from .photo_reference import (
    CORNER_SIGMA_PX,
    EDGE_SIGMA_PX,
    REACH_PX,
    UNFOUND_SIGMA_PX,
    Floats,
    Image,
    Lengths,
    Parallax,
    Rectangle,
    _half_way,
    plane_of,
)

NOTHING = Borne()  # where no picture is asked
COVERAGE = 2.0  # about 95 of 100, GUM 6.3
WORKING_PX = (
    480  # longer side of the image in which the region is grown; the edge is then found in the full one
)
GOOD_WITHIN = 0.05  # own judgement: a wider band is a rough guess of an area
SOFT_BIAS = 0.15  # own judgement: of the edge's softness, what shadow and grain make of its middle
HIDDEN_SHARE = 0.7  # own judgement: of what lies behind a straight line; with both halves 1.4 times it
LUMA_SHARE = 0.45  # lightness counts less than hue: a shadow changes it most


@dataclass(frozen=True, kw_only=True)
class Traced:
    """Outline in metres (n, 2), its area [m2], how far off it may be either way (about 95 of 100), and the
    shares of that.
    """

    points_m: Floats
    area_m2: float
    half_m2: float
    shares: dict[str, float]
    doubts: tuple[str, ...] = ()

    @property
    def is_good(self) -> bool:
        """Nothing in the picture speaks against it, and its band is GOOD_WITHIN or narrower."""
        return not self.doubts and self.half_m2 <= GOOD_WITHIN * self.area_m2


def find_outline(image: Image, seeds_px: Floats, outside_px: Floats | None = None) -> Floats:
    """Closed edge, shape (n, 2) [pixels], round the region that the seeds lie in.

    image       BGR, 8 bit
    seeds_px    points inside the void, shape (n, 2) [pixels], at least one
    outside_px  points known to lie outside, shape (n, 2) [pixels], to correct a leak

    The region is grown by colour (GrabCut), then each edge point is moved along its normal to where the
    colour is half way between inside and outside.
    A soft edge is looked for further out.
    Raises Infeasible where no region of sense is found, and for a photo too dark to have edges. Valid for
    a void that differs in colour from what
    is round it.
    Source: Rother, Kolmogorov and Blake, "GrabCut", ACM Trans. Graph. 23 (2004) 309; the half-way edge:
    own.
    """
    check_light(image)
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
    reach = max(REACH_PX, 2.2 * scale)
    for _ in range(3):
        for _ in range(2):
            coarse = _even(_moved_to_edge(image, _smooth(coarse), reach), 3.0)
        if (further := reach_for(image, coarse, reach)) <= reach:
            break
        reach = further
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
    seen = across(image, ring, reach, 1)
    shift = _half_way(seen.level, seen.offsets)
    shift[np.linalg.norm(seen.outside - seen.inside, axis=1) < STEP_LEAST] = np.nan
    return np.asarray(ring + seen.normal * _calm(shift)[:, None])


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


def outline_area(points: Floats) -> float:
    """Area of a closed ring, in the square of its points' unit (pixels, m).

        |sum of (x_i y_i+1 - x_i+1 y_i)| / 2

    points  shape (n, 2), n >= 3, the last joined to the first
    Raises nothing. Exact for a ring that does not cross itself. Source: shoelace formula (Meister 1769).
    """
    return abs(signed_area(points))


def traced(
    outline_px: Floats,
    reference: Rectangle | Lengths,
    parallax: Parallax | None = None,
    *,
    by_hand: bool = False,
    borne: Borne = NOTHING,
) -> Traced:
    """The outline in metres with its area and band.

        half width = 2 sqrt(corners^2 + reference^2 + edge^2 + parallax^2 + picture^2)

    corners    each of the reference's points moved by its sigma in x and y, the changes of area added in
               squares
    reference  its spreads as given (taken as two sigma); none given counts as exact
    edge       the whole edge moved out by EDGE_SIGMA_PX (three times as much where it was drawn by hand)
    parallax   area scaled by (1 - above / camera)^-2 onto the rim; half of that change counts as doubt
    picture    (borne: what photo_doubt says of it) SOFT_BIAS of the edge's softness all round, the reach
    where
               no edge is seen, what lies behind a thing over the edge, sides that do not fit the sheet's
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
    edge_px = EDGE_SIGMA_PX * (3 if by_hand else 1)
    edge_px = math.hypot(edge_px, SOFT_BIAS * borne.blur_px) + borne.unclear * REACH_PX
    moved = _moved_out(outline_px, edge_px)
    shares = {
        "where the reference's corners were set": _corner_share(outline_px, reference),
        "the reference's own size": _size_share(outline_px, reference),
        "where the edge was found" if not by_hand else "where the edge was drawn": abs(
            outline_area(plane.to_metres(moved)) - area
        ),
        "reference above or below the rim": abs(scale - 1) * area / 2,
        "something over the edge": HIDDEN_SHARE * area * borne.hidden_px2 / outline_area(outline_px),
        "sides that do not fit the sheet": borne.sides_off * area,
        "another sheet that would look the same": borne.alike / COVERAGE * area,
    }
    shares = {name: one for name, one in shares.items() if one > 0}
    half = COVERAGE * math.sqrt(sum(one**2 for one in shares.values()))
    return Traced(
        points_m=points * math.sqrt(scale),
        area_m2=area * scale,
        half_m2=half * scale,
        shares={name: COVERAGE * one * scale for name, one in shares.items()},
        doubts=_doubts(reference, borne),
    )


def _doubts(reference: Rectangle | Lengths, borne: Borne) -> tuple[str, ...]:
    unfound = isinstance(reference, Rectangle) and reference.corner_sigma_px >= UNFOUND_SIGMA_PX
    said = "The sheet's edges were not found where its corners are set: set them again with the magnifier."
    return ((said,) if unfound else ()) + borne.doubts


def _moved_out(ring: Floats, by_px: float) -> Floats:
    tangent = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1) / np.maximum(
        np.linalg.norm(tangent, axis=1, keepdims=True), 1e-9
    )
    return np.asarray(ring + normal * (by_px if signed_area(ring) > 0 else -by_px))


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
