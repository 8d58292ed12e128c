"""The run tells what was: what was typed counts, what goes into the piece is named net, and the debrief
praises
nothing that was not so.
"""

from datetime import timedelta

import pytest

from cavatum.core.common.wording import Wording
from cavatum.core.plan import make_plan
from cavatum.core.pour.debrief import debrief
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.script_words import goes_in
from cavatum.core.pour.state import fold, ratio_off, target_kg
from cavatum.core.pour.view import look
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.runs import LOGS, POURED, T0, done, log, script

SCRIPT = script()
WEIGH = next(one for one in SCRIPT.steps if one.id == "p1/b1/weigh")
SAYS = Wording(workshop())


def typed(*parts):
    said = [{"kind": "weighed", "step": "p1/b1/weigh", "part": part, "kg": kg} for part, kg in parts]
    return fold(SCRIPT, log(*((2 + 0.1 * n, one) for n, one in enumerate(said))))


def test_a_came_out_13_asks_for_11_6_of_b_and_survives_whoever_reads_it():
    # 12.0 to 10.67 by the plan, 1.125 to 1: 13.0 / 1.125 = 11.56, to the scale's 0.1 g
    state = typed(("A", 0.013))
    assert target_kg(WEIGH, state, "B") == pytest.approx(0.0116)
    assert target_kg(WEIGH, typed(), "B") == pytest.approx(0.0106667)
    assert target_kg(WEIGH, typed(("B", 0.0121)), "A") == pytest.approx(0.0136)


@pytest.mark.parametrize(("b_kg", "off"), [(0.0116, 0.0038), (0.0106667, -0.077), (0.0135, 0.168)])
def test_both_typed_tell_how_far_off_the_ratio_is(b_kg, off):
    assert ratio_off(WEIGH, typed(("A", 0.013), ("B", b_kg))) == pytest.approx(off, abs=0.001)
    assert ratio_off(WEIGH, typed(("A", 0.013))) is None


def test_the_newest_word_counts_and_an_undo_takes_it_back():
    state = typed(("A", 0.013), ("A", 0.0125))
    assert state.weighed["p1/b1/weigh"] == {"A": 0.0125}
    events = log((2, {"kind": "weighed", "step": "p1/b1/weigh", "part": "A", "kg": 0.013}))
    undone = [*events, *log((3, {"kind": "undo", "event_id": str(events[0].event_id)}))]
    assert fold(SCRIPT, undone).weighed == {}


def codes(*said):
    return {one.code: one for one in debrief(SCRIPT, log(*said), SAYS).says}


def test_a_stir_of_one_second_is_not_praised():
    said = (
        (-6, done("prep/wipe")),
        (1, done("p1/ready")),
        (4, done("p1/b1/weigh")),
        (5, {"kind": "begin", "step": "p1/b1/stir"}),
        (5 + 1 / 60, done("p1/b1/stir")),
        (13, done("p1/b1/pour")),
    )
    found = codes(*said)
    assert "1 s of 6 min" in found["timer-short"].text and "clean" not in found


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ((1, {**done("p1/ready"), "unticked": 14}), "not-ready"),
        ((14, {"kind": "skip", "step": "p1/round-1", "why": ""}), "left-out"),
        ((14, {"kind": "mishap", "code": "leak"}), "mishap"),
    ],
)
def test_everything_in_its_window_is_said_only_when_it_was(change, code):
    clean = [(-6, done("prep/wipe")), *POURED[1:]]
    assert set(codes(*clean)) == {"clean"}
    at, event = change
    other = [one for one in clean if one[1].get("step") != event.get("step")]
    assert code in codes(*sorted([*other, (at, event)], key=lambda one: one[0]))
    assert "clean" not in codes(*sorted([*other, (at, event)], key=lambda one: one[0]))


def test_a_batch_ended_off_its_ratio_is_told():
    found = debrief(SCRIPT, LOGS["weighed by hand"], SAYS).says
    off = next(one for one in found if one.code == "off-ratio")
    assert "4.7% off its ratio" in off.title and "Too much of part B" in off.text


def test_the_cup_has_a_temperature_of_its_own_and_its_clock_counts_from_it():
    events = LOGS["weighed by hand"]

    def alarms(count, minutes):
        view = look(SCRIPT, fold(SCRIPT, events[:count]), T0 + timedelta(minutes=minutes))
        return {one.id: (one.at - T0).total_seconds() / 60 for one in view.alarms}

    # stirred at minute 5; by the model 32 degC 18 min 34 s later, 35 degC 21 min 26 s later
    before = alarms(6, 6)
    assert before["p1/b1/pour/split"] == pytest.approx(5 + 1114 / 60, abs=0.02)
    assert before["p1/b1/pour/warm"] == pytest.approx(5 + 1286 / 60, abs=0.02)
    # 29.5 degC read at minute 12, which the model has at minute 20: it is eight minutes ahead
    after = alarms(7, 12)
    assert after["p1/b1/pour/split"] == pytest.approx(12 + (1114 - 900) / 60, abs=0.02)


def test_a_pour_that_was_put_off_rings_beside_its_cup():
    """The cup's own alarms never take the place of "later, 5 min"."""
    events = [
        *LOGS["weighed by hand"],
        *log(*POURED[:0], (13, {"kind": "later", "step": "p1/b1/pour", "seconds": 300})),
    ]
    names = {one.id.rpartition("/")[2].split("-")[0] for one in look(SCRIPT, fold(SCRIPT, events), T0).alarms}
    assert {"later", "split", "warm"} <= names


@pytest.mark.parametrize("count", [1, 3])
def test_what_is_named_to_pour_is_net_of_the_reserve_and_of_what_stays_in_cups(count):
    cup = {"value": 0.2e-3 / count, "as_typed": "", "origin": "measured"}
    shop = workshop(cup_m3=cup)
    piece = box_piece(
        system_id="craft-casting-epoxy", reserve="15 %", voids=[box_void("60 mm", "40 mm", "30 mm")]
    )
    plan = make_plan(piece, SHEETS, shop, NOW, in_full=False)
    pour = plan.pours[0]
    layer = pour.layers[0]
    share = goes_in(pour)
    into = sum(batch.mass.value for batch in pour.batches) * share
    drunk = sum(one.volume.value for one in pour.allowances if one.code in ("soak", "shrinkage"))
    taken = layer.mass.value * (1 + drunk / pour.net.value)
    assert into == pytest.approx(taken, rel=0.01)
    steps = compile_script(1, piece, plan, shop).steps
    text = next(one.text for one in steps if one.kind == "pour")
    assert "mixed the rest is reserve" in text
    assert Wording(shop).mass(pour.batches[0].mass.value * share) in text


def test_each_batch_of_a_coat_is_told_its_share_of_the_film():
    coat = {
        "id": "top",
        "name": "Top",
        "surface": {"kind": "board", "length_m": "900 mm", "width_m": "600 mm", "thickness_m": "18 mm"},
        "lays": [{"id": "c1", "film_m": "1.5 mm"}],
    }
    shop = workshop(cup_m3={"value": 0.8e-3, "as_typed": "", "origin": "measured"})
    piece = box_piece(kind_of_work="flood coat", system_id="coating-epoxy", voids=[], coats=[coat])
    plan = make_plan(piece, SHEETS, shop, NOW, in_full=False)
    count = len(plan.pours[0].batches)
    assert count > 1
    texts = [one.text for one in compile_script(1, piece, plan, shop).steps if one.kind == "pour"]
    share = Wording(shop).film(plan.pours[0].layers[0].depth.value / count)
    assert len(texts) == count and all(f"{share} of its film of" in text for text in texts)
