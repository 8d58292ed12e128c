"""The piece document: what the person measured and chose. The store, the API and the piece file all hold this shape.

Voids are filled by portions from the bottom up; a pour later fills one layer of each. Everything computed is left
out: it is made anew by plan.py.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, model_validator

from .errors import DomainError
from .readings import Angle, ArealVolume, Density, Fraction, Id, Label, Length, Name, Offset, Volume
from .resin.system import System
from .working import Data
from .workshop import Workshop

FORMAT = "cavatum-piece"
VERSION = 1
MOST_OUTLINE_POINTS = 3000


class Box(Data):
    kind: Literal["box"] = "box"
    length_m: Length
    width_m: Length
    depth_m: Length


class Cylinder(Data):
    kind: Literal["cylinder"] = "cylinder"
    diameter_m: Length
    depth_m: Length


class Cone(Data):
    """A cup: round, wider or narrower at the rim than at the bottom."""

    kind: Literal["cone"] = "cone"
    top_diameter_m: Length
    bottom_diameter_m: Length
    depth_m: Length


class Bowl(Data):
    """Part of a sphere, open at the rim."""

    kind: Literal["bowl"] = "bowl"
    rim_diameter_m: Length
    depth_m: Length


Point = tuple[float, float]
Ring = Annotated[list[Point], Field(min_length=3, max_length=2000)]


class Outline(Data):
    """Any shape seen from above, drawn at the rim, times depth; with draft the walls lean inwards going down."""

    kind: Literal["outline"] = "outline"
    points_m: Ring
    holes_m: Annotated[list[Ring], Field(max_length=200)] = []
    depth_m: Length
    draft_deg: Angle | None = None
    points_as_typed: str = Field(default="", max_length=100_000)

    @model_validator(mode="after")
    def check_points(self) -> Outline:
        """Offsets of an outline cost time with its points, so all its rings together are bounded."""
        count = len(self.points_m) + sum(len(ring) for ring in self.holes_m)
        if count > MOST_OUTLINE_POINTS:
            raise DomainError("outline", f"{count} points long", f"{MOST_OUTLINE_POINTS} are taken at most, holes included",
                              "Leave out points that lie on a line with their neighbours.", "points")
        return self


Shape = Annotated[Box | Cylinder | Cone | Bowl | Outline, Field(discriminator="kind")]


class Inclusion(Data):
    """Things embedded between two heights; they displace resin. `count` of them, each of `volume_m3`."""

    id: Id
    name: Name
    count: int = Field(default=1, ge=1, le=10_000)
    volume_m3: Volume
    density_kg_m3: Density | None = None
    from_m: Offset
    to_m: Length
    held_down: bool = False


class Portion(Data):
    """What fills a void up to a height: system and colour. `to_m` None reaches the fill line."""

    id: Id
    system_id: Id | None = None
    colour: Label = ""
    to_m: Length | None = None
    boundaries_m: Annotated[list[Length], Field(max_length=60)] | None = None


class Void(Data):
    id: Id
    name: Name
    count: int = Field(default=1, ge=1, le=10_000)
    shape: Shape
    wall: Literal["wood", "board", "silicone", "plastic", "metal", "glass", "other"] = "other"
    soak_m3_m2: ArealVolume | None = None
    overfill_m: Offset | None = None
    inclusions: Annotated[list[Inclusion], Field(max_length=200)] = []
    portions: Annotated[list[Portion], Field(min_length=1, max_length=20)]


LayerChoice = Literal["fewest", "even", "thirds", "own"]


class Piece(Data):
    """One piece. `systems` and `workshop` travel only in piece files, so that a file can be planned anywhere."""

    format: Literal["cavatum-piece"] = FORMAT
    version: Literal[1] = VERSION
    name: Name
    for_whom: Label = ""
    kind_of_work: Literal[
        "deep pour", "block", "small castings", "crack or knot", "carved pockets", "pressure casting", "nested mould",
        "flood coat", "thin coat", "rotator", "painted top", "other",
    ] = "other"
    due: date | None = None
    note: str = Field(default="", max_length=4000)
    tint: str = Field(default="#D39A3C", pattern=r"^#[0-9A-Fa-f]{6}$")
    voids: Annotated[list[Void], Field(max_length=60)] = []
    system_id: Id | None = None
    layering: LayerChoice = "fewest"
    reserve: Fraction | None = None
    first_pour_at: AwareDatetime | None = None
    systems: Annotated[list[System], Field(max_length=40)] = []
    workshop: Workshop | None = None

    @model_validator(mode="after")
    def check_ids(self) -> Piece:
        for what, ids in (
            ("void", [void.id for void in self.voids]),
            ("portion", [portion.id for void in self.voids for portion in void.portions]),
            ("inclusion", [thing.id for void in self.voids for thing in void.inclusions]),
        ):
            twice = sorted({one for one in ids if ids.count(one) > 1})
            if twice:
                raise DomainError(f"{what} id", ", ".join(twice), "each id stands once", "Give each its own id.", "twice")
        return self

