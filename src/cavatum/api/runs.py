"""Runs: begin one, keep what the benches send exactly once, and say how it stands. A rehearsal runs by its
own clock.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.wording import Wording
from ..core.pour.debrief import Debrief, debrief
from ..core.pour.events import Kept, Sent
from ..core.pour.rehearsal import Trouble
from ..core.pour.script_model import Script
from ..core.pour.state import fold
from ..core.practice.mishaps import MISHAPS, Mishap
from ..services import afterwards, beginning
from ..services import runs as carried
from ..services.afterwards import Afterwards
from ..services.runs import (
    Practice,
    RunHeat,
    RunRow,
    row_of,
    speed_of,
    troubles_so_far,
)
from ..store import runs, workshops
from ..store.runs import Run
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("runs")
MOST_AT_ONCE = 500


class RunPath(BaseModel):
    run_id: int = Field(ge=1, le=2**62)


class BeginRunBody(BaseModel):
    rehearse: Practice | None = None
    anew: bool = False


class SinceQuery(BaseModel):
    since: int = Field(default=0, ge=0)


class EventsBody(BaseModel):
    since: int = Field(default=0, ge=0)
    events: list[Sent] = Field(max_length=MOST_AT_ONCE)


class JumpBody(BaseModel):
    to: datetime


class EventsAnswer(BaseModel):
    """now: the run's own moment; speed: how fast its clock goes. troubles: of a rehearsal, those that have
    come up.
    """

    now: datetime
    speed: float
    events: list[Kept]
    ended: bool
    troubles: list[Trouble] = []


class RunAnswer(EventsAnswer):
    id: int
    piece_id: int | None
    is_rehearsal: bool
    script: Script
    mishaps: list[Mishap]
    begun_at: datetime
    made_at: datetime
    ended_at: datetime | None


class RunList(BaseModel):
    runs: list[RunRow]


@blueprint.post("/pieces/<int:piece_id>/runs", operation_id="beginRun", responses={201: RunAnswer})
def begin_run(path: PiecePath, body: BeginRunBody) -> RouteAnswer:
    """The piece's open run, else a new one that carries out the plan as it is now. A rehearsal is a run of
    its own, from the plan's start.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        if body.rehearse is None:
            beginning.not_passed(connection, shop, path.piece_id, now(), anew=body.anew)
        run = beginning.begin(connection, shop, path.piece_id, now(), body.rehearse)
        return _answer(connection, shop, run, now()), 201


@blueprint.post("/pieces/<int:piece_id>/runs/afterwards", operation_id="enterRun", responses={201: RunAnswer})
def enter_run(path: PiecePath, body: Afterwards) -> RouteAnswer:
    """A run that was made before it was entered, with the times a person remembers."""
    with transaction() as connection:
        shop = workshop_id(connection)
        run = afterwards.enter(connection, shop, path.piece_id, body, now())
        return _answer(connection, shop, run, now()), 201


def _answer(connection: Connection, shop: int, run: Run, real: datetime) -> dict[str, Any]:
    kept = runs.events(connection, shop, run.id)
    return RunAnswer(
        id=run.id,
        piece_id=run.piece_id,
        is_rehearsal=run.rehearsal is not None,
        script=run.script,
        mishaps=list(MISHAPS),
        begun_at=run.begun_at,
        made_at=run.made_at,
        ended_at=run.ended_at,
        now=run.now(real),
        speed=speed_of(run),
        events=kept,
        ended=run.ended_at is not None,
        troubles=troubles_so_far(run, fold(run.script, kept), run.now(real)),
    ).model_dump(mode="json")


@blueprint.get("/runs/<int:run_id>", operation_id="readRun", responses={200: RunAnswer})
def read_run(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return _answer(connection, shop, runs.read(connection, shop, path.run_id), now())


@blueprint.get("/runs/<int:run_id>/events", operation_id="readRunEvents", responses={200: EventsAnswer})
def read_events(path: RunPath, query: SinceQuery) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return _since(connection, shop, runs.read(connection, shop, path.run_id), query.since)


@blueprint.post("/runs/<int:run_id>/events", operation_id="sendRunEvents", responses={200: EventsAnswer})
def send_events(path: RunPath, body: EventsBody) -> RouteAnswer:
    """Keeps each event once, and answers with all that this device does not know yet."""
    with transaction() as connection:
        shop = workshop_id(connection)
        run = carried.keep_events(connection, shop, path.run_id, body.events, now())
        return _since(connection, shop, run, body.since)


def _since(connection: Connection, shop: int, run: Run, since: int) -> dict[str, Any]:
    """What this device does not know yet; of a rehearsal also what its stand-ins read and what goes wrong,
    which takes its whole record.
    """
    moment = run.now(now())
    kept = runs.events(connection, shop, run.id, 0 if run.rehearsal else since)
    troubles: list[Trouble] = []
    if run.rehearsal:
        state = fold(run.script, kept)
        troubles = troubles_so_far(run, state, moment)
    return EventsAnswer(
        now=moment,
        speed=speed_of(run),
        events=[one for one in kept if one.number > since],
        ended=run.ended_at is not None,
        troubles=troubles,
    ).model_dump(mode="json")


@blueprint.post("/runs/<int:run_id>/jump", operation_id="jumpRun", responses={200: EventsAnswer})
def jump(path: RunPath, body: JumpBody) -> RouteAnswer:
    """On to a moment of a rehearsal: the waits between are left out. Refused in a real run."""
    with transaction() as connection:
        shop = workshop_id(connection)
        return _since(connection, shop, carried.jump(connection, shop, path.run_id, body.to, now()), 0)


class ListRunsQuery(BaseModel):
    piece_id: int | None = Field(default=None, ge=1, le=2**62)
    only_open: bool = True


@blueprint.get("/runs", operation_id="listRuns", responses={200: RunList})
def list_runs(query: ListRunsQuery) -> RouteAnswer:
    """Open runs as they stand, newest first; rehearsals too, marked so."""
    with transaction() as connection:
        shop = workshop_id(connection)
        found = runs.listed(connection, shop, is_open=query.only_open, piece_id=query.piece_id)
        rows = [row_of(connection, shop, one, now()) for one in found]
    return RunList(runs=rows).model_dump(mode="json")


@blueprint.get("/runs/<int:run_id>/heat", operation_id="readRunHeat", responses={200: RunHeat})
def read_heat(path: RunPath) -> RouteAnswer:
    """What was read over what was predicted, pour by pour."""
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id)
        return carried.heat_of(connection, shop, run, now()).model_dump(mode="json")


@blueprint.get("/runs/<int:run_id>/debrief", operation_id="readDebrief", responses={200: Debrief})
def read_debrief(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id)
        kept = runs.events(connection, shop, run.id)
        wording = Wording(workshops.read(connection, shop))
    return debrief(run.script, kept, wording).model_dump(mode="json")
