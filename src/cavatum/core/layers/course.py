"""What becomes of a void's layers, one poured on the other: temperatures, gel, bond windows, the next pour's
moment. Rules 4.1, 4.2.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..calibration.from_sheet import COARSE_K
from ..calibration.of_system import Cure
from ..cure.parameters import ZERO_C_K
from ..heat import kernel
from ..heat.column import Body, Cast, Stack
from ..heat.grid import Array, Room
from ..heat.materials import Surround
from ..heat.run import TOLERANCE_K, March, Stop, crossing

LONGEST_S = 14 * 86400.0  # a layer that is not ready by then never is, as far as a plan is concerned
COOL_OVER_ROOM_K = 2.0  # in a room above 30 degC nothing cools to 32


@dataclass(frozen=True, kw_only=True)
class Window:
    """Seconds after this layer was poured; None: not within LONGEST_S."""

    opens_s: float | None
    closes_s: float | None
    demould_s: float | None
    gelled_s: float | None
    cured_s: float | None


@dataclass(frozen=True, kw_only=True)
class Poured:
    """One layer as it was poured: when [s from the first pour], how warm the layers below were."""

    from_m: float
    to_m: float
    cure: Cure
    at_s: float
    below_c: float | None


@dataclass(frozen=True, kw_only=True)
class Course:
    """A void being filled. Never changed in place: pouring and waiting hand back a new one."""

    stack: Stack
    layers: tuple[Poured, ...] = ()
    marches: tuple[tuple[March, int], ...] = ()
    is_coarse: bool = False

    @classmethod
    def empty(cls, body: Body, surround: Surround, room: Room, *, coarse: bool = False) -> Course:
        """coarse: half the cells and a wider tolerance, for ensembles."""
        return cls(
            stack=Stack(
                body=body, surround=surround, room=room, tolerance_k=COARSE_K if coarse else TOLERANCE_K
            ),
            is_coarse=coarse,
        )

    def pour(self, from_m: float, to_m: float, cure: Cure) -> Course:
        """Now. In the room's temperature, or the system's pour temperature where it asks for a warmer one (it
        warms itself in the cup).
        """
        below = float(self.stack.t.max()) - ZERO_C_K if self.layers else None
        stack = self.stack.pour(
            Cast(from_m=from_m, to_m=to_m, kinetics=cure.kinetics, is_coarse=self.is_coarse)
        )
        return replace(
            self,
            stack=stack,
            layers=(
                *self.layers,
                Poured(from_m=from_m, to_m=to_m, cure=cure, at_s=stack.at_s, below_c=below),
            ),
        )

    def wait(self, to_s: float, stop: Stop | None = None, *, keep: bool = False) -> Course:
        if to_s <= self.stack.at_s + 1e-6:
            return self
        stack, done = self.stack.wait(to_s, stop, keep=keep)
        return replace(self, stack=stack, marches=(*self.marches, (done, len(self.layers))))

    def warmer(self, kelvin: float) -> Course:
        """The same void, still empty, in a room that is so much warmer; coarse."""
        return Course.empty(self.stack.body, self.stack.surround, self.stack.room.warmer(kelvin), coarse=True)

    def later(self, at_s: float) -> Course:
        """The same void, still empty, at a later hour of the room."""
        return replace(self, stack=replace(self.stack, at_s=at_s))

    @property
    def top(self) -> Poured:
        return self.layers[-1]

    @property
    def is_ready(self) -> bool:
        """The last march ended since the next layer may be poured."""
        return bool(self.marches) and self.marches[-1][0].ended == kernel.EVENT

    def cool_k(self) -> float:
        return max(self.top.cure.gates.cool_c + ZERO_C_K, max(self.stack.room.by_step_k) + COOL_OVER_ROOM_K)

    def until_ready(self, give_up_c: float = 1e6, *, keep: bool = False) -> Course:
        """Until the top layer takes the next: surface past its gate, nothing hotter than its gate's; or
        hotter than give_up_c.
        """
        gate = self.top.cure.gates.opens(self.top.to_m - self.top.from_m)
        stop = Stop(
            layer=len(self.layers) - 1,
            conversion=gate,
            hottest_k=self.cool_k(),
            give_up_k=give_up_c + ZERO_C_K,
        )
        return self.wait(self.top.at_s + LONGEST_S, stop, keep=keep)

    def peak_c(self) -> float:
        """Hottest of all so far."""
        return max(float(done.hottest.max()) for done, _ in self.marches) - ZERO_C_K

    def window(self) -> Window:
        """The top layer's own, as if nothing were poured on it."""
        start, gates = self.top.at_s, self.top.cure.gates
        top = len(self.layers) - 1
        last = Stop(layer=top, conversion=max(gates.bond_to, gates.full_cure) + 0.002, hottest_k=1e6)
        here = self.until_ready()
        ready = here.stack.at_s - start if here.is_ready else None
        on = here.wait(start + 2 * LONGEST_S, last)
        times = (
            np.concatenate([done.times for done, layers in on.marches if layers == len(self.layers)]) - start
        )
        watched = np.concatenate(
            [done.watched[:, top] for done, layers in on.marches if layers == len(self.layers)]
        )

        def when(what: int, value: float) -> float | None:
            found = crossing(times, watched[:, what], value)
            return found if found is None or found <= 2 * LONGEST_S else None

        closes = when(kernel.TOP_A, gates.bond_to)
        if ready is not None and closes is not None and closes < ready:
            closes = None if times[-1] < ready else ready
        return Window(
            opens_s=ready,
            closes_s=closes,
            demould_s=when(kernel.LEAST_CURED, gates.demould),
            gelled_s=when(kernel.LEAST_CURED, gates.gel),
            cured_s=when(kernel.LEAST_CURED, gates.full_cure),
        )

    def curve(self, layer: int) -> tuple[Array, Array]:
        """(times [s from the first pour], hottest [degC]) of one layer over all that was waited."""
        times = [np.array([self.layers[layer].at_s])]
        hottest = [np.array([self.stack.room.at(self.layers[layer].at_s)])]
        for done, layers in self.marches:
            if layers > layer:
                times.append(done.times)
                hottest.append(done.hottest[:, layer])
        return np.concatenate(times), np.concatenate(hottest) - ZERO_C_K

    def first(self, layer: int, what: int, value: float) -> float | None:
        """When [s from the first pour] a watched value of a layer reaches `value`."""
        for done, layers in self.marches:
            if layers > layer:
                found = done.first(layer, what, value)
                if found is not None:
                    return found
        return None
