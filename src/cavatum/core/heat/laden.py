"""Resin with things in it that make no heat but take some up: what is embedded, colours, fillers. Rule 4.3.

Values of solids from memory, usual in handbooks, unchecked. Spread evenly through a layer: between large
things it gets hotter than computed, next to them cooler.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import Kinetics
from ..piece.colour import ColourantKind
from ..piece.parts import MadeOf

FILLER_KG_M3 = 2700.0  # chalk, quartz, aluminium hydroxide within a tenth
STIRS_TO = 0.1  # own choice: of the room; what stands closer leaves no way for resin to rise


@dataclass(frozen=True, kw_only=True)
class Inert:
    """conductivity [W/(m K)], density [kg/m3], heat capacity [J/(kg K)]."""

    conductivity: float
    density: float
    heat_capacity: float


EMBEDDED: dict[MadeOf, Inert] = {
    "wood": Inert(conductivity=0.16, density=650.0, heat_capacity=2000.0),
    "stone": Inert(conductivity=2.5, density=2650.0, heat_capacity=850.0),
    "metal": Inert(conductivity=100.0, density=7800.0, heat_capacity=450.0),
    "glass": Inert(conductivity=1.0, density=2500.0, heat_capacity=800.0),
    "plastic": Inert(conductivity=0.2, density=1180.0, heat_capacity=1450.0),
}
MINERAL, LIQUID = (2.0, 850.0), (0.2, 1800.0)  # conductivity, heat capacity
COLOURANTS: dict[ColourantKind, tuple[float, float]] = {
    "mica powder": MINERAL,
    "pigment powder": MINERAL,
    "filler": MINERAL,
    "flake": MINERAL,
    "glitter": (0.2, 1300.0),
    "wood dust": (0.16, 2000.0),
    "pigment paste": LIQUID,
    "liquid dye": LIQUID,
}


@dataclass(frozen=True, kw_only=True)
class Load:
    """A layer's resin with what is in it, as one stuff. share: of the room that makes no heat."""

    kinetics: Kinetics
    share: float = 0.0

    @property
    def stirs(self) -> bool:
        """Whether there is room to: what stands close in it holds it at rest."""
        return self.share <= STIRS_TO


def unladen(kinetics: Kinetics) -> Load:
    """Nothing in it but the mix.

    kinetics  of the clear mix
    Raises nothing. Exact. Source: by definition.
    """
    return Load(kinetics=kinetics)


def laden(kinetics: Kinetics, inside: Sequence[tuple[float, Inert]]) -> Load:
    """One stuff for resin and what is in it, with the same rate law.

        rho = (1 - phi) rho_r + sum phi_i rho_i;   rho H = (1 - phi) rho_r H_r;
        rho cp = (1 - phi) rho_r cp_r + sum phi_i rho_i cp_i;
        k = k_r (1 + 2 B) / (1 - B),   B = sum phi_i (k_i - k_r) / (k_i + 2 k_r)

    inside  share of the room phi_i, sum below 1, and of what
    Raises DomainError where nothing is left for resin. Valid for things that are small beside the layer (heat
    goes 30 mm in three hours). Source: mass and heat balance; conductivity by Maxwell, A Treatise on
    Electricity and Magnetism (1873), art. 314 (from memory).
    """
    share = sum(part for part, _ in inside)
    if not 0 <= share < 1:
        raise DomainError(
            argument="embedded things",
            value=f"{plainly(share * 100, 3)} % of the room between two heights",
            allowed="some of it is left for resin",
            way_out="Check their sizes and heights.",
            code="no-room",
        )
    if share <= 0:
        return Load(kinetics=kinetics)
    left, resin_k = 1 - share, kinetics.conductivity_w_m_k
    resin = left * kinetics.density_kg_m3
    density = resin + sum(part * one.density for part, one in inside)
    stored = resin * kinetics.heat_capacity_j_kg_k + sum(
        part * one.density * one.heat_capacity for part, one in inside
    )
    drawn = sum(
        part * (one.conductivity - resin_k) / (one.conductivity + 2 * resin_k) for part, one in inside
    )
    made = kinetics.model_copy(
        update={
            "density_kg_m3": density,
            "heat_j_kg": resin * kinetics.heat_j_kg / density,
            "heat_capacity_j_kg_k": stored / density,
            "conductivity_w_m_k": resin_k * (1 + 2 * drawn) / (1 - drawn),
        }
    )
    return Load(kinetics=made, share=share)


def filler_share(mixed_kg_m3: float, clear_kg_m3: float) -> float:
    """Share of the volume that a mineral filler takes in a mix of that density.

        (rho_mix - rho_clear) / (rho_filler - rho_clear)

    mixed_kg_m3, clear_kg_m3  densities of the filled mix and of resin without filler [kg/m3], both below
                              FILLER_KG_M3
    Raises nothing; 0 where the mix is no heavier than clear resin. Valid within a fifth, for fillers of 2300
    to 3000 kg/m3. Source: mass balance.
    """
    return max(mixed_kg_m3 - clear_kg_m3, 0.0) / (FILLER_KG_M3 - clear_kg_m3)
