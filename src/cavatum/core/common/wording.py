"""Values put into words for verdicts, in the workshop's units and zone. Rounded for reading; figures keep all
digits.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from .units import INCH_M, OUNCE_KG, POUND_KG, US_FLUID_OUNCE_M3
from .workshop import Workshop

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class Say:
    workshop: Workshop

    @property
    def _us(self) -> bool:
        return self.workshop.units == "us"

    def length(self, length_m: float) -> str:
        return f"{length_m / INCH_M:.2f} in" if self._us else f"{length_m * 1000:.3g} mm"

    def film(self, film_m: float) -> str:
        """A film always in both: the trade speaks of mm and of mil."""
        return f"{film_m * 1000:.2g} mm ({film_m / INCH_M * 1000:.2g} mil)"

    def temperature(self, celsius: float) -> str:
        return f"{celsius * 1.8 + 32:.0f} °F" if self._us else f"{celsius:.3g} °C"

    def mass(self, mass_kg: float) -> str:
        if self._us:
            return (
                f"{mass_kg / POUND_KG:.2f} lb" if mass_kg >= POUND_KG else f"{mass_kg / OUNCE_KG:.1f} oz wt"
            )
        return f"{mass_kg:.2f} kg" if mass_kg >= 1 else f"{mass_kg * 1000:.3g} g"

    def volume(self, volume_m3: float) -> str:
        if self._us:
            return f"{volume_m3 / US_FLUID_OUNCE_M3:.3g} fl oz"
        return f"{volume_m3 * 1000:.2f} L" if volume_m3 >= 1e-3 else f"{volume_m3 * 1e6:.3g} mL"

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
        return f"{hours:.3g} h" if hours < 72 else f"{hours / 24:.3g} days"
