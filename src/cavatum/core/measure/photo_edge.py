"""A closed outline in a picture: which way it runs, and the colours across it. Rule 2.1."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .photo_reference import Floats, Image


@dataclass(frozen=True, kw_only=True)
class Across:
    """At each point of an outline: normal outwards (n, 2), offsets along it (k,) [px], colour inside and
    outside (n, 3), and the level from 0 inside to 1 outside (n, k).
    """

    normal: Floats
    offsets: Floats
    inside: Floats
    outside: Floats
    level: Floats


def signed_area(ring: Floats) -> float:
    """Area of a closed ring, in its points' unit squared; the sign says which way it runs.

        sum of (x_i y_i+1 - x_i+1 y_i) / 2

    ring  shape (n, 2), n >= 3, the last joined to the first [px or m]
    Raises nothing. Exact for a ring that does not cross itself. Source: shoelace formula (Meister 1769).
    """
    x, y = ring[:, 0], ring[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def across(image: Image, ring: Floats, reach: float, smooth: int) -> Across:
    """The picture across an outline.

    image  BGR, 8 bit;  ring  shape (n, 2) [px];  reach  to either side [px], > 0
    smooth  points to either side that the direction is taken over
    Colours inside and outside are means over the outer quarters of the reach. Raises nothing. Valid where the
    outline is wider than the reach. Source: own.
    """
    tangent = np.roll(ring, -smooth, axis=0) - np.roll(ring, smooth, axis=0)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)
    normal = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-9)
    if signed_area(ring) < 0:
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
    strength = np.maximum((axis**2).sum(axis=1), 1e-6)
    level = np.einsum("nkc,nc->nk", colours - inside[:, None, :], axis) / strength[:, None]
    return Across(
        normal=normal,
        offsets=offsets,
        inside=np.asarray(inside),
        outside=np.asarray(outside),
        level=np.asarray(level),
    )
