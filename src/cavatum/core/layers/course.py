"""What becomes of a void's layers, one poured on the other: temperatures, gel, bond windows, the next pour's
moment. Rules 4.1, 4.2.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass, replace

import numpy as np

from ..calibration.at_pouring import AtPouring
from ..calibration.gates import BELOW_TG_K, DEMOULD_C
from ..calibration.of_system import Cure
from ..calibration.own_layer import COARSE_K
from ..calibration.spread import PAST_THE_PEAK
from ..common.remembered import Remembered
from ..cure.kinetics import glass_transition
from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat import kernel
from ..heat.body import Body
from ..heat.cast import Cast
from ..heat.column import Stack
from ..heat.grid import Array, Room
from ..heat.laden import Load, unladen
from ..heat.materials import Surround
from ..heat.run import TOLERANCE_K, March, Stop, crossing

LONGEST_S = 14 * 86400.0  # a layer that is not ready by then never is, as far as a plan is concerned
FOLLOWED_S = 30 * 86400.0  # a state that is not reached by then never is
COOL_OVER_ROOM_K = 2.0  # in a room above 30 degC nothing cools to 32
PAST = 0.002  # of conversion: a crossing is read between two steps


@dataclass(frozen=True, kw_only=True)
class Window:
    """Seconds after this layer was poured: gelled <= opens <= demould <= cured, opens <= closes.

    opens_s    surface past its gate, all of it gelled, and cool enough below the next layer; None: not within
               LONGEST_S
    closes_s   None: it does not close within FOLLOWED_S
    demould_s  past its gate and cool enough to be handled; None, as in the others: not within FOLLOWED_S
    touch_s, light_s  its surface dry to the touch, and fit for light use; None too where the sheet does
    not say
    least      conversion of its least cured place when it was followed no longer
    chamber_s, turned_s  how long it stays under pressure, and is turned: the sheet's word, else until it may
    leave its form, and has gelled
    peak_s, peak_c  when this layer is hottest, and how hot [degC]; None where heat is not computed
    """

    opens_s: float | None
    closes_s: float | None
    demould_s: float | None
    gelled_s: float | None
    cured_s: float | None
    least: float = 1.0
    touch_s: float | None = None
    light_s: float | None = None
    peak_s: float | None = None
    peak_c: float | None = None
    chamber_s: float | None = None
    turned_s: float | None = None


@dataclass(frozen=True, kw_only=True)
class Poured:
    """One layer as it was poured: when [s from the first pour], how warm the layers below were, what it began
    with, and what is in it.
    """

    from_m: float
    to_m: float
    cure: Cure
    at_s: float
    below_c: float | None
    began: AtPouring
    load: Load


# What a layer between two heights [m] begins with, of a system, in a room [degC]
Begins = Callable[[float, float, Cure, float], AtPouring]


# The stuff that stands between two heights [m]: resin and what is in it
Loads = Callable[[float, float, Kinetics], Load]


def nothing_in_it(from_m: float, to_m: float, kinetics: Kinetics) -> Load:
    """Resin alone."""
    return unladen(kinetics)


def fresh(from_m: float, to_m: float, cure: Cure, room_c: float) -> AtPouring:
    """As warm as the room and not cured at all: where no batch is followed."""
    return AtPouring(celsius=room_c)


@dataclass(frozen=True, kw_only=True)
class Course:
    """A void being filled. Never changed in place: pouring and waiting hand back a new one. begins: what its
    batches bring along from their cup; loads: what is in its layers beside the mix; stirring: its liquid by
    itself, at so many times its Rayleigh number; made_from: all that it
    hangs on beside its layers, None where nobody says.
    """

    stack: Stack
    layers: tuple[Poured, ...] = ()
    marches: tuple[tuple[March, int], ...] = ()
    is_coarse: bool = False
    begins: Begins = fresh
    loads: Loads = nothing_in_it
    stirring: float = 1.0
    made_from: Hashable = None

    @property
    def reach(self) -> Array:
        """Of each layer, as its grid has it: see reach_of."""
        assert self.stack.grid is not None
        return self.stack.grid.reach

    @property
    def signature(self) -> Hashable:
        """Equal for courses that are equal in all that becomes of them."""
        if self.made_from is None:
            return None
        poured = tuple((one.from_m, one.to_m, one.cure.system_id, one.at_s) for one in self.layers)
        return self.made_from, poured, self.stack.at_s

    @classmethod
    def empty(
        cls,
        body: Body,
        surround: Surround,
        room: Room,
        *,
        coarse: bool = False,
        begins: Begins = fresh,
        loads: Loads = nothing_in_it,
        stirring: float = 1.0,
    ) -> Course:
        """coarse: half the cells and a wider tolerance, for ensembles."""
        return cls(
            begins=begins,
            loads=loads,
            stirring=stirring,
            stack=Stack(
                body=body, surround=surround, room=room, tolerance_k=COARSE_K if coarse else TOLERANCE_K
            ),
            is_coarse=coarse,
        )

    def pour(self, from_m: float, to_m: float, cure: Cure) -> Course:
        """Now, as warm and as far cured as its batch comes out of the cup."""
        room_c = self.stack.room.at(self.stack.at_s) - ZERO_C_K
        began = self.begins(from_m, to_m, cure, room_c)
        load = self.loads(from_m, to_m, cure.kinetics)
        below = float(self.stack.t.max()) - ZERO_C_K if self.layers else None
        stack = self.stack.pour(
            Cast(
                from_m=from_m,
                to_m=to_m,
                kinetics=load.kinetics,
                poured_k=began.celsius + ZERO_C_K,
                conversion=began.conversion,
                is_coarse=self.is_coarse,
                stirs=self.stirring if load.stirs else 0.0,
            )
        )
        return replace(
            self,
            stack=stack,
            layers=(
                *self.layers,
                Poured(
                    from_m=from_m,
                    to_m=to_m,
                    cure=cure.for_layer(to_m - from_m),
                    at_s=stack.at_s,
                    below_c=below,
                    began=began,
                    load=load,
                ),
            ),
        )

    def wait(self, to_s: float, stop: Stop | None = None, *, keep: bool = False) -> Course:
        if to_s <= self.stack.at_s + 1e-6:
            return self
        stack, done = self.stack.wait(to_s, stop, keep=keep)
        return replace(self, stack=stack, marches=(*self.marches, (done, len(self.layers))))

    def anew(
        self,
        *,
        warmer_k: float = 0.0,
        surround: Surround | None = None,
        coarse: bool = False,
        begins: Begins | None = None,
        stirring: float = 1.0,
    ) -> Course:
        """The same void, still empty, in a room that is so much warmer, or among other surroundings."""
        stack = self.stack
        return Course.empty(
            stack.body.tabulated if coarse else stack.body,
            surround or stack.surround,
            stack.room.warmer(warmer_k),
            coarse=coarse,
            begins=begins or self.begins,
            loads=self.loads,
            stirring=self.stirring * stirring,
        )

    def emptied(self) -> Course:
        """The same void as it was before its first layer."""
        stack = self.stack
        empty = Course.empty(
            stack.body,
            stack.surround,
            stack.room,
            coarse=self.is_coarse,
            begins=self.begins,
            loads=self.loads,
            stirring=self.stirring,
        )
        return replace(empty, made_from=self.made_from)

    def at(self, at_s: float, *, keep: bool = False) -> Course:
        """At a later hour: what is in it has waited; an empty one has seen the room alone change."""
        if self.layers:
            return self.wait(at_s, keep=keep)
        return replace(self, stack=replace(self.stack, at_s=at_s))

    def poured_as(self, layers: Iterable[Poured], *, keep: bool = False) -> Course:
        """With layers like those, each at its own hour. keep: every row keeps its own state too."""
        course = replace(self, stack=replace(self.stack, merges=not keep)) if keep else self
        for one in layers:
            course = course.at(one.at_s, keep=keep).pour(one.from_m, one.to_m, one.cure)
        return course

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
        """Until the top layer takes the next: surface past its gate, all of it gelled, nothing hotter than
        its gate's; or hotter than give_up_c.
        """
        gate = self.top.cure.gates.opens(self.top.to_m - self.top.from_m)
        stop = Stop(
            layer=len(self.layers) - 1,
            conversion=gate,
            least=self.top.cure.gates.gel,
            hottest_k=self.cool_k(),
            give_up_k=give_up_c + ZERO_C_K,
        )
        return self.wait(self.top.at_s + LONGEST_S, stop, keep=keep)

    def until_hottest(self) -> Course:
        """Until the top layer has been as hot as it gets."""
        stop = Stop(layer=len(self.layers) - 1, conversion=0.0, least=PAST_THE_PEAK)
        return self.wait(self.top.at_s + LONGEST_S, stop)

    def peak_c(self) -> float:
        """Hottest of all so far."""
        return max(float(done.hottest.max()) for done, _ in self.marches) - ZERO_C_K

    def window(self) -> Window:
        """The top layer's own, as if nothing were poured on it. Worked out once: ways to split that begin
        alike, and what follows the last pour, ask again.
        """
        return _WINDOWS.get(self.signature, self._followed)

    def _followed(self) -> Window:
        start, gates = self.top.at_s, self.top.cure.gates
        top = len(self.layers) - 1
        here = self.until_ready()
        opens = here.stack.at_s - start if here.is_ready else None
        cured = max(gates.demould, gates.full_cure) + PAST
        last = Stop(
            layer=top,
            conversion=gates.bond_to + PAST,
            least=min(cured, 1.0),
            hottest_k=max(gates.demould_c + ZERO_C_K, max(self.stack.room.by_step_k) + COOL_OVER_ROOM_K),
        )
        on = here.wait(start + gates.full_cure_s, last)
        if not on.is_ready:
            last = replace(last, least=min(last.least, gates.film + PAST))
            on = on.wait(start + FOLLOWED_S, last)
        marches = [done for done, layers in on.marches if layers == len(self.layers)]
        times = np.concatenate([done.times for done in marches]) - start
        watched = np.concatenate([done.watched[:, top] for done in marches])

        def when(what: int, value: float) -> float | None:
            return crossing(times, watched[:, what], value)

        def cured_to(gate: float, sheet_s: float) -> float | None:
            return _cured_to(times, watched[:, kernel.LEAST_CURED], gate, gates.film, sheet_s)

        closes = when(kernel.TOP_A, gates.bond_to)
        hottest = int(np.argmax(watched[:, kernel.HOTTEST]))
        out = self._out_of_form(times, watched, cured_to(gates.demould, gates.demould_s))
        opens, out, done = _in_order(opens, out, cured_to(gates.full_cure, gates.full_cure_s))
        return Window(
            opens_s=opens,
            closes_s=None if closes is None else max(closes, opens or 0.0),
            demould_s=out,
            gelled_s=when(kernel.LEAST_CURED, gates.gel),
            cured_s=done,
            least=float(watched[-1, kernel.LEAST_CURED]),
            touch_s=None if gates.touch is None else when(kernel.TOP_A, gates.touch),
            light_s=None if gates.light is None else cured_to(gates.light, gates.light_use_s),
            peak_s=float(times[hottest]),
            peak_c=float(watched[hottest, kernel.HOTTEST]) - ZERO_C_K,
        )

    def _out_of_form(self, times: Array, watched: Array, hard_s: float | None) -> float | None:
        """From when [s after pouring] the top layer is hard, and stays cooler than resin may be that is
        handled: the lower of 40 degC and 10 K below its own glass transition, or what the sheet's layer is
        when the sheet lets it out, or what the room is.
        """
        if hard_s is None:
            return None
        cure, least = self.top.cure, watched[:, kernel.LEAST_CURED]
        tg_k = np.array([glass_transition(cure.kinetics, float(one)) for one in least])
        allowed_k = np.maximum(
            np.minimum(DEMOULD_C + ZERO_C_K, tg_k - BELOW_TG_K),
            max(cure.gates.demould_c + ZERO_C_K, max(self.stack.room.by_step_k) + COOL_OVER_ROOM_K),
        )
        over_k = watched[:, kernel.HOTTEST] - allowed_k
        last = np.flatnonzero(over_k > 0)[-1:]
        if last.size == 0:
            return hard_s
        i = int(last[0])
        if i + 1 == len(times):
            return None
        share = over_k[i] / (over_k[i] - over_k[i + 1])
        return max(hard_s, float(times[i] + share * (times[i + 1] - times[i])))

    def curve(self, layer: int) -> tuple[Array, Array]:
        """(times [s from the first pour], hottest [degC]) of one layer over all that was waited."""
        times = [np.array([self.layers[layer].at_s])]
        hottest = [np.array([self.layers[layer].began.celsius + ZERO_C_K])]
        for done, layers in self.marches:
            if layers > layer:
                times.append(done.times)
                hottest.append(done.hottest[:, layer])
        return np.concatenate(times), np.concatenate(hottest) - ZERO_C_K

    def stirred(self, layer: int) -> float:
        """How many times better than at rest heat went up through a layer at most, while it was liquid."""
        watched = [done.watched[:, layer, kernel.STIRRED] for done, layers in self.marches if layers > layer]
        return max((float(one.max()) for one in watched), default=1.0)

    def first(self, layer: int, what: int, value: float) -> float | None:
        """When [s from the first pour] a watched value of a layer reaches `value`."""
        for done, layers in self.marches:
            if layers > layer:
                found = done.first(layer, what, value)
                if found is not None:
                    return found
        return None


# Small beside the marches they are read from.
_WINDOWS: Remembered[Window] = Remembered(2048)


def _cured_to(times: Array, least: Array, gate: float, film: float, sheet_s: float) -> float | None:
    """When the least cured place has the gate's own conversion, or from the sheet's time on that of its film:
    whichever is first.
    """
    own, as_film = crossing(times, least, gate), crossing(times, least, film)
    both = None if as_film is None or film >= gate else max(as_film, sheet_s)
    return min((one for one in (own, both) if one is not None), default=None)


def _in_order(*times: float | None) -> list[float | None]:
    """Each no earlier than the one before; after a never comes never."""
    found: list[float | None] = []
    last: float | None = 0.0
    for one in times:
        last = None if one is None or last is None else max(one, last)
        found.append(last)
    return found
