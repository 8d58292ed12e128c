"""Layers of several voids joined into pours: the n-th layers of all voids are poured in one go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import zip_longest

from ..common.readings import Fraction
from ..measure.cavity import Cavity
from ..piece.colour import Recipe
from ..piece.parts import Filled, Portion
from ..resin.ratio import MixRatio
from ..resin.system import System
from .split import Layer


@dataclass(frozen=True, kw_only=True)
class Fill:
    """One layer of one void (of all its equal cavities) with what it is filled with."""

    void: Filled
    portion: Portion
    cavity: Cavity
    system: System
    ratio: MixRatio
    layer: Layer
    reserve: Fraction | None = None
    recipe: Recipe | None = None

    @cached_property
    def volume_m3(self) -> float:
        """Resin in one cavity's layer, net."""
        return self.cavity.volume(self.layer.to_m) - self.cavity.volume(self.layer.from_m)

    @property
    def mass_kg(self) -> float:
        """Mass of one connected body: what the depth rules ask for."""
        return self.volume_m3 * self.ratio.mixed_density


@dataclass(frozen=True)
class Pour:
    """The n-th layers of all voids, poured in one go; coat: 0, or which coat it is."""

    number: int
    fills: list[Fill]
    coat: int = 0

    @property
    def called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"pour {self.number}"

    @property
    def layer_called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"layer {self.number}"

    @property
    def heats(self) -> list[tuple[str, float, float, str]]:
        """(void, from, to, system) of each layer, as the heat run takes it."""
        return [(fill.void.id, fill.layer.from_m, fill.layer.to_m, fill.system.id) for fill in self.fills]


def pours_of(voids: list[list[Fill]], coats: list[list[Fill]]) -> list[Pour]:
    """The first layers of all voids are the first pour, the second ones the second, and so on; coats follow
    the last of them.
    """
    poured = [
        Pour(number, [fill for fill in row if fill is not None])
        for number, row in enumerate(zip_longest(*voids), start=1)
    ]
    laid = zip_longest(*coats)
    return poured + [
        Pour(len(poured) + number, [fill for fill in row if fill is not None], number)
        for number, row in enumerate(laid, start=1)
    ]


def deepest_fills(pours: Sequence[Pour]) -> dict[str, Fill]:
    """The deepest layer of each void, by the void's id."""
    deepest: dict[str, Fill] = {}
    for fill in (fill for pour in pours for fill in pour.fills):
        known = deepest.get(fill.void.id)
        if known is None or fill.layer.depth_m > known.layer.depth_m:
            deepest[fill.void.id] = fill
    return deepest


def last_of_voids(pours: Sequence[Pour]) -> set[int]:
    """Places of the pours that are the last one of some void or coat."""
    return set({fill.void.id: place for place, pour in enumerate(pours) for fill in pour.fills}.values())
