"""What every request needs: a connection from the pool that sees one workshop, the moment it is."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from flask import current_app, g
from psycopg import Connection, IsolationLevel
from psycopg_pool import ConnectionPool
from werkzeug.exceptions import Unauthorized

from ..store.migrate import refuse_a_newer_one
from ..store.pool import make_pool, within, within_first
from ..store.workshops import implied_workshop
from .identity import Who, owner_here

MOST_AT_THE_DOOR = 6


def pool() -> ConnectionPool:
    """One pool a process, made on first use so that forked workers never share one."""
    if "cavatum-pool" not in current_app.extensions:
        current_app.extensions["cavatum-pool"] = make_pool(current_app.config["SHOP_URL"])
    made: ConnectionPool = current_app.extensions["cavatum-pool"]
    return made


def _door() -> ConnectionPool:
    """The same of connections that know accounts and no workshop's rows. The first looks whether a newer
    version was at work in the database: raises NewerDatabase.
    """
    if "cavatum-door" not in current_app.extensions:
        made = make_pool(current_app.config["DOOR_URL"], MOST_AT_THE_DOOR)
        with made.connection() as connection:
            refuse_a_newer_one(connection)
        current_app.extensions["cavatum-door"] = made
    known: ConnectionPool = current_app.extensions["cavatum-door"]
    return known


@contextmanager
def at_the_door() -> Iterator[Connection]:
    """Before anybody is known, and for who may come in: a connection as a role of its own, which reads
    accounts and secrets' hashes and no workshop's work. What it is asked about a workshop names it.
    """
    with _door().connection() as connection:
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
        with at_the_door() as door:
            g.who = owner_here(implied_workshop(door))
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
