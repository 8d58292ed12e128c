"""Batches on the scale: the frozen task and its events, append-only; an event sent twice is kept once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from psycopg import Connection
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.common.errors import DomainError
from ..core.mix.weigh_events import EndWeighing, WeighEvent, WeighTask
from ..core.mix.weighing import check, reduce
from .pool import NotFound

_EVENT: TypeAdapter[WeighEvent] = TypeAdapter(WeighEvent)


@dataclass(frozen=True, kw_only=True)
class StoredEvent:
    number: int
    event_id: UUID
    event: WeighEvent
    received_at: datetime


@dataclass(frozen=True, kw_only=True)
class Weighing:
    id: int
    piece_id: int | None
    pour: int
    batch: int
    task: WeighTask
    made_at: datetime
    ended_at: datetime | None
    events: list[StoredEvent]

    @property
    def plain(self) -> list[WeighEvent]:
        return [one.event for one in self.events]


def start(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    pour: int,
    batch: int,
    task: WeighTask,
    made_at: datetime | None = None,
) -> Weighing:
    """The open weighing of this batch if there is one, else a new one: two devices that begin at once share
    it. made_at: None is now.
    """
    connection.execute(
        "select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, f"weighing/{piece_id}/{pour}/{batch}")
    )
    row = (
        connection.execute(
            "select id from weighing where workshop_id = %s and piece_id = %s and pour = %s and batch = "
            "%s and ended_at is null order by id desc limit 1",
            (workshop_id, piece_id, pour, batch),
        ).fetchone()
        or connection.execute(
            "insert into weighing (workshop_id, piece_id, pour, batch, task, made_at) values (%s, %s, "
            "%s, %s, %s, coalesce(%s, now())) returning id",
            (workshop_id, piece_id, pour, batch, Jsonb(task.model_dump(mode="json")), made_at),
        ).fetchone()
    )
    assert row is not None  # an insert with returning gives its row
    return read(connection, workshop_id, row[0])


def read(connection: Connection, workshop_id: int, weighing_id: int) -> Weighing:
    row = connection.execute(
        "select id, piece_id, pour, batch, task, made_at, ended_at from weighing where workshop_id = %s "
        "and id = %s",
        (workshop_id, weighing_id),
    ).fetchone()
    if row is None:
        raise NotFound("weighing")
    events = connection.execute(
        "select number, event_id, event, received_at from weighing_event where workshop_id = %s and "
        "weighing_id = %s order by number",
        (workshop_id, weighing_id),
    ).fetchall()
    kept = [
        StoredEvent(number=number, event_id=id_, event=_EVENT.validate_python(event), received_at=at)
        for number, id_, event, at in events
    ]
    return Weighing(
        id=row[0],
        piece_id=row[1],
        pour=row[2],
        batch=row[3],
        task=WeighTask.model_validate(row[4]),
        made_at=row[5],
        ended_at=row[6],
        events=kept,
    )


def of_piece(connection: Connection, workshop_id: int, piece_id: int) -> list[Weighing]:
    rows = connection.execute(
        "select id from weighing where workshop_id = %s and piece_id = %s order by id",
        (workshop_id, piece_id),
    ).fetchall()
    return [read(connection, workshop_id, row[0]) for row in rows]


def of_run(
    connection: Connection, workshop_id: int, piece_id: int, from_at: datetime, to_at: datetime | None
) -> list[Weighing]:
    """Those of the piece that were begun while a run of it went on."""
    rows = connection.execute(
        "select id from weighing where workshop_id = %s and piece_id = %s and made_at >= %s"
        " and (%s::timestamptz is null or made_at <= %s) order by id",
        (workshop_id, piece_id, from_at, to_at, to_at),
    ).fetchall()
    return [read(connection, workshop_id, row[0]) for row in rows]


def mixed_of(
    connection: Connection, workshop_id: int, piece_id: int, since: datetime
) -> dict[tuple[int, str], tuple[float, float]]:
    """Parts A and B [kg] of all batches of a piece that were mixed since then, by pour and system."""
    found: dict[tuple[int, str], tuple[float, float]] = {}
    for one in of_run(connection, workshop_id, piece_id, since, None):
        state = reduce(one.task, one.plain)
        if state.ended == "mixed":
            a, b = found.get((one.pour, one.task.system_id), (0.0, 0.0))
            found[one.pour, one.task.system_id] = a + state.mass_a_kg, b + state.mass_b_kg
    return found


def newest(connection: Connection, workshop_id: int, most: int = 100) -> list[Weighing]:
    rows = connection.execute(
        "select id from weighing where workshop_id = %s order by id desc limit %s", (workshop_id, most)
    ).fetchall()
    return [read(connection, workshop_id, row[0]) for row in rows]


def append(
    connection: Connection, workshop_id: int, weighing_id: int, event_id: UUID, event: WeighEvent, after: int
) -> tuple[Weighing, bool]:
    """Keep an event that was made when `after` events were known; False when it is here already.

    Raises DomainError "moved-on" when another device was quicker, and what core.mix.weighing.check refuses.
    """
    connection.execute(
        "select id from weighing where workshop_id = %s and id = %s for update", (workshop_id, weighing_id)
    )
    now = read(connection, workshop_id, weighing_id)
    if any(one.event_id == event_id for one in now.events):
        return now, False
    if after != len(now.events):
        raise DomainError(
            argument="entry",
            value=f"made on {after} entries",
            allowed=f"there are {len(now.events)} by now",
            way_out="Look at what is there, then go on.",
            code="moved-on",
        )
    check(now.task, now.plain, event)
    connection.execute(
        "insert into weighing_event (workshop_id, weighing_id, number, event_id, event) values (%s, %s, "
        "%s, %s, %s)",
        (workshop_id, weighing_id, after + 1, event_id, Jsonb(event.model_dump(mode="json"))),
    )
    if isinstance(event, EndWeighing):
        connection.execute(
            "update weighing set ended_at = now() where workshop_id = %s and id = %s",
            (workshop_id, weighing_id),
        )
    return read(connection, workshop_id, weighing_id), True


def remove_of_piece(connection: Connection, workshop_id: int, piece_id: int) -> None:
    connection.execute(
        "delete from weighing where workshop_id = %s and piece_id = %s", (workshop_id, piece_id)
    )


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from weighing where workshop_id = %s", (workshop_id,))
