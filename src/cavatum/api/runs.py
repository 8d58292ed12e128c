"""Runs: begin one, keep what the benches send exactly once, and say how it stands. A rehearsal runs by its
own clock.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

from flask_openapi3 import APIBlueprint
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.wording import Say
from ..core.pour.debrief import Debrief, debrief
from ..core.pour.events import Kept, Pace, Sent
from ..core.pour.pace import MOVES_FROM, PaceFound, expected_c, is_absurd, pace_of
from ..core.pour.rehearsal import MOST_SPEED, Rehearsal, Trouble, troubles_of, warmth
from ..core.pour.script import PourCurve, Script, compile_script
from ..core.pour.state import Alarm, RunState, RunView, fold, look, may_turn, poured_at
from ..core.practice.mishaps import MISHAPS, Mishap
from ..store import runs, workshops
from ..store.runs import Run
from . import planning
from .context import now, transaction, workshop_id
from .learning import make_entry
from .pieces import PiecePath
from .problems import Problem

blueprint = APIBlueprint("runs", __name__, url_prefix="/api/v1", abp_responses={"4XX": Problem})
MOST_AT_ONCE = 500
HOT_C = 45.0  # own judgement: too hot to hold a hand on
JUMP_MOST = timedelta(days=21)


class RunPath(BaseModel):
    run_id: int = Field(ge=1, le=2**62)


class RehearseBody(BaseModel):
    """speed: so many times as fast; troubles: with things going wrong, drawn by the seed."""

    speed: float = Field(default=60, ge=1, le=MOST_SPEED)
    seed: int = Field(default=1, ge=0, le=10_000)
    troubles: bool = True


class BeginRunBody(BaseModel):
    rehearse: RehearseBody | None = None


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


class RunRow(BaseModel):
    """One run in a list, as it stands."""

    id: int
    piece_id: int | None
    piece: str
    tint: str
    is_rehearsal: bool
    begun_at: datetime
    ended_at: datetime | None
    now: datetime
    step: str
    step_id: str
    kind: str
    now_c: float | None
    is_hot: bool
    opens_at: datetime | None
    closes_at: datetime | None
    is_hands_on: bool
    poured: float
    alarms: list[Alarm]
    open_mishaps: int
    speed: float


class RunList(BaseModel):
    runs: list[RunRow]


class MeasuredCurve(BaseModel):
    """One pour: what was expected and what was read, both in seconds after it was poured."""

    predicted: PourCurve
    poured_at: datetime | None
    probe: list[tuple[float, float]]
    surface: list[tuple[float, float]]
    pace: PaceFound | None
    absurd: int


class RunHeat(BaseModel):
    pours: list[MeasuredCurve]
    room: list[tuple[datetime, float]]
    attached: int | None


def _speed(run: Run) -> float:
    return run.rehearsal.speed if run.rehearsal else 1.0


@blueprint.post("/pieces/<int:piece_id>/runs", operation_id="beginRun", responses={201: RunAnswer})
def begin_run(path: PiecePath, body: BeginRunBody):
    """The piece's open run, else a new one that carries out the plan as it is now. A rehearsal is a run of
    its own, from the plan's start.
    """
    with transaction() as connection:
        shop, real = workshop_id(connection), now()
        stored, inputs, plan = planning.opened(connection, shop, path.piece_id, real)
        if not plan.pours or plan.start_at is None:
            raise DomainError(
                "plan",
                "without a pour",
                "there is something to pour",
                "Measure a void or coat and choose a system first.",
                "no-pour",
            )
        script = compile_script(stored.id, stored.piece, plan, inputs.workshop)
        rehearsal = None
        if body.rehearse:
            first = min(step.planned_at for step in script.steps)
            rehearsal = Rehearsal(
                speed=body.rehearse.speed,
                seed=body.rehearse.seed,
                troubles=body.rehearse.troubles,
                start_at=first,
                real_from=real,
            )
        begun = rehearsal.start_at if rehearsal else real
        run, _ = runs.begin(
            connection,
            shop,
            stored.id,
            stored.revision,
            plan,
            script,
            begun,
            inputs.workshop.room_c.value,
            rehearsal,
        )
        return _answer(connection, shop, run, real), 201


def _answer(connection: Connection, shop: int, run: Run, real: datetime) -> dict:
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
        speed=_speed(run),
        events=kept,
        ended=run.ended_at is not None,
        troubles=_troubles(run, fold(run.script, kept), run.now(real)),
    ).model_dump(mode="json")


@blueprint.get("/runs/<int:run_id>", operation_id="readRun", responses={200: RunAnswer})
def read_run(path: RunPath):
    with transaction() as connection:
        shop = workshop_id(connection)
        return _answer(connection, shop, runs.read(connection, shop, path.run_id), now())


@blueprint.get("/runs/<int:run_id>/events", operation_id="readRunEvents", responses={200: EventsAnswer})
def read_events(path: RunPath, query: SinceQuery):
    with transaction() as connection:
        shop = workshop_id(connection)
        return _since(connection, shop, runs.read(connection, shop, path.run_id), query.since)


@blueprint.post("/runs/<int:run_id>/events", operation_id="sendRunEvents", responses={200: EventsAnswer})
def send_events(path: RunPath, body: EventsBody):
    """Keeps each event once, and answers with all that this device does not know yet."""
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id, lock=True)
        known = {step.id for step in run.script.steps}
        for one in body.events:
            step = getattr(one.event, "step", "")
            if step and step not in known:
                raise DomainError("step", step, "it is one of this run", "Open the run again.", "no-step")
        if runs.append(connection, shop, run, body.events, run.now(now())):
            if run.ended_at is None and not may_turn(one.event.kind for one in body.events):
                runs.note(connection, shop, run.id, run.ended_at, run.probe_pour)
            else:
                _settle(connection, shop, run)
                run = runs.read(connection, shop, run.id)
        return _since(connection, shop, run, body.since)


def _settle(connection: Connection, shop: int, run: Run) -> None:
    state = fold(run.script, runs.events(connection, shop, run.id))
    runs.note(connection, shop, run.id, state.ended_at, state.attached)
    if state.ended and run.rehearsal is None:
        make_entry(connection, shop, run.id)


def _since(connection: Connection, shop: int, run: Run, since: int) -> dict:
    """What this device does not know yet; of a rehearsal also what its stand-ins read and what goes wrong,
    which takes its whole record.
    """
    moment = run.now(now())
    kept = runs.events(connection, shop, run.id, 0 if run.rehearsal else since)
    troubles: list[Trouble] = []
    if run.rehearsal:
        state = fold(run.script, kept)
        if not run.ended_at:
            _practise(connection, shop, run, state, moment)
        troubles = _troubles(run, state, moment)
    return EventsAnswer(
        now=moment,
        speed=_speed(run),
        events=[one for one in kept if one.number > since],
        ended=run.ended_at is not None,
        troubles=troubles,
    ).model_dump(mode="json")


def _drawn(run: Run) -> list[Trouble]:
    wanted = run.rehearsal is not None and run.rehearsal.troubles
    return (
        troubles_of(run.rehearsal.seed, [one.pour for one in run.script.curves])
        if wanted and run.rehearsal
        else []
    )


def _troubles(run: Run, state: RunState, moment: datetime) -> list[Trouble]:
    found = []
    for one in _drawn(run):
        poured = poured_at(run.script, state, one.pour)
        if poured is not None and poured + timedelta(seconds=one.after_s) <= moment:
            found.append(one)
    return found


def _practise(connection: Connection, shop: int, run: Run, state: RunState, moment: datetime) -> None:
    """The stand-ins' readings of a rehearsal up to its moment, each kept once; one request after another, so
    that no two wait for each other's rows.
    """
    assert run.rehearsal is not None
    runs.read(connection, shop, run.id, lock=True)
    for curve in run.script.curves:
        poured = poured_at(run.script, state, curve.pour)
        if poured is None:
            continue
        last = runs.last_reading_at(connection, shop, run.id, curve.pour)
        from_s = (last - poured).total_seconds() + 1.0 if last else 0.0
        to_s = min((moment - poured).total_seconds(), curve.curve[-1][0] * 1.3)
        if to_s > from_s:
            runs.keep_warm(
                connection,
                shop,
                run.id,
                curve.pour,
                poured,
                warmth(curve, run.rehearsal.seed, from_s, to_s, run.room_c, _drawn(run)),
            )


@blueprint.post("/runs/<int:run_id>/jump", operation_id="jumpRun", responses={200: EventsAnswer})
def jump(path: RunPath, body: JumpBody):
    """On to a moment of a rehearsal: the waits between are left out. Refused in a real run."""
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id, lock=True)
        if run.rehearsal is None:
            raise DomainError(
                "run",
                "a real one",
                "only a rehearsal's clock is moved",
                "Wait, or rehearse it.",
                "not-a-rehearsal",
            )
        wait = body.to - run.now(now())
        if wait > JUMP_MOST:
            raise DomainError(
                "jump",
                f"{wait.days} days",
                f"at most {JUMP_MOST.days} days at once",
                "Jump in steps.",
                "too-far",
            )
        if wait > timedelta(0):
            moved = run.rehearsal.model_copy(
                update={"jumped_s": run.rehearsal.jumped_s + wait.total_seconds()}
            )
            runs.jump(connection, shop, run.id, moved)
            run = runs.read(connection, shop, run.id)
        return _since(connection, shop, run, 0)


class ListRunsQuery(BaseModel):
    piece_id: int | None = Field(default=None, ge=1, le=2**62)
    only_open: bool = True


@blueprint.get("/runs", operation_id="listRuns", responses={200: RunList})
def list_runs(query: ListRunsQuery):
    """Open runs as they stand, newest first; rehearsals too, marked so."""
    with transaction() as connection:
        shop = workshop_id(connection)
        found = runs.listed(connection, shop, is_open=query.only_open, piece_id=query.piece_id)
        rows = [row_of(connection, shop, one, now()) for one in found]
    return RunList(runs=rows).model_dump(mode="json")


def row_of(connection: Connection, shop: int, run: Run, real: datetime) -> RunRow:
    state = fold(run.script, runs.events(connection, shop, run.id))
    moment = run.now(real)
    view: RunView = look(run.script, state, moment)
    step = next((one for one in run.script.steps if one.id == view.current), None)
    seen = next((one for one in view.steps if one.id == view.current), None)
    warmest = _warmest(run, state, moment)
    poured = sum(
        share
        for share, pour in zip(
            run.script.depth_share, sorted({one.pour for one in run.script.steps if one.pour}), strict=False
        )
        if poured_at(run.script, state, pour)
    )
    return RunRow(
        id=run.id,
        piece_id=run.piece_id,
        piece=run.script.piece,
        tint=run.script.tint,
        is_rehearsal=run.rehearsal is not None,
        begun_at=run.begun_at,
        ended_at=run.ended_at,
        now=moment,
        step=step.title if step else "",
        step_id=step.id if step else "",
        kind=step.kind if step else "",
        now_c=warmest,
        is_hot=warmest is not None and warmest >= HOT_C,
        opens_at=seen.opens_at if seen else None,
        closes_at=seen.closes_at if seen else None,
        is_hands_on=bool(step and step.hands_s > 0),
        poured=poured,
        alarms=view.alarms,
        open_mishaps=sum(1 for one in state.mishaps if one.over_at is None),
        speed=_speed(run),
    )


def _warmest(run: Run, state: RunState, moment: datetime) -> float | None:
    """Hottest of all that is poured, by the plan's curve at the pace its readings gave. None: nothing is
    poured, or its curve has ended.
    """
    found = []
    for curve in run.script.curves:
        poured = poured_at(run.script, state, curve.pour)
        if poured is not None:
            at = (moment - poured).total_seconds() / state.pace.get(str(curve.pour), 1.0)
            if at <= curve.curve[-1][0]:
                found.append(expected_c(curve.curve, at))
    return max(found, default=None)


@blueprint.get("/runs/<int:run_id>/heat", operation_id="readRunHeat", responses={200: RunHeat})
def read_heat(path: RunPath):
    """What was read over what was predicted, pour by pour. A cure that keeps another time moves the windows
    to come, and that is an event.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id, lock=True)
        kept = runs.events(connection, shop, run.id)
        state = fold(run.script, kept)
        if run.rehearsal and not run.ended_at:
            _practise(connection, shop, run, state, run.now(now()))
        pours = [_measured(connection, shop, run, state, kept, curve) for curve in run.script.curves]
        if not run.ended_at:
            _move_windows(connection, shop, run, state, pours)
        room = runs.readings(connection, shop, run.id, "room_c", most=120)
        return RunHeat(pours=pours, room=room, attached=state.attached).model_dump(mode="json")


def _measured(
    connection: Connection, shop: int, run: Run, state: RunState, kept: list[Kept], curve: PourCurve
) -> MeasuredCurve:
    poured = poured_at(run.script, state, curve.pour)
    if poured is None:
        return MeasuredCurve(predicted=curve, poured_at=None, probe=[], surface=[], pace=None, absurd=0)
    probe = [
        ((at - poured).total_seconds(), value)
        for at, value in runs.readings(connection, shop, run.id, "probe_c", curve.pour)
    ]
    said = [
        one
        for one in kept
        if one.event.kind == "reading"
        and one.event.what in ("surface_c", "probe_c")
        and one.event.pour == curve.pour
        and str(one.event_id) not in state.undone
    ]
    surface = [
        ((one.at - poured).total_seconds(), one.event.value) for one in said if one.event.kind == "reading"
    ]
    every = [*probe, *surface]
    sound = [one for one in every if not is_absurd(one[1])]
    pace = pace_of(sorted(sound), curve.curve)
    return MeasuredCurve(
        predicted=curve,
        poured_at=poured,
        probe=[one for one in probe if not is_absurd(one[1])],
        surface=[one for one in surface if not is_absurd(one[1])],
        pace=pace,
        absurd=len(every) - len(sound),
    )


def _move_windows(
    connection: Connection, shop: int, run: Run, state: RunState, pours: list[MeasuredCurve]
) -> None:
    moment = run.now(now())
    for one in pours:
        said = state.pace.get(str(one.predicted.pour), 1.0)
        if one.pace is None or abs(one.pace.times / said - 1) < MOVES_FROM:
            continue
        seq = int(now().timestamp() * 1000)
        event = Pace(pour=one.predicted.pour, times=one.pace.times, why=one.pace.says)
        runs.append(
            connection,
            shop,
            run,
            [Sent(event_id=uuid4(), device=runs.SERVER, seq=seq, at=moment, device_at=now(), event=event)],
            moment,
        )


@blueprint.get("/runs/<int:run_id>/debrief", operation_id="readDebrief", responses={200: Debrief})
def read_debrief(path: RunPath):
    with transaction() as connection:
        shop = workshop_id(connection)
        run = runs.read(connection, shop, path.run_id)
        kept = runs.events(connection, shop, run.id)
        say = Say(workshops.read(connection, shop))
    return debrief(run.script, kept, say).model_dump(mode="json")
