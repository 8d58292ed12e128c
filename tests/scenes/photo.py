"""Photographs of a known outline, rendered: wood, a hollow, a card, a tilted camera, a shadow, blur and
noise. Invented data.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely

from cavatum.core.measure.photo_reference import Rectangle

PX_M = 2400  # pixels a metre in the flat scene
CARD_M = (0.297, 0.210)  # an A4 sheet, ISO 216
CARD_AT_M = (-0.46, -0.30)


@dataclass(frozen=True, kw_only=True)
class Scene:
    image: np.ndarray
    outline_px: np.ndarray
    corners_px: np.ndarray
    area_m2: float
    seed_px: np.ndarray


def blob(rng: np.random.Generator) -> np.ndarray:
    """A natural outline about 300 x 200 mm right of the middle [m]: a few waves on an ellipse, dense enough
    to be smooth.
    """
    t = np.linspace(0, 2 * np.pi, 720, endpoint=False)
    r = 1 + sum(rng.uniform(0.02, 0.09) / k * np.cos(k * t + rng.uniform(0, 6.3)) for k in (2, 3, 4, 5))
    return np.stack([0.17 * r * np.cos(t) + 0.12, 0.12 * r * np.sin(t) + 0.10], axis=1) * rng.uniform(
        0.9, 1.05
    )


def render(rng: np.random.Generator, width: int = 2400, height: int = 1800) -> Scene:
    outline = blob(rng)
    flat, to_px = _flat_scene(outline, rng)
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], float)
    spread = 0.10 * np.array([width, height])
    seen = np.float32(
        corners + rng.uniform(0, 1, (4, 2)) * spread * np.array([[1, 1], [-1, 1], [-1, -1], [1, -1]])
    )
    size = np.array(flat.shape[1::-1], float)
    matrix = cv2.getPerspectiveTransform(np.float32([[0, 0], [size[0], 0], size, [0, size[1]]]), seen)
    image = cv2.warpPerspective(
        flat, matrix, (width, height), flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE
    ).astype(float)
    image = np.clip(_shadowed(image, rng), 0, 255)
    image = cv2.GaussianBlur(image, (0, 0), rng.uniform(0.6, 1.1)) + rng.normal(0, 4, image.shape)
    coded = cv2.imencode(".jpg", np.clip(image, 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 88])[1]
    card = np.array([[0, 0], [CARD_M[0], 0], CARD_M, [0, CARD_M[1]]]) + np.array(CARD_AT_M)

    def seen_at(points: np.ndarray) -> np.ndarray:
        return cv2.perspectiveTransform(to_px(points).reshape(-1, 1, 2), matrix).reshape(-1, 2)

    x, y = outline.T
    area = abs((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2
    return Scene(
        image=cv2.imdecode(coded, cv2.IMREAD_COLOR),
        outline_px=seen_at(outline),
        corners_px=seen_at(card),
        area_m2=float(area),
        seed_px=seen_at(np.array([[0.12, 0.10]])),
    )


def _flat_scene(outline: np.ndarray, rng: np.random.Generator):
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
    hollow = dark + cv2.GaussianBlur(rng.normal(0, 30, (high, wide)), (0, 0), 3)[..., None]
    flat = _painted(flat, to_px(outline), hollow)
    card = np.array([[0, 0], [CARD_M[0], 0], CARD_M, [0, CARD_M[1]]]) + np.array(CARD_AT_M)
    return _painted(flat, to_px(card), np.full_like(flat, 236.0)), to_px


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


def card_at(corners_px: np.ndarray) -> Rectangle:
    """The scene's card where somebody clicked its corners."""
    first, second, *_ = CARD_M
    return Rectangle(corners_px=corners_px, first_side_m=first, second_side_m=second)
