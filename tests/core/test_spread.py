"""How far off the litres may be: against the closed form of the law of propagation, and by Monte Carlo."""

import math
import random
from statistics import stdev

import pytest

from cavatum.core.measure.cavity import cavity_of
from cavatum.core.measure.spread import BETWEEN
from cavatum.core.piece.document import Void
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


def plan_of(void):
    return make_plan(box_piece(voids=[void]), SHEETS, workshop(), NOW)


def test_the_band_of_a_box_is_the_root_of_its_squared_relative_spreads():
    # GUM 5.1.6: for a product the relative spreads add in squares
    made = plan_of(box_void("200 mm ± 2 mm", "100 mm ± 1 mm", "50 mm ± 1 mm"))
    relative = math.sqrt(0.01**2 + 0.01**2 + 0.02**2)
    assert made.voids[0].band.value == pytest.approx(relative * 1e-3, rel=1e-6)
    assert made.totals.band.value == pytest.approx(made.voids[0].band.value)


def test_the_reading_that_matters_most_is_named():
    made = plan_of(box_void("200 mm ± 2 mm", "100 mm ± 1 mm", "50 mm ± 1 mm"))
    assert made.voids[0].shares[0].reading == "depth" and "depth of Box again" in made.totals.again
    assert sum(one.share for one in made.voids[0].shares) == pytest.approx(1.0)


def test_without_spreads_no_band_is_invented():
    made = plan_of(box_void())
    assert made.voids[0].band is None and made.totals.band is None and made.totals.again == ""


def test_the_width_at_a_station_is_asked_for_again():
    widths = [100, 118, 120, 111, 110]
    stations = [
        {"at_m": f"{100 * i} mm", "width_m": f"{w} mm" + (" ± 6 mm" if i == 3 else " ± 1 mm")}
        for i, w in enumerate(widths)
    ]
    made = plan_of(box_void() | {"shape": {"kind": "river", "stations": stations, "depth_m": "40 mm"}})
    assert "width at station 4 of Box again" in made.totals.again
    between = next(one for one in made.voids[0].shares if one.reading == BETWEEN)
    assert between.share > 1e-4


def test_stations_on_one_line_leave_nothing_between_them():
    """What is left of rounding there is no share of a doubt, on any version of Python."""
    stations = [{"at_m": f"{100 * i} mm", "width_m": f"{100 + 7.3 * i:g} mm ± 1 mm"} for i in range(5)]
    made = plan_of(box_void() | {"shape": {"kind": "river", "stations": stations, "depth_m": "40 mm"}})
    assert made.voids[0].shares and BETWEEN not in [one.reading for one in made.voids[0].shares]


def test_the_band_agrees_with_monte_carlo():
    # the same spreads drawn as normal deviates; 4,000 draws give the deviation to about 1 %, taken as 4 %
    chance = random.Random(1)
    shape = {
        "kind": "cone",
        "top_diameter_m": "78 mm ± 1 mm",
        "bottom_diameter_m": "62 mm ± 1 mm",
        "depth_m": "110 mm ± 2 mm",
    }
    band = plan_of(box_void() | {"shape": shape, "count": 3}).voids[0].band.value
    volumes = []
    for _ in range(4000):
        drawn = {
            "kind": "cone",
            **{
                f"{key}_m": {"value": chance.gauss(mean, sigma)}
                for key, mean, sigma in (
                    ("top_diameter", 0.078, 0.001),
                    ("bottom_diameter", 0.062, 0.001),
                    ("depth", 0.110, 0.002),
                )
            },
        }
        cavity = cavity_of(Void.model_validate(box_void() | {"shape": drawn}))
        volumes.append(3 * cavity.volume(cavity.fill_m))
    assert band == pytest.approx(stdev(volumes), rel=0.04)


def test_a_traced_outline_carries_its_own_band():
    shape = {
        "kind": "outline",
        "depth_m": "20 mm",
        "points_m": [(0, 0), (0.1, 0), (0.1, 0.1), (0, 0.1)],
        "area_spread": {"value": 0.012},
    }
    assert plan_of(box_void() | {"shape": shape}).voids[0].band.value == pytest.approx(
        0.012 * 0.2e-3, rel=1e-9
    )


def test_embedded_things_count_too():
    thing = {
        "id": "t",
        "name": "pebble",
        "count": 10,
        "mass_kg": "265 g ± 5 g",
        "sample": 10,
        "density_kg_m3": "2650 kg/m3",
        "from_m": "0 mm",
        "to_m": "30 mm",
    }
    made = plan_of(box_void() | {"inclusions": [thing]})
    assert made.voids[0].displaced.value == pytest.approx(100e-6, rel=1e-9)  # 265 g of quartz are 100 mL
    assert made.voids[0].band.value == pytest.approx(100e-6 * 5 / 265, rel=1e-6)


@pytest.mark.parametrize(("size", "share"), [("block", 1), ("egg", math.pi / 6), ("rod", math.pi / 4)])
def test_a_thing_by_its_three_sizes(size, share):
    # box, ellipsoid and elliptic cylinder of the same three measures: 1, pi/6, pi/4 of the box
    thing = {
        "id": "t",
        "name": "x",
        "count": 2,
        "size_m": {"form": size, "length_m": "40 mm", "width_m": "20 mm", "height_m": "10 mm"},
        "density_kg_m3": None,
        "from_m": "5 mm",
        "to_m": "15 mm",
    }
    assert plan_of(box_void() | {"inclusions": [thing]}).voids[0].displaced.value == pytest.approx(
        2 * share * 8e-6, rel=1e-9
    )
