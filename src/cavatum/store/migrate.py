"""Brings a database up to date with yoyo: numbered SQL files, forward only."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import psycopg

from . import addresses

FOLDER = Path(__file__).with_name("migrations")
RIGHTS = Path(__file__).with_name("rights.sql")
ADVISORY_LOCK = 0x43415641  # any number of our own


class NewerDatabase(Exception):
    """A newer Cavatum has worked in this database: an older one does not understand what it holds."""


def unknown_changes(connection: psycopg.Connection) -> list[str]:
    """The numbered changes this database has and this program does not know."""
    if connection.execute("select to_regclass('_yoyo_migration')").fetchone() == (None,):
        return []
    known = {one.stem for one in FOLDER.glob("*.sql")}
    rows = connection.execute("select migration_id from _yoyo_migration order by 1").fetchall()
    return [name for (name,) in rows if name not in known]


def refuse_a_newer_one(connection: psycopg.Connection) -> None:
    """Raises NewerDatabase."""
    unknown = unknown_changes(connection)
    if unknown:
        raise NewerDatabase(
            f"A newer Cavatum has worked in this database (it has the change {unknown[-1]}, which this one "
            "does not know). Start that newer one, or restore a backup from before it."
        )


def migrate(url: str, before: Callable[[], None] | None = None) -> int:
    """Apply what is missing; returns how many. An advisory lock lets one process work; it ends with its
    connection.

    before  called once before anything changes in a database that is in use: makes a backup; what it raises
            keeps everything as it was

    Raises NewerDatabase.

    yoyo's own lock is a table row that outlives a killed process, so it is broken once the advisory lock is
    held.
    """
    from yoyo import get_backend, read_migrations

    with psycopg.connect(url, autocommit=True) as guard:
        guard.execute("select pg_advisory_lock(%s)", (ADVISORY_LOCK,))
        refuse_a_newer_one(guard)
        backend = get_backend(url.replace("postgresql://", "postgresql+psycopg://", 1))
        backend.break_lock()
        with backend.lock():
            missing = backend.to_apply(read_migrations(str(FOLDER)))
            if before is not None and missing and _is_in_use(guard):
                before()
            backend.apply_migrations(missing)
        backend.connection.close()
        changes = len(missing) + _queue_tables(url)
        addresses.fill_in(guard)
        guard.execute(RIGHTS.read_text())
        return changes


def _is_in_use(connection: psycopg.Connection) -> bool:
    return connection.execute("select to_regclass('workshop')").fetchone() != (None,)


def _queue_tables(url: str) -> int:
    """The tables of the job queue, procrastinate's own SQL, laid down once; its upgrades come with a change
    of its version.
    """
    import procrastinate

    with psycopg.connect(url, autocommit=True) as connection:
        if connection.execute("select to_regclass('procrastinate_jobs')").fetchone() != (None,):
            return 0
    app = procrastinate.App(
        connector=procrastinate.SyncPsycopgConnector(conninfo=url, min_size=0, max_size=1)
    )
    with app.open():
        app.schema_manager.apply_schema()
    return 1
