"""iCalendar (RFC 5545) out and in, through the icalendar package: hands-on moments with alarms out, busy
times in.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from typing import Any

import icalendar

from ..core.common.errors import DomainError
from ..core.common.workshop import Busy
from . import sandbox

MOST_BYTES = 1 << 20
MOST_EVENTS = 500
UNREADABLE = (ValueError, TypeError, AttributeError, KeyError, OverflowError)
AHEAD = timedelta(days=120)
MOST_TIMES = 20_000  # repetitions that are counted through, for rules that count
STEPS = {
    "SECONDLY": timedelta(seconds=1),
    "MINUTELY": timedelta(minutes=1),
    "HOURLY": timedelta(hours=1),
    "DAILY": timedelta(days=1),
    "WEEKLY": timedelta(weeks=1),
}
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
    """left_out: what is not busy by it, named; asks: time zones that nobody knows, for a person to say."""

    busy: list[Busy]
    left_out: list[str]
    asks: list[str] = field(default_factory=list)


def read_busy(data: bytes, from_at: datetime, zone: tzinfo, said: tzinfo | None = None) -> Taken:
    """Busy times of a calendar file, from `from_at` for 120 days; all-day events count from midnight to
    midnight in `zone`, repeated ones each time, those moved or cancelled singly as they are now.

    said  the zone that a person gave for names of zones that nobody knows; while there is none, such
          appointments are asked about and not taken
    Raises DomainError for what is no calendar, or too large. What is free, cancelled or repeated beyond
    what is
    unrolled is left out and named.
    Source: RFC 5545, 3.8.4.4 (recurrence identifier), 3.8.5.2 (recurrence dates).
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
    events = list(getattr(calendar, "walk", lambda _: [])("VEVENT"))
    asks = sorted({name for event in events for name in _unknown_zones(event)})
    reader = _Reader(from_at=from_at, to_at=from_at + AHEAD, zone=zone, unknown=said or zone)
    changed = _changed_singly(events, reader)
    for event in events:
        if said is None and _unknown_zones(event):
            continue
        reader.take(event, changed.get(str(event.get("uid", "")), {}))
    busy = sorted(reader.busy, key=lambda one: one.from_at)
    if len(busy) > MOST_EVENTS:
        reader.left_out.append(f"{len(busy) - MOST_EVENTS} more than {MOST_EVENTS} busy times, the last ones")
    return Taken(busy[:MOST_EVENTS], reader.left_out[:50], asks if said is None else [])


def busy_in_child(data: bytes, from_at: datetime, zone: str, said: str) -> Taken:
    """read_busy in the child with its limits: a file that tells a zone of its own tells it there, and to
    nobody
    else's file.

    zone, said  names of the IANA database; said may be ""
    Raises as read_busy does, and for what takes too long or too much memory.
    """
    options = {"from_at": from_at.isoformat(), "zone": zone, "said": said}
    found = sandbox.ask("calendar", data, options)
    return Taken([Busy.model_validate(one) for one in found["busy"]], found["left_out"], found["asks"])


def _unknown_zones(event: icalendar.Event) -> list[str]:
    """Names of zones, of times that were read without one: neither a known name nor told in the file."""
    found = []
    for name in ("dtstart", "dtend", "recurrence-id"):
        with suppress(*UNREADABLE):  # what cannot be read is left out by name later
            value = event.get(name)
            moment = getattr(value, "dt", None)
            zone = str(getattr(value, "params", {}).get("TZID", ""))
            if isinstance(moment, datetime) and moment.tzinfo is None and zone:
                found.append(zone[:80])
    return found


def _changed_singly(events: Sequence[icalendar.Event], reader: _Reader) -> dict[str, dict[datetime, str]]:
    """By uid: the moments at which a repetition was moved or cancelled by an appointment of its own."""
    found: dict[str, dict[datetime, str]] = {}
    for event in events:
        if "recurrence-id" in event:
            with suppress(*UNREADABLE):
                at = reader.moment(event.decoded("recurrence-id"))
                further = str(event["recurrence-id"].params.get("RANGE", "")).upper()
                found.setdefault(str(event.get("uid", "")), {})[at] = further
    return found


def _is_free(event: icalendar.Event) -> bool:
    words = (str(event.get(name, "")).upper() for name in ("transp", "status"))
    return any(one in ("TRANSPARENT", "CANCELLED") for one in words)


@dataclass(kw_only=True)
class _Reader:
    from_at: datetime
    to_at: datetime
    zone: tzinfo
    unknown: tzinfo
    busy: list[Busy] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)

    def moment(self, value: date | datetime, zone: tzinfo | None = None) -> datetime:
        if not isinstance(value, datetime):
            return datetime.combine(value, time(0), self.zone)
        return value if value.tzinfo else value.replace(tzinfo=zone or self.zone)

    def take(self, event: icalendar.Event, changed: dict[datetime, str]) -> None:
        name = str(event.get("summary", "busy"))[:100]
        if _is_free(event):
            self.left_out.append(f"{name}: free or cancelled")
            return
        try:
            single = "recurrence-id" in event
            self._spans(event, name, {} if single else changed)
            if single and event["recurrence-id"].params.get("RANGE"):
                self.left_out.append(
                    f"{name}: moved from one date on for all that follow; only the first is taken"
                )
        except _TooMany:
            self.left_out.append(f"{name}: repeated too often to be unrolled")
        except UNREADABLE:
            self.left_out.append(f"{name}: its times could not be read")

    def _spans(self, event: icalendar.Event, name: str, changed: dict[datetime, str]) -> None:
        zone = self.unknown if _unknown_zones(event) else self.zone
        begin = self.moment(event.decoded("dtstart"), zone)
        long = _end(event, begin, zone) - begin
        if long <= timedelta(0):
            return
        found = []
        for start in {*_starts(event, begin, self.from_at - long, self.to_at), *_also(event, begin)}:
            if start + long > self.from_at and start < self.to_at and start not in changed:
                found.append(Busy(from_at=start, to_at=start + long, what=name, source="calendar"))
        self.busy += found


class _TooMany(Exception):
    """More repetitions than are unrolled."""


def _end(event: icalendar.Event, begin: datetime, zone: tzinfo) -> datetime:
    if "dtend" in event:
        value = event.decoded("dtend")
        if not isinstance(value, datetime):
            return datetime.combine(value, time(0), begin.tzinfo)
        return value if value.tzinfo else value.replace(tzinfo=zone)
    if "duration" in event:
        end: datetime = begin + event.decoded("duration")
        return end
    whole_day = not isinstance(event.decoded("dtstart"), datetime)
    return begin + (timedelta(days=1) if whole_day else timedelta(0))


def _starts(event: icalendar.Event, begin: datetime, from_at: datetime, to_at: datetime) -> list[datetime]:
    """Every repetition from from_at to to_at, by dateutil's own rule of repetition, at the wall time of
    its zone.
    One begun long ago is unrolled from now: its beginning is moved on by whole intervals.
    """
    if "rrule" not in event:
        return [begin]
    from dateutil.rrule import rrulestr  # type: ignore[import-untyped]

    wall = begin.replace(tzinfo=None)
    written = event["rrule"].to_ical()
    rule = written if isinstance(written, str) else bytes(written).decode()
    if "UNTIL=" in rule:  # of a wall time the rule is unrolled in, so its end is one too
        rule = ";".join(_until_here(part, begin) for part in rule.split(";"))
    left = {_wall(one.dt, begin.tzinfo) for group in _listed(event.get("exdate")) for one in group.dts}
    first = _moved_on(rule, wall, from_at.astimezone(begin.tzinfo).replace(tzinfo=None))
    found = []
    for number, start in enumerate(rrulestr(rule, dtstart=first)):
        if number > MOST_TIMES:
            raise _TooMany
        moment = start.replace(tzinfo=begin.tzinfo)
        if moment > to_at:
            break
        if start not in left and moment >= from_at:
            found.append(moment)
    return found


def _until_here(part: str, begin: datetime) -> str:
    """The end of a repetition as a wall time of the appointment's own zone."""
    name, _, value = part.partition("=")
    if name != "UNTIL" or not value.endswith("Z"):
        return part
    utc = datetime.strptime(value, "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC)
    return f"UNTIL={utc.astimezone(begin.tzinfo):%Y%m%dT%H%M%S}"


def _moved_on(rule: str, wall: datetime, from_: datetime) -> datetime:
    """The beginning moved on by whole intervals to just before from_; rules that count, or go by months,
    stay."""
    said = dict(part.partition("=")[::2] for part in rule.upper().split(";"))
    step = STEPS.get(said.get("FREQ", ""))
    if step is None or "COUNT" in said or wall >= from_:
        return wall
    step *= max(int(said.get("INTERVAL", "1")), 1)
    return wall + max((from_ - wall) // step - 1, 0) * step


def _also(event: icalendar.Event, begin: datetime) -> list[datetime]:
    """Dates beside the rule (RDATE); of a period its beginning."""
    found = []
    for group in _listed(event.get("rdate")):
        for one in group.dts:
            value = one.dt[0] if isinstance(one.dt, tuple) else one.dt
            if isinstance(value, datetime):
                found.append(value if value.tzinfo else value.replace(tzinfo=begin.tzinfo))
            else:
                found.append(datetime.combine(value, begin.timetz()))
    return found


def _listed(value: object) -> list[Any]:
    return [] if value is None else value if isinstance(value, list) else [value]


def _wall(value: date | datetime, zone: tzinfo | None) -> datetime:
    if not isinstance(value, datetime):
        return datetime.combine(value, time(0))
    return value.astimezone(zone).replace(tzinfo=None) if value.tzinfo else value
