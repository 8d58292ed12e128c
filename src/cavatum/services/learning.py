"""From runs to what the next plan uses: the logbook's entries kept fresh, what they taught, and what of it is
applied.
"""

from __future__ import annotations

from contextlib import suppress

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.layers.paces import Table, slowness_by_time
from ..core.learn.learned import LEAST_RUNS, Learned, learn
from ..core.learn.observe import observe
from ..core.learn.record import run_record
from ..core.learn.record_model import RunRecord
from ..core.piece.document import Piece
from ..core.plan import courses_of
from ..core.plan_model import Plan
from ..core.pour.pace import SURFACE_LEAST_C, SURFACE_MOST_C
from ..core.resin.system import LearnedPace
from ..store import logbook, pieces, runs, shelf_items, systems, weighings, workshops
from ..store.pool import NotFound, unless_busy


def make_entry(connection: Connection, shop: int, run_id: int) -> RunRecord:
    """A run in figures, from all that is in the record, kept for the list; a rehearsal is read and never
    kept, so that it teaches nothing.
    """
    run = runs.read(connection, shop, run_id)
    kept = runs.events(connection, shop, run_id)
    weighed = (
        weighings.of_run(connection, shop, run.piece_id, run.begun_at, run.ended_at) if run.piece_id else []
    )
    plan = runs.frozen_plan(connection, shop, run_id)
    record = run_record(
        run.id,
        run.piece_id,
        run.script,
        plan,
        kept,
        [(one.pour, one.batch, one.task, one.plain) for one in weighed],
        run.begun_at,
        run.room_c,
        runs.hottest(connection, shop, run_id, SURFACE_LEAST_C, SURFACE_MOST_C),
    )
    if run.rehearsal is not None:
        return record
    if any(one.code == "pace" for one in observe(record)):
        record = _with_rates(connection, shop, run, plan, record)
    with unless_busy(connection):
        logbook.keep(connection, shop, record, observe(record), words_of(record))
    return record


def _with_rates(connection: Connection, shop: int, run: runs.Run, plan: Plan, record: RunRecord) -> RunRecord:
    """With what a time says of the resin's rate, for pours whose heat the model has; the sheets as they
    are now,
    with the rate that the plan had learned.
    """
    if run.piece_id is None:
        return record
    found: dict[int, dict[str, Table]] = {}
    with suppress(NotFound, DomainError):  # a piece or sheet that is gone: the time itself is what is left
        piece = Piece.model_validate(pieces.revision_document(connection, shop, run.piece_id, run.revision))
        workshop, sheets = workshops.read(connection, shop), systems.newest(connection, shop)
        for id_, times in plan.learned_pace.items():
            pace = LearnedPace(times=times, low=times, high=times, runs=LEAST_RUNS)
            sheets[id_] = sheets[id_].model_copy(update={"learned_pace": pace})
        courses = courses_of(piece, sheets, workshop, plan, shelf_items.newest(connection, shop))
        below: dict[str, int] = {}
        for pour in plan.pours:
            deepest = max(pour.layers, key=lambda one: one.depth.value)
            for layer in pour.layers:
                place = below.get(layer.void_id, 0)
                if layer is deepest and layer.void_id in courses:
                    found[pour.number] = slowness_by_time(courses[layer.void_id], place)
                below[layer.void_id] = place + 1
    return record.model_copy(
        update={
            "pours": [one.model_copy(update={"slow_by": found.get(one.pour, {})}) for one in record.pours]
        }
    )


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
