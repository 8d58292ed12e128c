"""A sheet's first page as somebody photographs it: askew, dim at one side, stained, blurred, noisy. By
seed."""

from __future__ import annotations

import io
import random

import cv2
import numpy as np
import pypdfium2
from PIL import Image

DPI = 170


def degraded(pdf: bytes, seed: int) -> bytes:
    """A JPEG. One in four lies on its side or stands on its head."""
    rng, noise = random.Random(seed), np.random.default_rng(seed)
    page = pypdfium2.PdfDocument(pdf)[0].render(scale=DPI / 72).to_pil().convert("L")
    picture = np.asarray(page).astype(np.float32)
    picture = _askew(picture, rng)
    picture = picture * rng.uniform(0.7, 0.95) + rng.uniform(5, 25)
    picture = picture * _light(picture.shape, rng)
    for _ in range(rng.randint(0, 2)):
        picture = _stain(picture, rng)
    picture = cv2.GaussianBlur(picture, (0, 0), rng.uniform(0.4, 0.9))
    picture = picture + noise.normal(0, rng.uniform(1.5, 4), picture.shape)
    turned = np.rot90(picture, rng.choice([0, 0, 0, 1, 2, 3]))
    out = io.BytesIO()
    Image.fromarray(np.clip(turned, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=rng.randint(40, 55))
    return out.getvalue()


def _askew(picture: np.ndarray, rng: random.Random) -> np.ndarray:
    high, wide = picture.shape
    corners = np.float32([[0, 0], [wide, 0], [wide, high], [0, high]])
    shift = 0.012 * min(high, wide)
    moved = corners + np.float32([[rng.uniform(-shift, shift) for _ in range(2)] for _ in range(4)])
    turn = cv2.getRotationMatrix2D((wide / 2, high / 2), rng.uniform(-2.5, 2.5), 0.94)
    moved = moved @ turn[:, :2].T.astype(np.float32) + turn[:, 2].astype(np.float32)
    matrix = cv2.getPerspectiveTransform(corners, moved.astype(np.float32))
    return cv2.warpPerspective(picture, matrix, (wide, high), borderValue=120)


def _light(shape: tuple[int, ...], rng: random.Random) -> np.ndarray:
    high, wide = shape
    across, down = np.linspace(-1, 1, wide), np.linspace(-1, 1, high)[:, None]
    return (1 + rng.uniform(-0.2, 0.2) * across + rng.uniform(-0.2, 0.2) * down).astype(np.float32)


def _stain(picture: np.ndarray, rng: random.Random) -> np.ndarray:
    mask = np.zeros(picture.shape, np.float32)
    high, wide = picture.shape
    centre = (int(rng.uniform(0.1, 0.9) * wide), int(rng.uniform(0.1, 0.9) * high))
    cv2.ellipse(
        mask, centre, (rng.randint(40, 140), rng.randint(30, 110)), rng.uniform(0, 180), 0, 360, 1, -1
    )
    return picture * (1 - rng.uniform(0.1, 0.3) * cv2.GaussianBlur(mask, (0, 0), 12))
