"""The piece document: what the person measured and chose. The store, the API and the piece file all hold this
shape.

Voids and coats are filled by portions from the bottom up; a pour later fills one layer of each. Everything
computed is left
out: it is made anew by plan.py. Shapes: shapes.py; parts: piece_parts.py; coats: coats.py; the survey:
survey/findings.py.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Final, Literal

from pydantic import AwareDatetime, Field, field_validator, model_validator

from ..common.errors import DomainError
from ..common.readings import Fraction, Id, Label, Length, Name, SignedAngle
from ..common.working import Data
from ..common.workshop import Workshop
from ..resin.system import System
from .coats import Coat
from .finish_wishes import Finish
from .mending import Mend
from .parts import Form, Inclusion, Portion, Void
from .shapes import Shape
from .shelf_items import ShelfItems
from .survey_findings import Accepted, Survey

__all__ = ["Coat", "Form", "Inclusion", "Level", "Piece", "Portion", "Shape", "Survey", "Void"]
FORMAT: Final = "cavatum-piece"
VERSION: Final = 2  # 1: coats as running totals of film

LayerChoice = Literal["fewest", "coolest", "soonest", "even", "thirds", "volumes", "whole", "own"]


class Level(Data):
    """A two-axis level laid on the piece: pitch positive where the far end is high, roll where the right side
    is high.

    length_m, width_m  between the supports that can be shimmed, along and across
    """

    pitch_deg: SignedAngle
    roll_deg: SignedAngle
    length_m: Length
    width_m: Length


class Cover(Data):
    """What is put over the piece against dust: its size, clean inside."""

    length_m: Length
    width_m: Length


class PourStart(Data):
    """When a later pour is to be mixed: fixed by hand or on the workshop's clock."""

    pour: int = Field(ge=2, le=500)
    at: AwareDatetime


class Piece(Data):
    """One piece. spare_coat: the last coat may have to be made again; decided when it is inspected.
    accepted: rooms that the sheet does not want, taken in words. sealed_with_filling: the first coat is
    laid in one visit with what fills cracks, of the same resin. mend:
    this piece mends another.
    `systems`, `goods` and `workshop` travel only in piece files, so that a file can be planned anywhere."""

    format: Literal["cavatum-piece"] = FORMAT
    version: Literal[1, 2] = VERSION
    name: Name
    for_whom: Label = ""
    kind_of_work: Literal[
        "deep pour",
        "block",
        "small castings",
        "crack or knot",
        "carved pockets",
        "pressure casting",
        "nested mould",
        "flood coat",
        "thin coat",
        "rotator",
        "painted top",
        "turned work",
        "oil or varnish",
        "other",
    ] = "other"
    due: date | None = None
    note: str = Field(default="", max_length=4000)
    tint: str = Field(default="#D39A3C", pattern=r"^#[0-9A-Fa-f]{6}$")
    survey: Survey | None = None
    voids: Annotated[list[Void], Field(max_length=60)] = []
    coats: Annotated[list[Coat], Field(max_length=20)] = []
    level: Level | None = None
    cover: Cover | None = None
    accepted: Annotated[list[Accepted], Field(max_length=12)] = []
    system_id: Id | None = None
    layering: LayerChoice = "fewest"
    reserve: Fraction | None = None
    first_pour_at: AwareDatetime | None = None
    spare_coat: bool = False
    sealed_with_filling: bool = False
    later_mixes: Annotated[list[PourStart], Field(max_length=60)] = []
    finish: Finish | None = None
    mend: Mend | None = None
    systems: Annotated[list[System], Field(max_length=40)] = []
    goods: ShelfItems | None = None
    workshop: Workshop | None = None

    @field_validator("version")
    @classmethod
    def brought_up(cls, version: int) -> int:
        """An older document is read into the shape of today, and says so when it is written."""
        return VERSION

    @model_validator(mode="after")
    def check_ids(self) -> Piece:
        for what, ids in (
            ("void or coat", [one.id for one in (*self.voids, *self.coats)]),
            ("portion", [part.id for one in (*self.voids, *self.coats) for part in one.filling]),
            ("defect", [defect.id for defect in self.survey.defects] if self.survey else []),
            ("inclusion", [thing.id for void in self.voids for thing in void.inclusions]),
        ):
            twice = sorted({one for one in ids if ids.count(one) > 1})
            if twice:
                raise DomainError(
                    argument=f"{what} id",
                    value=", ".join(twice),
                    allowed="each id stands once",
                    way_out="Give each its own id.",
                    code="twice",
                )
        return self
