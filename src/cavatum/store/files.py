"""Files by the hash of their content, and what was read from them."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.common.errors import DomainError
from .pool import NotFound
from .rows import record

MOST_BYTES_A_WORKSHOP = 4 << 30


@dataclass(frozen=True, kw_only=True)
class StoredFile:
    sha256: str
    kind: str
    name: str
    size: int


def keep(connection: Connection, workshop_id: int, kind: str, name: str, content: bytes) -> StoredFile:
    """Store once; the same content again changes nothing. Raises DomainError when the workshop's share is
    full.
    """
    sha = hashlib.sha256(content).hexdigest()
    row = connection.execute(
        "select kind, name, size from file where workshop_id = %s and sha256 = %s", (workshop_id, sha)
    ).fetchone()
    if row:
        return record(StoredFile, (sha, *row))
    held = connection.execute(
        "select coalesce(sum(size), 0) from file where workshop_id = %s", (workshop_id,)
    ).fetchone()
    if held and held[0] + len(content) > MOST_BYTES_A_WORKSHOP:
        raise DomainError(
            argument="files of the workshop",
            value=f"{held[0] / 1e9:.1f} GB already",
            allowed=f"{MOST_BYTES_A_WORKSHOP >> 30} GB are kept at most",
            way_out="Remove pieces whose photos are no longer needed.",
            code="too-large",
        )
    connection.execute(
        "insert into file (workshop_id, sha256, kind, name, size, content) values (%s, %s, %s, %s, %s, "
        "%s) on conflict do nothing",
        (workshop_id, sha, kind, name, len(content), content),
    )
    return StoredFile(sha256=sha, kind=kind, name=name, size=len(content))


def about(connection: Connection, workshop_id: int, sha: str) -> StoredFile:
    row = connection.execute(
        "select kind, name, size from file where workshop_id = %s and sha256 = %s", (workshop_id, sha)
    ).fetchone()
    if row is None:
        raise NotFound("file")
    return record(StoredFile, (sha, *row))


def content(connection: Connection, workshop_id: int, sha: str) -> bytes:
    row = connection.execute(
        "select content from file where workshop_id = %s and sha256 = %s", (workshop_id, sha)
    ).fetchone()
    if row is None:
        raise NotFound("file")
    return bytes(row[0])


def reading(connection: Connection, workshop_id: int, sha: str, question: str) -> dict[str, Any] | None:
    row = connection.execute(
        "select result from file_reading where workshop_id = %s and sha256 = %s and question = %s",
        (workshop_id, sha, question),
    ).fetchone()
    return row[0] if row else None


def keep_reading(
    connection: Connection, workshop_id: int, sha: str, question: str, result: dict[str, Any]
) -> None:
    connection.execute(
        "insert into file_reading (workshop_id, sha256, question, result) values (%s, %s, %s, %s) on "
        "conflict do nothing",
        (workshop_id, sha, question, Jsonb(result)),
    )
