"""Entries of devices that were put out before they could send them; the owner accepts or refuses each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal
from uuid import UUID

from psycopg import Connection
from psycopg.types.json import Jsonb

from .logins import hashed
from .rows import record

What = Literal["run", "weighing"]
HOLDS = timedelta(days=30)  # after it was put out
MOST_OF_DEVICE = 2_000


@dataclass(frozen=True, kw_only=True)
class PutOut:
    """A device that was in, and may hand in what it still holds."""

    pairing_id: int
    workshop_id: int
    name: str


@dataclass(frozen=True, kw_only=True)
class HandedIn:
    id: int
    device: str
    what: What
    of_id: int
    entry: dict[str, Any]
    received_at: datetime


def who_was_in(connection: Connection, token: str, now: datetime) -> PutOut | None:
    """By the secret the device came in with; for a month after it ended."""
    row = connection.execute(
        "select id, workshop_id, name from pairing where token_hash = %s"
        " and (ended_at is not null or until_at <= %s) and coalesce(ended_at, until_at) > %s",
        (hashed(token), now, now - HOLDS),
    ).fetchone()
    return record(PutOut, row) if row else None


def keep(
    connection: Connection,
    device: PutOut,
    what: What,
    of_id: int,
    entries: Sequence[tuple[UUID, dict[str, Any]]],
    now: datetime,
) -> None:
    """Each once, however often it is handed in."""
    with connection.cursor() as cursor:
        cursor.executemany(
            "insert into handed_in (workshop_id, pairing_id, what, of_id, event_id, entry, received_at)"
            " values (%s, %s, %s, %s, %s, %s, %s) on conflict do nothing",
            [
                (device.workshop_id, device.pairing_id, what, of_id, event_id, Jsonb(entry), now)
                for event_id, entry in entries
            ],
        )


def count_of(connection: Connection, device: PutOut) -> int:
    row = connection.execute(
        "select count(*) from handed_in where workshop_id = %s and pairing_id = %s",
        (device.workshop_id, device.pairing_id),
    ).fetchone()
    return int(row[0]) if row else 0


def waiting(connection: Connection, workshop_id: int, names: dict[int, str]) -> list[HandedIn]:
    """In the order in which they were said. names: of the devices."""
    rows = connection.execute(
        "select id, pairing_id, what, of_id, entry, received_at from handed_in"
        " where workshop_id = %s and decided_at is null order by id limit 500",
        (workshop_id,),
    ).fetchall()
    return [
        HandedIn(id=id_, device=names.get(of, ""), what=what, of_id=of_id, entry=entry, received_at=at)
        for id_, of, what, of_id, entry, at in rows
    ]


def decide(
    connection: Connection, workshop_id: int, id_: int, now: datetime, *, accepted: bool, why: str = ""
) -> None:
    connection.execute(
        "update handed_in set decided_at = %s, accepted = %s, why = %s"
        " where workshop_id = %s and id = %s and decided_at is null",
        (now, accepted, why[:400], workshop_id, id_),
    )
