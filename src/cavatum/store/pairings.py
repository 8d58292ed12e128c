"""Phones let in by a code from the shop's own screen, for a bounded time. Only hashes of codes and tokens are
kept.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg import Connection

from .rows import record

ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"  # nothing that looks like something else
CODE_LENGTH = 10  # 32^10 codes, one of which holds for ten minutes
CODE_HOLDS = timedelta(minutes=10)


@dataclass(frozen=True, kw_only=True)
class Pairing:
    id: int
    name: str
    expires_at: datetime
    until_at: datetime
    used_at: datetime | None
    seen_at: datetime | None


def _hash(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


def offer(
    connection: Connection, workshop_id: int, name: str, holds: timedelta, now: datetime
) -> tuple[str, Pairing]:
    """A new code, told once; it holds for ten minutes and for one phone, which is then in for `holds`."""
    code = "".join(secrets.choice(ALPHABET) for _ in range(CODE_LENGTH))
    row = connection.execute(
        "insert into pairing (workshop_id, code_hash, name, expires_at, until_at) values (%s, %s, %s, %s, %s)"
        " returning id, name, expires_at, until_at, used_at, seen_at",
        (workshop_id, _hash(code), name, now + CODE_HOLDS, now + holds),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return code, record(Pairing, row)


def enter(connection: Connection, code: str, now: datetime) -> tuple[str, datetime, int, str] | None:
    """The token for the device's cookie, until when it holds, workshop and name; None: no such code, used
    already, or too late.
    """
    token = secrets.token_urlsafe(32)
    row = connection.execute(
        "update pairing set token_hash = %s, used_at = %s where code_hash = %s and used_at is null and "
        "ended_at is null and expires_at > %s"
        " returning until_at, workshop_id, name",
        (_hash(token), now, _hash(code.strip().upper()), now),
    ).fetchone()
    return (token, *row) if row else None


def who_is_in(connection: Connection, token: str, now: datetime) -> tuple[int, str] | None:
    """(workshop, name of the device) while a phone's token holds."""
    row = connection.execute(
        "select id, workshop_id, name, seen_at from pairing where token_hash = %s and ended_at is null "
        "and until_at > %s",
        (_hash(token), now),
    ).fetchone()
    if row is None:
        return None
    if row[3] is None or row[3] < now - timedelta(minutes=1):
        connection.execute("update pairing set seen_at = %s where id = %s", (now, row[0]))
    return row[1], row[2]


def listed(connection: Connection, workshop_id: int, now: datetime) -> list[Pairing]:
    rows = connection.execute(
        "select id, name, expires_at, until_at, used_at, seen_at from pairing where workshop_id = %s and "
        "ended_at is null"
        " and ((used_at is null and expires_at > %s) or (used_at is not null and until_at > %s)) order "
        "by id desc limit 100",
        (workshop_id, now, now),
    ).fetchall()
    return [record(Pairing, row) for row in rows]


def end(connection: Connection, workshop_id: int, pairing_id: int, now: datetime) -> None:
    connection.execute(
        "update pairing set ended_at = %s where workshop_id = %s and id = %s and ended_at is null",
        (now, workshop_id, pairing_id),
    )
