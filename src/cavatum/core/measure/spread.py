"""How far off the litres may be, from how far off each reading may be, and which reading is worth taking
again.

    half width = sqrt(sum of u_i^2),  u_i = (V(x_i + s_i) - V(x_i - s_i)) / 2

Readings are taken as independent of each other. Only spreads that somebody gave count; nothing is assumed.
Source: law of propagation of uncertainty, JCGM 100:2008 (GUM) 5.1.2, by differences.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..common.errors import DomainError
from ..common.working import Data
from ..piece.shapes import Outline
from .shape_hollow import readings_of, words_of

BETWEEN = "the shape between the stations"


@dataclass(frozen=True)
class Share:
    """What one reading's spread does to the volume [m3], and how to call it."""

    name: str
    half_m3: float


def shares_of(part: Any, volume: Callable[[Any], float]) -> list[Share]:
    """The share of every reading with a spread, largest first. `volume` computes the volume [m3] of a changed
    part.
    """
    middle = volume(part)
    shares = []
    for path, reading in readings_of(part):
        if reading.spread is None:
            continue
        sides = [_try(part, path, reading, sign * reading.spread, volume) for sign in (1, -1)]
        if sides[0] is not None and sides[1] is not None:
            half = abs(sides[0] - sides[1]) / 2
        else:  # one side is out of bounds (a width that would fall below 0): the other one alone
            one = next((side for side in sides if side is not None), middle)
            half = abs(one - middle)
        shares.append(Share(words_of(path), half))
    return sorted(shares, key=lambda one: -one.half_m3)


def traced_share(shape: Any, volume_m3: float) -> list[Share]:
    """A traced outline's area is off as a whole."""
    if isinstance(shape, Outline) and shape.area_spread is not None:
        return [Share("traced outline", volume_m3 * shape.area_spread.value)]
    return []


def joined(shares: list[Share]) -> float:
    """Half width [m3] of all shares together.

        sqrt(sum of half_i^2)

    shares  each with its half width [m3], >= 0
    Raises nothing. Valid for readings that are off independently of each other.
    Source: law of propagation of uncertainty, JCGM 100:2008 (GUM) 5.1.2.
    """
    return math.sqrt(sum(one.half_m3**2 for one in shares))


def _try(
    part: Any, path: tuple[str | int, ...], reading: Any, shift: float, volume: Callable[[Any], float]
) -> float | None:
    try:
        changed = type(reading).model_validate({"value": reading.value + shift, "origin": reading.origin})
        return volume(_with(part, path, changed))
    except (DomainError, ValueError):
        return None


def _with(part: Any, path: tuple[str | int, ...], value: Any) -> Any:
    """The part with one value deep inside replaced; everything else is shared."""
    if not path:
        return value
    head, rest = path[0], path[1:]
    if isinstance(part, list):
        return [_with(one, rest, value) if index == head else one for index, one in enumerate(part)]
    assert isinstance(part, Data) and isinstance(head, str)
    return part.model_copy(update={head: _with(getattr(part, head), rest, value)})
