"""The last reading of each kind of instrument."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb


def keep_reading(connection: Connection, workshop_id: int, kind: str, name: str, reading: dict[str, Any]) -> None:
    connection.execute(
        "insert into device_reading (workshop_id, kind, name, reading) values (%s, %s, %s, %s)"
        " on conflict (workshop_id, kind) do update set name = excluded.name, reading = excluded.reading, read_at = now()",
        (workshop_id, kind, name, Jsonb(reading)),
    )


def newest(connection: Connection, workshop_id: int, kind: str) -> tuple[str, dict[str, Any], datetime, float] | None:
    """Name, reading, moment and age in seconds by the database's clock."""
    return connection.execute(
        "select name, reading, read_at, extract(epoch from now() - read_at)::float8 from device_reading where workshop_id = %s and kind = %s",
        (workshop_id, kind),
    ).fetchone()
