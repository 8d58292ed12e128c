"""The parts of a piece document: what is embedded, what fills a void up to where, the form round it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal, Protocol

from pydantic import Field, model_validator

from ..common.errors import DomainError
from ..common.readings import (
    ArealVolume,
    Density,
    Fraction,
    Id,
    Label,
    Length,
    Mass,
    Name,
    Offset,
    Reading,
    Temperature,
    Volume,
)
from ..common.working import Data
from .shapes import Shape

MadeOf = Literal["wood", "stone", "metal", "glass", "plastic"]
Wall = Literal["wood", "board", "silicone", "plastic", "metal", "glass", "other"]


class Size(Data):
    """A thing by its three greatest measures, as a block, an egg shape (ellipsoid) or a round rod."""

    form: Literal["block", "egg", "rod"] = "block"
    length_m: Length
    width_m: Length
    height_m: Length


class Inclusion(Data):
    """Things embedded between two heights; they displace resin. `count` of them in each hollow.

    The volume of one comes in one of three ways: volume_m3 (stated, or displaced in water by `sample` of them
    together),
    size_m, or mass_kg (of `sample` of them) with the density. made_of: None as long as nobody said; then it
    takes up no heat.
    """

    id: Id
    name: Name
    count: int = Field(default=1, ge=1, le=10_000)
    sample: int = Field(default=1, ge=1, le=10_000)
    volume_m3: Volume | None = None
    size_m: Size | None = None
    mass_kg: Mass | None = None
    density_kg_m3: Density | None = None
    from_m: Offset
    to_m: Length
    held_down: bool = False
    is_hollow: bool = False
    made_of: MadeOf | None = None

    @model_validator(mode="after")
    def check_way(self) -> Inclusion:
        ways = [one for one in (self.volume_m3, self.size_m, self.mass_kg) if one is not None]
        if len(ways) != 1 or (self.mass_kg is not None and self.density_kg_m3 is None):
            raise DomainError(
                argument=self.name,
                value="measured in no way or in several",
                allowed="its volume, its size, or its mass and density are needed",
                way_out="Give one of the three.",
                code="no-volume",
            )
        return self


class Portion(Data):
    """What fills a void up to a height: system and colour. `to_m` None reaches the fill line. recipe_id: the
    colour's recipe on the shelf. pour_c: how warm it is poured; None: as it comes out of the cup.
    """

    id: Id
    system_id: Id | None = None
    colour: Label = ""
    recipe_id: Id | None = None
    to_m: Length | None = None
    pour_c: Temperature | None = None
    boundaries_m: Annotated[list[Length], Field(max_length=60)] | None = None


class Form(Data):
    """The form or dam round a void. dam_m: its height above the rim. None: nobody said yet."""

    dam_m: Offset | None = None
    release: Literal["not said", "tape", "agent", "mould needs none"] = "not said"
    joints_sealed: bool = False
    leak_tested: bool = False


class Around(Data):
    """What the heat meets round a void. None: nobody said yet, and the typical value of that wall is taken
    and listed.

    wall_m   how thick the wall is (the wood beside a river: how wide)
    material_id  a form material of the shelf, in place of the wall kind's typical values
    floor    what lies under the resin, where it is another material than the wall; floor_m: how thick
    covered, fan, shines  what is over it, whether air is driven over it, what shines on it
    under_c  how warm what it stands on is; None: as the room
    spacing_m  how far the cavities of a form with several stand apart, wall to wall; None: they stand alone
    """

    material_id: Id | None = None
    wall_m: Offset | None = None
    floor: Wall | None = None
    floor_m: Offset | None = None
    stands_on: Literal["bench", "raised", "foam", "metal top"] | None = None
    wrapped: bool = False
    covered: Literal["open", "under a cover", "in a box", "blanket on top"] | None = None
    fan: bool = False
    shines: Literal["nothing", "sun", "lamp"] = "nothing"
    under_c: Temperature | None = None
    spacing_m: Offset | None = None


class NamesResin(Protocol):
    """What says which resin, colour and recipe it takes."""

    @property
    def id(self) -> str: ...
    @property
    def system_id(self) -> str | None: ...
    @property
    def recipe_id(self) -> str | None: ...
    @property
    def pour_c(self) -> Temperature | None: ...


class Filled(Data):
    """What portions fill from the bottom up: a void, or a coat as a very flat one. `count` equal ones of
    it.
    """

    id: Id
    name: Name
    count: int = Field(default=1, ge=1, le=10_000)
    wall: Wall
    soak_m3_m2: ArealVolume | None = None

    @property
    def filled_by(self) -> list[Portion]:
        """What fills it, from the bottom up. Raises where a height is not known yet."""
        raise NotImplementedError

    @property
    def filling(self) -> Sequence[NamesResin]:
        """The same as it was typed, heights or not: which resin, colour and recipe each takes."""
        return self.filled_by

    def soaked(self, wetted_m2: float) -> float:
        """What soaks into so much of the touched surface [m3].

            rate x area,   summed over parts that drink otherwise

        wetted_m2  [m2], >= 0
        Raises nothing. Valid as far as the rates are those of this surface. Source: by definition; typical
        rates are
        common practice, no source.
        """
        return self.soak_m3_m2.value * wetted_m2 if self.soak_m3_m2 else 0.0

    @property
    def soak_readings(self) -> list[tuple[str, Reading]]:
        """What soaks in, as it was typed, with its name."""
        return [("soak", self.soak_m3_m2)] if self.soak_m3_m2 else []

    @property
    def embedded(self) -> list[Inclusion]:
        """What is cast in and displaces resin; a coat has nothing of the kind."""
        return []

    @property
    def dam(self) -> Form | None:
        return None

    @property
    def overfill(self) -> Offset | None:
        """What is poured above the rim and sanded off."""
        return None

    @property
    def drips(self) -> Fraction | None:
        """The share that runs off the edges; nothing runs out of a void."""
        return None

    @property
    def is_coat(self) -> bool:
        return False

    @property
    def there(self) -> float:
        """Up to which height [m] cured resin is in it already."""
        return 0.0


class Void(Filled):
    """there_m: height of cured resin that is in it already. turn: 1 is poured first; those of the next
    turn are cut
    and poured once all before them are hard.
    """

    wall: Wall = "other"
    shape: Shape
    form: Form | None = None
    around: Around | None = None
    portions: Annotated[list[Portion], Field(min_length=1, max_length=20)]
    overfill_m: Offset | None = None
    there_m: Length | None = None
    turn: int = Field(default=1, ge=1, le=20)
    inclusions: Annotated[list[Inclusion], Field(max_length=200)] = []

    @property
    def filled_by(self) -> list[Portion]:
        return self.portions

    @property
    def embedded(self) -> list[Inclusion]:
        return self.inclusions

    @property
    def dam(self) -> Form | None:
        return self.form

    @property
    def overfill(self) -> Offset | None:
        return self.overfill_m

    @property
    def there(self) -> float:
        return self.there_m.value if self.there_m else 0.0
