"""A run's record as the logbook shows it, and a logger's file laid on it. Rules 9.1, 9.2."""

from __future__ import annotations

from psycopg import Connection
from pydantic import BaseModel

from ..core.common.wording import Say
from ..core.learn.record import RunRecord
from ..core.mend.evidence import Shown, shown_by
from ..core.pour.debrief import Debrief, debrief
from ..core.pour.events import Kept
from ..core.pour.state import fold
from ..store import pieces, runs, systems, workshops
from ..store.pool import NotFound
from . import learning


class RunDossier(BaseModel):
    """events: all of them, undone ones too: undone names those that count no more."""

    record: RunRecord
    debrief: Debrief
    shown: list[Shown]
    events: list[Kept]
    undone: list[str]
    revision: int


def record_of(connection: Connection, shop: int, run_id: int) -> RunDossier:
    run = runs.read(connection, shop, run_id)
    record = learning.make_entry(connection, shop, run_id)
    kept = runs.events(connection, shop, run_id)
    say = Say(workshops.read(connection, shop))
    return RunDossier(
        record=record,
        debrief=debrief(run.script, kept, say),
        shown=shown_in(connection, shop, record, say),
        events=kept,
        undone=fold(run.script, kept).undone,
        revision=run.revision,
    )


def shown_in(connection: Connection, shop: int, record: RunRecord, say: Say) -> list[Shown]:
    try:
        piece = pieces.read(connection, shop, record.piece_id).piece if record.piece_id else None
    except NotFound:
        piece = None
    return shown_by(record, piece, systems.newest(connection, shop), say)
