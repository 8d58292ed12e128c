"""The mixing ratio by weight and by volume, and the density of the mix. Rules 3.2, 3.3 and 5.2."""

from __future__ import annotations

from dataclasses import dataclass

from ..common.errors import DomainError
from .system import System


@dataclass(frozen=True)
class MixRatio:
    """A to one part of B, by weight and by volume, with the densities [kg/m3] that join them.

        by weight = by volume x rho_A / rho_B;   mixed density = (r + 1) / (r / rho_A + 1 / rho_B), r by
        weight

    Source: mass = density x volume; additive volumes of the parts.
    """

    by_weight: float
    density_a: float
    density_b: float

    @property
    def by_volume(self) -> float:
        return self.by_weight * self.density_b / self.density_a

    @property
    def mixed_density(self) -> float:
        return (self.by_weight + 1) / (self.by_weight / self.density_a + 1 / self.density_b)

    def part_a(self, mass_kg: float) -> float:
        """Mass of A [kg] in a mix of mass_kg."""
        return mass_kg * self.by_weight / (self.by_weight + 1)


def ratio_of(system: System) -> MixRatio:
    """The system's ratio. Raises DomainError when the sheet does not say what it goes by: that stops the
    job.
    """
    rho_a, rho_b = system.density_a_kg_m3.value, system.density_b_kg_m3.value
    if system.basis == "weight":
        return MixRatio(system.ratio.value, rho_a, rho_b)
    if system.basis == "volume":
        return MixRatio(system.ratio.value * rho_a / rho_b, rho_a, rho_b)
    raise DomainError(
        argument="ratio basis",
        value="not given",
        allowed="it is by volume or by weight",
        way_out=f"Set it on the sheet of {system.name}.",
        code="no-basis",
    )


def ratio_error(mass_a_kg: float, mass_b_kg: float, step_kg: float, wanted: float | None = None) -> float:
    """Worst-case relative error of A:B, as a share, from reading both parts to a step: half a step of each,
    the wrong way, on targets that may already be off.

        max((a + s/2) / (b - s/2) / r - 1,  1 - (a - s/2) / (b + s/2) / r)

    mass_a_kg, mass_b_kg  the targets [kg], > 0, b over half a step;  step_kg  of the scale [kg], > 0
    wanted  the ratio r of the sheet, of the same kind; None: that of the targets
    Raises nothing. Exact for one reading each; valid for cup lines too, with volumes in place of masses.
    Source: interval arithmetic.
    """
    half = step_kg / 2
    if half >= mass_b_kg:
        return float("inf")
    ratio = mass_a_kg / mass_b_kg if wanted is None else wanted
    over = (mass_a_kg + half) / (mass_b_kg - half) / ratio - 1
    return max(over, 1 - (mass_a_kg - half) / (mass_b_kg + half) / ratio)
