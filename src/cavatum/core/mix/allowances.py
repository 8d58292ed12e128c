"""What goes missing between the hollow and the jug: each allowance a line of its own, never one silent
margin.
"""

from __future__ import annotations

from ..common.readings import Fraction


def shrinkage_volume(net_m3: float, shrinkage: Fraction) -> float:
    """Liquid [m3] to add so that the cured resin still fills the void.

        V s / (1 - s)

    net_m3  [m3], >= 0;  shrinkage  volumetric, liquid to solid, 0 <= s <= 0.5
    Raises nothing: the document refuses other shares. Exact. Source: s is by definition 1 - V_solid /
    V_liquid.
    """
    return net_m3 * shrinkage.value / (1 - shrinkage.value)


def batch_with_residue(poured_m3: float, fraction: float, fixed_m3: float) -> float:
    """What to mix [m3] so that `poured_m3` leaves the cup when cup and stick keep their part.

        batch = (poured + fixed) / (1 - fraction)

    poured_m3  [m3], >= 0;  fraction  of the batch, 0 <= f < 1;  fixed_m3  [m3], >= 0
    Raises nothing. Exact for the two parts told. Source: volume balance; typical 2 % + 4 mL when poured
    out and not scraped is common practice, no source.
    """
    return (poured_m3 + fixed_m3) / (1 - fraction)
