"""The workshop's clock: all pieces planned together, advice on starts, and calendars out and in."""

from __future__ import annotations

from typing import Any

from flask import Response, abort, g, request
from psycopg import Connection
from pydantic import AwareDatetime, BaseModel, Field

from ..core.common.workshop import zone_named
from ..core.piece.document import PourStart
from ..core.schedule.plan_together import StartAdvice, start_advice
from ..core.schedule.together import ScheduleResult
from ..formats.calendar import busy_in_child, write_calendar
from ..services import planning
from ..services.schedule import Wish, calendar_of, schedule_inputs
from ..store import calendars, jobs, pieces, workshops
from . import heat
from .answers import RouteAnswer
from .context import at_the_door, now, transaction, who, workshop_id
from .identity import Who
from .operations import Blueprint
from .pieces import PieceAnswer, PiecePath

blueprint = Blueprint("schedule")


class ScheduleBody(BaseModel):
    """Pieces not named: those without a start are free, the others stand."""

    wishes: list[Wish] = Field(default=[], max_length=200)


class ScheduleAnswer(BaseModel):
    job_id: int
    state: str
    progress: float
    says: str
    result: ScheduleResult | None = None


class KeptStart(BaseModel):
    piece_id: int = Field(ge=1, le=2**62)
    start_at: AwareDatetime
    later_mixes: list[PourStart] = Field(default=[], max_length=60)


class KeepBody(BaseModel):
    starts: list[KeptStart] = Field(min_length=1, max_length=200)


class KeptAnswer(BaseModel):
    kept: list[PieceAnswer]


class AdviceAnswer(BaseModel):
    starts: list[StartAdvice]


class FeedAnswer(BaseModel):
    """path: of the calendar feed, secret: whoever knows it sees the hands-on moments."""

    path: str


class BusyQuery(BaseModel):
    """zone: what a person says for names of time zones that nobody knows; "" while none was asked about."""

    zone: str = Field(default="", max_length=60)


class BusyAnswer(BaseModel):
    """asks: names of time zones to be said first; then nothing was changed."""

    taken: int
    left_out: list[str]
    asks: list[str] = []


def _schedule_answer(job: jobs.LongWork) -> dict[str, Any]:
    result = ScheduleResult.model_validate(job.result) if job.result and job.state == "done" else None
    return ScheduleAnswer(
        job_id=job.id, state=job.state, progress=job.progress, says=job.says, result=result
    ).model_dump(mode="json")


@blueprint.post(
    "/schedule", operation_id="askForSchedule", responses={200: ScheduleAnswer, 202: ScheduleAnswer}
)
def ask_for_schedule(body: ScheduleBody) -> RouteAnswer:
    """All open pieces on one clock: long work. 200 where the answer to the same question of this half hour is
    known.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        job, is_new = jobs.ask(
            connection, shop, "schedule", schedule_inputs(connection, shop, body.wishes, now())
        )
    if is_new:
        heat.queue_word(job.id)
    return _schedule_answer(job), 200 if job.is_over else 202


class ScheduleJobPath(BaseModel):
    job_id: int = Field(ge=1, le=2**62)


@blueprint.get("/schedule/<int:job_id>", operation_id="readSchedule", responses={200: ScheduleAnswer})
def read_schedule(path: ScheduleJobPath) -> RouteAnswer:
    with transaction() as connection:
        return _schedule_answer(jobs.read(connection, workshop_id(connection), path.job_id))


@blueprint.post("/schedule/keep", operation_id="keepStarts", responses={200: KeptAnswer})
def keep_starts(body: KeepBody) -> RouteAnswer:
    """Sets the starts that were proposed; each is an edit of its piece and can be undone there."""
    kept = []
    with transaction() as connection:
        shop = workshop_id(connection)
        for one in body.starts:
            stored = pieces.read(connection, shop, one.piece_id)
            changed = stored.piece.model_copy(
                update={"first_pour_at": one.start_at, "later_mixes": one.later_mixes}
            )
            saved = pieces.save(
                connection, shop, one.piece_id, stored.revision, changed, "start set on the workshop's clock"
            )
            kept.append(
                PieceAnswer(
                    id=saved.id,
                    revision=saved.revision,
                    piece=saved.piece,
                    changed_at=saved.changed_at,
                    can_undo=saved.can_undo,
                    can_redo=saved.can_redo,
                    merged=saved.merged,
                )
            )
    return KeptAnswer(kept=kept).model_dump(mode="json")


@blueprint.get("/pieces/<int:piece_id>/starts", operation_id="adviseStarts", responses={200: AdviceAnswer})
def advise_starts(path: PiecePath) -> RouteAnswer:
    """When to begin: for some starts of the next two working days when the first window opens."""
    with transaction() as connection:
        shop = workshop_id(connection)
        stored, inputs = pieces.read(connection, shop, path.piece_id), planning.inputs_of(connection, shop)
    found = start_advice(
        stored.piece.model_copy(update={"first_pour_at": None}),
        inputs.sheets,
        inputs.workshop,
        now(),
        inputs.shelf_items,
    )
    return AdviceAnswer(starts=found).model_dump(mode="json")


class FeedPath(BaseModel):
    secret: str = Field(min_length=20, max_length=80)


@blueprint.get("/calendar/<secret>.ics", operation_id="readCalendarFeed", responses={200: None})
def feed(path: FeedPath) -> RouteAnswer:
    """The feed a calendar subscribes to: every moment that wants hands, by the run where one is on, else by
    the plan.
    """
    with at_the_door() as connection:
        shop = calendars.workshop_of(connection, path.secret)
    if shop is None:
        abort(404)
    g.who = Who(workshop_id=shop, role="viewer", how="token", name="a calendar")
    with transaction() as connection:
        return _calendar(connection, shop)


@blueprint.get("/calendar.ics", operation_id="readCalendar", responses={200: None})
def download() -> RouteAnswer:
    with transaction() as connection:
        response = _calendar(connection, workshop_id(connection))
    response.headers["Content-Disposition"] = 'attachment; filename="cavatum.ics"'
    return response


def _calendar(connection: Connection, shop: int) -> Response:
    moment = now()
    name, found = calendar_of(connection, shop, moment)
    data = write_calendar(f"Cavatum, {name}", sorted(found, key=lambda one: one.from_at), moment)
    return Response(data, mimetype="text/calendar; charset=utf-8")


def _holder() -> calendars.Holder:
    """Each their own address: it ends with whoever asked for it."""
    return calendars.Holder(account_id=who().account_id, token_id=who().token_id)


@blueprint.get("/calendar", operation_id="readFeedAddress", responses={200: FeedAnswer})
def feed_address() -> RouteAnswer:
    with at_the_door() as connection:
        return FeedAnswer(
            path=f"/api/v1/calendar/{calendars.token(connection, workshop_id(connection), _holder())}.ics"
        ).model_dump()


@blueprint.post("/calendar/new", operation_id="renewFeedAddress", responses={200: FeedAnswer})
def new_feed_address() -> RouteAnswer:
    with at_the_door() as connection:
        return FeedAnswer(
            path=f"/api/v1/calendar/{calendars.new_token(connection, workshop_id(connection), _holder())}.ics"
        ).model_dump()


@blueprint.post("/calendar/busy", operation_id="takeInBusy", responses={200: BusyAnswer})
def take_in_busy(query: BusyQuery) -> RouteAnswer:
    """An iCalendar file as the request's body: its busy times take the place of those taken in before; typed
    ones stay.
    """
    data = request.get_data()
    if query.zone:
        zone_named(query.zone)
    with transaction() as connection:
        zone = workshops.read(connection, workshop_id(connection)).zone
    found = busy_in_child(data, now(), zone, query.zone)
    with transaction() as connection:
        shop = workshop_id(connection)
        workshops.lock(connection, shop)
        settings = workshops.read(connection, shop)
        if found.asks:
            return BusyAnswer(taken=0, left_out=found.left_out, asks=found.asks).model_dump()
        typed = [one for one in settings.busy if one.source == "typed"]
        workshops.write(
            connection,
            shop,
            settings.model_copy(update={"busy": (typed + found.busy)[:500]}),
            workshops.is_demo(connection, shop),
        )
    return BusyAnswer(taken=len(found.busy), left_out=found.left_out).model_dump()
