"""Wood and the air it was kept in: equilibrium moisture, and what that means for resin. Rules 1.1 and 1.3."""

from __future__ import annotations

import math

from ..common.errors import DomainError
from ..common.plain_numbers import plainly

DRY_ENOUGH = 0.12  # common practice, no source: below about 10 to 12 %
DRY_SURE = 0.10
TIME_CONSTANT_WEEKS = (
    8.0  # own judgement for boards of 20 to 50 mm indoors; only says how far along it may be
)


def equilibrium_moisture(temperature_c: float, humidity: float) -> float:
    """Moisture [fraction of dry mass] at which wood rests in air of this temperature and relative humidity.

        M = 18/W [K h/(1 - K h) + (K1 K h + 2 K1 K2 K^2 h^2)/(1 + K1 K h + K1 K2 K^2 h^2)]
        W = 349 + 1.29 T + 0.0135 T^2          K  = 0.805 + 0.000736 T - 0.00000273 T^2
        K1 = 6.27 - 0.00938 T - 0.000303 T^2   K2 = 1.91 + 0.0407 T - 0.000293 T^2      (T in degC, h 0..1)

    Raises DomainError outside of -1 to 55 degC or 0 < h <= 0.95, the span of the handbook's table.
    Source: Hailwood-Horrobin as in Wood Handbook, FPL-GTR-282, ch. 4 (coefficients from memory; they
    reproduce its table).
    """
    if not -1 <= temperature_c <= 55:
        raise DomainError(
            argument="temperature of the air",
            value=f"{plainly(temperature_c)} °C",
            allowed="the table runs from -1 to 55 °C",
            way_out="Give the usual temperature where the wood was kept.",
        )
    if not 0 < humidity <= 0.95:
        raise DomainError(
            argument="humidity of the air",
            value=f"{humidity:.0%}",
            allowed="the table runs up to 95 %",
            way_out="Give the usual humidity there.",
        )
    t, h = temperature_c, humidity
    w = 349 + 1.29 * t + 0.0135 * t**2
    k = 0.805 + 0.000736 * t - 0.00000273 * t**2
    k1 = 6.27 - 0.00938 * t - 0.000303 * t**2
    k2 = 1.91 + 0.0407 * t - 0.000293 * t**2
    kh, second = k * h, k1 * k2 * k**2 * h**2
    return 18 / w * (kh / (1 - kh) + (k1 * kh + 2 * second) / (1 + k1 * kh + second))


def share_of_the_way(weeks: float) -> float:
    """How far towards the equilibrium a board may have come: 1 - exp(-t / 8 weeks). Own judgement, said
    wherever it is shown.
    """
    return 1 - math.exp(-weeks / TIME_CONSTANT_WEEKS)
