"""Calendars out and in, read back by the icalendar package and by plain counting."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import icalendar
import pytest
from dateutil.rrule import rrulestr
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError
from cavatum.formats.calendar import Moment, read_busy, write_calendar

NOW = datetime(2026, 3, 2, 12, tzinfo=UTC)
LONDON = ZoneInfo("Europe/London")


def ics(*events: str, head: str = "") -> bytes:
    body = "".join(
        f"BEGIN:VEVENT\r\nUID:{number}\r\nDTSTAMP:20260301T000000Z\r\n{event}\r\nEND:VEVENT\r\n"
        for number, event in enumerate(events)
    )
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{head}{body}END:VCALENDAR\r\n".encode()


def test_moments_go_out_with_an_alarm_each_and_a_name_that_stays():
    moment = Moment(
        uid="run-1-p1-round-2",
        from_at=NOW,
        to_at=NOW + timedelta(minutes=2),
        summary="Second round, Seed-head block",
        text="Short; moving, from far",
        alarm_min=5,
    )
    found = icalendar.Calendar.from_ical(write_calendar("Cavatum, Quillstone Yard", [moment], NOW)).walk(
        "VEVENT"
    )
    assert len(found) == 1 and str(found[0]["uid"]) == "run-1-p1-round-2@cavatum"
    assert found[0].decoded("dtstart") == NOW and found[0].decoded("dtend") == NOW + timedelta(
        minutes=5
    )  # five minutes at least, so that it can be seen
    assert found[0].walk("VALARM")[0].decoded("trigger") == timedelta(minutes=-5)
    assert str(found[0]["description"]) == "Short; moving, from far"


def test_busy_times_come_in_at_their_own_zone():
    taken = read_busy(
        ics(
            "SUMMARY:Fair\r\nDTSTART;TZID=Europe/London:20260401T090000\r\nDTEND;TZID=Europe/London:20260401T110000"
        ),
        NOW,
        LONDON,
    )
    assert [
        (one.from_at.astimezone(UTC).hour, one.to_at.astimezone(UTC).hour, one.what) for one in taken.busy
    ] == [(8, 10, "Fair")]  # summer time


def test_a_whole_day_is_busy_from_midnight_to_midnight_here_also_when_the_clocks_change():
    # 29 March 2026 has 23 hours in London (IANA tz database)
    taken = read_busy(
        ics("SUMMARY:Away\r\nDTSTART;VALUE=DATE:20260329\r\nDTEND;VALUE=DATE:20260330"), NOW, LONDON
    )
    assert taken.busy[0].to_at.astimezone(UTC) - taken.busy[0].from_at.astimezone(UTC) == timedelta(hours=23)


def test_repeated_ones_come_each_time_at_the_same_wall_time_without_those_left_out():
    taken = read_busy(
        ics(
            "SUMMARY:Market\r\nDTSTART;TZID=Europe/London:20260305T080000\r\nDTEND;TZID=Europe/London:20260305T100000\r\n"
            "RRULE:FREQ=WEEKLY;COUNT=6\r\nEXDATE;TZID=Europe/London:20260312T080000"
        ),
        NOW,
        LONDON,
    )
    days = [one.from_at.astimezone(LONDON) for one in taken.busy]
    assert [day.day for day in days] == [5, 19, 26, 2, 9] and {day.hour for day in days} == {8}


def test_an_endless_repetition_ends_after_the_months_that_are_looked_at():
    taken = read_busy(
        ics("SUMMARY:Standing\r\nDTSTART:20200101T080000Z\r\nDTEND:20200101T083000Z\r\nRRULE:FREQ=DAILY"),
        NOW,
        LONDON,
    )
    assert len(taken.busy) == 120


def test_free_and_cancelled_ones_are_left_out_and_named():
    taken = read_busy(
        ics(
            "SUMMARY:Maybe\r\nTRANSP:TRANSPARENT\r\nDTSTART:20260303T080000Z\r\nDTEND:20260303T090000Z",
            "SUMMARY:Off\r\nSTATUS:CANCELLED\r\nDTSTART:20260303T080000Z\r\nDTEND:20260303T090000Z",
        ),
        NOW,
        LONDON,
    )
    assert not taken.busy and [one.split(":")[0] for one in taken.left_out] == ["Maybe", "Off"]


@pytest.mark.parametrize(
    "data", [b"", b"hello", b"\xff\xfe\x00", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n", b"x" * (1 << 20 | 1)]
)
def test_what_is_no_calendar_is_refused_in_words(data):
    with pytest.raises(DomainError) as caught:
        read_busy(data, NOW, LONDON)
    assert caught.value.way_out


@given(st.binary(max_size=400), st.integers(min_value=0, max_value=250))
def test_a_spoilt_calendar_is_taken_in_what_can_be_or_refused(noise, place):
    sound = ics(
        "SUMMARY:Fair\r\nDTSTART:20260303T080000Z\r\nDTEND:20260303T090000Z\r\nRRULE:FREQ=DAILY;COUNT=3"
    )
    spoilt = sound[:place] + noise + sound[place + len(noise) :]
    try:
        taken = read_busy(spoilt, NOW, LONDON)
    except DomainError:
        return
    assert all(one.to_at > one.from_at for one in taken.busy)


WEEKLY = (
    "SUMMARY:Market\r\nDTSTART;TZID=Europe/London:20260305T080000\r\nDTEND;TZID=Europe/London:20260305T100000\r\n"
    "RRULE:FREQ=WEEKLY;COUNT=4"
)


def with_uid(uid: str, *events: str) -> bytes:
    body = "".join(
        f"BEGIN:VEVENT\r\nUID:{uid}\r\nDTSTAMP:20260301T000000Z\r\n{event}\r\nEND:VEVENT\r\n"
        for event in events
    )
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{body}END:VCALENDAR\r\n".encode()


def days_of(taken):
    found = [one.from_at.astimezone(LONDON) for one in taken.busy]
    return [(one.month, one.day, one.hour) for one in found]


def test_single_appointments_of_a_series_are_where_they_were_moved_to_and_gone_where_cancelled():
    moved = (
        "SUMMARY:Market\r\nRECURRENCE-ID;TZID=Europe/London:20260312T080000\r\n"
        "DTSTART;TZID=Europe/London:20260313T140000\r\nDTEND;TZID=Europe/London:20260313T160000"
    )
    off = (
        "SUMMARY:Market\r\nSTATUS:CANCELLED\r\nRECURRENCE-ID;TZID=Europe/London:20260319T080000\r\n"
        "DTSTART;TZID=Europe/London:20260319T080000\r\nDTEND;TZID=Europe/London:20260319T100000"
    )
    taken = read_busy(with_uid("m", WEEKLY, moved, off), NOW, LONDON)
    assert days_of(taken) == [(3, 5, 8), (3, 13, 14), (3, 26, 8)]
    assert [one.partition(":")[0] for one in taken.left_out] == ["Market"]
    turned = read_busy(with_uid("m", moved, off, WEEKLY), NOW, LONDON)  # exceptions may come first
    assert days_of(turned) == days_of(taken)


def test_dates_beside_the_rule_count():
    also = WEEKLY + "\r\nRDATE;TZID=Europe/London:20260310T080000,20260311T093000"
    days = [(3, 5, 8), (3, 10, 8), (3, 11, 9), (3, 12, 8), (3, 19, 8), (3, 26, 8)]
    assert days_of(read_busy(with_uid("m", also), NOW, LONDON)) == days


@pytest.mark.parametrize(
    ("rule", "start", "wanted"),
    [
        ("FREQ=DAILY", "19990101", 120),
        ("FREQ=DAILY;INTERVAL=3", "19990101", 40),
        ("FREQ=WEEKLY;BYDAY=MO,WE,FR", "19990101", 52),  # 120 days from a Monday: 17 weeks and a day
        ("FREQ=WEEKLY;INTERVAL=2;BYDAY=TU", "19990105", 9),
        ("FREQ=MONTHLY;BYMONTHDAY=10", "19990110", 4),
        ("FREQ=YEARLY", "19990501", 1),
        ("FREQ=DAILY;COUNT=11000", "19990101", 120),
    ],
)
def test_what_began_long_ago_is_still_busy(rule, start, wanted):
    event = f"SUMMARY:Round\r\nDTSTART:{start}T130000Z\r\nDTEND:{start}T140000Z\r\nRRULE:{rule}"
    taken = read_busy(with_uid("r", event), NOW, LONDON)
    assert len(taken.busy) == pytest.approx(wanted, abs=1 if "INTERVAL" in rule or "BYDAY" in rule else 0)
    assert taken.left_out == []
    begun = datetime.strptime(start + "13", "%Y%m%d%H").replace(tzinfo=UTC)
    brute = list(
        rrulestr(rule, dtstart=begun).between(NOW - timedelta(hours=1), NOW + timedelta(days=120), inc=False)
    )  # dateutil, from the beginning
    assert [one.from_at for one in taken.busy] == brute


def test_what_repeats_every_second_does_not_hold_anything_up_and_is_named():
    event = "SUMMARY:Tick\r\nDTSTART:19990101T000000Z\r\nDTEND:19990101T000001Z\r\nRRULE:FREQ=SECONDLY"
    taken = read_busy(with_uid("r", event), NOW, LONDON)
    assert taken.busy == [] and taken.left_out == ["Tick: repeated too often to be unrolled"]


def test_a_zone_nobody_knows_is_asked_about_and_one_told_in_the_file_is_known():
    lost = "SUMMARY:Fair\r\nDTSTART;TZID=Shed Time:20260401T090000\r\nDTEND;TZID=Shed Time:20260401T110000"
    asked = read_busy(with_uid("z", lost, WEEKLY), NOW, LONDON)
    assert asked.asks == ["Shed Time"] and len(asked.busy) == 4
    said = read_busy(with_uid("z", lost), NOW, LONDON, ZoneInfo("America/Chicago"))
    assert said.asks == [] and said.busy[0].from_at.astimezone(UTC).hour == 14  # summer time there
    told = (
        "BEGIN:VTIMEZONE\r\nTZID:Shed Time\r\nBEGIN:STANDARD\r\nDTSTART:19700101T000000\r\n"
        "TZOFFSETFROM:+0300\r\nTZOFFSETTO:+0300\r\nEND:STANDARD\r\nEND:VTIMEZONE\r\n"
    )
    found = read_busy(ics(lost, head=told), NOW, LONDON)
    assert found.asks == [] and found.busy[0].from_at.astimezone(UTC).hour == 6
