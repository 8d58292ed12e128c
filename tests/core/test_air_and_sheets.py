"""Dew point, room verdicts and the doubts about a sheet."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.resin.checks import check_system
from cavatum.core.resin.system import confirmed, typical_fields
from cavatum.core.survey.air import dew_point_c, room_verdicts
from tests.samples import SHEETS, system, workshop


def test_dew_point_of_20_degrees_and_50_percent_is_9_3():
    # WMO-No. 8 Magnus coefficients 17.62 and 243.12 degC
    assert dew_point_c(20, 0.5) == pytest.approx(9.3, abs=0.05)


@given(st.floats(min_value=-20, max_value=45))
def test_saturated_air_is_at_its_dew_point(air_c):
    assert dew_point_c(air_c, 1.0) == pytest.approx(air_c, abs=1e-9)


@pytest.mark.parametrize(
    ("room", "humidity", "code"),
    [
        ("12 C", "50 %", "too-cold"),
        ("31 C", "50 %", "too-warm"),
        ("21 C", "80 %", "too-damp"),
        ("21 C", "95 %", "near-dew"),
    ],
)
def test_a_room_outside_the_sheet_is_said(room, humidity, code):
    found = room_verdicts(workshop(room_c=room, room_humidity=humidity), system())
    assert code in [verdict.code for verdict in found]


def test_a_room_inside_the_sheet_has_nothing_to_say():
    assert room_verdicts(workshop(room_c="21 C"), system()) == []


@pytest.mark.parametrize("sheet", SHEETS.values(), ids=lambda sheet: sheet.id)
def test_typical_sheets_do_not_contradict_themselves(sheet):
    assert check_system(sheet) == []


@pytest.mark.parametrize(
    ("changes", "code", "weight"),
    [
        ({"basis": None}, "no-basis", "blocker"),
        ({"density_a_kg_m3": "2.1 g/mL"}, "density-a-doubtful", "warning"),
        ({"density_b_kg_m3": "0.5 g/mL", "is_filled": True}, "density-b-doubtful", "warning"),
        ({"bond_to_s": "30 h"}, "times-out-of-order", "blocker"),
        ({"tack_free_s": "2 h"}, "times-out-of-order", "warning"),
        ({"demould_s": "9 days"}, "times-out-of-order", "warning"),
        ({"least_depth_m": "200 mm"}, "least-over-most", "blocker"),
        (
            {"depth_rules": [{"most_depth_m": "6 mm"}, {"most_depth_m": "38 mm"}]},
            "depth-rules-conflict",
            "warning",
        ),
    ],
)
def test_a_doubtful_sheet_is_doubted(changes, code, weight):
    # an unfilled part of 2.1 g/mL, "pour in quarter inches" against "1.5 in at once": common practice (job
    # rule 3.2)
    assert (code, weight) in [(verdict.code, verdict.weight) for verdict in check_system(system(**changes))]


def test_a_filled_part_may_be_heavy():
    assert check_system(system(density_a_kg_m3="2.1 g/mL", is_filled=True)) == []


def test_typical_is_never_silent_until_confirmed():
    sheet = system()
    assert {"ratio", "working_time", "depth_rules"} <= set(typical_fields(sheet))
    assert typical_fields(confirmed(sheet)) == []


def test_confirming_changes_origins_only():
    before, after = system(), confirmed(system())
    assert after.tack_free_s.value == before.tack_free_s.value
    assert after.tack_free_s.origin == "sheet"
