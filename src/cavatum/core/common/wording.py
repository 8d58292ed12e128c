"""Values put into words for verdicts, in the workshop's units and zone. Rounded for reading; figures keep all
digits.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from .plain_numbers import plainly
from .unit_table import INCH_M, OUNCE_KG, POUND_KG, US_FLUID_OUNCE_M3
from .workshop import Workshop

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
ROUNDS_TO_ONE = 0.9995  # three digits of the smaller unit would be a thousand of it
FOOT_M = 12 * INCH_M
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


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
        return f"{plainly(film_m * 1000, 2)} mm ({plainly(mil, 3 if mil >= 100 else 2)} mil)"

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
