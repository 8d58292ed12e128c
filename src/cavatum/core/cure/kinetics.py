"""Conversion: how fast it runs, when the glass transition slows it, where it gels."""

from __future__ import annotations

import math

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from .parameters import GAS_J_MOL_K, REFERENCE_K, Kinetics

LAG_K = (
    12.0  # own choice: how far above the temperature Tg must rise before the reaction is diffusion controlled
)
WIDTH_K = 4.0  # own choice: over how many kelvin it goes over


def rate_constant(kinetics: Kinetics, temperature_k: float) -> float:
    """k2 [1/s] at a temperature.

        k2 = k2_ref exp(-E/R (1/T - 1/296.15 K))

    kinetics  k2 at 23 degC [1/s] and E [J/mol];  temperature_k  > 0
    Raises nothing. Valid from 233 to 573 K, where the rate law is asked. Source: Arrhenius 1889.
    """
    return kinetics.k2_ref_1_s * math.exp(
        -kinetics.energy_j_mol / GAS_J_MOL_K * (1 / temperature_k - 1 / REFERENCE_K)
    )


def start_share(kinetics: Kinetics, temperature_k: float) -> float:
    """k1 / k2, how much runs without the help of what has formed.

        b exp(-(E1 - E)/R (1/T - 1/296.15 K));   b where the start has no energy of its own

    kinetics  b at 23 degC, E1 and E [J/mol];  temperature_k  > 0
    Raises nothing. Valid as rate_constant is. Source: Arrhenius 1889, of both constants.
    """
    less = start_less(kinetics)
    return kinetics.b * math.exp(-less * (1 / temperature_k - 1 / REFERENCE_K))


def start_less(kinetics: Kinetics) -> float:
    """(E1 - E) / R [K]; nothing where one energy holds for both.

    Raises nothing. Exact. Source: definition.
    """
    own = kinetics.energy_start_j_mol
    return 0.0 if own is None else (own - kinetics.energy_j_mol) / GAS_J_MOL_K


def glass_transition(kinetics: Kinetics, conversion: float) -> float:
    """Glass transition [K] at a conversion.

        Tg = Tg0 + (Tginf - Tg0) l a / (1 - (1 - l) a)

    conversion  a, 0..1
    Raises nothing. Valid for one network former. Source: DiBenedetto, J. Polym. Sci. B 25 (1987) 1949.
    """
    a, lam = conversion, kinetics.lam
    return kinetics.tg0_k + (kinetics.tginf_k - kinetics.tg0_k) * lam * a / (1 - (1 - lam) * a)


def diffusion_factor(kinetics: Kinetics, conversion: float, temperature_k: float) -> float:
    """f_d, 0..1: 1 while liquid or rubber, towards 0 in the glass.

        1 / (1 + exp((Tg(a) - T - 12 K) / 4 K))

    conversion  0..1;  temperature_k  > 0
    Raises nothing. Valid as a smooth switch at vitrification, not as a law. Source: own choice of the form
    and its numbers.
    """
    return 1 / (
        1 + math.exp(min((glass_transition(kinetics, conversion) - temperature_k - LAG_K) / WIDTH_K, 700.0))
    )


def conversion_rate(kinetics: Kinetics, conversion: float, temperature_k: float) -> float:
    """da/dt [1/s].

        f_d k2 (b(T) + a) (1 - a)^2

    conversion  a, 0..1;  temperature_k  233 to 573 K
    Raises DomainError outside. Valid for the classes of typical.md, fitted to their working times.
    Source: Kamal and Sourour, Polym. Eng. Sci. 13 (1973) 59, with m = 1, n = 2.
    """
    if not 0 <= conversion <= 1:
        raise DomainError(
            argument="conversion",
            value=f"{plainly(conversion)}",
            allowed="it lies between 0 and 1",
            way_out="Start from what has reacted so far.",
        )
    if not 233 <= temperature_k <= 573:
        raise DomainError(
            argument="temperature",
            value=f"{temperature_k - 273.15:.0f} °C",
            allowed="it lies between -40 and 300 °C",
            way_out="Check the unit.",
        )
    free = diffusion_factor(kinetics, conversion, temperature_k)
    started = start_share(kinetics, temperature_k) + conversion
    return free * rate_constant(kinetics, temperature_k) * started * (1 - conversion) ** 2


def time_to(kinetics: Kinetics, conversion: float, temperature_k: float) -> float:
    """Time [s] to a conversion at one temperature, in closed form.

        t = (k2 / s^2) ln((k1 + k2 a) / (k1 (1 - a))) + a / (s (1 - a)),   s = k1 + k2

    conversion  a, 0..1, below 1;  temperature_k  [K];  b > 0
    Raises DomainError otherwise. Valid while diffusion does not yet slow it.
    Source: partial fractions of the rate law with n = 2.
    """
    if not 0 <= conversion < 1 or kinetics.b <= 0:
        raise DomainError(
            argument="conversion",
            value=f"{plainly(conversion)} with b = {plainly(kinetics.b)}",
            allowed="it lies below 1, and b above 0",
            way_out="Ask for an earlier state.",
        )
    k2 = rate_constant(kinetics, temperature_k)
    k1, a = start_share(kinetics, temperature_k) * k2, conversion
    s = k1 + k2
    return k2 / s**2 * math.log((k1 + k2 * a) / (k1 * (1 - a))) + a / (s * (1 - a))


def adiabatic_rise(kinetics: Kinetics, conversion: float = 1.0) -> float:
    """Rise of temperature [K] when no heat leaves.

        H a / cp

    kinetics  H [J/kg] and cp [J/(kg K)];  conversion  a, 0..1
    Raises nothing. Exact for constant H and cp. Source: heat balance.
    """
    return kinetics.heat_j_kg * conversion / kinetics.heat_capacity_j_kg_k


def gel_of_functionalities(resin: float, hardener: float) -> float:
    """Conversion, 0..1, at the gel point of a balanced mix.

        1 / sqrt((f - 1) (g - 1))

    resin, hardener  functionalities f and g, both over 1
    Raises DomainError where nothing gels (two and two). Valid for equal reactivity and no rings.
    Source: Flory 1941, Stockmayer 1943.
    """
    product = (resin - 1) * (hardener - 1)
    if product <= 1:
        raise DomainError(
            argument="functionalities",
            value=f"{plainly(resin)} and {plainly(hardener)}",
            allowed="one of them is over 2",
            way_out="Such a mix never gels.",
            code="no-gel",
        )
    return 1 / math.sqrt(product)
