"""Gates move the plan: what was not passed makes everything behind it later and never earlier, and what
was passed
early opens early; the next test waits for chance and for people.
"""

from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cavatum.core.cure.belief import worth_again
from cavatum.core.pour.state import fold, window_of
from cavatum.core.pour.view import look
from tests.scenes.runs import POURED, T0, log, script

SCRIPT = script()
STEPS = {one.id: one for one in SCRIPT.steps}
MIN = timedelta(minutes=1)
BEHIND = ("p1/stick", "p2/ready")


def after(*tests):
    """The windows after tests of the stick at so many minutes."""
    said = [(at, {"kind": "test", "step": "p1/stick", "result": result}) for at, result in tests]
    return fold(SCRIPT, log(*POURED, *said))


def opens(state, step):
    return window_of(STEPS[step], state)[0]


@settings(max_examples=200)
@given(st.lists(st.integers(600, 6000), min_size=1, max_size=5, unique=True))
def test_a_failed_test_moves_everything_behind_it_later_never_earlier(minutes):
    tests = [(at, "not passed") for at in sorted(minutes)]
    states = [after(*tests[:count]) for count in range(len(tests) + 1)]
    for before, then in zip(states, states[1:], strict=False):
        for step in ("p2/ready", "p1/hands-off"):
            assert opens(then, step) >= opens(before, step)
    assert opens(states[-1], "p2/ready") >= states[-1].marks["p1/stick"].again_at


@settings(max_examples=100)
@given(st.integers(600, 6000))
def test_the_next_test_is_later_than_the_last_and_when_somebody_is_there(at):
    again = after((at, "not passed")).marks["p1/stick"].again_at
    assert again >= T0 + (at + 30) * MIN
    known = any(begin <= again and again + 2 * MIN <= end for begin, end in SCRIPT.here)
    assert known or again > SCRIPT.here[-1][1]


def test_what_was_passed_early_opens_early_and_alone():
    early = after((1200, "passed"))
    assert opens(early, "p2/ready") == T0 + 1200 * MIN
    assert opens(early, "p1/hands-off") == opens(after(), "p1/hands-off")


def test_passed_after_it_had_failed_the_rest_keeps_what_was_learned():
    failed, passed = after((2010, "not passed")), after((2010, "not passed"), (2060, "passed"))
    assert 1 < passed.slow["1"] < failed.slow["1"]
    assert opens(after(), "p1/hands-off") < opens(passed, "p1/hands-off") < opens(failed, "p1/hands-off")


def test_the_next_test_is_at_least_what_the_last_taught():
    table = worth_again()
    assert all(then > ratio for ratio, then in table)
    assert [then for _, then in table] == sorted(then for _, then in table)
    assert table[-1][1] == pytest.approx(1.25 * table[-1][0])  # past what the model knows: a quarter more


@pytest.mark.parametrize(("minutes", "when"), [(-55, "early"), (-49, "open")])
def test_mixing_waits_for_what_was_wiped(minutes, when):
    state = fold(SCRIPT, log((-60, {"kind": "done", "step": "prep/wipe"})))
    view = look(SCRIPT, state, T0 + minutes * MIN)
    assert next(one for one in view.steps if one.id == "p1/ready").when == when


def test_what_was_wiped_too_long_ago_is_wiped_again():
    events = log((-60, {"kind": "done", "step": "prep/wipe"}), (-40, {"kind": "done", "step": "prep/wipe"}))

    def seen(count, minutes):
        view = look(SCRIPT, fold(SCRIPT, events[:count]), T0 + minutes * MIN)
        return next(one for one in view.steps if one.id == "prep/wipe").when

    assert seen(1, -46) == "done" and seen(1, -44) == "late"
    assert seen(2, -26) == "done" and seen(2, -24) == "late"
    stirred = fold(SCRIPT, log(*POURED))
    view = look(SCRIPT, stirred, T0 + 60 * MIN)
    assert next(one for one in view.steps if one.id == "prep/wipe").when == "done"
