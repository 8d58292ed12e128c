"""Marching a grid: the kernel called with its buffers, and what was watched handed back as curves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..common import patience
from ..common.errors import DomainError
from . import kernel
from .grid import Array, Grid, Room

TOLERANCE_K = 0.1
TOLERANCE_A = 1e-3
MOST_STEPS = 20_000
BUFFER_STEPS = 1_500


@dataclass(frozen=True, kw_only=True)
class Stop:
    """When a march may end early: a layer's top cured to `conversion` and all of it to `least` with nothing
    over `hottest_k`; or hotter than `give_up_k`; or fallen `past_peak_k` below the hottest so far.
    """

    layer: int = -1
    conversion: float = 2.0
    hottest_k: float = 1e9
    give_up_k: float = 1e9
    past_peak_k: float = 0.0
    least: float = 0.0

    def array(self) -> Array:
        return np.array(
            [self.layer, self.conversion, self.hottest_k, self.give_up_k, self.past_peak_k, self.least]
        )


@dataclass(frozen=True, kw_only=True)
class March:
    """times [s] (n), watched (n, layers, 5) as kernel.WATCHED, t and a at the end; kept_* (n, cells) when
    asked for.
    """

    ended: int
    times: Array
    watched: Array
    t: Array
    a: Array
    kept_t: Array
    kept_a: Array
    next_step_s: float

    @property
    def at_s(self) -> float:
        return float(self.times[-1])

    @cached_property
    def hottest(self) -> Array:
        return self.watched[:, :, kernel.HOTTEST]

    def peak(self, layer: int) -> tuple[float, float]:
        """Hottest [K] of a layer and when [s], by the parabola through the three steps round it."""
        return peak_of(self.times, self.hottest[:, layer])

    def first(self, layer: int, what: int, value: float) -> float | None:
        """When [s] a watched value first reaches `value` from below, linear within the step; None when
        never.
        """
        return crossing(self.times, self.watched[:, layer, what], value)


def peak_of(times: Array, values: Array) -> tuple[float, float]:
    """Highest value, in its own unit, and when [s], by the parabola through the three steps round the
    highest.

    times  [s], growing, shape (n,);  values  there, shape (n,)
    Raises nothing. Exact for a parabola; at the ends the step itself. Source: quadratic interpolation.
    """
    i = int(values.argmax())
    if i == 0 or i == len(values) - 1:
        return float(values[i]), float(times[i])
    x, y = times[i - 1 : i + 2] - times[i], values[i - 1 : i + 2]
    p = np.polyfit(x / (x[2] - x[0]), y, 2)
    if p[0] >= 0:
        return float(y[1]), float(times[i])
    at = min(max(-p[1] / (2 * p[0]), x[0] / (x[2] - x[0])), x[2] / (x[2] - x[0]))
    return float(np.polyval(p, at)), float(times[i] + at * (x[2] - x[0]))


def crossing(times: Array, values: Array, level: float) -> float | None:
    """When [s] the values first reach a level from below, linear within the step; None when never.

        t = t_i-1 + (level - v_i-1) / (v_i - v_i-1) (t_i - t_i-1)

    times  [s], growing, shape (n,);  values  there, shape (n,)
    Raises nothing. Exact for straight lines between the steps. Source: linear interpolation.
    """
    above = values >= level
    if not above.any():
        return None
    i = int(above.argmax())
    if i == 0:
        return float(times[0])
    share = (level - values[i - 1]) / (values[i] - values[i - 1])
    return float(times[i - 1] + share * (times[i] - times[i - 1]))


def march(
    grid: Grid,
    t: Array,
    a: Array,
    room: Room,
    from_s: float,
    to_s: float,
    stop: Stop | None = None,
    *,
    keep: bool = False,
    first_step_s: float = 1.0,
    tolerance_k: float = TOLERANCE_K,
    tolerance_a: float = TOLERANCE_A,
    tell: Callable[[float], bool] | None = None,
    most_steps: int | None = None,
) -> March:
    """Marches from from_s to to_s, or to where `stop` is met.

    t, a   state [K], [-] at from_s (cells); not changed
    keep   keep every step's state
    tell   called with the moment reached now and then; False ends the march there
    most_steps  ends after so many, wherever it is
    Raises DomainError when the state is not finite or steps run out: never an endless run, never a NaN.
    """
    patience.look()
    t, a = np.array(t, float), np.array(a, float)
    if not (np.isfinite(t).all() and np.isfinite(a).all() and np.isfinite(grid.groom).all()):
        raise DomainError(
            argument="heat run",
            value="not a number",
            allowed="all its inputs are finite",
            way_out="Check the measures and the sheet.",
            code="not-finite",
        )
    stop_at = (stop or Stop()).array()
    layers = len(grid.tops)
    pieces: list[tuple[Array, Array, Array, Array]] = []
    at, step, steps, ended = from_s, first_step_s, 0, kernel.MORE_STEPS
    buffer = most_steps or (200 if tell else BUFFER_STEPS)
    while ended == kernel.MORE_STEPS and steps < MOST_STEPS:
        times, watched = np.empty(buffer), np.empty((buffer, layers, kernel.WATCHED))
        rows = buffer if keep else 0
        kept_t, kept_a = np.empty((rows, grid.cells)), np.empty((rows, grid.cells))
        ended, at, count, step, _ = kernel.march(
            t,
            a,
            grid.body,
            room.array(),
            room.step_s,
            at,
            to_s,
            step,
            tolerance_k,
            tolerance_a,
            grid.layer,
            grid.tops,
            stop_at,
            times,
            watched,
            kept_t,
            kept_a,
        )
        steps += count
        # Copies: a view of thirty steps would keep a buffer of fifteen hundred alive.
        pieces.append(
            (times[:count].copy(), watched[:count].copy(), kept_t[:count].copy(), kept_a[:count].copy())
        )
        if most_steps or (tell is not None and not tell(at)):
            break
    if (
        ended == kernel.NOT_FINITE
        or (ended == kernel.MORE_STEPS and steps >= MOST_STEPS)
        or not pieces[0][0].size
    ):
        raise DomainError(
            argument="heat run",
            value=f"stuck after {at / 3600:.1f} h",
            allowed=f"it ends within {MOST_STEPS} steps",
            way_out="Check the measures and the sheet.",
            code="no-end",
        )
    joined = [
        np.concatenate([piece[i] for piece in pieces]) if len(pieces) > 1 else pieces[0][i] for i in range(4)
    ]
    return March(
        ended=ended,
        times=joined[0],
        watched=joined[1],
        t=t,
        a=a,
        kept_t=joined[2],
        kept_a=joined[3],
        next_step_s=step,
    )
