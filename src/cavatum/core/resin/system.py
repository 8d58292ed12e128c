"""A resin system's sheet. Immutable once stored: a change makes a new version."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..common.readings import (
    Density,
    Duration,
    Fraction,
    Humidity,
    Id,
    Label,
    Length,
    Mass,
    Name,
    Pressure,
    RatioReading,
    Reading,
    SpecificHeat,
    Temperature,
    Viscosity,
)
from ..common.working import Data, Origin, ReadFrom

SHEET_ROOM_C = 23.0  # of a sheet that does not say at which temperature its times hold


class DepthRule(Data):
    """A layer up to `most_depth_m` is allowed while what is poured weighs at most `up_to_kg` (None: any
    mass).
    """

    most_depth_m: Length
    up_to_kg: Mass | None = None


class WorkingTime(Data):
    """How long it can be worked, at which mass and temperature, and what the maker means by it. until_c: of
    the criterion "a temperature".
    """

    time_s: Duration
    mass_kg: Mass
    temperature_c: Temperature
    criterion: Literal["gel", "doubled viscosity", "too thick to pour", "a temperature", "not said"] = (
        "not said"
    )
    until_c: Temperature | None = None


class CureFit(Data):
    """What a measured temperature curve taught of this resin: its rate as a factor on its class's, its heat
    of reaction on the sheet's, with what they came from. top_w_m2k: of fits kept before the workshop's air
    was learned by itself; the workshop's goes before it.
    """

    rate_factor: float = Field(gt=0.02, lt=50)
    heat_factor: float = Field(default=1.0, gt=0.3, lt=3)
    top_w_m2k: float | None = Field(default=None, gt=0.5, lt=60)
    before_k: float = Field(ge=0)
    after_k: float = Field(ge=0)
    points: int = Field(ge=5)
    note: Label = ""


class LearnedPace(Data):
    """So many times as slowly as its sheet says this resin cures here: k1 and k2 are divided by it; with
    its 90 % band and how many runs it
    rests on.
    """

    times: float = Field(gt=0.2, lt=5)
    low: float
    high: float
    runs: int = Field(ge=3)


HazardCode = Annotated[str, Field(pattern=r"^(EUH\d{3}|H[2-4]\d\d)$")]
CuresLike = Literal[
    "thin-sealing-epoxy",
    "coating-epoxy",
    "craft-casting-epoxy",
    "casting-epoxy-25",
    "slow-casting-epoxy",
    "fast-casting-polyurethane",
]


class Kit(Data):
    """A size it is sold in: by volume or by mass of A and B together; price in minor units."""

    amount: float = Field(gt=0, le=1e4)
    by: Literal["volume_m3", "mass_kg"]
    price_minor: int = Field(ge=0, le=100_000_000)
    origin: Origin = "sheet"


def used_minor(kits: Sequence[Kit], mass_kg: float, volume_m3: float) -> tuple[float, Kit] | None:
    """What an amount of the mix is worth [minor units] at the best kit's price by amount, and which kit
    that is; None
    without kits. Both signs: what is short is worth as much.

        price x amount / amount of the kit

    mass_kg, volume_m3  of the same amount
    Raises nothing. Exact for the prices given. Source: the prices on the shelf.
    """
    if not kits:
        return None
    worth = [
        (kit.price_minor * (volume_m3 if kit.by == "volume_m3" else mass_kg) / kit.amount, kit)
        for kit in kits
    ]
    return min(worth, key=lambda one: abs(one[0]))


class System(Data):
    """All times count from pouring, at times_at_c (None: 23 degC). `basis` None stops the job.

    ratio_other    the ratio on the other basis, where the sheet states both: a check, never used to weigh by
    density_mix_kg_m3  as the sheet states it: a check against additive volumes
    times_at_c, viscosity_at_c, density_at_c  the temperatures the sheet gives its times, viscosity and
                                              densities for
    liquid_most    of liquid colourants, where the sheet limits them closer
    other_at_c     a second temperature that the sheet gives times for: the working time of the same batch
                   (other_working_s) and when its layer leaves the form (other_demould_s) there
    more_working   working times that the sheet gives for other batches or temperatures, beside these
    stir_again_s   in a second, clean cup
    first_part     the one the sheet wants first; None: the workshop's school
    shelf_life_s   once opened
    touch_dry_s    where the sheet tells it from tack-free: dust no longer sticks
    chamber_s      least time under pressure; None: until it may be demoulded
    turning_s      how long a coat on something round is turned; None: until it has gelled
    pump_a_kg, pump_b_kg  one stroke of each pump, from a weighed number of them
    times_depth_m  the layer that tack-free, bond window, demould and full cure were measured on
    cures_like     the class whose kinetics stand in for what no sheet tells; None: heat is not computed
    heat_j_kg      heat of reaction, where the maker states it
    peak_wanted_c, peak_never_c  how hot a layer should and must not get; None: the class's
    cure_fit       learned from a measured curve
    name_a, name_b what its maker calls the parts
    hazards        hazard statements of its safety data sheet, by their codes
    read_from      where on a data sheet its values were read, where the program read them
    learned_pace   learned from the runs' tests and curves; a fit of this resin's own curve goes before it
    """

    id: Id
    version: int = Field(default=1, ge=1)
    name: Name
    class_name: Label = ""
    basis: Literal["volume", "weight"] | None = None
    ratio: RatioReading
    density_a_kg_m3: Density
    density_b_kg_m3: Density
    is_filled: bool = False
    ratio_other: RatioReading | None = None
    density_mix_kg_m3: Density | None = None
    density_at_c: Temperature | None = None
    times_at_c: Temperature | None = None
    other_at_c: Temperature | None = None
    other_working_s: Duration | None = None
    other_demould_s: Duration | None = None
    more_working: Annotated[list[WorkingTime], Field(max_length=12)] | None = None
    viscosity_at_c: Temperature | None = None
    stir_again_s: Duration | None = None
    first_part: Literal["A", "B"] | None = None
    pump_a_kg: Mass | None = None
    pump_b_kg: Mass | None = None
    light_use_s: Duration | None = None
    touch_dry_s: Duration | None = None
    chamber_s: Duration | None = None
    turning_s: Duration | None = None
    heat_resistance_c: Temperature | None = None
    shelf_life_s: Duration | None = None
    pressure_from_pa: Pressure | None = None
    pressure_to_pa: Pressure | None = None
    viscosity_pa_s: Viscosity | None = None
    working_time: WorkingTime
    depth_rules: Annotated[list[DepthRule], Field(min_length=1, max_length=10)]
    least_depth_m: Length | None = None
    tack_free_s: Duration
    bond_from_s: Duration
    bond_to_s: Duration
    demould_s: Duration
    full_cure_s: Duration
    stir_s: Duration
    rest_s: Duration
    shrinkage: Fraction
    colourant_most: Fraction
    liquid_most: Fraction | None = None
    room_from_c: Temperature
    room_to_c: Temperature
    room_humidity_most: Humidity
    times_depth_m: Length | None = None
    cures_like: CuresLike | None = None
    heat_j_kg: SpecificHeat | None = None
    peak_wanted_c: Temperature | None = None
    peak_never_c: Temperature | None = None
    pour_from_c: Temperature | None = None
    pour_to_c: Temperature | None = None
    cure_fit: CureFit | None = None
    learned_pace: LearnedPace | None = None
    needs_pressure: bool = False
    note: str = Field(default="", max_length=2000)
    kits: Annotated[list[Kit], Field(max_length=40)] = []
    name_a: Label | None = None
    name_b: Label | None = None
    hazards: Annotated[list[HazardCode], Field(max_length=40)] | None = None
    read_from: Annotated[list[ReadFrom], Field(max_length=120)] | None = None

    @model_validator(mode="after")
    def show_where(self) -> System:
        """Each value that is still what was read on a page knows where: its figures open to that line."""
        for place in self.read_from or ():
            became = read_as(self, place.field)
            if place.value is None or (became and math.isclose(became[0].value, place.value, rel_tol=1e-6)):
                for one in became:
                    one.stands_at(place)
        return self


def read_as(system: System, field: str) -> list[Reading]:
    """The values that one line of a sheet became: a field's own; of a working time its mass and temperature
    too.

    field  a name of System's, of a list with its place: "depth_rules/0"
    Raises nothing; empty where there is none. Exact. Source: definition.
    """
    name, _, number = field.partition("/")
    value = getattr(system, name, None)
    if isinstance(value, list):
        value = value[int(number)] if number.isdecimal() and int(number) < len(value) else None
    if isinstance(value, WorkingTime):
        return [value.time_s, *(one for one in (value.mass_kg, value.temperature_c) if one.origin == "sheet")]
    if isinstance(value, DepthRule):
        return [one for one in (value.most_depth_m, value.up_to_kg) if one is not None]
    return [value] if isinstance(value, Reading) else []


def bond_window_s(system: System) -> tuple[float, float]:
    """From when and until when [s] a layer takes the next fresh, by the sheet.

    A range typed where the window opens is the window itself while nobody touched its end ("recoat 6 to 8
    h");
    else its late end opens, and the early end of the other closes.
    Raises nothing. Exact. Source: how sheets print it, common practice.
    """
    opens, closes = system.bond_from_s, system.bond_to_s
    if opens.spread and opens.origin != "typical" and closes.origin == "typical":
        return opens.early, opens.late
    return opens.late, closes.early


def typical_fields(system: System) -> list[str]:
    """Names of the sheet's values that nobody has confirmed yet."""
    return [name for name, value in system if _holds_typical(value)]


def _holds_typical(value: object) -> bool:
    if isinstance(value, list):
        return any(_holds_typical(one) for one in value)
    if getattr(value, "origin", None) == "typical":
        return True
    return isinstance(value, (WorkingTime, DepthRule)) and any(_holds_typical(inner) for _, inner in value)


def confirmed(system: System) -> System:
    """The same sheet with every typical value taken over by the person as their own sheet's value."""
    return System.model_validate(_relabel(system.model_dump()))


def _relabel(value: object) -> object:
    if isinstance(value, dict):
        changed = {key: _relabel(inner) for key, inner in value.items()}
        return {**changed, "origin": "sheet"} if changed.get("origin") == "typical" else changed
    if isinstance(value, list):
        return [_relabel(inner) for inner in value]
    return value
