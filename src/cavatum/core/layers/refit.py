"""A measured temperature curve laid over the prediction, and what it teaches: rate and heat of the resin,
what leaves at top and sides of this workshop. Either can be taught without the other. Rules 7.4, 9.2.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..calibration.from_sheet import scaled
from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data
from ..heat.materials import TOP_W_M2K
from .course import Course

LEAST_POINTS, MOST_POINTS = 12, 400
LEAST_RISE_K = 2.0  # a curve that hardly rises says nothing of the rate
RATES, OTHERS, ROOMS_K = (0.2, 5.0), (0.3, 3.0), 3.0
NOISE_K = 0.3  # own judgement: how far a probe's reading is off
WORTH = 20  # own judgement: readings of one curve hang together, so that all are worth so many single ones
# How well each is known before, as a share; own judgement, as the chance draws them. The rate: not at all.
KNOWN_SD = {"heat": 0.08, "top": 0.2, "side": 0.2}
ROOM_SPREAD_K = 1.0  # own judgement: how far a room is off what was typed
NINETY_SD = 1.645  # half of a 90 % band in standard deviations
RATE_IS_TOLD = 0.1  # own judgement: a rate worse known than this is not told
SPAN_S = 20 * 86400.0

Teaches = Literal["both", "resin", "workshop"]
Factor = Literal["rate", "heat", "top", "side"]
OF: dict[Teaches, tuple[Factor, ...]] = {
    "both": ("rate", "heat", "top", "side"),
    "resin": ("rate", "heat"),
    "workshop": ("top", "side"),
}
Floats = NDArray[np.float64]


class Taught(Data):
    """A factor on what the plan took, with its 90 % band. told: this curve says it better than was known."""

    what: Factor
    times: float
    low: float
    high: float
    is_told: bool


class Refit(Data):
    """before, after: root of the mean square difference [K]. Curves: (s since that layer was poured,
    degC). rate_factor on the class's own, heat_factor on the sheet's, top_times and side_times on what
    typically leaves there; taught: on what the plan took.
    """

    teaches: Teaches
    rate_factor: float
    heat_factor: float
    top_times: float
    side_times: float
    taught: list[Taught]
    room_off_k: float = 0.0
    before_k: float
    after_k: float
    points: int
    measured: list[tuple[float, float]]
    predicted: list[tuple[float, float]]
    refitted: list[tuple[float, float]]
    peak_before_c: float
    peak_after_c: float
    peak_measured_c: float


@dataclass(frozen=True, kw_only=True)
class Times:
    """Factors on a resin and on what leaves to the air, and how much warmer the room was [K]."""

    rate: float = 1.0
    heat: float = 1.0
    top: float = 1.0
    side: float = 1.0
    room_k: float = 0.0


def refit(
    course: Course,
    layer: int,
    measured: list[tuple[float, float]],
    earlier: Times = Times(),  # noqa: B008  frozen
    teaches: Teaches = "both",
) -> Refit:
    """Least squares over the logarithms of what is to be taught and how far the room was off; the layers of
    the same resin below move with it.

        sum (T(theta) - T_i)^2 w^2 / noise^2 + sum (ln theta_j)^2 / sd_j^2 + room^2 / 1 K^2 -> least,
        w^2 = min(1, WORTH / n), soft_l1 beyond 1 K

    The room is held near what was typed, heat and losses near what is known of them, so that a curve which
    does not tell one of them leaves it where it is.

    measured  (s since that layer was poured, degC in its middle)
    earlier   of a refit before: rate and heat as the plan has them over the class's and the sheet's
    teaches   resin: rate and heat alone; workshop: top and sides alone
    Raises DomainError for too few points, or a curve that hardly rises. Valid for a probe in the middle.
    Source: regularised least squares, bands by the curvature at the optimum.
    """
    at, celsius = _usable(measured)
    start = course.layers[layer].at_s
    names = OF[teaches]
    weight = math.sqrt(min(1.0, WORTH / len(at)))

    def run(x: Sequence[float] | Floats) -> Floats:
        factors = dict(zip(names, np.exp(x[:-1]).tolist(), strict=True))
        times = Times(**factors, room_k=float(x[-1]))
        again = again_as(course, layer, times, start + at[-1] + 600.0)
        when, hottest = again.curve(layer)
        found: Floats = np.interp(at, when - start, hottest)
        return found

    def off(x: Floats) -> Floats:
        known = [x[i] / KNOWN_SD[name] for i, name in enumerate(names) if name in KNOWN_SD]
        held = np.array([*known, x[-1] / ROOM_SPREAD_K]) * NOISE_K
        return np.concatenate([np.clip(run(x) - celsius, -60, 60) * weight, held])

    low = [math.log(RATES[0] if name == "rate" else OTHERS[0]) for name in names]
    high = [math.log(RATES[1] if name == "rate" else OTHERS[1]) for name in names]
    from scipy.optimize import least_squares  # loaded only where used

    found = least_squares(
        off,
        np.zeros(len(names) + 1),
        bounds=([*low, -ROOMS_K], [*high, ROOMS_K]),
        diff_step=1e-2,
        x_scale=[0.1] * len(names) + [1.0],
        max_nfev=25,
        loss="soft_l1",
        f_scale=weight,
    )
    predicted, refitted = run(np.zeros(len(names) + 1)), run(found.x)
    spread = np.sqrt(np.diag(np.linalg.inv(found.jac.T @ found.jac))) * NOISE_K
    taught = [_taught(name, float(found.x[i]), float(spread[i])) for i, name in enumerate(names)]
    by = {name: math.exp(found.x[i]) for i, name in enumerate(names)}
    around = course.stack.surround

    def pairs(values: Floats) -> list[tuple[float, float]]:
        return [(round(float(s)), round(float(c), 2)) for s, c in zip(at, values, strict=True)]

    return Refit(
        teaches=teaches,
        rate_factor=round(earlier.rate * by.get("rate", 1.0), 4),
        heat_factor=round(earlier.heat * by.get("heat", 1.0), 4),
        top_times=round(around.top_w_m2k / TOP_W_M2K * by.get("top", 1.0), 4),
        side_times=round(around.side_times * by.get("side", 1.0), 4),
        taught=taught,
        room_off_k=round(float(found.x[-1]), 2),
        before_k=_rms(predicted - celsius),
        after_k=_rms(refitted - celsius),
        points=len(at),
        measured=pairs(celsius),
        predicted=pairs(predicted),
        refitted=pairs(refitted),
        peak_before_c=round(float(predicted.max()), 1),
        peak_after_c=round(float(refitted.max()), 1),
        peak_measured_c=round(float(celsius.max()), 1),
    )


def _usable(measured: list[tuple[float, float]]) -> tuple[Floats, Floats]:
    """Times [s] and temperatures [degC], thinned to MOST_POINTS."""
    if not len(measured) >= LEAST_POINTS:
        raise DomainError(
            argument="measured curve",
            value=f"{len(measured)} points",
            allowed=f"at least {LEAST_POINTS} are needed after the pour",
            way_out="Log more often, or longer.",
            code="too-few",
        )
    at, celsius = (np.array(column) for column in zip(*sorted(measured), strict=True))
    if len(at) > MOST_POINTS:
        keep = np.unique(np.linspace(0, len(at) - 1, MOST_POINTS).astype(int))
        at, celsius = at[keep], celsius[keep]
    if celsius.max() - celsius[:3].mean() < LEAST_RISE_K:
        raise DomainError(
            argument="measured curve",
            value=f"a rise of {celsius.max() - celsius[:3].mean():.1f} °C",
            allowed=f"it rises by {plainly(LEAST_RISE_K)} °C or more",
            way_out="Take a curve from the middle of a deeper layer.",
            code="too-flat",
        )
    return at, celsius


def _taught(what: Factor, ln_times: float, sd: float) -> Taught:
    known = KNOWN_SD.get(what)
    return Taught(
        what=what,
        times=round(math.exp(ln_times), 3),
        low=round(math.exp(ln_times - NINETY_SD * sd), 3),
        high=round(math.exp(ln_times + NINETY_SD * sd), 3),
        is_told=sd < (RATE_IS_TOLD if known is None else known / 2),
    )


def _rms(values: Floats) -> float:
    return round(float(np.sqrt(np.mean(values**2))), 2)


def again_as(course: Course, layer: int, times: Times, until_s: float) -> Course:
    """The course up to that layer with another resin, air and room, waited until then; at most SPAN_S after
    it was poured.

    times  factors and kelvin
    Raises DomainError outside the rate law's temperatures. Valid as the course. Source: the same march.
    """
    system = course.layers[layer].cure.system_id

    def moved(cure: Cure) -> Cure:
        if cure.system_id != system:
            return cure
        quick = scaled(cure.kinetics, math.log(times.rate))
        return replace(cure, kinetics=quick.model_copy(update={"heat_j_kg": quick.heat_j_kg * times.heat}))

    around = course.stack.surround
    air = replace(around, top_w_m2k=around.top_w_m2k * times.top, side_times=around.side_times * times.side)
    again = course.anew(warmer_k=times.room_k, surround=air)
    again = again.poured_as(replace(one, cure=moved(one.cure)) for one in course.layers[: layer + 1])
    return again.wait(min(until_s, again.top.at_s + SPAN_S))


def stand_in_curve(
    course: Course,
    layer: int,
    *,
    times: Times = Times(rate=1.12, top=0.85),  # noqa: B008  frozen
    noise_k: float = 0.15,
    every_s: float = 900.0,
) -> list[tuple[float, float]]:
    """What a stand-in probe would have logged, [s] and [degC]: the same layer with a resin a little quicker
    and stiller air, with noise. Invented, for the demo.

    times  how it differs from the plan;  noise_k  [K];  every_s  [s], > 0
    Raises nothing. Valid for showing and testing the refit only. Source: the model itself.
    """
    start = course.layers[layer].at_s
    run = again_as(course, layer, times, start + 4 * 86400.0)
    when, hottest = run.curve(layer)
    at = np.arange(0.0, min(when[-1] - start, 4 * 86400.0), every_s)
    noise = np.random.default_rng(5).normal(0.0, noise_k, len(at))
    return [
        (float(s), round(float(c), 2))
        for s, c in zip(at, np.interp(at, when - start, hottest) + noise, strict=True)
    ]
