"""What is told of a picture."""

from __future__ import annotations

from typing import Literal

from ..common.working import Data

Kind = Literal[
    "bubbles",
    "creep",
    "leak",
    "landed",
    "float",
    "bare",
    "flows",
    "still",
    "smoke",
    "covered",
    "moved",
    "blind",
]
Side = Literal["far", "right", "near", "left"]
SIDES: tuple[Side, ...] = ("far", "right", "near", "left")  # of the piece, as the camera sees it


class Seen(Data):
    """One thing that happened.

    kind     bubbles: small round spots that rose. creep: the wet edge moves out on one side. leak: it draws
             back, or a wet spot beside the piece. landed: a thing that was not there. float: a thing that was
             there and is elsewhere. bare: the film draws back from a spot. flows, still: its colour moves
             over a wide part of it, and no more. smoke: all is hazy. covered: something lies over it.
             moved, blind: the camera itself
    at_s     moment of the picture that made it sure
    place_m  right and towards the viewer from the piece's far left corner; None where it is all of it
    side     index into SIDES
    size_m   how large, how far the edge moved, or how far colour moves in a minute
    count    of bubbles
    sure     False: twice as near to what noise does as the others, and told because it matters
    marks_px in the picture: circles (x, y, radius) and lines (x, y, x, y)
    """

    kind: Kind
    at_s: float
    place_m: tuple[float, float] | None = None
    side: int | None = None
    size_m: float = 0.0
    count: int = 0
    sure: bool = True
    marks_px: list[list[float]] = []


class Flaw(Data):
    """One spot. raised: dust and grit, brighter on the side of the lamp; dip: crater, pit or dimple, darker
    there; hair: long and thin, either. place_m: right and towards the viewer from the far left corner;
    circle_px: in the photo (x, y, radius).
    """

    kind: Literal["raised", "dip", "hair"]
    place_m: tuple[float, float]
    size_m: float
    circle_px: tuple[float, float, float]
