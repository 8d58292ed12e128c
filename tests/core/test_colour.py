"""Colour by weight: recipes scaled and mixed, drops, opacity, swatches, limits, several colours out of one
clear mix.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from cavatum.core.common.errors import DomainError
from cavatum.core.common.wording import Wording
from cavatum.core.mix.batches import mixed_for
from cavatum.core.mix.opacity import lets_through, share_for
from cavatum.core.mix.recipe import (
    blended,
    drop_mass,
    from_record,
    least_batch,
    lot_differences,
    parts_of,
    scaled,
)
from cavatum.core.mix.swatch import PATCH, burnt_share, corrected, difference, lab_of, linear
from cavatum.core.piece.colour import Colourant, Recipe, typical_colourants
from cavatum.core.piece.shelf_items import ShelfItems
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


def recipe(id_: str = "rust", **shares: str) -> Recipe:
    return Recipe.model_validate(
        {
            "id": id_,
            "name": id_.title(),
            "parts": [
                {"colourant_id": one.replace("_", "-"), "share": share} for one, share in shares.items()
            ],
        }
    )


def colourant(id_: str, kind: str = "pigment paste", **changes) -> Colourant:
    return Colourant.model_validate(
        {"id": id_, "name": id_.title(), "kind": kind, "density_kg_m3": "1.2 g/mL", "most": "6 %", **changes}
    )


def goods(*recipes: Recipe, colourants=()) -> ShelfItems:
    named = {part.colourant_id for one in recipes for part in one.parts}
    shelf = {one.id: one for one in colourants}
    return ShelfItems(
        recipes={one.id: one for one in recipes},
        colourants={one: shelf.get(one) or colourant(one) for one in named},
    )


@given(st.floats(0.01, 5), st.floats(0.0001, 0.06), st.sampled_from([1e-5, 1e-4, 1e-3]))
def test_a_scaled_dose_is_within_half_a_step_of_the_share(clear, share, step):
    one = scaled(recipe(mica=f"{share * 100:.6f} %"), clear, step, {})[0]
    assert abs(one.mass_kg - one.exact_kg) <= step / 2 * (1 + 1e-6) and one.exact_kg == pytest.approx(
        share * clear, rel=1e-4
    )


@given(st.floats(0.01, 2), st.floats(1.5, 8))
def test_a_recipe_scaled_up_keeps_its_shares(clear, times):
    made = recipe(mica="2.4 %", ochre="0.3 %")
    small, large = (scaled(made, mass, 1e-9, {}) for mass in (clear, clear * times))
    for a, b in zip(small, large, strict=True):
        assert b.mass_kg / a.mass_kg == pytest.approx(times, rel=1e-4)


def test_the_least_batch_weighs_its_faintest_colourant_to_a_tenth():
    # hand-worked: half of 0.1 g is a tenth of 0.5 g, which is 0.25 % of 200 g
    made = recipe(white="2.2 %", ochre="0.25 %")
    assert least_batch(made, 1e-4) == pytest.approx(0.2)
    assert max(abs(one.off) for one in scaled(made, 0.2, 1e-4, {})) <= 0.1


@given(st.floats(0.01, 1), st.floats(0.01, 1))
def test_pouring_two_colours_together_keeps_every_gram(first, second):
    one, other = recipe(mica="2 %", ochre="1 %"), recipe("cream", white="3 %", ochre="0.5 %")
    shares = blended([(one, first), (other, second)])
    clear = first / 1.03 + second / 1.035
    assert shares["mica"] * clear == pytest.approx(0.02 * first / 1.03)
    assert shares["ochre"] * clear == pytest.approx(0.01 * first / 1.03 + 0.005 * second / 1.035)
    assert clear * (1 + sum(shares.values())) == pytest.approx(first + second)


def test_a_colour_with_itself_is_itself_and_nothing_gives_nothing():
    one = recipe(mica="2 %")
    assert blended([(one, 0.3), (one, 0.1)])["mica"] == pytest.approx(0.02)
    with pytest.raises(DomainError):
        blended([(one, 0.0)])


def test_a_record_gives_the_shares_that_were_really_mixed():
    # hand-worked: 9.1 g in 753.2 g is 1.208 %
    shares = from_record({"moss": 0.0091, "white": 0.0}, 0.7532)
    assert (
        shares == {"moss": pytest.approx(0.01208, abs=1e-5)}
        and parts_of(shares)[0].share.origin == "measured"
    )
    with pytest.raises(DomainError):
        from_record({}, 0.5)


def test_lots_that_differ_or_are_not_known_are_said():
    said = lot_differences(
        {"moss": "MP-8", "white": "W-1", "ochre": ""},
        {"moss": "MP-9", "white": "W-1", "ochre": "O-1"},
        {"moss": "Moss paste", "white": "White", "ochre": "Ochre"},
    )
    assert len(said) == 2 and "MP-8 then, lot MP-9 now" in said[0] and "not known" in said[1]


def test_one_drop_from_fifty_weighed_together():
    # hand-worked: 50 drops of 1.9 g; half a step of 0.1 g is 2.6 % of it
    drop, off = drop_mass(0.0019, 50, 1e-4)
    assert drop == pytest.approx(3.8e-5) and off == pytest.approx(0.0263, abs=1e-4)
    with pytest.raises(DomainError):
        drop_mass(0.0001, 3, 1e-4)
    dye = colourant("dye", "liquid dye", drop_kg="38 mg")
    assert scaled(recipe(dye="0.15 %"), 0.5, 1e-4, {"dye": dye})[0].drops == 20


def test_twice_the_depth_lets_the_square_through():
    # Beer-Lambert law: 45 % at 5 mm is 20.25 % at 10 mm; and half the colour at twice the depth is the same
    assert lets_through(0.005, 0.0015, 0.45, 0.010, 0.0015) == pytest.approx(0.2025)
    assert lets_through(0.005, 0.0015, 0.45, 0.010, 0.00075) == pytest.approx(0.45)
    share = share_for(0.005, 0.0015, 0.45, 0.010, 0.02)
    assert lets_through(0.005, 0.0015, 0.45, 0.010, share) == pytest.approx(0.02)
    for through in (0.0, 1.0):
        with pytest.raises(DomainError):
            lets_through(0.005, 0.0015, through, 0.01, 0.0015)


@pytest.mark.parametrize(
    ("one", "other", "apart"),
    [
        # Sharma, Wu and Dalal, Color Res. Appl. 30 (2005) 21, table 1, pairs 1 to 6; from memory
        ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
        ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
        ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
        ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0000),
        ((50, -1.1848, -84.8006), (50, 0, -82.7485), 1.0000),
        ((50, -0.9009, -85.5211), (50, 0, -82.7485), 1.0000),
        # pairs 17 to 20 and 25: lighter and darker ones, which the first six are not; from memory
        ((50, 2.5, 0), (73, 25, -18), 27.1492),
        ((50, 2.5, 0), (61, -5, 29), 22.8977),
        ((50, 2.5, 0), (56, -27, -3), 31.9030),
        ((50, 2.5, 0), (58, 24, 15), 19.4535),
        ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ],
)
def test_colour_difference_against_the_published_pairs(one, other, apart):
    assert difference(one, other) == pytest.approx(apart, abs=5e-5) and difference(
        other, one
    ) == pytest.approx(apart, abs=5e-5)


def test_lab_against_opencv():
    import cv2

    for srgb in ((0.7, 0.3, 0.2), (0.1, 0.5, 0.4), (0.9, 0.9, 0.85), (0.02, 0.02, 0.05)):
        theirs = cv2.cvtColor(np.array([[srgb]], np.float32), cv2.COLOR_RGB2LAB)[0, 0]
        assert lab_of(linear(np.array(srgb))) == pytest.approx(
            tuple(theirs), abs=0.6
        )  # OpenCV interpolates a table


def test_white_and_black_are_where_lab_puts_them():
    assert lab_of(np.ones(3)) == pytest.approx((100, 0, 0), abs=1e-6) and lab_of(np.zeros(3))[
        0
    ] == pytest.approx(0)


@given(st.floats(0.5, 1.6), st.floats(0.6, 1.5), st.floats(0.4, 1.4))
def test_the_patch_takes_the_lamp_out(red, green, blue):
    lamp, paint = np.array([red, green, blue]), np.array([0.35, 0.10, 0.05])
    lab, _, off = corrected(paint * lamp, np.full(3, PATCH) * lamp)
    plain, tint, none = corrected(paint, np.full(3, PATCH))
    assert (
        difference(lab, plain) < 1e-6
        and none == pytest.approx(0, abs=1e-9)
        and off >= 0
        and tint.startswith("#")
    )


def test_a_burnt_out_patch_is_refused():
    with pytest.raises(DomainError, match="grey patch"):
        corrected(np.full(3, 0.3), np.full(3, 0.99))


def two_colours(sides=("100 mm", "100 mm"), **workshop_changes):
    voids = [
        {
            **box_void(side, "100 mm", "5 mm"),
            "id": one,
            "name": one,
            "portions": [{"id": f"{one}-1", "colour": one, "recipe_id": one}],
        }
        for one, side in zip(("rust", "cream"), sides, strict=True)
    ]
    piece = box_piece(system_id="craft-casting-epoxy", voids=voids)
    shelf = goods(recipe("rust", mica="2 %"), recipe("cream", white="3 %"))
    return make_plan(piece, SHEETS, workshop(**workshop_changes), NOW, shelf_items=shelf)


def test_several_colours_come_out_of_one_clear_mix():
    plan = two_colours()
    (batch,) = plan.pours[0].batches
    assert [one.colour for one in batch.colours] == ["rust", "cream"] and sum(
        one.share for one in batch.colours
    ) == pytest.approx(1)
    assert sum(one.clear.value for one in batch.colours) == pytest.approx(batch.mass.value)
    assert batch.colours[0].doses[0].mass.value == pytest.approx(
        0.02 * batch.colours[0].clear.value, abs=5e-5
    )


def test_or_each_colour_is_mixed_by_itself_as_a_school():
    plan = two_colours(colours="each by itself")
    assert [batch.colour for batch in plan.pours[0].batches] == ["rust", "cream"]


def test_each_colour_mixed_by_itself_is_judged_by_its_own_cup():
    """A jug poured in a thin stream, for twelve times as much of the second colour: only its cup, which is
    warmer and takes longer to empty, thickens first.
    """
    plan = two_colours(("25 mm", "1200 mm"), colours="each by itself", pour_rate_m3_s=3.5e-7)
    first, second = plan.pours[0].batches
    assert second.pot.pour_by.value < 0.8 * first.pot.pour_by.value
    (said,) = [one for one in plan.verdicts if one.code == "thickens-first"]
    assert Wording(workshop()).mass(second.mass.value) in said.text


def test_what_stays_in_each_colours_cup_is_mixed_too():
    shop = workshop()
    one, two = mixed_for([1e-4], shop), mixed_for([5e-5, 5e-5], shop)
    inner = (5e-5 + 4e-6) / 0.98
    assert two == pytest.approx((2 * inner + 4e-6) / 0.98) and two > one
    plan = two_colours()
    residue = next(line for line in plan.totals.allowances if line.code == "residue")
    assert (
        plan.totals.need.value - plan.totals.net.value
        == pytest.approx(sum(line.volume.value for line in plan.totals.allowances), rel=1e-9)
        and residue.volume.value > 0
    )


def said(
    *parts: tuple[str, str], system: str = "craft-casting-epoxy", colourants=(), scale_step: str = "0.1 g"
) -> list[str]:
    shelf = goods(recipe("rust", **dict(parts)), colourants=colourants)
    piece = box_piece(
        system_id=system,
        voids=[{**box_void("100 mm", "100 mm", "5 mm"), "portions": [{"id": "p", "recipe_id": "rust"}]}],
    )
    plan = make_plan(
        piece, SHEETS, workshop(scale={"most_kg": "3 kg", "step_kg": scale_step}), NOW, shelf_items=shelf
    )
    return [verdict.code for verdict in plan.verdicts if verdict.stage == "mix"]


def test_colour_over_the_systems_limit_stops_and_over_its_own_needs_care():
    assert "colour-over-limit" in said(("mica", "7 %"))
    assert "colourant-over-own" in said(("mica", "4 %"), colourants=[colourant("mica", most="3 %")])
    assert "colour-over-limit" not in said(("mica", "4 %"))


def test_liquid_dye_has_a_limit_of_its_own_in_a_slow_resin():
    dye = colourant("dye", "liquid dye", most="5 %")
    assert "liquid-over-limit" in said(("dye", "3 %"), system="slow-casting-epoxy", colourants=[dye])


def test_water_in_polyurethane_stops_and_not_said_needs_care():
    assert "water-in-polyurethane" in said(
        ("dye", "1 %"), system="fast-casting-polyurethane", colourants=[colourant("dye", water="water-based")]
    )
    assert "water-in-polyurethane" in said(("dye", "1 %"), system="fast-casting-polyurethane")
    assert "water-in-polyurethane" not in said(
        ("dye", "1 %"), system="fast-casting-polyurethane", colourants=[colourant("dye", water="water-free")]
    )


def test_a_dose_too_small_for_the_scale_names_the_batch_that_would_do():
    assert "dose-too-small" in said(("mica", "0.3 %"), scale_step="1 g")
    assert "dose-too-small" not in said(("mica", "3 %"))


def test_a_recipe_or_colourant_that_is_gone_is_said():
    piece = box_piece(
        system_id="craft-casting-epoxy",
        voids=[{**box_void("100 mm", "100 mm", "5 mm"), "portions": [{"id": "p", "recipe_id": "gone"}]}],
    )
    assert "recipe-gone" in [one.code for one in make_plan(piece, SHEETS, workshop(), NOW).verdicts]
    shelf = ShelfItems(recipes={"rust": recipe("rust", mica="2 %")})
    piece = box_piece(
        system_id="craft-casting-epoxy",
        voids=[{**box_void("100 mm", "100 mm", "5 mm"), "portions": [{"id": "p", "recipe_id": "rust"}]}],
    )
    assert "colourant-gone" in [
        one.code for one in make_plan(piece, SHEETS, workshop(), NOW, shelf_items=shelf).verdicts
    ]


def test_how_opaque_a_layer_is_stands_on_its_card():
    made = Recipe.model_validate(
        {**recipe("rust", mica="2 %").model_dump(), "swatch": {"depth_m": "3 mm", "lets_through": "20 %"}}
    )
    piece = box_piece(
        system_id="craft-casting-epoxy",
        voids=[{**box_void("100 mm", "100 mm", "6 mm"), "portions": [{"id": "p", "recipe_id": "rust"}]}],
    )
    plan = make_plan(piece, SHEETS, workshop(), NOW, shelf_items=goods(made))
    assert plan.pours[0].batches[0].colours[0].through.value == pytest.approx(0.2**2)


def test_recipes_with_a_colourant_twice_or_none_are_refused():
    for parts in (
        [{"colourant_id": "a", "share": "1 %"}, {"colourant_id": "a", "share": "2 %"}],
        [{"colourant_id": "a", "share": "0 %"}],
    ):
        with pytest.raises(ValidationError, match="recipe"):
            Recipe.model_validate({"id": "x", "name": "X", "parts": parts})


def test_typical_colourants_are_all_marked_typical():
    assert all(one.density_kg_m3.origin == one.most.origin == "typical" for one in typical_colourants())
    assert math.isclose(
        next(one for one in typical_colourants() if one.id == "mica-powder").density_kg_m3.value, 2800
    )


def test_a_patch_or_a_swatch_that_is_cut_off_in_part_is_refused_though_its_mean_looks_sound():
    # a patch of 118 with one pixel in ten burnt out: its mean in linear light is 26 %, sound by itself
    patch = np.full((100, 3), 118)
    patch[:10] = 255
    swatch = np.full((100, 3), 90)
    share = burnt_share(patch, is_patch=True)
    assert share == pytest.approx(0.10) and burnt_share(swatch, is_patch=False) == 0
    fields = [linear(one / 255.0).mean(axis=0) for one in (swatch, patch)]
    corrected(*fields)
    with pytest.raises(DomainError, match="burnt out or black in 10%"):
        corrected(*fields, burnt=(0.0, share))
    with pytest.raises(DomainError, match="swatch"):
        corrected(*fields, burnt=(0.3, 0.0))
    assert burnt_share(np.zeros((9, 3)), is_patch=True) == 1
    assert burnt_share(np.zeros((9, 3)), is_patch=False) == 0  # a black pigment is black
