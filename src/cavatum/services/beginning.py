"""A run begun from a piece's plan, and what is asked before. Rule 7.1."""

from __future__ import annotations

from datetime import datetime, timedelta

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.plan import make_plan
from ..core.pour.branches import with_branches
from ..core.pour.rehearsal import Rehearsal
from ..core.pour.script import compile_script
from ..store import pieces, runs
from ..store.runs import Run
from . import planning
from .runs import Practice

PASSED = timedelta(hours=1)  # own judgement: who is an hour late has not missed the day


def open_of(connection: Connection, shop: int, piece_id: int) -> bool:
    """Whether the piece is being poured."""
    open_runs = runs.listed(connection, shop, is_open=True, piece_id=piece_id)
    return any(run.rehearsal is None for run in open_runs)


def not_passed(connection: Connection, shop: int, piece_id: int, real: datetime, *, anew: bool) -> None:
    """Before a run begins from a plan: a start that somebody set and that is over is asked about first.
    anew: the
    person says to begin now, so the start is proposed anew; that is an edit of the piece and can be undone.

    Raises DomainError for a start that passed more than PASSED ago, unless a run of it goes on.
    """
    stored, _, plan = planning.opened(connection, shop, piece_id, real)
    if not plan.start_is_chosen or plan.start_at is None or plan.start_at > real - PASSED:
        return
    if open_of(connection, shop, piece_id):
        return
    if not anew:
        raise DomainError(
            argument="start",
            value=f"{plan.start_at:%d %b %Y, %H:%M} UTC, which has passed",
            allowed="a run begins when its first step can be done",
            way_out="Begin now, with times from today on; or enter what was done already.",
            code="start-passed",
        )
    fresh = stored.piece.model_copy(update={"first_pour_at": None, "later_mixes": []})
    pieces.save(connection, shop, piece_id, stored.revision, fresh, "start proposed anew: it had passed")


def begin(connection: Connection, shop: int, piece_id: int, real: datetime, practice: Practice | None) -> Run:
    """The piece's open run, else a new one that carries out the plan as it is now. A rehearsal is a run of
    its own, from the plan's start.

    Raises DomainError while there is nothing to pour.
    """
    stored, inputs, plan = planning.opened(connection, shop, piece_id, real)
    if not plan.pours or plan.start_at is None:
        raise DomainError(
            argument="plan",
            value="without a pour",
            allowed="there is something to pour",
            way_out="Measure a void or coat and choose a system first.",
            code="no-pour",
        )
    plan, script = with_branches(
        stored.piece,
        plan,
        lambda piece: make_plan(
            piece, inputs.sheets, inputs.workshop, plan.made_at, chances=False, shelf_items=inputs.shelf_items
        ),
        lambda piece, made: compile_script(stored.id, piece, made, inputs.workshop),
    )
    rehearsal = None
    if practice:
        first = min(step.planned_at for step in script.steps)
        rehearsal = Rehearsal(**practice.model_dump(), start_at=first, real_from=real)
    begun = rehearsal.start_at if rehearsal else real
    room_c = inputs.workshop.room_c.value
    run, _ = runs.begin(connection, shop, stored.id, stored.revision, plan, script, begun, room_c, rehearsal)
    return run
