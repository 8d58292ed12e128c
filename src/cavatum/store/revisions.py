"""Revisions of what is changed in place: settings and bottles. Two edits made on the same revision are
joined,
as those of a piece are; what both changed is a conflict that a person settles.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from psycopg import Connection
from psycopg.types.json import Jsonb

from .merge import merge

What = Literal["workshop", "bottle"]
KEPT = 50


@dataclass
class Changed(Exception):
    """Somebody changed the same values in between. head: the revision in force; clashes: value by value."""

    head: int
    clashes: list[dict[str, Any]]


def in_force(connection: Connection, workshop_id: int, what: What, id_: int) -> int:
    row = connection.execute(
        "select coalesce(max(revision), 0) + 1 from earlier where workshop_id = %s and what = %s and id = %s",
        (workshop_id, what, id_),
    ).fetchone()
    return int(row[0]) if row else 1


def all_in_force(connection: Connection, workshop_id: int, what: What) -> dict[int, int]:
    """Of those that were ever changed; of all others it is 1."""
    rows = connection.execute(
        "select id, max(revision) + 1 from earlier where workshop_id = %s and what = %s group by id",
        (workshop_id, what),
    ).fetchall()
    return {int(id_): int(revision) for id_, revision in rows}


def keep(connection: Connection, workshop_id: int, what: What, id_: int, before: dict[str, Any]) -> int:
    """The content that is replaced. The revision of the new one. The caller holds the row's lock."""
    head = in_force(connection, workshop_id, what, id_)
    connection.execute(
        "insert into earlier (workshop_id, what, id, revision, content) values (%s, %s, %s, %s, %s)",
        (workshop_id, what, id_, head, Jsonb(before)),
    )
    connection.execute(
        "delete from earlier where workshop_id = %s and what = %s and id = %s and revision <= %s",
        (workshop_id, what, id_, head - KEPT),
    )
    return head + 1


def on(connection: Connection, workshop_id: int, what: What, id_: int, revision: int) -> dict[str, Any]:
    """What that revision was; empty where it is not kept any more: then every value that differs clashes."""
    row = connection.execute(
        "select content from earlier where workshop_id = %s and what = %s and id = %s and revision = %s",
        (workshop_id, what, id_, revision),
    ).fetchone()
    return dict(row[0]) if row else {}


def joined(base: dict[str, Any], theirs: dict[str, Any], yours: dict[str, Any], head: int) -> dict[str, Any]:
    """Both edits of the same base in one. Raises Changed where both changed a value, each to another."""
    merged, clashes = merge(base, theirs, yours)
    if clashes:
        raise Changed(head, clashes)
    return dict(merged)
