"""Coming in: who somebody is, before any workshop is known. These queries run as the database's owner;
everything after runs as one workshop's.

Secrets come in plain and are compared by SHA-256: they are random and long, so that a slow hash adds nothing.
Passwords are argon2's (network/passwords.py).
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg import Connection

from .addresses import normal
from .pool import waits_for_no_second
from .rows import record

ENTRY_HOLDS = timedelta(days=30)  # however often it is used
ENTRY_IDLE = timedelta(days=7)  # without any use
SEEN_EVERY = timedelta(minutes=1)
INVITATION_HOLDS = timedelta(days=7)
CHALLENGE_HOLDS = timedelta(minutes=5)
TRIES_KEPT = timedelta(days=1)


@dataclass(frozen=True, kw_only=True)
class Member:
    """An account in one workshop."""

    account_id: int
    workshop_id: int
    role: str
    name: str
    email: str


@dataclass(frozen=True, kw_only=True)
class Account:
    id: int
    name: str
    email: str
    password_hash: str | None


@dataclass(frozen=True, kw_only=True)
class Passkey:
    id: int
    account_id: int
    public_key: bytes
    sign_count: int


@dataclass(frozen=True, kw_only=True)
class Invitation:
    id: int
    workshop_id: int
    role: str
    name: str
    account_id: int | None
    workshop: str
    by_keeper: bool


def hashed(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def account_of(connection: Connection, email: str) -> Account | None:
    """By the address's normal form; of two that older releases told apart the one that is spelt so."""
    row = connection.execute(
        "select id, name, email, password_hash from account where address = %s and ended_at is null"
        " order by lower(email) = lower(%s) desc, id limit 1",
        (normal(email), email.strip()),
    ).fetchone()
    return record(Account, row) if row else None


def account(connection: Connection, account_id: int) -> Account | None:
    row = connection.execute(
        "select id, name, email, password_hash from account where id = %s and ended_at is null", (account_id,)
    ).fetchone()
    return record(Account, row) if row else None


def make_account(connection: Connection, email: str, name: str, password_hash: str | None) -> int | None:
    """None where the address is taken, in whatever spelling."""
    connection.execute("select pg_advisory_xact_lock(hashtext('cavatum account'))")
    row = connection.execute(
        "insert into account (email, address, name, password_hash) select %s, %s, %s, %s"
        " where not exists (select 1 from account where address = %s) on conflict do nothing returning id",
        (email.strip(), normal(email), name.strip(), password_hash, normal(email)),
    ).fetchone()
    return row[0] if row else None


def keep_password(connection: Connection, account_id: int, password_hash: str) -> None:
    connection.execute("update account set password_hash = %s where id = %s", (password_hash, account_id))


def memberships(connection: Connection, account_id: int) -> list[tuple[int, str, str]]:
    """(workshop, its name, role) of every workshop this account is let into."""
    return connection.execute(
        "select m.workshop_id, w.settings->>'name', m.role from membership m join workshop w on w.id = "
        "m.workshop_id"
        " where m.account_id = %s and m.ended_at is null order by m.workshop_id",
        (account_id,),
    ).fetchall()


def join(connection: Connection, workshop_id: int, account_id: int, role: str) -> None:
    """Whoever is in already keeps their role where it is the higher one: a link lowers nobody."""
    connection.execute(
        "insert into membership (workshop_id, account_id, role) values (%s, %s, %s) on conflict "
        "(workshop_id, account_id)"
        " do update set ended_at = null, role = case when membership.ended_at is null and"
        " array_position(array['viewer', 'maker', 'owner'], membership.role)"
        " > array_position(array['viewer', 'maker', 'owner'], excluded.role)"
        " then membership.role else excluded.role end",
        (workshop_id, account_id, role),
    )


def begin_entry(
    connection: Connection, workshop_id: int, account_id: int, agent: str, now: datetime
) -> tuple[str, datetime]:
    """The secret for the browser's cookie, told once, and until when it holds at the most."""
    token, until = secrets.token_urlsafe(32), now + ENTRY_HOLDS
    connection.execute(
        "insert into entry (workshop_id, account_id, token_hash, agent, made_at, seen_at, until_at) "
        "values (%s, %s, %s, %s, %s, %s, %s)",
        (workshop_id, account_id, hashed(token), agent[:200], now, now, until),
    )
    return token, until


def who_entered(
    connection: Connection, token: str, now: datetime, *, only_asks: bool = True
) -> tuple[int, Member] | None:
    """(entry, member) of a cookie's secret; None: no such, ended, too old, or no member any more. only_asks:
    this transaction keeps nothing else.
    """
    row = connection.execute(
        "select e.id, e.seen_at, a.id, e.workshop_id, m.role, a.name, a.email from entry e join account "
        "a on a.id = e.account_id and a.ended_at is null"
        " join membership m on m.workshop_id = e.workshop_id and m.account_id = a.id and m.ended_at is null"
        " where e.token_hash = %s and e.ended_at is null and e.until_at > %s and e.seen_at > %s",
        (hashed(token), now, now - ENTRY_IDLE),
    ).fetchone()
    if row is None:
        return None
    if row[1] < now - SEEN_EVERY:
        if only_asks:
            waits_for_no_second(connection)
        connection.execute("update entry set seen_at = %s where id = %s", (now, row[0]))
    return row[0], record(Member, row[2:])


def switch(connection: Connection, entry_id: int, workshop_id: int) -> None:
    connection.execute("update entry set workshop_id = %s where id = %s", (workshop_id, entry_id))


def entries(
    connection: Connection, account_id: int, now: datetime
) -> list[tuple[int, str, datetime, datetime, datetime]]:
    """(id, agent, made, seen, until) of the browsers this account is in with."""
    return connection.execute(
        "select id, agent, made_at, seen_at, until_at from entry where account_id = %s and ended_at is "
        "null and until_at > %s and seen_at > %s"
        " order by seen_at desc",
        (account_id, now, now - ENTRY_IDLE),
    ).fetchall()


def end_entry(connection: Connection, account_id: int, entry_id: int, now: datetime) -> bool:
    return (
        connection.execute(
            "update entry set ended_at = %s where account_id = %s and id = %s and ended_at is null",
            (now, account_id, entry_id),
        ).rowcount
        > 0
    )


def end_entries(connection: Connection, account_id: int, now: datetime, but: int | None = None) -> int:
    return connection.execute(
        "update entry set ended_at = %s where account_id = %s and ended_at is null and (%s::bigint is "
        "null or id <> %s)",
        (now, account_id, but, but),
    ).rowcount


def invitation_of(
    connection: Connection, token: str, now: datetime, *, lock: bool = False
) -> Invitation | None:
    query = (
        "select i.id, i.workshop_id, i.role, i.name, i.account_id, w.settings->>'name', i.by_keeper from "
        "invitation i"
        " join workshop w on w.id = i.workshop_id where i.token_hash = %s and i.used_at is null and "
        "i.ended_at is null and i.expires_at > %s"
    )
    row = connection.execute(query + (" for update of i" if lock else ""), (hashed(token), now)).fetchone()
    return record(Invitation, row) if row else None


def use_invitation(connection: Connection, invitation_id: int, now: datetime) -> None:
    connection.execute("update invitation set used_at = %s where id = %s", (now, invitation_id))


def who_holds(connection: Connection, token: str, now: datetime) -> tuple[int, int, str, str] | None:
    """(token, workshop, role, name) of a script's token."""
    row = connection.execute(
        "select id, workshop_id, role, name, seen_at from api_token where token_hash = %s and ended_at "
        "is null and until_at > %s",
        (hashed(token), now),
    ).fetchone()
    if row is None:
        return None
    if row[4] is None or row[4] < now - SEEN_EVERY:
        waits_for_no_second(connection)
        connection.execute("update api_token set seen_at = %s where id = %s", (now, row[0]))
    return row[:4]


def failed(connection: Connection, keys: list[str], now: datetime) -> None:
    for key in keys:
        connection.execute("insert into failed_try (key, at) values (%s, %s)", (hashed(key), now))
    connection.execute("delete from failed_try where at < %s", (now - TRIES_KEPT,))


def tries(connection: Connection, key: str, since: datetime) -> int:
    row = connection.execute(
        "select count(*) from failed_try where key = %s and at > %s", (hashed(key), since)
    ).fetchone()
    return row[0] if row else 0


def forget_tries(connection: Connection, key: str) -> None:
    connection.execute("delete from failed_try where key = %s", (hashed(key),))


def keep_challenge(connection: Connection, value: bytes, account_id: int | None, now: datetime) -> None:
    connection.execute("delete from challenge where expires_at < %s", (now,))
    connection.execute(
        "insert into challenge (value, account_id, expires_at) values (%s, %s, %s)",
        (value, account_id, now + CHALLENGE_HOLDS),
    )


def use_challenge(connection: Connection, value: bytes, account_id: int | None, now: datetime) -> bool:
    """Once."""
    return (
        connection.execute(
            "delete from challenge where value = %s and account_id is not distinct from %s and "
            "expires_at > %s",
            (value, account_id, now),
        ).rowcount
        > 0
    )


def keep_passkey(
    connection: Connection,
    account_id: int,
    credential_id: bytes,
    public_key: bytes,
    sign_count: int,
    name: str,
) -> None:
    connection.execute(
        "insert into passkey (account_id, credential_id, public_key, sign_count, name) values (%s, %s, "
        "%s, %s, %s)",
        (account_id, credential_id, public_key, sign_count, name),
    )


def passkey(connection: Connection, credential_id: bytes) -> Passkey | None:
    row = connection.execute(
        "select id, account_id, public_key, sign_count from passkey where credential_id = %s",
        (credential_id,),
    ).fetchone()
    return record(Passkey, row) if row else None


def passkeys(
    connection: Connection, account_id: int
) -> list[tuple[int, bytes, str, datetime, datetime | None]]:
    """(id, credential, name, made, used)."""
    return connection.execute(
        "select id, credential_id, name, made_at, used_at from passkey where account_id = %s order by id",
        (account_id,),
    ).fetchall()


def used_passkey(connection: Connection, passkey_id: int, sign_count: int, now: datetime) -> None:
    connection.execute(
        "update passkey set sign_count = %s, used_at = %s where id = %s", (sign_count, now, passkey_id)
    )


def remove_passkey(connection: Connection, account_id: int, passkey_id: int) -> bool:
    return (
        connection.execute(
            "delete from passkey where account_id = %s and id = %s", (account_id, passkey_id)
        ).rowcount
        > 0
    )
