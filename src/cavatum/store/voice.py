"""Who is told, what there is to tell, and what became of each message. Secrets come and go sealed."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.voice.calls import Called, has_moved
from ..core.voice.listeners import Call, Way
from .pool import NotFound
from .rows import record

KEPT = timedelta(days=90)
MOST_PEOPLE, MOST_BROWSERS, MOST_CALLS = 40, 60, 400


@dataclass(frozen=True, kw_only=True)
class ListenerRow:
    id: int
    place: int
    person: dict[str, Any]
    sealed: bytes | None


@dataclass(frozen=True, kw_only=True)
class BrowserRow:
    id: int
    listener_id: int
    name: str
    sealed: bytes
    made_at: datetime


@dataclass(frozen=True, kw_only=True)
class CallRow:
    id: int
    key: str
    version: int
    run_id: int | None
    piece_id: int | None
    alarm: str
    kind: str
    urgency: str
    title: str
    text: str
    at: datetime
    first_at: datetime
    latest: datetime | None
    known_at: datetime
    over_at: datetime | None
    answered_at: datetime | None
    answered_by: str

    def as_call(self) -> Call:
        return Call.model_validate(
            {
                "id": str(self.id),
                **{
                    name: getattr(self, name) for name in ("kind", "urgency", "title", "text", "at", "latest")
                },
            }
        )


@dataclass(frozen=True, kw_only=True)
class SendingRow:
    key: str
    call_id: int
    listener_id: int
    way: Way
    turn_at: datetime
    late_s: float
    tries: int
    next_try_at: datetime | None
    sent_at: datetime | None
    failed_at: datetime | None
    why: str


_CALL = (
    "select id, key, version, run_id, piece_id, alarm, kind, urgency, title, text, at, first_at, latest, "
    "known_at, over_at, answered_at, answered_by from moment_call where workshop_id = %s"
)
_SENDING = (
    "select key, call_id, listener_id, way, turn_at, late_s, tries, next_try_at, sent_at, failed_at, why "
    "from moment_sending where workshop_id = %s"
)


def workshops_to_tell(connection: Connection) -> list[int]:
    """Those with somebody to tell, as the database's owner sees them."""
    rows = connection.execute("select distinct workshop_id from listener where removed_at is null order by 1")
    return [row[0] for row in rows.fetchall()]


def settings(connection: Connection, shop: int) -> tuple[dict[str, Any], bytes | None]:
    row = connection.execute(
        "select settings, sealed from voice_setting where workshop_id = %s", (shop,)
    ).fetchone()
    return (row[0], row[1]) if row else ({}, None)


def keep_settings(connection: Connection, shop: int, told: dict[str, Any], sealed: bytes | None) -> None:
    connection.execute(
        "insert into voice_setting (workshop_id, settings, sealed) values (%s, %s, %s)"
        " on conflict (workshop_id) do update set settings = excluded.settings, sealed = excluded.sealed,"
        " changed_at = now()",
        (shop, Jsonb(told), sealed),
    )


def lock(connection: Connection, shop: int) -> None:
    """Who is told is changed by one at a time."""
    connection.execute("select pg_advisory_xact_lock(%s, hashtext('voice'))", (shop,))


def listeners(connection: Connection, shop: int) -> list[ListenerRow]:
    rows = connection.execute(
        "select id, place, person, sealed from listener where workshop_id = %s and removed_at is null"
        " order by place, id",
        (shop,),
    ).fetchall()
    return [record(ListenerRow, row) for row in rows]


def listener(connection: Connection, shop: int, listener_id: int) -> ListenerRow:
    found = next((one for one in listeners(connection, shop) if one.id == listener_id), None)
    if found is None:
        raise NotFound(f"listener {listener_id}")
    return found


def add_listener(connection: Connection, shop: int, person: dict[str, Any], sealed: bytes | None) -> int:
    row = connection.execute(
        "insert into listener (workshop_id, place, person, sealed) values (%s,"
        " (select coalesce(max(place), 0) + 1 from listener where workshop_id = %s), %s, %s) returning id",
        (shop, shop, Jsonb(person), sealed),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return int(row[0])


def change_listener(
    connection: Connection, shop: int, listener_id: int, person: dict[str, Any], sealed: bytes | None
) -> None:
    done = connection.execute(
        "update listener set person = %s, sealed = %s where workshop_id = %s and id = %s"
        " and removed_at is null",
        (Jsonb(person), sealed, shop, listener_id),
    )
    if not done.rowcount:
        raise NotFound(f"listener {listener_id}")


def remove_listener(connection: Connection, shop: int, listener_id: int) -> None:
    """The messages they got stay with their calls; their browsers and addresses do not."""
    done = connection.execute(
        "update listener set removed_at = now(), sealed = null,"
        " person = jsonb_build_object('name', person->'name', 'kinds', '[]'::jsonb)"
        " where workshop_id = %s and id = %s and removed_at is null",
        (shop, listener_id),
    )
    if not done.rowcount:
        raise NotFound(f"listener {listener_id}")
    connection.execute(
        "delete from listener_browser where workshop_id = %s and listener_id = %s", (shop, listener_id)
    )


def put_in_order(connection: Connection, shop: int, ids: Sequence[int]) -> None:
    for place, one in enumerate(ids):
        connection.execute(
            "update listener set place = %s where workshop_id = %s and id = %s", (place, shop, one)
        )


def may_be_tried(connection: Connection, shop: int, listener_id: int, apart: timedelta) -> bool:
    """False where they were sent something to try a moment ago."""
    done = connection.execute(
        "update listener set tried_at = now() where workshop_id = %s and id = %s"
        " and (tried_at is null or tried_at < now() - %s)",
        (shop, listener_id, apart),
    )
    return done.rowcount == 1


def names(connection: Connection, shop: int) -> dict[int, str]:
    """Of everybody who ever was told, for lists of what was sent."""
    rows = connection.execute("select id, person->>'name' from listener where workshop_id = %s", (shop,))
    return dict(rows.fetchall())


def browsers(connection: Connection, shop: int) -> list[BrowserRow]:
    rows = connection.execute(
        "select id, listener_id, name, sealed, made_at from listener_browser where workshop_id = %s"
        " order by id",
        (shop,),
    ).fetchall()
    return [record(BrowserRow, row) for row in rows]


def address_hash(address: str) -> str:
    return hashlib.sha256(address.encode()).hexdigest()


def add_browser(
    connection: Connection, shop: int, listener_id: int, name: str, address: str, sealed: bytes
) -> None:
    """A browser speaks for one person: asked for anew, it is the other's from then on."""
    connection.execute(
        "insert into listener_browser (workshop_id, listener_id, name, address_hash, sealed)"
        " values (%s, %s, %s, %s, %s) on conflict (workshop_id, address_hash) do update"
        " set listener_id = excluded.listener_id, name = excluded.name, sealed = excluded.sealed",
        (shop, listener_id, name, address_hash(address), sealed),
    )


def remove_browser(connection: Connection, shop: int, browser_id: int) -> None:
    done = connection.execute(
        "delete from listener_browser where workshop_id = %s and id = %s", (shop, browser_id)
    )
    if not done.rowcount:
        raise NotFound(f"browser {browser_id}")


def forget_browser(connection: Connection, shop: int, address: str) -> None:
    """Of this address; nothing where it is not known."""
    connection.execute(
        "delete from listener_browser where workshop_id = %s and address_hash = %s",
        (shop, address_hash(address)),
    )


def remove_browsers(connection: Connection, shop: int) -> None:
    """With a new key of our own none of them is reached any more."""
    connection.execute("delete from listener_browser where workshop_id = %s", (shop,))


def open_calls(connection: Connection, shop: int) -> list[CallRow]:
    """Those nobody has in hand and that are of use, the oldest first."""
    rows = connection.execute(
        _CALL + " and over_at is null and answered_at is null order by at, id limit %s", (shop, MOST_CALLS)
    ).fetchall()
    return [record(CallRow, row) for row in rows]


def standing_calls(connection: Connection, shop: int) -> list[CallRow]:
    """Those that are not over, answered or not."""
    rows = connection.execute(
        _CALL + " and over_at is null order by at, id limit %s", (shop, MOST_CALLS)
    ).fetchall()
    return [record(CallRow, row) for row in rows]


def recent_calls(connection: Connection, shop: int, most: int) -> list[CallRow]:
    """Those that somebody was told of, the newest first."""
    told = connection.execute(
        "select distinct call_id from moment_sending where workshop_id = %s order by call_id desc limit %s",
        (shop, most),
    ).fetchall()
    rows = connection.execute(
        _CALL + " and id = any(%s) order by at desc, id desc", (shop, [row[0] for row in told])
    ).fetchall()
    return [record(CallRow, row) for row in rows]


def call(connection: Connection, shop: int, call_id: int) -> CallRow:
    row = connection.execute(_CALL + " and id = %s", (shop, call_id)).fetchone()
    if row is None:
        raise NotFound(f"call {call_id}")
    return record(CallRow, row)


def keep_call(
    connection: Connection,
    shop: int,
    known: CallRow | None,
    found: Called,
    now: datetime,
    *,
    run_id: int | None = None,
    piece_id: int | None = None,
) -> None:
    """The same moment where it stands now; another version of it where it moved by much or is due anew."""
    if known is not None and not has_moved(known.first_at, found.at):
        stands = (found.at, found.latest, found.alarm, found.title, found.text)
        if stands != (known.at, known.latest, known.alarm, known.title, known.text):
            connection.execute(
                "update moment_call set at = %s, latest = %s, alarm = %s, title = %s, text = %s"
                " where workshop_id = %s and id = %s",
                (*stands, shop, known.id),
            )
        return
    if known is not None:
        end_call(connection, shop, known.id, now)
    connection.execute(
        "insert into moment_call (workshop_id, key, version, run_id, piece_id, alarm, kind, urgency, title,"
        " text, at, first_at, latest, known_at) values (%s, %s,"
        " (select coalesce(max(version), 0) + 1 from moment_call where workshop_id = %s and key = %s),"
        " %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            *(shop, found.key, shop, found.key, run_id, piece_id, found.alarm, found.kind, found.urgency),
            *(found.title, found.text, found.at, found.at, found.latest, now),
        ),
    )


def end_call(
    connection: Connection, shop: int, call_id: int, now: datetime, answered_by: str | None = None
) -> None:
    """It is of no use any more; by whom it was seen to, where that is known."""
    connection.execute(
        "update moment_call set over_at = coalesce(over_at, %s),"
        " answered_at = case when %s::text is null then answered_at else coalesce(answered_at, %s) end,"
        " answered_by = case when answered_at is null and %s::text is not null then %s else answered_by end"
        " where workshop_id = %s and id = %s",
        (now, answered_by, now, answered_by, answered_by, shop, call_id),
    )


def answer_call(connection: Connection, shop: int, call_id: int, now: datetime, who: str) -> CallRow:
    """Whoever is first has it in hand; later ones are told who."""
    connection.execute(
        "update moment_call set answered_at = %s, answered_by = %s where workshop_id = %s and id = %s"
        " and answered_at is null",
        (now, who, shop, call_id),
    )
    return call(connection, shop, call_id)


def sendings(connection: Connection, shop: int, call_ids: Sequence[int]) -> list[SendingRow]:
    rows = connection.execute(
        _SENDING + " and call_id = any(%s) order by turn_at, key", (shop, list(call_ids))
    ).fetchall()
    return [record(SendingRow, row) for row in rows]


def begin_sending(connection: Connection, shop: int, row: SendingRow, now: datetime) -> None:
    connection.execute(
        "insert into moment_sending (workshop_id, key, call_id, listener_id, way, turn_at, late_s, tries,"
        " tried_at, next_try_at) values (%s, %s, %s, %s, %s, %s, %s, 1, %s, %s)"
        " on conflict (workshop_id, key) do update set tries = moment_sending.tries + 1,"
        " late_s = excluded.late_s, tried_at = excluded.tried_at, next_try_at = excluded.next_try_at",
        (
            *(shop, row.key, row.call_id, row.listener_id, row.way, row.turn_at, row.late_s, now),
            row.next_try_at,
        ),
    )


def end_sending(
    connection: Connection, shop: int, key: str, now: datetime, *, why: str = "", is_final: bool = False
) -> None:
    """It went out, or did not: why, and whether it is tried again."""
    connection.execute(
        "update moment_sending set why = %s, sent_at = %s, failed_at = %s"
        " where workshop_id = %s and key = %s",
        (why, None if why else now, now if is_final else None, shop, key),
    )


def forget_old(connection: Connection, shop: int, now: datetime) -> None:
    connection.execute("delete from moment_call where workshop_id = %s and at < %s", (shop, now - KEPT))
