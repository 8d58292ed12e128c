"""The sheet's depth rules for the mass of one layer. Rule 4.1.

The mass is that of one connected body of resin, all that is poured into it within one pot life: splitting it
over several cups unlocks nothing, and twelve separate cavities do not heat each other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.plain_numbers import plainly
from ..measure.cavity import Cavity
from ..resin.system import System

SLACK_M = 1e-7  # boundaries are rounded to this; a layer of exactly 40 mm passes a 40 mm rule


@dataclass(frozen=True)
class Limit:
    """The greatest top of a layer and the words for what sets it."""

    top_m: float
    reason: str


def _binding(system: System) -> list[tuple[float, float]]:
    """(mass, depth) pairs; where one mass has two depths the shallower counts, as the sheet contradicts
    itself.
    """
    depths: dict[float, float] = {}
    for rule in system.depth_rules:
        mass = rule.up_to_kg.value if rule.up_to_kg else math.inf
        depths[mass] = min(depths.get(mass, math.inf), rule.most_depth_m.value)
    return sorted(depths.items())


def allowed_depth(system: System, mass_kg: float) -> float:
    """The greatest depth [m] that the sheet allows a layer of this mass; 0 when no rule covers it.

        max of D_i over the rules with mass <= M_i

    system   its depth rules, "to depth D while the mass is at most M";  mass_kg  of the layer [kg], >= 0
    Raises nothing. Exact: the sheet's own rules, none in between. Source: the data sheet.
    """
    return max((depth for mass, depth in _binding(system) if mass_kg <= mass * (1 + 1e-9)), default=0.0)


def deepest_top(cavity: Cavity, system: System, density_kg_m3: float, from_m: float, to_m: float) -> Limit:
    """How high one layer that starts at from_m may reach, at most to_m.

    Each rule "to depth D while the mass is at most M" reaches min(from + D, height at M); the best rule
    counts.
    """
    best = Limit(from_m, "no depth rule of the sheet covers this mass")
    for mass, depth in _binding(system):
        by_depth = from_m + depth
        by_mass = math.inf if mass == math.inf else cavity.height_at(mass / density_kg_m3, from_m)
        top = min(by_depth, by_mass, to_m)
        if top <= best.top_m:
            continue
        beyond = "" if mass == math.inf else f" up to ⟦{plainly(mass)} kg⟧"
        if top == to_m:
            reason = "the fill line is reached"
        elif by_mass < by_depth:
            reason = (
                f"the sheet allows ⟦{plainly(depth * 1000)} mm⟧ only up to ⟦{plainly(mass)} kg⟧, reached here"
            )
        else:
            reason = f"the sheet's depth rule: ⟦{plainly(depth * 1000)} mm⟧{beyond}"
        best = Limit(top, reason)
    return best


def is_allowed(cavity: Cavity, system: System, density_kg_m3: float, from_m: float, to_m: float) -> bool:
    mass = (cavity.volume(to_m) - cavity.volume(from_m)) * density_kg_m3
    return to_m - from_m <= allowed_depth(system, mass) + SLACK_M
