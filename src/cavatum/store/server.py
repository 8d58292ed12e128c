"""The server as a whole, above workshops: does it answer, is it as new as the code, how much is there."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from psycopg import Connection

FOLDER = Path(__file__).with_name("migrations")


@dataclass(frozen=True, kw_only=True)
class Figures:
    jobs: dict[str, int]
    runs_open: int
    bytes: int
    standbys: int


def answers(connection: Connection) -> None:
    """Returns when the database answers, raises psycopg's error when it does not."""
    connection.execute("select 1")


def changes(connection: Connection) -> tuple[int, int]:
    """(applied, known) of the numbered changes; more than known where a newer version was at work."""
    row = connection.execute("select count(*) from _yoyo_migration").fetchone()
    return (row[0] if row else 0), len(list(FOLDER.glob("*.sql")))


def figures(connection: Connection) -> Figures:
    rows = connection.execute("select state, count(*) from job group by state").fetchall()
    jobs = {str(state): int(count) for state, count in rows}
    row = connection.execute(
        "select (select count(*) from run where ended_at is null and rehearsal is null), "
        "pg_database_size(current_database()), (select count(*) from pg_stat_replication)"
    ).fetchone()
    assert row is not None  # a select without from gives one row
    counted = {state: jobs.get(state, 0) for state in ("waiting", "running", "failed")}
    return Figures(jobs=counted, runs_open=row[0], bytes=row[1], standbys=row[2])
