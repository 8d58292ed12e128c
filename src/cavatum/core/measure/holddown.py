"""Things lighter than resin float: how hard they push, and the weight that holds them. Rule 2.6."""

from __future__ import annotations

SAFETY_FACTOR = 1.5  # common practice, no source: 1.5 to 2


def uplift_mass(resin_kg_m3: float, body_kg_m3: float, submerged_m3: float, body_m3: float) -> float:
    """Mass [kg] that just holds a body down; negative when it sinks by itself.

        m = rho_resin V_sub - rho_body V

    resin_kg_m3, body_kg_m3  > 0;  submerged_m3, body_m3  [m3], >= 0
    Raises nothing. Valid for a body wholly in resin of one density. Source: Archimedes, On Floating
    Bodies.
    """
    return resin_kg_m3 * submerged_m3 - body_kg_m3 * body_m3


def floats(resin_kg_m3: float, body_kg_m3: float) -> bool:
    """Whether a body [kg/m3] rises in resin of this density [kg/m3]: the one rule for the plan and for
    Mend.
    """
    return uplift_mass(resin_kg_m3, body_kg_m3, 1.0, 1.0) > 0
