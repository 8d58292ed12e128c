"""A measured temperature curve laid over the prediction, and used to refit it: the resin's rate and the top's
coefficient. Rule 7.4, 9.2.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..calibration.from_sheet import scaled
from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data
from .course import Course

LEAST_POINTS, MOST_POINTS = 12, 400
LEAST_RISE_K = 2.0  # a curve that hardly rises says nothing of the rate
RATES, TOPS, ROOMS_K = (0.2, 5.0), (3.0, 30.0), 3.0
ROOM_SPREAD_K, NOISE_K = (
    1.0,
    0.3,
)  # own judgement: how far a room is off what was typed, how far a probe's reading
SPAN_S = 20 * 86400.0


class Refit(Data):
    """before, after: root of the mean square difference [K]. Curves: (s since that layer was poured,
    degC).
    """

    rate_factor: float
    top_w_m2k: float
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


def refit(
    course: Course, layer: int, measured: list[tuple[float, float]], earlier_factor: float = 1.0
) -> Refit:
    """Least squares over ln rate, ln top coefficient and how far the room was off; the layers of the same
    resin below move with it.

    The room is held near what was typed (a kelvin either way) as one reading more: a room a kelvin off alone
    would move the rate by 7 %.

    measured        (s since that layer was poured, degC in its middle)
    earlier_factor  of a refit before, so that the factor handed back is on the class's own rate
    Raises DomainError for too few points, or a curve that hardly rises.
    """
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
    start = course.layers[layer].at_s
    top = course.stack.surround.top_w_m2k

    def run(ln_rate: float, ln_top: float, room_k: float) -> tuple[np.ndarray, Course]:
        again = _again(
            course, layer, math.exp(ln_rate), top * math.exp(ln_top), start + at[-1] + 600.0, room_k
        )
        times, hottest = again.curve(layer)
        return np.interp(at, times - start, hottest), again

    def off(x: np.ndarray) -> np.ndarray:
        held = x[2] / ROOM_SPREAD_K * NOISE_K
        return np.append(np.clip(run(*x)[0] - celsius, -60, 60), held)

    before = off(np.zeros(3))[:-1]
    low = [math.log(RATES[0]), math.log(TOPS[0] / top), -ROOMS_K]
    high = [math.log(RATES[1]), math.log(TOPS[1] / top), ROOMS_K]
    from scipy.optimize import least_squares  # loaded only where used

    found = least_squares(
        off,
        np.zeros(3),
        bounds=(low, high),
        diff_step=1e-2,
        x_scale=(0.1, 0.1, 1.0),
        max_nfev=25,
        loss="soft_l1",
        f_scale=1.0,
    )
    after = off(found.x)[:-1]
    predicted, refitted = run(0.0, 0.0, 0.0)[0], run(*found.x)[0]

    def pairs(values: np.ndarray) -> list[tuple[float, float]]:
        return [(round(float(s)), round(float(c), 2)) for s, c in zip(at, values, strict=True)]

    return Refit(
        rate_factor=round(earlier_factor * math.exp(found.x[0]), 4),
        top_w_m2k=round(top * math.exp(found.x[1]), 2),
        room_off_k=round(float(found.x[2]), 2),
        before_k=_rms(before),
        after_k=_rms(after),
        points=len(at),
        measured=pairs(celsius),
        predicted=pairs(predicted),
        refitted=pairs(refitted),
        peak_before_c=round(float(predicted.max()), 1),
        peak_after_c=round(float(refitted.max()), 1),
        peak_measured_c=round(float(celsius.max()), 1),
    )


def _rms(values: np.ndarray) -> float:
    return round(float(np.sqrt(np.mean(values**2))), 2)


def _again(
    course: Course, layer: int, rate: float, top: float, until_s: float, room_k: float = 0.0
) -> Course:
    system = course.layers[layer].cure.system_id

    def moved(cure: Cure) -> Cure:
        return (
            replace(cure, kinetics=scaled(cure.kinetics, math.log(rate)))
            if cure.system_id == system
            else cure
        )

    stack = course.stack
    again = course.anew(warmer_k=room_k, surround=replace(stack.surround, top_w_m2k=top))
    again = again.poured_as(replace(one, cure=moved(one.cure)) for one in course.layers[: layer + 1])
    return again.wait(min(until_s, again.top.at_s + SPAN_S))


def stand_in_curve(
    course: Course,
    layer: int,
    *,
    rate: float = 1.12,
    top: float = 8.5,
    noise_k: float = 0.15,
    every_s: float = 900.0,
) -> list[tuple[float, float]]:
    """What a stand-in probe would have logged, [s] and [degC]: the same layer with a resin a little quicker
    and stiller air, with noise. Invented, for the demo.

    rate  times as quick, > 0;  top  times the heat transfer of the top, > 0;  noise_k  [K];  every_s  [s],
          > 0
    Raises nothing. Valid for showing and testing the refit only. Source: the model itself.
    """
    start = course.layers[layer].at_s
    run = _again(course, layer, rate, top, start + 4 * 86400.0)
    times, hottest = run.curve(layer)
    at = np.arange(0.0, min(times[-1] - start, 4 * 86400.0), every_s)
    noise = np.random.default_rng(5).normal(0.0, noise_k, len(at))
    return [
        (float(s), round(float(c), 2))
        for s, c in zip(at, np.interp(at, times - start, hottest) + noise, strict=True)
    ]
