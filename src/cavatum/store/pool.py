"""The pool of connections, and the two errors a caller of the store has to know."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from typing import Any

import psycopg
from psycopg import Connection
from psycopg.errors import ForeignKeyViolation, LockNotAvailable
from psycopg_pool import ConnectionPool

# Two devices at one run wait for each other: on a busy machine longer than a change takes, and not so long
# that the statement is given up.
LOCK_LIMIT_MS = 12_000
STATEMENT_LIMIT = f"-c statement_timeout=15000 -c lock_timeout={LOCK_LIMIT_MS} -c timezone=UTC"
UNHEARD_S = 10
ASKED_AGAIN_S = 3  # whether the other end still lives, while nothing comes from it
CONFIRMED_WITHIN_S = 10.0
SHOP_ROLE = "cavatum_shop"  # owns nothing: row-level security holds for it (rights.sql)


class Unconfirmed(psycopg.OperationalError):
    """Not known to be kept: the database went away at the very moment, or the second one that was to have it
    too did not confirm.
    """


class Confirmed(Connection[Any]):
    """A connection whose commit is only said to be done when every database that must keep it has it.
    PostgreSQL waits for a standby without end, whatever statement_timeout says; where the wait is cancelled
    it warns and calls the commit a success: whoever goes by that says yes to what the standby may not have.
    """

    def commit(self) -> None:
        """Raises Unconfirmed."""
        warnings: list[str] = []
        patience = threading.Timer(CONFIRMED_WITHIN_S, self.cancel_safe)
        patience.daemon = True

        def hear(said: psycopg.errors.Diagnostic) -> None:
            if said.severity_nonlocalized == "WARNING":
                warnings.append(said.message_primary or "a warning without words")

        self.add_notice_handler(hear)
        patience.start()
        try:
            super().commit()
        except psycopg.OperationalError as error:
            raise Unconfirmed(str(error)) from error
        finally:
            patience.cancel()
            self.remove_notice_handler(hear)
        if warnings:
            raise Unconfirmed(f"committed with a warning: {'; '.join(warnings)}")


def make_pool(url: str, most: int = 12) -> ConnectionPool[Confirmed]:
    """Connections as the role of this address: as the shop's they see no row until within() names a workshop,
    as the door's what coming in needs. One whose other end is silent for UNHEARD_S is given up, its request
    with it, and all that lie idle: they lead to the same end.
    """

    def check(connection: Confirmed) -> None:
        try:
            ConnectionPool.check_connection(connection)
        except psycopg.OperationalError:
            pool.drain()
            raise

    pool = ConnectionPool(
        url,
        connection_class=Confirmed,
        min_size=1,
        max_size=most,
        open=True,
        timeout=10,
        check=check,
        kwargs={
            "options": STATEMENT_LIMIT,
            "tcp_user_timeout": UNHEARD_S * 1000,
            "keepalives_idle": ASKED_AGAIN_S,
            "keepalives_interval": ASKED_AGAIN_S,
        },
    )
    return pool


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


def connect_first(url: str) -> tuple[Connection, int]:
    """A connection within the server's first workshop for as long as it lasts, and that workshop: of the
    instruments. Raises OperationalError while there is none.
    """
    connection = psycopg.connect(url, autocommit=True)
    row = connection.execute(
        "select set_config('role', %s, false), set_config('cavatum.workshop', "
        "coalesce(first_workshop()::text, ''), false)",
        (SHOP_ROLE,),
    ).fetchone()
    if row is None or not row[1]:
        connection.close()
        raise psycopg.OperationalError("there is no workshop yet")
    return connection, int(row[1])


def waits_for_no_second(connection: Connection) -> None:
    """This transaction is kept when this database has it: for what may be lost with it, so that whoever only
    looks is answered while a second database is away.
    """
    connection.execute("set local synchronous_commit = local")


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
    connection.execute("select set_config('lock_timeout', %s, true)", [str(LOCK_LIMIT_MS)])
