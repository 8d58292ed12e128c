"""To confirm what a typical sheet says already changes nothing, and a class agrees with its own sheet. Rule
3.2.
"""

from __future__ import annotations

import math

import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.cure.parameters import CLASSES
from tests.samples import SHEETS, system


def confirmed(system_id: str, **changes):
    """Every reading of the sheet as the data sheet's own."""
    values = SHEETS[system_id].model_dump()

    def mark(value):
        if isinstance(value, dict):
            made = {key: mark(one) for key, one in value.items()}
            return {**made, "origin": "sheet"} if "origin" in made else made
        return [mark(one) for one in value] if isinstance(value, (list, tuple)) else value

    return type(SHEETS[system_id]).model_validate({**mark(values), **changes})


@pytest.mark.parametrize("system_id", sorted(SHEETS))
def test_confirming_a_typical_sheet_changes_nothing_that_is_computed(system_id):
    sheet = confirmed(system_id)
    assert sheet.working_time.time_s.origin == sheet.tack_free_s.origin == "sheet"
    typical, told = cure_of(SHEETS[system_id]), cure_of(sheet)
    assert told.kinetics.model_dump(exclude={"fitted_to", "origin"}) == typical.kinetics.model_dump(
        exclude={"fitted_to", "origin"}
    )
    assert told.gates == typical.gates and told.doubts == ()


@pytest.mark.parametrize("system_id", sorted(SHEETS))
def test_a_sheet_a_hair_off_its_class_is_a_hair_off_in_rate(system_id):
    """Fitted, not only compared: the class's own rate agrees with its sheet within a few per cent."""
    time_s = SHEETS[system_id].working_time.time_s.value * 1.001
    work = confirmed(system_id).working_time.model_dump()
    work["time_s"]["value"] = time_s
    told = cure_of(confirmed(system_id, working_time=work)).kinetics
    assert abs(math.log(told.k2_ref_1_s / CLASSES[system_id].k2_ref_1_s)) < 0.05
    assert abs(math.log(told.b / CLASSES[system_id].b)) < 0.1


def test_another_working_time_is_fitted():
    work = confirmed("craft-casting-epoxy").working_time.model_dump()
    work["time_s"]["value"] *= 2
    slower = cure_of(system("craft-casting-epoxy", working_time=work)).kinetics
    assert slower.k2_ref_1_s < 0.7 * CLASSES["craft-casting-epoxy"].k2_ref_1_s
