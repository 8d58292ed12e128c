"""Viscosity while it cures: thinner as it warms, thicker as it reacts, without end at the gel point."""

from __future__ import annotations

import math

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from .parameters import REFERENCE_K, Kinetics

GLASS_PA_S = 1e12  # at the glass transition, by convention
WLF_LOG, WLF_K = (
    40.16,
    51.6,
)  # universal constants 17.44 ln 10 and 51.6 K. Williams, Landel and Ferry, J. Am. Chem. Soc. 77 (1955) 3701
GEL_POWER = 1.5
SOLID_BELOW_K = 1.0


def viscosity_glass(kinetics: Kinetics, conversion: float) -> float:
    """The glass temperature [K] that the sheet's viscosity at 23 degC asks for, carried along with conversion
    as Tg is.

        T - Tgv0 = 51.6 y / (1 - y),   y = ln(1e12 / eta_23) / 40.16

    conversion  0..1
    Raises DomainError for a viscosity at 23 degC that no mix has. Valid below 1e12 Pa s. Source: WLF 1955,
    universal constants.
    """
    y = math.log(GLASS_PA_S / kinetics.viscosity_23_pa_s) / WLF_LOG
    if not 0 < y < 1:
        raise DomainError(
            argument="viscosity",
            value=f"{plainly(kinetics.viscosity_23_pa_s)} Pa s",
            allowed="it lies between about 1e-5 and 1e12 Pa s",
            way_out="Check the unit.",
        )
    base = REFERENCE_K - WLF_K * y / (1 - y)
    a, lam = conversion, kinetics.lam
    return base + (kinetics.tginf_k - base) * lam * a / (1 - (1 - lam) * a)


def viscosity_at_23(measured_pa_s: float, at_c: float) -> float:
    """Viscosity at 23 degC [Pa s] of a fresh mix that was measured at another temperature, by the same law.

        T - Tgv0 = 51.6 y / (1 - y),   y = ln(1e12 / eta) / 40.16, at T;   then eta at 23 degC with the
        same Tgv0

    measured_pa_s  [Pa s], > 0;  at_c  [degC]
    Raises DomainError where 23 degC would be in the glass. Valid some tens of kelvin to both sides.
    Source: WLF 1955, universal constants.
    """
    y = math.log(GLASS_PA_S / measured_pa_s) / WLF_LOG
    d = WLF_K * y / (1 - y) + REFERENCE_K - (at_c + 273.15)
    if d < SOLID_BELOW_K:
        raise DomainError(
            argument="viscosity",
            value=f"{plainly(measured_pa_s)} Pa s at {plainly(at_c)} °C",
            allowed="it is a liquid at 23 °C",
            way_out="Check the temperature it was measured at.",
            code="glass",
        )
    return (
        measured_pa_s if at_c + 273.15 == REFERENCE_K else GLASS_PA_S * math.exp(-WLF_LOG * d / (WLF_K + d))
    )


def viscosity(kinetics: Kinetics, conversion: float, temperature_k: float) -> float:
    """Viscosity [Pa s]; infinite from the gel point on and in the glass (d below 1 K).

        1e12 exp(-40.16 d / (51.6 + d)) (1 - a / gel)^-1.5,   d = T - Tgv(a)

    conversion  a, 0..1;  temperature_k  [K]
    Raises nothing. Valid from room temperature to about 100 K above the glass. Age is not to be judged by
    it alone: a warming cup gets thinner first.
    Source: WLF 1955; gel term of the usual power-law form, exponent own choice.
    """
    d = temperature_k - viscosity_glass(kinetics, conversion)
    if conversion >= kinetics.gel or d < SOLID_BELOW_K:
        return math.inf
    return (
        GLASS_PA_S
        * math.exp(-WLF_LOG * d / (WLF_K + d))
        * math.pow(1 - conversion / kinetics.gel, -GEL_POWER)
    )
