"""The secret addresses of the calendar feed: each person's, each script's, and the shop's own screen's."""

from __future__ import annotations

import secrets
from dataclasses import dataclass

from psycopg import Connection


@dataclass(frozen=True)
class Holder:
    """Neither: the shop's own screen."""

    account_id: int | None = None
    token_id: int | None = None


_READ = (
    "select token from calendar_feed where workshop_id = %s"
    " and account_id is not distinct from %s and token_id is not distinct from %s"
)
_END = (
    "delete from calendar_feed where workshop_id = %s"
    " and account_id is not distinct from %s and token_id is not distinct from %s"
)


def token(connection: Connection, workshop_id: int, holder: Holder) -> str:
    """Made on first use."""
    its = (workshop_id, holder.account_id, holder.token_id)
    connection.execute(
        "insert into calendar_feed (workshop_id, account_id, token_id, token) values (%s, %s, %s, %s)"
        " on conflict do nothing",
        (*its, secrets.token_urlsafe(24)),
    )
    row = connection.execute(_READ, its).fetchone()
    assert row is not None  # just made
    return str(row[0])


def new_token(connection: Connection, workshop_id: int, holder: Holder) -> str:
    """The old address answers no more."""
    connection.execute(_END, (workshop_id, holder.account_id, holder.token_id))
    return token(connection, workshop_id, holder)


def workshop_of(connection: Connection, secret: str) -> int | None:
    """Of an address whose holder may still see the calendar's address."""
    row = connection.execute(
        "select f.workshop_id from calendar_feed f where f.token = %s"
        " and (f.account_id is null or exists (select 1 from membership m where m.account_id = f.account_id"
        " and m.workshop_id = f.workshop_id and m.ended_at is null and m.role in ('owner', 'maker')))"
        " and (f.token_id is null or exists (select 1 from api_token t where t.id = f.token_id"
        " and t.ended_at is null and t.until_at > now()))",
        (secret,),
    ).fetchone()
    return int(row[0]) if row else None
