"""A value with what was typed, where it came from, and the bounds of sense for its place.

In a document a reading is {"as_typed": "3/16 in", "value": 0.0047625, "origin": "measured"}; `value` may be
left
out and is then read from `as_typed`; where both stand they must agree.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar

from pydantic import BeforeValidator, Field, PrivateAttr, model_validator

from . import units
from .errors import DomainError
from .plain_numbers import plainly
from .working import Data, Input, Origin, Quantity, ReadFrom

AGREEMENT = 1e-6  # relative; a value written with seven digits still agrees with its text


class Reading(Data):
    kind: ClassVar[str]
    quantity: ClassVar[Quantity]
    least: ClassVar[float] = -math.inf
    most: ClassVar[float] = math.inf
    above_least: ClassVar[bool] = False
    bounds: ClassVar[str] = ""

    value: float
    as_typed: str = Field(default="", max_length=units.LONGEST_TEXT + 20)
    origin: Origin = "measured"
    spread: float | None = Field(default=None, gt=0)
    _read_from: ReadFrom | None = PrivateAttr(default=None)

    @model_validator(mode="before")
    @classmethod
    def read_text(cls, data: Any) -> Any:
        if isinstance(data, str):
            data = {"as_typed": data}
        if isinstance(data, dict) and data.get("value") is None and isinstance(data.get("as_typed"), str):
            understood = units.parse(data["as_typed"], cls.kind)
            spread = {} if understood.spread is None else {"spread": understood.spread}
            return {**data, "value": understood.value, "as_typed": understood.as_typed, **spread}
        if (
            isinstance(data, dict)
            and data.get("spread") is None
            and isinstance(data.get("as_typed"), str)
            and units.has_spread(data["as_typed"])
        ):
            return {**data, "spread": units.parse(data["as_typed"], cls.kind).spread}
        return data

    @model_validator(mode="after")
    def check(self) -> Reading:
        too_small = self.value < self.least or (self.above_least and self.value <= self.least)
        if too_small or self.value > self.most:
            shown = self.as_typed or f"{plainly(self.value)} (SI)"
            raise DomainError(
                argument=self.kind.replace("_", " "),
                value=shown,
                allowed=self.bounds,
                way_out="Check the number and its unit.",
            )
        if self.as_typed:
            meant = units.parse(self.as_typed, self.kind).value
            if not math.isclose(meant, self.value, rel_tol=AGREEMENT, abs_tol=1e-12):
                raise DomainError(
                    argument=self.kind.replace("_", " "),
                    value=f'"{self.as_typed}" beside {plainly(self.value)} (SI)',
                    allowed="what was typed and the value must agree",
                    way_out="Leave out one of the two.",
                    code="disagrees",
                )
        return self

    @property
    def early(self) -> float:
        """The lower end of what was said: of a range, or of a value with its spread."""
        return self.value - (self.spread or 0.0)

    @property
    def late(self) -> float:
        """The upper end of what was said."""
        return self.value + (self.spread or 0.0)

    def stands_at(self, place: ReadFrom) -> None:
        """Remembers the line it was read on."""
        self._read_from = place

    def as_input(self, name: str) -> Input:
        return Input(
            name=name,
            value=self.value,
            quantity=self.quantity,
            origin=self.origin,
            as_typed=self.as_typed,
            read_from=self._read_from,
        )


class Area(Reading):
    kind, quantity = "area", "area"
    least, most, above_least = 0.0, 100.0, True
    bounds = "it must be more than 0 and at most 100 m²"


class Length(Reading):
    """More than nothing, at most 10 m: a mould beyond that is a slip of the unit."""

    kind, quantity = "length", "length"
    least, most, above_least = 0.0, 10.0, True
    bounds = "it must be more than 0 and at most 10 m"


class Offset(Reading):
    """A height or an allowance that may be 0."""

    kind, quantity = "length", "length"
    least, most = 0.0, 10.0
    bounds = "it must be between 0 and 10 m"


class Volume(Reading):
    kind, quantity = "volume", "volume"
    least, most, above_least = 0.0, 10.0, True
    bounds = "it must be more than 0 and at most 10 m³"


class Mass(Reading):
    kind, quantity = "mass", "mass"
    least, most, above_least = 0.0, 10_000.0, True
    bounds = "it must be more than 0 and at most 10 t"


class Density(Reading):
    """From cork and dry seed heads to lead."""

    kind, quantity = "density", "density"
    least, most = 50.0, 12_000.0
    bounds = "it must be between 0.05 and 12 g/mL"


class Duration(Reading):
    kind, quantity = "duration", "duration"
    least, most = 0.0, 366 * 86400.0
    bounds = "it must be between 0 and a year"


class Fraction(Reading):
    kind, quantity = "fraction", "fraction"
    least, most = 0.0, 0.5
    bounds = "it must be between 0 and 50 %"


class Humidity(Reading):
    kind, quantity = "fraction", "fraction"
    least, most, above_least = 0.0, 1.0, True
    bounds = "it must be more than 0 and at most 100 %"


class RatioReading(Reading):
    kind, quantity = "ratio", "ratio"
    least, most = 0.01, 100.0
    bounds = "it must be between 1:100 and 100:1"


class Temperature(Reading):
    kind, quantity = "temperature", "temperature"
    least, most = -40.0, 250.0
    bounds = "it must be between -40 and 250 degC"


class ArealVolume(Reading):
    kind, quantity = "areal_volume", "areal_volume"
    least, most = 0.0, 5e-3
    bounds = "it must be between 0 and 5000 mL/m²"


class Angle(Reading):
    kind, quantity = "angle", "angle"
    least, most = 0.0, 60.0
    bounds = "it must be between 0 and 60 degrees"


class SignedAngle(Reading):
    """A tilt: positive where the far or the right side is high."""

    kind, quantity = "angle", "angle"
    least, most = -45.0, 45.0
    bounds = "it must be between -45 and 45 degrees"


class Viscosity(Reading):
    """From thin sealers to thick gels."""

    kind, quantity = "viscosity", "viscosity"
    least, most, above_least = 0.0, 1000.0, True
    bounds = "it must be more than 0 and at most 1000 Pa s"


class Pressure(Reading):
    """Gauge pressure of a chamber [Pa]."""

    kind, quantity = "pressure", "pressure"
    least, most = 0.0, 1e6
    bounds = "it must be between 0 and 10 bar gauge"


class Conductivity(Reading):
    """From foams to aluminium [W/(m K)]."""

    kind, quantity = "conductivity", "conductivity"
    least, most = 0.01, 450.0
    bounds = "it must be between 0.01 and 450 W/(m K)"


class HeatCapacity(Reading):
    """Of solids [J/(kg K)]."""

    kind, quantity = "heat_capacity", "heat_capacity"
    least, most = 100.0, 5000.0
    bounds = "it must be between 100 and 5000 J/(kg K)"


class SpecificHeat(Reading):
    """Heat of reaction of a mix [J/kg]: from filled slow resins to fast concentrated ones."""

    kind, quantity = "heat", "heat"
    least, most = 50e3, 600e3
    bounds = "it must be between 50 and 600 kJ/kg"


Id = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]


def _one_line(value: object) -> object:
    if isinstance(value, str):
        return " ".join(value.split())
    return value


Name = Annotated[str, BeforeValidator(_one_line), Field(min_length=1, max_length=120)]
Label = Annotated[str, BeforeValidator(_one_line), Field(max_length=120)]
