"""Brings a database up to date with yoyo: numbered SQL files, forward only."""

from __future__ import annotations

from pathlib import Path

import psycopg

FOLDER = Path(__file__).with_name("migrations")
RIGHTS = Path(__file__).with_name("rights.sql")
ADVISORY_LOCK = 0x43415641  # any number of our own


def migrate(url: str) -> int:
    """Apply what is missing; returns how many. An advisory lock lets one process work; it ends with its
    connection.

    yoyo's own lock is a table row that outlives a killed process, so it is broken once the advisory lock is
    held.
    """
    from yoyo import get_backend, read_migrations

    with psycopg.connect(url, autocommit=True) as guard:
        guard.execute("select pg_advisory_lock(%s)", (ADVISORY_LOCK,))
        backend = get_backend(url.replace("postgresql://", "postgresql+psycopg://", 1))
        backend.break_lock()
        with backend.lock():
            missing = backend.to_apply(read_migrations(str(FOLDER)))
            backend.apply_migrations(missing)
        backend.connection.close()
        changes = len(missing) + _queue_tables(url)
        guard.execute(RIGHTS.read_text())
        return changes


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
