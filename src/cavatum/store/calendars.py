"""The secret address of the calendar feed."""

from __future__ import annotations

import secrets

from psycopg import Connection


def token(connection: Connection, workshop_id: int) -> str:
    """Made on first use."""
    connection.execute(
        "insert into calendar_feed (workshop_id, token) values (%s, %s) on conflict do nothing",
        (workshop_id, secrets.token_urlsafe(24)),
    )
    row = connection.execute(
        "select token from calendar_feed where workshop_id = %s", (workshop_id,)
    ).fetchone()
    assert row is not None  # just made
    return str(row[0])


def new_token(connection: Connection, workshop_id: int) -> str:
    """The old address answers no more."""
    connection.execute("delete from calendar_feed where workshop_id = %s", (workshop_id,))
    return token(connection, workshop_id)


def workshop_of(connection: Connection, secret: str) -> int | None:
    row = connection.execute("select workshop_id from calendar_feed where token = %s", (secret,)).fetchone()
    return int(row[0]) if row else None
