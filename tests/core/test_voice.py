"""Who is told of a moment, and when: asked in turn before the window closes, left in peace in quiet hours,
called at once where it burns.
"""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.voice.listeners import Call, Listener, Quiet
from cavatum.core.voice.turns import LATE_FROM, TO_ANSWER, to_send, turns

NOW = datetime(2026, 3, 2, 18, 0, tzinfo=UTC)
NIGHT = Quiet(from_min=22 * 60, to_min=7 * 60, zone="UTC")


def hours(number: float) -> timedelta:
    return timedelta(hours=number)


def call(at=NOW, latest=None, **changes) -> Call:
    told = {"id": "run 1/flame", "kind": "defoam", "urgency": "in its window", "title": "", "text": ""}
    return Call(**{**told, "at": at, "latest": latest, **changes})


def person(name: str, *, quiet=None, ways=("mail",), kinds=()) -> Listener:
    return Listener(id=name, name=name, quiet=quiet, ways=list(ways), kinds=list(kinds))


def times(one: Call, people: list[Listener], known_at=NOW) -> list[datetime | None]:
    return [turn.at for turn in turns(one, people, known_at)]


def test_the_next_is_asked_when_nobody_answers_and_all_before_it_closes():
    people = [person("Ada"), person("Ben"), person("Cy")]
    assert times(call(), people) == [NOW, NOW + TO_ANSWER, NOW + 2 * TO_ANSWER]
    short = NOW + timedelta(minutes=9)
    assert times(call(latest=short), people) == [NOW + timedelta(minutes=n) for n in (0, 3, 6)]
    late = NOW + timedelta(minutes=6)  # heard of only then: what is left is shared out
    assert times(call(latest=short), people, late) == [late + timedelta(minutes=n) for n in (0, 1, 2)]


def test_quiet_hours_are_kept_and_nobody_hears_of_it_too_late():
    ada = person("Ada", quiet=NIGHT)
    at = NOW + hours(8)  # 02:00
    seven = NOW + hours(13)
    assert times(call(at, at + hours(12)), [ada]) == [seven]  # it can wait until the morning
    (ahead,) = turns(call(at, at + hours(1)), [ada], NOW)  # it cannot: told when the quiet begins
    assert ahead.at == NOW + hours(4) and ahead.ahead and "quiet" in ahead.why
    (never,) = turns(call(at, at + hours(1)), [ada], NOW + hours(5))
    assert never.at is None and "quiet" in never.why
    # Nobody waits for one who is asleep
    assert times(call(at, at + hours(1)), [ada, person("Ben")], NOW + hours(5)) == [None, at]
    # Smoke wakes everybody
    assert times(call(at, urgency="at once"), [ada, person("Ben")], NOW + hours(5)) == [at, at]


@pytest.mark.parametrize(
    ("quiet", "at", "is_quiet"),
    [
        (NIGHT, "21:59", False),
        (NIGHT, "22:00", True),
        (NIGHT, "06:59", True),
        (NIGHT, "07:00", False),
        (Quiet(from_min=13 * 60, to_min=14 * 60, zone="UTC"), "13:30", True),
        (Quiet(from_min=13 * 60, to_min=14 * 60, zone="America/New_York"), "13:30", False),
        (Quiet(from_min=13 * 60, to_min=14 * 60, zone="America/New_York"), "18:30", True),
        (Quiet(from_min=60, to_min=60, zone="UTC"), "01:00", False),
    ],
)
def test_quiet_goes_over_midnight_and_by_the_persons_own_clock(quiet, at, is_quiet):
    moment = datetime.fromisoformat(f"2026-03-02T{at}+00:00")
    assert (quiet.span_around(moment) is not None) == is_quiet


def test_the_night_of_a_clock_change_is_an_hour_shorter():
    night = Quiet(from_min=22 * 60, to_min=7 * 60, zone="Europe/Berlin")
    begin, end = night.span_around(datetime(2026, 3, 29, 2, 0, tzinfo=UTC))
    assert end - begin == hours(8)  # on 29 March 2026 Berlin's clocks go from 02:00 to 03:00
    begin, end = night.span_around(datetime(2026, 3, 28, 2, 0, tzinfo=UTC))
    assert end - begin == hours(9)


def test_a_person_hears_by_each_of_their_ways_of_what_they_asked_for():
    people = [person("Ada", ways=("mail", "push")), person("Ben", kinds=("pour",))]
    said = to_send([(call(), NOW)], people, (), (), NOW + hours(1))
    assert [(one.person, one.way) for one in said] == [("Ada", "mail"), ("Ada", "push")]


def test_what_is_late_says_so_and_what_is_over_or_answered_is_not_sent():
    people = [person("Ada")]
    one = call(latest=NOW + hours(2))
    (fresh,) = to_send([(one, NOW)], people, (), (), NOW + LATE_FROM)
    assert fresh.late_s == 0
    (late,) = to_send([(one, NOW)], people, (), (), NOW + hours(1))
    assert late.late_s == 3600 and late.key == fresh.key
    for sent, answered, now in (
        ((late.key,), (), NOW + hours(1)),
        ((), (one.id,), NOW + hours(1)),
        ((), (), NOW + hours(2.1)),
        ((), (), NOW - hours(1)),
    ):
        assert to_send([(one, NOW - hours(2))], people, sent, answered, now) == []


def test_what_burns_comes_first():
    calls = [
        (call(NOW - hours(1), id="an old look"), NOW - hours(1)),
        (call(NOW, id="smoke", urgency="at once"), NOW),
    ]
    assert [one.call for one in to_send(calls, [person("Ada")], (), (), NOW)] == ["smoke", "an old look"]


MINUTES = st.integers(0, 48 * 60).map(lambda number: NOW + timedelta(minutes=number))
QUIETS = st.none() | st.builds(
    Quiet,
    from_min=st.integers(0, 1439),
    to_min=st.integers(0, 1439),
    zone=st.sampled_from(["UTC", "Europe/Berlin", "America/St_Johns", "Australia/Lord_Howe"]),
)


@st.composite
def workshops(draw):
    at = draw(MINUTES)
    long = draw(st.none() | st.integers(1, 2000))
    one = call(at, None if long is None else at + timedelta(minutes=long))
    people = [person(f"P{n}", quiet=draw(QUIETS)) for n in range(draw(st.integers(1, 5)))]
    known = min(draw(MINUTES), one.latest or at)
    return one, people, known


@given(workshops())
def test_in_any_workshop_nobody_is_woken_told_too_late_or_told_twice(made):
    one, people, known = made
    told = turns(one, people, known)
    for turn, who in zip(told, people, strict=True):
        if turn.at is None:
            assert turn.why
            continue
        assert turn.at >= known
        assert one.latest is None or turn.at <= one.latest
        assert turn.at >= one.at or turn.ahead
        if who.quiet is not None and (span := who.quiet.span_around(turn.at)):
            assert turn.ahead and turn.at == span[0]
    sent: list[str] = []
    for minute in range(0, 3 * 24 * 60, 47):
        new = to_send([(one, known)], people, sent, (), NOW + timedelta(minutes=minute))
        sent += [message.key for message in new]
    assert len(sent) == len(set(sent)) <= len(people)
    if one.latest is None:
        assert len(sent) == len(people)  # without an end nobody is left out for good
