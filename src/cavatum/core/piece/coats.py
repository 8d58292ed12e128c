"""What is covered: its surface, what is on it already, and the coats that are laid on it one after
another. Filled by
portions like a void, height being film.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Area, ArealVolume, Fraction, Label, Length, Offset, Reading
from ..common.working import Data
from .lays import MOST_LAYS, Lay
from .parts import Filled, NamesResin, Portion, Wall
from .shapes import MOST_STATIONS, Ring, Source, Station

Edges = Literal["none", "all"]
EdgeWay = Literal["not said", "runs over", "taped", "domed", "dam"]
EdgeForm = Literal["square", "half-round", "bevelled"]
Spreading = Literal["not said", "flat spreader", "notched spreader", "roller", "hand", "brush"]


class Board(Data):
    """A rectangular top. round_ends: how many of its short ends are half circles as wide as the top."""

    kind: Literal["board"] = "board"
    length_m: Length
    width_m: Length
    thickness_m: Length
    round_ends: Literal[0, 1, 2] = 0


class Disc(Data):
    """thickness_m None: only its face is coated, or it has none worth naming."""

    kind: Literal["disc"] = "disc"
    diameter_m: Length
    thickness_m: Length | None = None


class Drawn(Data):
    """A top of any outline: typed, from a drawing or traced on a photo. area_spread: how far off the
    enclosed area may
    be either way, where it was traced.
    """

    kind: Literal["drawn"] = "drawn"
    points_m: Ring
    holes_m: Annotated[list[Ring], Field(max_length=50)] = []
    thickness_m: Length | None = None
    points_as_typed: str = Field(default="", max_length=100_000)
    area_spread: Fraction | None = None
    source: Source | None = None


class Staked(Data):
    """A slab with natural edges: its width read at stations along it."""

    kind: Literal["stations"] = "stations"
    stations: Annotated[list[Station], Field(min_length=2, max_length=MOST_STATIONS)]
    thickness_m: Length | None = None


class Skin(Data):
    """The outer face of a mesh, of which the parts that look upward can be coated by themselves."""

    kind: Literal["mesh"] = "mesh"
    source: Source
    part: Literal["all of it", "what looks upward"] = "all of it"
    whole_m2: float = Field(gt=0, le=100)
    upward_m2: float = Field(gt=0, le=100)


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


Surface = Annotated[Board | Disc | Drawn | Staked | Cup | Skin | Stretch, Field(discriminator="kind")]


class Notch(Data):
    """A notched spreader: notches of a depth and width, one every pitch."""

    form: Literal["square", "v"] = "square"
    depth_m: Length
    width_m: Length
    pitch_m: Length


class Soaking(Data):
    """A part of the area that drinks otherwise than the rest, such as sapwood in a heartwood top."""

    name: Label = ""
    area_m2: Area
    soak_m3_m2: ArealVolume


class Coat(Filled):
    """One surface with its coats.

    lays      coat by coat, from the first
    edges     coated too, or left bare;  edge_way: what the resin does there;  edge_form, bevel_m: how they
    are cut
    run_off   share that drips from the edges
    soaks     parts of the area that drink otherwise than soak_m3_m2 says
    laid_with what spreads it;  favourite_rule: the rule its maker goes by, to compare with
    """

    surface: Surface
    faces: Literal[1, 2] = 1
    edges: Edges = "all"
    edge_way: EdgeWay = "not said"
    edge_form: EdgeForm = "square"
    bevel_m: Offset | None = None
    lays: Annotated[list[Lay], Field(min_length=1, max_length=MOST_LAYS)]
    existing_m: Offset | None = None
    wall: Wall = "wood"
    grain: Literal["not porous", "dense", "open", "end or punky"] = "open"
    soaks: Annotated[list[Soaking], Field(max_length=10)] = []
    run_off: Fraction | None = None
    laid_with: Spreading = "not said"
    notch: Notch | None = None
    favourite_rule: Label = ""

    @model_validator(mode="before")
    @classmethod
    def read_running_totals(cls, data: Any) -> Any:
        """Documents up to version 1 have a film in all and portions that reach up to heights in it."""
        if not isinstance(data, dict) or "lays" in data or not {"film_m", "portions"} & set(data):
            return data
        return {key: value for key, value in data.items() if key not in ("film_m", "portions")} | {
            "lays": lays_from_totals(data)
        }

    @property
    def film_m(self) -> Length:
        """In all on the faces, with what is there already. Raises where the film of a coat is not worked
        out yet."""
        if len(self.lays) == 1 and self.existing_m is None and self.lays[0].times == 1:
            return _film_of(self.lays[0])
        there = self.existing_m.value if self.existing_m else 0.0
        origins = {_film_of(one).origin for one in self.lays}
        return Length(value=there + self.to_lay_m, origin=origins.pop() if len(origins) == 1 else "computed")

    @property
    def to_lay_m(self) -> float:
        """All coats together, without what is there already."""
        return sum(one.times * _film_of(one).value for one in self.lays)

    @property
    def filled_by(self) -> list[Portion]:
        """Its coats as portions of a very flat void: one for each time that one is laid."""
        found: list[Portion] = []
        height = 0.0
        each = [(one, number) for one in self.lays for number in range(1, one.times + 1)]
        for one, number in each:
            height += _film_of(one).value
            found.append(
                Portion(
                    id=one.id if number == 1 else f"{one.id[:36]}-x{number}",
                    system_id=one.system_id,
                    colour=one.colour,
                    recipe_id=one.recipe_id,
                    pour_c=one.pour_c,
                    to_m=None if len(found) + 1 == len(each) else Length(value=height, origin="computed"),
                )
            )
        return found

    def lay_of(self, portion: Portion) -> Lay:
        """The coat that a portion is one time of."""
        stem = portion.id.rpartition("-x")[0]
        return next(
            (one for one in self.lays if one.id == portion.id),
            next((one for one in self.lays if one.id[:36] == stem), self.lays[-1]),
        )

    @property
    def filling(self) -> Sequence[NamesResin]:
        return self.lays

    def soaked(self, wetted_m2: float) -> float:
        if self.existing_m is not None:  # the resin that is there already has closed the surface
            return 0.0
        apart = sum(one.area_m2.value for one in self.soaks)
        rest = self.soak_m3_m2.value * max(wetted_m2 - apart, 0.0) if self.soak_m3_m2 else 0.0
        return (
            rest + sum(one.area_m2.value * one.soak_m3_m2.value for one in self.soaks)
            if wetted_m2 > 0
            else 0.0
        )

    @property
    def soak_readings(self) -> list[tuple[str, Reading]]:
        of_rest: list[tuple[str, Reading]] = [("soak", self.soak_m3_m2)] if self.soak_m3_m2 else []
        return of_rest + [
            (f"{one.name or 'part'}, {word}", reading)
            for one in self.soaks
            for word, reading in (("area", one.area_m2), ("soak", one.soak_m3_m2))
        ]

    @property
    def drips(self) -> Fraction | None:
        return self.run_off

    @property
    def is_coat(self) -> bool:
        return True


def _film_of(lay: Lay) -> Length:
    if lay.film_m is None:
        said = lay.amount or lay.rule
        raise DomainError(
            argument="film",
            value=f"not known yet from {said.as_typed if said else 'nothing'}",
            allowed="an amount or a rule by weight needs the resin it is of",
            way_out="Choose the resin system.",
            code="film-not-known",
        )
    return lay.film_m


def lays_from_totals(data: dict[str, Any]) -> list[Any]:
    """The coats of a document up to version 1: its film in all, parted at the heights of its portions.

    A height beyond the film in all is kept as it is; a portion that ended below its beginning was never
    laid, and is
    left out. Raises DomainError where the film in all is no more than what is there.
    """
    film = Length.model_validate(data.get("film_m"))
    there = 0.0
    if data.get("existing_m") is not None:
        there = Offset.model_validate(data["existing_m"]).value
    if there >= film.value:
        raise DomainError(
            argument="film",
            value=f"{plainly(film.value * 1000)} mm in all, {plainly(there * 1000)} mm of it there already",
            allowed="more is wanted than there is",
            way_out="Raise the film or correct what is there.",
            code="nothing-to-lay",
        )
    portions = data.get("portions") or []
    lays, reached, to_lay = [], 0.0, film.value - there
    for place, portion in enumerate(portions):
        if not isinstance(portion, dict):
            portion = portion.model_dump()
        top, origin, is_last = to_lay, film.origin, place + 1 == len(portions)
        if portion.get("to_m") is not None and not is_last:
            height = Length.model_validate(portion["to_m"])
            top, origin = height.value, height.origin
        if top <= reached:
            continue  # it ended below where it began: no plan ever laid it
        own: Any = {"value": top - reached, "origin": origin}
        names = ("id", "system_id", "colour", "recipe_id", "pour_c")
        kept = {name: portion[name] for name in names if name in portion}
        lays.append({**kept, "film_m": film if is_whole(len(portions), there) else own})
        reached = top
    return lays


def is_whole(portions: int, there_m: float) -> bool:
    """Whether the film in all is that of its only coat, so that what was typed can be kept."""
    return portions == 1 and there_m == 0.0
