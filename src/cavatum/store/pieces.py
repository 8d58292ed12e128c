"""Pieces and their append-only revisions: saving with a version check, undo and redo, lists."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from psycopg import Connection
from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from ..core.piece.document import Piece
from .merge import merge
from .pool import Conflict, NotFound


@dataclass(frozen=True, kw_only=True)
class StoredPiece:
    id: int
    revision: int
    piece: Piece
    changed_at: datetime
    can_undo: bool
    can_redo: bool
    merged: bool = False


@dataclass(frozen=True, kw_only=True)
class ListedPiece:
    id: int
    name: str
    for_whom: str
    kind: str
    due: date | None
    changed_at: datetime
    summary: dict[str, Any]


def create(
    connection: Connection, workshop_id: int, piece: Piece, what: str = "made", is_demo: bool = False
) -> StoredPiece:
    row = connection.execute(
        "insert into piece (workshop_id, head, name, for_whom, kind, due, is_demo) values (%s, 1, %s, "
        "%s, %s, %s, %s) returning id",
        (workshop_id, piece.name, piece.for_whom, piece.kind_of_work, piece.due, is_demo),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    _append(connection, workshop_id, row[0], 1, _document(piece), what, 1, None)
    return read(connection, workshop_id, row[0])


def _document(piece: Piece) -> dict[str, Any]:
    return piece.model_dump(mode="json", exclude={"systems", "workshop", "goods"})


def _as_today(document: dict[str, Any]) -> dict[str, Any]:
    """A document of an older version in the shape of today, so that two can be joined."""
    return _document(Piece.model_validate(document))


def _append(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    revision: int,
    document: dict[str, Any],
    what: str,
    content_of: int,
    replaces: int | None,
) -> None:
    connection.execute(
        "insert into piece_revision (piece_id, workshop_id, revision, document, what, content_of, replaces)"
        " values (%s, %s, %s, %s, %s, %s, %s)",
        (piece_id, workshop_id, revision, Jsonb(document), what, content_of, replaces),
    )


def _head(
    connection: Connection, workshop_id: int, piece_id: int, *, lock: bool
) -> tuple[int, dict[str, Any], int, datetime]:
    """(head, document, content_of, changed_at) of a piece, its row locked for a writer."""
    if lock:
        connection.execute(
            "select 1 from piece where workshop_id = %s and id = %s for update", (workshop_id, piece_id)
        )
    row = connection.execute(
        "select piece.head, document, content_of, changed_at from piece join piece_revision"
        " on piece_id = piece.id and revision = head where piece.workshop_id = %s and piece.id = %s and "
        "removed_at is null",
        (workshop_id, piece_id),
    ).fetchone()
    if row is None:
        raise NotFound(f"piece {piece_id}")
    return row


def read(connection: Connection, workshop_id: int, piece_id: int, *, merged: bool = False) -> StoredPiece:
    head, document, content_of, changed_at = _head(connection, workshop_id, piece_id, lock=False)
    edits = _edits(connection, workshop_id, piece_id)
    return StoredPiece(
        id=piece_id,
        revision=head,
        piece=Piece.model_validate(document),
        changed_at=changed_at,
        can_undo=_undo_target(edits, content_of) is not None,
        can_redo=_redo_target(edits, content_of) is not None,
        merged=merged,
    )


def save(
    connection: Connection, workshop_id: int, piece_id: int, base_revision: int, piece: Piece, what: str
) -> StoredPiece:
    """Append a revision. When others saved since base_revision, join the two edits; raise Conflict where both
    changed one value.
    """
    head, current, content_of, _ = _head(connection, workshop_id, piece_id, lock=True)
    document, merged = _document(piece), False
    if base_revision != head:
        base = revision_document(connection, workshop_id, piece_id, base_revision)
        base, current = _as_today(base), _as_today(current)
        document, clashes = merge(base, current, document)
        if clashes:
            raise Conflict(head, document, clashes)
        piece, merged = Piece.model_validate(document), True
    if document != current:
        _advance(connection, workshop_id, piece_id, head + 1, piece, document, what, head + 1, content_of)
    return read(connection, workshop_id, piece_id, merged=merged)


def _advance(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    revision: int,
    piece: Piece,
    document: dict[str, Any],
    what: str,
    content_of: int,
    replaces: int | None,
) -> None:
    _append(connection, workshop_id, piece_id, revision, document, what, content_of, replaces)
    connection.execute(
        "update piece set head = %s, name = %s, for_whom = %s, kind = %s, due = %s, is_demo = false, "
        "changed_at = now()"
        " where workshop_id = %s and id = %s",
        (revision, piece.name, piece.for_whom, piece.kind_of_work, piece.due, workshop_id, piece_id),
    )


def revision_document(
    connection: Connection, workshop_id: int, piece_id: int, revision: int
) -> dict[str, Any]:
    row = connection.execute(
        "select document from piece_revision where workshop_id = %s and piece_id = %s and revision = %s",
        (workshop_id, piece_id, revision),
    ).fetchone()
    if row is None:
        raise NotFound(f"revision {revision} of piece {piece_id}")
    document: dict[str, Any] = row[0]
    return document


TargetOf = Callable[[dict[int, int | None], int], int | None]


def step_back(connection: Connection, workshop_id: int, piece_id: int, base_revision: int) -> StoredPiece:
    """Undo: a new revision with the content that the head's content replaced. Undone steps stay and can be
    done again.
    """
    return _step(connection, workshop_id, piece_id, base_revision, _undo_target, "undone")


def step_forward(connection: Connection, workshop_id: int, piece_id: int, base_revision: int) -> StoredPiece:
    return _step(connection, workshop_id, piece_id, base_revision, _redo_target, "done again")


def _step(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    base_revision: int,
    target_of: TargetOf,
    what: str,
) -> StoredPiece:
    head, current, content_of, _ = _head(connection, workshop_id, piece_id, lock=True)
    if head != base_revision:
        raise Conflict(head, current, [])
    target = target_of(_edits(connection, workshop_id, piece_id), content_of)
    if target is None:
        raise NotFound("step to be " + what)
    document = revision_document(connection, workshop_id, piece_id, target)
    _advance(
        connection,
        workshop_id,
        piece_id,
        head + 1,
        Piece.model_validate(document),
        document,
        what,
        target,
        None,
    )
    return read(connection, workshop_id, piece_id)


def _edits(connection: Connection, workshop_id: int, piece_id: int) -> dict[int, int | None]:
    """Every edit of its own with the content it was made on."""
    rows = connection.execute(
        "select revision, replaces from piece_revision where workshop_id = %s and piece_id = %s and "
        "content_of = revision",
        (workshop_id, piece_id),
    ).fetchall()
    return dict(rows)


def _undo_target(edits: dict[int, int | None], content: int) -> int | None:
    return edits[content]


def _redo_target(edits: dict[int, int | None], content: int) -> int | None:
    """Walk back from the newest edit to the one that was made on this content; none when this is the
    newest.
    """
    candidate: int | None = max(edits)
    while candidate is not None and edits[candidate] != content:
        candidate = edits[candidate]
    return candidate


def remove(connection: Connection, workshop_id: int, piece_id: int) -> None:
    done = connection.execute(
        "update piece set removed_at = now(), is_demo = false where workshop_id = %s and id = %s and "
        "removed_at is null",
        (workshop_id, piece_id),
    )
    if done.rowcount == 0:
        raise NotFound(f"piece {piece_id}")


def bring_back(connection: Connection, workshop_id: int, piece_id: int) -> StoredPiece:
    connection.execute(
        "update piece set removed_at = null where workshop_id = %s and id = %s", (workshop_id, piece_id)
    )
    return read(connection, workshop_id, piece_id)


def listed(
    connection: Connection, workshop_id: int, search: str, limit: int, offset: int
) -> tuple[list[ListedPiece], int]:
    """One page of pieces, newest change first, and how many there are. `search` is looked for in name and
    for_whom.
    """
    if search:
        return _found(connection, workshop_id, search, limit, offset)
    with connection.cursor(row_factory=class_row(ListedPiece)) as cursor:
        rows = cursor.execute(
            "select id, name, for_whom, kind, due, changed_at, summary from piece where workshop_id = %s "
            "and removed_at is null order by changed_at desc, id desc limit %s offset %s",
            (workshop_id, limit, offset),
        ).fetchall()
    total = connection.execute(
        "select count(*) from piece where workshop_id = %s and removed_at is null", (workshop_id,)
    ).fetchone()
    return rows, total[0] if total else 0


def _found(
    connection: Connection, workshop_id: int, search: str, limit: int, offset: int
) -> tuple[list[ListedPiece], int]:
    """The same of those that hold the words, in one walk through all of them."""
    pattern = "%" + search.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    rows = connection.execute(
        "with found as materialized (select id, changed_at from piece where workshop_id = %s and removed_at "
        "is null and sought like lower(%s)),"
        " page as (select id from found order by changed_at desc, id desc limit %s offset %s)"
        " select (select count(*) from found), id, name, for_whom, kind, due, changed_at, summary from"
        " (values (1)) as one left join (page join piece using (id)) on true"
        " order by changed_at desc, id desc",
        (workshop_id, pattern, limit, offset),
    ).fetchall()
    names = ("id", "name", "for_whom", "kind", "due", "changed_at", "summary")
    listed_ones = [
        ListedPiece(**dict(zip(names, row[1:], strict=True))) for row in rows if row[1] is not None
    ]
    return listed_ones, rows[0][0]


def with_a_start(connection: Connection, workshop_id: int) -> list[ListedPiece]:
    """Pieces whose first pour somebody has set."""
    with connection.cursor(row_factory=class_row(ListedPiece)) as cursor:
        return cursor.execute(
            "select p.id, p.name, p.for_whom, p.kind, p.due, p.changed_at, p.summary from piece p"
            " join piece_revision r on r.piece_id = p.id and r.revision = p.head"
            " where p.workshop_id = %s and p.removed_at is null and r.document->>'first_pour_at' is not "
            "null order by p.id",
            (workshop_id,),
        ).fetchall()


def using(connection: Connection, workshop_id: int, system_id: str) -> list[tuple[int, str]]:
    """Id and name of the pieces whose newest document names a resin system, by name."""
    return connection.execute(
        "select p.id, p.name from piece p"
        " join piece_revision r on r.piece_id = p.id and r.revision = p.head"
        " where p.workshop_id = %s and p.removed_at is null"
        " and jsonb_path_exists(r.document, '$.**.system_id ? (@ == $id)', jsonb_build_object('id', "
        "%s::text))"
        " order by p.name, p.id",
        (workshop_id, system_id),
    ).fetchall()


def write_summary(connection: Connection, workshop_id: int, piece_id: int, summary: dict[str, Any]) -> None:
    """A few computed figures beside the list row, by the plan made last: what lists show, and what plans
    reserve of the shelf.
    """
    connection.execute(
        "update piece set summary = %s where workshop_id = %s and id = %s",
        (Jsonb(summary), workshop_id, piece_id),
    )


def has_any(connection: Connection, workshop_id: int) -> bool:
    row = connection.execute(
        "select exists (select 1 from piece where workshop_id = %s)", (workshop_id,)
    ).fetchone()
    return bool(row and row[0])


def all_untouched_demo(connection: Connection, workshop_id: int) -> bool:
    """True while every piece is still as the demo laid it out."""
    row = connection.execute(
        "select bool_and(is_demo and head = 1 and removed_at is null) from piece where workshop_id = %s",
        (workshop_id,),
    ).fetchone()
    return bool(row and row[0])


def demo_ids(connection: Connection, workshop_id: int) -> list[int]:
    rows = connection.execute(
        "select id from piece where workshop_id = %s and is_demo order by id", (workshop_id,)
    ).fetchall()
    return [row[0] for row in rows]


def move_demo(connection: Connection, workshop_id: int, piece_id: int, piece: Piece) -> None:
    """Rewrite an untouched demo piece for another day: the only revision that is ever written over."""
    connection.execute(
        "update piece_revision set document = %s where workshop_id = %s and piece_id = %s and revision = 1",
        (Jsonb(_document(piece)), workshop_id, piece_id),
    )
    connection.execute(
        "update piece set due = %s where workshop_id = %s and id = %s and is_demo",
        (piece.due, workshop_id, piece_id),
    )


def remove_every_row(connection: Connection, workshop_id: int) -> None:
    """For laying out the demo anew, which the person has asked for."""
    connection.execute("delete from piece where workshop_id = %s", (workshop_id,))
