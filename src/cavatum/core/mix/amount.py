"""Any amount weighed out: "300 g in all", "8 fl oz of each part". What is not said is asked, never guessed.
Rules 3.3 and 5.1.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from ..common import units
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data, Figure, Input, Workbook, Working
from ..resin.ratio import MixRatio, ratio_of
from ..resin.system import System

Sense = Literal["in all", "of each part", "of A", "of B"]
_SENSES: list[tuple[str, Sense]] = [
    (r"in all|all together|altogether|in total|total", "in all"),
    (r"of each(?: part)?|each(?: part)?|per part", "of each part"),
    (r"of (?:part )?a", "of A"),
    (r"of (?:part )?b", "of B"),
]
ALIKE = 0.02  # equal amounts within the care limit of the ratio


@dataclass(frozen=True, kw_only=True)
class Said:
    """value [kg or m3] and what of it is meant."""

    value: float
    by: Literal["mass", "volume"]
    sense: Sense
    words: str


def read_amount(text: str, default_unit: str | None = None) -> Said:
    """A quantity with its sense behind it.

    Raises DomainError: without a sense (both are offered), a bare ounce (each way, with the sense kept), not
    a mass or a volume, zero or less.
    """
    typed = " ".join(text.split())
    sense, quantity = None, typed
    for pattern, meant in _SENSES:
        found = re.search(rf"\s+(?:{pattern})$", typed, re.I)
        if found:
            sense, quantity = meant, typed[: found.start()]
            break
    try:
        understood = units.parse(quantity, "mass", default_unit)
        by: Literal["mass", "volume"] = "mass"
    except DomainError as error:
        if error.code == "bare-ounce":
            raise DomainError(
                argument=error.argument,
                value=error.value,
                allowed=error.allowed,
                way_out=error.way_out,
                code=error.code,
                choices=[f"{one} {sense or 'in all'}" for one in error.choices],
            ) from error
        if error.code != "other-kind":
            raise
        understood, by = units.parse(quantity, "volume"), "volume"
    if not understood.value > 0:
        raise DomainError(
            argument="amount",
            value=f'"{typed}"',
            allowed="it is more than 0",
            way_out="Say how much is wanted.",
            code="out-of-range",
        )
    if sense is None:
        choices = [f"{understood.as_typed} in all", f"{understood.as_typed} of each part"]
        raise DomainError(
            argument="amount",
            value=f'"{typed}"',
            allowed="it is meant in all, or of each part",
            way_out=f"Did you mean {' or '.join(choices)}?",
            code="in-all-or-each",
            choices=choices,
        )
    return Said(value=understood.value, by=by, sense=sense, words=f"{understood.words} {sense}")


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
    a_kg = _part_a(said, ratio, system)
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


def _part_a(said: Said, ratio: MixRatio, system: System) -> float:
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
            allowed=f"{system.name} is {plainly(per, 3)} to 1 by {how}: equal parts would be off its ratio",
            way_out="Say it in all, or of A, or of B.",
            code="not-one-to-one",
        )
    return said.value * to_kg_a
