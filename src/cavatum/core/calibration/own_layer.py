"""The layer that a data sheet measures on: wide, on 18 mm board, in a steady room, with nothing on it."""

from __future__ import annotations

from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat.body import Body
from ..heat.cast import Cast
from ..heat.column import Stack
from ..heat.grid import Room
from ..heat.materials import Surround
from ..heat.run import TOLERANCE_K
from .at_pouring import AtPouring

COARSE_K = 0.3  # for ensembles and searches, where the draws differ by far more


def own_layer(
    kinetics: Kinetics,
    depth_m: float,
    room_c: float,
    poured: AtPouring | None = None,
    *,
    surround: Surround | None = None,
    stirs: float = 1.0,
    coarse: bool = False,
) -> Stack:
    """That layer, just poured.

    kinetics, depth_m [m], room_c [degC]  of it;  poured  what it begins with; None: fresh, as warm as the
    room;  surround  where it stands otherwise;  stirs  by its own warmth, at so many times its Rayleigh
    number;  coarse  half the cells and a wider tolerance
    Raises DomainError outside the grid's depths and temperatures. Valid as the grid is, 0.1 K, coarse 1 K.
    Source: the march of heat/kernel.py.
    """
    begins = poured or AtPouring(celsius=room_c)
    empty = Stack(
        body=Body.wide(),
        surround=surround or Surround(),
        room=Room.steady(room_c),
        tolerance_k=COARSE_K if coarse else TOLERANCE_K,
    )
    return empty.pour(
        Cast(
            from_m=0.0,
            to_m=depth_m,
            kinetics=kinetics,
            poured_k=begins.celsius + ZERO_C_K,
            conversion=begins.conversion,
            is_coarse=coarse,
            stirs=stirs,
        )
    )
