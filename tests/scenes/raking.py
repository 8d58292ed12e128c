"""A glossy face in low side light, made up by seed: a height field with dust, craters and hairs, shaded from
one side, seen at a slant by a phone, with truth for each.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import cv2
import numpy as np

PX = 5.0  # of the face, per mm
TOWARDS = {"far": (0, -1), "right": (1, 0), "near": (0, 1), "left": (-1, 0)}


@dataclass
class Face:
    seed: int
    clean: bool = False
    truth: list[tuple[str, float, float]] = field(default_factory=list)  # kind, mm, mm

    def __post_init__(self) -> None:
        rng = self.rng = np.random.default_rng(self.seed)
        self.length_mm, self.width_mm = rng.uniform(160, 300), rng.uniform(110, 200)
        self.lamp = ("far", "right", "near", "left")[int(rng.integers(4))]
        self.size = (1600, 1200)
        high, wide = int(self.width_mm * PX), int(self.length_mm * PX)
        height = np.zeros((high, wide), np.float32)
        waves = rng.normal(size=(high // 40 + 2, wide // 40 + 2)).astype(np.float32)
        height += 0.05 * cv2.resize(waves, (wide, high), interpolation=cv2.INTER_CUBIC)  # orange peel
        if not self.clean:
            self._lay(height)
        towards = TOWARDS[self.lamp]
        slope_x, slope_y = np.gradient(height, axis=1) * PX, np.gradient(height, axis=0) * PX
        # a side that faces the lamp is brighter: heights rise away from it there
        shade = -(towards[0] * slope_x + towards[1] * slope_y)
        along = (np.arange(wide) / wide - 0.5) * towards[0] + 0
        down = (np.arange(high) / high - 0.5) * towards[1]
        lamp = 1 + 0.35 * (along[None, :] + down[:, None])
        grain = cv2.GaussianBlur(
            rng.normal(size=(high, wide)).astype(np.float32), (0, 0), sigmaX=60, sigmaY=5
        )
        self.wood = rng.uniform(70, 120) * (1 + 0.08 * grain / grain.std())
        face = self.wood * lamp + 90 * np.clip(shade, -1.2, 1.2)
        self.picture = self._photo(face)

    def _lay(self, height: np.ndarray) -> None:
        rng = self.rng
        kinds = ["raised"] * int(rng.integers(2, 8)) + ["dip"] * int(rng.integers(2, 8))
        kinds += ["hair"] * int(rng.integers(0, 3))
        places: list[tuple[float, float]] = []
        while len(places) < len(kinds):
            place = rng.uniform(9, self.length_mm - 9), rng.uniform(9, self.width_mm - 9)
            if all(math.dist(place, other) > 16 for other in places):
                places.append(place)
        y, x = np.mgrid[: height.shape[0], : height.shape[1]] / PX
        for kind, (at, down) in zip(kinds, places, strict=True):
            half = rng.uniform(0.5, 1.6)
            if kind == "hair":
                turn = rng.uniform(0, math.pi)
                # a hair along the light casts none: makers turn the lamp, the scene does not
                if abs(math.cos(turn) * TOWARDS[self.lamp][0] + math.sin(turn) * TOWARDS[self.lamp][1]) > 0.7:
                    turn += math.pi / 2
                u = (x - at) * math.cos(turn) + (y - down) * math.sin(turn)
                v = -(x - at) * math.sin(turn) + (y - down) * math.cos(turn)
                height += 0.22 * np.exp(-((v / 0.35) ** 2)) * (np.abs(u) < rng.uniform(5, 8))
            else:
                far = (x - at) ** 2 + (y - down) ** 2
                height += (1 if kind == "raised" else -1) * 0.35 * half * np.exp(-far / half**2)
            self.truth.append((kind, at, down))

    def _photo(self, face: np.ndarray) -> np.ndarray:
        rng, (wide, high) = self.rng, self.size
        scale = min(0.8 * wide / self.length_mm, 0.8 * high / self.width_mm)
        middle = np.array([wide / 2, high / 2])
        half = np.array([self.length_mm, self.width_mm]) * scale / 2
        square = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
        self.corners_px = middle + square + rng.uniform(-0.04, 0.04, (4, 2)) * half.max()
        flat = np.array([[0, 0], [face.shape[1], 0], face.shape[::-1], [0, face.shape[0]]], np.float32)
        matrix = cv2.getPerspectiveTransform(flat, self.corners_px.astype(np.float32))
        seen = cv2.warpPerspective(face.astype(np.float32), matrix, self.size, borderValue=45.0)
        seen = seen + rng.normal(0, 2.0, seen.shape)
        return np.clip(seen, 0, 255).astype(np.uint8)
