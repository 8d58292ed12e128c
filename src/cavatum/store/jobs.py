"""Jobs: what was asked for, how far it is, what came of it. One row for the same inputs, one result."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from .pool import NotFound
from .rows import record

KEPT_A_WORKSHOP = 400


@dataclass(frozen=True, kw_only=True)
class LongWork:
    id: int
    kind: str
    state: str
    progress: float
    says: str
    result: dict[str, Any] | None
    attempt: int
    inputs: dict[str, Any]
    workshop_id: int

    @property
    def is_over(self) -> bool:
        return self.state in ("done", "failed", "ended")


def ask(connection: Connection, workshop_id: int, kind: str, inputs: dict[str, Any]) -> tuple[LongWork, bool]:
    """The job of these inputs, and whether it is to be queued: it is new, or it failed or was ended before
    and is wanted again.
    """
    key = hashlib.sha256(json.dumps(inputs, sort_keys=True, separators=(",", ":")).encode()).hexdigest()
    row = connection.execute(
        "insert into job (workshop_id, kind, input_hash, inputs) values (%s, %s, %s, %s) on conflict "
        "(workshop_id, kind, input_hash) do update"
        " set state = 'waiting', progress = 0, says = '', asked_to_end = false, touched_at = now() where "
        "job.state in ('failed', 'ended')"
        " returning id, kind, state, progress, says, result, attempt, inputs, workshop_id",
        (workshop_id, kind, key, Jsonb(inputs)),
    ).fetchone()
    if row is not None:
        _forget_old(connection, workshop_id)
        return record(LongWork, row), True
    row = connection.execute(
        "select id, kind, state, progress, says, result, attempt, inputs, workshop_id from job"
        " where workshop_id = %s and kind = %s and input_hash = %s",
        (workshop_id, kind, key),
    ).fetchone()
    assert row is not None  # the conflict above is with this very row
    return record(LongWork, row), False


def _forget_old(connection: Connection, workshop_id: int) -> None:
    connection.execute(
        "delete from job where workshop_id = %s and state in ('done', 'failed', 'ended') and id not in"
        " (select id from job where workshop_id = %s order by id desc limit %s)",
        (workshop_id, workshop_id, KEPT_A_WORKSHOP),
    )


def read(connection: Connection, workshop_id: int, job_id: int) -> LongWork:
    row = connection.execute(
        "select id, kind, state, progress, says, result, attempt, inputs, workshop_id from job where "
        "workshop_id = %s and id = %s",
        (workshop_id, job_id),
    ).fetchone()
    if row is None:
        raise NotFound(f"job {job_id}")
    return record(LongWork, row)


def end(connection: Connection, workshop_id: int, job_id: int) -> LongWork:
    """Asks a job to end: a waiting one at once, a running one at its next word."""
    connection.execute(
        "update job set asked_to_end = true, state = case when state = 'waiting' then 'ended' else state "
        "end, touched_at = now()"
        " where workshop_id = %s and id = %s and state in ('waiting', 'running')",
        (workshop_id, job_id),
    )
    return read(connection, workshop_id, job_id)


def take(connection: Connection, job_id: int) -> LongWork | None:
    """A worker takes a job, with an attempt of its own; None where nothing is left to do. A job of a worker
    that died is taken over.
    """
    row = connection.execute(
        "update job set state = 'running', attempt = attempt + 1, touched_at = now() where id = %s and "
        "state in ('waiting', 'running')"
        " returning id, kind, state, progress, says, result, attempt, inputs, workshop_id",
        (job_id,),
    ).fetchone()
    return record(LongWork, row) if row else None


def tell(connection: Connection, job: LongWork, progress: float) -> bool:
    """How far it is; False when it shall end: somebody asked, or another worker took it over."""
    row = connection.execute(
        "update job set progress = %s, touched_at = now() where id = %s and attempt = %s and state = "
        "'running' returning asked_to_end",
        (progress, job.id, job.attempt),
    ).fetchone()
    return row is not None and not row[0]


def say_alive(connection: Connection, job: LongWork) -> bool:
    """Says that whoever holds this attempt still works at it; False when nobody's word is wanted any more."""
    said = connection.execute(
        "update job set touched_at = now() where id = %s and attempt = %s and state = 'running'",
        (job.id, job.attempt),
    )
    return said.rowcount == 1


def finish(
    connection: Connection, job: LongWork, state: str, result: dict[str, Any] | None, says: str = ""
) -> bool:
    """Stores what came of it, once: only the attempt that still holds the job may. True when it was
    stored.
    """
    done = connection.execute(
        "update job set state = %s, result = %s, says = %s, progress = case when %s = 'done' then 1 else "
        "progress end, touched_at = now()"
        " where id = %s and attempt = %s and state = 'running'",
        (state, Jsonb(result), says, state, job.id, job.attempt),
    )
    return done.rowcount == 1


def left_behind(connection: Connection, seconds: float) -> list[int]:
    """Jobs that wait or run without a word for so long. A word from the future was said before the clock was
    put back: it counts for nothing.
    """
    rows = connection.execute(
        "select id from job where state in ('waiting', 'running') and abs(extract(epoch from now() - "
        "touched_at)) > %s order by id limit 100",
        (seconds,),
    )
    return [row[0] for row in rows.fetchall()]


def is_mine_alone(connection: Connection, number: int) -> bool:
    """True when nobody else holds this lock; it is held until the connection ends."""
    row = connection.execute("select pg_try_advisory_lock(%s)", (number,)).fetchone()
    return bool(row and row[0])
