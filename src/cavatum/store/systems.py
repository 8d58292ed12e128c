"""Resin systems: immutable versions of a sheet."""

from __future__ import annotations

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.resin.system import System
from . import revisions
from .pool import NotFound


def newest(connection: Connection, workshop_id: int) -> dict[str, System]:
    """The newest version of every sheet on the shelf, by id."""
    rows = connection.execute(
        "select distinct on (system_id) sheet, is_retired from system_version where workshop_id = %s"
        " order by system_id, version desc",
        (workshop_id,),
    ).fetchall()
    sheets = [System.model_validate(sheet) for sheet, retired in rows if not retired]
    return {sheet.id: sheet for sheet in sorted(sheets, key=lambda one: one.name)}


def versions(connection: Connection, workshop_id: int, system_id: str) -> list[System]:
    rows = connection.execute(
        "select sheet from system_version where workshop_id = %s and system_id = %s order by version desc",
        (workshop_id, system_id),
    ).fetchall()
    if not rows:
        raise NotFound(f"resin system {system_id}")
    return [System.model_validate(row[0]) for row in rows]


def add_version(connection: Connection, workshop_id: int, sheet: System, *, retired: bool = False) -> System:
    """Store a sheet as the next version of its id. Two at once: the primary key lets one through, the other
    waits and counts on.
    """
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, sheet.id))
    row = connection.execute(
        "select coalesce(max(version), 0) from system_version where workshop_id = %s and system_id = %s",
        (workshop_id, sheet.id),
    ).fetchone()
    numbered = sheet.model_copy(update={"version": (row[0] if row else 0) + 1})
    connection.execute(
        "insert into system_version (workshop_id, system_id, version, sheet, is_retired) values (%s, %s, "
        "%s, %s, %s)",
        (workshop_id, sheet.id, numbered.version, Jsonb(numbered.model_dump(mode="json")), retired),
    )
    return numbered


def change(connection: Connection, workshop_id: int, sheet: System) -> System:
    """The next version of a sheet, made on sheet.version and joined with what was changed since.

    Raises NotFound, and revisions.Changed where both changed the same value.
    """
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, sheet.id))
    known = versions(connection, workshop_id, sheet.id)
    if sheet.version != known[0].version:
        base = next((one for one in known if one.version == sheet.version), None)
        theirs, yours = (one.model_dump(mode="json", exclude={"version"}) for one in (known[0], sheet))
        before = base.model_dump(mode="json", exclude={"version"}) if base else {}
        both = revisions.joined(before, theirs, yours, known[0].version)
        if both == theirs:
            return known[0]
        sheet = System.model_validate(both)
    return add_version(connection, workshop_id, sheet)


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from system_version where workshop_id = %s", (workshop_id,))
