"""Splitting by the sheet's depth rules, against hand-worked cases and brute force."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.layers.rules import allowed_depth, deepest_top
from cavatum.core.layers.split import Stretch, even, fewest, own, split
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.piece.document import Void
from cavatum.core.resin.ratio import ratio_of
from tests.samples import box_void, system

DENSITY = ratio_of(system()).mixed_density


def stretch(depth_mm=90.0, length="600 mm", width="250 mm", sheet=None, shape=None):
    document = box_void(length, width, f"{depth_mm} mm")
    cavity = cavity_of(Void.model_validate({**document, **({"shape": shape} if shape else {})}))
    return Stretch(
        cavity=cavity, system=sheet or system(), density_kg_m3=DENSITY, from_m=0.0, to_m=cavity.fill_m
    )


def depths(layers):
    return [round(layer.depth_m * 1000, 6) for layer in layers]


def test_over_a_kilogram_40_mm_up_to_a_kilogram_100():
    # typical sheet of the slow class, common practice (job rule 4.1)
    assert allowed_depth(system(), 1.5) == pytest.approx(0.04)
    assert allowed_depth(system(), 0.9) == pytest.approx(0.1)


def test_fewest_is_greedy_and_leaves_no_layer_below_the_least():
    # 90 = 40 + 40 + 10, the least of the class being 10 mm
    assert depths(fewest(stretch())) == [40, 40, 10]


def test_a_last_layer_below_the_least_takes_from_the_one_under_it():
    assert depths(fewest(stretch(44))) == [34, 10]


def test_a_small_block_goes_deeper_in_one_pour():
    # 100 x 100 x 80 mm is 0.88 kg: under a kilogram, so 100 mm are allowed
    assert depths(fewest(stretch(80, "100 mm", "100 mm"))) == [80]


def test_the_mass_limit_cuts_where_the_kilogram_is_reached():
    # 150 x 100 mm: 1 kg stands 61.5 mm high, by volume = mass / density / area
    layers = fewest(stretch(90, "150 mm", "100 mm"))
    assert layers[0].depth_m == pytest.approx(1 / DENSITY / 0.015, abs=1e-8)
    assert "up to ⟦1 kg⟧, reached here" in layers[0].limited_by


def test_a_remainder_thinner_than_paper_is_poured_too():
    # found by the property test below: 40.0625 mm once lost its last 0.06 mm
    assert depths(fewest(stretch(40.0625, "120 mm", sheet=system(least_depth_m=None)))) == [39.0625, 1]


def test_even_layers_are_equal_and_as_few_as_fit():
    assert depths(even(stretch())) == [30, 30, 30]


def test_even_takes_one_more_where_the_same_number_would_break_a_mass_rule():
    # a cone: equal depths at the wide top weigh more than at the bottom, so more layers may be needed than
    # greedy takes
    cone = {"kind": "cone", "top_diameter_m": "260 mm", "bottom_diameter_m": "40 mm", "depth_m": "120 mm"}
    layers = even(stretch(shape=cone))
    assert all(layer.allowed for layer in layers) and len(layers) >= len(fewest(stretch(shape=cone)))


@given(st.floats(min_value=5, max_value=400), st.sampled_from(["120 mm", "300 mm"]))
def test_fewest_layers_tile_the_stretch_and_obey_the_rules(depth_mm, length):
    layers = fewest(stretch(depth_mm, length))
    assert layers[0].from_m == 0 and layers[-1].to_m == pytest.approx(depth_mm / 1000)
    assert all(low.to_m == high.from_m for low, high in zip(layers, layers[1:], strict=False))
    assert all(layer.allowed for layer in layers)


def test_greedy_is_as_few_as_brute_force_finds():
    # brute force over boundaries on a 10 mm grid for a cone whose layers differ in mass
    cone = {"kind": "cone", "top_diameter_m": "200 mm", "bottom_diameter_m": "60 mm", "depth_m": "160 mm"}
    case = stretch(shape=cone)
    best = {0: 0}
    for top in range(1, 17):
        options = [
            best[low] + 1 for low in best if split(_part(case, low / 100, top / 100), "own", [])[0].allowed
        ]
        if options:
            best[top] = min(options)
    assert len(fewest(case)) <= best[16]


def _part(case, from_m, to_m):
    return Stretch(
        cavity=case.cavity, system=case.system, density_kg_m3=case.density_kg_m3, from_m=from_m, to_m=to_m
    )


def test_own_boundaries_beyond_the_rule_are_kept_but_not_allowed():
    layers = own(stretch(), [0.05])
    assert [layer.allowed for layer in layers] == [False, True]


@pytest.mark.parametrize("boundaries", [[0.05, 0.03], [0.09], [0.2], [0.0], [float("nan")]])
def test_own_boundaries_out_of_order_are_refused(boundaries):
    with pytest.raises(DomainError):
        own(stretch(), boundaries)


def test_thirds_are_three_whatever_the_rules_say():
    assert depths(split(stretch(), "thirds", None)) == [30, 30, 30]


def test_own_without_a_drawing_starts_from_the_fewest():
    assert depths(split(stretch(), "own", None)) == depths(fewest(stretch()))


def test_a_film_system_in_a_deep_box_is_refused_with_a_way_out():
    with pytest.raises(Infeasible, match="Choose a system"):
        fewest(stretch(sheet=system("thin-sealing-epoxy")))


def test_a_rule_for_small_masses_only_stops_above_them():
    sheet = system(depth_rules=[{"most_depth_m": "100 mm", "up_to_kg": "1 kg"}])
    assert allowed_depth(sheet, 2.0) == 0.0
    assert deepest_top(stretch(sheet=sheet).cavity, sheet, DENSITY, 0.0, 0.09).top_m < 0.09


def test_two_rules_for_the_same_mass_count_as_the_shallower():
    sheet = system(depth_rules=[{"most_depth_m": "38 mm"}, {"most_depth_m": "6 mm"}])
    assert allowed_depth(sheet, 5.0) == pytest.approx(0.006)


def test_a_last_layer_stays_thin_when_the_one_below_cannot_spare_it():
    sheet = system(least_depth_m="35 mm")
    assert depths(fewest(stretch(44, sheet=sheet))) == [40, 4]


def test_an_even_split_that_would_take_too_many_is_refused():
    sheet = system("thin-sealing-epoxy")
    with pytest.raises(Infeasible):
        even(stretch(31, sheet=sheet))
