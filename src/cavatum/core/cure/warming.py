"""How warm a cure that stopped short has to be kept, and for how long, to go on. Rules 4.2, 8.6."""

from __future__ import annotations

import numpy as np

from .kinetics import conversion_rate
from .parameters import Kinetics

POINTS = 201
WITHIN_S = 48 * 3600.0  # own judgement: a warm room or box is kept for two days at most
WARMEST_K = 353.15  # own judgement: 80 degC; hotter is post-curing by the sheet's own programme


def time_between(kinetics: Kinetics, from_a: float, to_a: float, temperature_k: float) -> float:
    """Time [s] from one conversion to a higher one at one temperature, with the slowing towards the glass.

        t = integral from a1 to a2 of da / rate(a, T)

    from_a, to_a  conversions, 0 <= from_a <= to_a < 1;  temperature_k  233 to 573 K
    Raises DomainError outside (by the rate law). Valid within 1 % where the time is under a month: trapezoids
    on 201 points. Source: separation of variables.
    """
    if to_a <= from_a:
        return 0.0
    a = np.linspace(from_a, to_a, POINTS)
    inverse = np.array([1 / max(conversion_rate(kinetics, float(one), temperature_k), 1e-30) for one in a])
    return float(np.trapezoid(inverse, a))


def warmth_for(kinetics: Kinetics, from_a: float, to_a: float, from_k: float) -> tuple[float, float] | None:
    """The lowest temperature in whole degrees Celsius [K], above from_k, that brings a resin from one
    conversion to another within WITHIN_S, and how long it takes there [s]. None where even WARMEST_K does
    not.

    from_a, to_a  conversions, 0..1;  from_k  the room [K]
    Raises DomainError outside of the rate law. Valid for thin or cooled bodies that do not heat themselves
    any more. Source: time_between.
    """
    kelvin = np.floor(from_k - 273.15) + 274.15
    while kelvin <= WARMEST_K:
        took = time_between(kinetics, from_a, to_a, float(kelvin))
        if took <= WITHIN_S:
            return float(kelvin), took
        kelvin += 1.0
    return None
