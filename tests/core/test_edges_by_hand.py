"""Edges and refusals worked out by hand: where a sum, a sign or a "then" could be turned unseen."""

from __future__ import annotations

from datetime import timedelta
from types import SimpleNamespace

import numpy as np
import pytest
from manifold3d import Manifold
from shapely.geometry import Polygon

from cavatum.core.clock.model import PourWindow
from cavatum.core.clock.schedule_model import Clash, Mode, PieceToPlace, Placed, Shop, Solution, Work
from cavatum.core.common.errors import DomainError
from cavatum.core.common.wording import Wording
from cavatum.core.cure.kinetics import time_to
from cavatum.core.cure.parameters import CLASSES
from cavatum.core.layers.three import in_three
from cavatum.core.learn.learned import Learned, advice
from cavatum.core.learn.trials import least_mass_kg
from cavatum.core.measure.mesh_shape import _rim
from cavatum.core.measure.sloped import whole_hollow
from cavatum.core.measure.solids import triangles_of
from cavatum.core.measure.thinning import _clustered
from cavatum.core.measure.triangles import Solid, check_solid, signed_volume
from cavatum.core.mix.batches import batches_in_time
from cavatum.core.mix.bottle import bottle_verdict, which_part
from cavatum.core.mix.opacity import lets_through
from cavatum.core.mix.recipe import lot_differences, scaled
from cavatum.core.mix.swatch import _tint
from cavatum.core.options import hottest_of
from cavatum.core.piece.colour import Recipe
from cavatum.core.piece.typed_rows import parse_rows
from cavatum.core.plan import courses_of, make_plan
from cavatum.core.pour.rehearsal import NOISE_K, true_pace, warmth
from cavatum.core.pour.script_model import PourCurve
from cavatum.core.purchase.stock import Bottle, OnShelf, PartNeed, low_of
from cavatum.core.resin.ratio import ratio_of
from cavatum.core.schedule import together, ways_out
from cavatum.core.schedule.bench import standing_at
from cavatum.core.schedule.plan_together import _differ
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

FORETOLD = [(0.0, 23.0), (36_000.0, 53.0), (72_000.0, 30.0)]
RUST = Recipe.model_validate(
    {"id": "rust", "name": "Rust", "parts": [{"colourant_id": "mica", "share": "2 %"}]}
)


@pytest.mark.parametrize(("clear_kg", "said"), [(0.0, "0 g"), (-0.25, "-250 g")])
def test_a_batch_of_nothing_is_refused_with_what_was_given(clear_kg, said):
    with pytest.raises(DomainError) as refused:
        scaled(RUST, clear_kg, 0.001, {})
    assert refused.value.value == said and refused.value.code == "zero"


def test_an_unknown_lot_says_which_of_the_two_is_not_known():
    names = {"mica": "Mica"}
    assert "lot then is not known" in lot_differences({}, {"mica": "L2"}, names)[0]
    assert "lot now is not known" in lot_differences({"mica": "L1"}, {}, names)[0]
    assert lot_differences({"mica": "L1"}, {"mica": "L1"}, names) == []
    assert "lot L1 then, lot L2 now" in lot_differences({"mica": "L1"}, {"mica": "L2"}, names)[0]


def test_rehearsed_readings_lie_about_the_foretold_curve():
    curve = PourCurve(
        pour=1,
        called="pour 1",
        peak_c=53.0,
        never_c=90.0,
        curve=[(0.0, 23.0), (36_000.0, 53.0), (72_000.0, 30.0)],
    )
    off = []
    for seed in range(8):
        pace = true_pace(seed)
        for one in warmth(curve, seed, 0.0, 60_000.0, 23.0):
            told = np.interp(one.at_s, [0.0, 36_000 * pace, 72_000 * pace], [23.0, 53.0, 30.0])
            off.append(one.probe_c - told)
    assert abs(np.mean(off)) < 5 * NOISE_K / np.sqrt(len(off)) + 0.005
    assert np.std(off) == pytest.approx(NOISE_K, rel=0.15)


def test_triangles_that_fold_to_a_line_are_left_out():
    """Two corners of three fall into one cell: first and second, second and third, third and first."""
    corners = np.array([[0.0, 0, 0], [0.1, 0, 0], [3.0, 0, 0], [3.1, 0, 0], [0, 3.0, 0]])
    folded = [[0, 1, 4], [4, 2, 3], [0, 4, 1], [2, 4, 3]]
    made = _clustered(Solid(corners, np.array([*folded, [0, 2, 4]])), corners.min(axis=0), 1.0)
    assert len(made.triangles) == 1 and len(set(made.triangles[0].tolist())) == 3


def test_one_wish_that_helps_nothing_does_not_hide_the_others(monkeypatch):
    """Two wishes of one job clash; without the first nothing is found in time, without the second it is."""
    work = Work(id="1/p1", words="layer 1", modes=(Mode(name="only", hands_s=600.0),))
    job = PieceToPlace(id="1", name="Block", works=(work,))
    found = Solution(
        placed={"1/p1": Placed(0.0, 600.0, work.modes[0])},
        missed=1,
        late_s=0.0,
        visits=1,
        visits_bound=1,
        proven=True,
    )
    answers = iter([None, found])
    monkeypatch.setattr(ways_out, "solve", lambda *_: next(answers))
    clash = Clash(wishes=(("due", "1", "1/p1"), ("bond", "1", "1/p1")))
    told = ways_out.ways_out(clash, [job], Shop(((0.0, 86_400.0),)), NOW, Wording(workshop()))
    assert [one.words for one in told] == ["Block: let it cure and sand it before layer 1"]


def test_who_always_cures_and_sands_misses_no_window_by_it():
    below = PourWindow(
        pour=1,
        mix_s=600,
        pour_s=60,
        opens_s=3600,
        closes_s=36_000,
        demould_s=90_000,
        cured_s=200_000,
        mix_at=NOW,
        bonded=True,
        computed=True,
    )
    by_choice = together._modes(1200, 600, below, workshop(recoat="cure and sand"))
    assert [(one.name, one.misses) for one in by_choice] == [("sand", 0)]
    fresh = together._modes(1200, 600, below, workshop(recoat="bond in the window"))
    assert [(one.name, one.misses) for one in fresh] == [("bond", 0), ("sand", 1)]


def test_a_share_of_nothing_lets_all_light_through_and_less_than_nothing_is_refused():
    assert lets_through(0.006, 0.02, 0.3, 0.01, 0.0) == 1.0
    assert lets_through(0.006, 0.02, 0.3, 0.012, 0.02) == pytest.approx(0.09)
    with pytest.raises(DomainError):
        lets_through(0.006, 0.02, 0.3, 0.01, -0.01)


def test_the_bench_counts_the_layers_that_are_poured():
    piece = box_piece(voids=[box_void(depth="80 mm", wall="board")], first_pour_at=NOW + timedelta(hours=1))
    plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    rows = plan.clock.rows
    assert len(rows) == 2
    first, second = (row.segments[0].to_at for row in rows)
    between, after = standing_at(plan, first + timedelta(minutes=5)), standing_at(plan, second)
    assert (between.filled, after.filled) == (0.5, 1.0)
    assert between.status.startswith(f"{rows[0].label} of 2") and after.status.startswith(rows[1].label)


def test_the_film_learned_is_that_of_the_coat_on_top():
    coat = {
        "id": "top", "name": "Top", "film_m": {"value": 0.002, "origin": "typical"},
        "surface": {"kind": "area", "area_m2": "1 m2"},
        "portions": [
            {"id": "a", "system_id": "thin-sealing-epoxy", "to_m": "0.3 mm"},
            {"id": "b", "system_id": "coating-epoxy"},
        ],
    }  # fmt: skip
    piece = box_piece(voids=[], coats=[coat], kind_of_work="thin coat")
    film = Learned.model_construct(code="film", key="coating-epoxy", value=0.9, runs=[1, 2, 3], used=True)
    told = advice([film], piece)
    assert [one.pointer for one in told] == ["/coats/0/lays/1/film_m"]
    assert told[0].value == pytest.approx(0.9 * 0.0017)
    assert advice([film.model_copy(update={"key": "thin-sealing-epoxy"})], piece) == []


@pytest.mark.parametrize(("linear", "shown"), [(0.003, "#0A0A0A"), (0.2140, "#7F7F7F"), (1.7, "#FFFFFF")])
def test_a_screens_colour_is_srgb_also_in_its_dark_straight_part(linear, shown):
    """IEC 61966-2-1: 12.92 c up to 0.0031308; 0.2140 is the middle of the scale (from memory)."""
    assert _tint(np.full(3, linear)) == shown


@pytest.mark.parametrize(("step_kg", "by_weight"), [(0.0, 1.0), (0.001, 0.0), (-0.001, 1.0)])
def test_a_trial_needs_a_step_and_a_ratio(step_kg, by_weight):
    with pytest.raises(DomainError, match="scale"):
        least_mass_kg(step_kg, by_weight)


def test_a_hollow_that_widens_below_its_rim_says_how_large_the_opening_has_to_be():
    """2 L over 0.1 m is 200 cm2 on average."""
    with pytest.raises(DomainError) as refused:
        whole_hollow(0.002, 0.1, 0.015, "", "")
    assert refused.value.allowed.endswith("at least 200 cm²") and refused.value.value == "150 cm²"


def test_a_bottles_weight_is_told_with_its_band():
    """100 mL read to 10 mL and 110 g to 1 g: 109.5/105 to 110.5/95 kg/L."""
    ratio = ratio_of(SHEETS["slow-casting-epoxy"])
    test = which_part(0.110, 1e-4, 1e-5, 0.001, ratio)
    told = bottle_verdict(test, "A", ratio, Wording(workshop()))
    assert "1.100 g/mL (1.04 to 1.16 by cup line and scale)" in told.text


def test_layers_run_in_three_dimensions_fill_their_form_from_wall_to_wall():
    """A box lies about its own middle in the plan: its cut is the same on both sides, full of resin."""
    piece = box_piece(
        voids=[box_void("400 mm", "300 mm", "20 mm", wall="board")], system_id="casting-epoxy-25"
    )
    plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    course = courses_of(piece, SHEETS, workshop(), plan)["box"]
    three = in_three(piece.voids[0].shape, None, course, 0.02)
    middle = three.section_c[len(three.heights_m) // 2]
    assert middle == pytest.approx(middle[::-1], abs=0.05)
    assert max(middle) > 30 and middle[0] < max(middle) - 1


@pytest.mark.parametrize("conversion", [1.0, 1.2, -0.1])
def test_a_time_to_more_than_all_is_refused(conversion):
    with pytest.raises(DomainError):
        time_to(CLASSES["coating-epoxy"], conversion, 296.15)


def test_what_plans_take_over_what_the_shelf_holds_is_said_of_systems_that_are_on_it():
    need = PartNeed(who="Block", system_id="slow-casting-epoxy", a_kg=3.0, b_kg=0.5, at=None)
    bottle = Bottle.model_validate(
        {"goods": "system", "goods_id": "slow-casting-epoxy", "part": "A", "full_kg": "1 kg"}
    )
    shelf = [OnShelf(id=1, bottle=bottle, left_kg=1.0)]
    told = low_of([need], shelf, SHEETS, NOW.date())
    assert [(one.part, one.left_kg, one.needed_kg) for one in told] == [("A", 1.0, 3.0), ("B", 0.0, 0.5)]
    assert low_of([need], [], SHEETS, NOW.date()) == []


@pytest.mark.parametrize(
    ("kind", "place"),
    [("pressure casting", "chamber"), ("rotator", "rotator"), ("block", "shelf"), ("flood coat", "shelf")],
)
def test_each_kind_of_work_takes_its_own_place_in_the_shop(kind, place):
    work = Work(id="1/p1", words="layer 1", modes=(Mode(name="only", hands_s=600.0),))
    steps = [SimpleNamespace(code="lid")] if place == "chamber" else []
    one = SimpleNamespace(piece=SimpleNamespace(kind_of_work=kind), plan=SimpleNamespace(steps=steps))
    assert [hold.resource for hold in together._holds(one, [work])] == [place]


def test_plans_with_another_number_of_windows_differ_whichever_has_more():
    piece = box_piece(voids=[box_void(depth="80 mm")])
    two = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    one = two.model_copy(update={"windows": two.windows[:1]})
    assert _differ(one, two) and _differ(two, one) and not _differ(two, two)


def test_a_rim_in_two_parts_is_the_hull_round_both():
    """Two cups of 20 mm side by side, 10 mm apart: their common hull is 50 x 20 mm."""
    cup = Manifold.cube((0.02, 0.02, 0.03))
    both = triangles_of(cup + cup.translate((0.03, 0.0, 0.0)))
    ring = np.array(_rim(both, 0.03))
    assert Polygon(ring).area == pytest.approx(0.05 * 0.02)
    assert both.corners.shape[1] == 3 and signed_volume(both) == pytest.approx(2 * 0.02 * 0.02 * 0.03)


def test_the_hottest_layer_is_the_one_nearest_to_its_own_limit():
    """By hand: polyurethane at 90 of 115 is 25 below, epoxy at 50 of 60 only 10."""
    quick, slow = (
        SimpleNamespace(peak=SimpleNamespace(value=peak), wanted_c=wanted)
        for peak, wanted in ((90.0, 115.0), (50.0, 60.0))
    )
    layers = [SimpleNamespace(heat=one) for one in (quick, slow, None)]
    assert hottest_of(SimpleNamespace(pours=[SimpleNamespace(layers=layers)])) is slow


def test_the_last_half_second_of_a_working_time_still_counts():
    """By hand: 10 s of pouring in spans of half a second are 20 batches."""
    assert batches_in_time(1e-3, 1, 600.5, 600.0, 1e-4) == 20


def test_a_line_that_cannot_be_read_is_quoted_by_its_first_forty_characters():
    with pytest.raises(DomainError) as refused:
        parse_rows("1 2\n" + "x" * 50, "mm", "profile")
    assert f'"{"x" * 40}" in line 2' == refused.value.value


def test_a_triangle_turned_over_counts_its_three_edges():
    solid = Solid(
        np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]]),
        np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 3, 2]]),  # the last one looks inwards
    )
    with pytest.raises(DomainError) as refused:
        check_solid(solid)
    assert refused.value.code == "winding" and "(3 edges)" in refused.value.value
