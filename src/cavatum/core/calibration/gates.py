"""When a layer may be poured on, bonds no longer, may leave the form: as conversions, read where the sheet
measured its times.

The sheet's own recoat, demould and full cure are simulated on the sheet's own layer (wide, 18 mm board, 23
degC or the room it names); the conversion found
there holds everywhere else. A fixed glass transition would be far too slow a rule.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat import kernel
from ..resin.system import SHEET_ROOM_C
from .at_pouring import AtPouring
from .own_layer import own_layer

ABOVE_GEL = 0.05  # a layer that heats takes the next when its surface is this far past gel
HEATS_FROM_M = 0.020  # layers up to this never pass 30 degC in a slow resin: for them the sheet's own touch
COOL_C = 32.0  # hottest allowed below a new layer
MOST_GATE = 0.97
FILM_M = 0.001  # stands for a film that keeps the temperature of the room
DEMOULD_C = 40.0  # own judgement: hotter than a hand likes, resin is soft and keeps the bend it is given
BELOW_TG_K = 10.0  # own judgement: nearer to its glass transition it creeps


@dataclass(frozen=True, kw_only=True)
class SheetTimes:
    """Seconds after pouring, on a layer of depth_m."""

    depth_m: float
    bond_from_s: float
    bond_to_s: float
    demould_s: float
    full_cure_s: float
    room_c: float = SHEET_ROOM_C
    tack_free_s: float | None = None
    light_use_s: float | None = None


@dataclass(frozen=True, kw_only=True)
class Gates:
    """Conversions: of the surface for the window, of the least cured cell for demoulding and full cure.

    cool_c  hottest allowed below a new layer: 32 degC, or what the sheet's own layer still is at its latest
            recoat (fast resins are poured on warm)
    demould_c  what the sheet's own layer still is when the sheet lets it out
    film  of a film that does not warm itself, in the sheet's room at its full cure: so far the sheet calls
          even that cured. A deep layer that warms itself gets further, and a smaller body need not
    demould_s, full_cure_s, light_use_s  the sheet's own times: `film` counts from them on
    touch, light  of the surface when it is dry to the touch, of the least cured cell for light use; None:
    the sheet
          does not say
    """

    bond_from: float
    bond_to: float
    demould: float
    full_cure: float
    gel: float
    cool_c: float = COOL_C
    demould_c: float = SHEET_ROOM_C
    film: float = 1.0
    demould_s: float = 0.0
    full_cure_s: float = 0.0
    touch: float | None = None
    light: float | None = None
    light_use_s: float = 0.0

    def opens(self, depth_m: float) -> float:
        """Surface conversion from which a layer of this depth takes the next."""
        return (
            max(self.bond_from, self.gel + ABOVE_GEL)
            if depth_m > HEATS_FROM_M
            else max(self.bond_from, self.gel)
        )


@lru_cache(maxsize=256)
def gates_of(kinetics: Kinetics, times: SheetTimes, poured: AtPouring | None = None) -> Gates:
    """Reads the conversions off the sheet's own layer; none is taken over MOST_GATE, which a cool room may
    never reach. poured: what that layer began with; None: fresh, at its room's temperature.
    """
    layer = own_layer(kinetics, times.depth_m, times.room_c, poured)
    latest = max(times.full_cure_s, times.demould_s, times.bond_to_s, times.light_use_s or 0.0)
    _, done = layer.wait(latest + 3600.0)
    _, in_film = own_layer(kinetics, FILM_M, times.room_c, poured).wait(times.full_cure_s)

    def read(what: int, at_s: float) -> float:
        return min(float(np.interp(at_s, done.times, done.watched[:, 0, what])), MOST_GATE)

    def hottest_c(at_s: float) -> float:
        return float(np.interp(at_s, done.times, done.hottest[:, 0])) - ZERO_C_K

    return Gates(
        bond_from=read(kernel.TOP_A, times.bond_from_s),
        bond_to=read(kernel.TOP_A, times.bond_to_s),
        demould=read(kernel.LEAST_CURED, times.demould_s),
        full_cure=read(kernel.LEAST_CURED, times.full_cure_s),
        gel=kinetics.gel,
        cool_c=max(COOL_C, hottest_c(times.bond_to_s)),
        demould_c=hottest_c(times.demould_s),
        film=min(float(in_film.watched[-1, 0, kernel.LEAST_CURED]), MOST_GATE),
        demould_s=times.demould_s,
        full_cure_s=times.full_cure_s,
        touch=None if times.tack_free_s is None else read(kernel.TOP_A, times.tack_free_s),
        light=None if times.light_use_s is None else read(kernel.LEAST_CURED, times.light_use_s),
        light_use_s=times.light_use_s or 0.0,
    )
