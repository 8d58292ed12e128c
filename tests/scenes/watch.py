"""A pour as a phone on a stand sees it, made up by seed: a bench, a piece with a wet film on it, a lamp's
glare, noise, jitter, exposure that steps, hands that pass; and what goes wrong in the hour after, with the
moment of each.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np

from cavatum.core.watch.seen import Seen
from cavatum.core.watch.watcher import Watcher

WITHIN_S = 120.0
# A film that creeps away from one side leaves it dry; one that runs over is beside the piece.
FOLLOWS = {"creep": ("creep", "leak"), "leak": ("leak",)}
PX_PER_MM = 2.0  # of the drawing from above
ROUND_MM = 110.0  # of bench shown round the piece
KINDS = ("quiet", "bubbles", "creep", "leak", "landed", "float", "smoke", "moved", "blind", "bare", "flow")


@dataclass(frozen=True, kw_only=True)
class Event:
    """kind; at_s: from when on it has to be told; may_s: from when on it may be, else where the scene's
    trouble begins; side: 0 top, 1 right, 2 bottom, 3 left, of the drawing.
    """

    kind: str
    at_s: float
    may_s: float | None = None
    place_mm: tuple[float, float] | None = None
    side: int | None = None
    count: int = 0


@dataclass
class Scene:
    seed: int
    kind: str = "quiet"
    minutes: float = 40.0
    every_s: float = 20.0
    size: tuple[int, int] = (640, 480)
    beside: bool = False  # a second piece, on which a thing lands and bubbles rise
    events: list[Event] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.rng = np.random.default_rng(self.seed)
        rng = self.rng
        self.length_mm, self.width_mm = rng.uniform(220, 420), rng.uniform(130, 230)
        self.high, self.wide = (
            int((side + 2 * ROUND_MM) * PX_PER_MM) for side in (self.width_mm, self.length_mm)
        )
        self.bench, self.wood = self._wood(rng.uniform(70, 120), 9.0), self._wood(rng.uniform(120, 185), 16.0)
        self.edge_mm = np.array([rng.uniform(3, 9) for _ in range(4)])  # of dry wood round the film
        self.wave = rng.uniform(0, 2 * math.pi, (4, 3))
        self.film = rng.uniform(0.55, 0.8)  # how much of the light a wet place gives back
        self.corners_px = self._corners()
        self.start_s = rng.uniform(0.25, 0.6) * self.minutes * 60
        self.leaf_turn = rng.uniform(0, 180)
        self.side = int(rng.integers(4))
        self.glare = [
            (rng.uniform(0.2, 0.8, 2), rng.uniform(8, 25, 2), rng.uniform(0, 180))
            for _ in range(rng.integers(1, 3))
        ]
        self.knot, self.leaf, self.place = self._clear(), self._clear(), self._clear()
        self._happens()

    def _clear(self) -> np.ndarray:
        """A place where no lamp dazzles."""
        while True:
            place = self.rng.uniform([35, 32], [self.length_mm - 35, self.width_mm - 32])
            if all(
                np.hypot(*(place - where * (self.length_mm, self.width_mm))) > half.max() + 26
                for where, half, _ in self.glare
            ):
                return place

    # what happens

    def _happens(self) -> None:
        rng, start = self.rng, self.start_s
        if self.kind == "bubbles":
            number = int(rng.integers(4, 14))
            self.bubbles = [
                (start + rng.uniform(0, 90), self.knot + rng.normal(0, 9, 2), rng.uniform(0.9, 2.2))
                for _ in range(number)
            ]
            self.events.append(
                Event(kind="bubbles", at_s=start + 90, place_mm=tuple(self.knot), count=number)
            )
        elif self.kind in ("creep", "leak"):
            self.creep_mm, self.creep_s = rng.uniform(2.0, 4.5), rng.uniform(300, 900)
            at = start + self.creep_s / self.creep_mm  # when it is a millimetre
            self.drop = self._outside(self.side)
            self.events.append(Event(kind=self.kind, at_s=at, side=self.side))
        elif self.kind == "landed":
            self.events.append(Event(kind="landed", at_s=start, place_mm=tuple(self.place)))
        elif self.kind == "float":
            self.rise_mm = rng.uniform(3, 7) * np.array([math.cos(a := rng.uniform(0, 6.3)), math.sin(a)])
            self.events.append(Event(kind="float", at_s=start + 120, place_mm=tuple(self.leaf)))
        elif self.kind == "bare":
            self.opens_s = rng.uniform(180, 600)  # until it is as large as it gets
            self.hole_mm = rng.uniform(2.2, 4.5)
            at = start + self.opens_s * 1.8 / self.hole_mm  # when it is 3.6 mm across
            self.events.append(Event(kind="bare", at_s=at, place_mm=tuple(self.place)))
        elif self.kind == "flow":  # until it gels
            self.mm_s = rng.uniform(2, 5) / 60
            self.colour, self.current = self._clouds(5.0), self._current()
            self.events += [Event(kind="flows", at_s=240.0, may_s=0.0), Event(kind="still", at_s=start + 150)]
        elif self.kind in ("smoke", "moved", "blind"):
            self.events.append(Event(kind=self.kind, at_s=start + (60 if self.kind == "smoke" else 0)))

    def may_s(self, event: Event) -> float:
        return self.start_s if event.may_s is None else event.may_s

    def in_picture(self, places_mm: np.ndarray) -> np.ndarray:
        """[n, 2] on the bench, as the camera sees them."""
        long, wide = self.length_mm, self.width_mm
        face = np.array([[0, 0], [long, 0], [long, wide], [0, wide]], np.float32)
        matrix = cv2.getPerspectiveTransform(face, self.corners_px.astype(np.float32))
        return cv2.perspectiveTransform(places_mm[None].astype(np.float32), matrix)[0].astype(np.float64)

    def _outside(self, side: int) -> np.ndarray:
        along = self.rng.uniform(0.25, 0.75)
        return np.array(
            [
                (along * self.length_mm, -9.0),
                (self.length_mm + 9.0, along * self.width_mm),
                (along * self.length_mm, self.width_mm + 9.0),
                (-9.0, along * self.width_mm),
            ][side]
        )

    def _clouds(self, mm: float) -> np.ndarray:
        made = cv2.GaussianBlur(self.rng.normal(0, 1, (self.high, self.wide)), (0, 0), mm * PX_PER_MM)
        return (made / made.std()).astype(np.float32)

    def _current(self) -> tuple[np.ndarray, np.ndarray]:
        """Of a liquid that goes nowhere: along the lines of one height, 1 where it is fastest."""
        down, across = np.gradient(self._clouds(30.0))
        fastest = np.hypot(across, down).max()
        return (down / fastest).astype(np.float32), (-across / fastest).astype(np.float32)

    def _coloured(self, at: float) -> np.ndarray:
        """Pigment in the film, carried along ever slower until it gels; grey."""
        until = min(at, self.start_s)
        far = self.mm_s * (until - until**2 / (2 * self.start_s)) * PX_PER_MM
        y, x = np.mgrid[: self.high, : self.wide].astype(np.float32)
        right, down = self.current
        light = cv2.remap(self.colour, x - far * right, y - far * down, cv2.INTER_LINEAR)
        return 140 + 26 * np.tanh(1.5 * light)

    # what is seen

    def frames(self) -> Iterator[tuple[float, np.ndarray]]:
        """(second, picture in grey) after (second, picture)."""
        rng = np.random.default_rng(self.seed + 7)
        gain, steps = 1.0, rng.uniform(0, self.minutes * 60, 3)
        hands = [
            (at, rng.uniform(20, 60)) for at in rng.uniform(120, self.minutes * 60, int(self.minutes / 10))
        ]
        for number in range(int(self.minutes * 60 / self.every_s)):
            at = number * self.every_s
            if any(at - self.every_s < step <= at for step in steps):
                gain = rng.uniform(0.82, 1.18)
            picture = self._seen(self._drawn(at, rng), at, rng) * gain
            for begins, lasts in hands:
                if begins <= at < begins + lasts:
                    picture = self._hand(picture, rng)
            if self.kind == "blind" and at >= self.start_s:
                picture = picture * 0.04
            picture = picture + rng.normal(0, 2.5, picture.shape)
            jpeg = cv2.imencode(
                ".jpg", np.clip(picture, 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 80]
            )
            yield at, cv2.imdecode(jpeg[1], cv2.IMREAD_GRAYSCALE)

    def _drawn(self, at: float, rng: np.random.Generator) -> np.ndarray:
        """From above, in grey, 0 to 255."""
        px = PX_PER_MM
        y, x = np.mgrid[: self.high, : self.wide].astype(np.float32)
        x, y = x / px - ROUND_MM, y / px - ROUND_MM  # mm from the piece's upper left corner
        canvas = self.bench.copy()
        on_wood = (x > 0) & (x < self.length_mm) & (y > 0) & (y < self.width_mm)
        canvas[on_wood] = self.wood[on_wood]
        shadow = cv2.GaussianBlur(on_wood.astype(np.float32), (0, 0), 6) * (~on_wood)
        canvas *= 1 - 0.5 * shadow
        if self.beside:
            self._second(canvas, x, y, at)
        self._leaf(canvas, at)
        inward = self._edges(x, y, self._moved(at))
        if self.kind == "bare" and at > self.start_s:  # the film draws back from a spot
            radius = min(1.0, (at - self.start_s) / self.opens_s) * self.hole_mm
            inward = np.minimum(inward, np.hypot(x - self.place[0], y - self.place[1]) - radius)
        wet = 1 / (1 + np.exp(-inward / 0.25))
        canvas *= 1 - wet * (1 - self.film)
        if self.kind == "flow":
            canvas += 0.85 * wet * (self._coloured(at) - canvas)
        canvas += 38 * np.exp(-((inward - 0.9) ** 2) / 0.5)  # its rounded edge mirrors the room
        self._things(canvas, at)
        if self.kind == "leak" and at >= self.start_s:
            self._ellipse(canvas, self.drop, 3 + min(9, (at - self.start_s) / 60), 0, -55, blur=1.5)
        for where, half, turn in self.glare:
            centre = where * (self.length_mm, self.width_mm)
            spot = np.zeros_like(canvas)
            self._ellipse(spot, centre, half, turn, 150, blur=9)
            canvas += spot * wet
        if self.kind == "smoke" and at >= self.start_s:
            cloud = cv2.GaussianBlur(rng.normal(0, 1, (self.high // 16, self.wide // 16)), (0, 0), 3)
            cloud = cv2.resize(cloud / (np.abs(cloud).max() + 1e-9), (self.wide, self.high))
            share = np.clip(min(0.5, (at - self.start_s) / 240) * (0.7 + 0.3 * cloud), 0, 0.8)
            canvas = canvas * (1 - share) + 190 * share
        return canvas.astype(np.float32)

    @property
    def other_mm(self) -> np.ndarray:
        left, right, near = self.length_mm + 16.0, self.length_mm + 96.0, 0.8 * self.width_mm
        return np.array([[left, 8.0], [right, 8.0], [right, near], [left, near]])

    def _second(self, canvas: np.ndarray, x: np.ndarray, y: np.ndarray, at: float) -> None:
        (left, far), _, (right, near), _ = self.other_mm
        inward = np.minimum.reduce([x - left, right - x, y - far, near - y])
        canvas[inward > 0] = self.wood[inward > 0]
        wet = 1 / (1 + np.exp(-np.clip((inward - 5) / 0.25, -60, 60)))
        canvas *= 1 - wet * (1 - self.film)
        if at >= self.start_s:
            middle = self.other_mm.mean(0)
            self._ellipse(canvas, middle, (3, 1.5), 20, -90, blur=0.3)
            for number in range(6):
                self._ellipse(canvas, (left + 8, far + 10 + 5 * number), 1.6, 0, -50, blur=0.3)

    def _moved(self, at: float) -> np.ndarray:
        """mm by which the film's edge stands further out on each side."""
        moved = np.zeros(4)
        if self.kind in ("creep", "leak") and at > self.start_s:
            far = min(1.0, (at - self.start_s) / self.creep_s) * self.creep_mm
            if self.kind == "creep":
                moved[self.side], moved[(self.side + 2) % 4] = far, -0.6 * far
            else:
                moved[self.side] = -far
        return moved

    def _edges(self, x: np.ndarray, y: np.ndarray, moved: np.ndarray) -> np.ndarray:
        """mm inside the film's edge."""
        from_sides = (y, self.length_mm - x, self.width_mm - y, x)
        along = (x, y, x, y)
        inward = []
        for side in range(4):
            a, b, c = self.wave[side]
            wavy = (
                0.7 * np.sin(along[side] / 19 + a)
                + 0.5 * np.sin(along[side] / 7.3 + b)
                + 0.2 * np.sin(along[side] / 3 + c)
            )
            inward.append(from_sides[side] - self.edge_mm[side] + moved[side] - wavy)
        return np.minimum.reduce(inward)

    def _leaf(self, canvas: np.ndarray, at: float) -> None:
        place, depth = self.leaf, 0.5
        if self.kind == "float" and at > self.start_s:
            risen = min(1.0, (at - self.start_s) / 240)
            place, depth = place + risen * self.rise_mm, 0.5 + 0.4 * risen
        self._ellipse(canvas, place, (11, 4.5), self.leaf_turn, -70 * depth, blur=1.2)
        self._ellipse(canvas, self.knot, (6, 5), 20, -45, blur=2)

    def _things(self, canvas: np.ndarray, at: float) -> None:
        if self.kind == "bubbles":
            for begins, place, radius in self.bubbles:
                if at >= begins:
                    self._ellipse(canvas, place, radius, 0, -45, blur=0.35)
                    self._ellipse(canvas, place, radius * 0.6, 0, 38, blur=0.3)
                    self._ellipse(canvas, place - 0.3 * radius, 0.35 * radius, 0, 90, blur=0.2)
        if self.kind == "landed" and at >= self.start_s:
            body = self.place + 0.4 * math.sin(at / 50)
            self._ellipse(canvas, body, (2.6, 1.0), 35, -95, blur=0.3)
            self._ellipse(canvas, body + (1.2, 1.2), (2.0, 0.8), 70, -45, blur=0.4)

    @staticmethod
    def _ellipse(canvas, place, half, turn, by, blur) -> None:
        """A spot that much lighter or darker; half axes and blur in mm."""
        half = np.atleast_1d(half) * np.ones(2)
        centre = (np.asarray(place) + ROUND_MM) * PX_PER_MM
        reach = int((half.max() + 3 * blur) * PX_PER_MM) + 2
        left, top = (int(one) - reach for one in centre)
        high, wide = canvas.shape
        x0, y0, x1, y1 = max(left, 0), max(top, 0), min(left + 2 * reach, wide), min(top + 2 * reach, high)
        if x1 <= x0 or y1 <= y0:
            return
        y, x = np.mgrid[y0:y1, x0:x1].astype(np.float32)
        turned = math.radians(turn)
        u = ((x - centre[0]) * math.cos(turned) + (y - centre[1]) * math.sin(turned)) / (half[0] * PX_PER_MM)
        v = (-(x - centre[0]) * math.sin(turned) + (y - centre[1]) * math.cos(turned)) / (half[1] * PX_PER_MM)
        inside = (1 - np.hypot(u, v)) * half.min() / max(blur, 0.05)
        canvas[y0:y1, x0:x1] += by / (1 + np.exp(np.clip(-4 * inside, -60, 60)))

    def _seen(self, canvas: np.ndarray, at: float, rng: np.random.Generator) -> np.ndarray:
        wide, high = self.size
        jitter = rng.normal(0, 0.35, 2) + 0.4 * np.sin(at / 1700 + np.arange(2))
        corners = self.corners_px + jitter
        if self.kind == "moved" and at >= self.start_s:
            corners = corners + (22, -13)
        px = PX_PER_MM
        drawn = np.array(
            [[0, 0], [self.length_mm, 0], [self.length_mm, self.width_mm], [0, self.width_mm]], np.float32
        )
        matrix = cv2.getPerspectiveTransform(
            ((drawn + ROUND_MM) * px).astype(np.float32), corners.astype(np.float32)
        )
        border = cv2.BORDER_REPLICATE if self.beside else cv2.BORDER_REFLECT
        soft = cv2.GaussianBlur(canvas, (0, 0), 0.8)
        seen = cv2.warpPerspective(soft, matrix, (wide, high), flags=cv2.INTER_AREA, borderMode=border)
        slope = 1 + 0.12 * math.sin(at / 5000 + self.seed) * (np.linspace(-1, 1, wide)[None, :])
        return seen * slope

    def _hand(self, picture: np.ndarray, rng: np.random.Generator) -> np.ndarray:
        wide, high = self.size
        mask = np.zeros(picture.shape, np.float32)
        centre = (int(rng.uniform(0.2, 0.8) * wide), int(rng.uniform(0.3, 0.9) * high))
        cv2.ellipse(mask, centre, (wide // 6, high // 4), rng.uniform(0, 180), 0, 360, 1, -1)
        mask = cv2.GaussianBlur(mask, (0, 0), 4)
        return picture * (1 - mask) + rng.uniform(110, 170) * mask

    def _corners(self) -> np.ndarray:
        """Where the piece's corners are seen: from before and above, the far side shorter."""
        rng, (wide, high) = self.rng, self.size
        share = min(0.72 * wide / self.length_mm, 0.62 * high / self.width_mm)
        half = np.array([self.length_mm, self.width_mm]) * share / 2
        near, far = rng.uniform(1.0, 1.06), rng.uniform(0.84, 0.97)
        corners = np.array([[-far, -0.9], [far, -0.9], [near, 0.95], [-near, 0.95]]) * half
        turn = math.radians(rng.uniform(-6, 6))
        if self.beside:
            corners *= 0.72
        spun = corners @ np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
        return (spun + ((0.36 if self.beside else 0.5) * wide, high / 2) + rng.uniform(-8, 8, 2)).astype(
            np.float64
        )

    def _wood(self, light: float, grain: float) -> np.ndarray:
        rng = self.rng
        fine = rng.normal(0, 1, (self.high, max(2, self.wide // 24)))
        fine = cv2.GaussianBlur(
            cv2.resize(fine, (self.wide, self.high), interpolation=cv2.INTER_CUBIC), (0, 0), 1.2
        )
        coarse = cv2.resize(
            rng.normal(0, 1, (self.high // 20 + 2, 4)), (self.wide, self.high), interpolation=cv2.INTER_CUBIC
        )
        return (light + grain * (0.8 * fine + 0.7 * coarse)).astype(np.float32)


@dataclass(kw_only=True)
class Watched:
    """What a watcher told of one scene."""

    scene: Scene
    told: list[Seen] = field(default_factory=list)

    @property
    def found(self) -> bool:
        """Within two minutes of the moment from when on it has to be told; at the place, where it has one."""
        return all(
            any(
                one.kind == event.kind
                and self.scene.may_s(event) <= one.at_s <= event.at_s + WITHIN_S
                and _is_there(event, one)
                for one in self.told
            )
            for event in self.scene.events
        )

    @property
    def false(self) -> list[Seen]:
        """What did not happen; what follows from what did is none."""
        return [
            one
            for one in self.told
            if not any(
                one.kind in FOLLOWS.get(event.kind, (event.kind,)) and one.at_s >= self.scene.may_s(event)
                for event in self.scene.events
            )
        ]


def _is_there(event: Event, one: Seen) -> bool:
    if event.place_mm is None or one.place_m is None:
        return True
    return (
        math.hypot(1000 * one.place_m[0] - event.place_mm[0], 1000 * one.place_m[1] - event.place_mm[1]) < 25
    )


def watched(scene: Scene, others_px: Sequence[np.ndarray] = ()) -> Watched:
    """The whole scene, seen by a watcher that was shown the corners."""
    found = Watched(scene=scene)
    watcher = Watcher(scene.corners_px, scene.length_mm / 1000, scene.width_mm / 1000, others_px)
    for at, picture in scene.frames():
        found.told += watcher.see(at, picture)
    return found


A_SECOND = 3  # pictures of a film, each of which stands for as long as the scene says


def as_film(scene: Scene, path: Path) -> None:
    """YUV4MPEG2, as Chromium's stand-in for a camera plays it, over and over."""
    wide, high = scene.size
    grey = np.full(wide * high // 2, 128, np.uint8).tobytes()
    with path.open("wb") as file:
        file.write(f"YUV4MPEG2 W{wide} H{high} F{A_SECOND}:1 Ip A1:1 C420\n".encode())
        for _, picture in scene.frames():
            file.write(b"FRAME\n" + picture.tobytes() + grey)
