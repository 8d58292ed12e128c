"""One pour's mix split into batches that fit the cup and the scale. Rules 5.1, 5.2, 5.3, 5.5.

BatchWeights: A is rounded to the scale's step, B computed from the rounded A, then shown to the step.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..calibration.at_pouring import CUP_FILL
from ..common.errors import Infeasible
from ..common.workshop import Workshop
from ..resin.ratio import MixRatio
from .allowances import batch_with_residue

MOST_BATCHES = 500
WEIGHING_S = 180.0  # common practice, no source: three minutes to weigh two parts with care
PER_HOLLOW_S = 20.0  # own judgement: from one small mould to the next, with a look at the last


@dataclass(frozen=True, kw_only=True)
class BatchWeights:
    """One batch: what stands on the scale, in kg."""

    poured_m3: float
    mixed_m3: float
    mass_a_kg: float
    mass_b_kg: float

    @property
    def mass_kg(self) -> float:
        return self.mass_a_kg + self.mass_b_kg


def to_step(mass_kg: float, step_kg: float) -> float:
    """Mass [kg] rounded to the nearest step that the scale shows; half a step goes up.

        floor(m / s + 1/2) s

    mass_kg  [kg], >= 0;  step_kg  [kg], > 0
    Raises nothing. Exact, free of the floating tail of 0.1 g steps. Source: by definition.
    """
    return round(math.floor(mass_kg / step_kg + 0.5 + 1e-9) * step_kg, 9)


def mixed_for(cups_m3: list[float], workshop: Workshop) -> float:
    """What has to be mixed [m3] so that each of these leaves its cup: what stays in the mixing cup, and, with
    several colours, in each of theirs too.

        mixed = (sum of cups + fixed) / (1 - share),   each cup = (poured + fixed) / (1 - share) when there
        are several

    cups_m3  what leaves each cup [m3], >= 0;  workshop  what stays in a cup, as a share and fixed [m3]
    Raises nothing. Exact. Source: volume balance, as batch_with_residue.
    """
    share, fixed = workshop.stays
    each = [batch_with_residue(one, share, fixed) for one in cups_m3] if len(cups_m3) > 1 else cups_m3
    return batch_with_residue(sum(each), share, fixed)


def count_batches(needs_m3: list[float], ratio: MixRatio, workshop: Workshop, least: int = 1) -> int:
    """Least number of equal batches whose mix fits two thirds of the cup and the scale's range.

        n = ceil(need / (capacity (1 - share) - fixed)),   capacity = min(2/3 cup, scale / density); with
        several colours counted up from there

    needs_m3  of each colour [m3], >= 0;  least  as many as time asks for, at least 1
    Raises Infeasible when what stays in the cups leaves nothing to pour, or over MOST_BATCHES. Exact.
    Source: volume balance; two thirds of a cup is common practice, no source.
    """
    need = sum(needs_m3)
    capacity = min(workshop.cup_m3.value * CUP_FILL, workshop.scale_carries_kg / ratio.mixed_density)
    share, fixed = workshop.stays
    pours = capacity * (1 - share) - fixed
    count = max(least, math.ceil(need / pours * (1 - 1e-12))) if pours > 0 else MOST_BATCHES + 1
    while (
        len(needs_m3) > 1
        and count <= MOST_BATCHES
        and mixed_for([one / count for one in needs_m3], workshop) > capacity * (1 + 1e-12)
    ):
        count += 1
    if count > MOST_BATCHES:
        raise Infeasible(
            argument="batches",
            value=f"over {MOST_BATCHES} for {need * 1000:.1f} L",
            allowed="each fits the cup and the scale",
            way_out="Use a larger cup, or a scale with more range.",
            code="too-many-batches",
        )
    return count


def batches_in_time(need_m3: float, hollows: int, work_s: float, before_s: float, rate_m3_s: float) -> int:
    """Number of batches needed so that each is poured while it can be worked: stirring and resting, then
    pouring its share and going from hollow to hollow.

        n = ceil((need / rate + hollows x PER_HOLLOW_S) / (work - before));   1 where nothing is left to
        pour in, which is a verdict of its own

    need_m3  [m3], >= 0;  hollows  how many are filled;  work_s  working time [s];  before_s  stirring and
             resting [s]
    rate_m3_s  pouring rate [m3/s], > 0
    Raises nothing. Exact. Source: time balance; PER_HOLLOW_S is own choice.
    """
    left = work_s - before_s
    if left <= 0:
        return 1
    return max(
        1,
        math.ceil(
            (need_m3 / rate_m3_s + (hollows if hollows > 1 else 0) * PER_HOLLOW_S) / left * (1 - 1e-12)
        ),
    )


def weigh(needs_m3: list[float], ratio: MixRatio, workshop: Workshop, least: int = 1) -> list[BatchWeights]:
    """Equal batches that together pour the needs [m3] of all colours, with what stays in each cup on top."""
    count = count_batches(needs_m3, ratio, workshop, least)
    mixed = mixed_for([one / count for one in needs_m3], workshop)
    step = workshop.scale.step_kg.value
    mass_a = to_step(ratio.part_a(mixed * ratio.mixed_density), step)
    mass_b = to_step(mass_a / ratio.by_weight, step)
    return [
        BatchWeights(poured_m3=sum(needs_m3) / count, mixed_m3=mixed, mass_a_kg=mass_a, mass_b_kg=mass_b)
    ] * count
