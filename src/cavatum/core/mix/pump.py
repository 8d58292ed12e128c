"""Measuring by pump strokes: whole strokes only, each calibrated by weighing. Rule 5.8."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError

FEWEST = 5  # own judgement: "never below a few strokes"; one short stroke of five is already a fifth


@dataclass(frozen=True, kw_only=True)
class Strokes:
    a: int
    b: int
    mass_kg: float
    ratio_off: float
    too_few: bool


def strokes(
    mass_a_kg: float, mass_b_kg: float, stroke_a_kg: float, stroke_b_kg: float, by_weight: float
) -> Strokes:
    """Whole strokes that are enough for the batch, in the pair with the ratio nearest to right among that
    many of A and the next few.

    stroke_a_kg, stroke_b_kg  one stroke, from a weighed number of them
    Raises DomainError for a stroke of nothing.
    Source: counting.
    """
    if min(stroke_a_kg, stroke_b_kg) <= 0:
        raise DomainError(
            argument="stroke",
            value="of nothing",
            allowed="each pump gives something",
            way_out="Weigh ten strokes.",
            code="zero",
        )
    least = max(1, math.ceil(mass_a_kg / stroke_a_kg - 1e-9))

    def pair(a: int) -> Strokes:
        b = max(1, round(a * stroke_a_kg / by_weight / stroke_b_kg))
        off = a * stroke_a_kg / (b * stroke_b_kg) / by_weight - 1
        return Strokes(
            a=a, b=b, mass_kg=a * stroke_a_kg + b * stroke_b_kg, ratio_off=off, too_few=min(a, b) < FEWEST
        )

    enough = [
        one
        for one in map(pair, range(least, least + max(1, least // 5) + 1))
        if one.b * stroke_b_kg >= mass_b_kg * 0.98
    ]
    return min(enough or [pair(least)], key=lambda one: (round(abs(one.ratio_off), 3), one.mass_kg))
