"""The first minute: a look that keeps nothing, and the piece that is kept of it."""

from __future__ import annotations

from datetime import datetime

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.first.look import AtKey, FirstAnswer, FirstLook, first_look
from ..core.resin.typical import typical_systems
from ..store import pieces, systems
from ..store.pieces import StoredPiece
from .planning import inputs_of


def look_at(connection: Connection, workshop_id: int, look: FirstLook, now: datetime) -> FirstAnswer:
    sheets, workshop, shelf_items, _ = inputs_of(connection, workshop_id)
    classes = {one.id: one for one in typical_systems()}
    return first_look(look, sheets, classes, workshop, now, shelf_items)


def keep(connection: Connection, workshop_id: int, look: FirstLook, name: str, now: datetime) -> StoredPiece:
    """The piece of a look, under a name; the class that it took stands on the shelf from then on, every value
    typical.
    """
    answer = look_at(connection, workshop_id, look, now)
    if answer.piece is None:
        missing = ", ".join(one.label for one in answer.asks if one.key in answer.missing)
        raise AtKey(
            DomainError(
                argument="size",
                value="not whole",
                allowed=f"still to measure: {missing}",
                way_out="Type it on the drawing.",
                code="missing",
            ),
            answer.missing[0],
        )
    if answer.is_typical:
        typical = next(one for one in typical_systems() if one.id == answer.system_id)
        systems.add_version(connection, workshop_id, typical)
    piece = answer.piece.model_copy(update={"name": name.strip() or answer.piece.name})
    return pieces.create(connection, workshop_id, piece)
