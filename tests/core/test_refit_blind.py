"""A probe's log of a resin and a room that the plan has wrong: the rate comes back, whoever made the log."""

import math
from dataclasses import replace

import numpy as np
import pytest

from cavatum.core.calibration.from_sheet import scaled
from cavatum.core.calibration.of_system import cure_of
from cavatum.core.heat.body import Body
from cavatum.core.heat.grid import Room
from cavatum.core.layers.course import Course
from cavatum.core.layers.refit import Times, again_as, refit
from tests.core.test_heat import bare, bdf_slab
from tests.samples import SHEETS

EVERY_S, NOISE_K, HOURS = 300.0, 0.3, 70
ROOM_C, THOUGHT_C = 23.0, 22.0


def hidden_log(
    system_id: str, depth_m: float, times: float, made_by: str
) -> tuple[Course, list[tuple[float, float]]]:
    """(what the plan thinks, the log): the rate is `times` the sheet's and the room a kelvin warmer than was
    typed.
    """
    cure = cure_of(SHEETS[system_id])
    thought = Course.empty(Body.wide(), bare(), Room.steady(THOUGHT_C)).pour(0, depth_m, cure).until_ready()
    at = np.arange(0, HOURS * 3600, EVERY_S)
    if made_by == "SciPy":
        found = bdf_slab(scaled(cure.kinetics, math.log(times)), depth_m, 40, ROOM_C + 273.15, HOURS)
        hottest = np.interp(at, found.t, found.y[0::2].max(axis=0)) - 273.15
    else:
        warmer = replace(thought, stack=replace(thought.stack, room=Room.steady(ROOM_C)))
        when, celsius = again_as(warmer, 0, Times(rate=times), at[-1]).curve(0)
        hottest = np.interp(at, when, celsius)
    noise = np.random.default_rng(4).normal(0, NOISE_K, len(at))
    return thought, list(zip(at.tolist(), (hottest + noise).tolist(), strict=True))


@pytest.mark.parametrize("made_by", ["the model", "SciPy"])
@pytest.mark.parametrize(
    ("system_id", "depth_m", "times"),
    [("slow-casting-epoxy", 0.04, 0.8), ("slow-casting-epoxy", 0.04, 1.25), ("casting-epoxy-25", 0.025, 0.8)],
)
def test_the_rate_comes_back_within_five_percent(made_by, system_id, depth_m, times):
    """Reference: the log's own rate; made by the model, and by SciPy's BDF on equations written out by
    themselves.
    """
    thought, log = hidden_log(system_id, depth_m, times, made_by)
    found = refit(thought, 0, log)
    assert found.rate_factor == pytest.approx(times, rel=0.05)
    assert found.room_off_k == pytest.approx(ROOM_C - THOUGHT_C, abs=0.4) and found.after_k < 1.2 * NOISE_K
