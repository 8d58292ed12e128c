"""What there is to tell of in a workshop, and its messages on their way: asked for again and again by a
worker. Rules 6.2 and 7.1.
"""

from __future__ import annotations

import ssl
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg import Connection

from ..core.pour.events import Heard, Kept
from ..core.pour.state import RunState, fold
from ..core.pour.view import look
from ..core.schedule.bench import moments_after
from ..core.voice.calls import Called, of_plan, of_run
from ..core.voice.listeners import Listener
from ..core.voice.turns import LATE_FROM, Message, to_send
from ..core.voice.words import words_of
from ..store import pieces, runs, voice, workshops
from ..store.pool import NotFound
from ..store.runs import Run
from ..store.voice import CallRow, SendingRow
from ..voice.told import Told, Undelivered
from . import planning
from .telling import Out, browsers_of, listener_of, out_of
from .telling import deliver as deliver_one

AT_ONCE = 8
SOONEST, LONGEST = timedelta(seconds=30), timedelta(minutes=15)  # between two tries of one message
MOST_PIECES, MOST_RUNS = 60, 400


@dataclass(frozen=True, kw_only=True)
class House:
    """Where this program stands: its key for seals and the address phones reach it at. trusted: of tests."""

    seal_key: str
    address: str
    trusted: ssl.SSLContext | None = None


def refresh(connection: Connection, shop: int, now: datetime) -> None:
    """Every moment as it stands now; those that somebody saw to, or that went by, are over."""
    voice.lock(connection, shop)
    known = {one.key: one for one in voice.standing_calls(connection, shop)}
    still, poured = set[str](), set[int | None]()
    for run in runs.listed(connection, shop, is_open=True, most=MOST_RUNS):
        if run.rehearsal is None:
            poured.add(run.piece_id)
            still |= _of_run(connection, shop, run, known, now)
    for piece_id, found in _planned(connection, shop, now, poured):
        still |= {one.key for one in found}
        for one in found:
            voice.keep_call(connection, shop, known.get(one.key), one, now, piece_id=piece_id)
    for row in known.values():
        if _is_over(row, still, now):
            voice.end_call(connection, shop, row.id, now)
    voice.forget_old(connection, shop, now)


def _is_over(row: CallRow, still: set[str], now: datetime) -> bool:
    """A plan's moment leaves the plan once it has begun; it is of use until its window closes."""
    passed = row.latest is not None and row.latest < now
    return passed or (row.key not in still and (row.run_id is not None or row.at > now))


def _of_run(
    connection: Connection, shop: int, run: Run, known: dict[str, CallRow], now: datetime
) -> set[str]:
    """Keeps its alarms as calls, ends those that somebody heard or did; the keys of those that stand."""
    kept = runs.events(connection, shop, run.id)
    state = fold(run.script, kept)
    found = of_run(run.id, run.script, state, look(run.script, state, now))
    still = {one.key for one in found}
    for one in found:
        if one.latest >= now:
            voice.keep_call(connection, shop, known.get(one.key), one, now, run_id=run.id)
    for gone in known.values():
        if gone.run_id == run.id and gone.key not in still:
            voice.end_call(connection, shop, gone.id, now, _seen_to_by(gone, kept, state))
    return still


def _planned(
    connection: Connection, shop: int, now: datetime, poured: set[int | None]
) -> list[tuple[int, list[Called]]]:
    """Of pieces with a set start that nobody pours yet."""
    rows, _ = pieces.listed(connection, shop, "", MOST_PIECES, 0)
    found = []
    for row in rows:
        if row.id in poured or not row.summary.get("poured_at"):
            continue
        with suppress(NotFound):
            stored = pieces.read(connection, shop, row.id)
            plan = planning.plan_of(connection, shop, stored, now)
            found.append((row.id, of_plan(row.id, stored.piece.name, moments_after(plan, now))))
    return found


def _seen_to_by(row: CallRow, kept: Sequence[Kept], state: RunState) -> str | None:
    """Who said that it was heard or done; None where it went by."""
    for one in reversed(kept):
        if str(one.event_id) in state.undone:
            continue
        if isinstance(one.event, Heard) and one.event.alarm == row.alarm:
            return one.who or "somebody at the bench"
    mark = state.marks.get(row.alarm.rpartition("/")[0])
    return (mark.who or "somebody at the bench") if mark and mark.status != "to do" else None


def answer(connection: Connection, shop: int, call_id: int, who: str, now: datetime) -> CallRow:
    """Somebody has it in hand: nobody else is told, and its alarm is silent on every page."""
    row = voice.answer_call(connection, shop, call_id, now, who)
    if row.run_id is not None and row.alarm and row.answered_at == now:
        run = runs.read(connection, shop, row.run_id, lock=True)
        if run.ended_at is None:
            runs.says(connection, shop, run, Heard(alarm=row.alarm), now, who=who)
    return row


@dataclass(frozen=True, kw_only=True)
class Due:
    """One message with everything its way needs."""

    message: Message
    call: CallRow
    told: Told
    out: Out


def due_now(connection: Connection, shop: int, house: House, now: datetime) -> list[Due]:
    """Messages whose turn has come, each written down as begun. What was begun and never ended is begun
    anew.
    """
    people = voice.listeners(connection, shop)
    reached = browsers_of(connection, shop)
    listeners = [found for row in people if (found := listener_of(row, reached)) is not None]
    calls = {str(one.id): one for one in voice.open_calls(connection, shop)}
    rows = {one.key: one for one in voice.sendings(connection, shop, [one.id for one in calls.values()])}
    wait = {one.key for one in rows.values() if _is_settled(one, now)}
    asked = [(one.as_call(), one.known_at) for one in calls.values()]
    out = out_of(connection, shop, house.seal_key)
    zone = workshops.read(connection, shop).zone
    due = []
    for wanted in to_send(asked, listeners, wait, set(), now):
        call = calls[wanted.call]
        message = wanted.model_copy(update={"late_s": wanted.late_s + _learned_late_s(call)})
        told = _told(call, message, _asked_before(message, listeners, rows), zone, house)
        due.append(Due(message=message, call=call, told=told, out=out))
        before = rows.get(message.key)
        row = SendingRow(
            key=message.key,
            call_id=call.id,
            listener_id=int(message.person),
            way=message.way,
            turn_at=message.at,
            late_s=message.late_s,
            tries=1,
            next_try_at=now + _pause(before.tries if before else 0),
            sent_at=None,
            failed_at=None,
            why="",
        )
        voice.begin_sending(connection, shop, row, now)
    return due


def _learned_late_s(call: CallRow) -> float:
    """How long after its begin this program heard of a run's moment at all: it was not running."""
    late = call.known_at - call.at
    return late.total_seconds() if call.run_id is not None and late > LATE_FROM else 0.0


def _is_settled(row: SendingRow, now: datetime) -> bool:
    over = row.sent_at is not None or row.failed_at is not None
    return over or (row.next_try_at is not None and row.next_try_at > now)


def _pause(tries: int) -> timedelta:
    return min(SOONEST * float(2 ** min(tries, 10)), LONGEST)


def _asked_before(message: Message, listeners: Sequence[Listener], rows: dict[str, SendingRow]) -> list[str]:
    """Names of those who got the same call and have not answered."""
    told = {
        str(one.listener_id)
        for one in rows.values()
        if str(one.call_id) == message.call and one.sent_at is not None
    }
    return [one.name for one in listeners if one.id in told and one.id != message.person]


def _told(call: CallRow, message: Message, asked: Sequence[str], zone: str, house: House) -> Told:
    title, text = words_of(call.as_call(), message, asked, zone)
    where = f"/runs/{call.run_id}" if call.run_id else f"/pieces/{call.piece_id}/clock"
    return Told(
        key=message.key,
        title=title,
        text=text,
        link=where if message.way == "push" else f"{house.address}{where}" if house.address else "",
        is_urgent=call.urgency == "at once",
    )


def send_all(connection: Connection, shop: int, house: House, due: Sequence[Due], now: datetime) -> int:
    """Side by side: a server that is slow holds up nobody else's message. Returns how many went out."""
    people = {str(one.id): one for one in voice.listeners(connection, shop)}
    reached = browsers_of(connection, shop)

    def carry(one: Due) -> tuple[Due, Undelivered | None, list[int]]:
        person = people.get(one.message.person)
        if person is None:
            return one, Undelivered("They are no longer told.", is_final=True), []
        use_s = ((one.call.latest or now) - now).total_seconds()
        return one, *deliver_one(
            one.message.way, person, reached.get(person.id, []), one.out, one.told, house, now, use_s
        )

    with ThreadPoolExecutor(AT_ONCE) as threads:
        outcomes = list(threads.map(carry, due))
    with connection.transaction():
        for one, failure, gone in outcomes:
            for browser_id in gone:
                with suppress(NotFound):
                    voice.remove_browser(connection, shop, browser_id)
            voice.end_sending(
                connection,
                shop,
                one.message.key,
                now,
                why=failure.why if failure else "",
                is_final=bool(failure and failure.is_final),
            )
    return sum(failure is None for _, failure, _ in outcomes)


def tell(connection: Connection, shop: int, house: House, now: datetime) -> int:
    """One round: what stands now, then what is due. Returns how many messages went out.

    connection  sees this workshop and commits by itself
    """
    with connection.transaction():
        refresh(connection, shop, now)
    with connection.transaction():
        due = due_now(connection, shop, house, now)
    return send_all(connection, shop, house, due, now) if due else 0
