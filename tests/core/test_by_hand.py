"""Figures and judgements worked by hand, each by the shortest way. They began as small faults no test saw."""

import dataclasses
import itertools
import math
from datetime import timedelta

import numpy as np
import pytest

from cavatum.core.clock.windows import SAND_S, PourTask, lay_out
from cavatum.core.common.amounts import read_amount
from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.common.wording import Wording
from cavatum.core.layers.course import Window
from cavatum.core.learn.factors import FACTORS, can_be
from cavatum.core.learn.observe import _laid_kg
from cavatum.core.learn.record_model import BatchRecord
from cavatum.core.measure.areas import extent_of
from cavatum.core.measure.mesh_shape import _check_size
from cavatum.core.measure.nested import _fits
from cavatum.core.measure.sloped import CrackHollow, TaperedHollow
from cavatum.core.measure.solids import dam_of
from cavatum.core.mend.diagnose import HIT, _chance
from cavatum.core.mix.amount import weigh_out
from cavatum.core.mix.pump import strokes
from cavatum.core.mix.scale import ScaleReading, doubts
from cavatum.core.mix.weigh_events import Taken
from cavatum.core.mix.weighing import reduce
from cavatum.core.piece.coats import Board, Disc
from cavatum.core.piece.shapes import Box
from cavatum.core.piece.survey_findings import Defect, Survey
from cavatum.core.plan import make_plan
from cavatum.core.practice.troubles import TROUBLES
from cavatum.core.purchase.stock import booked
from cavatum.core.resin.checks import check_system
from cavatum.core.survey.defect_void import NARROWS, void_shape
from tests.core.test_weighing import task
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop

SAY = Wording(workshop())
WINDOW = Window(opens_s=3600.0, closes_s=7200.0, demould_s=86_400.0, gelled_s=1800.0, cured_s=259_200.0)


def plan(piece, shop=None):
    return make_plan(piece, SHEETS, shop or workshop(), NOW)


def codes(made):
    return {one.code: one for one in made.verdicts}


def test_a_disc_is_pi_r_squared_and_its_edge_a_strip_as_long_as_its_girth():
    found = extent_of(Disc.model_validate({"kind": "disc", "diameter_m": "500 mm", "thickness_m": "20 mm"}))
    assert found.face_m2 == pytest.approx(math.pi * 0.25**2)
    assert found.edge_m2 == pytest.approx(math.pi * 0.5 * 0.02)


def test_a_board_with_two_round_ends_is_a_rectangle_and_a_disc():
    sides = {"length_m": "1.2 m", "width_m": "400 mm", "thickness_m": "30 mm"}
    told = {"kind": "board", "round_ends": 2, **sides}
    found = extent_of(Board.model_validate(told))
    assert found.face_m2 == pytest.approx(0.8 * 0.4 + math.pi * 0.2**2)
    assert found.edge_m2 == pytest.approx((2 * 0.8 + math.pi * 0.4) * 0.03)
    with pytest.raises(Infeasible, match="300 mm"):
        extent_of(Board.model_validate({**told, "length_m": "300 mm"}))


@pytest.mark.parametrize(
    ("form", "floor", "lean"), [("straight", 0.8 * 0.01, 0.0), ("round", 0.0, 0.005), ("v", 0.0, 0.005)]
)
def test_a_crack_wets_its_flanks_and_a_straight_one_its_floor_too(form, floor, lean):
    crack = CrackHollow(length_m=0.8, face_width_m=0.01, depth_m=0.04, form=form)
    assert crack.wetted(0.04) == pytest.approx(floor + 2 * 0.8 * math.hypot(0.04, lean))


def test_a_tapered_hollow_wets_its_floor_and_four_trapezia():
    hollow = TaperedHollow(length_m=0.3, width_m=0.2, bottom_length_m=0.2, bottom_width_m=0.14, depth_m=0.1)
    along = (0.3 + 0.2) / 2 * math.hypot(0.1, 0.03)
    across = (0.2 + 0.14) / 2 * math.hypot(0.1, 0.05)
    assert hollow.wetted(0.1) == pytest.approx(0.2 * 0.14 + 2 * along + 2 * across)


def test_a_square_fits_into_a_square_by_both_its_sides():
    assert _fits(("square", 0.3, 0.2), ("square", 0.2, 0.1))
    assert not _fits(("square", 0.3, 0.2), ("square", 0.2, 0.2))
    assert not _fits(("square", 0.3, 0.2), ("square", 0.3, 0.1))
    assert not _fits(("round", 0.28, 0.28), ("square", 0.2, 0.2))


@pytest.mark.parametrize(("height", "wall"), [(0.0, 0.01), (-0.02, 0.01), (0.02, 0.0)])
def test_a_dam_needs_a_height_and_a_thickness(height, wall):
    box = Box.model_validate({"kind": "box", "length_m": "1 m", "width_m": "1 m", "depth_m": "50 mm"})
    with pytest.raises(DomainError, match=f"{round(height * 1000)} mm high, {round(wall * 1000)} mm thick"):
        dam_of(box, height, wall)


@pytest.mark.slow
def test_a_dam_stands_as_high_as_the_overfill_the_tilt_and_something_to_spare():
    level = {
        "pitch_deg": {"value": 0.5},
        "roll_deg": {"value": 0.25},
        "length_m": "600 mm",
        "width_m": "250 mm",
    }
    void = box_void(overfill_m="2 mm", form={"leak_tested": True})
    flat = plan(box_piece(voids=[void])).voids[0].form.dam_least.value
    tilted = plan(box_piece(voids=[void], level=level)).voids[0].form.dam_least.value
    swing = (0.6 * math.tan(math.radians(0.5)) + 0.25 * math.tan(math.radians(0.25))) / 2
    assert tilted - flat == pytest.approx(swing)
    higher = plan(box_piece(voids=[{**void, "overfill_m": "5 mm"}])).voids[0].form.dam_least.value
    assert higher - flat == pytest.approx(0.003)


def test_only_the_layer_that_crosses_the_rim_has_overfill():
    made = plan(box_piece(voids=[box_void(overfill_m="2 mm")]))
    by_pour = [
        sum(line.volume.value for line in pour.allowances if line.code == "overfill") for pour in made.pours
    ]
    assert by_pour[:-1] == [0] * (len(made.pours) - 1) and len(by_pour) > 1
    assert by_pour[-1] == pytest.approx(0.6 * 0.25 * 0.002)
    sources = {line.code: line.volume.working for pour in made.pours for line in pour.allowances}
    assert made.workings[sources["residue"]].source == "common practice, no source"
    assert made.workings[sources["overfill"]].source == "by definition"


@pytest.mark.parametrize("minutes", [20, 400])
def test_a_batch_is_poured_within_the_sooner_of_sheet_and_pot_clock(minutes):
    sheet = SHEETS["casting-epoxy-25"]
    work = sheet.working_time.model_copy(
        update={"time_s": sheet.working_time.time_s.model_copy(update={"value": minutes * 60.0})}
    )
    made = make_plan(
        box_piece(system_id=sheet.id, voids=[box_void("300 mm", "200 mm", "20 mm")]),
        {sheet.id: sheet.model_copy(update={"working_time": work})},
        workshop(second_cup=False),
        NOW,
    )
    batch = made.pours[0].batches[0]
    soonest = min(minutes * 60.0, batch.pot.pour_by.value)
    assert batch.pour_within.value == pytest.approx(max(soonest - sheet.stir_s.value, 0.0))


def test_a_pump_gives_whole_strokes_that_are_enough_and_nearest_to_the_ratio():
    found = strokes(0.097, 0.046, 0.010, 0.005, 2.0)
    assert (found.a, found.b) == (10, 10) and found.mass_kg == pytest.approx(0.15)
    assert found.ratio_off == pytest.approx(0) and not found.too_few
    assert strokes(0.029, 0.014, 0.010, 0.005, 2.0).too_few
    exact = strokes(0.1, 0.05, 0.010, 0.005, 2.0)
    assert exact.a == 10  # a need of exactly ten strokes is ten, whatever the last digit of the division


def test_a_batch_too_large_is_said_to_be_so_for_the_cup_or_for_the_scale():
    over = [Taken(step="A", mass_kg=0.3, by="scale")]
    cup = reduce(task(cup_m3=3e-4), over, SAY).verdicts[0]
    assert cup.code == "overshoot-too-large" and "for the cup (" in cup.text
    assert cup.todo == "Take some out again with a clean stick: nothing else is in yet."
    scale = reduce(task(cup_m3=1.0, most_kg=0.4), over, SAY).verdicts[0]
    assert "for the scale (400" in scale.text and "cup" not in scale.text
    both = [*over, Taken(step="B", mass_kg=0.3, by="scale")]
    later = reduce(task(cup_m3=3e-4), both, SAY).verdicts[0]
    assert "larger cup" in later.todo


def test_the_school_decides_whether_a_missed_window_is_a_fault():
    task_ = PourTask(systems=(system(),), mix_s=600.0, pour_s=300.0, window=WINDOW)
    fresh = lay_out([task_, task_], workshop(recoat="bond in the window"), NOW)
    sanded = lay_out([task_, task_], workshop(recoat="cure and sand"), NOW)
    assert fresh.pours[1].bonded and not sanded.pours[1].bonded
    assert fresh.missed == [] and sanded.missed == []
    earliest = sanded.pours[0].demould_from + timedelta(seconds=SAND_S)
    assert sanded.pours[1].mix_at >= earliest


def test_preparation_waits_are_hours_and_days_not_minutes():
    piece = box_piece(
        voids=[box_void(wall="wood", form={"leak_tested": False})],
        survey={"material": "oak", "finish": "bare", "found": ["washed with water"]},
    )
    waits = {one.code: one.wait_from_s for one in plan(piece).survey.steps}
    assert waits["leak-dry"] == 12 * 3600 or waits["leak-dry"] >= 3600
    assert waits["dry-after-water"] >= 24 * 3600


def test_the_chances_of_all_answers_add_up_to_one():
    told = 0
    for trouble in TROUBLES:
        for link, question in itertools.product(trouble.links, trouble.questions):
            answers = [code for code, _ in question.answers]
            assert sum(_chance(link, question, one) for one in answers) == pytest.approx(1)
            usual = link.expects.get(question.code, ())
            if usual and len(usual) < len(answers):
                told += 1
                assert sum(_chance(link, question, one) for one in usual) == pytest.approx(HIT)
    assert told > 20


def test_what_is_left_over_did_not_go_into_the_film():
    batch = BatchRecord(
        pour=1, batch=1, system_id="s", system="S", planned_kg=0.2, stir_planned_s=1, rest_planned_s=0
    )
    weighed = batch.model_copy(update={"weighed_kg": 0.2, "residue_kg": 0.01, "leftover_kg": 0.03})
    assert _laid_kg(batch) is None
    assert _laid_kg(weighed) == pytest.approx(0.16)


def test_only_a_share_can_be_nothing():
    shares = [one for one in FACTORS.values() if one.is_share]
    others = [one for one in FACTORS.values() if not one.is_share]
    assert all(not can_be(dataclasses.replace(one, least=-1.0), 0.0) for one in others) and others
    assert all(can_be(one, max(one.least, 0.0)) for one in shares)
    assert not can_be(others[0], others[0].most * 1.01)


def test_times_out_of_order_are_told_by_their_names():
    doubt = next(one for one in check_system(system(demould_s="9 days")) if one.code == "times-out-of-order")
    assert "demould" in doubt.text.lower() and "full cure" in doubt.text.lower()


NEAR_DEW = [("13 C", "above the dew point", "warning"), ("11 C", "water stands on it", "blocker")]


@pytest.mark.parametrize(("surface", "says", "weight"), NEAR_DEW)
def test_a_surface_near_the_dew_point_is_told_by_how_near(surface, says, weight):
    shop = workshop(room_c="21 C", room_humidity="55 %")  # dew point 11.6 degC
    piece = box_piece(survey={"material": "board", "surface_c": surface})
    verdict = codes(plan(piece, shop))["surface-near-dew"]
    assert says in verdict.text and verdict.weight == weight


def read_at(*points: tuple[float, float, str]) -> list[ScaleReading]:
    return [ScaleReading(at_s=at, mass_kg=kg, unit=unit) for at, kg, unit in points]


def test_a_scale_that_changes_its_unit_is_told_from_which_to_which():
    readings = read_at((0, 0.1, "g"), (0.2, 0.1, "g"), (0.4, 0.1, "oz"))
    changed = {one.code: one for one in doubts(readings, 3.0, SAY, 0.0)}["unit-changed"]
    assert changed.title == "The scale went over from g to oz" and "until it shows g again" in changed.todo


def test_only_a_jump_of_the_last_seconds_is_told():
    calm = [(at / 10, 0.5, "g") for at in range(20, 60)]
    jumped = read_at((0.0, 0.0, "g"), (0.1, 0.5, "g"), *calm)
    assert "jump" not in {one.code for one in doubts(jumped, 3.0, SAY, 0.0)}
    fresh = {one.code: one for one in doubts([*jumped, *read_at((6.0, 0.9, "g"))], 3.0, SAY, 0.0)}
    assert "400" in fresh["jump"].text


def test_a_bottle_cannot_give_more_than_it_holds_and_says_the_amounts():
    assert booked(0.14, 0.1) == pytest.approx(0.04)
    with pytest.raises(DomainError, match=r"140\.0 g.*200\.0 g"):
        booked(0.14, 0.2)


@pytest.mark.parametrize(
    ("typed", "how"), [("100 mL of each part", "volume"), ("100 g of each part", "weight")]
)
def test_equal_parts_are_refused_by_the_way_they_would_be_measured(typed, how):
    with pytest.raises(DomainError, match=f"to 1 by {how}"):
        weigh_out(read_amount(typed), SHEETS["slow-casting-epoxy"])


@pytest.mark.parametrize("is_through", [False, True])
def test_a_marked_patch_narrows_downwards_unless_it_goes_through(is_through):
    defect = Defect.model_validate(
        {
            "id": "d",
            "kind": "punky patch",
            "x_m": "10 mm",
            "y_m": "10 mm",
            "length_m": "50 mm",
            "width_m": "30 mm",
            "depth_m": "20 mm",
            "is_through": is_through,
        }
    )
    shape = void_shape(defect, Survey())
    share = 1.0 if is_through else NARROWS
    assert shape.bottom_length_m.value == pytest.approx(0.05 * share)
    assert shape.bottom_width_m.value == pytest.approx(0.03 * share)


def test_crossed_limits_are_told_in_their_own_units():
    sheet = system(room_from_c="28 C", room_to_c="18 C", pressure_from_pa="4 bar", pressure_to_pa="2.5 bar")
    texts = [one.text for one in check_system(sheet) if one.code == "limits-crossed"]
    assert any("28 °C as the lower, 18 °C" in text for text in texts)
    assert any("4 bar as the lower, 2.5 bar" in text for text in texts)


def test_a_single_cup_has_no_name_and_several_are_told_apart():
    dose = {"id": "mica", "name": "Mica", "share": 0.02}
    one = reduce(task(cups=[{"colour": "rust", "share": 1.0, "colourants": [dose]}]), [])
    two = reduce(
        task(
            cups=[
                {"colour": "rust", "share": 0.5, "colourants": [dose]},
                {"colour": "cream", "share": 0.5, "colourants": [dose]},
            ]
        ),
        [],
    )
    assert [step.cup for step in one.steps if step.kind == "colourant"] == [""]
    assert [step.cup for step in two.steps if step.kind == "colourant"] == ["rust", "cream"]


def test_a_mesh_read_in_the_wrong_unit_is_told_its_size():
    with pytest.raises(DomainError, match=r"0\.05 mm thin when read in mm"):
        _check_size(np.array([0.1, 0.1, 5e-5]), "mm")
    with pytest.raises(DomainError, match="12 m long when read in m"):
        _check_size(np.array([12.0, 1.0, 1.0]), "m")


def test_of_two_voids_the_one_that_cannot_be_laid_out_leaves_the_other():
    missing = box_void()
    missing.update(id="gone", name="Gone", portions=[{"id": "g", "system_id": "not-on-the-shelf"}])
    made = plan(box_piece(voids=[missing, box_void()]))
    assert [layer.void_id for pour in made.pours for layer in pour.layers]
    assert {layer.void_id for pour in made.pours for layer in pour.layers} == {"box"}


def test_what_is_reserved_and_the_last_pours_end_are_in_the_plan():
    made = plan(box_piece(reserve="5 %"))
    lines = [line for pour in made.pours for line in pour.allowances if line.code == "reserve"]
    assert all(made.workings[line.volume.working].inputs[0].value == pytest.approx(0.05) for line in lines)
    assert lines and made.clock.pins[-1].kind == "demould"
