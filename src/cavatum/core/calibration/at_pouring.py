"""How warm and how far cured a batch is when it leaves its cup: what every layer begins with. Rule 4.1."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Temperature
from ..common.workshop import Workshop
from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat.cup import LEAST_KG, MOST_KG, Cup, cup_grid
from ..heat.grid import Room
from ..heat.run import crossing, march
from ..resin.system import System

CUP_FILL = 2 / 3  # common practice, no source: leave a third of the cup free for stirring
LONGEST_WAIT_S = (
    4 * 3600.0
)  # own choice: a batch that is not as warm as it should be by then is poured as it is
DIGITS = 3  # of the batch's mass: nearer the start of a layer does not move


@dataclass(frozen=True, kw_only=True)
class CupTimes:
    """How long a batch of one system stands before it is poured, and how warm the sheet wants it then.

    stands_s  stirring and resting
    again_s   stirring in a second cup on top, where the sheet gives a time and the workshop does it
    warm_c    the middle of the sheet's pour temperatures; None: it asks for none
    """

    stands_s: float = 0.0
    again_s: float = 0.0
    warm_c: float | None = None

    def here(self, *, second_cup: bool) -> CupTimes:
        """As this workshop stirs."""
        again_s = self.again_s if second_cup else 0.0
        return CupTimes(stands_s=self.stands_s + again_s, warm_c=self.warm_c)


@dataclass(frozen=True, kw_only=True)
class AtPouring:
    """What a layer begins with. after_s: from the first stir; batch_kg: None where no batch was followed and
    it begins fresh, at the room's temperature.
    """

    celsius: float
    conversion: float = 0.0
    after_s: float = 0.0
    batch_kg: float | None = None


def cup_times(system: System) -> CupTimes:
    """Standing time and wanted temperature of a sheet.

        stands = stirring + resting;   warm = (from + to) / 2

    Raises nothing. Exact. Source: the data sheet.
    """
    low, high = system.pour_from_c, system.pour_to_c
    ends = [one.value for one in (low, high) if one is not None]
    return CupTimes(
        stands_s=system.stir_s.value + system.rest_s.value,
        again_s=system.stir_again_s.value if system.stir_again_s else 0.0,
        warm_c=sum(ends) / len(ends) if ends else None,
    )


def check_said(system: System, said: Temperature) -> None:
    """A pour temperature that a person said, against the sheet's own; where it gives none, against its room.

    Raises DomainError above it. Exact. Source: the data sheet.
    """
    most = system.pour_to_c or system.room_to_c
    if said.value > most.value + 1e-9:
        of = "pours" if system.pour_to_c else "a room"
        raise DomainError(
            argument="pour temperature",
            value=said.as_typed or f"⟦{plainly(said.value)} °C⟧",
            allowed=f"the sheet of {system.name} has {of} up to ⟦{plainly(most.value)} °C⟧",
            way_out="Pour it cooler.",
            code="too-warm-to-pour",
        )


def batch_of(poured_kg: float, density_kg_m3: float, workshop: Workshop) -> float:
    """Mass [kg] of each of the fewest equal batches that fit two thirds of the cup and the scale.

        m / ceil(m / min(2/3 V_cup rho, scale))

    poured_kg  of all cavities that are filled together [kg], > 0;  density_kg_m3  of the mix
    Raises nothing; the whole where cup or scale carry nothing, which is a verdict of its own. Exact, without
    what stays in the cup. Source: mass balance.
    """
    most = min(workshop.cup_m3.value * CUP_FILL * density_kg_m3, workshop.scale_carries_kg)
    return poured_kg / max(np.ceil(poured_kg / most - 1e-9), 1.0) if most > 0 else poured_kg


def at_pouring(
    kinetics: Kinetics, times: CupTimes, batch_kg: float, room_c: float, said_c: float | None = None
) -> AtPouring:
    """A batch as it is poured: mean temperature and conversion of the stirred whole.

        rho cp dT/dt = div(k grad T) + rho H da/dt in its cup, from parts as warm as the room, until it has
        stood its time and is as warm as the sheet wants it; a temperature that a person said is the one it is
        poured at, of parts warmed to it where the cup does not get there by itself

    kinetics  of the mix;  times  of its sheet;  batch_kg  [kg];  room_c, said_c  [degC]
    Raises DomainError outside the rate law's temperatures. Valid for a cup as wide as high in still air; a
    batch outside 1 g to 50 kg begins fresh. Source: the cup's own grid, as the pot clock.
    """
    if not LEAST_KG <= batch_kg <= MOST_KG:
        return AtPouring(celsius=room_c if said_c is None else said_c)
    rounded = float(f"{batch_kg:.{DIGITS}g}")
    return _followed(kinetics, times, rounded, round(room_c, 2), said_c)


@lru_cache(maxsize=4096)
def _followed(
    kinetics: Kinetics, times: CupTimes, batch_kg: float, room_c: float, said_c: float | None
) -> AtPouring:
    wanted = times.warm_c if said_c is None else said_c
    until = times.stands_s if wanted is None or wanted <= room_c else times.stands_s + LONGEST_WAIT_S
    at, warmth, cured = _cup(kinetics, batch_kg, room_c, room_c, until)
    after = times.stands_s
    if wanted is not None and wanted > room_c:
        reached = crossing(at, warmth, wanted)
        if reached is not None:
            after = max(after, reached)
        elif said_c is not None:
            at, warmth, cured = _cup(kinetics, batch_kg, room_c, said_c, times.stands_s)
    return AtPouring(
        celsius=float(np.interp(after, at, warmth)) if said_c is None else said_c,
        conversion=float(np.interp(after, at, cured)),
        after_s=after,
        batch_kg=batch_kg,
    )


def _cup(
    kinetics: Kinetics, batch_kg: float, room_c: float, start_c: float, until_s: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Times [s], mean degC and mean conversion of a batch in its cup."""
    if until_s <= 0:
        return np.zeros(1), np.array([start_c]), np.zeros(1)
    grid = cup_grid(kinetics, batch_kg, Cup(radial=4, up=6))
    done = march(
        grid,
        np.full(grid.cells, start_c + ZERO_C_K),
        np.zeros(grid.cells),
        Room.steady(room_c),
        0.0,
        until_s,
        keep=True,
    )
    share = grid.capacity / grid.capacity.sum()
    return (
        np.concatenate([[0.0], done.times]),
        np.concatenate([[start_c], done.kept_t @ share - ZERO_C_K]),
        np.concatenate([[0.0], done.kept_a @ share]),
    )
