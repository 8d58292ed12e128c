"""Amounts and coverage rules as they are said at the bench: "300 g in all", "8 fl oz of each part", "30 g
per 1000
cm2", "32 ft2 per gal". What is not said is asked, never guessed. Rules 2.5, 3.3 and 5.1.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from . import units
from .errors import DomainError

Sense = Literal["in all", "of each part", "of A", "of B"]
Measured = Literal["mass", "volume"]
_SENSES: list[tuple[str, Sense]] = [
    (r"in all|all together|altogether|in total|total", "in all"),
    (r"of each(?: part)?|each(?: part)?|per part", "of each part"),
    (r"of (?:part )?a", "of A"),
    (r"of (?:part )?b", "of B"),
]
BOTH_SENSES: tuple[Sense, ...] = ("in all", "of each part")
_PER = re.compile(r"\s*(?:/|\bper\b)\s*", re.I)


@dataclass(frozen=True, kw_only=True)
class Said:
    """value [kg or m3] and what of it is meant; None: that was not said."""

    value: float
    by: Measured
    sense: Sense | None
    words: str
    as_typed: str


def read_amount(text: str, default_unit: str | None = None, *, asks: bool = True) -> Said:
    """A quantity with its sense behind it.

    asks  an amount without a sense is refused with both offered; else it comes back without one
    Raises DomainError: without a sense, a bare ounce (each way, with the sense kept), not a mass or a
    volume, zero
    or less.
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
        by: Measured = "mass"
    except DomainError as error:
        if error.code == "bare-ounce":
            raise _ounce_asked(error, sense, asks) from error
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
    if sense is None and asks:
        raise sense_asked(understood.as_typed)
    words = f"{understood.words} {sense}" if sense else understood.words
    as_typed = f"{understood.as_typed} {sense}" if sense else understood.as_typed
    return Said(value=understood.value, by=by, sense=sense, words=words, as_typed=as_typed)


def sense_asked(typed: str) -> DomainError:
    """The question whether an amount is meant in all or of each part."""
    choices = [f"{typed} {one}" for one in BOTH_SENSES]
    return DomainError(
        argument="amount",
        value=f'"{typed}"',
        allowed="it is meant in all, or of each part",
        way_out=f"Did you mean {' or '.join(choices)}?",
        code="in-all-or-each",
        choices=choices,
    )


def _ounce_asked(error: DomainError, sense: Sense | None, asks: bool) -> DomainError:
    """Which ounce, with the sense that was said kept; where none was and one is needed, both in one
    question."""
    senses = [sense] if sense else list(BOTH_SENSES) if asks else [""]
    weight = error.choices[0]
    choices = [
        f"{ounce} {one}".strip() for ounce in (weight, weight.replace("oz wt", "fl oz")) for one in senses
    ]
    return DomainError(
        argument=error.argument,
        value=error.value,
        allowed=error.allowed,
        way_out=f"Did you mean {' or '.join(choices)}?",
        code=error.code,
        choices=choices,
    )


@dataclass(frozen=True, kw_only=True)
class Coverage:
    """An amount per area: by volume [m3/m2], or by mass [kg/m2] that needs the density of the mix."""

    value: float
    by: Measured

    def film(self, density_kg_m3: float) -> float:
        """The film [m] it lays.

            volume / area,   or mass / (density x area)

        density_kg_m3  of the mix, > 0; counts for rules by mass alone
        Raises nothing. Exact as far as the rule is. Source: by definition.
        """
        return self.value if self.by == "volume" else self.value / density_kg_m3


def read_coverage(text: str) -> Coverage:
    """A rule of thumb: an amount per area ("30 g per 1000 cm2", "3 fl oz/ft2", "150 g/m2") or an area per
    amount
    ("32 ft2 per gal").

    Raises DomainError for what is no such rule, at its side. Valid as far as the rule is. Source: by
    definition.
    """
    sides = _PER.split(re.sub(r"\bUS ", "", " ".join(text.split())), maxsplit=1)
    if len(sides) != 2 or not all(sides):
        raise DomainError(
            argument="rule",
            value=f'"{text.strip()}"',
            allowed="it is an amount per area, or an area per amount",
            way_out='Write it like "30 g per 1000 cm2", "3 fl oz per ft2" or "32 ft2 per gal".',
            code="no-rule",
        )
    first, second = (one if re.match(r"[\d.,½¼¾]", one) else f"1 {one}" for one in sides)
    if _is_area(first):
        first, second = second, first
    area = units.parse(second, "area").value
    amount, by = _mass_or_volume(first)
    if area <= 0 or amount <= 0:
        raise DomainError(
            argument="rule",
            value=f'"{text.strip()}"',
            allowed="both its sides are more than 0",
            way_out="Look it up again.",
            code="out-of-range",
        )
    return Coverage(value=amount / area, by=by)


def _is_area(text: str) -> bool:
    try:
        units.parse(text, "area")
    except DomainError:
        return False
    return True


def _mass_or_volume(text: str) -> tuple[float, Measured]:
    try:
        return units.parse(text, "mass").value, "mass"
    except DomainError as error:
        if error.code != "other-kind":
            raise
    return units.parse(text, "volume").value, "volume"
