"""Whose turn it is to hear of a call, and what is to be sent now."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import datetime, timedelta

from ..common.working import Data
from .listeners import Call, Listener, Way

TO_ANSWER = timedelta(minutes=15)  # own judgement: then the next person is asked, sooner in a short window
LATE_FROM = timedelta(minutes=2)  # own judgement: what arrives later than this after its turn says so


class Turn(Data):
    """When a person is told.

    at      None: not at all, and why
    ahead   told before their quiet begins, of a window that is over when it ends
    """

    person: str
    at: datetime | None
    why: str = ""
    ahead: bool = False


class Message(Data):
    """One thing to send. key is the same however often it is asked for, so that what is sent twice is shown
    once.
    """

    key: str
    call: str
    person: str
    way: Way
    at: datetime
    late_s: float


def turns(call: Call, listeners: Sequence[Listener], known_at: datetime) -> list[Turn]:
    """One for each listener, in their order.

    known_at  when the program knew of the call: nobody is told before that

    What is to be done at once is told to everybody at once, quiet or not. Else the n-th person who is to hear
    of it is told n * min(TO_ANSWER, window / people) after its begin, so that all of them were asked before
    it closes. One in their quiet hours is told when these end, where the window is still open then; else
    when they begin, where it was known by then; else not at all, and the next one has their turn.
    Raises nothing. Exact. Source: own, rules 6.2 and 7.1.
    """
    told = _of_those_who_want_it(
        call, [one for one in listeners if not one.kinds or call.kind in one.kinds], known_at
    )
    other = "wants to hear of other things"
    return [told.get(one.id) or Turn(person=one.id, at=None, why=other) for one in listeners]


def _of_those_who_want_it(call: Call, wanted: Sequence[Listener], known_at: datetime) -> dict[str, Turn]:
    begin = max(call.at, known_at)
    if call.urgency == "at once":
        return {one.id: Turn(person=one.id, at=begin) for one in wanted}
    awake = [one.id for one in wanted if _may_be_told(call, one, known_at)]
    apart = TO_ANSWER
    if call.latest is not None and awake:
        apart = min(apart, max(call.latest - begin, timedelta(0)) / len(awake))
    at = {person: begin + place * apart for place, person in enumerate(awake)}
    return {one.id: _out_of_quiet(call, one, at.get(one.id, begin), known_at) for one in wanted}


def _may_be_told(call: Call, listener: Listener, known_at: datetime) -> bool:
    return _out_of_quiet(call, listener, max(call.at, known_at), known_at).at is not None


def _out_of_quiet(call: Call, listener: Listener, at: datetime, known_at: datetime) -> Turn:
    span = listener.quiet.span_around(at) if listener.quiet else None
    if span is None:
        return Turn(person=listener.id, at=at)
    begin, end = span
    if call.latest is None or end < call.latest:
        return Turn(person=listener.id, at=end)
    if known_at < begin:
        return Turn(person=listener.id, at=begin, ahead=True, why="it falls into their quiet hours")
    return Turn(person=listener.id, at=None, why="in their quiet hours for as long as it is of use")


def to_send(
    calls: Sequence[tuple[Call, datetime]],
    listeners: Sequence[Listener],
    sent: Collection[str],
    answered: Collection[str],
    now: datetime,
) -> list[Message]:
    """What is to be sent at `now`, the most urgent and the oldest first.

    calls     each with the moment it was known from
    sent      keys that went out; answered: ids of the calls that somebody has in hand

    Nothing for a call that is answered or over; a message whose turn has come is asked for until its key is
    among those sent, and says how late it is [s], 0 up to LATE_FROM. Raises nothing. Exact. Source: own.
    """
    found = [
        (call.urgency != "at once", message.at, message)
        for call, known_at in calls
        if call.id not in answered and (call.latest is None or now <= call.latest)
        for message in _messages(call, listeners, known_at, now)
        if message.key not in sent
    ]
    return [message for *_, message in sorted(found, key=lambda one: one[:2])]


def _messages(call: Call, listeners: Sequence[Listener], known_at: datetime, now: datetime) -> list[Message]:
    """Of everybody whose turn has come, by each of their ways."""
    found = []
    for turn, one in zip(turns(call, listeners, known_at), listeners, strict=True):
        if turn.at is None or turn.at > now:
            continue
        late = now - turn.at
        late_s = late.total_seconds() if late > LATE_FROM else 0.0
        for way in one.ways:
            key = f"{call.id}/{one.id}/{way}"
            found.append(Message(key=key, call=call.id, person=one.id, way=way, at=turn.at, late_s=late_s))
    return found
