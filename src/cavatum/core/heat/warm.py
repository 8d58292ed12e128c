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
    """A short run of the kernel, so that it is compiled or loaded; returns the moment it reached [s].

    Raises nothing. Valid as a warming only; no figure comes of it: seconds the first time, a quarter of
    one from the cache. Source: none, it computes nothing of the trade.
    """
    stack = Stack(body=Body.wide(), surround=Surround(), room=Room.steady(23.0)).pour(
        Cast(from_m=0.0, to_m=0.01, kinetics=CLASSES["slow-casting-epoxy"])
    )
    return stack.wait(60.0)[0].at_s


if __name__ == "__main__":
    warm()
