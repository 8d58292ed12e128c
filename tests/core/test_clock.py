"""People's hours and bond windows, against brute force in five-minute steps."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.clock.hours import away_spans, next_slot, open_spans
from cavatum.core.clock.starts import Job
from cavatum.core.clock.starts import best_start as best_of
from cavatum.core.clock.windows import PourTask, lay_out, whole_half_hour
from cavatum.core.common.wording import Wording
from cavatum.core.layers.course import Window
from tests.samples import NOW, system, workshop

HOUR = timedelta(hours=1)
NOBODY = workshop(week=[[]] * 7)


def tasks(count=2, id_="slow-casting-epoxy"):
    return [PourTask(systems=(system(id_),), mix_s=1200, pour_s=120)] * count


def best_start(job, shop, from_):
    return best_of(Job(tasks=job, moments=[()] * len(job), ready=from_), shop, from_)


def is_open(shop, moment):
    return any(begin <= moment < end for begin, end in open_spans(shop, moment - HOUR, moment + HOUR))


@given(st.integers(min_value=0, max_value=7 * 288), st.integers(min_value=5, max_value=300))
def test_next_slot_is_the_first_that_fits(offset, minutes):
    # brute force: walk in five minutes until the whole duration is inside the hours
    shop, start, duration = (
        workshop(),
        NOW.replace(minute=0) + timedelta(minutes=5 * offset),
        timedelta(minutes=minutes),
    )
    found = next_slot(shop, start, duration)
    moment = start
    while not all(
        is_open(shop, moment + timedelta(minutes=step)) for step in range(0, minutes, 5)
    ) or not is_open(shop, moment + duration - timedelta(seconds=1)):
        moment += timedelta(minutes=5)
    assert found == moment


def test_no_slot_when_nobody_is_ever_there():
    assert next_slot(NOBODY, NOW, HOUR) is None
    assert best_start(tasks(), NOBODY, NOW) is None


def test_open_and_away_tile_the_week():
    shop, end = workshop(), NOW + timedelta(days=7)
    seconds = sum((b - a).total_seconds() for a, b in open_spans(shop, NOW, end))
    away = sum((b - a).total_seconds() for a, b in away_spans(shop, NOW, end))
    assert seconds + away == 7 * 86400
    assert seconds == (5 * 11.5 + 4) * 3600  # 07:30 to 19:00 on weekdays, 09:00 to 13:00 on Saturday


def test_the_night_of_the_clock_change_is_an_hour_shorter():
    # Europe/London moves from 01:00 to 02:00 on 29 March 2026 (IANA tz database)
    shop = workshop(zone="Europe/London", week=[[{"from_min": 0, "to_min": 1440}]] * 7)
    begin = datetime(2026, 3, 29, 0, 0, tzinfo=UTC)
    spans = list(open_spans(shop, begin, begin + timedelta(hours=23)))
    assert sum((b - a).total_seconds() for a, b in spans) == 23 * 3600
    assert spans[0][1] == begin + timedelta(hours=23)


def test_a_second_pour_lands_in_the_bond_window_and_in_the_hours():
    shop = workshop()
    start = NOW.replace(hour=8, minute=0)
    first, second = lay_out(tasks(), shop, start).pours
    assert first.bond_from <= second.pour_at <= second.poured_at <= first.bond_to
    assert is_open(shop, second.mix_at) and is_open(shop, second.poured_at)


def test_what_was_computed_is_told_from_the_sheets_own_times():
    start = NOW.replace(hour=8, minute=0)
    window = Window(opens_s=3600.0, closes_s=7200.0, demould_s=9e4, gelled_s=3000.0, cured_s=2e5)
    for given_window, told in ((None, False), (window, True)):
        (pour,) = lay_out([replace(tasks(1)[0], window=given_window)], workshop(), start).pours
        assert pour.computed is told
        if told:
            assert pour.bond_from == pour.poured_at + HOUR


def test_a_window_nobody_can_meet_is_left_to_cure_and_sanded():
    # coating epoxy poured late: the window of 4.6 to 10.5 h falls into the night
    days = lay_out(tasks(2, "coating-epoxy"), workshop(), NOW.replace(hour=18, minute=0))
    assert days.missed == [1] and not days.pours[1].bonded
    assert days.pours[1].mix_at >= days.pours[0].demould_from


def test_mixing_waits_until_the_hands_are_free_of_the_last_pour():
    # found by a property test: many batches of a fast system take longer to mix than its window takes to open
    many = [PourTask(systems=(system("fast-casting-polyurethane"),), mix_s=3 * 3600, pour_s=600)] * 2
    first, second = lay_out(many, workshop(), NOW.replace(hour=8, minute=0)).pours
    assert second.mix_at >= first.poured_at


def test_the_best_start_misses_no_window_and_is_the_earliest_in_half_hours():
    # brute force over half hours
    shop, job = workshop(), tasks(2, "coating-epoxy")
    begin = NOW.replace(hour=15, minute=0)
    best = best_start(job, shop, begin)
    moment = begin
    while not (
        is_open(shop, moment)
        and is_open(shop, moment + job[0].hands_on)
        and not lay_out(job, shop, moment).missed
    ):
        moment += timedelta(minutes=30)
    assert (best.at, best.missed) == (moment, 0)


def test_where_every_start_misses_some_the_fewest_are_missed():
    # brute force over the half hours of three days: five thin pours of a craft system with a window of 5 to
    # 11 h
    shop, job = workshop(), tasks(5, "craft-casting-epoxy")
    begin = NOW.replace(hour=12, minute=0)
    starts = [begin + timedelta(minutes=30 * step) for step in range(145)]
    missed = {
        s: len(lay_out(job, shop, s).missed)
        for s in starts
        if is_open(shop, s) and is_open(shop, s + job[0].hands_on - timedelta(seconds=1))
    }
    best = best_start(job, shop, begin)
    assert best.missed == min(missed.values()) > 0
    assert best.at == min(start for start, count in missed.items() if count == best.missed)


def test_no_tasks_no_start():
    assert lay_out([], workshop(), NOW).demould_at is None


def test_with_nobody_there_the_days_are_still_laid_out():
    days = lay_out(tasks(), NOBODY, NOW)
    assert days.missed == [1] and days.demould_at is None


def test_two_systems_in_a_pour_open_with_the_slower_and_close_with_the_quicker():
    both = PourTask(systems=(system("craft-casting-epoxy"), system("coating-epoxy")), mix_s=600, pour_s=60)
    times = lay_out([both], workshop(), NOW).pours[0]
    hours = [(moment - times.poured_at) / HOUR for moment in (times.bond_from, times.bond_to)]
    assert hours == [5.0, 10.5]


@given(st.datetimes(min_value=datetime(2026, 1, 1), max_value=datetime(2027, 1, 1), timezones=st.just(UTC)))
def test_the_next_half_hour_is_whole_and_near(moment):
    rounded = whole_half_hour(moment)
    assert rounded.minute in (0, 30) and rounded.second == 0
    assert timedelta(0) <= rounded - moment < timedelta(minutes=30)


@pytest.mark.parametrize(
    ("family", "words"),
    [
        ("metric", ("1.50 kg", "250 g", "2.00 L", "250 mL", "42 mm")),
        ("us", ("3.31 lb", "8.8 oz wt", "67.6 fl oz", "8.45 fl oz", "1.65 in")),
    ],
)
def test_verdicts_speak_the_workshops_units(family, words):
    # hand-worked: 1.5 kg / 0.45359 = 3.307 lb; 250 g / 28.35 = 8.82; 2 L / 29.574 mL = 67.63, 250 mL 8.454;
    # 42 / 25.4 = 1.654
    say = Wording(workshop(units=family))
    assert (say.mass(1.5), say.mass(0.25), say.volume(2e-3), say.volume(250e-6), say.length(0.042)) == words


@pytest.mark.parametrize(("seconds", "words"), [(1800, "30 min"), (9000, "2.5 h"), (5 * 86400, "5 days")])
def test_durations_are_spoken_as_people_do(seconds, words):
    assert Wording(workshop()).duration(seconds) == words


def test_moments_are_spoken_in_the_workshops_zone():
    assert (
        Wording(workshop(zone="Europe/London")).moment(datetime(2026, 7, 1, 6, 30, tzinfo=UTC))
        == "Wed 1 Jul, 07:30"
    )
