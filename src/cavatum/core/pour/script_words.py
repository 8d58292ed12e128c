"""What the steps of a batch say."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.wording import Wording
from ..mix.model import BatchPlan, ColourPlan, PourPlan


def dose_words(colour: ColourPlan, name: str, mass_kg: float, drops: int | None, wording: Wording) -> str:
    return (
        f"{name} {mass_kg * 1000:.1f} g"
        + (f", about {drops} drops" if drops else "")
        + (f" into {colour.colour}" if colour.colour else "")
    )


def shares_words(colours: Sequence[ColourPlan], wording: Wording) -> str:
    return "; ".join(f"{one.colour or 'clear'} {wording.mass(one.clear.value)}" for one in colours) + "."


def batch_words(pour: PourPlan, batch: BatchPlan, wording: Wording) -> str:
    layers = pour.layers
    depths = sorted({round(layer.depth.value, 4) for layer in layers})
    depth = " and ".join(wording.length(one) for one in depths[:2])
    if pour.called.startswith("coat"):
        return (
            f"{wording.mass(batch.mass.value)} over the whole surface, spread it even, edges last; film "
            f"{wording.film(layers[0].depth.value)}."
        )
    words = (
        f"{wording.mass(batch.mass.value)} into "
        f"{'the void' if len(layers) == 1 else f'{len(layers)} hollows'}, {depth} deep."
    )
    if batch.pot and batch.pot.pour_from_s is not None:
        words += " At the sheet's pour temperature: infrared on the cup."
    return words + " Thin stream, from low; leave the last film in the cup."
