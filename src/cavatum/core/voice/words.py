"""The words of a message, as a phone shows them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from .listeners import Call
from .turns import Message

LONGEST_TITLE, LONGEST_TEXT = 120, 800


def words_of(call: Call, message: Message, asked: Sequence[str], zone: str) -> tuple[str, str]:
    """Title and text.

    asked  names of those who were told before and have not answered
    zone   of the workshop; its clock is the one on the wall
    A message that comes late begins with that. Raises ZoneInfoNotFoundError for a zone that is none. Exact.
    Source: own, rule 7.1.
    """
    parts = []
    if message.late_s:
        parts.append(f"This comes {_long(message.late_s)} late.")
    if message.at < call.at:
        parts.append("Told ahead, because it falls into your hours of quiet.")
    parts.append(f"{_clock(call.at, message.at, zone)}{_until(call, message.at, zone)}.")
    if asked:
        parts.append(f"{_listed(asked)} {'has' if len(asked) == 1 else 'have'} not answered.")
    parts.append(call.text)
    return call.title[:LONGEST_TITLE], " ".join(parts)[:LONGEST_TEXT]


def _until(call: Call, seen_from: datetime, zone: str) -> str:
    return "" if call.latest is None else f", until {_clock(call.latest, seen_from, zone)}"


def _clock(at: datetime, seen_from: datetime, zone: str) -> str:
    here, other = at.astimezone(ZoneInfo(zone)), seen_from.astimezone(ZoneInfo(zone))
    return f"{here:%H:%M}" if here.date() == other.date() else f"{here:%a %d %b %H:%M}"


def _long(seconds: float) -> str:
    minutes = round(seconds / 60)
    return f"{minutes} min" if minutes < 90 else f"{round(minutes / 60)} h"  # noqa: PLR2004


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
