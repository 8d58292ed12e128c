"""Too much of one part went in: what to add of the other, and whether need, cup and scale still take it. Rule
5.1.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..resin.ratio import MixRatio
from .batches import to_step

BRIM = 0.9  # own judgement: a cup fuller than this cannot be stirred


@dataclass(frozen=True, kw_only=True)
class Answer:
    """add_part, add_kg: what restores the ratio, to the scale's step; ratio_off: what is then still left of
    the error.

    over_kg     the whole batch then weighs this much more than was wanted
    cup_fill    of the cup, when it is in
    fits        cup (to BRIM) and scale take it
    """

    add_part: str
    add_kg: float
    total_kg: float
    over_kg: float
    over_m3: float
    cup_fill: float
    fits_cup: bool
    fits_scale: bool
    ratio_off: float

    @property
    def fits(self) -> bool:
        return self.fits_cup and self.fits_scale


def ratio_off(mass_a_kg: float, mass_b_kg: float, ratio: MixRatio) -> float:
    """How far A:B is off, as a share; positive for too much A.

        (A / B) / r - 1

    mass_a_kg  [kg], >= 0;  mass_b_kg  [kg], > 0;  ratio  r by weight
    Raises DomainError for B = 0. Exact. Source: by definition.
    """
    if mass_b_kg <= 0:
        raise DomainError(
            argument="part B",
            value=f"{plainly(mass_b_kg * 1000)} g",
            allowed="it is more than 0",
            way_out="Weigh it in first.",
            code="nothing-there",
        )
    return mass_a_kg / mass_b_kg / ratio.by_weight - 1


def put_right(
    mass_a_kg: float,
    mass_b_kg: float,
    ratio: MixRatio,
    wanted_kg: float,
    cup_m3: float,
    step_kg: float,
    most_kg: float,
) -> Answer:
    """What to add so that A and B stand in their ratio again.

        too much A:  B' = A / r, add B' - B;   too much B:  A' = r B, add A' - A

    mass_a_kg, mass_b_kg  as they are in the cup [kg], >= 0, not both 0
    wanted_kg             the batch as planned [kg]
    cup_m3, most_kg       the cup's whole volume; the scale's range
    Raises DomainError for negative weights or an empty cup.
    Source: the ratio by weight; additive volumes of the parts.
    """
    if mass_a_kg < 0 or mass_b_kg < 0 or mass_a_kg + mass_b_kg <= 0:
        raise DomainError(
            argument="weights",
            value=f"{plainly(mass_a_kg * 1000)} g and {plainly(mass_b_kg * 1000)} g",
            allowed="neither is negative and not both are 0",
            way_out="Read the scale again.",
            code="negative",
        )
    if mass_a_kg >= ratio.by_weight * mass_b_kg:
        part, add = "B", to_step(mass_a_kg / ratio.by_weight - mass_b_kg, step_kg)
        a, b = mass_a_kg, mass_b_kg + add
    else:
        part, add = "A", to_step(ratio.by_weight * mass_b_kg - mass_a_kg, step_kg)
        a, b = mass_a_kg + add, mass_b_kg
    total = a + b
    volume = a / ratio.density_a + b / ratio.density_b
    return Answer(
        add_part=part,
        add_kg=add,
        total_kg=total,
        over_kg=total - wanted_kg,
        over_m3=(total - wanted_kg) / ratio.mixed_density,
        cup_fill=volume / cup_m3,
        fits_cup=volume <= BRIM * cup_m3,
        fits_scale=total <= most_kg,
        ratio_off=ratio_off(a, b, ratio) if b > 0 else 0.0,
    )
