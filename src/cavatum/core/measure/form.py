"""What the liquid does to the form: pressure at the floor, force on a wall, freeboard. Rule 2.8."""

from __future__ import annotations

from ..common.unit_table import STANDARD_GRAVITY


def floor_pressure(density_kg_m3: float, depth_m: float) -> float:
    """Hydrostatic pressure [Pa] at the foot of a liquid.

        p = rho g h

    density_kg_m3  > 0;  depth_m  [m], >= 0
    Raises nothing. Exact for one density at rest. Source: hydrostatics (Stevin 1586).
    """
    return density_kg_m3 * STANDARD_GRAVITY * depth_m


def wall_force(density_kg_m3: float, wall_m: float, depth_m: float) -> float:
    """Force [N] of a liquid on an upright wall, acting a third of the depth above its foot.

        F = rho g b h^2 / 2

    density_kg_m3  > 0;  wall_m  length of the wall [m], >= 0;  depth_m  [m], >= 0
    Raises nothing. Exact for a plane wall and one density. Source: the pressure rho g z integrated over
    the depth.
    """
    return density_kg_m3 * STANDARD_GRAVITY * wall_m * depth_m**2 / 2


def gas_volume_left(pressure_bar_gauge: float, ambient_bar: float = 1.01325) -> float:
    """Share of its volume, 0..1, that a bubble keeps under pressure.

        V2 / V1 = p1 / p2,   both absolute

    pressure_bar_gauge  over the room's [bar], >= 0;  ambient_bar  the room's, absolute [bar], > 0
    Raises nothing. Valid for a gas at one temperature that does not dissolve. Source: Boyle 1662.
    """
    return ambient_bar / (ambient_bar + pressure_bar_gauge)
