"""People's hours in the workshop's zone: the free spans, and the next one long enough. Rule 6.2."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from ..common.workshop import MINUTES_A_DAY, Workshop

HORIZON_DAYS = 60


def open_spans(workshop: Workshop, from_: datetime, to: datetime) -> Iterator[tuple[datetime, datetime]]:
    """The spans (UTC) in which hands are there, cut to from_..to, busy times taken out. A span that a clock
    change swallows is left out.
    """
    busy = sorted((one.from_at, one.to_at) for one in workshop.busy)
    for begin, end in _joined(_by_the_week(workshop, from_, to)):
        for taken_from, taken_to in busy:
            if taken_to <= begin or taken_from >= end:
                continue
            if taken_from > begin:
                yield begin, taken_from
            begin = min(max(begin, taken_to), end)
        if begin < end:
            yield begin, end


def _joined(spans: Iterable[tuple[datetime, datetime]]) -> Iterator[tuple[datetime, datetime]]:
    """Spans that touch are one: hands that are there until midnight and from midnight on do not leave."""
    held: tuple[datetime, datetime] | None = None
    for begin, end in spans:
        if held is not None and begin <= held[1]:
            held = held[0], max(held[1], end)
            continue
        if held is not None:
            yield held
        held = begin, end
    if held is not None:
        yield held


def _by_the_week(workshop: Workshop, from_: datetime, to: datetime) -> Iterator[tuple[datetime, datetime]]:
    zone = ZoneInfo(workshop.zone)
    day = from_.astimezone(zone).date()
    last = to.astimezone(zone).date()
    while day <= last:
        for span in workshop.week[day.weekday()]:
            begin = _moment(day, span.from_min, zone)
            end = _moment(day, span.to_min, zone)
            begin, end = max(begin, from_), min(end, to)
            if begin < end:
                yield begin, end
        day += timedelta(days=1)


def _moment(day: date, minute: int, zone: ZoneInfo) -> datetime:
    extra, minute = divmod(minute, MINUTES_A_DAY)
    local = datetime.combine(day + timedelta(days=extra), time(minute // 60, minute % 60), zone)
    return local.astimezone(ZoneInfo("UTC"))


def next_slot(
    workshop: Workshop, from_: datetime, duration: timedelta, to: datetime | None = None
) -> datetime | None:
    """Earliest start in from_..to at which `duration` fits into one open span; None when there is none.

    to      latest start; without it the search ends HORIZON_DAYS on
    """
    latest = to or from_ + timedelta(days=HORIZON_DAYS)
    for begin, end in open_spans(workshop, from_, latest + duration):
        if begin <= latest and end - begin >= duration:
            return begin
    return None


def last_slot(
    workshop: Workshop, latest: datetime, duration: timedelta, earliest: datetime
) -> datetime | None:
    """Latest start in earliest..latest at which `duration` fits into one open span; None when there is
    none."""
    found = None
    for begin, end in open_spans(workshop, earliest, latest + duration):
        start = min(end - duration, latest)
        if start >= begin:
            found = start
    return found


def is_attended(workshop: Workshop, from_: datetime, to: datetime) -> bool:
    """Whether hands are there all the while."""
    return any(begin <= from_ and to <= end for begin, end in open_spans(workshop, from_, to))


def away_spans(workshop: Workshop, from_: datetime, to: datetime) -> list[tuple[datetime, datetime]]:
    """The complement of the open spans: nights and days off, for shading the clock."""
    away, cursor = [], from_
    for begin, end in open_spans(workshop, from_, to):
        if begin > cursor:
            away.append((cursor, begin))
        cursor = max(cursor, end)
    if cursor < to:
        away.append((cursor, to))
    return away
