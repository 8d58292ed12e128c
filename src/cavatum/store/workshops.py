"""The workshop's settings. On loopback there is one implied workshop."""

from __future__ import annotations

from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.common.workshop import Workshop, typical_workshop
from . import revisions


def implied_workshop(connection: Connection) -> int:
    """The id of the one workshop of a server without accounts; made on first use with typical settings."""
    row = _first(connection)
    if row is None:
        # Two first requests at once: the lock lets one make it, the other then finds it.
        connection.execute("select pg_advisory_xact_lock(hashtext('cavatum first workshop'))")
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


def revision(connection: Connection, workshop_id: int) -> int:
    return revisions.in_force(connection, workshop_id, "workshop", workshop_id)


def save(connection: Connection, workshop_id: int, settings: Workshop, made_on: int) -> Workshop:
    """Settings changed on that revision, joined with what was changed since. What is in force then.

    Raises revisions.Changed where both changed the same value.
    """
    lock(connection, workshop_id)
    head, theirs = revision(connection, workshop_id), read(connection, workshop_id)
    if made_on != head:
        base = revisions.on(connection, workshop_id, "workshop", workshop_id, made_on)
        before = theirs.model_dump(mode="json")
        both = revisions.joined(base, before, settings.model_dump(mode="json"), head)
        settings = Workshop.model_validate(both)
    write(connection, workshop_id, settings, is_demo(connection, workshop_id))
    return settings


def write(connection: Connection, workshop_id: int, settings: Workshop, is_demo: bool = False) -> None:
    """Takes the place of what is in force, which is kept. Whoever read it before has to hold the lock."""
    lock(connection, workshop_id)
    row = connection.execute("select settings from workshop where id = %s", (workshop_id,)).fetchone()
    if row is not None and row[0] != settings.model_dump(mode="json"):
        revisions.keep(connection, workshop_id, "workshop", workshop_id, row[0])
    connection.execute(
        "update workshop set settings = %s, is_demo = %s, changed_at = now() where id = %s",
        (Jsonb(settings.model_dump(mode="json")), is_demo, workshop_id),
    )


def is_demo(connection: Connection, workshop_id: int) -> bool:
    row = connection.execute("select is_demo from workshop where id = %s", (workshop_id,)).fetchone()
    return bool(row and row[0])
