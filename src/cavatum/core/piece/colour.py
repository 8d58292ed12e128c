"""What colours and fills a mix, as it stands on the shelf, and recipes as shares of the clear mix by mass.
Rules 3.1 and 5.6.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..common.errors import DomainError
from ..common.readings import Density, Fraction, Id, Label, Length, Mass, Name
from ..common.working import Data

ColourantKind = Literal[
    "mica powder", "pigment powder", "pigment paste", "liquid dye", "flake", "glitter", "filler", "wood dust"
]


class Colourant(Data):
    """most: the greatest share of the clear mix that its own sheet allows, by mass; drop_kg: one drop, from a
    weighed number of them.
    """

    id: Id
    version: int = Field(default=1, ge=1)
    name: Name
    kind: ColourantKind
    density_kg_m3: Density
    most: Fraction
    size_m: Length | None = None
    thick_m: Length | None = None
    drop_kg: Mass | None = None
    water: Literal["water-free", "water-based", "not said"] = "not said"
    note: str = Field(default="", max_length=1000)


class RecipePart(Data):
    colourant_id: Id
    share: Fraction


class Swatch(Data):
    """A sample of this very recipe: how thick it is and what share of light it lets through (held over a
    printed card, or by a meter).
    """

    depth_m: Length
    lets_through: Fraction | None = None
    photo: str | None = Field(default=None, pattern=r"^[0-9a-f]{64}$")
    lab: tuple[float, float, float] | None = None
    patch_off: float | None = Field(default=None, ge=0)


class Recipe(Data):
    """Shares of the clear mix (A + B) by mass. lots: of each colourant when the recipe was last mixed;
    came_from: the record or the recipes it was made of.
    """

    id: Id
    version: int = Field(default=1, ge=1)
    name: Name
    tint: str = Field(default="#7C8C86", pattern=r"^#[0-9A-Fa-f]{6}$")
    parts: Annotated[list[RecipePart], Field(min_length=1, max_length=20)]
    swatch: Swatch | None = None
    lots: Annotated[dict[str, Label], Field(max_length=20)] = {}
    came_from: Label = ""
    note: str = Field(default="", max_length=1000)

    @model_validator(mode="after")
    def check_parts(self) -> Recipe:
        ids = [part.colourant_id for part in self.parts]
        if len(set(ids)) < len(ids):
            raise DomainError(
                argument="recipe",
                value="with a colourant twice",
                allowed="each stands once",
                way_out="Add their shares.",
                code="twice",
            )
        if not self.total > 0:
            raise DomainError(
                argument="recipe",
                value="without any colourant",
                allowed="at least one share is more than 0",
                way_out="Give a share.",
                code="empty",
            )
        return self

    @property
    def total(self) -> float:
        """All colourants together, as a share of the clear mix."""
        return sum(part.share.value for part in self.parts)


# kind: name, density [kg/m3], most, size [m], thickness [m]. Density and size typical of the class; limits:
# own judgement within the systems' own.
_TYPICAL: list[tuple[str, str, ColourantKind, float, float, float | None, float | None, str]] = [
    ("mica-powder", "Mica powder", "mica powder", 2800, 0.05, 20e-6, 0.5e-6, "water-free"),
    ("pigment-powder", "Pigment powder", "pigment powder", 3500, 0.05, 1e-6, None, "water-free"),
    ("pigment-paste", "Pigment paste", "pigment paste", 1200, 0.06, None, None, "not said"),
    ("liquid-dye", "Liquid dye", "liquid dye", 1000, 0.02, None, None, "not said"),
    ("flake", "Metal flake", "flake", 2700, 0.03, 0.5e-3, 2e-6, "water-free"),
    ("glitter-1", "Polyester glitter, 1 mm", "glitter", 1380, 0.10, 1e-3, 25e-6, "water-free"),
    ("glitter-02", "Polyester glitter, 0.2 mm", "glitter", 1380, 0.10, 0.2e-3, 25e-6, "water-free"),
    ("chalk", "Chalk filler", "filler", 2700, 0.40, 5e-6, None, "not said"),
    ("wood-dust", "Wood dust", "wood dust", 1500, 0.30, 0.1e-3, None, "not said"),
]


def typical_colourants() -> list[Colourant]:
    """Generic kinds to start from, every value marked typical."""

    def told(value: float) -> dict[str, object]:
        return {"value": value, "origin": "typical"}

    return [
        Colourant.model_validate(
            {
                "id": id_,
                "name": name,
                "kind": kind,
                "density_kg_m3": told(density),
                "most": told(most),
                "size_m": told(size) if size else None,
                "thick_m": told(thick) if thick else None,
                "water": water,
            }
        )
        for id_, name, kind, density, most, size, thick, water in _TYPICAL
    ]
