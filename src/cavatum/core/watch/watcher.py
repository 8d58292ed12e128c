"""Looks at one picture after the other and tells what happened, once."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from typing import cast

import numpy as np
from numpy.typing import NDArray

from .edge import LEAST_PARTS, WetEdge
from .flow import Flow, Moving
from .seen import Kind, Seen
from .spots import SURE, Look, Spot, Spots
from .view import Aligned, Image, Mask, View

FIRST = 5  # pictures that make what everything is compared with
DARK, FLAT = 22.0, 5.0  # grey: a picture without light, or of nothing
MOVED_MM = 4.0  # more than a stand trembles
DAZZLED_FOR_S = 600.0  # where a lamp was mirrored; a brighter picture and a darker one differ there
HAZY = 0.72  # share of the contrast that is left
USUAL, DULLED, DULLED_FOR = 5, 0.965, 4  # pictures; share of their contrast; pictures
COVERED = 0.02  # share of the view: a hand, a sheet of paper
COVERED_FOR = 9  # pictures, until a hand is none
CREPT_MM, OTHER_MM = 0.7, 0.35  # half a pixel and its noise; on the other side
APART_MM = 25.0  # two things
EDGE_LEAVES_MM = 20.0  # from a side whose edge moved: dry wood bared, wood wetted
SURE_BUBBLES, MOST_MARKS, LEAST_ROUND_PX = 3, 40, 7.0
BUBBLES_APART_MM = 40.0  # two places where bubbles rise
FLOWS_FOR, STILL_FOR_S = 2, 120.0  # pictures; seconds without it, of which the comparison takes as many


class Watcher:
    """One piece under one camera.

    corners_px, length_m, width_m, others_px  as View has them

    Raises DomainError as View does. Valid for a camera that stands still, pictures 10 to 60 s apart, a face
    from 0.1 to 1 m at 640 x 480 or finer; what is smaller than a millimetre is not seen. Source: own,
    tried on made-up scenes (`./cavatum speed watch`).
    """

    def __init__(
        self,
        corners_px: NDArray[np.float64],
        length_m: float,
        width_m: float,
        others_px: Sequence[NDArray[np.float64]] = (),
    ) -> None:
        self.view = View(corners_px, length_m, width_m, others_px)
        self._first: list[Image] = []
        self._edge: WetEdge | None = None
        self._spots: Spots | None = None
        self._flow = Flow(self.view)
        self._moving: Moving | None = None  # the last that was
        self._moved_at_s = 0.0
        self._last: deque[Image] = deque(maxlen=FIRST)
        self._dazzled_at_s = np.full(self.view.seen.shape, -math.inf, np.float32)
        self._usual: deque[float] = deque(maxlen=USUAL)
        self._dulled_for = 0
        self._in_a_row: dict[Kind, int] = {}
        self._told: set[Kind] = set()
        self._places: list[tuple[Kind, tuple[float, float]]] = []
        self._edges_moved: set[int] = set()

    def unfollowed(self) -> list[int] | None:
        """Sides whose wet edge is too faint to be followed, index into SIDES; None before the first pictures
        are in. What creeps or drains there is not told. Raises nothing. Exact. Source: own.
        """
        if self._edge is None:
            return None
        count = [sum(part.side == side for part in self._edge.parts) for side in range(4)]
        return [side for side in range(4) if count[side] < LEAST_PARTS]

    def see(self, at_s: float, picture: NDArray[np.uint8]) -> list[Seen]:
        """What this picture tells that no earlier one did; nothing while it is not sure.

        at_s  seconds, never back; picture: [height, width] grey, 0 to 255
        Raises nothing. Valid as the class is. Source: own.
        """
        if picture.mean() < DARK or picture.std() < FLAT:
            return self._once("blind", at_s, 2)
        self._in_a_row["blind"] = 0
        if self._edge is None or self._spots is None:
            self._begin(at_s, picture)
            return []
        aligned = self.view.align(picture, self._spots.known)
        if aligned is None:
            return self._once("covered", at_s, COVERED_FOR)
        told = self._camera(aligned, at_s)
        if aligned.shift_mm > MOVED_MM:
            return told  # seen from elsewhere a face that is not flat is another picture: mark it again
        spoilt = self._spoilt(aligned, at_s)
        if spoilt is not None:
            return told + spoilt
        self._last.append(aligned.even)
        self._dazzled_at_s[aligned.dazzled] = at_s
        if len(self._last) < 3:
            return told
        now = np.median(np.stack(self._last), 0)
        told += self._wet_edge(now, at_s, self._edge)
        told += self._colour(now, at_s)
        if self._flow.can_tell and not self._flow.knows:
            return told  # colour that flows is no spot
        return told + self._new_spots(now, at_s, self._spots, self._edge.band)

    def _spoilt(self, aligned: Aligned, at_s: float) -> list[Seen] | None:
        """What a picture tells that is of no further use; None for all others."""
        if aligned.clearest < HAZY:
            return self._once("smoke", at_s, 2)
        self._in_a_row["smoke"] = 0
        if aligned.cover > COVERED:
            return self._once("covered", at_s, COVERED_FOR)
        self._in_a_row["covered"] = 0
        return [] if self._is_dulled(aligned.contrast) else None

    def _is_dulled(self, contrast: float) -> bool:
        """Less of what does not change is seen than a moment ago: a hand as light as the wood. What stays so
        is how it is from then on.
        """
        usual = float(np.median(self._usual)) if len(self._usual) == USUAL else 0.0
        if contrast >= DULLED * usual:
            self._usual.append(contrast)
            self._dulled_for = 0
            return False
        self._dulled_for += 1
        if self._dulled_for >= DULLED_FOR:
            self._usual.clear()
        return True

    def _begin(self, at_s: float, picture: NDArray[np.uint8]) -> None:
        if not self._first:
            self._first.append(self.view.begin(picture))
            return
        aligned = self.view.align(picture, self._first[0])
        if aligned is None or aligned.cover > COVERED:
            return
        self._first.append(aligned.even)
        if len(self._first) == FIRST:
            median = np.median(np.stack(self._first), 0)
            self._edge, self._spots = WetEdge(self.view, median), Spots(self.view, median)
            self._flow.moving(at_s, median)

    def _once(self, kind: Kind, at_s: float, pictures: int, size_mm: float = 0.0) -> list[Seen]:
        """Told when it is so in that many pictures in a row, and not again."""
        self._in_a_row[kind] = self._in_a_row.get(kind, 0) + 1
        if self._in_a_row[kind] < pictures or kind in self._told:
            return []
        self._told.add(kind)
        return [Seen(kind=kind, at_s=at_s, size_m=size_mm / 1000)]

    def _camera(self, aligned: Aligned, at_s: float) -> list[Seen]:
        if aligned.shift_mm <= MOVED_MM:
            self._in_a_row["moved"] = 0
            return []
        return self._once("moved", at_s, 2, aligned.shift_mm)

    def _wet_edge(self, now: Image, at_s: float, edge: WetEdge) -> list[Seen]:
        out = np.nan_to_num(edge.moved_mm(now))
        self._edges_moved |= {side for side in range(4) if abs(out[side]) > OTHER_MM}
        if not (np.abs(out) > CREPT_MM).any():
            self._in_a_row["creep"] = 0
            return []
        self._in_a_row["creep"] = self._in_a_row.get("creep", 0) + 1
        if self._in_a_row["creep"] < 2 or self._told & {"creep", "leak"}:
            return []
        kind: Kind = "creep" if (out > OTHER_MM).any() else "leak"
        side = int(np.argmax(out) if kind == "creep" else np.argmin(out))
        self._told.add(kind)
        far = float(np.abs(out).max())
        return [
            Seen(
                kind=kind,
                at_s=at_s,
                side=side,
                size_m=far / 1000,
                sure=far > 2 * CREPT_MM,
                marks_px=[self._side_in_picture(side)],
            )
        ]

    def _colour(self, now: Image, at_s: float) -> list[Seen]:
        moving = self._flow.moving(at_s, now)
        if moving is not None and moving.where is not None:
            self._moving, self._moved_at_s = moving, at_s
            return self._once("flows", at_s, FLOWS_FOR, 60 * moving.mm_s)
        self._in_a_row["flows"] = 0
        if moving is None or at_s - self._moved_at_s < STILL_FOR_S:
            return []
        self._moving = None
        return self._once("still", at_s, 1) if "flows" in self._told else []

    def _side_in_picture(self, side: int) -> list[float]:
        long, wide = self.view.length_mm, self.view.width_mm
        ends = [(0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide), (0.0, 0.0)][side : side + 2]
        return [value for end in ends for value in self.view.in_picture(end)]

    def _round(self, spot: Spot) -> list[float]:
        """A circle about it in the picture."""
        x, y = self.view.in_picture(spot.place_mm)
        beside = self.view.in_picture((spot.place_mm[0] + spot.size_mm, spot.place_mm[1]))
        return [x, y, max(LEAST_ROUND_PX, math.hypot(beside[0] - x, beside[1] - y))]

    def _new_spots(self, now: Image, at_s: float, spots: Spots, band: Mask) -> list[Seen]:
        flows = None if self._moving is None else self._moving.where
        dazzled = at_s - self._dazzled_at_s < DAZZLED_FOR_S
        looks = [(one, spots.looks_like(one, now)) for one in spots.new_in(now, band, flows, dazzled)]
        looks = [(one, self._among(one, look, looks)) for one, look in looks]
        told = []
        for spot, look in looks:
            kind = cast(Kind, {"outside": "leak"}.get(look, look))
            if look != "bubble" and not self._is_known(spot, kind):
                self._places.append((kind, spot.place_mm))
                told.append(
                    Seen(
                        kind=kind,
                        at_s=at_s,
                        place_m=_metres(spot),
                        size_m=spot.size_mm / 1000,
                        sure=spot.sigmas > 2 * SURE,
                        marks_px=[self._round(spot)],
                    )
                )
        return told + self._bubbles([one for one, look in looks if look == "bubble"], at_s)

    def _among(self, spot: Spot, look: Look, looks: list[tuple[Spot, Look]]) -> Look:
        """What grows darker where it is rises, unless bubbles are about: then it is some of them together."""
        if look != "darker":
            return look
        places = [one.place_mm for one, other in looks if other == "bubble"]
        places += [place for kind, place in self._places if kind == "bubbles"]
        return "bubble" if any(spot.is_near(place, BUBBLES_APART_MM) for place in places) else "float"

    def _bubbles(self, rising: list[Spot], at_s: float) -> list[Seen]:
        new = [one for one in rising if not self._is_known(one, "bubbles")]
        if not new:
            return []
        middle = tuple(float(value) for value in np.mean([one.place_mm for one in new], 0))
        self._places.append(("bubbles", (middle[0], middle[1])))
        place = middle[0] / 1000, middle[1] / 1000
        return [
            Seen(
                kind="bubbles",
                at_s=at_s,
                place_m=place,
                count=len(new),
                sure=len(new) >= SURE_BUBBLES or max(one.sigmas for one in new) > 2 * SURE,
                marks_px=[self._round(one) for one in new[:MOST_MARKS]],
            )
        ]

    def _is_known(self, spot: Spot, kind: Kind) -> bool:
        """Is it, or is it part of, what was told of that place before?"""
        if kind == "leak" and "leak" in self._told:
            return True
        if self._told & {"creep", "leak"} and self._is_left_by_the_edge(spot):
            return True
        covers = {
            "bubbles": ("bubbles", "landed", "float", "bare"),
            "landed": ("landed", "float", "bubbles", "bare"),
            "float": ("float", "bare", "bubbles"),
        }
        same = covers.get(kind, (kind,))
        return any(
            was in same and spot.is_near(place, BUBBLES_APART_MM if was == "bubbles" else APART_MM)
            for was, place in self._places
        )

    def _is_left_by_the_edge(self, spot: Spot) -> bool:
        """Where a wet edge was, or went."""
        x, y = spot.place_mm
        from_sides = (y, self.view.length_mm - x, self.view.width_mm - y, x)
        return any(from_sides[side] < EDGE_LEAVES_MM for side in self._edges_moved)


def _metres(spot: Spot) -> tuple[float, float]:
    return spot.place_mm[0] / 1000, spot.place_mm[1] / 1000
