"""Colour by weight: a recipe scaled to a batch and to the scale's step, two recipes mixed, last month's
colour again. Rules 5.2 and 5.6.

A share is a mass of colourant for one mass of clear mix (A + B), so that a batch is weighed clear and
coloured after.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Fraction
from ..piece.colour import Colourant, Recipe, RecipePart
from .batches import to_step

COARSE = 0.10  # own judgement: a tenth off shows in a pale colour
LEAST_DROPS = 5  # own judgement: below it one drop is over a fifth


@dataclass(frozen=True, kw_only=True)
class Scaled:
    """One colourant for one batch. exact_kg: as the recipe says; mass_kg: what the scale can show; off: the
    difference as a share of exact.
    """

    colourant_id: str
    exact_kg: float
    mass_kg: float
    off: float
    drops: int | None
    drops_off: float | None


def scaled(recipe: Recipe, clear_kg: float, step_kg: float, shelf: Mapping[str, Colourant]) -> list[Scaled]:
    """The recipe for clear_kg of A + B, each colourant to the nearest step of the scale; in drops too, where
    one drop was weighed.

        m_i = s_i m,   rounded to the step;   drops = m_i / m_drop, whole
    Raises DomainError for a batch of nothing.
    """
    if clear_kg <= 0:
        raise DomainError(
            argument="batch",
            value=f"{plainly(clear_kg * 1000)} g",
            allowed="it weighs something",
            way_out="Give the weight of the clear mix.",
            code="zero",
        )
    found = []
    for part in recipe.parts:
        exact = part.share.value * clear_kg
        mass = to_step(exact, step_kg)
        drop = shelf[part.colourant_id].drop_kg if part.colourant_id in shelf else None
        drops = round(exact / drop.value) if drop else None
        found.append(
            Scaled(
                colourant_id=part.colourant_id,
                exact_kg=exact,
                mass_kg=mass,
                off=(mass - exact) / exact if exact else 0.0,
                drops=drops,
                drops_off=(drops * drop.value - exact) / exact
                if drop and drops is not None and exact
                else None,
            )
        )
    return found


def least_batch(recipe: Recipe, step_kg: float, off: float = COARSE) -> float:
    """The clear mix [kg] from which on every colourant can be weighed to `off`: half a step is at most that
    share of it.

        m = s / (2 off min s_i)

    recipe  shares s_i of the mix, > 0;  step_kg  s of the scale [kg], > 0;  off  as a share, > 0
    Raises nothing. Exact. Source: interval arithmetic.
    """
    return step_kg / (2 * off * min(part.share.value for part in recipe.parts if part.share.value > 0))


def blended(mixes: Sequence[tuple[Recipe, float]]) -> dict[str, float]:
    """Shares of the colour that comes of pouring coloured mixes together; each with the mass [kg] of it,
    colourants included.

        clear_j = m_j / (1 + S_j),   s_i = sum_j s_ij clear_j / sum_j clear_j
    Raises DomainError when nothing is poured or a mass is negative.
    Source: conservation of each colourant's mass.
    """
    if not mixes or any(mass < 0 for _, mass in mixes) or not sum(mass for _, mass in mixes) > 0:
        raise DomainError(
            argument="mixes",
            value="nothing",
            allowed="each weighs something",
            way_out="Give the weight of each colour.",
            code="zero",
        )
    clear = [mass / (1 + recipe.total) for recipe, mass in mixes]
    shares: dict[str, float] = {}
    for (recipe, _), there in zip(mixes, clear, strict=True):
        for part in recipe.parts:
            shares[part.colourant_id] = shares.get(part.colourant_id, 0.0) + part.share.value * there / sum(
                clear
            )
    return shares


def parts_of(shares: Mapping[str, float]) -> list[RecipePart]:
    return [
        RecipePart(colourant_id=one, share=Fraction(value=share, origin="measured"))
        for one, share in shares.items()
        if share > 0
    ]


def from_record(grams: Mapping[str, float], clear_kg: float) -> dict[str, float]:
    """The shares that were really mixed: what went in over the clear mix it went into [kg both]."""
    if clear_kg <= 0 or not any(mass > 0 for mass in grams.values()):
        raise DomainError(
            argument="record",
            value="without colour",
            allowed="a batch with its colourants was weighed",
            way_out="Choose another batch.",
            code="no-colour",
        )
    return {one: mass / clear_kg for one, mass in grams.items() if mass > 0}


def lot_differences(then: Mapping[str, str], now: Mapping[str, str], names: Mapping[str, str]) -> list[str]:
    """In words: which colourants come from another bottle than then. An unknown lot is said too: nothing is
    taken to be the same.
    """
    said = []
    for one, name in names.items():
        before, after = then.get(one, ""), now.get(one, "")
        if not before or not after:
            missing = "then" if not before else "now"
            said.append(f"{name}: its lot {missing} is not known; it may differ.")
        elif before != after:
            said.append(
                f"{name}: lot {before} then, lot {after} now. Lots differ in strength: mix a swatch "
                "first and lay it beside the old one."
            )
    return said


def drop_mass(mass_kg: float, drops: int, step_kg: float) -> tuple[float, float]:
    """One drop [kg] from a weighed number of them, and how far off it can be as a share.

        m / n,   s / (2 m)

    mass_kg  [kg], > 0;  drops  n, at least LEAST_DROPS;  step_kg  s of the scale [kg], > 0
    Raises DomainError for fewer drops, or when they weigh less than five steps. Exact for drops alike.
    Source: interval arithmetic.
    """
    if drops < LEAST_DROPS or mass_kg < 5 * step_kg:
        raise DomainError(
            argument="drops",
            value=f"{drops} weighing {plainly(mass_kg * 1000)} g",
            allowed=f"at least {LEAST_DROPS} drops and five steps of the scale",
            way_out="Count out 20 or 50 and weigh them together.",
            code="too-few",
        )
    return mass_kg / drops, step_kg / 2 / mass_kg
