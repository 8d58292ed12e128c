"""What the inspection of a last coat changes in its piece. Rule 6.3."""

from __future__ import annotations

from psycopg import Connection

from ..core.pour.branches import as_taken, taken
from ..core.pour.state import fold
from ..store import pieces, runs
from ..store.runs import Run


def follow_inspection(connection: Connection, shop: int, run: Run) -> None:
    """A last coat that was not flawless is made again: the piece says so at once, so that stock is kept
    for it and
    later dates move; taken back, it says so no more. A rehearsal changes nothing.
    """
    if run.rehearsal is not None or run.piece_id is None or not run.script.may_be_again:
        return
    state = fold(run.script, runs.events(connection, shop, run.id))
    stored = pieces.read(connection, shop, run.piece_id)
    piece = as_taken(stored.piece, run.script, state)
    if piece is not stored.piece:
        what = "coat made again, by the inspection" if taken(run.script, state) else "inspection taken back"
        pieces.save(connection, shop, stored.id, stored.revision, piece, what)
