"""Coats: what is covered, how thick, and what is on it already. Filled by portions like a void, height being
film.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..common.readings import Area, Fraction, Length, Offset
from ..common.working import Data
from .parts import Filled, Wall
from .shapes import Ring

Edges = Literal["none", "all"]


class Board(Data):
    """A rectangular top. round_ends: how many of its short ends are half circles as wide as the top."""

    kind: Literal["board"] = "board"
    length_m: Length
    width_m: Length
    thickness_m: Length
    round_ends: Literal[0, 1, 2] = 0


class Disc(Data):
    kind: Literal["disc"] = "disc"
    diameter_m: Length
    thickness_m: Length


class Drawn(Data):
    """A top of any outline."""

    kind: Literal["drawn"] = "drawn"
    points_m: Ring
    thickness_m: Length
    points_as_typed: str = Field(default="", max_length=100_000)


class Cup(Data):
    """The outside of a cup or cylinder turned on a rotator; a bare band at the lip stays free for the
    seal.
    """

    kind: Literal["cup"] = "cup"
    top_diameter_m: Length
    bottom_diameter_m: Length
    height_m: Length
    with_base: bool = True
    bare_band_m: Offset | None = None


class Stretch(Data):
    """An area somebody else worked out."""

    kind: Literal["area"] = "area"
    area_m2: Area


Surface = Annotated[Board | Disc | Drawn | Cup | Stretch, Field(discriminator="kind")]


class Notch(Data):
    """A notched spreader: notches of a depth and width, one every pitch."""

    form: Literal["square", "v"] = "square"
    depth_m: Length
    width_m: Length
    pitch_m: Length


class Coat(Filled):
    """film_m: wanted on the faces in all, with what is already there (existing_m). run_off: share that drips
    from
    the edges.
    """

    surface: Surface
    faces: Literal[1, 2] = 1
    edges: Edges = "all"
    film_m: Length
    existing_m: Offset | None = None
    wall: Wall = "wood"
    grain: Literal["not porous", "dense", "open", "end or punky"] = "open"
    run_off: Fraction | None = None
    notch: Notch | None = None
    favourite_rule: Literal[
        "",
        "30 g per 1000 cm²",
        "1 fl oz per ft²",
        "60 g per 1000 cm²",
        "square inches / 70 = fl oz",
        "3 fl oz per ft²",
        "32 ft² per US gallon",
        "self-levels at 1/8 in",
    ] = ""

    @property
    def drips(self) -> Fraction | None:
        return self.run_off

    @property
    def is_coat(self) -> bool:
        return True
