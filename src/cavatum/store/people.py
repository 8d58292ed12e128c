"""Who is let into one workshop: members, invitations, tokens for scripts, and the trail of what was done
about it.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime

from psycopg import Connection, sql

from .logins import INVITATION_HOLDS, hashed
from .pool import NotFound
from .rows import record

TRAIL_SHOWN = 200


@dataclass(frozen=True, kw_only=True)
class Person:
    account_id: int
    name: str
    email: str
    role: str
    joined_at: datetime
    seen_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class Invited:
    """made_by: of whom; None: the shop's own screen or the keeper, or (maker_kept False) nobody knows."""

    id: int
    name: str
    role: str
    expires_at: datetime
    again: bool
    made_by: str | None
    maker_kept: bool


@dataclass(frozen=True, kw_only=True)
class Token:
    id: int
    name: str
    role: str
    until_at: datetime
    seen_at: datetime | None
    made_by: str | None
    maker_kept: bool


@dataclass(frozen=True, kw_only=True)
class Ended:
    """What went with a person or with their role. unknown: what goes on and was made before it was kept by
    whom.
    """

    browsers: int
    invitations: int
    tokens: int
    devices: int
    feeds: int
    unknown: int


@dataclass(frozen=True, kw_only=True)
class Trail:
    at: datetime
    what: str
    who: str
    about: str
    address: str


def people(connection: Connection, workshop_id: int) -> list[Person]:
    rows = connection.execute(
        "select a.id, a.name, a.email, m.role, m.made_at,"
        " (select max(e.seen_at) from entry e where e.account_id = a.id and e.workshop_id = m.workshop_id)"
        " from membership m join account a on a.id = m.account_id where m.workshop_id = %s and "
        "m.ended_at is null order by m.made_at",
        (workshop_id,),
    ).fetchall()
    return [record(Person, row) for row in rows]


def person(connection: Connection, workshop_id: int, account_id: int) -> Person:
    found = next((one for one in people(connection, workshop_id) if one.account_id == account_id), None)
    if found is None:
        raise NotFound("person")
    return found


def change_role(connection: Connection, workshop_id: int, account_id: int, role: str) -> None:
    connection.execute(
        "update membership set role = %s where workshop_id = %s and account_id = %s and ended_at is null",
        (role, workshop_id, account_id),
    )


def put_out(connection: Connection, workshop_id: int, account_id: int, now: datetime) -> Ended:
    """The membership ends, every browser they are in this workshop with, and all they made."""
    connection.execute(
        "update membership set ended_at = %s where workshop_id = %s and account_id = %s and ended_at is null",
        (now, workshop_id, account_id),
    )
    browsers = connection.execute(
        "update entry set ended_at = %s where workshop_id = %s and account_id = %s and ended_at is null",
        (now, workshop_id, account_id),
    ).rowcount
    return end_what_they_made(connection, workshop_id, account_id, now, browsers=browsers)


_THEIRS = {
    "invitation": "(made_by = %(account)s or account_id = %(account)s) and used_at is null",
    "api_token": "made_by = %(account)s",
    "pairing": "(made_by = %(account)s or taken_by = %(account)s)",
}


def end_what_they_made(
    connection: Connection,
    workshop_id: int,
    account_id: int,
    now: datetime,
    *,
    browsers: int = 0,
    feeds_too: bool = True,
) -> Ended:
    """Invitations that wait, tokens, paired devices, addresses of the calendar feed: theirs and those of
    their tokens, and the one that everybody shared in earlier releases.

    feeds_too: their own address as well; somebody who may still see the calendar keeps it
    """
    about = {"shop": workshop_id, "account": account_id, "now": now}
    counts = {
        table: connection.execute(
            sql.SQL(
                "update {} set ended_at = %(now)s where workshop_id = %(shop)s and ended_at is null and "
            ).format(sql.Identifier(table))
            + sql.SQL(theirs),
            about,
        ).rowcount
        for table, theirs in _THEIRS.items()
    }
    feeds = connection.execute(
        "delete from calendar_feed where workshop_id = %(shop)s and ((%(own)s and (account_id = %(account)s"
        " or of_all)) or token_id in (select id from api_token where made_by = %(account)s))",
        {**about, "own": feeds_too},
    ).rowcount
    return Ended(
        browsers=browsers,
        invitations=counts["invitation"],
        tokens=counts["api_token"],
        devices=counts["pairing"],
        feeds=feeds,
        unknown=_of_unknown_makers(connection, workshop_id, now),
    )


def _of_unknown_makers(connection: Connection, workshop_id: int, now: datetime) -> int:
    row = connection.execute(
        "select (select count(*) from invitation where workshop_id = %(shop)s and not maker_kept and used_at"
        " is null and ended_at is null and expires_at > %(now)s)"
        " + (select count(*) from api_token where workshop_id = %(shop)s and not maker_kept and ended_at is"
        " null and until_at > %(now)s)"
        " + (select count(*) from pairing where workshop_id = %(shop)s and not maker_kept and ended_at is"
        " null and until_at > %(now)s)",
        {"shop": workshop_id, "now": now},
    ).fetchone()
    return int(row[0]) if row else 0


def lock_owners(connection: Connection, workshop_id: int) -> int:
    """How many owners there are; until this transaction ends nobody else changes that."""
    return len(
        connection.execute(
            "select account_id from membership where workshop_id = %s and role = 'owner' and ended_at is "
            "null for update",
            (workshop_id,),
        ).fetchall()
    )


def invite(
    connection: Connection,
    workshop_id: int,
    role: str,
    name: str,
    account_id: int | None,
    now: datetime,
    *,
    by_keeper: bool = False,
    made_by: int | None = None,
) -> tuple[str, Invited]:
    """The link's secret, told once. by_keeper: made at the server's own command line; made_by: the account
    of whoever invites.
    """
    token = secrets.token_urlsafe(24)
    row = connection.execute(
        "insert into invitation (workshop_id, token_hash, role, name, account_id, expires_at, by_keeper,"
        " made_by) values (%s, %s, %s, %s, %s, %s, %s, %s)"
        " returning id, name, role, expires_at, account_id is not null, null, true",
        (
            workshop_id,
            hashed(token),
            role,
            name.strip(),
            account_id,
            now + INVITATION_HOLDS,
            by_keeper,
            made_by,
        ),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return token, record(Invited, row)


def invited(connection: Connection, workshop_id: int, now: datetime) -> list[Invited]:
    rows = connection.execute(
        "select i.id, i.name, i.role, i.expires_at, i.account_id is not null, a.name, i.maker_kept"
        " from invitation i left join account a on a.id = i.made_by where i.workshop_id = %s and"
        " i.used_at is null and i.ended_at is null and i.expires_at > %s order by i.id desc limit 100",
        (workshop_id, now),
    ).fetchall()
    return [record(Invited, row) for row in rows]


def end_invitation(connection: Connection, workshop_id: int, invitation_id: int, now: datetime) -> None:
    connection.execute(
        "update invitation set ended_at = %s where workshop_id = %s and id = %s and ended_at is null",
        (now, workshop_id, invitation_id),
    )


def make_token(
    connection: Connection,
    workshop_id: int,
    name: str,
    role: str,
    until: datetime,
    made_by: int | None = None,
) -> tuple[str, Token]:
    """The token, told once. made_by: the account of whoever makes it."""
    token = f"cavatum_{secrets.token_urlsafe(32)}"
    row = connection.execute(
        "insert into api_token (workshop_id, token_hash, role, name, until_at, made_by) values (%s, %s, %s,"
        " %s, %s, %s) returning id, name, role, until_at, seen_at, null, true",
        (workshop_id, hashed(token), role, name.strip(), until, made_by),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return token, record(Token, row)


def tokens(connection: Connection, workshop_id: int, now: datetime) -> list[Token]:
    rows = connection.execute(
        "select t.id, t.name, t.role, t.until_at, t.seen_at, a.name, t.maker_kept from api_token t"
        " left join account a on a.id = t.made_by where t.workshop_id = %s and t.ended_at is null and"
        " t.until_at > %s order by t.id",
        (workshop_id, now),
    ).fetchall()
    return [record(Token, row) for row in rows]


def end_token(connection: Connection, workshop_id: int, token_id: int, now: datetime) -> None:
    connection.execute(
        "update api_token set ended_at = %s where workshop_id = %s and id = %s and ended_at is null",
        (now, workshop_id, token_id),
    )
    connection.execute(
        "delete from calendar_feed where workshop_id = %s and token_id = %s", (workshop_id, token_id)
    )


def note(
    connection: Connection,
    workshop_id: int | None,
    what: str,
    who: str,
    about: str = "",
    address: str = "",
    request_id: str = "",
) -> None:
    """One line of the trail; only added to."""
    connection.execute(
        "insert into audit (workshop_id, what, who, about, address, request_id) values (%s, %s, %s, "
        "%s, %s, %s)",
        (workshop_id, what, who, about[:200], address, request_id),
    )


def trail(connection: Connection, workshop_id: int, before: int | None = None) -> list[tuple[int, Trail]]:
    rows = connection.execute(
        "select id, at, what, who, about, address from audit where workshop_id = %s and (%s::bigint is "
        "null or id < %s) order by id desc limit %s",
        (workshop_id, before, before, TRAIL_SHOWN),
    ).fetchall()
    return [(row[0], record(Trail, row[1:])) for row in rows]
