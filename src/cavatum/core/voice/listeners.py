"""People and the ways that reach them, and what there is to tell."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from pydantic import AwareDatetime, Field

from ..common.working import Data
from ..common.workshop import MINUTES_A_DAY

Way = Literal["push", "mail", "mqtt", "webhook"]
Urgency = Literal["at once", "in its window", "to know"]


class Quiet(Data):
    """Hours of every day in which a person is left in peace, in their own zone: minutes from midnight. From
    later to earlier goes over midnight; alike is no quiet at all.
    """

    from_min: int = Field(ge=0, lt=MINUTES_A_DAY)
    to_min: int = Field(ge=0, lt=MINUTES_A_DAY)
    zone: str

    def span_around(self, at: datetime) -> tuple[datetime, datetime] | None:
        """The quiet that `at` falls into, begin and end [UTC]; None outside of it.

        Exact; a begin or an end that the clock jumps over in spring is taken as long after midnight as it
        would have been (PEP 495, fold 0). Raises ZoneInfoNotFoundError for a zone that is none. Source: own.
        """
        zone = ZoneInfo(self.zone)
        today = at.astimezone(zone).date()
        for day in (today - timedelta(days=1), today):
            begin = _moment(day, self.from_min, zone)
            over = self.to_min < self.from_min
            end = _moment(day + timedelta(days=over), self.to_min, zone)
            if begin <= at < end:
                return begin, end
        return None


def _moment(day: date, minute: int, zone: ZoneInfo) -> datetime:
    return datetime.combine(day, time(minute // 60, minute % 60), zone).astimezone(UTC)


class Listener(Data):
    """A person who can be reached.

    ways    each of them is used, every time
    kinds   of moments they want to hear of; none named: all
    quiet   no message in these hours, but what is to be done at once
    """

    id: str = Field(min_length=1, max_length=80)
    name: str = Field(min_length=1, max_length=80)
    ways: list[Way] = Field(min_length=1, max_length=4)
    kinds: list[str] = Field(default=[], max_length=40)
    quiet: Quiet | None = None


class Call(Data):
    """A moment at which somebody's hands are wanted.

    id      of the moment as it stands: moved by more than a little it is another
    at      from when; latest: until when it is of use, None where it has no end
    """

    id: str = Field(min_length=1, max_length=200)
    kind: str
    urgency: Urgency
    title: str
    text: str
    at: AwareDatetime
    latest: AwareDatetime | None = None
