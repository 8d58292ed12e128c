"""The workshop's settings. On loopback there is one implied workshop."""

from __future__ import annotations

from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.common.workshop import Workshop, typical_workshop


def implied_workshop(connection: Connection) -> int:
    """The id of the one workshop of a server without accounts; made on first use with typical settings."""
    row = _first(connection)
    if row is None:
        # Two first requests at once: the lock lets one make it, the other then finds it.
        connection.execute("lock table workshop in share row exclusive mode")
        row = (
            _first(connection)
            or connection.execute(
                "insert into workshop (settings) values (%s) returning id",
                (Jsonb(typical_workshop().model_dump(mode="json")),),
            ).fetchone()
        )
    assert row is not None  # an insert with returning gives its row
    return int(row[0])


def open_another(connection: Connection, settings: Workshop) -> int:
    """A further workshop on this server; its rows and those of the others never meet."""
    row = connection.execute(
        "insert into workshop (settings) values (%s) returning id", (Jsonb(settings.model_dump(mode="json")),)
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return int(row[0])


def _first(connection: Connection) -> tuple[Any, ...] | None:
    return connection.execute("select id from workshop order by id limit 1").fetchone()


def lock(connection: Connection, workshop_id: int) -> None:
    """Everybody who is about to write something new into this workshop waits until this transaction ends."""
    connection.execute("select id from workshop where id = %s for update", (workshop_id,))


def read(connection: Connection, workshop_id: int) -> Workshop:
    row = connection.execute("select settings from workshop where id = %s", (workshop_id,)).fetchone()
    assert row is not None  # the id comes from implied_workshop
    return Workshop.model_validate(row[0])


def write(connection: Connection, workshop_id: int, settings: Workshop, is_demo: bool = False) -> None:
    connection.execute(
        "update workshop set settings = %s, is_demo = %s, changed_at = now() where id = %s",
        (Jsonb(settings.model_dump(mode="json")), is_demo, workshop_id),
    )


def is_demo(connection: Connection, workshop_id: int) -> bool:
    row = connection.execute("select is_demo from workshop where id = %s", (workshop_id,)).fetchone()
    return bool(row and row[0])
