"""A frozen plan as a script: every kind of work from preparation to hand-over, the pot clock, the layer
below's window, readings against the curve.
"""

from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cavatum.core.common.wording import Wording
from cavatum.core.plan import make_plan
from cavatum.core.pour.debrief import debrief
from cavatum.core.pour.pace import LEAST_READINGS, expected_c, is_absurd, pace_of
from cavatum.core.pour.rehearsal import ABSURD_C, Rehearsal, troubles_of, true_pace, warmth
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.script_windows import last_pour_id
from cavatum.core.practice.mishaps import MISHAPS
from cavatum.core.practice.mixing import CAUTIONS, STICKY
from cavatum.core.practice.work import TABLE
from cavatum.core.survey.preparation import TABLE as PREPARATION
from tests.core.test_steps import KINDS
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.runs import T0, done, log, script

SHOP = workshop()


def made(kind: str = "deep pour", depth: str = "70 mm", system: str = "slow-casting-epoxy", shop=SHOP):
    piece = box_piece(kind_of_work=kind, system_id=system, voids=[box_void(depth=depth)])
    plan = make_plan(piece, SHEETS, shop, NOW)
    return plan, compile_script(1, piece, plan, shop)


@pytest.fixture(scope="module")
def two_layers():
    return made()


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_work_is_a_script_from_ready_to_hand_over(kind):
    plan, found = made(
        kind, "20 mm", "fast-casting-polyurethane" if kind == "pressure casting" else "casting-epoxy-25"
    )
    codes = [step.code for step in found.steps]
    assert (
        codes.index("ready") < codes.index("weigh") < codes.index("stir") < codes.index("pour")
        and codes[-1] == "hand-over"
    )
    ready = next(step for step in found.steps if step.code == "ready")
    assert len(ready.checks) >= 10
    ids = [step.id for step in found.steps]
    assert len(set(ids)) == len(ids) and all(
        step.anchor is None or step.anchor in ids for step in found.steps
    )


def test_the_cup_counts_from_the_first_stir_and_is_what_the_plan_gives_it(two_layers):
    plan, found = two_layers
    batch = plan.pours[0].batches[0]
    pour = next(step for step in found.steps if step.id == "p1/b1/pour")
    assert (pour.anchor, pour.on) == ("p1/b1/stir", "begun")
    assert pour.to_s == pytest.approx(batch.stir_s + (batch.stir_again_s or 0) + batch.pour_within.value)


def test_what_needs_no_hands_passes_by_itself_and_what_needs_some_does_not(two_layers):
    """Of every step round a pour, as its row of work has it: a step for hands stays due when it is late."""
    _, found = two_layers
    hands = {f"p{pour}/{row.code}": row.hands_s for pour in (1, 2) for row in TABLE}
    seen = [(step.passes, hands[step.id]) for step in found.steps if step.id in hands]
    assert {True, False} == {passes for passes, _ in seen}
    assert all(passes == (hands_s == 0) for passes, hands_s in seen)


def test_weights_are_those_of_the_plan_and_the_second_follows_the_first(two_layers):
    plan, found = two_layers
    weigh = next(step for step in found.steps if step.id == "p1/b1/weigh")
    first, second = weigh.parts
    assert [one.target_kg for one in weigh.parts] == [
        one.mass.value for one in plan.pours[0].batches[0].parts
    ]
    assert first.target_kg * second.per_other == pytest.approx(second.target_kg)


def test_the_next_layer_is_mixed_so_that_it_is_poured_in_the_window_of_the_one_below(two_layers):
    plan, found = two_layers
    ready = next(step for step in found.steps if step.id == "p2/ready")
    below = plan.windows[0]
    assert ready.anchor == last_pour_id(plan.pours[0]) and ready.with_cure
    assert ready.from_s == pytest.approx(
        below.opens_s - plan.windows[1].mix_s, abs=1
    )  # the pour itself falls into the window
    stick = [step.id for step in found.steps].index("p1/stick")
    assert stick < [step.id for step in found.steps].index(
        "p2/ready"
    )  # rule 8.1: a test stands before what rests on it


def test_a_layer_that_is_not_bonded_is_sanded_first():
    plan, found = made(depth="70 mm", shop=workshop(recoat="cure and sand"))
    codes = [(step.pour, step.code) for step in found.steps]
    assert codes.index((2, "sand")) < codes.index((2, "ready")) and (1, "sand") not in codes


def test_sticky_steps_say_which_hand_stays_clean_and_flames_have_their_caution():
    _, found = made(shop=workshop(clean_hand="right"))
    for step in found.steps:
        assert ("Right hand" in step.hand) == (step.code in STICKY)
    assert "No alcohol" in next(step for step in found.steps if step.code == "round-1").caution


def test_tables_name_only_steps_that_exist_and_mishaps_say_first_what_to_do():
    known = (
        {row.code for row in TABLE}
        | {"ready", "sand", "weigh", "stir", "stir-again", "rest", "part", "pour"}
        | set(PREPARATION)
    )
    assert set(CAUTIONS) <= known and known >= STICKY
    assert len({one.code for one in MISHAPS}) == len(MISHAPS) and all(
        one.first and one.then for one in MISHAPS
    )
    assert {"smoke", "leak", "over", "fly", "fisheyes", "heating"} <= {one.code for one in MISHAPS}


CURVE = [(hour * 3600.0, 22 + 30 * np.exp(-(((hour - 20) / 7) ** 2))) for hour in np.linspace(0, 60, 240)]


@settings(max_examples=40)
@given(st.floats(min_value=0.7, max_value=1.4), st.integers(min_value=0, max_value=500))
def test_the_pace_of_a_cure_is_found_from_noisy_readings(truth, seed):
    noise = np.random.default_rng(seed)
    times = np.arange(0, 30 * 3600, 1800.0)
    readings = [(at, expected_c(CURVE, at / truth) + 0.8 + noise.normal(0, 0.3)) for at in times]
    found = pace_of(readings, CURVE)
    if abs(truth - 1) > 0.08:
        assert found.times == pytest.approx(truth, rel=0.03) and ("ahead" in found.says) == (truth < 1)
    else:
        assert abs(found.times - 1) < 0.12


def test_nothing_is_claimed_from_few_or_flat_or_absurd_readings():
    few = [(at, expected_c(CURVE, at)) for at in np.linspace(3600, 30 * 3600, LEAST_READINGS - 1)]
    assert pace_of(few, CURVE) is None
    flat = [(at, 22.0 + 0.1 * (number % 2)) for number, at in enumerate(np.linspace(0, 3 * 3600, 20))]
    assert pace_of(flat, CURVE) is None
    assert is_absurd(900.0) and not is_absurd(180.0)
    with_absurd = [(at, expected_c(CURVE, at / 1.2)) for at in np.arange(0, 30 * 3600, 3600.0)] + [
        (5 * 3600.0, 900.0)
    ]
    assert pace_of(sorted(with_absurd), CURVE).times == pytest.approx(1.2, rel=0.03)


def test_a_rehearsals_instruments_repeat_themselves_and_lie_as_drawn(two_layers):
    _, found = two_layers
    curve, seed = found.curves[0], 12
    drawn = troubles_of(seed, [1, 2])
    whole = warmth(curve, seed, 0, 40 * 3600, 22.0, drawn)
    parts = warmth(curve, seed, 0, 10 * 3600, 22.0, drawn) + warmth(
        curve, seed, 10 * 3600 + 1, 40 * 3600, 22.0, drawn
    )
    assert whole == parts
    lies = [one for one in drawn if one.pour == 1 and one.kind in ("silent", "absurd")]
    assert (
        any(one.probe_c is None for one in whole)
        if lies[0].kind == "silent"
        else any(one.probe_c == ABSURD_C for one in whole)
    )
    honest = warmth(curve, seed, 0, 60 * 3600, 22.0)
    assert pace_of(
        [(one.at_s, one.probe_c) for one in honest if one.probe_c is not None], curve.curve
    ).times == pytest.approx(true_pace(seed), rel=0.06)


def test_every_pour_of_a_rehearsal_has_a_mishap_in_its_first_hour_and_the_keys_answer_it():
    codes = {one.code for one in MISHAPS}
    for seed in range(30):
        for pour in (1, 2):
            mine = [one for one in troubles_of(seed, [1, 2]) if one.pour == pour and one.kind == "mishap"]
            assert 1 <= len(mine) <= 2 and all(one.after_s <= 3600 and one.code in codes for one in mine)


def test_a_rehearsals_clock_runs_so_many_times_as_fast_and_jumps():
    one = Rehearsal(speed=240, seed=1, start_at=T0, real_from=NOW)
    assert one.now(NOW + timedelta(seconds=15)) == T0 + timedelta(hours=1)
    assert one.model_copy(update={"jumped_s": 3600.0}).now(NOW) == T0 + timedelta(hours=1)


def test_the_debrief_names_what_was_late_early_left_out_and_how_soon_a_mishap_was_over():
    said = log(
        (-6, done("prep/wipe")),
        (1, done("p1/ready")),
        (4, done("p1/b1/weigh")),
        (5, {"kind": "begin", "step": "p1/b1/stir"}),
        (11, done("p1/b1/stir")),
        (13, done("p1/b1/pour")),
        (25, done("p1/round-1")),
        (26, done("p1/round-2")),
        (27, {"kind": "mishap", "code": "leak"}),
        (29, {"kind": "mishap-over", "event_id": "00000000-0000-0000-0000-0000000003f1"}),
        (30, {"kind": "skip", "step": "p1/stick", "why": ""}),
        (31, {"kind": "reading", "what": "surface_c", "value": 900.0, "pour": 1, "by": "instrument"}),
    )
    told = debrief(script(), said, Wording(SHOP))
    assert (told.late, told.early, told.skipped, told.mishaps, told.absurd) == (1, 1, 1, 1, 1)
    assert {one.code for one in told.says} == {
        "was-late",
        "was-early",
        "mishap",
        "test-skipped",
        "left-out",
        "absurd",
    }
    assert [row.late_s for row in told.steps if row.id == "p1/round-1"] == [
        7 * 60
    ]  # its window closed five minutes after minute 13
    assert next(one for one in told.says if one.code == "mishap").weight == "note"
    clean = debrief(script(), log((0, done("prep/wipe"))), Wording(SHOP))
    assert [one.code for one in clean.says] == ["clean"]
