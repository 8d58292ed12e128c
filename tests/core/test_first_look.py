"""The first minute: amount, film and rule as one equation; every kind from its measures to weights."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.coats.amount import Bed, film_from, mixed_for
from cavatum.core.common.amounts import read_amount, read_coverage
from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.common.unit_table import FOOT_M, INCH_M, US_FLUID_OUNCE_M3, US_GALLON_M3
from cavatum.core.first.benches import BENCHES
from cavatum.core.first.look import AtKey, FirstLook, first_look
from cavatum.core.measure.films import COVERAGE_RULES
from cavatum.core.mix.amount import mixed_volume
from cavatum.core.resin.ratio import MixRatio
from tests.samples import NOW, SHEETS, workshop

READINGS = {
    "picture or panel": {"length": "860", "width": "330"},
    "table or board": {"length": "1200", "width": "600"},
    "cup on a rotator": {"top": "86", "bottom": "64", "height": "140"},
    "mould": {"diameter": "80", "depth": "30"},
    "block or form": {"length": "300", "width": "200", "depth": "40"},
    "river or crack": {"length": "1200", "width-1": "100", "width-2": "140", "width-3": "120", "depth": "40"},
    "carved pocket": {"length": "120", "width": "40", "depth": "6"},
}


def look(bench: str = "picture or panel", shop=None, shelf=None, **more):
    readings = {**READINGS[bench], **more.pop("readings", {})}
    asked = FirstLook(bench=bench, readings=readings, **more)
    return first_look(asked, shelf or {}, SHEETS, shop or workshop(), NOW)


beds = st.builds(
    Bed,
    area_m2=st.floats(1e-3, 20),
    soak_m=st.floats(0, 2e-4),
    runs_off=st.floats(0, 0.3),
    reserve=st.floats(0, 0.3),
    stays_share=st.floats(0, 0.2),
    stays_m3=st.floats(0, 2e-5),
    cups=st.integers(1, 6),
)


@given(beds, st.floats(5e-5, 5e-3))
def test_a_films_amount_lays_that_film(bed, film_m):
    assert film_from(mixed_for(film_m, bed), bed) == pytest.approx(film_m, rel=1e-9, abs=1e-12)


def test_two_hundred_millilitres_by_hand():
    """0.327 m2; 2 % and 4 mL stay in the cup: 192 mL on the piece, 0.587 mm."""
    bed = Bed(area_m2=0.327, stays_share=0.02, stays_m3=4e-6)
    assert film_from(200e-6, bed) == pytest.approx(192e-6 / 0.327)
    with pytest.raises(Infeasible, match="4.08"):
        film_from(4e-6, bed)


def test_rules_are_read_as_they_are_spoken():
    """Against the table of rules, which is worked out from its own numbers, and by hand."""
    density = 1090.0
    for rule in COVERAGE_RULES:
        if " per " in rule.name:
            assert read_coverage(rule.name).film(density) == pytest.approx(rule.film(density), rel=1e-6), (
                rule.name
            )
    assert read_coverage("3 fl oz/ft2").film(density) == pytest.approx(3 * US_FLUID_OUNCE_M3 / FOOT_M**2)
    assert read_coverage("32 ft2 per gal").film(density) == pytest.approx(US_GALLON_M3 / (32 * FOOT_M**2))
    assert read_coverage("70 sq in per fl oz").film(density) == pytest.approx(
        US_FLUID_OUNCE_M3 / (70 * INCH_M**2)
    )
    assert read_coverage("300 g per m2").film(density) == pytest.approx(0.3 / density)
    for wrong in ("30 g", "per ft2", "", "30 g per 10 mm", "0 g per m2"):
        with pytest.raises(DomainError):
            read_coverage(wrong)


EVEN, TWO = MixRatio(1.0, 1090.0, 1090.0), MixRatio(2.0, 1090.0, 1090.0)


def test_what_is_meant_is_asked_where_the_parts_are_equal_and_never_guessed():
    def meant(text, ratio):
        return mixed_volume(read_amount(text, asks=False), ratio, "Resin")

    assert meant("200 mL in all", EVEN) == pytest.approx(2e-4)
    assert meant("200 mL", TWO) == pytest.approx(2e-4)
    assert meant("109 g in all", TWO) == pytest.approx(1e-4)
    assert meant("100 mL of each part", EVEN) == pytest.approx(2e-4)
    assert meant("100 mL of A", TWO) == pytest.approx(1.5e-4)
    with pytest.raises(DomainError) as asked:
        meant("200 mL", EVEN)
    assert asked.value.choices == ["200 mL in all", "200 mL of each part"]
    with pytest.raises(DomainError, match="equal parts would be off"):
        meant("100 mL of each part", TWO)
    with pytest.raises(DomainError) as ounce:
        meant("8 oz of each part", EVEN)
    assert ounce.value.choices == ["8 oz wt of each part", "8 fl oz of each part"]
    with pytest.raises(DomainError) as both:
        read_amount("8 oz")
    assert len(both.value.choices) == 4


@pytest.mark.parametrize("bench", BENCHES)
def test_every_kind_goes_from_its_measures_to_weights(bench):
    empty = first_look(FirstLook(bench=bench), {}, SHEETS, workshop(), NOW)
    assert empty.plan is None and set(empty.missing) == set(READINGS[bench]) and empty.is_typical
    made = look(bench)
    assert made.missing == [] and made.piece.kind_of_work == BENCHES[bench].kind_of_work
    batch = made.plan.pours[0].batches[0]
    assert all(part.mass.value > 0 for part in batch.parts) and batch.pour_within.value > 0
    assert made.plan.windows[0].computed
    assert not [one for one in made.plan.verdicts if one.weight == "blocker"], bench
    assert (made.sides is not None) == BENCHES[bench].is_coat
    assert any("values typical of the class" in one.words for one in made.taken)


def test_a_river_by_three_widths_holds_what_simpsons_rule_gives():
    """(100 + 4 x 140 + 120) / 6 x 1200 mm2, 40 mm deep: 6.24 L by hand."""
    assert look("river or crack").plan.voids[0].net.value == pytest.approx(6.24e-3, rel=1e-6)


def test_whichever_side_is_typed_the_others_follow():
    by_amount = look(amount="200 mL in all")
    area = by_amount.plan.coats[0].area.value
    film = (200e-6 * 0.98 - 4e-6) / area
    assert by_amount.sides.typed == "amount" and by_amount.plan.coats[0].film.value == pytest.approx(film)
    weighed = sum(one.mass.value for pour in by_amount.plan.pours for one in pour.batches)
    density = 1 / (1 / (1 + 1020 / 1160) / 1160 + (1 - 1 / (1 + 1020 / 1160)) / 1020)  # 1:1 by volume
    assert weighed == pytest.approx(200e-6 * density, rel=2e-3)
    by_film = look(film="1 mm")
    by_rule = look(rule="1000 mL per m2")
    assert by_film.plan.coats[0].film.value == by_rule.plan.coats[0].film.value == 0.001
    assert by_film.sides.rule == "100 mL per 1000 cm²" and "flood" in by_film.sides.says
    assert "too thin to close" in look(film="0.1 mm").sides.says


@pytest.mark.parametrize(
    ("more", "key"),
    [
        ({"readings": {"length": "3/0"}}, "length"),
        ({"readings": {"length": "-5"}}, "length"),
        ({"readings": {"length": "40 m"}}, "length"),
        ({"readings": {"width": "12 g"}}, "width"),
        ({"bench": "cup on a rotator", "readings": {"band": "200 mm"}}, "band"),
        ({"amount": "8 oz"}, "amount"),
        ({"amount": "200 mL"}, "amount"),
        ({"film": "1 mm", "rule": "30 g per m2"}, "rule"),
        ({"rule": "plenty"}, "rule"),
        ({"choices": {"edges": "painted"}}, "edges"),
        ({"system_id": "unknown"}, "system_id"),
    ],
)
def test_what_cannot_be_is_refused_at_its_own_question(more, key):
    with pytest.raises(AtKey) as refused:
        look(**more)
    assert refused.value.key == key and refused.value.error.way_out


def test_bare_numbers_are_inches_where_the_workshop_works_so():
    made = look("block or form", workshop(units="us"), readings={"length": "12", "width": "8", "depth": "1"})
    assert made.plan.voids[0].net.value == pytest.approx(96 * INCH_M**3, rel=1e-6)


def test_the_shelfs_own_sheet_goes_before_the_class_and_nothing_said_is_named():
    own = SHEETS["coating-epoxy"].model_copy(update={"name": "Our coating"})
    made = look(shelf={own.id: own}, choices={"edges": "taped off"})
    assert made.system == "Our coating" and not made.is_typical
    words = " ".join(one.words for one in made.taken)
    assert "typical" not in words and "edge:" not in words
    assert "thickness at the edge 18 mm" in words and "room 22 °C" in words
    assert made.plan.coats[0].edges is None


def test_an_amount_that_takes_several_cups_is_what_is_mixed():
    """4 L on a table: three cups keep their share each, and what is mixed in all is what was typed."""
    answer = look("table or board", amount="4 L in all")
    pours = answer.plan.pours
    cups = sum(len(pour.batches) for pour in pours)
    assert cups > 1
    mixed = sum(batch.mixed.value for pour in pours for batch in pour.batches)
    assert mixed == pytest.approx(4e-3, rel=2e-3)


@pytest.mark.parametrize(
    ("bench", "stage", "title"),
    [
        ("picture or panel", "layers", "Coats"),
        ("cup on a rotator", "layers", "Coats"),
        ("block or form", "layers", "Layers"),
        ("mould", "survey", "Mould"),
        ("table or board", "survey", "Survey"),
    ],
)
def test_the_kind_of_work_names_its_stages(bench, stage, title):
    rail = {one.stage: one.title for one in look(bench).plan.stages}
    assert rail[stage] == title
