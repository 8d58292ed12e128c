"""Phones let in by a code from the shop's own screen, for a bounded time. Only hashes of codes and tokens are
kept.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg import Connection

from .pool import waits_for_no_second
from .rows import record

ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"  # nothing that looks like something else
CODE_LENGTH = 10  # 32^10 codes, one of which holds for ten minutes
CODE_HOLDS = timedelta(minutes=10)


@dataclass(frozen=True, kw_only=True)
class Pairing:
    """made_by, taken_by: of whom the code is and who was logged in with the browser that entered it."""

    id: int
    name: str
    expires_at: datetime
    until_at: datetime
    used_at: datetime | None
    seen_at: datetime | None
    made_by: str | None
    taken_by: str | None
    maker_kept: bool


def _hash(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


def offer(
    connection: Connection,
    workshop_id: int,
    name: str,
    holds: timedelta,
    now: datetime,
    made_by: int | None = None,
) -> tuple[str, Pairing]:
    """A new code, told once; it holds for ten minutes and for one phone, which is then in for `holds`.
    made_by: the account of whoever offers it.
    """
    code = "".join(secrets.choice(ALPHABET) for _ in range(CODE_LENGTH))
    row = connection.execute(
        "insert into pairing (workshop_id, code_hash, name, expires_at, until_at, made_by)"
        " values (%s, %s, %s, %s, %s, %s)"
        " returning id, name, expires_at, until_at, used_at, seen_at, null, null, true",
        (workshop_id, _hash(code), name, now + CODE_HOLDS, now + holds, made_by),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return code, record(Pairing, row)


def enter(
    connection: Connection, code: str, now: datetime, taken_by: int | None = None
) -> tuple[str, datetime, int, str] | None:
    """The token for the device's cookie, until when it holds, workshop and name; None: no such code, used
    already, or too late. taken_by: the account that the entering browser is logged in with.
    """
    token = secrets.token_urlsafe(32)
    row = connection.execute(
        "update pairing set token_hash = %s, used_at = %s, taken_by = %s"
        " where code_hash = %s and used_at is null and "
        "ended_at is null and expires_at > %s"
        " returning until_at, workshop_id, name",
        (_hash(token), now, taken_by, _hash(code.strip().upper()), now),
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
        waits_for_no_second(connection)
        connection.execute("update pairing set seen_at = %s where id = %s", (now, row[0]))
    return row[1], row[2]


def listed(connection: Connection, workshop_id: int, now: datetime) -> list[Pairing]:
    rows = connection.execute(
        "select p.id, p.name, p.expires_at, p.until_at, p.used_at, p.seen_at, m.name, t.name, p.maker_kept"
        " from pairing p left join account m on m.id = p.made_by left join account t on t.id = p.taken_by"
        " where p.workshop_id = %s and p.ended_at is null"
        " and ((p.used_at is null and p.expires_at > %s) or (p.used_at is not null and p.until_at > %s))"
        " order by p.id desc limit 100",
        (workshop_id, now, now),
    ).fetchall()
    return [record(Pairing, row) for row in rows]


def names(connection: Connection, workshop_id: int) -> dict[int, str]:
    """Of every device that was ever let in, by its number."""
    rows = connection.execute("select id, name from pairing where workshop_id = %s", (workshop_id,))
    return {int(id_): str(name) for id_, name in rows.fetchall()}


def end(connection: Connection, workshop_id: int, pairing_id: int, now: datetime) -> None:
    connection.execute(
        "update pairing set ended_at = %s where workshop_id = %s and id = %s and ended_at is null",
        (now, workshop_id, pairing_id),
    )
