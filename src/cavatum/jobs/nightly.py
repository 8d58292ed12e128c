"""Backups every night: the newest of each of the last seven days that have one, and of each of the four weeks
before that have one. The rest go.

Counted among the backups themselves and not from today: a clock that jumps a year ahead for an hour, or a
shop shut for a season, takes none away.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import psycopg

from ..machine.packages import find_postgres_bin
from ..store.backup import BackupError, make

DAYS, WEEKS = 7, 4
BEFORE, BEFORE_KEPT = "before-a-new-version-", 3
NAME = re.compile(r"^cavatum-(\d{4})-(\d{2})-(\d{2})T\d{6}\.backup$")


def postgres_programs(url: str | None = None) -> Path:
    """Those of the server's own version where they are installed, else the newest: what a newer pg_restore
    writes an older server may not understand. Raises BackupError where there are none.
    """
    folder = None
    if url is not None:
        with psycopg.connect(url) as connection:
            folder = find_postgres_bin(connection.info.server_version // 10_000)
    folder = folder or find_postgres_bin()
    if folder is None:
        raise BackupError("PostgreSQL's programs are not installed; run: apt-get install -y postgresql")
    return folder


def name_of(now: datetime) -> str:
    return f"cavatum-{now.astimezone(UTC):%Y-%m-%dT%H%M%S}.backup"


def day_of(name: str) -> date | None:
    found = NAME.match(name)
    return date(*(int(part) for part in found.groups())) if found else None


def to_remove(names: Sequence[str]) -> list[str]:
    """Of the files that this made; others are left alone."""
    dated = sorted(((day, name) for name in names if (day := day_of(name)) is not None), reverse=True)
    of_days: dict[date, str] = {}
    of_weeks: dict[tuple[int, int], str] = {}
    for day, name in dated:
        if day in of_days or len(of_days) < DAYS:
            of_days.setdefault(day, name)
        else:
            of_weeks.setdefault(day.isocalendar()[:2], name)
    kept = {*of_days.values(), *list(of_weeks.values())[:WEEKS]}
    return [name for _, name in dated if name not in kept]


def due(names: Sequence[str], now: datetime) -> bool:
    """None of the last twenty hours. One from the future was made by a wrong clock: it does not hold up those
    to come.
    """
    return not any(
        name_of(now - timedelta(hours=20)) <= name <= name_of(now) for name in names if day_of(name)
    )


def before_changes(url: str, folder: Path, now: datetime) -> None:
    """A backup before a new version changes the database, tried like every other; the last three stay.
    Raises BackupError.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    make(url, folder / f"{BEFORE}{name_of(now)}", postgres_programs(url))
    for old in sorted(folder.glob(f"{BEFORE}*.backup"))[:-BEFORE_KEPT]:
        old.unlink(missing_ok=True)


def tonight(url: str, folder: Path, programs: Path, now: datetime) -> Path | None:
    """Makes and tries one where it is due, then clears away. Returns the file, None where none was due.
    Raises BackupError; then nothing is removed.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    names = [one.name for one in folder.iterdir()]
    if not due(names, now):
        return None
    file = folder / name_of(now)
    make(url, file, programs)
    for name in to_remove([one.name for one in folder.iterdir()]):
        (folder / name).unlink(missing_ok=True)
    return file
