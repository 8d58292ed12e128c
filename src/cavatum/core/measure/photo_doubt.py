"""Whether a photo bears out what was traced in it: how soft and how clear the edge is, what lies over it,
whether
it runs along the picture's frame, and whether the sheet has the sides it is said to have. Rule 2.1.

A picture that cannot tell is refused with what to do; one that tells less is doubted by as much.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..common.errors import Infeasible
from ..common.plain_numbers import plainly
from .photo_edge import across, signed_area
from .photo_reference import REACH_PX, Floats, Image, Rectangle

# ISO 216, ANSI/ASME Y14.1 and ISO/IEC 7810: sides in metres, the longer first
SHEETS = {
    "A3": (0.420, 0.297),
    "A4": (0.297, 0.210),
    "A5": (0.210, 0.148),
    "letter": (0.2794, 0.2159),
    "legal": (0.3556, 0.2159),
    "a bank card": (0.0856, 0.05398),
}
FEW = 3  # sheets named as likely ones
SAME_SHEET = 0.01  # sides within this share of each other are the same sheet's
TOLD_APART = 0.15  # two sheets further apart in area are not taken for each other by the eye
DARKEST = 50  # own judgement: brighter than this is one pixel in a hundred, of 255, or edges drown in noise
FRAME_SHARE = 0.03  # own judgement: of an outline along the picture's frame
CLEAR_LEAST = 0.75  # own judgement: share of an outline with an edge that stands out of the noise
STEP_LEAST = 6.0  # own judgement: a fainter step of colour is no edge
WRONG_SIDE = 0.2  # own judgement: of the pixels beside an edge, on the wrong side of half way
REACH_MOST = 48.0  # px
SOFT_SHARE = 0.3  # own judgement: of the reach; a softer edge is looked for further out
OVER_SHEET = 0.05  # own judgement: of the sheet inside the outline
CUT = 0.05  # own judgement: how far off the sides may be of a photo that was cut
SIDES_OFF = 0.02  # own judgement: sides said further off than this are another sheet's
ODD_WITHIN = 30.0  # own judgement: of 255, off the colour of what lies within along the rest
ODD_LEAST = 0.003  # own judgement: of the outline's area, behind something that lies over its edge
ODD_HUE = (
    0.05  # own judgement: shares of red, green and blue off the rest of what is outside; a shadow keeps them
)
ODD_LIGHT = 0.6  # own judgement: logarithm of the light on it over the rest; a soft shadow takes a third
ODD_MOST = 0.35  # of the outline: more is no thing lying there, but light
F_OF_SIDE = np.geomspace(0.55, 2.2, 9)  # focal length over the picture's longer side: wide angle to portrait
OFF_CENTRE = np.linspace(-0.05, 0.05, 3)  # the optical axis off the picture's middle, of its longer side


@dataclass(frozen=True, kw_only=True)
class Borne:
    """blur_px: deviation of the edge's own softness [px]; unclear: share of the outline without an edge;
    hidden_px2: area between the outline and a straight line where something lies over its edge [px2];
    sides_off: how far the sheet's sides are off what is said, relative, 0 for none; alike: how much
    another sheet that looks the same in this photo differs in area, relative; doubts: in words, each
    with what to do.
    """

    blur_px: float = 0.0
    unclear: float = 0.0
    hidden_px2: float = 0.0
    sides_off: float = 0.0
    alike: float = 0.0
    doubts: tuple[str, ...] = ()


def both(outline: Borne, sheet: Borne) -> Borne:
    """What the picture says of the outline (borne_out) and of the sheet (check_sides) together."""
    return replace(
        outline, sides_off=sheet.sides_off, alike=sheet.alike, doubts=outline.doubts + sheet.doubts
    )


def _refused(value: str, allowed: str, way_out: str, code: str) -> Infeasible:
    return Infeasible(argument="photo", value=value, allowed=allowed, way_out=way_out, code=code)


def check_light(image: Image) -> None:
    """Refuses a photo that is too dark to have edges. image: BGR, 8 bit."""
    bright = float(np.percentile(cv2.cvtColor(image, cv2.COLOR_BGR2GRAY), 99))
    if bright < DARKEST:
        raise _refused(
            f"dark: its brightest parts are {bright / 255:.0%} of white",
            "edges stand out of the noise",
            "Take it again in more light, without a flash on wet wood.",
            "dark",
        )


def check_sides(reference: Rectangle, width_px: int, height_px: int) -> Borne:
    """How far the sheet's sides are off what is said, and which other sheet may lie there as well.

        ratio = |K^-1 h2| / |K^-1 h1|   over all cameras K for which h1 and h2 stand at right angles

    h1, h2 are the first two columns of the homography from a unit square; K has square pixels, a focal length
    of F_OF_SIDE and an axis within OFF_CENTRE of the middle.
    Raises Infeasible where no camera sees a rectangle so, and where the sides are off by more than SIDES_OFF.
    Valid for a photo that was not cut to a side. Source: Zhang and He, Whiteboard scanning, Digital Signal
    Processing 17 (2007) 414.
    """
    corners = np.asarray(reference.corners_px, float)
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    doubt = 2 * math.sqrt(2) * reference.corner_sigma_px / float(sides.min())
    low, high = _ratios(corners, width_px, height_px, 0.012 + 2 * doubt)
    said = reference.second_side_m / reference.first_side_m
    if not math.isfinite(low):
        if reference.is_on_edges:
            cut = "The four corners are no rectangle's as a camera sees it: was the photo cut?"
            return Borne(sides_off=CUT, doubts=(cut,))
        raise _refused(
            "four corners that no rectangle has",
            "they are a flat sheet's, seen by a camera",
            "Set each corner again with the magnifier.",
            "no-rectangle",
        )
    off = max(low / said, said / high) - 1 - doubt - 0.004
    fits = [
        name
        for name, (longer, shorter) in SHEETS.items()
        if any(low - doubt <= one <= high + doubt for one in (longer / shorter, shorter / longer))
    ]
    if off <= 0:
        return Borne(alike=_alike(reference, fits))
    if off <= SIDES_OFF:
        roughly = "The sheet's sides fit what is said only roughly: is it flat, and are its corners right?"
        return Borne(sides_off=off, doubts=(roughly,))
    seen = math.sqrt(low * high)

    def longer(ratio: float) -> str:
        return plainly(round(max(ratio, 1 / ratio), 2))

    raise _refused(
        f"of a sheet with sides as {longer(seen)} to 1, said to be {longer(said)} to 1",
        "the sheet in the photo is the one that is said",
        (
            f"It looks like {' or '.join(fits)}: say so, "
            if 0 < len(fits) <= FEW
            else "Say which sheet it is, "
        )
        + "or set its corners again, its first side first.",
        "another-sheet",
    )


def _alike(reference: Rectangle, fits: list[str]) -> float:
    """The nearest other sheet that fits the photo as well as the one that is said: its area off, relative."""
    said = sorted((reference.first_side_m, reference.second_side_m), reverse=True)
    if not any(np.allclose(said, one, rtol=SAME_SHEET) for one in SHEETS.values()):
        return 0.0
    apart = [abs(SHEETS[name][0] * SHEETS[name][1] / (said[0] * said[1]) - 1) for name in fits]
    return max((one for one in apart if SAME_SHEET < one < TOLD_APART), default=0.0)


def _ratios(corners: Floats, width: int, height: int, square: float) -> tuple[float, float]:
    """Least and greatest second side over first; not a number where no camera sees a rectangle."""
    unit = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    matrix = cv2.getPerspectiveTransform(unit, corners.astype(np.float32)).astype(float)
    longer = max(width, height)
    found = []
    for f in F_OF_SIDE * longer:
        for aside in OFF_CENTRE * longer:
            for down in OFF_CENTRE * longer:
                seen = matrix - np.outer([width / 2 + aside, height / 2 + down, 0], matrix[2])
                seen[2] *= f
                one, two = seen[:, 0], seen[:, 1]
                lengths = np.linalg.norm(one), np.linalg.norm(two)
                if abs(one @ two) <= square * lengths[0] * lengths[1]:
                    found.append(float(lengths[1] / lengths[0]))
    return (min(found), max(found)) if found else (math.nan, math.nan)


def reach_for(image: Image, ring: Floats, least: float = REACH_PX) -> float:
    """How far to look for the edge to either side [px]: past its softness, at least `least`, at most
    REACH_MOST.

    image  BGR, 8 bit;  ring  shape (n, 2) [px]
    Raises nothing. Valid for edges up to about 14 px soft. Source: own.
    """
    reach = float(least)
    while reach < REACH_MOST:
        seen = across(image, ring, reach, 2)
        inside, outside, level = seen.inside, seen.outside, seen.level
        clear = _clear(inside, outside, level)
        if _softness(level[clear] if clear.any() else level, reach) <= SOFT_SHARE * reach:
            break
        reach *= 1.6
    return min(reach, REACH_MOST)


def borne_out(image: Image, ring: Floats, reference_px: Floats | None = None) -> Borne:
    """What the picture says of an outline that was found in it.

    image         BGR, 8 bit
    ring          closed, shape (n, 2) [px], in even steps
    reference_px  the sheet's corners, shape (4, 2) [px]; None for two lengths

    Raises Infeasible where the outline runs along the picture's frame, holds the sheet, or has no edge.
    Source: own.
    """
    height, width = image.shape[:2]
    margin = max(6.0, 0.022 * max(width, height))
    near = (
        (ring[:, 0] < margin)
        | (ring[:, 1] < margin)
        | (ring[:, 0] > width - margin)
        | (ring[:, 1] > height - margin)
    )
    if near.mean() > FRAME_SHARE:
        raise _refused(
            "taken for the void as far as its frame",
            "the whole edge of the void is in the picture",
            "Tap inside the void, not on the wood, and leave a hand's width of wood round it.",
            "frame",
        )
    if reference_px is not None and _inside(reference_px, ring) > OVER_SHEET:
        raise _refused(
            "taken for the void with the sheet in it",
            "the sheet lies beside the void",
            "Tap inside the void, or mark the sheet as outside it.",
            "over-the-sheet",
        )
    reach = reach_for(image, ring)
    seen = across(image, ring, reach, 2)
    inside, outside, level = seen.inside, seen.outside, seen.level
    clear = _clear(inside, outside, level)
    if clear.mean() < CLEAR_LEAST:
        raise _refused(
            f"without an edge along {1 - clear.mean():.0%} of the outline",
            "the void stands out from what is round it",
            "Light it from the side, wet the wood or line the void with tape, or draw the outline by hand.",
            "no-edge",
        )
    blur = _softness(level[clear], reach)
    hidden = _hidden(ring, inside, outside, clear)
    doubts = []
    if blur > 2.5:
        doubts.append(f"The edge is {2 * blur:.0f} pixels soft: hold the camera still, or tap to focus.")
    if hidden > 0:
        doubts.append("Something lies over the edge of the void: move it and take the photo again.")
    if clear.mean() < 0.9:
        doubts.append(f"No edge is seen along {1 - clear.mean():.0%} of the outline: light it from the side.")
    return Borne(blur_px=blur, unclear=float(1 - clear.mean()), hidden_px2=hidden, doubts=tuple(doubts))


def _inside(corners: Floats, ring: Floats) -> float:
    """Share of the sheet that lies in the outline: of a grid over it."""
    u, v = np.meshgrid(np.linspace(0.05, 0.95, 9), np.linspace(0.05, 0.95, 9))
    unit = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    matrix = cv2.getPerspectiveTransform(unit, np.asarray(corners, np.float32))
    grid = cv2.perspectiveTransform(np.stack([u, v], axis=-1).reshape(-1, 1, 2), matrix).reshape(-1, 2)
    closed = ring.astype(np.float32).reshape(-1, 1, 2)
    return float(np.mean([cv2.pointPolygonTest(closed, (float(x), float(y)), False) > 0 for x, y in grid]))


def _clear(inside: Floats, outside: Floats, level: Floats) -> np.ndarray:
    """Where a step of colour is seen: strong enough, and few pixels on its wrong side."""
    third = level.shape[1] // 3
    wrong = ((level[:, :third] > 0.5).mean(axis=1) + (level[:, -third:] < 0.5).mean(axis=1)) / 2
    strong = np.linalg.norm(outside - inside, axis=1) >= STEP_LEAST
    return np.asarray(strong & (wrong < WRONG_SIDE))


def _softness(level: Floats, reach: float) -> float:
    """Deviation of the edge's softness: half of what lies between 16 and 84 % of the mean step [px]."""
    if not len(level):
        return reach
    mean = np.maximum.accumulate(np.median(level, axis=0))
    offsets = np.linspace(-reach, reach, level.shape[1])
    low, high = np.interp([0.16, 0.84], mean, offsets)
    return float(max(high - low, 0.0) / 2)


def _hidden(ring: Floats, inside: Floats, outside: Floats, clear: np.ndarray) -> float:
    """Area behind stretches of the outline beside which another colour lies than beside the rest, outside
    it or
    within [px2].
    """
    light = np.maximum(outside.sum(axis=1), 1.0)
    hue = outside / light[:, None]
    odd = np.linalg.norm(hue - np.median(hue, axis=0), axis=1) > ODD_HUE
    odd |= np.abs(np.log(light / np.median(light))) > ODD_LIGHT
    within = cv2.blur(np.vstack([inside[-4:], inside, inside[:4]]), (1, 9), borderType=cv2.BORDER_REPLICATE)[
        4:-4
    ]
    apart = np.linalg.norm(within - np.median(within, axis=0), axis=1)
    odd |= apart > max(ODD_WITHIN, 6 * float(np.median(apart)))
    odd |= ~clear
    closed = cv2.morphologyEx(
        np.tile(odd, 3).astype(np.uint8).reshape(-1, 1), cv2.MORPH_CLOSE, np.ones((7, 1), np.uint8)
    ).ravel()[len(odd) : 2 * len(odd)]
    if not closed.any() or closed.mean() > ODD_MOST:
        return 0.0
    start = int(np.flatnonzero(closed == 0)[0])
    turned, points = np.roll(closed, -start), np.roll(ring, -start, axis=0)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], turned, [0]])))
    total = 0.0
    for first, last in edges.reshape(-1, 2):
        if last - first >= 6:
            total += abs(signed_area(points[max(first - 2, 0) : last + 2]))
    return total if total > ODD_LEAST * abs(signed_area(ring)) else 0.0
