"""Bubbles that rise and flakes that sink until it gels: drift = Phi x (eta v), Phi the integral of dt /
eta.
"""

from __future__ import annotations

import math
from functools import lru_cache

from ..common.unit_table import STANDARD_GRAVITY
from .kinetics import conversion_rate
from .parameters import Kinetics
from .viscosity import viscosity

STEP = 2e-3  # of conversion, at most, in one step of the march


@lru_cache(maxsize=512)
def mobility(kinetics: Kinetics, temperature_k: float, from_s: float = 0.0) -> float:
    """Phi [1/Pa], what the liquid still lets move, from `from_s` after mixing to gel at one temperature.

        Phi = integral of dt / eta

    temperature_k  [K], 233 to 573;  from_s  [s], >= 0
    Raises DomainError outside (of the rate law). Valid to 0.1 % of a fine reference: marched in steps of
    at most STEP in conversion, midpoint rule. Source: Stokes drift v ~ 1/eta integrated over the
    thickening.
    """
    a, t, total = 0.0, 0.0, 0.0
    while a < kinetics.gel:
        rate = conversion_rate(kinetics, a, temperature_k)
        step = STEP / rate
        middle = a + conversion_rate(kinetics, a, temperature_k) * step / 2
        rate = conversion_rate(kinetics, min(middle, kinetics.gel), temperature_k)
        share = 1.0 if t >= from_s else max(0.0, min(1.0, (t + step - from_s) / step))
        thick = viscosity(kinetics, min(middle, kinetics.gel), temperature_k)
        total += 0.0 if math.isinf(thick) else share * step / thick
        a, t = a + rate * step, t + step
    return total


def sphere_drift(phi_1_pa: float, difference_kg_m3: float, diameter_m: float) -> float:
    """Drift [m] of a rigid sphere, or of a bubble with a skin; up where the difference is negative.

        Phi drho g d^2 / 18

    phi_1_pa  mobility [1/Pa], >= 0;  difference_kg_m3  of body less resin;  diameter_m  [m], > 0
    Raises nothing. Valid for creeping flow, far from walls and from each other. Source: Stokes 1851.
    """
    return phi_1_pa * difference_kg_m3 * STANDARD_GRAVITY * diameter_m**2 / 18


def clean_bubble_rise(phi_1_pa: float, density_kg_m3: float, diameter_m: float) -> float:
    """Rise [m] of a bubble with a clean face.

        Phi rho g d^2 / 12

    phi_1_pa  mobility [1/Pa], >= 0;  density_kg_m3  of the resin, > 0;  diameter_m  [m], > 0
    Raises nothing. Valid for creeping flow and a gas of no weight. Source: Hadamard 1911, Rybczynski 1911.
    """
    return phi_1_pa * density_kg_m3 * STANDARD_GRAVITY * diameter_m**2 / 12


def flake_drift(phi_1_pa: float, difference_kg_m3: float, diameter_m: float, thickness_m: float) -> float:
    """Drift [m] of thin flakes lying every way.

        Phi pi drho g D h / 24

    phi_1_pa  mobility [1/Pa], >= 0;  difference_kg_m3  of flake less resin;  diameter_m  D, thickness_m  h
              [m], > 0
    Raises nothing. Valid for h far below D, in creeping flow. Source: drag of a disc (Lamb), mean over
    orientations.
    """
    return phi_1_pa * math.pi * difference_kg_m3 * STANDARD_GRAVITY * diameter_m * thickness_m / 24


def smallest_bubble_out(phi_1_pa: float, density_kg_m3: float, depth_m: float) -> float:
    """Diameter [m] of the smallest skinned bubble that clears a depth before gel.

        sqrt(18 L / (rho g Phi))

    phi_1_pa  mobility [1/Pa], > 0;  density_kg_m3  > 0;  depth_m  L [m], >= 0
    Raises nothing. Valid as sphere_drift is. Source: Stokes 1851, solved for d.
    """
    return math.sqrt(18 * depth_m / (density_kg_m3 * STANDARD_GRAVITY * phi_1_pa))
