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
    """Phi [1/Pa] = integral of dt / eta from `from_s` after mixing to gel, at one temperature.

    Marched in steps of at most STEP in conversion, midpoint rule: within 0.1 % of a fine reference.
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
    """Drift [m] of a rigid sphere, or of a bubble with a skin: Phi drho g d^2 / 18 (Stokes 1851); up where
    drho is negative.
    """
    return phi_1_pa * difference_kg_m3 * STANDARD_GRAVITY * diameter_m**2 / 18


def clean_bubble_rise(phi_1_pa: float, density_kg_m3: float, diameter_m: float) -> float:
    """Rise [m] of a bubble with a clean face: Phi rho g d^2 / 12 (Hadamard 1911, Rybczynski 1911)."""
    return phi_1_pa * density_kg_m3 * STANDARD_GRAVITY * diameter_m**2 / 12


def flake_drift(phi_1_pa: float, difference_kg_m3: float, diameter_m: float, thickness_m: float) -> float:
    """Drift [m] of thin flakes lying every way: Phi pi drho g D h / 24. Source: drag of a disc, mean over
    orientations.
    """
    return phi_1_pa * math.pi * difference_kg_m3 * STANDARD_GRAVITY * diameter_m * thickness_m / 24


def smallest_bubble_out(phi_1_pa: float, density_kg_m3: float, depth_m: float) -> float:
    """Diameter [m] of the smallest skinned bubble that clears a depth before gel: sqrt(18 L / (rho g
    Phi)).
    """
    return math.sqrt(18 * depth_m / (density_kg_m3 * STANDARD_GRAVITY * phi_1_pa))
