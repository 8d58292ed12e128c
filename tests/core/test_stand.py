"""Form, level and floating: hydrostatics and plane geometry worked by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError
from cavatum.core.measure.form import floor_pressure, gas_volume_left, wall_force
from cavatum.core.measure.level import corner_shims, level_swing, rise, wedge_overflow
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

ANGLE = st.floats(min_value=-5, max_value=5)
LENGTH = st.floats(min_value=0.05, max_value=3)


def plan_of(void, **changes):
    return make_plan(box_piece(voids=[void], **changes), SHEETS, workshop(), NOW)


def test_pressure_and_force_of_40_mm_of_resin():
    # by hand: 1090 x 9.80665 x 0.04 = 427.6 Pa; on a 600 mm wall 427.6 / 2 x 0.04 x 0.6 = 5.13 N
    assert floor_pressure(1090, 0.040) == pytest.approx(427.6, abs=0.1)
    assert wall_force(1090, 0.600, 0.040) == pytest.approx(5.13, abs=0.01)


def test_a_bubble_under_2_8_bar_keeps_27_percent_of_its_volume():
    # Boyle, absolute pressures: 1.013 / 3.813; its diameter to the third root, 64 %
    assert gas_volume_left(2.8) == pytest.approx(0.266, abs=0.001)
    assert gas_volume_left(2.8) ** (1 / 3) == pytest.approx(0.64, abs=0.005)


@given(ANGLE, ANGLE, LENGTH, LENGTH)
def test_shims_bring_all_four_corners_to_one_height(pitch, roll, length, width):
    found = corner_shims(pitch, roll, length, width)
    heights = {round(found.heights_m[name] + found.shims_m[name], 9) for name in found.shims_m}
    assert len(heights) == 1 and min(found.shims_m.values()) == pytest.approx(0, abs=1e-12)


def test_half_a_degree_over_two_metres_is_17_mm():
    # tan 0.5 degrees = 0.008727
    assert rise(2.0, 0.5) * 1000 == pytest.approx(17.45, abs=0.01)


def test_a_tilted_tray_runs_over_by_the_wedge_above_its_freeboard():
    # 400 x 300 mm at 1 degree: rise 6.98 mm, half of it 3.49 mm; 2 mm of freeboard leave 1.49 mm x 0.12 m2 =
    # 179 mL
    assert wedge_overflow(0.400, 0.300, 1.0, 0.002) * 1e6 == pytest.approx(179, abs=1)
    assert wedge_overflow(0.400, 0.300, 1.0, 0.0035) == 0
    assert level_swing(1.0, 0.0, 0.4, 0.3) * 1000 == pytest.approx(3.49, abs=0.01)
    with pytest.raises(DomainError):
        wedge_overflow(0.4, 0.3, 1.0, -0.001)


@given(ANGLE, LENGTH, LENGTH, st.floats(min_value=0, max_value=0.05))
def test_a_higher_dam_never_lets_more_run_over(tilt, length, width, freeboard):
    assert wedge_overflow(length, width, tilt, freeboard + 0.001) <= wedge_overflow(
        length, width, tilt, freeboard
    )


def test_the_deepest_layer_presses_on_the_form():
    made = plan_of(box_void(depth="40 mm") | {"form": {"dam_m": "6 mm"}, "overfill_m": "2 mm"})
    form = made.voids[0].form
    density = made.pours[0].layers[0].mass.value / made.pours[0].layers[0].volume.value
    deepest = max(layer.depth.value for pour in made.pours for layer in pour.layers)
    assert form.pressure.value == pytest.approx(density * 9.80665 * deepest, rel=1e-9)
    assert form.forces[0].value == pytest.approx(form.pressure.value * deepest * 0.6 / 2, rel=1e-9)
    assert form.freeboard.value == pytest.approx(0.004)
    assert form.dam_least.value == pytest.approx(0.002 + 0.005)  # overfill and five millimetres to spare


LEVEL = {"pitch_deg": "0.5 deg", "roll_deg": "0 deg", "length_m": "500 mm", "width_m": "200 mm"}


def test_a_piece_that_is_not_level_names_the_corner_and_what_runs_over():
    made = plan_of(box_void() | {"form": {"dam_m": "1 mm"}}, level=LEVEL)
    codes = [verdict.code for verdict in made.verdicts]
    assert "runs-over" in codes and "not-level" in codes
    # box 600 mm long: half the rise is 2.62 mm, freeboard 1 mm, opening 0.15 m2
    assert made.level.overflow.value == pytest.approx(
        (0.6 * math.tan(math.radians(0.5)) / 2 - 0.001) * 0.15, rel=1e-6
    )
    assert {corner.name for corner in made.level.corners if corner.shim.value > 0} == {
        "near left",
        "near right",
    }


def test_a_tilt_wants_a_higher_dam():
    made = plan_of(box_void(), level=LEVEL, system_id="slow-casting-epoxy")
    assert made.voids[0].form.dam_least.value == pytest.approx(
        0.6 * math.tan(math.radians(0.5)) / 2 + 0.005, rel=1e-6
    )


def test_a_high_dam_keeps_it_in():
    made = plan_of(box_void() | {"form": {"dam_m": "10 mm"}}, level=LEVEL)
    assert made.level.overflow is None and "runs-over" not in [verdict.code for verdict in made.verdicts]


def test_a_dam_lower_than_the_overfill_stops_the_job():
    made = plan_of(box_void() | {"form": {"dam_m": "1 mm"}, "overfill_m": "2 mm"})
    assert any(verdict.code == "dam-too-low" and verdict.weight == "blocker" for verdict in made.verdicts)


def ring(**changes):
    cones = {
        "outer": {"kind": "cylinder", "diameter_m": "240 mm", "depth_m": "120 mm"},
        "inner": {"kind": "cylinder", "diameter_m": "196 mm", "depth_m": "140 mm"},
    }
    return {
        "id": "ring",
        "name": "Ring",
        "wall": "plastic",
        "portions": [{"id": "p"}],
        "shape": {"kind": "nested", "inner_from_m": "0 mm", **cones, **changes},
    }


def test_a_light_inner_mould_rises_with_what_it_displaces():
    # by Archimedes: pi 0.098^2 x 0.12 m3 x mixed density less its own mass; half as much again to hold it
    made = plan_of(ring(inner_mass_kg="1.9 kg"))
    density = made.pours[0].layers[0].mass.value / made.pours[0].layers[0].volume.value
    push = math.pi * 0.098**2 * 0.12 * density - 1.9
    verdict = next(one for one in made.verdicts if one.code == "inner-floats")
    assert f"{push:.2f} kg" in verdict.text and f"{1.5 * push:.2f} kg" in verdict.todo


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({}, "inner-unknown"),
        ({"inner_mass_kg": "1.9 kg", "held_down": True}, "inner-held"),
        ({"inner_mass_kg": "9 kg"}, None),
    ],
)
def test_the_inner_mould_is_judged_by_its_mass_and_its_hold(changes, code):
    found = [one.code for one in plan_of(ring(**changes)).verdicts if one.code.startswith("inner-")]
    assert found == ([code] if code else [])


def test_a_box_round_a_carved_pocket_is_told_how_much_too_much_it_is():
    made = plan_of(box_void() | {"shape": {"kind": "cylinder", "diameter_m": "100 mm", "depth_m": "20 mm"}})
    assert made.voids[0].boxed.value / made.voids[0].volume.value == pytest.approx(
        4 / math.pi, rel=2e-3
    )  # the rim is drawn with 96 sides
    assert plan_of(box_void()).voids[0].boxed is None
