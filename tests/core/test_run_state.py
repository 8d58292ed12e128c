"""A run's log folded: windows from what was really done, first word counts, nothing lost, and moments that no
device's clock can bend.
"""

import json
from datetime import timedelta
from uuid import UUID

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.pour.events import settled
from cavatum.core.pour.state import fold, may_turn, window_of
from cavatum.core.pour.view import CLOSING_S, look
from tests.scenes.runs import EXAMPLES, LOGS, POURED, T0, done, examples, kept, log, script

SCRIPT = script()
MIN = timedelta(minutes=1)


def view_at(name_or_log, minutes: float):
    events = LOGS[name_or_log] if isinstance(name_or_log, str) else name_or_log
    return look(SCRIPT, fold(SCRIPT, events), T0 + minutes * MIN)


def seen(view, step: str):
    return next(one for one in view.steps if one.id == step)


def test_the_examples_that_both_folds_are_held_to_are_what_the_core_says():
    # regression: the browser's fold reads the same file in web/src/domain/run.test.ts
    assert json.loads(EXAMPLES.read_text()) == json.loads(json.dumps(examples())), (
        "run: python -m tests.scenes.runs"
    )


@pytest.mark.parametrize("name", sorted(LOGS))
def test_only_words_that_may_turn_a_run_end_it_or_move_its_probe(name):
    whole, few = (
        fold(SCRIPT, LOGS[name]),
        fold(SCRIPT, [one for one in LOGS[name] if may_turn([one.event.kind])]),
    )
    assert (whole.ended, whole.ended_at, whole.attached) == (few.ended, few.ended_at, few.attached)
    for count in range(1, len(LOGS[name])):
        before, after = fold(SCRIPT, LOGS[name][:count]), fold(SCRIPT, LOGS[name][: count + 1])
        assert may_turn([LOGS[name][count].event.kind]) or (before.ended_at, before.attached) == (
            after.ended_at,
            after.attached,
        )


def test_one_step_after_the_other_is_asked_for():
    found = [view_at(log(*POURED[:count]), 13).current for count in range(7)]
    assert found == [
        "prep/wipe",
        "p1/ready",
        "p1/b1/weigh",
        "p1/b1/stir",
        "p1/b1/stir",
        "p1/b1/pour",
        "p1/round-1",
    ]


def test_a_window_counts_from_the_moment_it_was_really_poured():
    view = view_at("poured", 14)
    assert seen(view, "p1/round-2").opens_at == T0 + (13 + 15) * MIN  # poured in minute 13, due 15 min after
    assert (
        seen(view, "p1/round-2").when == "early"
        and seen(view_at("poured", 28.5), "p1/round-2").when == "open"
    )
    assert seen(view_at("poured", 36), "p1/round-2").when == "late"


def test_before_the_pour_the_plans_own_moments_stand_and_wait():
    view = view_at("nothing yet", 14)
    assert seen(view, "p1/round-2").when == "waits" and seen(view, "p1/round-2").opens_at == T0 + 27 * MIN


def test_the_cup_counts_from_the_first_stir_and_warns_two_minutes_before():
    alarm = next(one for one in view_at("stirring", 6).alarms if one.id == "p1/b1/pour/closes")
    assert alarm.at == T0 + (5 + 30) * MIN - timedelta(seconds=CLOSING_S)


def test_a_slower_cure_moves_what_follows_the_cure_and_nothing_else():
    state = fold(SCRIPT, LOGS["slower cure"])
    steps = {one.id: one for one in SCRIPT.steps}
    assert window_of(steps["p2/ready"], state)[0] == T0 + 13 * MIN + timedelta(
        seconds=round(33.5 * 3600 * 1.2345)
    )
    assert window_of(steps["p1/round-2"], state)[0] == T0 + 28 * MIN


def test_a_test_not_passed_is_due_again_and_one_passed_lets_on():
    # tried when it was expected: by the belief of finish/gates the next is worth making a third later
    again = seen(view_at("test not sure", 2020), "p1/stick").opens_at
    assert (again - T0 - 13 * MIN) / timedelta(hours=33.3333) == pytest.approx(1.36, abs=0.02)
    assert fold(SCRIPT, LOGS["test not sure"]).marks["p1/stick"].status == "to do"
    assert fold(SCRIPT, LOGS["test not passed, then passed"]).marks["p1/stick"].status == "done"


def test_said_twice_the_first_counts_and_the_second_is_numbered():
    mark = fold(SCRIPT, LOGS["done twice, and a step that is not there"]).marks["p1/b1/pour"]
    assert mark.ended_at == T0 + 13 * MIN and mark.repeats == 1


def test_what_is_taken_back_never_was_and_stays_in_the_log():
    state = fold(SCRIPT, LOGS["taken back"])
    assert "p1/b1/pour" not in state.marks and len(state.undone) == 1 and state.events == len(POURED) + 1


def test_after_the_end_nothing_is_asked_and_nothing_rings():
    view = view_at("ended", 28.5)
    assert view.current is None and view.alarms == []


def test_a_step_without_hands_passes_by_itself_once_its_window_is_over():
    assert seen(view_at("poured", 13 + 31.1 * 60), "p1/hands-off").when == "open"
    assert seen(view_at("poured", 13 + 31.5 * 60), "p1/hands-off").when == "over"


def test_a_pour_left_out_leaves_the_plans_moments():
    assert seen(view_at("pour left out", 14), "p1/round-2").opens_at == T0 + 27 * MIN


def test_alarms_missed_while_the_page_was_closed_are_there_when_it_opens():
    past = [one.id for one in view_at(LOGS["poured"], 36).alarms if one.is_past]
    assert len(past) == 1 and past[0].startswith("p1/round-2/opens-")


@given(
    st.lists(
        st.sampled_from(
            [event for _, event in POURED]
            + [
                done("p1/round-1"),
                {"kind": "skip", "step": "p1/round-2", "why": ""},
                {"kind": "test", "step": "p1/stick", "result": "not sure"},
                {"kind": "mishap", "code": "fly"},
            ]
        ),
        max_size=14,
    ),
    st.floats(min_value=0, max_value=5000),
)
def test_any_order_of_taps_folds_to_something_whole(events, minutes):
    said = log(*((number, event) for number, event in enumerate(events)))
    view = look(SCRIPT, fold(SCRIPT, said), T0 + minutes * MIN)
    assert len(view.steps) == len(SCRIPT.steps)
    if view.current:
        assert seen(view, view.current).when in ("open", "late", "early")
    assert all(one.step in {step.id for step in SCRIPT.steps} for one in view.alarms)


@given(st.integers(min_value=0, max_value=len(POURED)))
def test_the_same_log_always_folds_to_the_same_state(count):
    said = log(*POURED[:count])
    assert fold(SCRIPT, said) == fold(
        SCRIPT, [kept(one.number, (one.at - T0) / MIN, one.event.model_dump(mode="json")) for one in said]
    )


@pytest.mark.parametrize(
    ("said_min", "before_min", "expected_min", "doubted"),
    [
        (10, None, 10, False),  # on time
        (-600, None, 20, True),  # before the run began: the phone's clock is wrong
        (500, None, 20, True),  # from the future
        (10, 12, 12, True),  # runs back within its own order
        (10, 9, 10, False),  # sent late, as after an hour without a network
    ],
)
def test_a_devices_moment_counts_only_where_it_can_be(said_min, before_min, expected_min, doubted):
    before = None if before_min is None else T0 + before_min * MIN
    assert settled(T0 + said_min * MIN, T0 + 20 * MIN, before, T0) == (T0 + expected_min * MIN, doubted)


def test_the_night_of_the_clock_change_changes_no_window():
    # Europe/London moves on 29 March 2026 (IANA tz database); windows are lengths of time, not wall times
    moved = T0.replace(day=28, hour=23)
    said = [one.model_copy(update={"at": moved + (one.at - T0)}) for one in LOGS["poured"]]
    found = look(SCRIPT, fold(SCRIPT, said), moved + timedelta(hours=1))
    assert seen(found, "p2/ready").opens_at - said[-1].at == timedelta(hours=33.5)


def test_two_devices_on_one_pour_agree_whatever_order_their_logs_are_joined_in_by_the_server():
    ours = [
        kept(1, 1, done("p1/ready"), 1),
        kept(2, 4, done("p1/b1/weigh"), 2, 77),
        kept(3, 5, {"kind": "begin", "step": "p1/b1/stir"}, 1),
    ]
    assert fold(SCRIPT, ours) == fold(SCRIPT, list(ours)) and fold(SCRIPT, ours).marks[
        "p1/b1/weigh"
    ].event_id == str(UUID(int=77))
