"""What the liquid does to the form: pressure at the floor, force on a wall, freeboard. Rule 2.8."""

from __future__ import annotations

from ..common.unit_table import STANDARD_GRAVITY


def floor_pressure(density_kg_m3: float, depth_m: float) -> float:
    """Hydrostatic pressure [Pa] at the foot of a liquid depth_m deep: rho g h."""
    return density_kg_m3 * STANDARD_GRAVITY * depth_m


def wall_force(density_kg_m3: float, wall_m: float, depth_m: float) -> float:
    """Force [N] on an upright wall wall_m long: rho g b h^2 / 2, acting a third of the depth above its
    foot.
    """
    return density_kg_m3 * STANDARD_GRAVITY * wall_m * depth_m**2 / 2


def gas_volume_left(pressure_bar_gauge: float, ambient_bar: float = 1.01325) -> float:
    """Share of its volume that a bubble keeps under pressure: p1 V1 = p2 V2, absolute, at one temperature
    (Boyle).
    """
    return ambient_bar / (ambient_bar + pressure_bar_gauge)
