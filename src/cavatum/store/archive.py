"""All that a workshop owns as open files in one ZIP, and back into an empty server.

manifest.json            format, version, the moment, SHA-256 of every other file
workshop.json            the settings
pieces/ID.piece.json     each piece as its piece file, for reading elsewhere
rows/TABLE.jsonl         every row as one line of JSON; rows/run_reading.csv: what instruments read
files/SHA256             photos, meshes and drawings as they were given

Not in it: who may come in (accounts, sessions, tokens, trail), who is told of what (addresses and passwords
that another server must not use), a camera's pictures but those of what it saw, and what is made anew (jobs,
what was learned, instruments' last words).
"""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import IO, Any

import psycopg
from psycopg import Connection, sql
from psycopg.types.json import Jsonb
from pydantic import ValidationError

from ..core.common.workshop import Workshop
from ..core.piece.colour import Colourant, Recipe
from ..core.piece.document import Piece
from ..core.resin.system import System
from .unsound import UNSOUND_ZIP

FORMAT, VERSION = "cavatum-workshop", 1
# In an order in which each refers to earlier ones only.
TABLES = (
    "file",
    "file_reading",
    "system_version",
    "good_version",
    "piece",
    "piece_revision",
    "plan",
    "run",
    "run_event",
    "run_reading",
    "run_log",
    "bottle",
    "bottle_move",
    "weighing",
    "weighing_event",
    "learned_aside",
    "trial",
    "watch",
    "watch_seen",
)
LEFT_OUT = (
    "membership",
    "invitation",
    "entry",
    "api_token",
    "audit",
    "pairing",
    "calendar_feed",
    "earlier",
    "handed_in",
    "voice_setting",
    "listener",
    "listener_browser",
    "moment_call",
    "moment_sending",
    "watch_frame",
    "job",
    "learned",
    "device_reading",
    "device_command",
)
READINGS = "run_reading"
MOST_FILE, MOST_LINE, MOST_ROWS_FILE = 64 << 20, 32 << 20, 4 << 30
AT_ONCE = 500


class WholeError(Exception):
    """What is wrong with the file, in a sentence."""


@dataclass(frozen=True)
class Imported:
    rows: int
    files: int


def export(connection: Connection, workshop_id: int, pack: zipfile.ZipFile, now: datetime) -> None:
    """Writes everything; the caller's transaction is one snapshot (repeatable read)."""
    sums: dict[str, str] = {}

    def put(name: str, chunks: Iterator[bytes]) -> None:
        digest = hashlib.sha256()
        with pack.open(name, "w", force_zip64=True) as out:
            for chunk in chunks:
                digest.update(chunk)
                out.write(chunk)
        sums[name] = digest.hexdigest()

    row = connection.execute("select settings from workshop where id = %s", (workshop_id,)).fetchone()
    assert row is not None  # the caller's own workshop
    put("workshop.json", iter([json.dumps(row[0], indent=1).encode()]))
    for id_, document in connection.execute(
        "select p.id, r.document from piece p join piece_revision r on r.piece_id = p.id and r.revision "
        "= p.head where p.workshop_id = %s"
        " and p.removed_at is null",
        (workshop_id,),
    ).fetchall():
        put(f"pieces/{id_}.piece.json", iter([json.dumps(document, indent=1, ensure_ascii=False).encode()]))
    for table in TABLES:
        if table == READINGS:
            put(f"rows/{table}.csv", _readings(connection, workshop_id))
        else:
            put(f"rows/{table}.jsonl", _rows(connection, workshop_id, table))
    for (sha,) in connection.execute(
        "select sha256 from file where workshop_id = %s", (workshop_id,)
    ).fetchall():
        content = connection.execute(
            "select content from file where workshop_id = %s and sha256 = %s", (workshop_id, sha)
        ).fetchone()
        if content is not None:
            put(f"files/{sha}", iter([bytes(content[0])]))
    pack.writestr(
        "manifest.json",
        json.dumps(
            {"format": FORMAT, "version": VERSION, "made_at": now.isoformat(), "sha256": sums}, indent=1
        ),
    )


def _rows(connection: Connection, workshop_id: int, table: str) -> Iterator[bytes]:
    query = sql.SQL(
        "select to_jsonb(t) - 'workshop_id' - 'content'"
        if table == "file"
        else "select to_jsonb(t) - 'workshop_id'"
    ) + sql.SQL(" from {} t where t.workshop_id = %s").format(sql.Identifier(table))
    with connection.cursor(name=f"whole_{table}") as cursor:
        cursor.itersize = AT_ONCE
        for (row,) in cursor.execute(query, (workshop_id,)):
            yield json.dumps(row, ensure_ascii=False).encode() + b"\n"


def _readings(connection: Connection, workshop_id: int) -> Iterator[bytes]:
    with (
        connection.cursor() as cursor,
        cursor.copy(
            "copy (select run_id, what, pour, at, value, source from run_reading where workshop_id = %s "
            "order by run_id, what, at) to stdout"
            " with (format csv, header)",
            (workshop_id,),
        ) as rows,
    ):
        for chunk in rows:
            yield bytes(chunk)


def take_in(connection: Connection, workshop_id: int, pack: zipfile.ZipFile) -> Imported:
    """Everything of such a file into this workshop, with the numbers it had. The caller's transaction makes
    it all or nothing.

    Raises WholeError: another format, a checksum that differs, a document the application does not read, or a
    server that is not empty.
    """
    names, sums = set(pack.namelist()), _manifest(pack)
    if names - {"manifest.json"} != set(sums):
        raise WholeError("The files in it are not those of its manifest.")
    for table in TABLES:
        if connection.execute(sql.SQL("select 1 from {} limit 1").format(sql.Identifier(table))).fetchone():
            raise WholeError(
                "This server is not empty: a workshop is taken in with the numbers its rows had. Take a "
                "new server, or restore a backup."
            )
    try:
        settings = Workshop.model_validate_json(_whole(pack, "workshop.json", sums, MOST_LINE))
        connection.execute(
            "update workshop set settings = %s, changed_at = now() where id = %s",
            (Jsonb(settings.model_dump(mode="json")), workshop_id),
        )
        rows = 0
        for table in TABLES:
            rows += (
                _take_readings(connection, workshop_id, pack, sums)
                if table == READINGS
                else _take_rows(connection, workshop_id, table, pack, sums)
            )
    except (
        ValidationError,
        psycopg.DataError,
        psycopg.IntegrityError,
        psycopg.ProgrammingError,
        KeyError,
        TypeError,
        AttributeError,
        *UNSOUND_ZIP,
    ) as error:
        raise WholeError(
            f"Something in it is not sound: {(str(error).splitlines() or ['it ends too early'])[0][:200]}"
        ) from error
    _count_on(connection)
    return Imported(rows, sum(1 for name in sums if name.startswith("files/")))


@contextmanager
def opened(file: Path | IO[bytes]) -> Iterator[zipfile.ZipFile]:
    """A file that should hold a whole workshop. Raises WholeError where it is no sound zip file."""
    try:
        pack = zipfile.ZipFile(file)
    except (FileNotFoundError, IsADirectoryError, PermissionError):
        raise  # said as it is
    except UNSOUND_ZIP as error:
        raise WholeError("This is no export of a workshop.") from error
    with pack:
        yield pack


def _manifest(pack: zipfile.ZipFile) -> dict[str, str]:
    try:
        if pack.getinfo("manifest.json").file_size > MOST_LINE:
            raise WholeError("Its manifest is too large.")
        found = json.loads(pack.read("manifest.json"))
    except (KeyError, *UNSOUND_ZIP) as error:
        raise WholeError("This is no export of a workshop.") from error
    if (
        not isinstance(found, dict)
        or found.get("format") != FORMAT
        or found.get("version") != VERSION
        or not isinstance(found.get("sha256"), dict)
    ):
        raise WholeError("This is no export of a workshop that this version reads.")
    known: dict[str, str] = found["sha256"]
    return known


def _checked(pack: zipfile.ZipFile, name: str, sums: dict[str, str], most: int) -> Iterator[bytes]:
    """A file's bytes in pieces. Raises WholeError at its end where the checksum differs, or when there is
    more than `most`.
    """
    digest, size = hashlib.sha256(), 0
    with pack.open(name) as source:
        while chunk := source.read(1 << 20):
            digest.update(chunk)
            size += len(chunk)
            if size > most:
                raise WholeError(f"{name} is larger than what is taken.")
            yield chunk
    if digest.hexdigest() != sums.get(name):
        raise WholeError(f"{name} is damaged: its checksum differs.")


def _whole(pack: zipfile.ZipFile, name: str, sums: dict[str, str], most: int) -> bytes:
    return b"".join(_checked(pack, name, sums, most))


def _lines(chunks: Iterator[bytes]) -> Iterator[bytes]:
    rest = b""
    for chunk in chunks:
        *lines, rest = (rest + chunk).split(b"\n")
        yield from lines
        if len(rest) > MOST_LINE:
            raise WholeError("A row in it is larger than what is taken.")
    if rest.strip():
        yield rest


def _take_rows(
    connection: Connection, workshop_id: int, table: str, pack: zipfile.ZipFile, sums: dict[str, str]
) -> int:
    known = {
        row[0]
        for row in connection.execute(
            "select column_name from information_schema.columns where table_schema = 'public' and "
            "table_name = %s",
            (table,),
        ).fetchall()
    }
    count = 0
    with connection.cursor() as cursor:
        for raw in _lines(_checked(pack, f"rows/{table}.jsonl", sums, MOST_ROWS_FILE)):
            row: dict[str, Any] = json.loads(raw)
            _sound(table, row)
            if table == "file":
                content = _whole(pack, f"files/{row['sha256']}", sums, MOST_FILE)
                if hashlib.sha256(content).hexdigest() != row["sha256"]:
                    raise WholeError(f"The file {row['sha256']} is not the one of that name.")
                cursor.execute(
                    "insert into file (workshop_id, sha256, kind, name, size, content, made_at) values "
                    "(%s, %s, %s, %s, %s, %s, %s)",
                    (
                        workshop_id,
                        row["sha256"],
                        row["kind"],
                        row["name"],
                        len(content),
                        content,
                        row["made_at"],
                    ),
                )
            else:
                columns = sql.SQL(", ").join(
                    sql.Identifier(name) for name in row if name in known and name != "workshop_id"
                )
                cursor.execute(
                    sql.SQL(
                        "insert into {table} (workshop_id, {columns}) overriding system value select %s, "
                        "{columns}"
                        " from jsonb_populate_record(null::{table}, %s)"
                    ).format(table=sql.Identifier(table), columns=columns),
                    (workshop_id, Jsonb(row)),
                )
            count += 1
    return count


def _sound(table: str, row: dict[str, Any]) -> None:
    """Documents are read as the application reads them, so that nothing gets in that no page could open."""
    if table == "piece_revision":
        Piece.model_validate(row["document"])
    elif table == "system_version":
        System.model_validate(row["sheet"])
    elif table == "good_version" and row["kind"] in ("colourant", "recipe"):
        (Colourant if row["kind"] == "colourant" else Recipe).model_validate(row["content"])


def _take_readings(
    connection: Connection, workshop_id: int, pack: zipfile.ZipFile, sums: dict[str, str]
) -> int:
    connection.execute(
        "create temporary table taken_in (run_id bigint, what text, pour integer, at timestamptz, value "
        "double precision, source text)"
        " on commit drop"
    )
    with (
        connection.cursor() as cursor,
        cursor.copy("copy taken_in from stdin with (format csv, header)") as rows,
    ):
        for chunk in _checked(pack, f"rows/{READINGS}.csv", sums, MOST_ROWS_FILE):
            rows.write(chunk)
    return connection.execute(
        "insert into run_reading (workshop_id, run_id, what, pour, at, value, source) select %s, run_id, "
        "what, pour, at, value, source"
        " from taken_in",
        (workshop_id,),
    ).rowcount


def _count_on(connection: Connection) -> None:
    """New rows get numbers above those that were taken in."""
    for table in TABLES:
        sequence = connection.execute(
            "select pg_get_serial_sequence(%s, 'id') where exists (select 1 from information_schema.columns"
            " where table_name = %s and column_name = 'id')",
            (table, table),
        ).fetchone()
        if sequence and sequence[0]:
            above = sql.SQL(
                "select setval(%s::regclass, (select coalesce(max(id), 0) + 1 from {}), false)"
            ).format(sql.Identifier(table))
            connection.execute(above, (sequence[0],))
