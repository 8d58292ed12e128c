"""Any amount weighed out by a system's ratio. Rules 3.3 and 5.1."""

from __future__ import annotations

from typing import Literal

from ..common.amounts import Measured, Said, sense_asked
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data, Figure, Input, Workbook, Working
from ..resin.ratio import MixRatio, ratio_of
from ..resin.system import System

ALIKE = 0.02  # equal amounts within the care limit of the ratio


class WeighOut(Data):
    """Both parts by weight and by volume, and what they are together."""

    words: str
    mass_a: Figure
    mass_b: Figure
    volume_a: Figure
    volume_b: Figure
    mass: Figure
    volume: Figure
    workings: dict[str, Working]


def weigh_out(said: Said, system: System) -> WeighOut:
    """A and B for an amount, exactly in ratio, not rounded to a scale.

        by weight r: A = m r / (1 + r) in all;  by volume v = r rho_B / rho_A
    Raises DomainError without a ratio basis, and for "of each part" where the ratio is not one to one by what
    was measured.
    """
    ratio = ratio_of(system)
    a_kg = _part_a(said, ratio, system.name)
    b_kg = a_kg / ratio.by_weight
    book = Workbook()
    inputs = [
        Input(name=f"asked for: {said.words}", value=said.value, quantity=said.by, origin="chosen"),
        system.ratio.as_input(f"ratio A:B by {system.basis}"),
        system.density_a_kg_m3.as_input("density of A"),
        system.density_b_kg_m3.as_input("density of B"),
    ]
    source = "ratio by weight = ratio by volume × density of A / density of B"

    def figure(
        key: str, name: str, value: float, quantity: Literal["mass", "volume"], formula: str
    ) -> Figure:
        return book.figure(key, name, value, quantity, formula, inputs, source)

    volume_a, volume_b = a_kg / ratio.density_a, b_kg / ratio.density_b
    return WeighOut(
        words=said.words,
        mass_a=figure("A", "Part A by weight", a_kg, "mass", "its share of the amount by the ratio"),
        mass_b=figure("B", "Part B by weight", b_kg, "mass", "part A / ratio by weight"),
        volume_a=figure("A-volume", "Part A by volume", volume_a, "volume", "mass / density"),
        volume_b=figure("B-volume", "Part B by volume", volume_b, "volume", "mass / density"),
        mass=figure("mass", "Together by weight", a_kg + b_kg, "mass", "A + B"),
        volume=figure("volume", "Together by volume", volume_a + volume_b, "volume", "A + B, additive"),
        workings=book.workings,
    )


def is_equal(ratio: MixRatio, by: Measured) -> bool:
    """Whether both parts are alike by what was measured, so that "in all" and "of each part" are mixed up."""
    return abs((ratio.by_weight if by == "mass" else ratio.by_volume) - 1) <= ALIKE


def mixed_volume(said: Said, ratio: MixRatio, name: str) -> float:
    """What an amount is in all [m3], whichever part of it was said.

        m_A (1 + 1 / r) / rho,   m_A the mass of part A, r the ratio A:B by weight, rho the density of the mix

    said  with its sense, or without where the parts are not alike: then it is meant in all;  name  of the
    system
    Raises DomainError (sense_asked) where the parts are alike and nobody said which is meant, and for "of
    each part"
    where they are
    not. Exact. Source: volumes additive.
    """
    if said.sense is None:
        if is_equal(ratio, said.by):
            raise sense_asked(said.as_typed)
        said = Said(value=said.value, by=said.by, sense="in all", words=said.words, as_typed=said.as_typed)
    return _part_a(said, ratio, name) * (1 + 1 / ratio.by_weight) / ratio.mixed_density


def _part_a(said: Said, ratio: MixRatio, name: str) -> float:
    """Mass of A [kg]."""
    if said.by == "mass":
        per, a_of_all = ratio.by_weight, said.value * ratio.by_weight / (ratio.by_weight + 1)
        to_kg_a, to_kg_b = 1.0, 1.0
    else:
        per, a_of_all = (
            ratio.by_volume,
            said.value * ratio.by_volume / (ratio.by_volume + 1) * ratio.density_a,
        )
        to_kg_a, to_kg_b = ratio.density_a, ratio.density_b
    if said.sense == "in all":
        return a_of_all
    if said.sense == "of A":
        return said.value * to_kg_a
    if said.sense == "of B":
        return said.value * to_kg_b * ratio.by_weight
    if abs(per - 1) > ALIKE:
        how = "weight" if said.by == "mass" else "volume"
        raise DomainError(
            argument="amount",
            value=f"{said.words}",
            allowed=f"{name} is {plainly(per, 3)} to 1 by {how}: equal parts would be off its ratio",
            way_out="Say it in all, or of A, or of B.",
            code="not-one-to-one",
        )
    return said.value * to_kg_a
