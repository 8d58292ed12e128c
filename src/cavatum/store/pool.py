"""The pool of connections, and the two errors a caller of the store has to know."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from typing import Any

from psycopg import Connection
from psycopg.errors import LockNotAvailable
from psycopg_pool import ConnectionPool

STATEMENT_LIMIT = "-c statement_timeout=15000 -c lock_timeout=5000 -c timezone=UTC"


def make_pool(url: str, most: int = 12) -> ConnectionPool:
    return ConnectionPool(url, min_size=1, max_size=most, open=True, timeout=10, kwargs={"options": STATEMENT_LIMIT})


class NotFound(Exception):
    """No such row in this workshop."""


@dataclass
class Conflict(Exception):
    """Somebody saved in between. `document` joins both edits with theirs where they clash; `clashes` holds what differs."""

    head: int
    document: dict[str, Any]
    clashes: list[dict[str, Any]]


@contextmanager
def unless_busy(connection: Connection) -> Iterator[None]:
    """Work on what can be made anew: left undone when another request is at the very same rows, so that nobody waits for a cache."""
    with suppress(LockNotAvailable), connection.transaction():
        connection.execute("set local lock_timeout = '50ms'")
        yield
    connection.execute("set local lock_timeout = '5s'")
