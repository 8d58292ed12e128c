"""One pour's mix split into batches that fit the cup and the scale. Rules 5.1, 5.2, 5.3, 5.5.

Weighing: A is rounded to the scale's step, B computed from the rounded A, then shown to the step.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import Infeasible
from ..measure.allowances import batch_with_residue
from ..workshop import Workshop
from .ratio import Ratio

CUP_FILL = 2 / 3  # common practice, no source: leave a third of the cup free for stirring
MOST_BATCHES = 500


@dataclass(frozen=True)
class Weighing:
    """One batch: what stands on the scale, in kg."""

    poured_m3: float
    mixed_m3: float
    mass_a_kg: float
    mass_b_kg: float

    @property
    def mass_kg(self) -> float:
        return self.mass_a_kg + self.mass_b_kg


def to_step(mass_kg: float, step_kg: float) -> float:
    """Rounded to the nearest step the scale shows; half a step goes up. Free of the floating tail (0.1 g steps)."""
    return round(math.floor(mass_kg / step_kg + 0.5 + 1e-9) * step_kg, 9)


def count_batches(need_m3: float, ratio: Ratio, workshop: Workshop) -> int:
    """Least number of equal batches whose mix fits two thirds of the cup and the scale's range.

        n = ceil(need / (capacity (1 - share) - fixed)),   capacity = min(2/3 cup, scale / density)

    Raises Infeasible when what stays in the cup leaves nothing to pour, or over MOST_BATCHES.
    """
    capacity = min(workshop.cup_m3.value * CUP_FILL, workshop.scale.most_kg.value / ratio.mixed_density)
    pours = capacity * (1 - workshop.residue_fraction.value) - workshop.residue_m3.value
    if pours <= 0 or need_m3 > MOST_BATCHES * pours:
        raise Infeasible(
            "batches", f"over {MOST_BATCHES} for {need_m3 * 1000:.1f} L", "each fits the cup and the scale",
            "Use a larger cup, or a scale with more range.", "too-many-batches",
        )
    return max(1, math.ceil(need_m3 / pours * (1 - 1e-12)))


def weigh(need_m3: float, ratio: Ratio, workshop: Workshop) -> list[Weighing]:
    """Equal batches that together pour need_m3 [m3], with what stays in each cup on top."""
    count = count_batches(need_m3, ratio, workshop)
    poured = need_m3 / count
    mixed = batch_with_residue(poured, workshop.residue_fraction, workshop.residue_m3.value)
    step = workshop.scale.step_kg.value
    mass_a = to_step(ratio.part_a(mixed * ratio.mixed_density), step)
    mass_b = to_step(mass_a / ratio.by_weight, step)
    return [Weighing(poured, mixed, mass_a, mass_b)] * count
