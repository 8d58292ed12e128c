"""iCalendar (RFC 5545) out and in, through the icalendar package: hands-on moments with alarms out, busy
times in.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from typing import Any

import icalendar

from ..core.common.errors import DomainError
from ..core.common.workshop import Busy

MOST_BYTES = 1 << 20
MOST_EVENTS = 500
AHEAD = timedelta(days=120)
PRODID = "-//Cavatum//pours and coats//EN"


@dataclass(frozen=True, kw_only=True)
class Moment:
    """One thing that wants hands. uid: the same for the same step, so that a calendar moves it and does not
    double it.
    """

    uid: str
    from_at: datetime
    to_at: datetime
    summary: str
    text: str
    alarm_min: int | None = 15


def write_calendar(name: str, moments: Sequence[Moment], made_at: datetime) -> bytes:
    """A calendar of these moments, each with an alarm of its own."""
    calendar = icalendar.Calendar()
    calendar.add("prodid", PRODID)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", timedelta(minutes=30), parameters={"value": "DURATION"})
    for one in moments:
        event = icalendar.Event()
        event.add("uid", f"{one.uid}@cavatum")
        event.add("dtstamp", made_at.astimezone(UTC))
        event.add("dtstart", one.from_at.astimezone(UTC))
        event.add("dtend", max(one.to_at, one.from_at + timedelta(minutes=5)).astimezone(UTC))
        event.add("summary", one.summary)
        event.add("description", one.text)
        if one.alarm_min is not None:
            alarm = icalendar.Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", one.summary)
            alarm.add("trigger", timedelta(minutes=-one.alarm_min))
            event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


@dataclass(frozen=True)
class Taken:
    busy: list[Busy]
    left_out: list[str]


def read_busy(data: bytes, from_at: datetime, zone: tzinfo) -> Taken:
    """Busy times of a calendar file, from `from_at` for 120 days; all-day events count from midnight to
    midnight in `zone`, repeated ones each time.

    Raises DomainError for what is no calendar, or too large. What is free, cancelled or without an end of use
    is left out and named.
    """
    if len(data) > MOST_BYTES:
        raise DomainError(
            argument="calendar file",
            value=f"{len(data) / 1e6:.1f} MB",
            allowed="at most 1 MB is read",
            way_out="Export fewer months.",
            code="too-large",
        )
    try:
        calendar = icalendar.Calendar.from_ical(data)
    except (ValueError, KeyError, IndexError, TypeError, AttributeError) as error:
        raise DomainError(
            argument="calendar file",
            value="not an iCalendar",
            allowed="a file that ends in .ics is read",
            way_out="Export it again.",
            code="no-calendar",
        ) from error
    busy: list[Busy] = []
    left_out: list[str] = []
    for event in getattr(calendar, "walk", lambda _: [])("VEVENT"):
        name = str(event.get("summary", "busy"))[:100]
        if (
            str(event.get("transp", "")).upper() == "TRANSPARENT"
            or str(event.get("status", "")).upper() == "CANCELLED"
        ):
            left_out.append(f"{name}: free or cancelled")
            continue
        try:
            busy += _spans(event, name, from_at, from_at + AHEAD, zone)
        except (ValueError, TypeError, AttributeError, KeyError, OverflowError):
            left_out.append(f"{name}: its times could not be read")
    busy.sort(key=lambda one: one.from_at)
    if len(busy) > MOST_EVENTS:
        left_out.append(f"{len(busy) - MOST_EVENTS} more than {MOST_EVENTS} busy times")
    return Taken(busy[:MOST_EVENTS], left_out[:50])


def _spans(event: icalendar.Event, name: str, from_at: datetime, to_at: datetime, zone: tzinfo) -> list[Busy]:
    begin = _moment(event.decoded("dtstart"), zone)
    end = _end(event, begin, zone)
    found = []
    for start in _starts(event, begin, to_at):
        if start + (end - begin) > from_at and start < to_at and end > begin:
            found.append(Busy(from_at=start, to_at=start + (end - begin), what=name, source="calendar"))
    return found


def _end(event: icalendar.Event, begin: datetime, zone: tzinfo) -> datetime:
    if "dtend" in event:
        return _moment(event.decoded("dtend"), zone)
    if "duration" in event:
        end: datetime = begin + event.decoded("duration")
        return end
    whole_day = not isinstance(event.decoded("dtstart"), datetime)
    return begin + (timedelta(days=1) if whole_day else timedelta(0))


def _starts(event: icalendar.Event, begin: datetime, to_at: datetime) -> list[datetime]:
    """Every repetition up to to_at, by dateutil's own rule of repetition, at the wall time of its zone."""
    if "rrule" not in event:
        return [begin]
    from dateutil.rrule import rrulestr  # type: ignore[import-untyped]

    wall = begin.replace(tzinfo=None)
    written = event["rrule"].to_ical()
    rule = written if isinstance(written, str) else bytes(written).decode()
    if "UNTIL=" in rule:  # of a wall time the rule is unrolled in, so its end is one too
        rule = ";".join(
            part if not part.startswith("UNTIL=") else part.rstrip("Z") for part in rule.split(";")
        )
    left = {_wall(one.dt, begin.tzinfo) for group in _listed(event.get("exdate")) for one in group.dts}
    found = []
    for number, start in enumerate(rrulestr(rule, dtstart=wall)):
        moment = start.replace(tzinfo=begin.tzinfo)
        if moment > to_at or number > 5000:
            break
        if start not in left:
            found.append(moment)
    return found


def _listed(value: object) -> list[Any]:
    return [] if value is None else value if isinstance(value, list) else [value]


def _wall(value: date | datetime, zone: tzinfo | None) -> datetime:
    if not isinstance(value, datetime):
        return datetime.combine(value, time(0))
    return value.astimezone(zone).replace(tzinfo=None) if value.tzinfo else value


def _moment(value: date | datetime, zone: tzinfo) -> datetime:
    if not isinstance(value, datetime):
        return datetime.combine(value, time(0), zone)
    return value if value.tzinfo else value.replace(tzinfo=zone)
