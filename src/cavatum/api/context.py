"""What every request needs: a connection from the pool, the workshop, the moment it is."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from flask import current_app, g
from psycopg import Connection
from psycopg_pool import ConnectionPool

from ..store import workshops
from ..store.pool import make_pool


def pool() -> ConnectionPool:
    """One pool a process, made on first use so that forked workers never share one."""
    if "cavatum-pool" not in current_app.extensions:
        current_app.extensions["cavatum-pool"] = make_pool(current_app.config["DATABASE_URL"])
    return current_app.extensions["cavatum-pool"]


@contextmanager
def transaction() -> Iterator[Connection]:
    """A connection whose work is committed as a whole or not at all."""
    with pool().connection() as connection:
        yield connection


def workshop_id(connection: Connection) -> int:
    """The implied workshop of a loopback server."""
    return workshops.implied_workshop(connection)


def now() -> datetime:
    """The moment of this request; tests and rehearsals set it through the app's configuration."""
    if "now" not in g:
        fixed = current_app.config.get("NOW")
        g.now = fixed() if fixed else datetime.now(UTC)
    return g.now
