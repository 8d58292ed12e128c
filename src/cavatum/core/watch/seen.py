"""What is told of a picture."""

from __future__ import annotations

from typing import Literal

from ..common.working import Data

Kind = Literal["bubbles", "creep", "leak", "landed", "float", "smoke", "covered", "moved", "blind"]
SIDES = ("far", "right", "near", "left")  # of the piece, as the camera sees it


class Seen(Data):
    """One thing that happened.

    kind     bubbles: small round spots that rose. creep: the wet edge moves out on one side. leak: it draws
             back, or a wet spot beside the piece. landed: a thing that was not there. float: a thing that was
             there and is elsewhere. smoke: all is hazy. covered: something lies over it. moved, blind: the
             camera itself
    at_s     moment of the picture that made it sure
    place_m  right and towards the viewer from the piece's far left corner; None where it is all of it
    side     index into SIDES
    size_m   how large, or how far the edge moved
    count    of bubbles
    """

    kind: Kind
    at_s: float
    place_m: tuple[float, float] | None = None
    side: int | None = None
    size_m: float = 0.0
    count: int = 0
