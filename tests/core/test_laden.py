"""Embedded things, colours and fillers make no heat and take some up. Rule 4.3."""

import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.common.errors import DomainError
from cavatum.core.cure.kinetics import adiabatic_rise
from cavatum.core.cure.parameters import CLASSES
from cavatum.core.heat.laden import EMBEDDED, FILLER_KG_M3, Inert, filler_share, laden
from cavatum.core.piece.shelf_items import ShelfItems
from cavatum.core.plan import courses_of, make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop

RESIN = CLASSES["slow-casting-epoxy"]


def like_resin(conductivity: float) -> Inert:
    return Inert(
        conductivity=conductivity, density=RESIN.density_kg_m3, heat_capacity=RESIN.heat_capacity_j_kg_k
    )


@pytest.mark.parametrize("share", [0.1, 0.3, 0.5])
def test_conductivity_at_maxwells_limits(share):
    """Maxwell 1873, art. 314, as in any handbook: perfectly conducting spheres (1 + 2 phi) / (1 - phi), voids
    (1 - phi) / (1 + phi / 2), things like the resin nothing.
    """
    k = RESIN.conductivity_w_m_k

    def of(conductivity):
        return laden(RESIN, [(share, like_resin(conductivity))]).kinetics.conductivity_w_m_k / k

    assert of(1e9) == pytest.approx((1 + 2 * share) / (1 - share), rel=1e-6)
    assert of(0.0) == pytest.approx((1 - share) / (1 + share / 2), rel=1e-9)
    assert of(k) == pytest.approx(1.0)


def test_mass_and_heat_are_balanced():
    """By hand, a litre: 0.7 L of resin and 0.3 L of stone."""
    load = laden(RESIN, [(0.3, EMBEDDED["stone"])])
    mixed, resin_kg, stone_kg = load.kinetics, 0.7e-3 * RESIN.density_kg_m3, 0.3e-3 * 2650
    assert mixed.density_kg_m3 * 1e-3 == pytest.approx(resin_kg + stone_kg)
    rise = resin_kg * RESIN.heat_j_kg / (resin_kg * RESIN.heat_capacity_j_kg_k + stone_kg * 850)
    assert adiabatic_rise(mixed) == pytest.approx(rise)
    assert load.share == 0.3 and mixed.k2_ref_1_s == RESIN.k2_ref_1_s and mixed.gel == RESIN.gel


def test_nothing_in_it_is_the_resin_itself_and_all_of_it_is_refused():
    assert laden(RESIN, []).kinetics is RESIN
    with pytest.raises(DomainError, match="left for resin"):
        laden(RESIN, [(0.6, EMBEDDED["wood"]), (0.4, EMBEDDED["glass"])])


def test_the_filler_of_a_heavy_mix():
    """By hand: 0.4 of mineral by volume."""
    assert filler_share(0.6 * 1100 + 0.4 * FILLER_KG_M3, 1100) == pytest.approx(0.4)
    assert filler_share(1050, 1100) == 0.0


def block(made_of: str | None, millilitres: float = 600.0):
    """A litre of casting epoxy 50 mm deep, with so much of something in it."""
    thing = {
        "id": "t",
        "name": "pieces",
        "volume_m3": f"{millilitres} mL",
        "from_m": "0 mm",
        "to_m": "50 mm",
        "held_down": True,
        "made_of": made_of,
    }
    void = box_void("200 mm", "100 mm", "50 mm", inclusions=[thing])
    return box_piece(system_id="slow-casting-epoxy", voids=[void])


def hottest(piece, **more):
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False, **more)
    return plan.pours[0].layers[0].heat.peak, plan


def test_what_is_embedded_and_known_keeps_it_cooler_and_unknown_counts_as_resin():
    unknown, _ = hottest(block(None))
    peaks = {stuff: hottest(block(stuff))[0].value for stuff in ("wood", "stone", "metal", "plastic")}
    assert all(peak < unknown.value - 3 for peak in peaks.values())
    assert peaks["metal"] < peaks["wood"]
    peak, plan = hottest(block("wood"))
    shares = [one for one in plan.workings[peak.working].inputs if one.quantity == "fraction"]
    assert any(one.value == pytest.approx(0.6) for one in shares)


def test_only_the_layer_that_holds_it_is_laden():
    thing = {
        "id": "t",
        "name": "stones",
        "volume_m3": "300 mL",
        "from_m": "0 mm",
        "to_m": "20 mm",
        "made_of": "stone",
    }
    portion = {"id": "p1", "boundaries_m": ["20 mm"]}
    void = box_void("200 mm", "100 mm", "40 mm", inclusions=[thing], portions=[portion])
    piece = box_piece(system_id="casting-epoxy-25", voids=[void], layering="own")
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
    course = courses_of(piece, SHEETS, workshop(), plan)["box"]
    assert [round(one.load.share, 6) for one in course.layers] == [0.75, 0.0]


def test_a_strong_colour_counts_by_its_volume():
    """By hand: 20 % of a 2800 kg/m3 powder in a mix of 1.1: v = 0.2 x rho / 2800, of 1 + v."""
    powder = {
        "id": "c1",
        "name": "Grey filler",
        "kind": "filler",
        "density_kg_m3": "2.8 g/mL",
        "most": "30 %",
    }
    recipe = {"id": "r1", "name": "Grey", "parts": [{"colourant_id": "c1", "share": "20 %"}]}
    shelf = ShelfItems.model_validate({"colourants": {"c1": powder}, "recipes": {"r1": recipe}})
    void = box_void("200 mm", "100 mm", "30 mm", portions=[{"id": "p1", "recipe_id": "r1"}])
    piece = box_piece(voids=[void])
    plan = make_plan(piece, SHEETS, workshop(), NOW, shelf_items=shelf, chances=False)
    course = courses_of(piece, SHEETS, workshop(), plan, shelf_items=shelf)["box"]
    volume = 0.2 * RESIN.density_kg_m3 / 2800
    assert course.layers[0].load.share == pytest.approx(volume / (1 + volume))


def test_a_filled_sheet_has_less_heat_and_still_keeps_its_working_time():
    clear = system()
    filled = system(
        is_filled=True,
        density_a_kg_m3={"value": 1600.0, "origin": "sheet"},
        density_b_kg_m3={"value": 1600.0, "origin": "sheet"},
    )
    one, other = cure_of(clear).kinetics, cure_of(filled).kinetics
    share = filler_share(1600, one.density_kg_m3)
    assert other.density_kg_m3 == pytest.approx(1600)
    assert other.heat_j_kg * 1600 == pytest.approx((1 - share) * one.heat_j_kg * one.density_kg_m3)
    assert other.k2_ref_1_s > one.k2_ref_1_s  # a cooler cup needs a quicker resin for the same time
