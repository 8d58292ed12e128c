"""The pool of connections, and the two errors a caller of the store has to know."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from typing import Any

from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, LockNotAvailable
from psycopg_pool import ConnectionPool

STATEMENT_LIMIT = "-c statement_timeout=15000 -c lock_timeout=5000 -c timezone=UTC"
UNHEARD_S = 20
SHOP_ROLE = "cavatum_shop"  # owns nothing: row-level security holds for it (rights.sql)


def make_pool(url: str, most: int = 12) -> ConnectionPool:
    """Connections that see no row until within() names a workshop. One whose other end is silent for
    UNHEARD_S is given up, and its request with it.
    """
    return ConnectionPool(
        url,
        min_size=1,
        max_size=most,
        open=True,
        timeout=10,
        check=ConnectionPool.check_connection,
        kwargs={
            "options": f"{STATEMENT_LIMIT} -c role={SHOP_ROLE}",
            "tcp_user_timeout": UNHEARD_S * 1000,
            "keepalives_idle": UNHEARD_S,
        },
    )


def within(connection: Connection, workshop_id: int) -> None:
    """Until this transaction ends the connection sees this workshop's rows and no others."""
    connection.execute(
        "select set_config('role', %s, true), set_config('cavatum.workshop', %s, true)",
        (SHOP_ROLE, str(workshop_id)),
    )


def within_first(connection: Connection) -> int | None:
    """The same for the server's first workshop, in one round trip; None while there is none."""
    row = connection.execute(
        "select set_config('role', %s, true), set_config('cavatum.workshop', "
        "coalesce(first_workshop()::text, ''), true)",
        (SHOP_ROLE,),
    ).fetchone()
    return int(row[1]) if row and row[1] else None


def stay_within(connection: Connection, workshop_id: int) -> None:
    """The same for as long as the connection lasts: a job's."""
    connection.execute(
        "select set_config('role', %s, false), set_config('cavatum.workshop', %s, false)",
        (SHOP_ROLE, str(workshop_id)),
    )


def at_the_door(connection: Connection) -> None:
    """Until within() or the transaction's end the connection works as the owner: to find out who somebody is
    (door.py), for nothing else.
    """
    connection.execute("set local role none")


class NotFound(Exception):
    """No such row in this workshop."""


@dataclass
class Conflict(Exception):
    """Somebody saved in between. `document` joins both edits with theirs where they clash; `clashes` holds
    what differs.
    """

    head: int
    document: dict[str, Any]
    clashes: list[dict[str, Any]]


@contextmanager
def unless_busy(connection: Connection) -> Iterator[None]:
    """Work on what can be made anew: left undone when another request is at the very same rows, so that
    nobody waits for a cache, and when what it belongs to was removed meanwhile.
    """
    with suppress(LockNotAvailable, ForeignKeyViolation), connection.transaction():
        connection.execute("set local lock_timeout = '50ms'")
        yield
    connection.execute("set local lock_timeout = '5s'")
