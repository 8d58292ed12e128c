"""What goes missing between the hollow and the jug: each allowance a line of its own, never one silent
margin.
"""

from __future__ import annotations

from ..common.readings import ArealVolume, Fraction


def soak_volume(rate: ArealVolume | None, wetted_m2: float) -> float:
    """Resin [m3] that soaks into the touched surface: rate [m3/m2] x area [m2]. None soaks nothing."""
    return rate.value * wetted_m2 if rate else 0.0


def shrinkage_volume(net_m3: float, shrinkage: Fraction) -> float:
    """Liquid [m3] to add so that the cured resin still fills net_m3: V s / (1 - s).

    shrinkage  volumetric, liquid to solid, 0 <= s <= 0.5
    Source: s is by definition 1 - V_solid / V_liquid.
    """
    return net_m3 * shrinkage.value / (1 - shrinkage.value)


def shrinkage_drop(depth_m: float, shrinkage: Fraction) -> float:
    """How far [m] the level drops in a wide straight-walled hollow when all shrinkage goes into depth."""
    return depth_m * shrinkage.value


def batch_with_residue(poured_m3: float, fraction: Fraction, fixed_m3: float) -> float:
    """What to mix [m3] so that poured_m3 leaves the cup when cup and stick keep fraction x batch + fixed_m3.

        batch = (poured + fixed) / (1 - fraction)

    Typical 2 % + 4 mL when poured out and not scraped (common practice, no source).
    """
    return (poured_m3 + fixed_m3) / (1 - fraction.value)
