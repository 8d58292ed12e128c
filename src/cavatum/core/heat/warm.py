"""Compiles the kernel into its cache, so that neither a server's start nor somebody's first plan waits for
it. Run by the set-up.
"""

from __future__ import annotations

from ..cure.parameters import CLASSES
from .body import Body
from .cast import Cast
from .column import Stack
from .grid import Room
from .materials import Surround


def warm() -> float:
    """A short run of the kernel in a slab and in a column, so that both are compiled or loaded; returns the
    moment they reached [s].

    Raises nothing. Valid as a warming only; no figure comes of it: seconds the first time, a quarter of
    one from the cache. Source: none, it computes nothing of the trade.
    """
    column = Body(width=lambda h: 0.1, area=lambda h: 0.007, wetted=lambda h: 0.3 * h, tall_m=0.01)
    layer = Cast(from_m=0.0, to_m=0.01, kinetics=CLASSES["slow-casting-epoxy"])
    stacks = [
        Stack(body=body, surround=Surround(), room=Room.steady(23.0)).pour(layer)
        for body in (Body.wide(), column)
    ]
    return min(stack.wait(60.0)[0].at_s for stack in stacks)


if __name__ == "__main__":
    warm()
