"""What is in no pour is said; what is hot is not called cool. Rules 3.4, 4.4."""

from __future__ import annotations

import pytest

from cavatum.core.common.wording import Wording
from cavatum.core.plan import make_plan
from cavatum.core.summary.compare import Facts, reasons
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


def made(portions, **changes):
    piece = box_piece(voids=[box_void("200 mm", "150 mm", "100 mm", portions=portions)], **changes)
    return make_plan(piece, SHEETS, workshop(), NOW, in_full=False)


def test_a_portion_that_ends_below_the_fill_line_says_how_much_stays_empty():
    plan = made([{"id": "p1", "to_m": "40 mm"}])
    told = next(one for one in plan.verdicts if one.code == "left-unpoured")
    assert told.weight == "warning" and "1.80 L of 3.00 L" in told.text and told.where == "/voids/0/portions"
    poured = sum(layer.volume.value for pour in plan.pours for layer in pour.layers)
    assert poured == pytest.approx(0.2 * 0.15 * 0.04)


@pytest.mark.parametrize("portions", [[{"id": "p1"}], [{"id": "p1", "to_m": "40 mm"}, {"id": "p2"}]])
def test_nothing_is_said_where_all_of_it_is_poured(portions):
    assert "left-unpoured" not in {one.code for one in made(portions).verdicts}


def facts(system_id: str, peak_c: float, wanted_c: float) -> Facts:
    return Facts(system_id=system_id, name=system_id, offered=True, pours=1, peak_c=peak_c, wanted_c=wanted_c)


def test_a_hundred_degrees_is_not_called_cool_however_much_the_resin_bears():
    all_ = [facts("slow", 38.0, 60.0), facts("quick", 102.0, 115.0), facts("middle", 59.0, 60.0)]
    said = reasons(all_, Wording(workshop()))
    assert "stays cool" in said["slow"].for_it
    assert "cool" not in said["quick"].for_it and "cool" not in said["middle"].for_it


@pytest.mark.parametrize(
    ("buy_minor", "left_kg", "says"),
    [(4200, 1.2, True), (4200, 0.5, False), (4200, None, False), (0, 1.2, False), (None, 1.2, False)],
)
def test_what_is_bought_and_left_over_speaks_against_it(buy_minor, left_kg, says):
    """More than half a kilogram of what is bought: what the shelf holds already is no loss."""
    one = facts("one", 30.0, 60.0).model_copy(update={"buy_minor": buy_minor, "left_kg": left_kg})
    said = reasons([one], Wording(workshop()))["one"].against
    assert ("over" in said and "1.2" in said) == says
