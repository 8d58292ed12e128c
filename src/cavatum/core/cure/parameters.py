"""Kinetic parameters of the classes of resin: plausible for their kind, nobody's product, each with what it
was fitted to.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..common.working import Data

GAS_J_MOL_K = 8.314462618  # CODATA 2018, exact by definition of the SI
REFERENCE_K = 296.15  # 23 degC
ZERO_C_K = 273.15


class Kinetics(Data):
    """da/dt = f_d (k1 + k2 a) (1 - a)^2, k2 = k2_ref exp(-E/R (1/T - 1/296.15 K)), k1 likewise of its own E1
    and b k2_ref.

    heat_j_kg     of the whole reaction, per mass of mix [J/kg]
    energy_j_mol  activation energy E of what runs with the help of what has formed
    energy_start_j_mol  E1, of what runs without; None: the same E
    b             k1 / k2 at 23 degC
    k2_ref_1_s    at 23 degC
    gel           conversion at the gel point
    tg0_k, tginf_k, lam  glass transition from unreacted to fully cured, and the curvature between
                         (DiBenedetto)
    """

    heat_j_kg: float = Field(gt=0, le=1e6)
    energy_j_mol: float = Field(gt=0, le=2e5)
    energy_start_j_mol: float | None = Field(default=None, gt=0, le=2e5)
    b: float = Field(ge=0, le=100)
    k2_ref_1_s: float = Field(gt=0, le=10)
    gel: float = Field(gt=0, lt=1)
    tg0_k: float = Field(gt=100, lt=400)
    tginf_k: float = Field(gt=200, lt=600)
    lam: float = Field(gt=0, le=1)
    density_kg_m3: float = Field(gt=500, lt=3000)
    heat_capacity_j_kg_k: float = Field(gt=500, lt=4000)
    conductivity_w_m_k: float = Field(gt=0.05, lt=2)
    viscosity_23_pa_s: float = Field(gt=0, le=1000)
    fitted_to: str = ""
    origin: Literal["typical", "sheet", "measured", "learned"] = "typical"


def _row(
    heat_kj: float,
    energy_kj: float,
    b: float,
    k2: float,
    gel: float,
    tg0: float,
    tginf: float,
    lam: float,
    rho: float,
    cp: float,
    k: float,
    eta: float,
    fitted_to: str,
) -> Kinetics:
    return Kinetics(
        heat_j_kg=heat_kj * 1e3,
        energy_j_mol=energy_kj * 1e3,
        b=b,
        k2_ref_1_s=k2,
        gel=gel,
        tg0_k=tg0,
        tginf_k=tginf,
        lam=lam,
        density_kg_m3=rho,
        heat_capacity_j_kg_k=cp,
        conductivity_w_m_k=k,
        viscosity_23_pa_s=eta,
        fitted_to=fitted_to,
    )


# Class values (typical): heat kJ/kg, E kJ/mol, b, k2 at 23 degC, gel, Tg0, Tginf [K], curvature, density,
# heat capacity, conductivity, viscosity.
CLASSES: dict[str, Kinetics] = {
    "thin-sealing-epoxy": _row(
        330,
        55,
        0.3,
        1.469e-4,
        0.58,
        235,
        330,
        0.4,
        1060,
        1900,
        0.20,
        0.25,
        "⟦150 g⟧ at ⟦24 °C⟧ gels in 30 min",
    ),
    "coating-epoxy": _row(
        280,
        55,
        0.400,
        1.005e-4,
        0.58,
        238,
        333,
        0.4,
        1100,
        1900,
        0.20,
        4,
        "⟦500 g⟧ at ⟦24 °C⟧ gels in 40 min; ⟦3 mm⟧ tack-free at 5.5 h",
    ),
    "craft-casting-epoxy": _row(
        280,
        55,
        0.400,
        1.005e-4,
        0.58,
        238,
        333,
        0.4,
        1100,
        1900,
        0.20,
        1.0,
        "as coating epoxy, own viscosity",
    ),
    "casting-epoxy-25": _row(
        345,
        55,
        0.10,
        3.907e-5,
        0.59,
        236,
        330,
        0.4,
        1095,
        1920,
        0.19,
        0.8,
        "⟦25 mm⟧ at ⟦23 °C⟧ peaks at ⟦45 °C⟧",
    ),
    "slow-casting-epoxy": _row(
        330, 55, 0.05, 2.414e-5, 0.60, 233, 328, 0.4, 1090, 1950, 0.19, 0.4, "⟦40 mm⟧ at ⟦23 °C⟧ gels at 27 h"
    ),
    "fast-casting-polyurethane": _row(
        180,
        45,
        3.93,
        7.043e-5,
        0.55,
        228,
        343,
        0.5,
        1050,
        1850,
        0.19,
        0.2,
        "⟦800 g⟧ at ⟦20.3 °C⟧ in a cup: ⟦25 °C⟧ at 3 min, ⟦41 °C⟧ at 11 min",
    ),
}
