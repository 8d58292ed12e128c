"""Bottles and what was booked to them. A bottle's weight is the sum of its bookings, and never below zero."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.purchase.stock import Bottle, OnShelf, booked
from . import revisions
from .pool import NotFound
from .rows import record

_LISTED = (
    "select b.id, b.content, coalesce(sum(m.kg), 0), (select coalesce(max(e.revision), 0) + 1 from earlier e"
    " where e.workshop_id = b.workshop_id and e.what = 'bottle' and e.id = b.id)"
    " from bottle b left join bottle_move m on m.bottle_id = b.id"
    " where b.workshop_id = %s and b.gone_at is null"
)


@dataclass(frozen=True, kw_only=True)
class Move:
    kg: float
    why: str
    weighing_id: int | None
    made_at: datetime


def listed(connection: Connection, workshop_id: int) -> list[OnShelf]:
    rows = connection.execute(_LISTED + " group by b.id order by b.id", (workshop_id,)).fetchall()
    return [_on_shelf(row) for row in rows]


def _on_shelf(row: tuple[Any, ...]) -> OnShelf:
    id_, content, left, revision = row
    return OnShelf(
        id=id_, bottle=Bottle.model_validate(content), left_kg=max(round(left, 6), 0.0), revision=revision
    )


def read(connection: Connection, workshop_id: int, bottle_id: int) -> OnShelf:
    row = connection.execute(_LISTED + " and b.id = %s group by b.id", (workshop_id, bottle_id)).fetchone()
    if row is None:
        raise NotFound("bottle")
    return _on_shelf(row)


def add(connection: Connection, workshop_id: int, bottle: Bottle, left_kg: float) -> OnShelf:
    row = connection.execute(
        "insert into bottle (workshop_id, content) values (%s, %s) returning id",
        (workshop_id, Jsonb(bottle.model_dump(mode="json"))),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    _move(connection, workshop_id, row[0], left_kg, "put on the shelf", None)
    return read(connection, workshop_id, row[0])


def change(connection: Connection, workshop_id: int, bottle_id: int, bottle: Bottle, made_on: int) -> OnShelf:
    """A bottle changed on that revision, joined with what was changed since.

    Raises revisions.Changed where both changed the same value.
    """
    connection.execute(
        "select id from bottle where workshop_id = %s and id = %s for update", (workshop_id, bottle_id)
    )
    theirs = read(connection, workshop_id, bottle_id).bottle
    head = revisions.in_force(connection, workshop_id, "bottle", bottle_id)
    before = theirs.model_dump(mode="json")
    if made_on != head:
        base = revisions.on(connection, workshop_id, "bottle", bottle_id, made_on)
        both = revisions.joined(base, before, bottle.model_dump(mode="json"), head)
        bottle = Bottle.model_validate(both)
    if bottle != theirs:
        revisions.keep(connection, workshop_id, "bottle", bottle_id, before)
    connection.execute(
        "update bottle set content = %s where workshop_id = %s and id = %s",
        (Jsonb(bottle.model_dump(mode="json")), workshop_id, bottle_id),
    )
    return read(connection, workshop_id, bottle_id)


def take(
    connection: Connection,
    workshop_id: int,
    bottle_id: int,
    kg: float,
    why: str,
    weighing_id: int | None = None,
) -> OnShelf:
    """Book what was taken. Raises DomainError below zero; the row is locked, so that two at once cannot both
    take the last.
    """
    connection.execute(
        "select id from bottle where workshop_id = %s and id = %s for update", (workshop_id, bottle_id)
    )
    booked(read(connection, workshop_id, bottle_id).left_kg, kg)
    _move(connection, workshop_id, bottle_id, -kg, why, weighing_id)
    return read(connection, workshop_id, bottle_id)


def take_what_is_there(
    connection: Connection, workshop_id: int, bottle_id: int, kg: float, why: str, weighing_id: int
) -> float:
    """Book what was taken, as far as the bottle's bookings go; what they said was left before. The row is
    locked first, so that what is read is what is booked from.

    Raises NotFound for a bottle that is off the shelf.
    """
    connection.execute(
        "select id from bottle where workshop_id = %s and id = %s for update", (workshop_id, bottle_id)
    )
    left = read(connection, workshop_id, bottle_id).left_kg
    _move(connection, workshop_id, bottle_id, -min(kg, left), why, weighing_id)
    return left


def weigh_anew(connection: Connection, workshop_id: int, bottle_id: int, left_kg: float, why: str) -> OnShelf:
    """What is really left, weighed: the difference is booked, so that the history shows it."""
    connection.execute(
        "select id from bottle where workshop_id = %s and id = %s for update", (workshop_id, bottle_id)
    )
    _move(
        connection,
        workshop_id,
        bottle_id,
        left_kg - read(connection, workshop_id, bottle_id).left_kg,
        why,
        None,
    )
    return read(connection, workshop_id, bottle_id)


def remove(connection: Connection, workshop_id: int, bottle_id: int) -> None:
    read(connection, workshop_id, bottle_id)
    connection.execute(
        "update bottle set gone_at = now() where workshop_id = %s and id = %s", (workshop_id, bottle_id)
    )


def bring_back(connection: Connection, workshop_id: int, bottle_id: int) -> OnShelf:
    connection.execute(
        "update bottle set gone_at = null where workshop_id = %s and id = %s", (workshop_id, bottle_id)
    )
    return read(connection, workshop_id, bottle_id)


def moves(connection: Connection, workshop_id: int, bottle_id: int) -> list[Move]:
    rows = connection.execute(
        "select kg, why, weighing_id, made_at from bottle_move where workshop_id = %s and bottle_id = %s "
        "order by id desc limit 200",
        (workshop_id, bottle_id),
    ).fetchall()
    return [record(Move, row) for row in rows]


def _move(
    connection: Connection, workshop_id: int, bottle_id: int, kg: float, why: str, weighing_id: int | None
) -> None:
    connection.execute(
        "insert into bottle_move (workshop_id, bottle_id, kg, why, weighing_id) values (%s, %s, %s, %s, %s)",
        (workshop_id, bottle_id, kg, why, weighing_id),
    )


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from bottle where workshop_id = %s", (workshop_id,))
