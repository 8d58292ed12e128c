"""A sheet with working times for several batches and temperatures: the energy and the start that made them
are found again from the rows alone, and rows that no resin has together are said.
"""

from __future__ import annotations

import math

import pytest

from cavatum.core.calibration.from_sheet import PotLife, fit_pot_life, working_time
from cavatum.core.calibration.of_system import cure_of
from cavatum.core.calibration.rows import compared, fit_rows
from cavatum.core.cure.parameters import CLASSES
from cavatum.core.resin.checks import check_system
from cavatum.core.resin.system import System, confirmed
from cavatum.core.resin.typical import typical_systems

CLASS = CLASSES["craft-casting-epoxy"]
SHEET = confirmed(next(one for one in typical_systems() if one.id == "craft-casting-epoxy"))


def pot(minutes: float, grams: float, celsius: float) -> PotLife:
    return PotLife(time_s=60 * minutes, mass_kg=grams / 1000, temperature_c=celsius, criterion="gel")


def said_by(kinetics, batches):
    """Working times of a resin that is known, as its sheet would print them."""
    return [
        PotLife(
            time_s=working_time(kinetics, pot(300, *one), coarse=True),
            mass_kg=one[0] / 1000,
            temperature_c=one[1],
            criterion="gel",
        )
        for one in batches
    ]


@pytest.mark.parametrize("energy", [44e3, 61e3])
def test_the_energy_that_made_the_rows_is_found_from_four_temperatures(energy):
    made = CLASS.model_copy(update={"energy_j_mol": energy})
    first, *others = said_by(made, [(100, 23), (100, 30), (100, 17), (100, 35)])
    found = fit_rows(fit_pot_life(CLASS, first), first, others)
    assert found.kinetics.energy_j_mol == pytest.approx(energy, rel=0.01)
    assert found.kinetics.b == CLASS.b  # all weigh the same: nothing said of it
    assert found.worst < 0.005
    assert len(found.rows) == 4


@pytest.mark.parametrize("b", [0.06, 1.0])
def test_rows_that_weigh_otherwise_move_how_the_start_runs(b):
    made = CLASS.model_copy(update={"b": b})
    first, *others = said_by(made, [(50, 23), (500, 23), (2000, 23)])
    begun = fit_pot_life(CLASS, first)
    found = fit_rows(begun, first, others)
    assert abs(math.log(found.kinetics.b / b)) < abs(math.log(CLASS.b / b))  # towards what made the rows
    assert found.kinetics.energy_j_mol == CLASS.energy_j_mol
    assert found.worst < 0.07
    assert found.worst <= max(abs(one.off) for one in compared(begun, first, others))
    assert fit_rows(fit_pot_life(made, first), first, others, b_is_fitted=True).kinetics.b == b


def system_with(rows) -> System:
    def row(one: tuple[float, float, float]) -> dict:
        minutes, grams, celsius = one
        return {
            "time_s": {"as_typed": f"{minutes} min", "origin": "sheet"},
            "mass_kg": {"as_typed": f"{grams} g", "origin": "sheet"},
            "temperature_c": {"as_typed": f"{celsius} °C", "origin": "sheet"},
            "criterion": "gel",
        }

    first, *others = [row(one) for one in rows]
    return System.model_validate({**SHEET.model_dump(), "working_time": first, "more_working": others})


def test_a_plan_says_how_many_rows_it_was_fitted_to_and_how_well():
    cure = cure_of(system_with([(45, 100, 23), (26, 100, 30), (75, 100, 16), (40, 500, 23)]))
    assert "all 4 working times of the sheet together, met within" in cure.fitted_to
    assert len(cure.rows) == 4
    assert cure.rows[0].off == 0
    assert max(abs(one.off) for one in cure.rows) < 0.3
    one_row = cure_of(system_with([(45, 100, 23)]))
    assert cure.claims.energy_sd < one_row.claims.energy_sd  # what is known better is spread less


def test_rows_that_no_resin_has_together_are_said_and_not_used():
    told = system_with([(45, 100, 23), (44, 100, 33), (10, 100, 27)])
    cure = cure_of(told)
    assert [one.code for one in cure.doubts] == ["contradicts-rows"]
    assert cure.rows == ()
    assert cure.kinetics == cure_of(system_with([(45, 100, 23)])).kinetics


def doubts(system: System) -> list[str]:
    return [one.title for one in check_system(system) if one.code == "working-rows"]


def test_a_warmer_or_larger_batch_that_takes_longer_is_doubted():
    assert doubts(system_with([(45, 100, 23), (26, 100, 30)])) == []
    assert doubts(system_with([(45, 100, 23), (60, 100, 30)])) == ["Slower when warmer or larger"]
    assert doubts(system_with([(45, 100, 23), (60, 500, 23)])) == ["Slower when warmer or larger"]
    assert doubts(system_with([(45, 100, 23), (44, 110, 24)])) == ["Tells nothing more"]
    typical = next(one for one in typical_systems() if one.id == "craft-casting-epoxy")
    mixed = typical.model_copy(
        update={"more_working": system_with([(45, 100, 23), (26, 100, 30)]).more_working}
    )
    assert doubts(mixed) == ["More working times not used yet"]
