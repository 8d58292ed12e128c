"""The maker's sheet is the strongest word after a measurement: what was typed is shown as typed, and moved
only by
what is said beside it.
"""

import pytest

from cavatum.core.common.readings import Duration
from cavatum.core.plan import make_plan
from cavatum.core.resin.checks import check_system
from cavatum.core.resin.system import bond_window_s
from tests.samples import NOW, box_piece, box_void, system, workshop

H = 3600.0


def said(value, origin="sheet"):
    return {"value": value, "origin": origin}


def two_layers(depth_mm, room_c=23.0, **changes):
    """Two equal layers poured in a wide tray."""
    sheet = system("craft-casting-epoxy", bond_from_s=said(5 * H), bond_to_s=said(7 * H), **changes)
    portions = [{"id": "p1", "boundaries_m": [f"{depth_mm} mm"]}]
    void = box_void("900 mm", "600 mm", f"{2 * depth_mm} mm", portions=portions)
    piece = box_piece(system_id=sheet.id, layering="own", voids=[void])
    shop = workshop(room_c=said(room_c), week=[[{"from_min": 0, "to_min": 1440}]] * 7)
    return make_plan(piece, {sheet.id: sheet}, shop, NOW, in_full=False)


def window_h(plan):
    first = plan.windows[0]
    return first.opens_s / H, first.closes_s / H


def why(plan):
    return next(pin.why for pin in plan.clock.pins[1:] if pin.kind == "pour")


@pytest.mark.parametrize("depth_mm", [3, 4, 6, 8, 10])
def test_a_typed_window_without_a_layer_is_shown_as_typed_for_the_layer_that_is_poured(depth_mm):
    """The typical "for a layer of 5 mm" that stands beside it is nobody's word."""
    plan = two_layers(depth_mm)
    assert window_h(plan) == pytest.approx((5, 7), rel=0.06)


def test_a_window_typed_for_a_layer_moves_by_that_and_both_are_shown():
    plan = two_layers(6, times_depth_m=said(0.003))
    opens, closes = window_h(plan)
    assert opens < 4.9 and closes < 6.8
    assert "the sheet says 5 h to 7 h" in why(plan)
    assert "this layer, 6 mm, is deeper than its 3 mm" in why(plan)


def test_a_window_shorter_than_the_work_is_not_laid_on_peoples_hours():
    assert "longer than it stays open" in why(two_layers(10, times_depth_m=said(0.003)))


def test_a_colder_room_moves_it_and_is_named():
    plan = two_layers(6, room_c=20.0)
    assert window_h(plan)[0] > 5.3
    assert "this room, 20 °C, is colder than its 23 °C, which is usual where a sheet does not say" in why(
        plan
    )
    assert "5 mm" not in why(plan)


def test_a_typical_window_is_told_without_a_sheet():
    sheet = system("craft-casting-epoxy")
    portions = [{"id": "p1", "boundaries_m": ["6 mm"]}]
    piece = box_piece(
        system_id=sheet.id, layering="own", voids=[box_void("900 mm", "600 mm", "12 mm", portions=portions)]
    )
    plan = make_plan(piece, {sheet.id: sheet}, workshop(), NOW, in_full=False)
    assert "the sheet says" not in why(plan)


def test_a_reference_layer_deeper_than_the_sheets_own_greatest_is_doubted():
    sheet = system("craft-casting-epoxy", times_depth_m=said(0.2))
    assert "times-layer-too-deep" in {one.code for one in check_system(sheet)}
    assert "times-layer-too-deep" not in {one.code for one in check_system(system("craft-casting-epoxy"))}


@pytest.mark.parametrize(
    ("typed", "early_h", "late_h"),
    [
        ("6-8 h", 6, 8),
        ("24 to 36 hours", 24, 36),
        ("about three hours", 2.4, 3.6),
        ("overnight", 8, 12),
        ("half an hour", 0.5, 0.5),
        ("a day", 24, 24),
        ("at least 24 h", 24, 24),
        ("approx. 6 to 8 h", 6, 8),
        ("an hour and a half", 1.5, 1.5),
        ("forty-eight hours", 48, 48),
    ],
)
def test_times_are_read_as_they_are_said_and_keep_both_ends(typed, early_h, late_h):
    read = Duration.model_validate(typed)
    assert (read.early / H, read.late / H) == pytest.approx((early_h, late_h))
    assert Duration.model_validate(read.model_dump()) == read and typed in read.as_typed


def test_a_range_typed_as_the_recoat_time_is_the_window():
    sheet = system("craft-casting-epoxy", bond_from_s={"as_typed": "6-8 h", "origin": "sheet"})
    assert bond_window_s(sheet) == (6 * H, 8 * H)
    both = system(
        "craft-casting-epoxy",
        bond_from_s={"as_typed": "6-8 h", "origin": "sheet"},
        bond_to_s={"as_typed": "18-24 h", "origin": "sheet"},
    )
    assert bond_window_s(both) == (8 * H, 18 * H)


def test_of_a_demould_range_the_late_end_is_counted_on_and_a_test_is_worth_it_from_the_early_one():
    sheet = system(
        "slow-casting-epoxy",
        demould_s={"as_typed": "48 to 72 h", "origin": "sheet"},
        full_cure_s={"as_typed": "7 days", "origin": "sheet"},
    )
    piece = box_piece(system_id=sheet.id, kind_of_work="deep pour", voids=[box_void(depth="30 mm")])
    plan = make_plan(piece, {sheet.id: sheet}, workshop(room_c=said(23.0)), NOW, in_full=False)
    nail = next(one for one in plan.steps if one.code == "nail")
    poured = plan.windows[0].mix_at.timestamp() + plan.windows[0].mix_s + plan.windows[0].pour_s
    assert (nail.earliest.timestamp() - poured) / H == pytest.approx(72, rel=0.1)
    assert "48 h to 3 days" in nail.why and "it may pass" in nail.why
