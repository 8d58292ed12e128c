"""Cameras over pieces: their pictures, as many as are kept, and what was told of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.types.json import Jsonb

from .pool import NotFound
from .rows import record


@dataclass(frozen=True, kw_only=True)
class WatchRow:
    id: int
    run_id: int
    told: dict[str, Any]
    begun_at: datetime
    ended_at: datetime | None
    why: str
    pictures: int
    last_at: datetime | None
    unfollowed: list[int] | None
    problem: str
    silent_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class FrameRow:
    number: int
    at: datetime
    content: bytes


@dataclass(frozen=True, kw_only=True)
class SeenRow:
    id: int
    watch_id: int
    event_id: UUID
    number: int
    kind: str
    at: datetime
    told: dict[str, Any]
    words: str
    wrong_at: datetime | None
    wrong_by: str


_WATCH = (
    "select id, run_id, told, begun_at, ended_at, why, pictures, last_at, unfollowed, problem, silent_at"
    " from watch where workshop_id = %s"
)
_SEEN = (
    "select id, watch_id, event_id, number, kind, at, told, words, wrong_at, wrong_by from watch_seen"
    " where workshop_id = %s"
)


def open_everywhere(connection: Connection) -> list[tuple[int, int]]:
    """(workshop, watch) of every open one, as the database's owner sees them."""
    rows = connection.execute("select workshop_id, id from watch where ended_at is null order by id")
    return rows.fetchall()


def begin(connection: Connection, shop: int, run_id: int, told: dict[str, Any], now: datetime) -> int:
    row = connection.execute(
        "insert into watch (workshop_id, run_id, told, begun_at) values (%s, %s, %s, %s) returning id",
        (shop, run_id, Jsonb(told), now),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return int(row[0])


def lock(connection: Connection, shop: int) -> None:
    """Watches of a workshop are begun one after the other."""
    connection.execute("select pg_advisory_xact_lock(%s, hashtext('watch'))", (shop,))


def open_in(connection: Connection, shop: int) -> list[WatchRow]:
    rows = connection.execute(_WATCH + " and ended_at is null order by id", (shop,)).fetchall()
    return [record(WatchRow, row) for row in rows]


def of_run(connection: Connection, shop: int, run_id: int) -> list[WatchRow]:
    rows = connection.execute(
        _WATCH + " and run_id = %s order by id desc limit 40", (shop, run_id)
    ).fetchall()
    return [record(WatchRow, row) for row in rows]


def read(connection: Connection, shop: int, watch_id: int, *, locked: bool = False) -> WatchRow:
    query = _WATCH + " and id = %s"
    row = connection.execute(query + (" for update" if locked else ""), (shop, watch_id)).fetchone()
    if row is None:
        raise NotFound(f"watch {watch_id}")
    return record(WatchRow, row)


def end(connection: Connection, shop: int, watch_id: int, now: datetime, why: str) -> None:
    connection.execute(
        "update watch set ended_at = %s, why = %s where workshop_id = %s and id = %s and ended_at is null",
        (now, why, shop, watch_id),
    )


def add_frame(connection: Connection, shop: int, row: WatchRow, at: datetime, content: bytes) -> int:
    """Its number. The caller holds the watch's lock."""
    number = row.pictures + 1
    connection.execute(
        "insert into watch_frame (workshop_id, watch_id, number, at, size, content)"
        " values (%s, %s, %s, %s, %s, %s)",
        (shop, row.id, number, at, len(content), content),
    )
    connection.execute(
        "update watch set pictures = %s, last_at = %s, silent_at = null where workshop_id = %s and id = %s",
        (number, at, shop, row.id),
    )
    return number


def new_frames(connection: Connection, shop: int, watch_id: int, most: int) -> list[FrameRow]:
    """Those nobody looked at yet, in their order."""
    rows = connection.execute(
        "select number, at, content from watch_frame where workshop_id = %s and watch_id = %s"
        " and looked_at is null order by number limit %s",
        (shop, watch_id, most),
    ).fetchall()
    return [FrameRow(number=number, at=at, content=bytes(content)) for number, at, content in rows]


def old_frames(connection: Connection, shop: int, watch_id: int, first: int, last: int) -> list[FrameRow]:
    """The first and the last of those that were looked at: what eyes that begin anew have to see again."""
    rows = connection.execute(
        "select number, at, content from watch_frame where workshop_id = %s and watch_id = %s"
        " and looked_at is not null and (number <= %s or number in (select number from watch_frame where"
        " workshop_id = %s and watch_id = %s and looked_at is not null order by number desc limit %s))"
        " order by number",
        (shop, watch_id, first, shop, watch_id, last),
    ).fetchall()
    return [FrameRow(number=number, at=at, content=bytes(content)) for number, at, content in rows]


def looked(
    connection: Connection,
    shop: int,
    watch_id: int,
    number: int,
    now: datetime,
    unfollowed: list[int] | None,
    problem: str,
) -> None:
    connection.execute(
        "update watch_frame set looked_at = %s where workshop_id = %s and watch_id = %s and number = %s",
        (now, shop, watch_id, number),
    )
    connection.execute(
        "update watch set unfollowed = %s, problem = %s where workshop_id = %s and id = %s"
        " and (unfollowed, problem) is distinct from (%s, %s)",
        (Jsonb(unfollowed), problem, shop, watch_id, Jsonb(unfollowed), problem),
    )


def note_silent(connection: Connection, shop: int, watch_id: int, now: datetime) -> None:
    connection.execute(
        "update watch set silent_at = %s where workshop_id = %s and id = %s", (now, shop, watch_id)
    )


def add_seen(
    connection: Connection,
    shop: int,
    watch_id: int,
    event_id: UUID,
    number: int,
    kind: str,
    at: datetime,
    told: dict[str, Any],
    words: str,
) -> None:
    connection.execute(
        "insert into watch_seen (workshop_id, watch_id, event_id, number, kind, at, told, words)"
        " values (%s, %s, %s, %s, %s, %s, %s, %s)",
        (shop, watch_id, event_id, number, kind, at, Jsonb(told), words),
    )


def seen(connection: Connection, shop: int, watch_ids: Sequence[int]) -> list[SeenRow]:
    rows = connection.execute(_SEEN + " and watch_id = any(%s) order by id", (shop, list(watch_ids)))
    return [record(SeenRow, row) for row in rows.fetchall()]


def call_wrong(connection: Connection, shop: int, seen_id: int, now: datetime, who: str) -> SeenRow:
    connection.execute(
        "update watch_seen set wrong_at = coalesce(wrong_at, %s),"
        " wrong_by = case when wrong_at is null then %s else wrong_by end where workshop_id = %s and id = %s",
        (now, who, shop, seen_id),
    )
    return one_seen(connection, shop, seen_id)


def one_seen(connection: Connection, shop: int, seen_id: int) -> SeenRow:
    row = connection.execute(_SEEN + " and id = %s", (shop, seen_id)).fetchone()
    if row is None:
        raise NotFound(f"seen {seen_id}")
    return record(SeenRow, row)


def frame(connection: Connection, shop: int, watch_id: int, number: int) -> bytes:
    row = connection.execute(
        "select content from watch_frame where workshop_id = %s and watch_id = %s and number = %s",
        (shop, watch_id, number),
    ).fetchone()
    if row is None:
        raise NotFound(f"picture {number}")
    return bytes(row[0])


def kept(connection: Connection, shop: int, watch_id: int) -> list[tuple[int, datetime, int]]:
    """(number, moment, bytes) of each picture that was looked at and is still here, in their order."""
    rows = connection.execute(
        "select number, at, size from watch_frame where workshop_id = %s and watch_id = %s"
        " and looked_at is not null order by number",
        (shop, watch_id),
    )
    return rows.fetchall()


def drop(connection: Connection, shop: int, watch_id: int, numbers: Sequence[int]) -> None:
    connection.execute(
        "delete from watch_frame where workshop_id = %s and watch_id = %s and number = any(%s)",
        (shop, watch_id, list(numbers)),
    )


def held(connection: Connection, shop: int) -> list[tuple[int, int, int, datetime]]:
    """(watch, pictures, bytes, newest) of each that has any, the oldest first."""
    rows = connection.execute(
        "select watch_id, count(*), sum(size)::bigint, max(at) from watch_frame where workshop_id = %s"
        " group by watch_id order by max(at)",
        (shop,),
    )
    return rows.fetchall()
