"""Wood that warms under liquid resin breathes out: how much it warms, and what is said of it. Rule 4.3."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.heat.body import Body
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.layers.breathing import BREATHES_K, wood_rise
from cavatum.core.layers.course import Course
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop

WOOD_FLOOR = Surround(wall_m=0, floor="wood", floor_m=0.04)
CASTING = cure_of(system("casting-epoxy-25"))


def poured(surround: Surround, *depths: float) -> Course:
    course, low = Course.empty(Body.wide(), surround, Room.steady(23)), 0.0
    for depth in depths:
        course = course.pour(low, low + depth, CASTING).until_ready(keep=True)
        low += depth
    return course


def by_scipy(depth_m: float, cells: int = 60, floor: int = 60) -> float:
    """The same slab on 40 mm of wood by SciPy's BDF, on cells four times as fine: the rise of the wood at
    4 mm under the resin when all of it has gelled. Wood 0.14 W/(m K), 600 kg/m3, 2000 J/(kg K).
    """
    resin = CASTING.kinetics
    dz, db = depth_m / cells, 0.04 / floor
    half = np.concatenate([np.full(floor, db / 2 / 0.14), np.full(cells, dz / 2 / resin.conductivity_w_m_k)])
    conductance = np.concatenate(
        [[1 / (half[0] + 1 / 5)], 1 / (half[:-1] + half[1:]), [1 / (half[-1] + 1 / 10)]]
    )
    capacity = np.concatenate(
        [
            np.full(floor, 600 * 2000 * db),
            np.full(cells, resin.density_kg_m3 * resin.heat_capacity_j_kg_k * dz),
        ]
    )

    def slope(_, y):
        t, a = y[: floor + cells], y[floor + cells :]
        flow = conductance * np.diff(np.concatenate([[296.15], t, [296.15]]))
        hot = t[floor:]
        tg = resin.tg0_k + (resin.tginf_k - resin.tg0_k) * resin.lam * a / (1 - (1 - resin.lam) * a)
        free = 1 / (1 + np.exp(np.minimum((tg - hot - 12) / 4, 500)))
        speed = resin.k2_ref_1_s * np.exp(-resin.energy_j_mol / 8.314462618 * (1 / hot - 1 / 296.15))
        rate = free * speed * (resin.b + a) * (1 - a) ** 2
        made = np.concatenate([np.zeros(floor), resin.density_kg_m3 * resin.heat_j_kg * dz * rate])
        return np.concatenate([(flow[1:] - flow[:-1] + made) / capacity, rate])

    def gelled(_, y):
        return y[floor + cells :].min() - resin.gel

    gelled.terminal = True
    start = np.concatenate([np.full(floor + cells, 296.15), np.zeros(cells)])
    found = solve_ivp(slope, (0, 60 * 3600), start, "BDF", events=gelled, rtol=1e-6, atol=1e-8)
    under = np.interp(0.004, (np.arange(floor) + 0.5) * db, np.arange(floor))  # counted down from the resin
    return float(np.interp(floor - 1 - under, np.arange(floor), found.y[:floor].max(axis=1))) - 296.15


@pytest.mark.parametrize("depth_m", [0.015, 0.025])
def test_wood_warms_as_by_another_solver(depth_m):
    """A tenth of 40 mm is a cell of 8 mm, its middle 4 mm under the resin."""
    assert wood_rise(poured(WOOD_FLOOR, depth_m), 0) == pytest.approx(by_scipy(depth_m), rel=0.04, abs=0.1)


def test_only_wood_next_to_liquid_resin_breathes():
    assert wood_rise(poured(Surround(wall_m=0, floor="board", floor_m=0.04), 0.025), 0) is None
    two = poured(WOOD_FLOOR, 0.015, 0.015)
    assert wood_rise(two, 0) > 1.0
    assert wood_rise(two, 1) is None  # cured resin lies between
    bare = Course.empty(Body.wide(), WOOD_FLOOR, Room.steady(23)).pour(0.0, 0.025, CASTING).until_ready()
    assert wood_rise(bare, 0) is None  # no states kept: not said, never guessed


def plan_in_wood(depth: str, survey: dict | None = None, units: str = "metric"):
    void = box_void("300 mm", "60 mm", depth, wall="wood", around={"wall_m": "60 mm"})
    more = {"survey": survey} if survey else {}
    piece = box_piece(system_id="casting-epoxy-25", voids=[void], **more)
    return make_plan(piece, SHEETS, workshop(units=units), NOW, chances=False)


def breathing(plan):
    return [one for one in plan.verdicts if one.code == "wood-breathes"]


def test_it_is_said_from_five_kelvin_on_and_what_helps():
    warm, cool = plan_in_wood("25 mm"), plan_in_wood("8 mm")
    rise = warm.pours[0].layers[0].heat.wood_rise
    assert rise.value > BREATHES_K and rise.working in warm.workings
    (said,) = breathing(warm)
    assert said.weight == "warning" and "Seal" in said.todo and "warms by" in said.text
    assert not breathing(cool)


@pytest.mark.parametrize("survey", [{"finish": "sealed"}, {"done": ["seal"]}])
def test_sealed_wood_is_only_noted(survey):
    (said,) = breathing(plan_in_wood("25 mm", survey))
    assert said.weight == "note" and said.todo.startswith("It is sealed")


def test_a_difference_is_said_as_one_in_fahrenheit():
    (said,) = breathing(plan_in_wood("25 mm", units="us"))
    rise = plan_in_wood("25 mm").pours[0].layers[0].heat.wood_rise.value
    assert f"{rise * 1.8:.2g} °F" in said.text
