"""What a probe's curve teaches: rate and heat belong to the resin, what leaves at top and sides to the
workshop; either can be taught without the other. Curves are made by the model with what is to be found again
(invented), and for one resin by SciPy in test_refit_blind.py.
"""

from __future__ import annotations

import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.common.workshop import LearnedAir
from cavatum.core.heat.around import body_of, surround_of
from cavatum.core.heat.body import Body
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.layers.course import Course
from cavatum.core.layers.refit import Factor, Refit, Taught, Times, refit, stand_in_curve
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.piece.document import Void
from cavatum.core.plan import make_plan
from cavatum.core.plan_model import Plan

from ..samples import NOW, SHEETS, box_piece, box_void, system, workshop

SLOW = "slow-casting-epoxy"


def deep_block() -> Course:
    """120 x 80 x 60 mm in 3 mm of plastic: its sides count."""
    void = Void.model_validate(
        box_void("120 mm", "80 mm", "60 mm", wall="plastic", around={"wall_m": "3 mm", "floor_m": "3 mm"})
    )
    empty = Course.empty(body_of(cavity_of(void)), surround_of(void)[0], Room.steady(23.0))
    return empty.pour(0.0, 0.06, cure_of(SHEETS[SLOW])).until_ready()


def wide_layer() -> Course:
    empty = Course.empty(Body.wide(), Surround(), Room.steady(23.0))
    return empty.pour(0.0, 0.04, cure_of(SHEETS[SLOW])).until_ready()


def by_name(found: Refit) -> dict[Factor, Taught]:
    return {one.what: one for one in found.taught}


def test_the_resin_is_taught_and_the_workshop_left_alone() -> None:
    course = wide_layer()
    found = refit(course, 0, stand_in_curve(course, 0, times=Times(rate=0.85)), teaches="resin")
    assert set(by_name(found)) == {"rate", "heat"}
    assert found.rate_factor == pytest.approx(0.85, rel=0.04) and by_name(found)["rate"].is_told
    assert found.heat_factor == pytest.approx(1.0, abs=0.06)
    assert (found.top_times, found.side_times) == (1.0, 1.0)


def test_the_workshop_is_taught_and_the_resin_left_alone() -> None:
    course = wide_layer()
    found = refit(course, 0, stand_in_curve(course, 0, times=Times(top=0.7)), teaches="workshop")
    assert found.top_times == pytest.approx(0.7, rel=0.08) and by_name(found)["top"].is_told
    assert (found.rate_factor, found.heat_factor) == (1.0, 1.0)
    assert not by_name(found)["side"].is_told, "a layer so wide says nothing of its sides"
    assert found.side_times == pytest.approx(1.0, abs=0.02)


def test_sides_are_told_where_they_count() -> None:
    course = deep_block()
    found = refit(course, 0, stand_in_curve(course, 0, times=Times(side=1.5)), teaches="workshop")
    side = by_name(found)["side"]
    assert side.times == pytest.approx(1.5, rel=0.2) and side.low < 1.5 < side.high
    assert found.after_k < 0.3 < found.before_k


def test_heat_and_loss_are_told_apart_by_a_curve_that_cools() -> None:
    """A resin that makes a tenth more heat: no loss to the air is learned from it."""
    course = wide_layer()
    found = refit(course, 0, stand_in_curve(course, 0, times=Times(rate=1.1, heat=1.1)))
    assert found.rate_factor == pytest.approx(1.1, rel=0.05)
    assert found.heat_factor == pytest.approx(1.1, abs=0.07)
    assert found.top_times == pytest.approx(1.0, abs=0.2)


def test_factors_go_on_from_an_earlier_fit() -> None:
    course = wide_layer()
    curve = stand_in_curve(course, 0, times=Times(rate=0.9))
    fresh, again = refit(course, 0, curve), refit(course, 0, curve, Times(rate=1.2, heat=1.05))
    assert again.rate_factor == pytest.approx(1.2 * fresh.rate_factor, rel=1e-3)
    assert again.heat_factor == pytest.approx(1.05 * fresh.heat_factor, rel=1e-3)


# In a plan.


def hottest(made: Plan) -> float:
    return max(layer.heat.peak.value for pour in made.pours for layer in pour.layers if layer.heat)


def to_the_air(made: Plan) -> dict[str, str]:
    heat = made.pours[0].layers[0].heat
    assert heat is not None
    return {
        one.name: one.origin for one in made.workings[heat.peak.working].inputs if "to the air" in one.name
    }


def test_what_the_workshop_learned_counts_for_every_resin() -> None:
    """Stiller air keeps a layer warmer, whatever is poured."""
    still = LearnedAir(top_times=0.6, side_times=0.8, points=80, note="a probe")
    piece = box_piece(voids=[box_void(depth="14 mm")])
    for one in (SLOW, "casting-epoxy-25"):
        like = piece.model_copy(update={"system_id": one})
        plain = make_plan(like, SHEETS, workshop(), NOW)
        learned = make_plan(like, SHEETS, workshop(learned_air=still), NOW)
        assert hottest(learned) > hottest(plain) + 0.2
        assert set(to_the_air(plain).values()) == {"typical"}
        assert set(to_the_air(learned).values()) == {"measured"}


def test_what_the_resin_learned_leaves_the_air_alone() -> None:
    fit = {"rate_factor": 1.2, "heat_factor": 1.1, "before_k": 2, "after_k": 0.3, "points": 80}
    piece = box_piece(voids=[box_void(depth="25 mm")])
    made = make_plan(piece, {SLOW: system(SLOW, cure_fit=fit)}, workshop(), NOW)
    assert hottest(made) > hottest(make_plan(piece, SHEETS, workshop(), NOW)) + 0.5
    assert set(to_the_air(made).values()) == {"typical"}
    heat = made.pours[0].layers[0].heat
    assert heat is not None
    told = {one.name: one for one in made.workings[heat.peak.working].inputs}
    assert told["heat of reaction"].origin == "measured"
    assert told["heat of reaction"].value == pytest.approx(1.1 * 330e3, rel=1e-6)  # core's class


def test_a_fit_of_before_keeps_its_top_until_the_workshop_has_its_own() -> None:
    """Sheets kept by an earlier version hold the top's coefficient themselves."""
    old = {"rate_factor": 1.0, "top_w_m2k": 6.0, "before_k": 2, "after_k": 0.3, "points": 80}
    sheets = {SLOW: system(SLOW, cure_fit=old)}
    piece = box_piece(voids=[box_void(depth="25 mm")])
    kept = make_plan(piece, sheets, workshop(), NOW)
    draught = LearnedAir(top_times=1.5, side_times=1.0, points=80)
    anew = make_plan(piece, sheets, workshop(learned_air=draught), NOW)
    assert hottest(anew) < hottest(kept) - 0.5
