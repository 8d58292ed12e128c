"""What runs teach: bands that hold the truth, odd runs that do not move them, what the next plan takes over,
and whether it gets better.
"""

import math
from datetime import timedelta

import numpy as np
import pytest

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.common.errors import DomainError
from cavatum.core.layers.paces import slowness, slowness_by_time
from cavatum.core.learn.factors import FACTORS, factor_of
from cavatum.core.learn.learned import advice, apply, learn
from cavatum.core.learn.observe import RESIDUE_KG, RESIDUE_SHARE, observe
from cavatum.core.learn.probe_log import lay_on
from cavatum.core.learn.progress import progress
from cavatum.core.learn.record import _used_kg, run_record
from cavatum.core.learn.record_model import BatchRecord
from cavatum.core.learn.robust import estimate
from cavatum.core.learn.trials import TABLE, least_mass_kg, plan_trial
from cavatum.core.plan import courses_of, make_plan
from cavatum.core.pour.script import compile_script
from cavatum.core.resin.ratio import ratio_of
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop
from tests.scenes.learning import WORLDS, centre_of, known_noise_width, observed, simulated, width_of
from tests.scenes.runs import carried_out

PIECE = box_piece(voids=[box_void(depth="70 mm")], first_pour_at=NOW + timedelta(hours=20))


@pytest.mark.parametrize("world", WORLDS)
@pytest.mark.slow
def test_the_band_holds_the_truth_also_where_the_model_is_wrong(world):
    """90 % stated; 85 % asked of 160 workshops (two standard errors are 5 %). Simulated, the truth hidden."""
    held = 0
    for seed in range(160):
        code, runs = ("pace", "film", "soak", "waste")[seed % 4], (3, 5, 10, 40)[seed // 4 % 4]
        truth, _, values = simulated(seed, code, world, runs)
        found = estimate(FACTORS[code], centre_of(FACTORS[code]), values)
        held += found.low <= truth <= found.high
    assert held / 160 >= 0.85


def test_the_band_is_at_most_half_as_wide_again_as_one_that_knows_the_noise():
    ratios = []
    for seed in range(120):
        code, runs = ("pace", "film", "soak", "leftover")[seed % 4], (3, 5, 10, 40)[seed // 4 % 4]
        _, wobble, values = simulated(seed, code, WORLDS[0], runs)
        factor = FACTORS[code]
        found = estimate(factor, centre_of(factor), values)
        ratios.append(width_of(factor, found.low, found.high) / known_noise_width(factor, wobble, runs))
    assert sum(ratios) / len(ratios) < 1.5


@pytest.mark.parametrize("absurd", [0.21, 4.9])
def test_one_absurd_run_does_not_move_the_value_out_of_its_band(absurd):
    for seed in range(60):
        _, _, values = simulated(seed, "pace", WORLDS[0], 3 + seed % 8)
        before, after = (
            estimate(FACTORS["pace"], 1.0, values),
            estimate(FACTORS["pace"], 1.0, [*values, absurd]),
        )
        assert before.low <= after.value <= before.high
        assert after.aside[-1] > 0.5


def test_a_value_that_cannot_be_is_refused_and_left_out_and_told():
    with pytest.raises(DomainError, match="0.2"):
        estimate(FACTORS["pace"], 1.0, [1.0, 9.0])
    with pytest.raises(DomainError):
        factor_of("luck")
    found = learn(observed("pace", [1.1, 1.2, 0.0, 1.15, 55.0]))
    assert len(found[0].runs) == 3 and len(found[0].left_out) == 2


def test_used_from_three_runs_up_and_not_when_set_aside():
    two, three = learn(observed("waste", [1.4, 1.5])), learn(observed("waste", [1.4, 1.5, 1.6]))
    assert not two[0].used and "1 more" in two[0].why_not and three[0].used
    aside = learn(observed("waste", [1.4, 1.5, 1.6]), {("waste", "")})
    assert aside[0].is_set_aside and not aside[0].used and aside[0].value == three[0].value


def test_an_odd_run_is_not_counted_towards_the_three():
    found = learn(observed("pace", [1.15, 1.17, 4.9], "slow-casting-epoxy"))[0]
    assert [one.aside for one in found.runs] == [False, False, True] and not found.used


def test_a_learned_pace_makes_every_window_later_by_just_that_and_says_so():
    sheets, shop, taken = apply(learn(observed("pace", [1.2] * 8, "slow-casting-epoxy")), SHEETS, workshop())
    pace = sheets["slow-casting-epoxy"].learned_pace
    assert pace.times == pytest.approx(1.2, rel=0.02) and "8 runs" in taken[0].says
    plain, learned = cure_of(SHEETS["slow-casting-epoxy"]), cure_of(sheets["slow-casting-epoxy"])
    assert learned.gates == plain.gates  # conversions are read where the sheet measured
    assert plain.kinetics.k2_ref_1_s / learned.kinetics.k2_ref_1_s == pytest.approx(pace.times)
    assert any(one.origin == "learned" for one in learned.told)
    even = PIECE.model_copy(update={"layering": "even"})  # the same layers either way
    before, after = (make_plan(even, one, shop, NOW, in_full=False) for one in (SHEETS, sheets))
    # A fifth slower, and less warm by its own heat.
    assert 1.1 < after.windows[0].opens_s / before.windows[0].opens_s < 1.35
    assert after.learned_pace == {"slow-casting-epoxy": pace.times} and before.learned_pace == {}


def test_learned_waste_goes_into_the_batches_and_never_over_a_measured_one():
    found = learn(observed("waste", [1.5, 1.6, 1.55]))
    _, shop, _ = apply(found, SHEETS, workshop())
    assert shop.residue_fraction.origin == "learned" and shop.residue_m3.value == pytest.approx(
        4e-6 * found[0].value
    )
    before, after = (
        make_plan(PIECE, SHEETS, one, NOW, in_full=False).totals.mass.value for one in (workshop(), shop)
    )
    assert after > before
    own = workshop(residue_fraction={"value": 0.03, "origin": "measured"})
    assert apply(found, SHEETS, own)[1] == own


def test_a_measured_curve_goes_before_a_learned_pace():
    fitted = system(
        cure_fit={"rate_factor": 1.1, "top_w_m2k": 9, "before_k": 1, "after_k": 0.2, "points": 40}
    )
    sheets, _, taken = apply(
        learn(observed("pace", [1.3] * 4, "slow-casting-epoxy")), {fitted.id: fitted}, workshop()
    )
    assert sheets[fitted.id].learned_pace is None and taken == []


def record_of(more=(), sheets=SHEETS):
    plan = make_plan(PIECE, sheets, workshop(), NOW, in_full=False)
    script = compile_script(1, PIECE, plan, workshop())
    return run_record(1, 1, script, plan, carried_out(script, more), [], NOW, 22.0)


def test_a_record_holds_what_was_done_and_nothing_that_nobody_measured():
    record = record_of(
        [
            {"kind": "amount", "what": "residue_kg", "value": 0.031, "of": "p1/b1"},
            {"kind": "rating", "stars": 4, "text": "good"},
            {"kind": "amount", "what": "hours_s", "value": 7200},
        ]
    )
    assert record.used_kg is None and record.leftover_kg is None and record.batches[0].weighed_kg is None
    assert record.batches[0].residue_kg == 0.031 and record.stars == 4 and record.hours_s == 7200
    assert record.planned_kg == pytest.approx(sum(one.planned_kg for one in record.batches))
    assert record.how == "finished" and all(one.poured_at for one in record.pours)


def test_waste_is_told_against_what_usually_stays():
    """By hand: 31 g of a batch, where 2 % and 4 mL (4.4 g) usually stay."""
    record = record_of([{"kind": "amount", "what": "residue_kg", "value": 0.031, "of": "p1/b1"}])
    found = next(one for one in observe(record) if one.code == "waste")
    assert found.value == pytest.approx(0.031 / (RESIDUE_SHARE * record.batches[0].planned_kg + RESIDUE_KG))


def test_of_two_tests_the_one_that_brackets_it_nearest_tells_the_pace():
    """By hand: 1.0 and 1.5 times bracket worse than 1.2 and 1.3: their geometric middle counts."""
    record = record_of([("stick", 1.0, "not passed"), ("stick", 1.5, "passed")])
    wide = next(one for one in record.tests if one.code == "stick")
    near = wide.model_copy(
        update={"tried": [(1.2 * wide.expected_s, "not passed")], "passed_s": 1.3 * wide.expected_s}
    )
    for order in ([wide, near], [near, wide]):
        found = next(one for one in observe(record.model_copy(update={"tests": order})) if one.code == "pace")
        assert found.value == pytest.approx((1.2 * 1.3) ** 0.5, rel=1e-6)


def test_one_run_hardly_moves_how_much_runs_differ():
    """A single one at the typical value says nothing of the spread: it stays near what is known of it."""
    for factor in FACTORS.values():
        if not factor.is_share:
            centre = (factor.least * factor.most) ** 0.5
            assert estimate(factor, centre, [centre]).spread == pytest.approx(factor.wobble, rel=0.35)


def test_nothing_left_over_is_a_run_like_another():
    share = next(one for one in FACTORS.values() if one.is_share)
    assert estimate(share, 0.05, [0.0, 0.04]).runs == 2


def test_a_log_that_begins_with_the_pour_is_not_said_to_begin_late():
    poured = NOW
    day = [(float(at), 25.0) for at in range(0, 86400, 600)]
    laid = lay_on(day, poured, poured, poured + timedelta(days=2), poured)
    assert len(laid.readings) == len(day) and laid.says == []
    late = lay_on(day, poured + timedelta(hours=3), poured, poured + timedelta(days=2), poured)
    assert "it begins 3 h after the pour" in late.says[0]


def test_what_was_left_over_is_told_in_weights_as_a_scale_shows_them():
    """By hand: 123.4 g of 1.5 kg are 8.2 %, said to three digits."""
    record = record_of().model_copy(update={"leftover_kg": 0.1234, "used_kg": 1.5})
    found = next(one for one in observe(record) if one.code == "leftover")
    assert found.value == pytest.approx(0.1234 / 1.5) and "123 g of 1.5 kg" in found.says


def test_a_cure_is_timed_between_the_test_not_passed_and_the_one_passed():
    """By hand: the geometric middle of both moments over the expected one; a test passed at once says
    nothing.
    """
    assert not [one for one in observe(record_of()) if one.code == "pace"]
    record = record_of([("stick", 1.10, "not passed"), ("stick", 1.30, "passed")])
    test = next(one for one in record.tests if one.code == "stick")
    found = next(one for one in observe(record) if one.code == "pace")
    assert found.value == pytest.approx((test.tried[0][0] * test.passed_s) ** 0.5 / test.expected_s)


def test_a_run_planned_with_a_learned_pace_speaks_of_the_sheets_time_all_the_same():
    sheets, _, _ = apply(learn(observed("pace", [1.2] * 8, "slow-casting-epoxy")), SHEETS, workshop())
    record = record_of([("stick", 1.0 - 0.04, "not passed"), ("stick", 1.0 + 0.04, "passed")], sheets)
    found = next(one for one in observe(record) if one.code == "pace")
    assert found.value == pytest.approx(1.2, rel=0.03)


def test_foretelling_gets_better_with_the_runs_and_never_sees_the_run_itself():
    _, _, values = simulated(7, "pace", "a person far from typical", 12)
    found = progress(observed("pace", values, "x"))
    assert len(found.points) == 9 and found.learned < 0.7 * found.typical and "closer" in found.says
    changed = progress(observed("pace", [*values[:-1], 2.0], "x"))
    assert [one.learned for one in changed.points] == [one.learned for one in found.points]


def test_trials_take_the_least_resin_that_the_scale_can_still_part():
    """By hand: both readings off by half a step, 0.1 g scale, 1:1: (s/2)(1/A + 1/B) = 1 % at A = B = 10 g."""
    assert least_mass_kg(1e-4, 1.0) == pytest.approx(0.02)
    ratio = ratio_of(SHEETS["coating-epoxy"])
    for row in TABLE:
        _, each, in_all, book = plan_trial(row.code, ratio.by_weight, ratio.mixed_density, workshop())
        assert (
            in_all.value >= max(len(row.variants) * each.value, least_mass_kg(1e-4, ratio.by_weight))
            and in_all.value < 0.2
        )
        assert book.workings["trial/all"].inputs
    with pytest.raises(DomainError):
        plan_trial("luck", 1, 1100, workshop())


def test_soak_film_and_reserve_are_offered_where_nobody_measured_them():
    seen = [
        *observed("soak", [1.2e-4, 1.3e-4, 1.25e-4], "open"),
        *observed("film", [1.3, 1.25, 1.35], "slow-casting-epoxy"),
        *observed("leftover", [0.06, 0.07, 0.05]),
    ]
    coat = {
        "id": "c",
        "name": "Flood",
        "surface": {"kind": "area", "area_m2": "1 m2"},
        "film_m": {"value": 0.001, "origin": "typical"},
        "portions": [{"id": "c1"}],
    }
    piece = box_piece(
        voids=[box_void(wall="wood")], coats=[coat], survey={"material": "oak", "grain": "open"}
    )
    found = {one.pointer: one.value for one in advice(learn(seen), piece)}
    assert found["/voids/0/soak_m3_m2"] == pytest.approx(1.25e-4, rel=0.1) and found[
        "/coats/0/lays/0/film_m"
    ] == pytest.approx(0.0013, rel=0.1)
    assert (
        found["/coats/0/soak_m3_m2"] and "/reserve" not in found
    )  # a leftover is what reserves come to already
    measured = box_piece(
        voids=[box_void(wall="wood", soak_m3_m2="90 mL/m2")],
        survey={"material": "oak", "grain": "open"},
        reserve="5 %",
    )
    assert advice(learn(seen), measured) == []


def test_learned_pumps_take_the_place_of_a_sheets_and_not_of_weighed_ones():
    found = learn(observed("pump", [0.0121, 0.0122, 0.0123], "coating-epoxy/A"))
    stated = system("coating-epoxy", pump_a_kg={"value": 0.013, "origin": "sheet"})
    taken = apply(found, {stated.id: stated}, workshop())[0][stated.id].pump_a_kg
    assert taken.origin == "learned" and taken.value == pytest.approx(0.0122, rel=0.02)
    weighed = system("coating-epoxy", pump_a_kg={"value": 0.013, "origin": "measured"})
    assert apply(found, {weighed.id: weighed}, workshop())[2] == []


def test_what_is_only_shown_never_says_that_a_plan_uses_it():
    for code, values in (("scale", [1.01, 1.011, 1.009]), ("leftover", [0.06, 0.07, 0.05])):
        found = learn(observed(code, values))[0]
        assert found.goes == "shown" and not found.used and found.why_not
        assert apply([found], SHEETS, workshop())[2] == []


def test_what_stayed_in_the_tenth_batchs_cup_is_not_the_first_ones():
    record = record_of([{"kind": "amount", "what": "residue_kg", "value": 0.03, "of": "p1/b10"}])
    assert record.batches[0].residue_kg is None


def test_a_pumps_strokes_are_not_foretold_against_themselves():
    assert progress(observed("pump", [0.012, 0.0121, 0.0122, 0.0123, 0.0121], "x/A")).points == []


@pytest.mark.parametrize(
    ("weighed", "used"), [([0.5, 0.25], 0.75), ([0.5, None], None), ([None], None), ([], None)]
)
def test_what_was_used_is_known_once_every_batch_stood_on_the_scale(weighed, used):
    """Their sum, by hand; one of which nobody knows makes the whole unknown."""
    batches = [
        BatchRecord(
            pour=1,
            batch=i,
            system_id="slow",
            system="Slow",
            planned_kg=0.5,
            weighed_kg=one,
            stir_planned_s=180,
            rest_planned_s=0,
        )
        for i, one in enumerate(weighed)
    ]
    assert _used_kg(batches) == used


TWO_HABITS = {"slow-casting-epoxy|1000|leave the last film": 1.6, "coating-epoxy|250|scrape all out": 0.6}


def wasted(values_by_key):
    return [one for key, values in values_by_key.items() for one in observed("waste", values, key)]


def test_what_stays_belongs_to_a_resin_a_cup_and_a_habit():
    """Release 0.7 learned 0.99 of 1.6 and 0.6, which fitted neither."""
    found = {one.key: one for one in learn(wasted({key: [truth] * 8 for key, truth in TWO_HABITS.items()}))}
    for key, truth in TWO_HABITS.items():
        assert found[key].value == pytest.approx(truth, rel=0.06) and found[key].low < truth < found[key].high
    everywhere = found[""]
    assert 0.6 < everywhere.value < 1.6 and everywhere.high / everywhere.low > 1.5  # hardly known


def test_few_runs_start_from_the_general_value_and_leave_it_as_runs_come():
    others = {f"resin-{k}|1000|leave the last film": [1.5] * 6 for k in range(4)}
    values = []
    for count in (1, 3, 12):
        own = {"new|1000|leave the last film": [0.7] * count}
        found = {one.key: one for one in learn(wasted({**others, **own}))}
        values.append(found["new|1000|leave the last film"])
    assert found[""].value == pytest.approx(1.4, rel=0.15)
    assert 1.4 > values[0].value > values[1].value > values[2].value
    assert values[2].value == pytest.approx(0.7, rel=0.06)
    assert values[0].high / values[0].low > values[2].high / values[2].low
    assert values[0].used  # one run of this cup, but many of others


@pytest.mark.slow
def test_pooled_bands_hold_hidden_truths_in_nine_of_ten_and_miss_less_than_one_value_for_all():
    """Forty workshops of four resins each, one to six runs of each, hidden truths drawn apart."""
    held = total = 0
    pooled_off, single_off = [], []
    for seed in range(40):
        rng = np.random.default_rng(seed)
        habit = rng.normal(0, 0.4)
        truths = {f"r{k}|500|x": math.exp(habit + rng.normal(0, 0.4)) for k in range(4)}
        runs = {
            key: list(truth * np.exp(rng.normal(0, 0.3, rng.integers(1, 7)))) for key, truth in truths.items()
        }
        found = {one.key: one for one in learn(wasted(runs))}
        every = estimate(FACTORS["waste"], 1.0, [one for many in runs.values() for one in many]).value
        for key, truth in truths.items():
            held += found[key].low <= truth <= found[key].high
            total += 1
            pooled_off.append(abs(math.log(found[key].value / truth)))
            single_off.append(abs(math.log(every / truth)))
    assert held / total >= 0.85
    assert np.mean(pooled_off) < 0.75 * np.mean(single_off)


def test_each_resins_cups_get_their_own_share_and_a_measured_one_stands():
    learned = learn(wasted({key: [truth] * 8 for key, truth in TWO_HABITS.items()}))
    shop = workshop(cup_m3="1 L")
    _, taught, taken = apply(learned, SHEETS, shop)
    slow, coating = taught.with_waste_of("slow-casting-epoxy"), taught.with_waste_of("coating-epoxy")
    assert slow.residue_m3.value == pytest.approx(4e-6 * 1.6, rel=0.06)
    general = next(one.value for one in learned if one.key == "")
    assert coating.residue_m3.value == pytest.approx(4e-6 * general)  # another cup than it was learned with
    small = taught.model_copy(
        update={
            "cup_m3": taught.cup_m3.model_copy(update={"value": 250e-6}),
            "scrape_cup": "scrape all out",
        }
    )
    assert small.with_waste_of("coating-epoxy").stays[1] == pytest.approx(4e-6 * 0.6, rel=0.06)
    assert slow.residue_m3.origin == "learned" and len(taken) == 3
    own = workshop(residue_fraction={"value": 0.03, "origin": "measured"})
    assert apply(learned, SHEETS, own)[1] == own
    with_it, without = (
        make_plan(PIECE, SHEETS, one, NOW, in_full=False).totals.mass.value for one in (taught, shop)
    )
    assert with_it > without


@pytest.mark.slow
@pytest.mark.parametrize("depth", ["15 mm", "35 mm"])
@pytest.mark.parametrize("times", [0.8, 1.38])
def test_what_was_learned_foretells_the_very_runs_it_was_learned_from(times, depth):
    """Four runs that took so many times as long: the plan made with what they taught says just that
    (release 0.7
    said 1.38 where 1.28 was learned, as less self-heating came on top).
    """
    piece = box_piece(voids=[box_void(depth=depth)], layering="even")
    before = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    course = next(iter(courses_of(piece, SHEETS, workshop(), before).values()))
    table = slowness_by_time(course, 0)
    slower = slowness(table["demould"], times)
    assert abs(math.log(slower)) <= abs(math.log(times)) + 1e-3  # warmth of its own takes a share
    sheets = apply(learn(observed("pace", [slower] * 12, "slow-casting-epoxy")), SHEETS, workshop())[0]
    after = make_plan(piece, sheets, workshop(), NOW, in_full=False)
    learned = sheets["slow-casting-epoxy"].learned_pace.times
    foretold = after.windows[0].demould_s / before.windows[0].demould_s
    wanted = times ** (math.log(learned) / math.log(slower))  # as far as the prior lets it come
    assert foretold == pytest.approx(wanted, rel=0.03)


def test_a_time_is_read_as_a_rate_through_the_runs_own_model():
    record = record_of([("stick", 1.3, "not passed"), ("stick", 1.46, "passed")])
    pours = [
        one.model_copy(update={"slow_by": {"recoat": [(0.5, 0.6), (1.0, 1.0), (1.6, 1.4)]}})
        for one in record.pours
    ]
    plain = next(one.value for one in observe(record) if one.code == "pace")
    found = next(one for one in observe(record.model_copy(update={"pours": pours})) if one.code == "pace")
    assert 1 < found.value < plain and "times as slow" in found.says


def test_a_coat_poured_as_planned_does_not_teach_the_plan_that_it_was_right():
    """All of it weighed, what stayed in the cup too, nothing said of what was left over: no word on the
    film."""
    coat = {
        "id": "c",
        "name": "Flood",
        "surface": {"kind": "area", "area_m2": "1 m2"},
        "portions": [{"id": "c1"}],
    }
    piece = box_piece(voids=[], coats=[{**coat, "film_m": "1.2 mm"}], system_id="coating-epoxy")
    plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    script = compile_script(1, piece, plan, workshop())
    plain = run_record(1, 1, script, plan, carried_out(script, []), [], NOW, 22.0)
    batches = [
        one.model_copy(update={"weighed_kg": one.planned_kg, "residue_kg": 0.02}) for one in plain.batches
    ]
    record = plain.model_copy(update={"batches": batches})
    assert not [one for one in observe(record) if one.code == "film"]
    told = [one.model_copy(update={"leftover_kg": 0.05}) for one in batches]
    assert [one for one in observe(record.model_copy(update={"batches": told})) if one.code == "film"]
