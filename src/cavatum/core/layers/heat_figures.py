"""A finished heat run as figures with their workings, as curves and as a map for drawing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..common.plain_numbers import plainly
from ..common.remembered import Remembered
from ..common.working import Figure, Input, Workbook
from ..cure.parameters import ZERO_C_K
from ..cure.warming import warmth_for
from ..heat import kernel
from ..heat.run import March, Stop
from .breathing import wood_rise_figure
from .chance import hot_replay
from .course import Course, Poured, Window
from .heat import HeatRun
from .model import Chance, Early, HeatMap, LayerHeat, WarmUp

Floats = NDArray[np.float64]

RUNAWAY_C = 100.0  # past it a peak is a class, not a number
STIRRED_FROM = 1.02  # times as well as at rest: less is no word worth
CURVE_POINTS, MAP_TIMES = 60, 72
EARLY_SHARES = (0.15, 0.3, 0.5, 0.65, 0.8, 0.9, 1.0, 1.25)
ROOM_STEPS, ROOM_MOST_K = 5, 15.0
MOST_EARLY = 4
SOURCE = (
    "heat balance on cells with walls and floor; movement of the liquid by Hollands, Raithby and "
    "Konicek 1975; Kamal and Sourour 1973 (m = 1, n = 2), "
    "DiBenedetto 1987, ROS2 in time; "
    "checked against SciPy's BDF and published critical values"
)


def layer_heat(
    book: Workbook,
    run: HeatRun,
    void_id: str,
    pour: int,
    name: str,
    rooms: dict[int, float] | None,
    chances: Sequence[Chance] = (),
) -> LayerHeat:
    """Of the layer that pour `pour` (0 the first) put into the void. rooms: of rooms_to; None: neither that
    nor pouring too early is wanted. chances: of all layers of the void.
    """
    course = run.courses[void_id]
    index = index_of(run, void_id, pour)
    layer = course.layers[index]
    times, hottest = course.curve(index)
    place = int(hottest.argmax())
    window = run.own[void_id, pour]
    cure = layer.cure
    figure = _peak_figure(book, run, void_id, pour, name, float(hottest[place]))

    def since(what: int) -> float | None:
        found = course.first(index, what, cure.kinetics.gel)
        return None if found is None else found - layer.at_s

    return LayerHeat(
        peak=figure,
        runs_away=float(hottest[place]) > max(RUNAWAY_C, cure.never_c),
        peak_s=float(times[place]) - layer.at_s,
        poured_s=layer.at_s,
        below_c=layer.below_c,
        gel_first_s=since(kernel.MOST_CURED),
        gel_last_s=since(kernel.LEAST_CURED),
        opens_s=window.opens_s,
        closes_s=window.closes_s,
        demould_s=window.demould_s,
        cured_s=window.cured_s,
        warm_up=_warm_ups(course, layer, window),
        wanted_c=cure.wanted_c,
        never_c=cure.never_c,
        curve=_thinned(times, hottest),
        early=_early(run, void_id, index, window.opens_s) if rooms is not None else [],
        room_to_c=rooms.get(index) if rooms is not None else None,
        began_c=layer.began.celsius,
        began_cured=layer.began.conversion,
        stood_s=layer.began.after_s,
        batch_kg=layer.began.batch_kg,
        chance=chances[index] if chances else None,
        wood_rise=wood_rise_figure(
            book, course, index, name, f"layer/{void_id}/{pour + 1}/wood", run.heat.told[void_id]
        ),
    )


def _warm_ups(course: Course, layer: Poured, window: Window) -> list[WarmUp]:
    """What would reach each state that this room does not."""
    gates, room_k = layer.cure.gates, max(course.stack.room.by_step_k)
    wanted: list[tuple[Literal["pour on", "demould", "full cure"], float | None, float]] = [
        ("pour on", window.opens_s, max(gates.opens(layer.to_m - layer.from_m), gates.gel)),
        # From the sheet's own times on what its film has by then is enough.
        ("demould", window.demould_s, min(gates.demould, gates.film)),
        ("full cure", window.cured_s, min(gates.full_cure, gates.film)),
    ]
    found = []
    for to, at_s, conversion in wanted:
        if at_s is None and (warm := warmth_for(layer.cure.kinetics, window.least, conversion, room_k)):
            found.append(WarmUp(to=to, room_c=warm[0] - ZERO_C_K, for_s=warm[1]))
    return found


def index_of(run: HeatRun, void_id: str, pour: int) -> int:
    """Which layer of its void a pour put in: its place among the pours that went there.

    pour  number of the pour, 0 the first;  void_id  of the void
    Raises ValueError where that pour put nothing there. Exact. Source: by counting.
    """
    return sorted(number for void, number in run.own if void == void_id).index(pour)


def _peak_figure(book: Workbook, run: HeatRun, void_id: str, pour: int, name: str, peak_c: float) -> Figure:
    course = run.courses[void_id]
    layer = course.layers[index_of(run, void_id, pour)]
    room = course.stack.room
    times_better = course.stirred(index_of(run, void_id, pour))
    inputs = [
        *layer.cure.told,
        *run.heat.told[void_id],
        Input(
            name="room when it is poured",
            value=room.at(layer.at_s) - ZERO_C_K,
            quantity="temperature",
            origin="measured",
        ),
        Input(name="depth", value=layer.to_m - layer.from_m, quantity="length", origin="computed"),
        Input(
            name="the mix when it is poured",
            value=layer.began.celsius,
            quantity="temperature",
            origin="computed",
        ),
        Input(
            name="cured by then, of the whole",
            value=layer.began.conversion,
            quantity="fraction",
            origin="computed",
        ),
        Input(name="poured after the first", value=layer.at_s, quantity="duration", origin="computed"),
        *_inert(layer),
        *_stirred(times_better),
    ]
    notes = [
        f"Cure speed worked out from {layer.cure.fitted_to}.",
        _begun(layer),
        "Embedded things of a known stuff and colours make no heat and take some up, spread evenly through "
        "the layer: beside a large thing it is cooler, between two of them hotter. Things of an unknown "
        "stuff count as resin (the hot side).",
    ]
    if times_better > STIRRED_FROM:
        notes.append(
            "While it is liquid, warm resin rises to the cooler surface and sinks along cooler walls, by its "
            "Rayleigh number from viscosity, depth and how much warmer its middle is. It ends as the first "
            "of it gels."
        )
    if not layer.load.stirs:
        notes.append("What stands close together in it holds the liquid at rest.")
    return book.figure(
        f"layer/{void_id}/{pour + 1}/peak",
        f"{name}: hottest",
        peak_c,
        "temperature",
        "ρ cp dT/dt = ∇·(k∇T) + ρ H da/dt, da/dt = f_d k2(T) (b + a)(1 − a)²",
        inputs,
        SOURCE,
        notes,
    )


def _stirred(times_better: float) -> list[Input]:
    if times_better <= STIRRED_FROM:
        return []
    return [
        Input(
            name="heat rising through the moving liquid, times that at rest",
            value=times_better,
            quantity="count",
            origin="computed",
        )
    ]


def _inert(layer: Poured) -> list[Input]:
    if not layer.load.share:
        return []
    return [
        Input(
            name="embedded things and colours, of the layer's room",
            value=layer.load.share,
            quantity="fraction",
            origin="computed",
        )
    ]


def _begun(layer: Poured) -> str:
    began = layer.began
    if began.batch_kg is None:
        return "It begins fresh: no batch in a cup is followed here."
    return (
        f"It begins as a batch of ⟦{plainly(began.batch_kg * 1000, 3)} g⟧ is after "
        f"{plainly(began.after_s / 60, 2)} min in its cup."
    )


def _thinned(times: np.ndarray, values: np.ndarray) -> list[tuple[float, float]]:
    """At most CURVE_POINTS, with the hottest always among them."""
    if len(times) > CURVE_POINTS:
        at = np.unique(np.append(telling_times(times, values, CURVE_POINTS - 1), times[values.argmax()]))
        times, values = at, np.interp(at, times, values)
    return [(round(float(t)), round(float(v), 2)) for t, v in zip(times, values, strict=True)]


def telling_times(times: np.ndarray, values: np.ndarray, count: int) -> np.ndarray:
    """Moments [s], shape (count,), even along the curve: half by time and half by how much it moves. A quick
    peak keeps its shape beside days of cooling.

    times  [s], growing, shape (n,);  values  there, shape (n,);  count  at least 2
    Raises nothing. Valid for drawings and tables; peaks are read from the full curve. Source: own choice.
    """
    moved = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(values)))])
    way = (times - times[0]) / max(times[-1] - times[0], 1e-9) + moved / max(moved[-1], 1e-9)
    return np.asarray(np.interp(np.linspace(0, way[-1], count), way, times))


def _early(run: HeatRun, void_id: str, index: int, opens_s: float | None) -> list[Early]:
    """The next layer poured too early, in time, and late: its peak each time. Of the first MOST_EARLY
    boundaries.
    """
    course = run.courses[void_id]
    if not index + 1 < min(len(course.layers), MOST_EARLY + 1) or opens_s is None:
        return []
    below, following, found = replay(course, index + 1), course.layers[index + 1], []
    for share in EARLY_SHARES:
        below = below.wait(below.top.at_s + share * opens_s)
        above = below.pour(following.from_m, following.to_m, following.cure)
        above = replace(above, marches=()).until_ready()
        peak, cure = above.peak_c(), following.cure
        found.append(
            Early(
                after_s=share * opens_s,
                peak_c=round(peak, 1),
                too_hot=peak > cure.wanted_c,
                runs_away=peak > max(RUNAWAY_C, cure.never_c),
            )
        )
    return found


def replay(course: Course, layers: int, rise_k: float = 0.0) -> Course:
    """The first layers poured again at the same hours, in a room so much warmer; coarsely, as estimates are
    wanted (within about 1 K).
    """
    return course.anew(warmer_k=rise_k, coarse=True).poured_as(course.layers[:layers])


_ROOMS: Remembered[dict[int, float]] = Remembered(512)


def rooms_to(run: HeatRun, void_id: str) -> dict[int, float]:
    """By layer that would be the first to fail: how warm the room [degC] may be, the hours alike, before it
    passes its wanted peak, or in more than a few of a hundred such pours what must never be.

    Empty when 15 K more are borne, or when a layer fails already.
    """
    course = run.courses[void_id]
    return _ROOMS.get(course.signature, lambda: _rooms_to(course))


def _rooms_to(course: Course) -> dict[int, float]:
    room_c = course.stack.room.by_step_k[0] - ZERO_C_K
    never_c = max(layer.cure.never_c for layer in course.layers)

    def fails(rise_k: float) -> int | None:
        """The first layer that passes its limit, or whose hot twin passes what must never be."""
        again = replay(course, len(course.layers), rise_k).until_ready(
            max(layer.cure.wanted_c for layer in course.layers) + 1.0
        )
        twin = hot_replay(course, rise_k).wait(again.stack.at_s, Stop(give_up_k=never_c + 1.0 + ZERO_C_K))
        over = [
            i
            for i, layer in enumerate(course.layers)
            if again.curve(i)[1].max() > layer.cure.wanted_c or twin.curve(i)[1].max() > layer.cure.never_c
        ]
        return over[0] if over else None

    first = fails(ROOM_MOST_K)
    if first is None or fails(0.0) is not None:
        return {}
    low, high = 0.0, ROOM_MOST_K
    for _ in range(ROOM_STEPS):
        middle = (low + high) / 2
        found = fails(middle)
        low, high, first = (middle, high, first) if found is None else (low, middle, found)
    return {first: round(room_c + low, 1)}


def _map_times(course: Course, marches: Sequence[March]) -> Floats:
    """Those that tell most, and a minute after each pour [s]."""
    every = np.concatenate([done.times for done in marches])
    hottest = np.concatenate([done.hottest.max(axis=1) for done in marches])
    pours = [layer.at_s + 60 for layer in course.layers]
    wanted: Floats = np.unique(np.concatenate([telling_times(every, hottest, MAP_TIMES), pours]))
    within: Floats = wanted[wanted <= every[-1]]
    return within


def _rounded(values: Floats, digits: int) -> list[list[float]]:
    return [[round(one, digits) for one in line] for line in values.tolist()]


def heat_map(course: Course, void_id: str) -> HeatMap:
    """The middle of the void by height and time, of a run whose states were kept."""
    kept = [(done, layers) for done, layers in course.marches if len(done.kept_t)]
    if not kept:
        return HeatMap(void_id=void_id, times_s=[], heights_m=[], temperature_c=[], cure=[])
    wanted = _map_times(course, [done for done, _ in kept])
    _, across, along = course.stack.grid.shape if course.stack.grid else (0, 1, 1)
    heights = course.stack.heights
    resin = heights > 0
    t = np.full((len(wanted), len(heights)), np.nan)
    a = np.zeros((len(wanted), len(heights)))
    for done, _ in kept:
        rows = done.kept_t.shape[1] // (across * along)
        inside = (wanted >= done.times[0] - 1e-6) & (wanted <= done.times[-1] + 1e-6)
        for row in range(rows):
            t[inside, row] = np.interp(wanted[inside], done.times, done.kept_t[:, row * across * along])
            a[inside, row] = np.interp(wanted[inside], done.times, done.kept_a[:, row * across * along])
    filled = np.nan_to_num(t - ZERO_C_K, nan=-273.0)
    return HeatMap(
        void_id=void_id,
        times_s=[round(float(one)) for one in wanted],
        heights_m=[round(float(one), 5) for one in heights[resin]],
        temperature_c=_rounded(filled[:, resin], 1),
        cure=[[round(one) for one in line] for line in (100 * a[:, resin]).tolist()],
    )
