"""A sheet checked against itself and against physics: each doubt with its numbers, as verdicts. Rules 3.1 to 3.3."""

from __future__ import annotations

import math

from ..verdict import Verdict
from .system import System

UNFILLED_DENSITY_KG_M3 = (900.0, 1250.0)  # common practice, no source: unfilled parts of epoxies and polyurethanes


def check_system(system: System) -> list[Verdict]:
    """Every doubt about one sheet. Stops: no ratio basis, no bond window. Care: odd densities, times out of order."""
    return [*_basis(system), *_densities(system), *_order_of_times(system), *_depth_rules(system)]


def _basis(system: System) -> list[Verdict]:
    if system.basis is not None:
        return []
    ratio = system.ratio.as_typed or f"{system.ratio.value:g}:1"
    return [Verdict(
        weight="stops", stage="resin", code="no-basis", rule="3.3", title="By volume or by weight?",
        text=f"The sheet of {system.name} gives {ratio} without saying whether that is by volume or by weight. "
             "The two differ by as much as a fifth, and an off-ratio pour stays sticky for good.",
        todo="Look on the bottle or the data sheet and set the basis on the Shelf.", where="/basis",
    )]


def _densities(system: System) -> list[Verdict]:
    low, high = UNFILLED_DENSITY_KG_M3
    doubts = []
    for part, density in (("A", system.density_a_kg_m3), ("B", system.density_b_kg_m3)):
        if low <= density.value <= high or (system.is_filled and density.value > high):
            continue
        doubts.append(Verdict(
            weight="care", stage="resin", code=f"density-{part.lower()}-doubtful", rule="3.2", title=f"Density of part {part}",
            text=f"Part {part} at {density.value / 1000:.2f} g/mL is outside {low / 1000:.2f} to {high / 1000:.2f}, "
                 "where unfilled parts lie. Weights worked out from volumes would be wrong with it.",
            todo=f"Weigh 100 mL of part {part}, or say that it is filled.", where=f"/density_{part.lower()}_kg_m3",
        ))
    return doubts


def _order_of_times(system: System) -> list[Verdict]:
    steps = [
        ("tack-free", system.tack_free_s), ("bond window opens", system.bond_from_s), ("bond window closes", system.bond_to_s),
        ("demould", system.demould_s), ("full cure", system.full_cure_s),
    ]
    doubts = []
    if system.bond_from_s.value >= system.bond_to_s.value:
        doubts.append(_times_verdict("stops", steps[1], steps[2], "/bond_to_s"))
    if system.tack_free_s.value < system.working_time.time_s.value:
        doubts.append(_times_verdict("care", ("working time", system.working_time.time_s), steps[0], "/tack_free_s"))
    if system.demould_s.value > system.full_cure_s.value:
        doubts.append(_times_verdict("care", steps[3], steps[4], "/demould_s"))
    return doubts


def _times_verdict(weight, early, late, where: str) -> Verdict:
    return Verdict(
        weight=weight, stage="resin", code="times-out-of-order", rule="3.2", title="Times in impossible order",
        text=f"{early[0].capitalize()} at {early[1].value / 3600:g} h should come before {late[0]} at "
             f"{late[1].value / 3600:g} h.",
        todo="Check both against the data sheet; minutes and hours are easily swapped.", where=where,
    )


def _depth_rules(system: System) -> list[Verdict]:
    """Two rules for the same mass with different depths contradict each other; so does a least depth above every rule."""
    doubts = []
    seen: dict[float | None, float] = {}
    for rule in system.depth_rules:
        mass = rule.up_to_kg.value if rule.up_to_kg else None
        if mass in seen and seen[mass] != rule.most_depth_m.value:
            doubts.append(Verdict(
                weight="care", stage="resin", code="depth-rules-conflict", rule="3.2", title="Depth rules disagree",
                text=f"One line allows {seen[mass] * 1000:g} mm, another {rule.most_depth_m.value * 1000:g} mm for the same "
                     "mass. The plan goes by the shallower until you decide.",
                todo="Find out which one holds and remove the other.", where="/depth_rules",
            ))
        seen[mass] = min(seen.get(mass, math.inf), rule.most_depth_m.value)
    if system.least_depth_m and system.least_depth_m.value > max(seen.values()):
        doubts.append(Verdict(
            weight="stops", stage="resin", code="least-over-most", rule="3.2", title="Least depth above the greatest",
            text="The least layer is thicker than the thickest that any rule allows.", todo="Check both depths.",
            where="/least_depth_m",
        ))
    return doubts
