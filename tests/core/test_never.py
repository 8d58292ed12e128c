"""What this room never reaches is said, and everything behind it waits; times stand in the order of the
cure. Rules 4.2, 6.2, 8.1.
"""

from __future__ import annotations

import itertools
import math
from datetime import timedelta

import numpy as np
import pytest
from scipy.integrate import quad

from cavatum.core.calibration.of_system import _times_of, cure_of
from cavatum.core.calibration.told import class_of
from cavatum.core.common.wording import Wording
from cavatum.core.cure.kinetics import conversion_rate, glass_transition, time_to
from cavatum.core.cure.parameters import CLASSES
from cavatum.core.cure.warming import time_between, warmth_for
from cavatum.core.finish.care import care_note
from cavatum.core.finish.cure_record import CureRecord
from cavatum.core.finish.plan import finish_plan
from cavatum.core.heat import kernel
from cavatum.core.heat.body import Body
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.layers.course import Course, Window
from cavatum.core.layers.heat_figures import _warm_ups
from cavatum.core.piece.finish_wishes import Finish
from cavatum.core.plan import make_plan
from cavatum.core.pour.script import compile_script
from cavatum.core.resin.system import LearnedPace
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop


def plan(system_id: str, depth: str, room_c: float, sheets=SHEETS, shop=None, **changes):
    piece = box_piece(system_id=system_id, voids=[box_void(depth=depth)], **changes)
    shop = shop or {}
    return make_plan(piece, sheets, workshop(room_c=f"{room_c} °C", **shop), NOW, in_full=False)


def codes(made) -> set[str]:
    return {one.code for one in made.verdicts}


def test_time_between_is_the_closed_form_while_nothing_slows_it_and_quadrature_where_it_does():
    kinetics = CLASSES["slow-casting-epoxy"]
    assert time_between(kinetics, 0.0, 0.4, 313.15) == pytest.approx(time_to(kinetics, 0.4, 313.15), rel=0.01)
    slowed = quad(lambda a: 1 / conversion_rate(kinetics, a, 296.15), 0.6, 0.95, limit=200)[0]
    assert time_between(kinetics, 0.6, 0.95, 296.15) == pytest.approx(slowed, rel=0.01)
    assert slowed > 1.5 * (time_to(kinetics, 0.95, 296.15) - time_to(kinetics, 0.6, 296.15))


def test_warmth_is_the_least_whole_degree_that_is_quick_enough():
    kinetics, room_k = CLASSES["craft-casting-epoxy"], 287.15
    kelvin, took = warmth_for(kinetics, 0.7, 0.9, room_k)
    assert took <= 48 * 3600 < time_between(kinetics, 0.7, 0.9, kelvin - 1)
    assert (kelvin - 273.15) % 1 == pytest.approx(0, abs=1e-6) and kelvin > room_k
    assert warmth_for(kinetics, 0.7, 0.9999, room_k) is None


@pytest.mark.parametrize("system_id", sorted(SHEETS))
def test_at_its_own_depth_and_room_a_sheet_keeps_its_own_times(system_id):
    """The conversions are read there, so the clock gives them back, no later than the sheet says."""
    cure, sheet = cure_of(SHEETS[system_id]), SHEETS[system_id]
    depth_m = _times_of(SHEETS[system_id], class_of(SHEETS[system_id])).depth_m

    def begins(from_m, to_m, cure, room_c):
        return cure.as_the_sheet_pours(room_c)

    course = Course.empty(Body.wide(), Surround(), Room.steady(23.0), begins=begins)
    window = course.pour(0.0, depth_m, cure).window()
    assert window.cured_s is not None and window.cured_s <= sheet.full_cure_s.value * 1.01
    assert window.demould_s is not None and window.demould_s <= sheet.demould_s.value * 1.01


@pytest.mark.parametrize(
    ("system_id", "depth"), [("craft-casting-epoxy", "10 mm"), ("casting-epoxy-25", "20 mm")]
)
def test_what_is_never_cured_here_has_no_hour_and_says_what_would_cure_it(system_id, depth):
    made = plan(system_id, depth, 12)
    window, heat = made.windows[-1], made.pours[-1].layers[-1].heat
    assert window.computed and window.cured_s is None and made.totals.ready_at is None
    assert "never-cured" in codes(made)
    warm = next(one for one in heat.warm_up if one.to == "full cure")
    told = next(one for one in made.verdicts if one.code == "never-cured")
    assert f"{warm.room_c:.0f} °C" in told.todo and 12 < warm.room_c <= 40
    assert warm.for_s <= 48 * 3600
    # In a room so warm the model does reach it.
    assert plan(system_id, depth, warm.room_c).windows[-1].cured_s is not None


def test_what_would_cure_it_aims_no_higher_than_at_what_the_sheets_film_has():
    """A layer that warms itself cures further than any film: what the film has at the sheet's full cure is
    enough, and the warmth that is advised is the least for that.
    """
    cure = cure_of(SHEETS["casting-epoxy-25"])
    course = Course.empty(Body.wide(), Surround(), Room.steady(12.0)).pour(0.0, 0.02, cure)
    window = course.window()
    assert window.cured_s is None and cure.gates.film < cure.gates.full_cure
    advised = next(one for one in _warm_ups(course, course.top, window) if one.to == "full cure")
    kelvin, took = warmth_for(cure.kinetics, window.least, cure.gates.film, 285.15)
    assert (advised.room_c, advised.for_s) == pytest.approx((kelvin - 273.15, took))


def test_no_sheet_time_stands_for_what_the_model_does_not_reach():
    """Each time is the sheet's only where the heat is not computed at all."""
    cold = plan("craft-casting-epoxy", "10 mm", 14)
    sheet = SHEETS["craft-casting-epoxy"]
    computed = {getattr(cold.windows[0], name) for name in ("opens_s", "closes_s", "demould_s", "cured_s")}
    by_sheet = {one.value for one in (sheet.bond_from_s, sheet.bond_to_s, sheet.demould_s, sheet.full_cure_s)}
    assert cold.windows[0].computed and not computed & by_sheet
    unknown = system("craft-casting-epoxy", id="own", cures_like=None)
    plain = plan("own", "10 mm", 14, {**SHEETS, "own": unknown})
    assert not plain.windows[0].computed
    assert plain.windows[0].cured_s == pytest.approx(sheet.full_cure_s.value)


def test_a_pour_on_what_never_hardens_waits_and_so_does_all_behind_it():
    made = plan("slow-casting-epoxy", "90 mm", 5, shop={"recoat": "cure and sand"})
    assert len(made.pours) > 1 and len(made.windows) == 1 and len(made.clock.rows) == 1
    assert "pour-waits" in codes(made)
    assert made.totals.out_of_form_at is None and made.totals.ready_at is None
    assert made.totals.visits == len(made.pours)
    assert all(step.pour in (None, 1) for step in made.steps)
    piece = box_piece(voids=[box_void(depth="90 mm")])
    script = compile_script(1, piece, made, workshop())
    assert {one.pour for one in script.steps if one.pour} == {1}


def test_a_window_that_never_closes_leaves_its_pour_all_the_time():
    made = plan("slow-casting-epoxy", "90 mm", 5)
    assert made.windows[0].opens_s is not None and made.windows[0].closes_s is None
    script = compile_script(1, box_piece(voids=[box_void(depth="90 mm")]), made, workshop())
    later = [one for one in script.steps if one.pour == 2 and one.kind == "ready"]
    assert later and all(one.to_s is None or one.to_s > one.from_s + 86_400 for one in later)
    assert all(one.planned_to is None or one.planned_to > one.planned_at for one in later)


def test_what_cannot_leave_its_form_here_is_not_handed_over():
    piece = box_piece(voids=[box_void(depth="90 mm")], kind_of_work="block")
    shop = workshop(room_c="5 °C")
    made = make_plan(piece, SHEETS, shop, NOW, in_full=False)
    assert made.windows[-1].demould_s is None and "never-out" in codes(made)
    told = finish_plan(piece, made, SHEETS, {}, CureRecord(), NOW, Wording(shop))
    assert told.hand_over_at is None
    never = [one for one in told.gates if one.readiness.state == "never"]
    assert never and all(one.expected is None and one.expected_at is None for one in never)
    assert any(one.code == "never-ready" and one.weight == "blocker" for one in told.verdicts)


def test_what_never_cures_fully_still_leaves_its_form_and_no_working_names_a_full_cure_of_nothing():
    piece = box_piece(system_id="craft-casting-epoxy", voids=[box_void(depth="10 mm")], kind_of_work="block")
    shop = workshop(room_c="14 °C")
    made = make_plan(piece, SHEETS, shop, NOW, in_full=False)
    told = finish_plan(piece, made, SHEETS, {}, CureRecord(), NOW, Wording(shop))
    by_code = {one.code: one for one in told.gates}
    assert by_code["demould"].expected.value == pytest.approx(made.windows[-1].demould_s)
    assert by_code["pack"].readiness.state == "never" and told.hand_over_at is None
    inputs = told.workings[by_code["demould"].expected.working].inputs
    assert [one.name for one in inputs if one.quantity == "duration"] == ["demoulding"]


def test_out_of_the_form_only_when_it_has_cooled():
    """Craft epoxy in thirds of 90 mm runs to far over 90 degC, and was once let out after 1.2 h at 136."""
    cure = cure_of(SHEETS["craft-casting-epoxy"])
    course = Course.empty(Body.wide(), Surround(), Room.steady(23.0)).pour(0.0, 0.03, cure)
    window = course.window()
    done = course.wait(window.demould_s)
    hottest = done.marches[-1][0].hottest[-1, 0] - 273.15
    least = done.marches[-1][0].watched[-1, 0, kernel.LEAST_CURED]
    assert course.until_ready().peak_c() > 90
    assert hottest <= min(40.0, glass_transition(cure.kinetics, least) - 273.15 - 10) + 0.5


def drawn(random: np.random.Generator) -> tuple[Window, Course]:
    system_id = random.choice(sorted(SHEETS))
    sheet = SHEETS[system_id]
    most = max(rule.most_depth_m.value for rule in sheet.depth_rules)
    depth = float(random.uniform(0.1, 2.0)) * most
    width = float(np.exp(random.uniform(np.log(0.02), np.log(0.5))))
    body = Body(width=lambda h: width, area=lambda h: width * 3 * width, wetted=lambda h: 8 * width * h)
    wall = random.choice(["board", "silicone", "wood", "metal"])
    room = Room.steady(float(random.uniform(5, 33)))
    course = Course.empty(body, Surround(wall=wall), room, coarse=True).pour(0.0, depth, cure_of(sheet))
    return course.window(), course


def check_order(window: Window) -> None:
    """gelled <= opens <= demould <= cured, opens <= closes; what comes after a never is never."""
    chain = [window.gelled_s, window.opens_s, window.demould_s, window.cured_s]
    for early, late in itertools.pairwise(chain):
        assert late is None or (early is not None and early <= late + 1e-6), window
    assert window.closes_s is None or window.opens_s is None or window.opens_s <= window.closes_s, window


def test_the_order_of_cure_holds_for_any_layer_in_any_room():
    random = np.random.default_rng(16)
    windows = [drawn(random)[0] for _ in range(150)]
    for window in windows:
        check_order(window)
    assert any(one.cured_s is None for one in windows) and any(one.cured_s for one in windows)


@pytest.mark.long
@pytest.mark.slow
def test_the_next_pour_is_after_gel_and_ready_never_before_out_of_the_form():
    random, made = np.random.default_rng(4), []
    for _ in range(25):
        system_id = random.choice(sorted(SHEETS))
        depth, room = f"{random.uniform(3, 120):.0f} mm", float(random.uniform(8, 32))
        made.append(plan(system_id, depth, round(room, 1)))
    for one in made:
        for below, above in itertools.pairwise(one.windows):
            poured = above.mix_at + timedelta(seconds=above.mix_s + above.pour_s)
            under = below.mix_at + timedelta(seconds=below.mix_s + below.pour_s)
            assert below.opens_s is not None or below.demould_s is not None
            first = min(x for x in (below.opens_s, below.demould_s) if x is not None)
            assert (poured - under).total_seconds() >= first - 1
        out, ready = one.totals.out_of_form_at, one.totals.ready_at
        assert ready is None or (out is not None and ready >= out)
    assert len([one for one in made if len(one.windows) > 1]) > 5


@pytest.mark.slow
@pytest.mark.parametrize("system_id", ["slow-casting-epoxy", "casting-epoxy-25", "coating-epoxy"])
def test_a_colder_room_or_a_slower_pace_makes_no_gate_earlier(system_id):
    """Of a thin layer, whose gates wait for the cure and not for its cooling."""

    def gates(room: float, times: float):
        shop = workshop(room_c=f"{room} °C")
        pace = {"times": times, "low": times * 0.95, "high": times * 1.05, "runs": 6}
        sheets = {
            **SHEETS,
            system_id: SHEETS[system_id].model_copy(update={"learned_pace": LearnedPace(**pace)}),
        }
        piece = box_piece(voids=[box_void(depth="6 mm")], system_id=system_id, layering="even")
        window = make_plan(piece, sheets, shop, NOW, in_full=False).windows[0]
        found = (window.opens_s, window.demould_s, window.cured_s)
        return [math.inf if one is None else one for one in found]

    for change in ([(24, 1), (21, 1), (18, 1), (15, 1)], [(22, 1), (22, 1.2), (22, 1.5), (22, 2)]):
        rows = [gates(*one) for one in change]
        for earlier, later in itertools.pairwise(rows):
            assert all(b >= a - 60 for a, b in zip(earlier, later, strict=True)), (change, rows)


def test_a_care_note_without_a_computed_date_says_so():
    piece, wording = box_piece(voids=[box_void(depth="20 mm")]), Wording(workshop())
    note = care_note(piece, [], Finish(), None, None, None, wording)
    assert note.parts[0][0] == "The first days" and "not worked out" in note.parts[0][1]
    dated = care_note(piece, [], Finish(), NOW, None, None, wording)
    assert "full hardness about" in dated.parts[0][1]
