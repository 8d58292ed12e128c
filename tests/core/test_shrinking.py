"""How far a level falls, how hard cured resin pulls, and what bears it. Rules 2.3, 4.2."""

import pytest

from cavatum.core.cure.shrinkage import cooling_strain, cure_strain, drop_share
from cavatum.core.layers.shrinking import HOLDS, STIFF_HOLDS
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


def test_a_cube_that_cures_shrinks_along_each_edge():
    """By hand: 3 % of the volume of a whole reaction, from 60 % on: 0.97 / 0.982, its cube root."""
    assert cure_strain(0.03, 0.6, 1.0) == pytest.approx(1 - (0.97 / 0.982) ** (1 / 3))
    assert cure_strain(0.03, 0.6, 0.6) == 0.0


def test_cooling_goes_by_both_sides_of_the_glass_transition():
    """By hand: 20 K as a rubber at 180 ppm/K, 20 K as a glass at 65."""
    assert cooling_strain(333.15, 313.15, 293.15) == pytest.approx(20 * 180e-6 + 20 * 65e-6)
    assert cooling_strain(333.15, 400.0, 293.15) == pytest.approx(40 * 65e-6)
    assert cooling_strain(333.15, 280.0, 293.15) == pytest.approx(40 * 180e-6)
    assert cooling_strain(290.0, 313.15, 293.15) == 0.0


def test_a_warm_pour_falls_further():
    """By hand: 15 K too warm are 0.8 % of its volume."""
    assert drop_share(0.025, 1.0, 296.15, 296.15) == pytest.approx(0.025)
    assert drop_share(0.025, 1.0, 311.15, 296.15) == pytest.approx(1 - 0.975 * (1 - 15 * 5.5e-4))


def shrinks(wall="wood", depth="25 mm", **void):
    piece = box_piece(
        system_id="casting-epoxy-25", voids=[box_void("300 mm", "80 mm", depth, wall=wall, **void)]
    )
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
    return plan.pours[0].layers[0].heat, plan


def test_every_figure_has_its_working_and_agrees_with_the_others():
    heat, plan = shrinks()
    found = heat.shrinks
    for figure in (found.strain, found.drop, found.gap):
        assert figure.working in plan.workings
    assert found.gap.value == pytest.approx(found.strain.value * 0.04, rel=1e-6)  # half of 80 mm
    # Common practice, no source: an inch falls by a thirty-second to a sixteenth of an inch.
    assert 0.0254 / 32 * 0.6 < found.drop.value < 0.0254 / 16
    # The sheet's 2.5 % is poured on top: what is left out of its line is the cure it lacks and its warmth.
    assert found.level.value == pytest.approx(0.025 / 0.975 - found.drop.value / 0.975 - 0.025, abs=1e-9)
    assert abs(found.level.value) < 1e-4


def test_hotter_layers_pull_harder():
    strains = [shrinks(depth=depth)[0].shrinks.strain.value for depth in ("8 mm", "16 mm", "25 mm")]
    assert strains == sorted(strains) and strains[0] < HOLDS["wood"]


@pytest.mark.parametrize(
    ("void", "borne"),
    [
        ({"wall": "wood"}, HOLDS["wood"]),
        ({"wall": "glass"}, HOLDS["glass"]),
        ({"wall": "glass", "form": {"release": "agent"}}, None),
        ({"wall": "silicone"}, None),
    ],
)
def test_what_bears_it(void, borne):
    assert shrinks(**void)[0].shrinks.borne == borne


def test_a_stiff_thing_in_it_holds_it_even_where_the_wall_lets_go():
    stone = {
        "id": "s",
        "name": "stone",
        "volume_m3": "20 mL",
        "from_m": "0 mm",
        "to_m": "20 mm",
        "made_of": "stone",
    }
    assert shrinks("silicone", inclusions=[stone])[0].shrinks.borne == STIFF_HOLDS


def test_a_layer_that_pulls_harder_than_its_wall_bears_is_warned_of():
    """Polyurethane comes to 90 degC, as it is meant to: silicone lets it go, wood holds it."""

    def said(wall):
        void = box_void("120 mm", "120 mm", "25 mm", wall=wall)
        piece = box_piece(system_id="fast-casting-polyurethane", voids=[void])
        plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
        return [one for one in plan.verdicts if one.code == "pulls-or-cracks"]

    (warned,) = said("wood")
    assert warned.weight == "warning" and "%" in warned.text
    assert said("silicone") == []


def test_a_film_gets_nothing_on_top_and_ends_low_by_its_drop():
    coat = {
        "id": "c",
        "name": "Flood",
        "wall": "wood",
        "film_m": "3 mm",
        "surface": {"kind": "board", "length_m": "400 mm", "width_m": "300 mm", "thickness_m": "20 mm"},
        "portions": [{"id": "p"}],
    }
    piece = box_piece(system_id="coating-epoxy", voids=[], coats=[coat])
    plan = make_plan(piece, SHEETS, workshop(), NOW, chances=False)
    found = plan.pours[0].layers[0].heat.shrinks
    assert found.level.value == pytest.approx(-found.drop.value) and found.drop.value > 0
