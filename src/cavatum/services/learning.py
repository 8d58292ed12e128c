"""From runs to what the next plan uses: the logbook's entries kept fresh, what they taught, and what of it is
applied.
"""

from __future__ import annotations

from psycopg import Connection

from ..core.learn.learned import Learned, learn
from ..core.learn.observe import observe
from ..core.learn.record import run_record
from ..core.learn.record_model import RunRecord
from ..core.pour.pace import SURFACE_LEAST_C, SURFACE_MOST_C
from ..store import logbook, runs, weighings
from ..store.pool import unless_busy


def make_entry(connection: Connection, shop: int, run_id: int) -> RunRecord:
    """A run in figures, from all that is in the record, kept for the list; a rehearsal is read and never
    kept, so that it teaches nothing.
    """
    run = runs.read(connection, shop, run_id)
    kept = runs.events(connection, shop, run_id)
    weighed = (
        weighings.of_run(connection, shop, run.piece_id, run.begun_at, run.ended_at) if run.piece_id else []
    )
    record = run_record(
        run.id,
        run.piece_id,
        run.script,
        runs.frozen_plan(connection, shop, run_id),
        kept,
        [(one.pour, one.batch, one.task, one.plain) for one in weighed],
        run.begun_at,
        run.room_c,
        runs.hottest(connection, shop, run_id, SURFACE_LEAST_C, SURFACE_MOST_C),
    )
    if run.rehearsal is not None:
        return record
    with unless_busy(connection):
        logbook.keep(connection, shop, record, observe(record), words_of(record))
    return record


def words_of(record: RunRecord) -> str:
    """What the search looks in."""
    colours = [colour.name for batch in record.batches for colour in batch.colours]
    lots = [lot for batch in record.batches for lot in batch.lots]
    return " ".join(
        [
            record.piece,
            record.kind_of_work,
            *record.systems,
            *colours,
            *lots,
            *record.went_wrong,
            *record.notes,
            record.words,
        ]
    )


def refresh(connection: Connection, shop: int) -> None:
    """Entries that are missing or older than their run, a bounded number at once: the newest first."""
    for run_id in logbook.stale(connection, shop):
        make_entry(connection, shop, run_id)


def learned_now(connection: Connection, shop: int) -> list[Learned]:
    """As kept while the logbook has not changed."""
    stamp = logbook.stamp(connection, shop)
    kept = logbook.kept_learned(connection, shop, stamp)
    if kept is not None:
        return kept
    found = learn(logbook.observations(connection, shop), logbook.set_aside(connection, shop))
    with unless_busy(connection):
        logbook.keep_learned(connection, shop, stamp, found)
    return found
