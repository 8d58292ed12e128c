"""A run's record as the logbook shows it, and a logger's file laid on it. Rules 9.1, 9.2."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg import Connection
from pydantic import BaseModel

from ..core.common.errors import DomainError
from ..core.common.wording import Wording
from ..core.learn.probe_log import lay_on
from ..core.learn.record_model import RunRecord
from ..core.mend.evidence import Shown, shown_by
from ..core.pour.debrief import Debrief, debrief
from ..core.pour.events import Kept
from ..core.pour.state import fold, poured_at
from ..formats.probe_csv import read_probe_csv
from ..store import pieces, runs, systems, workshops
from ..store.pool import NotFound
from . import learning
from .runs import follow_pace


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
    wording = Wording(workshops.read(connection, shop))
    return RunDossier(
        record=record,
        debrief=debrief(run.script, kept, wording),
        shown=shown_in(connection, shop, record, wording),
        events=kept,
        undone=fold(run.script, kept).undone,
        revision=run.revision,
    )


def shown_in(connection: Connection, shop: int, record: RunRecord, wording: Wording) -> list[Shown]:
    try:
        piece = pieces.read(connection, shop, record.piece_id).piece if record.piece_id else None
    except NotFound:
        piece = None
    return shown_by(record, piece, systems.newest(connection, shop), wording)


@dataclass(frozen=True, kw_only=True)
class LoggerFile:
    """A logger's CSV. begins_at: where it has no dates; shift_s: put right by so much."""

    text: str
    pour: int
    begins_at: datetime | None
    shift_s: float
    name: str


@dataclass(frozen=True)
class LaidOn:
    """readings: those kept; says: what was left out, and anything odd."""

    readings: list[tuple[datetime, float]]
    says: list[str]


def lay_file_on(connection: Connection, shop: int, run_id: int, file: LoggerFile, now: datetime) -> LaidOn:
    """Lays a log on one pour of a run, keeps it, and moves the windows and the record that follow from it.

    Raises DomainError for a log without dates where none are given, and a pour that was not made.
    """
    run = runs.read(connection, shop, run_id, lock=True)
    workshop = workshops.read(connection, shop)
    log = read_probe_csv(file.text, workshop.zone)
    begins = log.begins_at or file.begins_at
    poured = poured_at(run.script, fold(run.script, runs.events(connection, shop, run.id)), file.pour)
    if begins is None:
        raise DomainError(
            argument="log",
            value="without dates",
            allowed="its first row's moment is needed",
            way_out="Say when the log began: often when it was poured.",
            code="no-date",
        )
    if poured is None:
        raise DomainError(
            argument="pour",
            value=str(file.pour),
            allowed="it has been poured by the record",
            way_out="Mark it as poured first.",
            code="not-poured",
        )
    laid = lay_on(log.points, begins + timedelta(seconds=file.shift_s), run.begun_at, now, poured)
    zone = (
        []
        if log.begins_at is None or log.has_zone
        else [f"its hours were read as {workshop.zone}; they name no zone"]
    )
    source = f"file {file.name}"[:120]
    runs.keep_readings(connection, shop, run.id, file.pour, "probe_c", laid.readings, source)
    follow_pace(connection, shop, run, now)
    runs.note(connection, shop, run.id, run.ended_at, run.probe_pour)
    learning.make_entry(connection, shop, run.id)
    return LaidOn(laid.readings, [*log.left_out, *zone, *laid.says])
