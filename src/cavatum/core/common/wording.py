"""Values put into words for verdicts, in the workshop's units and zone. Rounded for reading; figures keep all
digits.
"""

from __future__ import annotations

import operator
import re
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypeVar, cast
from zoneinfo import ZoneInfo

from pydantic import BaseModel

from .plain_numbers import plainly
from .unit_table import INCH_M, OUNCE_KG, POUND_KG, STANDARD_GRAVITY, US_FLUID_OUNCE_M3
from .workshop import Workshop

T = TypeVar("T")
DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
ROUNDS_TO_ONE = 0.9995  # three digits of the smaller unit would be a thousand of it
FOOT_M = 12 * INCH_M
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


# A number or a span and its unit, marked in a sentence that is written before anybody knows who reads it.
MARKED = re.compile(r"⟦(?P<low>-?[\d.]+)(?: to (?P<high>-?[\d.]+))? (?P<unit>mm|cm|m|°C|K|g|kg|mL|L|mL/m²)⟧")
TO_US: dict[str, tuple[float, float, str]] = {
    "mm": (1e-3 / INCH_M, 0.0, "in"),
    "cm": (1e-2 / INCH_M, 0.0, "in"),
    "m": (1 / FOOT_M, 0.0, "ft"),
    "°C": (1.8, 32.0, "°F"),
    "K": (1.8, 0.0, "°F"),
    "g": (1e-3 / OUNCE_KG, 0.0, "oz wt"),
    "kg": (1 / POUND_KG, 0.0, "lb"),
    "mL": (1e-6 / US_FLUID_OUNCE_M3, 0.0, "fl oz"),
    "L": (1e-3 / US_FLUID_OUNCE_M3, 0.0, "fl oz"),
}


def _rounded(value: float, unit: str) -> str:
    """As exactly as such an amount is spoken of: whole degrees, two digits of the rest."""
    return f"{value:.0f}" if unit == "°F" else plainly(value, 2)


def rendered(value: T, wording: Wording) -> T:
    """The same, with every marked amount in it in the workshop's units. What has none is handed back as it
    is.
    """
    return cast(T, _rendered(value, wording))


def _rendered(value: object, wording: Wording) -> object:
    if isinstance(value, str):
        return wording.words(value)
    if value is None or isinstance(value, float | int):  # most of what there is
        return value
    if isinstance(value, list | tuple):
        made = [_rendered(one, wording) for one in value]
        same = all(map(operator.is_, value, made))
        return value if same else type(value)(made)
    if isinstance(value, dict):
        other = _changed(value, wording)
        return {**value, **other} if other else value
    if isinstance(value, BaseModel):
        other = _changed(vars(value), wording)
        return value.model_copy(update=other) if other else value
    return value


def _changed(named: dict[Any, object], wording: Wording) -> dict[Any, object]:
    """Those whose words come out differently; all else stays the very object that it was."""
    return {name: said for name, one in named.items() if (said := _rendered(one, wording)) is not one}


MILLIMETRE_M = 1e-3


PSI_PA = POUND_KG * STANDARD_GRAVITY / INCH_M**2


@dataclass(frozen=True)
class Wording:
    workshop: Workshop

    @property
    def _us(self) -> bool:
        return self.workshop.units == "us"

    def length(self, length_m: float) -> str:
        return f"{length_m / INCH_M:.2f} in" if self._us else f"{plainly(length_m * 1000, 3)} mm"

    def film(self, film_m: float) -> str:
        """A film always in both: the trade speaks of mm and of mil."""
        mil = film_m / INCH_M * 1000
        digits = 3 if film_m >= MILLIMETRE_M else 2
        return f"{plainly(film_m * 1000, digits)} mm ({plainly(mil, 3 if mil >= 100 else 2)} mil)"

    def temperature(self, celsius: float) -> str:
        return f"{celsius * 1.8 + 32:.0f} °F" if self._us else f"{plainly(celsius, 3)} °C"

    def difference(self, kelvin: float) -> str:
        """Between two temperatures. Nobody in the trade speaks of kelvin."""
        return f"{plainly(kelvin * 1.8, 2)} °F" if self._us else f"{plainly(kelvin, 2)} °C"

    def temperatures(self, low_c: float, high_c: float) -> str:
        """A span: "22 to 24 °C"."""
        if self._us:
            return f"{low_c * 1.8 + 32:.0f} to {high_c * 1.8 + 32:.0f} °F"
        return f"{plainly(low_c, 3)} to {plainly(high_c, 3)} °C"

    def pressure(self, pascal: float) -> str:
        """Over the surrounding air."""
        return f"{pascal / PSI_PA:.0f} psi" if self._us else f"{plainly(pascal / 1e5, 2)} bar"

    def soak(self, low_m3_m2: float, high_m3_m2: float) -> str:
        """How much a surface drinks, as a span."""
        if self._us:
            ounces = [one / US_FLUID_OUNCE_M3 * FOOT_M**2 for one in (low_m3_m2, high_m3_m2)]
            return f"{plainly(ounces[0], 2)} to {plainly(ounces[1], 2)} fl oz/ft²"
        return f"{plainly(low_m3_m2 * 1e6, 3)} to {plainly(high_m3_m2 * 1e6, 3)} mL/m²"

    def mass(self, mass_kg: float) -> str:
        if self._us:
            return (
                f"{mass_kg / POUND_KG:.2f} lb" if mass_kg >= POUND_KG else f"{mass_kg / OUNCE_KG:.1f} oz wt"
            )
        return f"{mass_kg:.2f} kg" if mass_kg >= ROUNDS_TO_ONE else f"{plainly(mass_kg * 1000, 3)} g"

    def volume(self, volume_m3: float) -> str:
        if self._us:
            return f"{plainly(volume_m3 / US_FLUID_OUNCE_M3, 3)} fl oz"
        litres = volume_m3 * 1000
        return f"{litres:.2f} L" if litres >= ROUNDS_TO_ONE else f"{plainly(litres * 1000, 3)} mL"

    def words(self, text: str) -> str:
        """A sentence with its marked amounts ("⟦15 cm⟧", "⟦22 to 24 °C⟧", "⟦10 K⟧" for a difference) in the
        workshop's units. A metric one is said as it stands, but nobody in the trade speaks of kelvin.
        """
        return MARKED.sub(self._amount, text) if "⟦" in text else text

    def _amount(self, found: re.Match[str]) -> str:
        low, high, unit = found["low"], found["high"], found["unit"]
        numbers = [float(one) for one in (low, high) if one is not None]
        if not self._us:
            return f"{' to '.join(one for one in (low, high) if one)} {unit.replace('K', '°C')}"
        factor, offset, name = TO_US[unit]
        said = [_rounded(number * factor + offset, name) for number in numbers]
        return f"{' to '.join(said)} {name}"

    def density(self, density_kg_m3: float) -> str:
        """The trade weighs in grams a millilitre, in both worlds."""
        return f"{density_kg_m3 / 1000:.2f} g/mL"

    def moment(self, moment: datetime) -> str:
        local = moment.astimezone(ZoneInfo(self.workshop.zone))
        return f"{DAYS[local.weekday()]} {local.day} {MONTHS[local.month - 1]}, {local:%H:%M}"

    def duration(self, seconds: float) -> str:
        if seconds < 5400:
            return f"{seconds / 60:.0f} min"
        hours = seconds / 3600
        return f"{plainly(hours, 3)} h" if hours < 72 else f"{plainly(hours / 24, 3)} days"
