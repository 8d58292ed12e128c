"""The kinds of hollow a person can measure, each as the readings it takes. Never: computing with them (see
measure/).
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Angle, Area, Density, Fraction, Label, Length, Mass, Offset, Volume
from ..common.working import Data

MOST_OUTLINE_POINTS = 3000
MOST_STATIONS = 200
MOST_MESH_ROWS = 400


class Box(Data):
    kind: Literal["box"] = "box"
    length_m: Length
    width_m: Length
    depth_m: Length


class Tapered(Data):
    """Four-sided, its floor smaller or larger than its opening: draft, sloped walls, a V groove (floor width
    0).
    """

    kind: Literal["tapered"] = "tapered"
    length_m: Length
    width_m: Length
    bottom_length_m: Offset
    bottom_width_m: Offset
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


class ProfileRow(Data):
    height_m: Offset
    diameter_m: Offset


class Profile(Data):
    """Turned: round at every height, its diameter read at some of them from the deepest point up."""

    kind: Literal["profile"] = "profile"
    rows: Annotated[list[ProfileRow], Field(min_length=2, max_length=MOST_STATIONS)]


class Crack(Data):
    """A crack by length, width at the face, and depth; v: closes to a line, round: to a rounded root,
    straight: as wide below.
    """

    kind: Literal["crack"] = "crack"
    form: Literal["v", "round", "straight"] = "v"
    length_m: Length
    width_m: Length
    depth_m: Length


class Station(Data):
    """Width of a river at one place along it. `edge_m`: where its near edge runs, for the plan view only."""

    at_m: Offset
    width_m: Offset
    bottom_width_m: Offset | None = None
    edge_m: Offset | None = None


class River(Data):
    """Between two natural edges, its width read at stations along it, at the top and, where the edges slope,
    at the bottom.
    """

    kind: Literal["river"] = "river"
    stations: Annotated[list[Station], Field(min_length=2, max_length=MOST_STATIONS)]
    depth_m: Length


class FillTest(Data):
    """Filled once with water or dry grain and weighed. `density_kg_m3` of grain is in bulk, from a known
    volume weighed.
    """

    kind: Literal["fill test"] = "fill test"
    filled_with: Literal["water", "grain"] = "water"
    mass_kg: Mass
    density_kg_m3: Density
    depth_m: Length
    opening_m2: Area | None = None


class Stated(Data):
    """A volume somebody else worked out: a machine's pocket report, a drawing, a jug."""

    kind: Literal["stated"] = "stated"
    volume_m3: Volume
    depth_m: Length
    opening_m2: Area | None = None
    stated_by: Label = ""


Solid = Annotated[Box | Tapered | Cylinder | Cone | Bowl | Profile, Field(discriminator="kind")]


class Nested(Data):
    """The space between two shapes: an inner mould in an outer one, or a block form minus a body that stands
    in it.

    inner_from_m  height of the inner one's underside over the outer one's floor
    """

    kind: Literal["nested"] = "nested"
    outer: Solid
    inner: Solid
    inner_from_m: Offset
    inner_mass_kg: Mass | None = None
    held_down: bool = False


Point = tuple[float, float]
Ring = Annotated[list[Point], Field(min_length=3, max_length=2000)]
FileHash = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Trace(Data):
    """How a photo was traced, in its working pixels, so that it can be corrected later: the reference's four
    points and sizes
    as typed, and the outline."""

    reference: Literal["rectangle", "lengths"]
    points_px: Annotated[list[Point], Field(min_length=4, max_length=4)]
    outline_px: Annotated[list[Point], Field(min_length=3, max_length=1500)]
    typed: Annotated[dict[str, Annotated[str, Field(max_length=80)]], Field(max_length=8)] = {}


class Source(Data):
    """The file a shape was taken from, by its content, and how it was read (layers, unit, corners) in
    words.
    """

    format: Literal["svg", "dxf", "stl", "obj", "ply", "3mf", "csv", "photo"]
    name: Label
    file: FileHash | None = None
    read_as: Annotated[str, Field(max_length=500)] = ""
    trace: Trace | None = None


class Outline(Data):
    """Any shape seen from above, drawn at the rim, times depth; with draft the walls lean inwards going down.

    area_spread  how far off the enclosed area may be either way, where it was traced
    """

    kind: Literal["outline"] = "outline"
    points_m: Ring
    holes_m: Annotated[list[Ring], Field(max_length=200)] = []
    depth_m: Length
    draft_deg: Angle | None = None
    points_as_typed: str = Field(default="", max_length=100_000)
    area_spread: Fraction | None = None
    source: Source | None = None

    @model_validator(mode="after")
    def check_points(self) -> Outline:
        """Offsets of an outline cost time with its points, so all its rings together are bounded."""
        count = len(self.points_m) + sum(len(ring) for ring in self.holes_m)
        if count > MOST_OUTLINE_POINTS:
            raise DomainError(
                argument="outline",
                value=f"{count} points long",
                allowed=f"{MOST_OUTLINE_POINTS} are taken at most, holes included",
                way_out="Leave out points that lie on a line with their neighbours.",
                code="points",
            )
        return self


class MeshRow(Data):
    """What a mesh gives at one height: open area, volume and wetted surface below it, width of its middle
    cut.
    """

    height_m: float = Field(ge=0, le=10)
    area_m2: float = Field(ge=0, le=100)
    volume_m3: float = Field(ge=0, le=100)
    wetted_m2: float = Field(ge=0, le=1000)


Unit = Literal["mm", "cm", "m", "in"]
Up = Literal["x", "y", "z", "-x", "-y", "-z"]


class Mesh(Data):
    """A hollow read from a mesh file, as area by height. The file itself lies in the store under its hash.

    role  cavity: the mesh is the space to fill; body: it stands in a box form of `form_m`, and the space
          around it is filled
    skin_m2, upward_m2  its faces in all, and those that look upward: what a coat would cover; None: not read
    """

    kind: Literal["mesh"] = "mesh"
    source: Source
    role: Literal["cavity", "body"] = "cavity"
    unit: Unit
    up: Up = "z"
    form_m: tuple[float, float, float] | None = None
    size_m: tuple[float, float]
    rows: Annotated[list[MeshRow], Field(min_length=2, max_length=MOST_MESH_ROWS)]
    rim_m: Ring
    cut_m: Annotated[list[Ring], Field(max_length=100)] = []
    skin_m2: float | None = Field(default=None, gt=0, le=1000)
    upward_m2: float | None = Field(default=None, ge=0, le=1000)

    @model_validator(mode="after")
    def check_rows(self) -> Mesh:
        """Rows made by hand or cut short would give a volume that falls; they are refused, not mended."""
        for low, high in zip(self.rows, self.rows[1:], strict=False):
            if (
                high.height_m <= low.height_m
                or high.volume_m3 < low.volume_m3
                or high.wetted_m2 < low.wetted_m2
            ):
                raise DomainError(
                    argument="mesh",
                    value=f"a table that falls at {plainly(high.height_m * 1000)} mm",
                    allowed="height, volume and surface only grow",
                    way_out="Read the mesh file again.",
                    code="falls",
                )
        if self.rows[0].height_m != 0 or self.rows[0].volume_m3 != 0 or self.rows[-1].volume_m3 <= 0:
            raise DomainError(
                argument="mesh",
                value="a table that does not begin with nothing at its floor",
                allowed="it runs from 0 to the rim",
                way_out="Read the mesh file again.",
                code="falls",
            )
        return self


Shape = Annotated[
    Box
    | Tapered
    | Cylinder
    | Cone
    | Bowl
    | Profile
    | Crack
    | River
    | Outline
    | Nested
    | FillTest
    | Stated
    | Mesh,
    Field(discriminator="kind"),
]
SHAPE_KINDS = (
    "box",
    "tapered",
    "cylinder",
    "cone",
    "bowl",
    "profile",
    "crack",
    "river",
    "outline",
    "nested",
    "fill test",
    "stated",
    "mesh",
)
