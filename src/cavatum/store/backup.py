"""A backup as one file: PostgreSQL's own dump beside a manifest with its checksum and a fingerprint of every
table at that very moment.

Made from one exported snapshot, so that dump and fingerprints speak of the same rows while work goes on. It
counts only once it was restored into a scratch database of another time zone, other styles and another
collation, as the machine that takes over may have, and every table's fingerprint was the same: count and MD5
over the rows as text, in the order of that text; dates, times and numbers are written in one style (AS_TEXT)
wherever the server stands.
"""

from __future__ import annotations

import hashlib
import json
import os
import secrets
import subprocess
import zipfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import psycopg
from psycopg import sql
from psycopg.conninfo import conninfo_to_dict, make_conninfo

from .unsound import UNSOUND_ZIP

DUMP, MANIFEST = "cavatum.dump", "manifest.json"
FORMAT = "cavatum-backup"
MOST_MANIFEST = 1 << 20
CHUNK = 1 << 20
MAINTENANCE = "postgres"  # a database that every cluster has
# How rows are written as text to be compared. Files of version 1 were compared as their server happened to.
AS_TEXT = {
    "TimeZone": "UTC",
    "DateStyle": "ISO, YMD",
    "IntervalStyle": "iso_8601",
    "extra_float_digits": "1",
    "bytea_output": "hex",
}
VERSION = 2
# What a trial is made under: nothing of it is like the database a backup comes from.
ELSEWHERE = {
    "TimeZone": "Pacific/Kiritimati",
    "DateStyle": "German, DMY",
    "IntervalStyle": "sql_standard",
    "extra_float_digits": "0",
    "bytea_output": "escape",
}


class BackupError(Exception):
    """What is wrong with a backup, in a sentence."""


@dataclass(frozen=True)
class Table:
    rows: int
    md5: str


def _run(arguments: list[str], url: str) -> None:
    """One of PostgreSQL's programs, its password by the environment and not by the command line."""
    parts = conninfo_to_dict(url)
    environment = {
        **os.environ,
        **{
            name: str(parts[key])
            for name, key in (
                ("PGHOST", "host"),
                ("PGPORT", "port"),
                ("PGUSER", "user"),
                ("PGPASSWORD", "password"),
                ("PGDATABASE", "dbname"),
            )
            if parts.get(key)
        },
    }
    done = subprocess.run(arguments, env=environment, capture_output=True, text=True)
    if done.returncode:
        raise BackupError(f"{Path(arguments[0]).name}: {done.stderr.strip()[-400:]}")


def fingerprints(
    connection: psycopg.Connection, styles: dict[str, str] | None = None, only: Sequence[str] | None = None
) -> dict[str, Table]:
    """Of every table that is ours, by its name; the order of columns does not change with a restore.

    styles  how values are written, AS_TEXT unless told otherwise, for this transaction alone
    only    these tables
    """
    for name, value in (AS_TEXT if styles is None else styles).items():
        connection.execute("select set_config(%s, %s, true)", (name, value))
    names = connection.execute(
        "select table_name from information_schema.tables where table_schema = 'public' and table_type = "
        "'BASE TABLE' order by 1"
    ).fetchall()
    found = {}
    for (name,) in names:
        if only is not None and name not in only:
            continue
        row = connection.execute(
            sql.SQL(
                "select count(*), coalesce(md5(string_agg(md5(t::text), '' order by md5(t::text) collate "
                "\"C\")), '') from {} t"
            ).format(sql.Identifier(name))
        ).fetchone()
        assert row is not None  # an aggregate gives one row
        found[name] = Table(*row)
    return found


def make(url: str, file: Path, programs: Path) -> dict[str, Table]:
    """Writes a backup of the database and tries it; the file appears only when it held. Returns what is in
    it.

    programs  the folder of PostgreSQL's own, of the server's version or newer

    Raises BackupError when a program fails or the trial restore differs.
    """
    part = file.with_name(f".{file.name}.{secrets.token_hex(4)}")
    try:
        with TemporaryDirectory(dir=file.parent, prefix=".backup-") as folder:
            dump = Path(folder) / DUMP
            with psycopg.connect(url) as connection:
                connection.execute("set transaction isolation level repeatable read read only")
                snapshot = connection.execute("select pg_export_snapshot()").fetchone()
                assert snapshot is not None  # a function gives one row
                _run(
                    [
                        str(programs / "pg_dump"),
                        "--format=custom",
                        "--no-owner",
                        "--no-acl",
                        f"--snapshot={snapshot[0]}",
                        f"--file={dump}",
                    ],
                    url,
                )
                tables = fingerprints(connection)
            manifest = {
                "format": FORMAT,
                "version": VERSION,
                "as_text": AS_TEXT,
                "made_at": datetime.now(UTC).isoformat(),
                "sha256": _sha256(dump),
                "tables": {name: [one.rows, one.md5] for name, one in tables.items()},
            }
            handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(handle, "wb") as out, zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as pack:
                pack.writestr(MANIFEST, json.dumps(manifest, indent=1))
                pack.write(dump, DUMP)
            with part.open("rb") as written:
                os.fsync(written.fileno())
        try_out(url, part, programs)
        os.replace(part, file)
        _sync(file.parent)
        return tables
    finally:
        part.unlink(missing_ok=True)


def _sync(folder: Path) -> None:
    """The renaming survives a cut of power."""
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _sha256(file: Path) -> str:
    digest = hashlib.sha256()
    with file.open("rb") as source:
        while chunk := source.read(CHUNK):
            digest.update(chunk)
    return digest.hexdigest()


@contextmanager
def _unpacked(file: Path) -> Iterator[tuple[dict[str, Any], Path]]:
    """Manifest and dump of a file, its checksum compared. Raises BackupError for what is no backup, or a
    damaged one.
    """
    with TemporaryDirectory(prefix="cavatum-restore-") as folder:
        try:
            with zipfile.ZipFile(file) as pack:
                if (
                    set(pack.namelist()) != {MANIFEST, DUMP}
                    or pack.getinfo(MANIFEST).file_size > MOST_MANIFEST
                ):
                    raise BackupError(f"{file.name} is no backup of Cavatum.")
                manifest = json.loads(pack.read(MANIFEST))
                dump = Path(pack.extract(DUMP, folder))
        except (*UNSOUND_ZIP, KeyError) as error:
            raise BackupError(f"{file.name} cannot be read: {error}.") from error
        if (
            not isinstance(manifest, dict)
            or manifest.get("format") != FORMAT
            or manifest.get("version") not in (1, VERSION)
        ):
            raise BackupError(f"{file.name} is no backup that this version reads.")
        if not _is_sound(manifest):
            raise BackupError(f"{file.name} is damaged: its list of tables is not sound. Take an older one.")
        if _sha256(dump) != manifest.get("sha256"):
            raise BackupError(f"{file.name} is damaged: its checksum differs. Take an older one.")
        yield manifest, dump


def _is_sound(manifest: dict[str, Any]) -> bool:
    tables = manifest.get("tables")
    return isinstance(tables, dict) and all(
        isinstance(one, list) and len(one) == 2 and isinstance(one[0], int) and isinstance(one[1], str)
        for one in tables.values()
    )


def _other(url: str, name: str) -> str:
    return make_conninfo(url, dbname=name)


def _make_database(url: str, name: str, *, elsewhere: bool) -> None:
    """elsewhere: as on a machine of another country, to try a backup in."""
    with psycopg.connect(url, autocommit=True) as admin:
        if not elsewhere:
            admin.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
            return
        now = admin.execute(
            "select datcollate from pg_database where datname = current_database()"
        ).fetchone()
        other = "C" if now is not None and now[0] != "C" else "C.UTF-8"
        admin.execute(
            sql.SQL("create database {} template template0 encoding 'UTF8' lc_collate {} lc_ctype {}").format(
                sql.Identifier(name), sql.Literal(other), sql.Literal(other)
            )
        )
        for setting, value in ELSEWHERE.items():
            admin.execute(
                sql.SQL("alter database {} set {} to {}").format(
                    sql.Identifier(name), sql.Identifier(setting), sql.Literal(value)
                )
            )


def _new_database(url: str, file: Path, programs: Path, *, elsewhere: bool = False) -> str:
    """A database of its own filled from the file, compared row by row; its name. On failure nothing is left
    behind.
    """
    name = f"cavatum_{secrets.token_hex(6)}"
    with _unpacked(file) as (manifest, dump):
        _make_database(url, name, elsewhere=elsewhere)
        try:
            _run(
                [
                    str(programs / "pg_restore"),
                    "--no-owner",
                    "--no-acl",
                    "--exit-on-error",
                    f"--dbname={name}",
                    str(dump),
                ],
                url,
            )
            with psycopg.connect(_other(url, name)) as connection:
                differs = _differing(connection, manifest)
            if differs:
                raise BackupError(
                    f"Restored, these tables differ from what was backed up: {', '.join(differs)}."
                )
        except BaseException:
            _drop(url, name)
            raise
    return name


def _differing(connection: psycopg.Connection, manifest: dict[str, Any]) -> list[str]:
    """The tables that are not what the manifest says. In a file of version 1 rows were written as the server
    it was made on happened to; in which time zone that was is found by trying, first on the smallest table.
    """
    told: dict[str, Any] = manifest["tables"]

    def compare(styles: dict[str, str] | None, only: Sequence[str] | None = None) -> list[str]:
        found = {table: [one.rows, one.md5] for table, one in fingerprints(connection, styles, only).items()}
        return sorted(table for table in only or {*found, *told} if found.get(table) != told.get(table))

    if manifest["version"] != 1:
        return compare(None)
    styles = {**AS_TEXT, "DateStyle": "ISO, MDY", "IntervalStyle": "postgres"}
    differs = compare(styles)
    if not differs:
        return []
    probe = [min(differs, key=lambda table: told.get(table, [0])[0])]
    zones = connection.execute("select name from pg_timezone_names order by name").fetchall()
    for (zone,) in zones:
        there = {**styles, "TimeZone": zone}
        if not compare(there, probe) and not compare(there):
            return []
    return differs


def _drop(url: str, name: str) -> None:
    with psycopg.connect(url, autocommit=True) as admin:
        admin.execute(sql.SQL("drop database if exists {}").format(sql.Identifier(name)))


def try_out(url: str, file: Path, programs: Path) -> None:
    """Restores into a scratch database of another zone and collation, compares, and drops it. Raises
    BackupError.
    """
    _drop(url, _new_database(url, file, programs, elsewhere=True))


def restore(url: str, file: Path, programs: Path, now: datetime) -> str:
    """Puts the backup in place of the database; the one before is kept under the name that is returned.
    Nobody else may be connected.

    The new one is made and compared first; then two renames in one transaction change places. Raises
    BackupError, and then
    nothing has changed.
    """
    target = str(conninfo_to_dict(url)["dbname"])
    kept = f"{target}_before_{now:%Y%m%d_%H%M%S}"
    name = _new_database(url, file, programs)
    try:
        _change_places(url, target, kept, name)
    except psycopg.errors.ObjectInUse as error:
        _drop(url, name)
        raise BackupError("Somebody is still connected to the database. Run ./cavatum stop first.") from error
    except psycopg.Error as error:
        _drop(url, name)
        raise BackupError(f"The restored database could not take its place: {error}") from error
    return kept


def _change_places(url: str, target: str, kept: str, new: str) -> None:
    """Both renames or neither: a crash between them would leave no database of that name. From a connection
    to none of the three.
    """
    with psycopg.connect(_other(url, MAINTENANCE)) as admin:
        for old, name in ((target, kept), (new, target)):
            admin.execute(
                sql.SQL("alter database {} rename to {}").format(sql.Identifier(old), sql.Identifier(name))
            )
