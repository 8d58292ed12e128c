"""How far a peak may be off: the plan run again with parameters drawn, each draw refitted to what the sheet
says. Rule 4.1.

Draws: E N(E, 4 kJ/mol); b log-uniform 0.02 to 0.3 where it is not fitted; H N(1, 8 %); k N(1, 8 %); top
coefficient U(8, 12); room N(T, 1 K);
the sheet's own time N(1, 8 %). After a measured curve: H N(1, 4 %), rate N(1, 5 %), the rest as it was
fitted. Shown: 10 to 90 %.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..calibration.from_sheet import scaled, working_time
from ..calibration.of_system import Cure
from ..cure.parameters import Kinetics
from ..heat.materials import TOP_W_M2K
from .course import Course, Poured
from .model import Band

DRAWS, SEED = 200, 23
CLASSES_WITH_B = (
    "coating-epoxy",
    "craft-casting-epoxy",
    "fast-casting-polyurethane",
)  # their b comes from a second number
CLOSE = 0.004  # of the logarithm of the time: far below the 8 % that are drawn
CHUNK = 10


@dataclass(frozen=True)
class Draw:
    cures: dict[str, Cure]
    room_k: float
    top_w_m2k: float


def bands(
    courses: dict[str, Course],
    classes: dict[str, str],
    tell: Callable[[float], bool] | None = None,
    draws: int = DRAWS,
) -> dict[tuple[str, int], Band]:
    """The band of every layer of every void, poured at the plan's own hours.

    classes  class of each system, to know where b was fitted
    tell     called with the share done; False ends it and what there is is thrown away
    Returns {} when it was ended.
    """
    random = np.random.default_rng(SEED)
    systems = {layer.cure.system_id: layer.cure for course in courses.values() for layer in course.layers}
    wanted = {one: working_time(cure.kinetics, cure.pot, coarse=True) for one, cure in systems.items()}
    seeds = random.integers(0, 2**63, draws)

    def run(seed: int) -> dict[tuple[str, int], float]:
        draw = drawn(np.random.default_rng(seed), systems, classes, wanted)
        return {
            (void, i): peak for void, course in courses.items() for i, peak in enumerate(_peaks(course, draw))
        }

    found: list[dict[tuple[str, int], float]] = []
    for number, seed in enumerate(seeds):
        found.append(run(int(seed)))
        if tell is not None and number % CHUNK == CHUNK - 1 and not tell(len(found) / draws):
            return {}
    result = {}
    for void, course in courses.items():
        for i, layer in enumerate(course.layers):
            peaks = np.array([one[void, i] for one in found])
            low, high = np.percentile(peaks, [10, 90])
            result[void, i] = Band(
                low_c=round(float(low), 1),
                high_c=round(float(high), 1),
                over=round(float((peaks > layer.cure.never_c).mean()), 3),
            )
    return result


def drawn(
    random: np.random.Generator, systems: dict[str, Cure], classes: dict[str, str], wanted: dict[str, float]
) -> Draw:
    cures = {}
    for one, cure in sorted(systems.items()):
        base = cure.kinetics
        if any(told.origin == "measured" for told in cure.told):
            changed = base.model_copy(
                update={
                    "heat_j_kg": base.heat_j_kg * _near(random, 0.04),
                    "k2_ref_1_s": base.k2_ref_1_s * _near(random, 0.05),
                }
            )
            cures[one] = replace(cure, kinetics=changed)
            continue
        b = (
            base.b
            if classes.get(one) in CLASSES_WITH_B
            else math.exp(random.uniform(math.log(0.02), math.log(0.3)))
        )
        changed = base.model_copy(
            update={
                "energy_j_mol": max(base.energy_j_mol + 4000 * random.standard_normal(), 2e4),
                "b": b,
                "heat_j_kg": base.heat_j_kg * _near(random, 0.08),
                "conductivity_w_m_k": base.conductivity_w_m_k * _near(random, 0.08),
            }
        )
        cures[one] = replace(cure, kinetics=_refitted(changed, cure, wanted[one] * _near(random, 0.08)))
    return Draw(cures, float(random.standard_normal()), float(random.uniform(8, 12)))


def _near(random: np.random.Generator, spread: float) -> float:
    return float(np.clip(1 + spread * random.standard_normal(), 1 - 3 * spread, 1 + 3 * spread))


def _refitted(kinetics: Kinetics, cure: Cure, time_s: float) -> Kinetics:
    """ln k2 by secants from the class's own scaling (time goes as 1 / k2), until the sheet's time is met to
    CLOSE.
    """
    x, slope = 0.0, -1.0
    off = math.log(working_time(kinetics, cure.pot, coarse=True) / time_s)
    for _ in range(8):
        if abs(off) < CLOSE:
            break
        step = -off / slope
        x += step
        now = math.log(working_time(scaled(kinetics, x), cure.pot, coarse=True) / time_s)
        slope = min(max((now - off) / step, -3.0), -0.3)
        off = now
    return scaled(kinetics, x)


def _peaks(course: Course, draw: Draw) -> list[float]:
    """Hottest [degC] of each layer, poured at the same hours."""
    top = draw.top_w_m2k / TOP_W_M2K * course.stack.surround.top_w_m2k
    again = Course.empty(
        course.stack.body,
        replace(course.stack.surround, top_w_m2k=top),
        course.stack.room.warmer(draw.room_k),
        coarse=True,
    )
    for layer in course.layers:
        again = again.wait(layer.at_s) if again.layers else again.later(layer.at_s)
        again = again.pour(layer.from_m, layer.to_m, _of(draw, layer))
    again = again.until_ready()
    return [float(again.curve(i)[1].max()) for i in range(len(course.layers))]


def _of(draw: Draw, layer: Poured) -> Cure:
    return draw.cures[layer.cure.system_id]
