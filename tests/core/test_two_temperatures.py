"""A sheet with times at two temperatures: two activation energies, against SciPy on the law written out by
hand, and what is wrong with such times is said.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.constants import R  # CODATA
from scipy.integrate import solve_ivp

from cavatum.core.calibration.from_sheet import working_time
from cavatum.core.calibration.of_system import cure_of
from cavatum.core.calibration.spread import resins_like
from cavatum.core.calibration.two_temperatures import energy_sd
from cavatum.core.cure.kinetics import time_to
from cavatum.core.cure.parameters import CLASSES, Kinetics
from cavatum.core.heat import kernel
from cavatum.core.heat.body import Body
from cavatum.core.heat.cast import Cast
from cavatum.core.heat.column import Stack
from cavatum.core.heat.grid import Room
from cavatum.core.heat.materials import Surround
from cavatum.core.plan import make_plan
from cavatum.core.resin.checks import check_system
from cavatum.core.resin.system import System, confirmed
from cavatum.core.resin.typical import typical_systems

from ..samples import NOW, box_piece, box_void, workshop

SHEETS = {one.id: confirmed(one) for one in typical_systems()}
TWO = CLASSES["slow-casting-epoxy"].model_copy(
    update={"energy_start_j_mol": 44e3, "energy_j_mol": 63e3, "heat_j_kg": 1.0}
)  # invented: no class has two; without heat, so that one temperature holds


def by_hand(kinetics: Kinetics, celsius: float, conversion: float) -> float:
    """Seconds to a conversion at one temperature, by SciPy, of the law as job and core have it."""

    def rate(_: float, a: np.ndarray) -> np.ndarray:
        kelvin = celsius + 273.15
        over = 1 / kelvin - 1 / 296.15
        k2 = kinetics.k2_ref_1_s * math.exp(-63e3 / R * over)
        k1 = kinetics.b * kinetics.k2_ref_1_s * math.exp(-44e3 / R * over)
        glass = kinetics.tg0_k + (kinetics.tginf_k - kinetics.tg0_k) * kinetics.lam * a / (
            1 - (1 - kinetics.lam) * a
        )
        free = 1 / (1 + np.exp((glass - kelvin - 12) / 4))
        return free * (k1 + k2 * a) * (1 - a) ** 2

    def there(_: float, a: np.ndarray) -> float:
        return float(a[0] - conversion)

    there.terminal = True  # type: ignore[attr-defined]  # as SciPy wants it
    done = solve_ivp(rate, (0, 60 * 86400), [0.0], method="LSODA", rtol=1e-9, atol=1e-12, events=there)
    return float(done.t_events[0][0])


@pytest.mark.parametrize("celsius", [8.0, 23.0, 40.0])
def test_march_with_two_energies_is_scipys(celsius: float) -> None:
    stack = Stack(body=Body.wide(), surround=Surround(), room=Room.steady(celsius), tolerance_k=1e-3)
    film = stack.pour(Cast(from_m=0.0, to_m=0.001, kinetics=TWO, poured_k=celsius + 273.15))
    wanted = by_hand(TWO, celsius, 0.6)
    marched = film.wait(2 * wanted)[1].first(0, kernel.MOST_CURED, 0.6)
    assert marched == pytest.approx(wanted, rel=2e-3)
    assert time_to(TWO, 0.5, celsius + 273.15) == pytest.approx(by_hand(TWO, celsius, 0.5), rel=5e-3)


def told_at(sheet: System, celsius: float, **times_s: float) -> System:
    """The sheet with times at a second temperature."""
    values = {f"other_{name}_s": {"value": at, "origin": "sheet"} for name, at in times_s.items()}
    return System.model_validate(
        {**sheet.model_dump(), "other_at_c": {"value": celsius, "origin": "sheet"}, **values}
    )


@pytest.mark.parametrize("name", ["coating-epoxy", "casting-epoxy-25", "slow-casting-epoxy"])
@pytest.mark.parametrize("of_class", [0.85, 1.2])
def test_sheets_second_working_time_is_met(name: str, of_class: float) -> None:
    """Eight degrees colder, a little more or less longer than its class would be."""
    plain = SHEETS[name]
    cold_c = plain.working_time.temperature_c.value - 8
    own = cure_of(plain)
    cold = replace(own.pot, temperature_c=cold_c, time_s=5 * own.pot.time_s)
    there = working_time(own.kinetics, cold)
    times_as_long = there / working_time(own.kinetics, own.pot) * of_class
    cure = cure_of(told_at(plain, cold_c, working=plain.working_time.time_s.value * times_as_long))
    at_first = working_time(cure.kinetics, cure.pot)
    assert working_time(cure.kinetics, cold) / at_first == pytest.approx(times_as_long, rel=0.01)
    assert at_first == pytest.approx(working_time(own.kinetics, own.pot), rel=0.02)
    assert cure.kinetics.energy_start_j_mol is None, "one number tells one energy"
    assert "at ⟦" in cure.fitted_to.split("; and its times ")[-1]


def test_two_times_tell_two_energies() -> None:
    """What a resin with two known energies would have on its sheet leads back to them."""
    plain = SHEETS["slow-casting-epoxy"]
    pot = cure_of(plain).pot
    true = CLASSES["slow-casting-epoxy"].model_copy(update={"energy_start_j_mol": 46e3, "energy_j_mol": 62e3})
    first, cold = (working_time(true, replace(pot, temperature_c=at)) for at in (pot.temperature_c, 15.0))

    def wide(celsius: float, until_s: float) -> tuple[np.ndarray, np.ndarray]:
        stack = Stack(body=Body.wide(), surround=Surround(), room=Room.steady(celsius))
        layer = stack.pour(Cast(from_m=0, to_m=0.04, kinetics=true, poured_k=celsius + 273.15, stirs=1.0))
        done = layer.wait(until_s)[1]
        return done.times, done.watched[:, 0, kernel.LEAST_CURED]

    at, cured = wide(23.0, plain.full_cure_s.value)
    gate = float(np.interp(plain.demould_s.value, at, cured))
    at, cured = wide(15.0, 20 * plain.full_cure_s.value)
    late = float(np.interp(gate, cured, at))
    sheet = plain.model_copy(
        update={
            "working_time": plain.working_time.model_copy(
                update={"time_s": plain.working_time.time_s.model_copy(update={"value": first})}
            )
        }
    )
    told = cure_of(told_at(sheet, 15.0, working=cold, demould=late))
    assert told.doubts == ()
    assert told.kinetics.energy_start_j_mol == pytest.approx(46e3, abs=3000)  # the fit's cup is coarse
    assert told.kinetics.energy_j_mol == pytest.approx(62e3, abs=1500)
    names = {one.name: one.origin for one in told.told}
    assert names["activation energy of the start, kJ/mol"] == names["activation energy, kJ/mol"] == "sheet"


def test_nearer_times_tell_less() -> None:
    """R sqrt(2) 8 % / |1/288.15 - 1/308.15|, by hand; it narrows a class's 4 kJ/mol, never widens it."""
    assert energy_sd(15.0, 35.0, 0.08) == pytest.approx(8.314 * 1.41421 * 0.08 / 2.2524e-4, rel=1e-3)
    plain = SHEETS["coating-epoxy"]
    far, near = (
        cure_of(told_at(plain, at, working=plain.working_time.time_s.value * times))
        for at, times in ((4.0, 4.0), (18.0, 1.5))
    )
    assert far.claims.energy_sd < near.claims.energy_sd < cure_of(plain).claims.energy_sd == 4000.0
    assert np.std([one.energy_j_mol for one in resins_like(far.subject)]) < np.std(
        [one.energy_j_mol for one in resins_like(cure_of(plain).subject)]
    )


@pytest.mark.parametrize(
    ("at_c", "working_s", "says"),
    [
        (None, 4000.0, "which one is not entered"),
        (22.5, 2500.0, "the rounding of the two times says more"),
        (16.0, 1200.0, "A warmer resin is quicker"),
        (32.0, 4000.0, "A warmer resin is quicker"),
    ],
)
def test_wrong_second_times_are_said(at_c: float | None, working_s: float, says: str) -> None:
    sheet = SHEETS["coating-epoxy"]  # 40 min at 24 degC
    odd = told_at(sheet, at_c or 10.0, working=working_s)
    if at_c is None:
        odd = odd.model_copy(update={"other_at_c": None})
    said = [one for one in check_system(odd) if one.code == "second-temperature"]
    assert [one.where for one in said] == ["/other_at_c"] and says in said[0].text


def test_times_that_no_resin_has_are_a_doubt_of_the_plan() -> None:
    """Twice as long four degrees colder: not even 120 kJ/mol would do it."""
    sheet = SHEETS["slow-casting-epoxy"]
    first = sheet.working_time
    odd = told_at(sheet, first.temperature_c.value - 5, working=first.time_s.value * 6)
    cure = cure_of(odd)
    assert [one.code for one in cure.doubts] == ["contradicts-warmth"]
    assert cure.kinetics == cure_of(sheet).kinetics, "the heat goes by the first temperature then"
    made = make_plan(box_piece(), {odd.id: odd}, workshop(), NOW)
    (said,) = [one for one in made.verdicts if one.code == "sheet-contradicts-itself"]
    assert said.title == "Its times at two temperatures do not fit" and said.where == "/other_at_c"


def test_second_time_waits_for_the_first() -> None:
    typical = next(one for one in typical_systems() if one.id == "coating-epoxy")
    told = told_at(typical, 12.0, working=9000.0)
    assert cure_of(told).kinetics == cure_of(typical).kinetics
    assert "still a typical value" in next(
        one.text for one in check_system(told) if one.code == "second-temperature"
    )


def test_cold_room_waits_as_the_sheet_says() -> None:
    """A cold room's clock follows: a resin that minds the cold more takes longer there, and the same at
    23 degC.
    """
    plain = SHEETS["casting-epoxy-25"]
    thin, times = box_piece(voids=[box_void(depth="20 mm")]), plain.demould_s.value
    minds = told_at(plain, 15.0, demould=times * 4.0)
    doesnt = told_at(plain, 15.0, demould=times * 2.6)

    def out_s(sheet: System, room: str) -> float:
        made = make_plan(
            thin.model_copy(update={"system_id": sheet.id}), {sheet.id: sheet}, workshop(room_c=room), NOW
        )
        assert made.totals.out_of_form_at is not None and made.start_at is not None
        return (made.totals.out_of_form_at - made.start_at).total_seconds()

    assert out_s(minds, "15 °C") > 1.1 * out_s(doesnt, "15 °C")
    assert out_s(minds, "23 °C") == pytest.approx(out_s(doesnt, "23 °C"), rel=0.1)
