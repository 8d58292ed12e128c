"""What every request needs: a connection from the pool that sees one workshop, the moment it is."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from flask import current_app, g
from psycopg import Connection, IsolationLevel
from psycopg_pool import ConnectionPool
from werkzeug.exceptions import Unauthorized

from ..store.pool import at_the_door, make_pool, within, within_first
from ..store.workshops import implied_workshop
from .identity import Who, owner_here


def pool() -> ConnectionPool:
    """One pool a process, made on first use so that forked workers never share one."""
    if "cavatum-pool" not in current_app.extensions:
        current_app.extensions["cavatum-pool"] = make_pool(current_app.config["DATABASE_URL"])
    made: ConnectionPool = current_app.extensions["cavatum-pool"]
    return made


@contextmanager
def as_owner() -> Iterator[Connection]:
    """Before anybody is known: a connection as the database's owner. For coming in and for the server's own
    health, never for a workshop's rows.
    """
    with pool().connection() as connection:
        at_the_door(connection)
        yield connection


@contextmanager
def transaction() -> Iterator[Connection]:
    """A connection that sees the workshop of whoever asks and no other; its work is committed as a whole or
    not at all.
    """
    with pool().connection() as connection:
        _inside(connection)
        yield connection


@contextmanager
def snapshot() -> Iterator[Connection]:
    """The same, with everything read as it was at one moment."""
    with pool().connection() as connection:
        connection.isolation_level = IsolationLevel.REPEATABLE_READ
        try:
            with connection.transaction():
                _inside(connection)
                yield connection
        finally:
            connection.isolation_level = None


def _inside(connection: Connection) -> None:
    if g.get("who") is None and not current_app.config["IS_NETWORK"]:
        shop = within_first(connection)
        if shop is not None:
            g.who = owner_here(shop)
            return
        at_the_door(connection)
        g.who = owner_here(implied_workshop(connection))
    within(connection, who().workshop_id)


def who() -> Who:
    """Who asks, as the gate found; on the computer's own address its owner."""
    if g.get("who") is None:
        if current_app.config["IS_NETWORK"]:
            raise Unauthorized()
        with transaction():
            pass
    known: Who = g.who
    return known


def workshop_id(connection: Connection) -> int:
    """The workshop of whoever asks."""
    return who().workshop_id


def now() -> datetime:
    """The moment of this request; tests and rehearsals set it through the app's configuration."""
    if "now" not in g:
        fixed = current_app.config.get("NOW")
        g.now = fixed() if fixed else datetime.now(UTC)
    moment: datetime = g.now
    return moment
