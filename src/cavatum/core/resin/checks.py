"""A sheet checked against itself and against physics: each doubt with its numbers, as verdicts. Rules 3.1 to
3.3.
"""

from __future__ import annotations

import math

from ..common.plain_numbers import minutes_or_hours, plainly
from ..common.readings import Duration, RatioReading
from ..common.verdict import Verdict, Weight
from .system import System, bond_window_s
from .two_temperatures import check_two_temperatures
from .working_rows import check_rows

UNFILLED_DENSITY_KG_M3 = (
    900.0,
    1250.0,
)  # common practice, no source: unfilled parts of epoxies and polyurethanes


def check_system(system: System) -> list[Verdict]:
    """Every doubt about one sheet. Stops: no ratio basis, no bond window. Care: odd densities, times out of
    order.
    """
    return [
        *_basis(system),
        *_densities(system),
        *_both_ratios(system),
        *_mixed_density(system),
        *_order_of_times(system),
        *check_two_temperatures(system),
        *check_rows(system),
        *_depth_rules(system),
        *_temperatures(system),
    ]


def _basis(system: System) -> list[Verdict]:
    if system.basis is not None:
        return []
    ratio = system.ratio.as_typed or f"{plainly(system.ratio.value)}:1"
    return [
        Verdict(
            weight="blocker",
            stage="resin",
            code="no-basis",
            rule="3.3",
            title="By volume or by weight?",
            text=f"The sheet of {system.name} gives {ratio} without saying whether that is by volume or "
            "by weight. "
            "The two differ by as much as a fifth, and an off-ratio pour stays sticky for good.",
            todo="Look on the bottle or the data sheet and set the basis on the Shelf.",
            where="/basis",
        )
    ]


def _densities(system: System) -> list[Verdict]:
    low, high = UNFILLED_DENSITY_KG_M3
    doubts = []
    for part, density in (("A", system.density_a_kg_m3), ("B", system.density_b_kg_m3)):
        if low <= density.value <= high or (system.is_filled and density.value > high):
            continue
        doubts.append(
            Verdict(
                weight="warning",
                stage="resin",
                code=f"density-{part.lower()}-doubtful",
                rule="3.2",
                title=f"Density of part {part}",
                text=f"Part {part} at {density.value / 1000:.2f} g/mL is outside {low / 1000:.2f} to "
                f"{high / 1000:.2f}, "
                "where unfilled parts lie. Weights worked out from volumes would be wrong with it.",
                todo=f"Weigh 100 mL of part {part}, or say that it is filled.",
                where=f"/density_{part.lower()}_kg_m3",
            )
        )
    return doubts


RATIOS_CLOSE = 0.03  # own judgement: sheets round a ratio to two digits, and densities to two or three
MIX_CLOSE = 0.02  # own judgement: mixing shrinks by a percent at most before it reacts


def _both_ratios(system: System) -> list[Verdict]:
    """weight ratio = volume ratio x density of A / density of B, where the sheet states both."""
    if system.ratio_other is None or system.basis is None:
        return []
    by_volume, by_weight = (
        (system.ratio, system.ratio_other) if system.basis == "volume" else (system.ratio_other, system.ratio)
    )
    dense_a, dense_b = system.density_a_kg_m3.value, system.density_b_kg_m3.value
    follows = by_volume.value * dense_a / dense_b
    off = by_weight.value / follows - 1
    if abs(off) <= RATIOS_CLOSE:
        return []
    return [
        Verdict(
            weight="warning",
            stage="resin",
            code="ratios-disagree",
            rule="3.2",
            title="Its two ratios do not fit its densities",
            text=f"{_written(by_volume)} by volume with {plainly(dense_a / 1000, 3)} and "
            f"{plainly(dense_b / 1000, 3)} "
            f"g/mL is {_per_hundred(follows)} by weight; "
            f"the sheet says {_written(by_weight)} by weight, {abs(off):.0%} "
            f"{'more' if off > 0 else 'less'} of A. One of the four numbers is wrong. "
            f"The plan weighs by {_written(system.ratio)} by {system.basis}.",
            todo="Weigh 100 mL of each part, and ask the maker which ratio holds.",
            where="/ratio_other",
        )
    ]


def _written(ratio: RatioReading) -> str:
    return ratio.as_typed or _per_hundred(ratio.value)


def _per_hundred(ratio: float) -> str:
    """A to B as the trade says it: 100 parts of the larger."""
    return f"100:{plainly(100 / ratio, 3)}" if ratio >= 1 else f"{plainly(100 * ratio, 3)}:100"


def _mixed_density(system: System) -> list[Verdict]:
    if system.density_mix_kg_m3 is None or system.basis is None:
        return []
    by_weight = system.ratio.value * (
        system.density_a_kg_m3.value / system.density_b_kg_m3.value if system.basis == "volume" else 1.0
    )
    mixed = (by_weight + 1) / (by_weight / system.density_a_kg_m3.value + 1 / system.density_b_kg_m3.value)
    off = system.density_mix_kg_m3.value / mixed - 1
    if abs(off) <= MIX_CLOSE:
        return []
    return [
        Verdict(
            weight="warning",
            stage="resin",
            code="mixed-density-doubtful",
            rule="3.2",
            title="Density of the mix",
            text=f"The sheet gives {plainly(system.density_mix_kg_m3.value / 1000, 3)} g/mL; its two "
            "parts in its "
            f"ratio make {plainly(mixed / 1000, 3)}. "
            "The plan goes by its parts.",
            todo="Check the three densities and the ratio.",
            where="/density_mix_kg_m3",
        )
    ]


def _temperatures(system: System) -> list[Verdict]:
    """What has to lie below what: room, pour and pressure limits, wanted and never."""
    pairs = [
        ("room", system.room_from_c, system.room_to_c, "°C", 1.0, "/room_to_c"),
        ("pour temperature", system.pour_from_c, system.pour_to_c, "°C", 1.0, "/pour_to_c"),
        ("peak wanted and never", system.peak_wanted_c, system.peak_never_c, "°C", 1.0, "/peak_never_c"),
        ("pressure", system.pressure_from_pa, system.pressure_to_pa, "bar", 1e5, "/pressure_to_pa"),
    ]
    found = []
    for name, low, high, unit, per, where in pairs:
        if low is not None and high is not None and low.value > high.value:
            found.append(
                Verdict(
                    weight="warning",
                    stage="resin",
                    code="limits-crossed",
                    rule="3.2",
                    title=f"Limits of the {name} crossed",
                    text=f"{plainly(low.value / per)} {unit} as the lower, {plainly(high.value / per)} "
                    f"{unit} as the "
                    "upper limit: nothing lies between.",
                    todo="They may have been swapped.",
                    where=where,
                )
            )
    if system.working_time.criterion == "a temperature" and system.working_time.until_c is None:
        found.append(
            Verdict(
                weight="warning",
                stage="resin",
                code="criterion-open",
                rule="3.1",
                title="Working time until which temperature?",
                text="The sheet's working time ends at a temperature, but none is entered. Until then it "
                "is taken as time to gel.",
                todo="Enter the degrees beside it.",
                where="/working_time/until_c",
            )
        )
    return found


def _order_of_times(system: System) -> list[Verdict]:
    steps = [
        ("tack-free", system.tack_free_s),
        ("bond window opens", system.bond_from_s),
        ("bond window closes", system.bond_to_s),
        ("demould", system.demould_s),
        ("full cure", system.full_cure_s),
    ]
    doubts = []
    opens_s, closes_s = bond_window_s(system)
    if opens_s >= closes_s:
        doubts.append(_times_verdict("blocker", steps[1], steps[2], "/bond_to_s"))
    if system.tack_free_s.value < system.working_time.time_s.value:
        doubts.append(
            _times_verdict("warning", ("working time", system.working_time.time_s), steps[0], "/tack_free_s")
        )
    if system.demould_s.value > system.full_cure_s.value:
        doubts.append(_times_verdict("warning", steps[3], steps[4], "/demould_s"))
    if system.light_use_s and system.light_use_s.value > system.full_cure_s.value:
        doubts.append(_times_verdict("warning", ("light use", system.light_use_s), steps[4], "/light_use_s"))
    if system.stir_s.value + system.rest_s.value >= system.working_time.time_s.value:
        doubts.append(
            _times_verdict(
                "blocker",
                ("stirring and resting", system.stir_s),
                ("the end of the working time", system.working_time.time_s),
                "/stir_s",
            )
        )
    return doubts


def _times_verdict(
    weight: Weight, early: tuple[str, Duration], late: tuple[str, Duration], where: str
) -> Verdict:
    return Verdict(
        weight=weight,
        stage="resin",
        code="times-out-of-order",
        rule="3.2",
        title="Times in impossible order",
        text=f"{early[0].capitalize()} at {minutes_or_hours(early[1].value)} should come before {late[0]} at "
        f"{minutes_or_hours(late[1].value)}.",
        todo="Check both against the data sheet; minutes and hours are easily swapped.",
        where=where,
    )


def _depth_rules(system: System) -> list[Verdict]:
    """Two rules for the same mass with different depths contradict each other; so does a least depth above
    every rule.
    """
    doubts = []
    seen: dict[float | None, float] = {}
    for rule in system.depth_rules:
        mass = rule.up_to_kg.value if rule.up_to_kg else None
        if mass in seen and seen[mass] != rule.most_depth_m.value:
            doubts.append(
                Verdict(
                    weight="warning",
                    stage="resin",
                    code="depth-rules-conflict",
                    rule="3.2",
                    title="Depth rules disagree",
                    text=f"One line allows {plainly(seen[mass] * 1000)} mm, another "
                    f"{plainly(rule.most_depth_m.value * 1000)} mm for the same "
                    "mass. The plan goes by the shallower until you decide.",
                    todo="Find out which one holds and remove the other.",
                    where="/depth_rules",
                )
            )
        seen[mass] = min(seen.get(mass, math.inf), rule.most_depth_m.value)
    measured, most = system.times_depth_m, max(seen.values())
    if measured is not None and measured.origin != "typical" and measured.value > most:
        doubts.append(
            Verdict(
                weight="warning",
                stage="resin",
                code="times-layer-too-deep",
                rule="3.2",
                title="Times for a layer that the sheet does not allow",
                text=f"Its times are said to hold for a layer of {plainly(measured.value * 1000)} mm, and "
                f"its deepest rule allows {plainly(most * 1000)} mm.",
                todo="Check both against the data sheet; a film in mil or mm is easily swapped.",
                where="/times_depth_m",
            )
        )
    if system.least_depth_m and system.least_depth_m.value > max(seen.values()):
        doubts.append(
            Verdict(
                weight="blocker",
                stage="resin",
                code="least-over-most",
                rule="3.2",
                title="Least depth above the greatest",
                text="The least layer is thicker than the thickest that any rule allows.",
                todo="Check both depths.",
                where="/least_depth_m",
            )
        )
    return doubts
