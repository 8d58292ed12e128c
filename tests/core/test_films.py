"""Areas, films and rules of thumb: common-practice figures, closed forms, published film flow."""

import math

import pytest
from pydantic import ValidationError

from cavatum.core.coats.flow import creep_speed, drained_film
from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.common.unit_table import INCH_M, US_FLUID_OUNCE_M3
from cavatum.core.measure.areas import extent_of
from cavatum.core.measure.films import (
    COVERAGE_RULES,
    film_hollow,
    notch_film,
)
from cavatum.core.piece.coats import Coat
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, workshop

RULES = {rule.name: rule for rule in COVERAGE_RULES}


def coat(**changes):
    surface = {"kind": "board", "length_m": "48 in", "width_m": "30 in", "thickness_m": "1 in"}
    return Coat.model_validate(
        {
            "id": "c",
            "name": "Top",
            "surface": surface,
            "film_m": "1.2 mm",
            "portions": [{"id": "cp"}],
            **changes,
        }
    )


def plan_of(*coats, **changes):
    return make_plan(
        box_piece(voids=[], coats=[one.model_dump() for one in coats], system_id="coating-epoxy", **changes),
        SHEETS,
        workshop(),
        NOW,
    )


@pytest.mark.parametrize(
    ("rule", "film_mm"),
    [  # common practice, no source; films as quantities divided by area
        ("30 g per 1000 cm²", 0.27),
        ("1 fl oz per ft²", 0.32),
        ("60 g per 1000 cm²", 0.55),
        ("square inches / 70 = fl oz", 0.65),
        ("3 fl oz per ft²", 0.95),
        ("32 ft² per US gallon", 1.27),
        ("self-levels at 1/8 in", 3.2),
    ],
)
def test_each_rule_of_thumb_as_a_film(rule, film_mm):
    assert RULES[rule].film(1100) * 1000 == pytest.approx(film_mm, abs=0.03 if film_mm > 1 else 0.006)


@pytest.mark.parametrize(
    ("rule", "area_in2", "fluid_ounces"),
    [  # worked by hand: 30 x 48 / (144 x 32) gal; 14 x 20 / 70
        ("32 ft² per US gallon", 30 * 48, 40.0),
        ("square inches / 70 = fl oz", 14 * 20, 4.0),
    ],
)
def test_rules_of_thumb_on_worked_areas(rule, area_in2, fluid_ounces):
    assert RULES[rule].film(1100) * area_in2 * INCH_M**2 / US_FLUID_OUNCE_M3 == pytest.approx(
        fluid_ounces, rel=1e-9
    )


def test_a_table_top_has_eleven_percent_more_area_with_its_edges():
    # common practice: 30 x 48 in top, 1 in thick: 1440 + 156 square inches
    extent = extent_of(coat().surface)
    assert extent.edge_m2 / extent.face_m2 == pytest.approx(156 / 1440, rel=1e-9)
    assert film_hollow(coat()).area_m2 == pytest.approx(1596 * INCH_M**2, rel=1e-9)


@pytest.mark.parametrize(
    ("ends", "face", "girth"),
    [
        (0, 2.24 * 0.56, 2 * (2.24 + 0.56)),
        (1, 1.96 * 0.56 + math.pi * 0.28**2 / 2, 2 * 1.96 + 0.56 + math.pi * 0.28),
        (2, 1.68 * 0.56 + math.pi * 0.28**2, 2 * 1.68 + 2 * math.pi * 0.28),
    ],
)
def test_round_ends_are_taken_exactly(ends, face, girth):
    extent = extent_of(
        coat(
            surface={
                "kind": "board",
                "length_m": "2240 mm",
                "width_m": "560 mm",
                "thickness_m": "32 mm",
                "round_ends": ends,
            }
        ).surface
    )
    assert extent.face_m2 == pytest.approx(face, rel=1e-12) and extent.edge_m2 == pytest.approx(
        girth * 0.032, rel=1e-12
    )


def test_a_cup_is_developed_and_its_bare_band_left_out():
    # lateral area of a frustum pi (R + r) s; the band is the frustum's own top strip
    cup = {
        "kind": "cup",
        "top_diameter_m": "78 mm",
        "bottom_diameter_m": "62 mm",
        "height_m": "110 mm",
        "with_base": True,
    }
    slant = math.hypot(0.110, 0.008)
    side = math.pi * (0.039 + 0.031) * slant
    assert extent_of(coat(surface=cup).surface).face_m2 == pytest.approx(side + math.pi * 0.031**2, rel=1e-12)
    banded = extent_of(coat(surface={**cup, "bare_band_m": "10 mm"}).surface).face_m2
    at_band = 0.039 - 0.008 * 0.010 / slant
    assert side + math.pi * 0.031**2 - banded == pytest.approx(math.pi * (0.039 + at_band) * 0.010, rel=1e-9)


def test_both_faces_and_bare_edges():
    one, two = film_hollow(coat(edges="none")).area_m2, film_hollow(coat(edges="none", faces=2)).area_m2
    assert two == pytest.approx(2 * one, rel=1e-12)


def test_what_is_there_already_is_deducted():
    assert film_hollow(coat(existing_m="0.3 mm")).depth_m == pytest.approx(0.9e-3)
    with pytest.raises(ValidationError, match="more is wanted than there is"):
        film_hollow(coat(existing_m="1.2 mm"))


@pytest.mark.parametrize(
    "surface",
    [
        {"kind": "board", "length_m": "200 mm", "width_m": "560 mm", "thickness_m": "20 mm", "round_ends": 1},
        {
            "kind": "cup",
            "top_diameter_m": "78 mm",
            "bottom_diameter_m": "62 mm",
            "height_m": "20 mm",
            "bare_band_m": "30 mm",
        },
    ],
)
def test_ends_or_bands_larger_than_the_piece_are_refused(surface):
    with pytest.raises(Infeasible):
        extent_of(coat(surface=surface).surface)


def test_a_thin_film_hardly_creeps_where_free_liquid_would_run():
    # Nusselt's film at 1 degree and 4 Pa s, 1.1 g/mL: about 5 mm/h at 0.3 mm, 81 mm/h at 1.2 mm (worked by
    # hand)
    assert creep_speed(0.3e-3, math.radians(1), 4, 1100) * 3.6e6 == pytest.approx(5.1, abs=0.2)
    assert creep_speed(1.2e-3, math.radians(1), 4, 1100) * 3.6e6 == pytest.approx(81, abs=1)


def test_an_upright_edge_drains_to_a_thin_film():
    # Jeffreys 1930: 4 Pa s, 30 mm down after half an hour keep about 0.08 mm
    assert drained_film(0.030, 1800, 4, 1100) * 1000 == pytest.approx(0.08, abs=0.003)


def test_a_notched_spreader_lays_the_area_of_a_notch_over_its_pitch():
    notch = {"depth_m": "3 mm", "width_m": "3 mm", "pitch_m": "6 mm"}
    square, v = (coat(notch={**notch, "form": form}).notch for form in ("square", "v"))
    assert notch_film(square) == pytest.approx(1.5e-3) and notch_film(v) == pytest.approx(0.75e-3)
    with pytest.raises(DomainError):
        notch_film(coat(notch={**notch, "pitch_m": "2 mm"}).notch)


def test_seal_and_flood_are_two_pours_of_two_systems():
    made = plan_of(
        coat(portions=[{"id": "s", "system_id": "thin-sealing-epoxy", "to_m": "0.3 mm"}, {"id": "f"}])
    )
    assert [pour.layers[0].system_id for pour in made.pours] == ["thin-sealing-epoxy", "coating-epoxy"]
    area = made.coats[0].area.value
    assert [pour.net.value for pour in made.pours] == pytest.approx([area * 0.3e-3, area * 0.9e-3])


def test_the_resin_on_two_coats_is_their_area_times_the_film():
    made = plan_of(coat(count=2))
    one = film_hollow(coat(count=2))
    assert made.coats[0].net.value == pytest.approx(2 * one.area_m2 * one.depth_m)


def test_coats_follow_the_last_pour_of_the_voids():
    void = {
        "id": "box",
        "name": "Box",
        "wall": "board",
        "portions": [{"id": "p1"}],
        "shape": {"kind": "box", "length_m": "100 mm", "width_m": "80 mm", "depth_m": "5 mm"},
    }
    made = make_plan(
        box_piece(voids=[void], coats=[coat().model_dump()], system_id="coating-epoxy"),
        SHEETS,
        workshop(),
        NOW,
    )
    assert [pour.layers[0].void_id for pour in made.pours] == ["box", "c"]


def test_drips_are_a_line_of_their_own():
    made = plan_of(coat(run_off="10 %"))
    line = next(one for one in made.totals.allowances if one.code == "runoff")
    assert line.volume.value == pytest.approx(0.1 * made.totals.net.value, rel=1e-9)


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"favourite_rule": "1 fl oz per ft²"}, "rule-far-off"),
        ({"favourite_rule": "1 fl oz per ft²"}, "claims-disagree"),
        ({"notch": {"form": "v", "depth_m": "2 mm", "width_m": "2 mm", "pitch_m": "6 mm"}}, "notch-far-off"),
        ({}, "soak-not-counted"),
        ({}, "edges-thin"),
    ],
)
def test_what_does_not_fit_is_pointed_out(changes, code):
    assert code in [verdict.code for verdict in plan_of(coat(**changes)).verdicts]


def test_a_rule_that_fits_the_wanted_film_is_left_in_peace():
    codes = [
        verdict.code
        for verdict in plan_of(coat(favourite_rule="32 ft² per US gallon", soak_m3_m2="0 mL/m2")).verdicts
    ]
    assert "rule-far-off" not in codes and "soak-not-counted" not in codes


def test_every_school_is_shown_with_its_amount_here():
    plan = plan_of(coat()).coats[0]
    assert {one.rule for one in plan.schools} == set(RULES)
    assert all(one.volume.value == pytest.approx(one.film.value * plan.area.value) for one in plan.schools)
    claimed = next(one for one in plan.schools if one.called)
    assert claimed.rule == "1 fl oz per ft²" and claimed.called.value == pytest.approx(INCH_M / 32)


def test_coats_are_called_coats_on_the_clock():
    made = plan_of(
        coat(portions=[{"id": "s", "system_id": "thin-sealing-epoxy", "to_m": "0.3 mm"}, {"id": "f"}])
    )
    assert [row.label for row in made.clock.rows] == ["coat 1", "coat 2"]
    assert [pour.called for pour in made.pours] == ["coat 1", "coat 2"] and made.clock.pins[
        -1
    ].label == "may be handled"
