"""The last reading of each kind of instrument."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb


def keep_reading(
    connection: Connection, workshop_id: int, kind: str, name: str, reading: dict[str, Any]
) -> None:
    connection.execute(
        "insert into device_reading (workshop_id, kind, name, reading) values (%s, %s, %s, %s)"
        " on conflict (workshop_id, kind) do update set name = excluded.name, reading = "
        "excluded.reading, read_at = now()",
        (workshop_id, kind, name, Jsonb(reading)),
    )


def newest(
    connection: Connection, workshop_id: int, kind: str
) -> tuple[str, dict[str, Any], datetime, float] | None:
    """Name, reading, moment and age in seconds by the database's clock."""
    return connection.execute(
        "select name, reading, read_at, extract(epoch from now() - read_at)::float8 from device_reading "
        "where workshop_id = %s and kind = %s",
        (workshop_id, kind),
    ).fetchone()


def lock(connection: Connection, workshop_id: int, kind: str) -> None:
    """What one instrument says is put together by one request at a time."""
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, f"device/{kind}"))


def ask(connection: Connection, workshop_id: int, kind: str, command: str) -> None:
    """Leave a command for the process that owns the port."""
    connection.execute(
        "insert into device_command (workshop_id, kind, command) values (%s, %s, %s)",
        (workshop_id, kind, command),
    )


def take_commands(connection: Connection, workshop_id: int, kind: str) -> list[str]:
    """All that wait, oldest first, each handed out once; what is older than ten seconds is stale and thrown
    away.
    """
    rows = connection.execute(
        "delete from device_command where workshop_id = %s and kind = %s returning id, command, made_at "
        "> now() - interval '10 seconds'",
        (workshop_id, kind),
    ).fetchall()
    return [command for _, command, fresh in sorted(rows) if fresh]
