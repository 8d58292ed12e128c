"""Splits a stretch of a void into layers: fewest, evenly, in thirds, or as the person drew it. Rules 4.1 and
4.4.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..measure.cavity import Cavity
from ..resin.system import System
from .rules import deepest_top, is_allowed

MOST_LAYERS = 60
THINNEST_M = 1e-4
REST_M = 1e-9  # heights nearer than this are the same
LEAST_POUR_M = (
    1e-3  # own judgement: less than a millimetre is a coat, not a layer that a plan should end with
)


@dataclass(frozen=True, kw_only=True)
class Layer:
    """One layer of one void: heights above its bottom, and what kept it from being deeper."""

    from_m: float
    to_m: float
    limited_by: str
    allowed: bool

    @property
    def depth_m(self) -> float:
        return self.to_m - self.from_m


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """What is to be split: a cavity between two heights, filled with one system."""

    cavity: Cavity
    system: System
    density_kg_m3: float
    from_m: float
    to_m: float

    def layers(self, boundaries: list[float], reason: str) -> list[Layer]:
        edges = [self.from_m, *boundaries, self.to_m]
        return [
            Layer(
                from_m=low,
                to_m=high,
                limited_by=reason,
                allowed=is_allowed(self.cavity, self.system, self.density_kg_m3, low, high),
            )
            for low, high in zip(edges, edges[1:], strict=False)
        ]


def fewest(stretch: Stretch) -> list[Layer]:
    """Greedy from the bottom, each layer as deep as the rules allow; optimal since a later start never ends
    earlier.

    A last layer thinner than the sheet's least depth (or LEAST_POUR_M) takes from the one below. Raises
    Infeasible when no rule lets a
    layer begin, or over MOST_LAYERS.
    """
    layers: list[Layer] = []
    start = stretch.from_m
    while start < stretch.to_m - REST_M:
        limit = deepest_top(stretch.cavity, stretch.system, stretch.density_kg_m3, start, stretch.to_m)
        stuck = limit.top_m - start < THINNEST_M and limit.top_m < stretch.to_m
        if stuck or len(layers) >= MOST_LAYERS:
            raise Infeasible(
                argument="depth rules",
                value=f"{stretch.system.name} over ⟦{plainly((stretch.to_m - stretch.from_m) * 1000)} mm⟧",
                allowed=f"no split into at most {MOST_LAYERS} layers fits them",
                way_out="Choose a system for deeper pours.",
                code="too-many-layers",
            )
        layers.append(Layer(from_m=start, to_m=limit.top_m, limited_by=limit.reason, allowed=True))
        start = limit.top_m
    return _thicken_last(stretch, layers)


def _thicken_last(stretch: Stretch, layers: list[Layer]) -> list[Layer]:
    least = max(stretch.system.least_depth_m.value if stretch.system.least_depth_m else 0.0, LEAST_POUR_M)
    if len(layers) < 2 or layers[-1].depth_m >= least:
        return layers
    edge = stretch.to_m - least
    if edge - layers[-2].from_m < least:
        return layers
    reason = f"lowered so that the next layer has the least ⟦{plainly(least * 1000)} mm⟧"
    below = Layer(from_m=layers[-2].from_m, to_m=edge, limited_by=reason, allowed=True)
    above = Layer(
        from_m=edge,
        to_m=stretch.to_m,
        limited_by=layers[-1].limited_by,
        allowed=is_allowed(stretch.cavity, stretch.system, stretch.density_kg_m3, edge, stretch.to_m),
    )
    return [*layers[:-2], below, above] if above.allowed else layers


def evenly(stretch: Stretch, count: int, reason: str = "an even split") -> list[Layer]:
    step = (stretch.to_m - stretch.from_m) / count
    return stretch.layers([stretch.from_m + step * i for i in range(1, count)], reason)


def even(stretch: Stretch) -> list[Layer]:
    """The fewest equal layers that all fit the rules: at least as many as `fewest`, cooler at the bottom."""
    for count in range(len(fewest(stretch)), MOST_LAYERS + 1):
        layers = evenly(stretch, count)
        if all(layer.allowed for layer in layers):
            return layers
    raise Infeasible(
        argument="even split",
        value=f"over {MOST_LAYERS} layers",
        allowed="equal layers cannot fit the depth rules here",
        way_out="Choose another split.",
        code="too-many-layers",
    )


def thirds(stretch: Stretch) -> list[Layer]:
    """Thirds of the depth up to the rim; what is overfilled comes on top of the last."""
    over = stretch.cavity.void.overfill
    rim = stretch.to_m
    if over is not None and math.isclose(stretch.to_m, stretch.cavity.fill_m):
        rim = max(stretch.to_m - over.value, stretch.from_m + 3 * THINNEST_M)
    step = (rim - stretch.from_m) / 3
    edges = [stretch.from_m + step, stretch.from_m + 2 * step]
    return stretch.layers(edges, "thirds, as for knots and cracks")


def equal_volumes(stretch: Stretch) -> list[Layer]:
    """The fewest layers of equal volume that all fit the rules: equal batches, whatever the shape."""
    cavity, start = stretch.cavity, stretch.cavity.volume(stretch.from_m)
    whole = cavity.volume(stretch.to_m) - start
    for count in range(len(fewest(stretch)), MOST_LAYERS + 1):
        edges = [cavity.height_at(whole * place / count, stretch.from_m) for place in range(1, count)]
        layers = stretch.layers(edges, "equal volumes")
        if all(layer.allowed for layer in layers):
            return layers
    raise Infeasible(
        argument="equal volumes",
        value=f"over {MOST_LAYERS} layers",
        allowed="layers of equal volume cannot fit the depth rules here",
        way_out="Choose another split.",
        code="too-many-layers",
    )


def own(stretch: Stretch, boundaries_m: list[float]) -> list[Layer]:
    """The person's own boundaries. Raises DomainError when one lies outside or out of order."""
    edges = [stretch.from_m, *boundaries_m, stretch.to_m]
    for low, high in zip(edges, edges[1:], strict=False):
        if high - low < THINNEST_M or not math.isfinite(high):
            raise DomainError(
                argument="layer boundary",
                value=f"⟦{plainly(high * 1000)} mm⟧ above ⟦{plainly(low * 1000)} mm⟧",
                allowed=f"each lies above the last, between {plainly(stretch.from_m * 1000)} and "
                f"⟦{plainly(stretch.to_m * 1000)} mm⟧",
                way_out="Move it, or take it out.",
                code="out-of-order",
            )
    return stretch.layers(boundaries_m, "as you drew it")


def split(stretch: Stretch, choice: str, boundaries_m: list[float] | None) -> list[Layer]:
    """By the piece's choice; `own` without drawn boundaries starts from the fewest."""
    if choice == "own" and boundaries_m is not None:
        return own(stretch, boundaries_m)
    if choice == "even":
        return even(stretch)
    if choice == "thirds":
        return thirds(stretch)
    if choice == "volumes":
        return equal_volumes(stretch)
    if choice == "whole":
        return stretch.layers([], "the whole mould in one, as you chose")
    return fewest(stretch)
