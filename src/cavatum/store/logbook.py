"""The logbook: runs in figures, what they taught, what was set aside, and trials."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.learn.learned import Learned
from ..core.learn.observe import Observation
from ..core.learn.record_model import RunRecord
from ..core.learn.trials import Trial
from .pool import NotFound
from .rows import record

STALE_AT_ONCE = 40


@dataclass(frozen=True, kw_only=True)
class Entry:
    """One run in the list."""

    run_id: int
    piece: str
    kind_of_work: str
    begun_at: datetime
    ended_at: datetime | None
    stars: int | None
    troubled: bool
    record: dict[str, Any]


def keep(
    connection: Connection,
    workshop_id: int,
    record: RunRecord,
    observations: Sequence[Observation],
    words: str,
) -> None:
    connection.execute(
        "insert into run_log (run_id, workshop_id, begun_at, ended_at, piece, kind_of_work, stars, "
        "troubled, words, record, observations)"
        " values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) on conflict (run_id) do update set "
        "ended_at = excluded.ended_at,"
        " stars = excluded.stars, troubled = excluded.troubled, words = excluded.words, record = "
        "excluded.record, observations = excluded.observations,"
        " made_at = clock_timestamp()",
        (
            record.run_id,
            workshop_id,
            record.begun_at,
            record.ended_at,
            record.piece,
            record.kind_of_work,
            record.stars,
            bool(record.mishaps or record.troubles),
            words.lower(),
            Jsonb(record.model_dump(mode="json")),
            Jsonb([one.model_dump(mode="json") for one in observations]),
        ),
    )


def stale(connection: Connection, workshop_id: int) -> list[int]:
    """Runs (no rehearsals) whose entry is missing or older than their events."""
    rows = connection.execute(
        "select r.id from run r left join run_log l on l.run_id = r.id where r.workshop_id = %s and "
        "r.rehearsal is null"
        " and (l.run_id is null or r.touched_at > l.made_at) order by r.id desc limit %s",
        (workshop_id, STALE_AT_ONCE),
    ).fetchall()
    return [row[0] for row in rows]


def search(
    connection: Connection,
    workshop_id: int,
    words: Sequence[str],
    kind: str | None,
    stars: int | None,
    troubled: bool,
    limit: int,
    offset: int,
) -> tuple[list[Entry], int]:
    """Newest first; every word has to stand in the entry."""
    rows = connection.execute(
        "select run_id, piece, kind_of_work, begun_at, ended_at, stars, troubled, record, count(*) over "
        "() from run_log where workshop_id = %s"
        " and words like all(%s) and (%s::text is null or kind_of_work = %s) and (%s::int is null or "
        "stars >= %s) and (not %s or troubled)"
        " order by begun_at desc, run_id desc limit %s offset %s",
        (
            workshop_id,
            [f"%{_plain(word)}%" for word in words] or ["%"],
            kind,
            kind,
            stars,
            stars,
            troubled,
            limit,
            offset,
        ),
    ).fetchall()
    return [record(Entry, row[:8]) for row in rows], rows[0][8] if rows else 0


def _plain(word: str) -> str:
    """% and _ are letters here."""
    return word.lower().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def observations(connection: Connection, workshop_id: int) -> list[Observation]:
    """Of finished runs only: an open one may still be corrected."""
    rows = connection.execute(
        "select o from run_log, jsonb_array_elements(observations) o where workshop_id = %s and ended_at "
        "is not null order by ended_at",
        (workshop_id,),
    ).fetchall()
    return [Observation.model_validate(row[0]) for row in rows]


def set_aside(connection: Connection, workshop_id: int) -> set[tuple[str, str]]:
    return {
        (code, key)
        for code, key in connection.execute(
            "select code, key from learned_aside where workshop_id = %s", (workshop_id,)
        ).fetchall()
    }


def put_aside(connection: Connection, workshop_id: int, code: str, key: str, aside: bool) -> None:
    if aside:
        connection.execute(
            "insert into learned_aside (workshop_id, code, key) values (%s, %s, %s) on conflict do nothing",
            (workshop_id, code, key),
        )
    else:
        connection.execute(
            "delete from learned_aside where workshop_id = %s and code = %s and key = %s",
            (workshop_id, code, key),
        )


def stamp(connection: Connection, workshop_id: int) -> str:
    """Names the state that what was learned rests on."""
    row = connection.execute(
        "select (select concat(count(*), '/', max(made_at)) from run_log where workshop_id = %s and "
        "ended_at is not null), "
        "(select concat(count(*), '/', max(made_at)) from learned_aside where workshop_id = %s)",
        (workshop_id, workshop_id),
    ).fetchone()
    assert row is not None  # a select without from gives one row
    return f"{row[0]} {row[1]}"


def kept_learned(connection: Connection, workshop_id: int, stamp_now: str) -> list[Learned] | None:
    row = connection.execute(
        "select value from learned where workshop_id = %s and stamp = %s", (workshop_id, stamp_now)
    ).fetchone()
    return [Learned.model_validate(one) for one in row[0]] if row else None


def keep_learned(connection: Connection, workshop_id: int, stamp_now: str, found: Sequence[Learned]) -> None:
    connection.execute(
        "insert into learned (workshop_id, stamp, value) values (%s, %s, %s) on conflict (workshop_id) "
        "do update set stamp = excluded.stamp,"
        " value = excluded.value",
        (workshop_id, stamp_now, Jsonb([one.model_dump(mode="json") for one in found])),
    )


def trials(connection: Connection, workshop_id: int) -> list[tuple[int, Trial, datetime]]:
    rows = connection.execute(
        "select id, trial, made_at from trial where workshop_id = %s and removed_at is null order by id "
        "desc limit 100",
        (workshop_id,),
    )
    return [(id_, Trial.model_validate(trial), made_at) for id_, trial, made_at in rows.fetchall()]


def add_trial(connection: Connection, workshop_id: int, trial: Trial) -> int:
    row = connection.execute(
        "insert into trial (workshop_id, trial) values (%s, %s) returning id",
        (workshop_id, Jsonb(trial.model_dump(mode="json"))),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return int(row[0])


def change_trial(connection: Connection, workshop_id: int, trial_id: int, trial: Trial) -> None:
    done = connection.execute(
        "update trial set trial = %s where workshop_id = %s and id = %s and removed_at is null",
        (Jsonb(trial.model_dump(mode="json")), workshop_id, trial_id),
    )
    if done.rowcount == 0:
        raise NotFound("trial")


def remove_trial(connection: Connection, workshop_id: int, trial_id: int) -> None:
    connection.execute(
        "update trial set removed_at = now() where workshop_id = %s and id = %s", (workshop_id, trial_id)
    )


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from trial where workshop_id = %s", (workshop_id,))
    connection.execute("delete from learned_aside where workshop_id = %s", (workshop_id,))
    connection.execute("delete from learned where workshop_id = %s", (workshop_id,))
