"""What the steps of a batch say."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.unit_table import OUNCE_KG
from ..common.wording import Wording
from ..mix.model import BatchPlan, ColourPlan, PourPlan

LEFT = 0.005  # own judgement: less is inside the rounding


def dose_words(colour: ColourPlan, name: str, mass_kg: float, drops: int | None, wording: Wording) -> str:
    ounces = "oz" in wording.workshop.scale.step_kg.as_typed
    weight = f"{mass_kg / OUNCE_KG:.3f} oz wt" if ounces else f"{mass_kg * 1000:.1f} g"
    return (
        f"{name} {weight}"
        + (f", about {drops} drops" if drops else "")
        + (f" into {colour.colour}" if colour.colour else "")
    )


def shares_words(colours: Sequence[ColourPlan], wording: Wording) -> str:
    return "; ".join(f"{one.colour or 'clear'} {wording.mass(one.clear.value)}" for one in colours) + "."


STAYS = ("reserve", "residue")  # what is mixed and does not go into the piece


def goes_in(pour: PourPlan) -> float:
    """The share of what is mixed that goes into the piece: all but the reserve and what stays in cups.

        1 - (reserve + residue) / mixed

    pour  with its allowances [m3]
    Raises nothing. Exact. Source: volume balance.
    """
    stays = sum(one.volume.value for one in pour.allowances if one.code in STAYS)
    return 1 - stays / pour.need.value if pour.need.value else 1.0


def batch_words(pour: PourPlan, batch: BatchPlan, wording: Wording) -> str:
    """How much of this batch goes into the piece, how deep, and what stays out of it."""
    layers, share = pour.layers, goes_in(pour)
    named = wording.mass(batch.mass.value * share)
    left = batch.mass.value * (1 - share)
    rest = f" Of the {wording.mass(batch.mass.value)} mixed the rest is reserve and what stays in the cup."
    rest = rest if left > LEFT * batch.mass.value else ""
    many = len(pour.batches)
    if pour.called.startswith("coat"):
        film = layers[0].depth.value
        part = (
            f"{wording.film(film / many)} of its film of {wording.film(film)}"
            if many > 1
            else (f"film {wording.film(film)}")
        )
        return f"{named} over the whole surface, spread it even, edges last; {part}.{rest}"
    depths = sorted({round(layer.depth.value, 4) for layer in layers})
    depth = " and ".join(wording.length(one) for one in depths[:2])
    into = "the void" if len(layers) == 1 else f"{len(layers)} hollows"
    words = f"{named} into {into}, {depth} deep{f' with all {many} batches' if many > 1 else ''}.{rest}"
    if batch.pot and batch.pot.pour_from_s is not None:
        words += " At the sheet's pour temperature: infrared on the cup."
    return words + " Thin stream, from low; leave the last film in the cup."
