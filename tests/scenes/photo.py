"""Photographs of a known outline, rendered: wood, a hollow, a sheet, a pinhole camera, a shadow, blur and
noise,
and all that goes wrong with a photo. Invented data.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely

from cavatum.core.measure.photo import Traced, find_outline, traced
from cavatum.core.measure.photo_doubt import borne_out, both, check_sides
from cavatum.core.measure.photo_reference import Rectangle, on_its_edges

PX_M = 2400  # pixels a metre in the flat scene
SHEETS_M = {
    "A4": (0.297, 0.210),  # ISO 216
    "letter": (0.2794, 0.2159),  # ANSI/ASME Y14.1
    "card": (0.0856, 0.05398),  # ISO/IEC 7810, ID-1
}
CARD_AT_M = (-0.46, -0.30)
KINDS = (
    "plain",
    "blurred",
    "corners off",
    "another sheet",
    "tool over the edge",
    "low contrast",
    "dark",
    "seed on wood",
)


@dataclass(frozen=True, kw_only=True)
class Scene:
    """sheet: what lies there; said: what the person says it is; clicked_px: where they set its corners."""

    image: np.ndarray
    outline_px: np.ndarray
    corners_px: np.ndarray
    area_m2: float
    seed_px: np.ndarray
    sheet: str = "A4"
    said: str = "A4"
    clicked_px: np.ndarray


def blob(rng: np.random.Generator) -> np.ndarray:
    """A natural outline about 300 x 200 mm right of the middle [m]: a few waves on an ellipse, dense enough
    to be smooth.
    """
    t = np.linspace(0, 2 * np.pi, 720, endpoint=False)
    r = 1 + sum(rng.uniform(0.02, 0.09) / k * np.cos(k * t + rng.uniform(0, 6.3)) for k in (2, 3, 4, 5))
    return np.stack([0.17 * r * np.cos(t) + 0.12, 0.12 * r * np.sin(t) + 0.10], axis=1) * rng.uniform(
        0.9, 1.05
    )


def _camera(rng: np.random.Generator, width: int, height: int, must_show: np.ndarray) -> np.ndarray:
    """A pinhole's homography from metres on the board to pixels: tilted up to 20 degrees, turned a little,
    its principal point in the middle, as near as shows all that must be seen.
    """
    f = rng.uniform(0.65, 1.1) * width
    tilt, towards, roll = (
        np.radians(rng.uniform(0, 20)),
        rng.uniform(0, 2 * np.pi),
        np.radians(rng.uniform(-8, 8)),
    )
    axis = np.array([np.cos(towards), np.sin(towards), 0]) * tilt
    turn = cv2.Rodrigues(axis)[0] @ cv2.Rodrigues(np.array([0, 0, roll]))[0]
    away = f / width
    while True:
        lens = np.array([[f, 0, width / 2], [0, f, height / 2], [0, 0, 1]])
        matrix = lens @ np.column_stack([turn[:, 0], turn[:, 1], [0, 0, away]])
        seen = cv2.perspectiveTransform(must_show.reshape(-1, 1, 2), matrix).reshape(-1, 2)
        if (seen > 50).all() and (seen < np.array([width, height]) - 50).all():
            return matrix
        away *= 1.03


def render(
    rng: np.random.Generator, kind: str = "plain", sheet: str = "A4", width: int = 2400, height: int = 1800
) -> Scene:
    """A photo of this kind, with what a person would tap in it: corners about a pixel off, a seed inside."""
    outline = blob(rng)
    sides = np.array(SHEETS_M[sheet])
    card = np.array([[0, 0], [sides[0], 0], sides, [0, sides[1]]]) + np.array(CARD_AT_M)
    flat, to_px = _flat_scene(outline, card, kind, rng)
    metres = _camera(rng, width, height, np.vstack([outline, card]))
    corner, step = to_px(np.zeros((1, 2)))[0], PX_M
    matrix = metres @ np.array(
        [[1 / step, 0, -corner[0] / step], [0, 1 / step, -corner[1] / step], [0, 0, 1]]
    )
    image = cv2.warpPerspective(
        flat, matrix, (width, height), flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE
    ).astype(float)
    image = np.clip(_shadowed(image, rng), 0, 255)
    if kind == "dark":
        image *= rng.uniform(0.05, 0.2)
    blur = rng.uniform(3, 12) if kind == "blurred" else rng.uniform(0.6, 1.1)
    image = cv2.GaussianBlur(image, (0, 0), blur) + rng.normal(0, 4, image.shape)
    coded = cv2.imencode(".jpg", np.clip(image, 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 88])[1]

    def seen_at(points: np.ndarray) -> np.ndarray:
        return cv2.perspectiveTransform(to_px(points).reshape(-1, 1, 2), matrix).reshape(-1, 2)

    x, y = outline.T
    off_px = rng.uniform(5, 40) if kind == "corners off" else 1.0
    seed = np.array([[-0.1, 0.2]] if kind == "seed on wood" else [[0.12, 0.10]])
    corners = seen_at(card)
    return Scene(
        image=cv2.imdecode(coded, cv2.IMREAD_COLOR),
        outline_px=seen_at(outline),
        corners_px=corners,
        area_m2=float(abs((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2),
        seed_px=seen_at(seed),
        sheet=sheet,
        said={"A4": "letter", "letter": "A4", "card": "A4"}[sheet] if kind == "another sheet" else sheet,
        clicked_px=corners + rng.normal(0, off_px, (4, 2)),
    )


def _flat_scene(outline: np.ndarray, card: np.ndarray, kind: str, rng: np.random.Generator):
    """Seen straight from above: light wood with grain, the hollow darker and of another hue, a white card
    beside it.
    """
    wide, high = int(1.0 * PX_M), int(0.75 * PX_M)

    def to_px(points: np.ndarray) -> np.ndarray:
        return np.asarray(points, float) * PX_M + np.array([wide / 2, high / 2]) - 0.5

    wood = np.array([rng.uniform(95, 125), rng.uniform(140, 165), rng.uniform(185, 210)])
    grain = cv2.GaussianBlur(rng.normal(0, 1, (high, wide)), (0, 0), sigmaX=40, sigmaY=1.5)
    flat = wood + (grain / grain.std() * 7)[..., None]
    dark = np.array([rng.uniform(35, 60), rng.uniform(40, 65), rng.uniform(45, 75)])
    if kind == "low contrast":
        dark = wood + (dark - wood) * rng.uniform(0.03, 0.15)
    hollow = dark + cv2.GaussianBlur(rng.normal(0, 30, (high, wide)), (0, 0), 3)[..., None]
    flat = _painted(flat, to_px(outline), hollow)
    if kind == "tool over the edge":
        flat = _painted(flat, to_px(_tool(outline, rng)), np.full_like(flat, 1.0) * rng.uniform(60, 220, 3))
    return _painted(flat, to_px(card), np.full_like(flat, 236.0)), to_px


def _tool(outline: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """A chisel's rectangle over the edge, 15 to 40 mm wide, 20 to 80 mm of it inside."""
    at = rng.integers(len(outline))
    inwards = outline.mean(axis=0) - outline[at]
    inwards /= np.linalg.norm(inwards)
    across = np.array([-inwards[1], inwards[0]]) * rng.uniform(0.015, 0.040) / 2
    tip, back = outline[at] + inwards * rng.uniform(0.02, 0.08), outline[at] - inwards * 0.06
    return np.array([tip - across, tip + across, back + across, back - across])


def _painted(ground: np.ndarray, ring: np.ndarray, paint: np.ndarray) -> np.ndarray:
    """With soft edges: drawn four times as fine and averaged. fillPoly also fills the pixels its line runs
    through, which
    would make everything half a fine pixel larger all round, so the ring is drawn that much smaller."""
    fine = 4
    inner = shapely.buffer(shapely.Polygon((ring + 0.5) * fine - 0.5), -0.5, join_style="mitre")
    mask = np.zeros((ground.shape[0] * fine, ground.shape[1] * fine), np.uint8)
    cv2.fillPoly(mask, [np.round(np.array(inner.exterior.coords) * 16).astype(np.int32)], 255, shift=4)
    share = (cv2.resize(mask, ground.shape[1::-1], interpolation=cv2.INTER_AREA) / 255.0)[..., None]
    return ground * (1 - share) + paint * share


def _shadowed(image: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """A soft straight shadow over part of the picture, and light falling off to one side."""
    height, width = image.shape[:2]
    y, x = np.mgrid[:height, :width]
    angle = rng.uniform(0, 2 * np.pi)
    along = (x - width / 2) * np.cos(angle) + (y - height / 2) * np.sin(angle)
    shade = 1 - rng.uniform(0.15, 0.35) / (
        1 + np.exp(-(along - rng.uniform(-0.2, 0.2) * width) / rng.uniform(15, 60))
    )
    return image * (shade * (1 - rng.uniform(0, 0.12) * x / width))[..., None]


def card_at(corners_px: np.ndarray, said: str = "A4") -> Rectangle:
    """The scene's sheet where somebody tapped its corners, as the size they say it has."""
    first, second = SHEETS_M[said]
    return Rectangle(corners_px=corners_px, first_side_m=first, second_side_m=second)


def read_as_a_person(scene: Scene) -> Traced:
    """Traced as the page does it: the sheet's edges, its sides, a tap inside, and what the picture says of
    it."""
    high, wide = scene.image.shape[:2]
    reference = on_its_edges(scene.image, card_at(scene.clicked_px, scene.said))
    sides = check_sides(reference, wide, high)
    ring = find_outline(scene.image, scene.seed_px)
    seen = borne_out(scene.image, ring, reference.corners_px)
    return traced(ring, reference, borne=both(seen, sides))
