"""A run carried on: what benches send is kept once, how it stands, its heat, its rehearsal. Rules 7.1 to
7.5.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.pour.events import Kept, Pace, ReadOff, Sent
from ..core.pour.pace import MOVES_FROM, PaceFound, expected_c, is_absurd, pace_of
from ..core.pour.rehearsal import MOST_SPEED, Trouble, Warm, troubles_of, warmth
from ..core.pour.script_model import PourCurve, Script
from ..core.pour.state import RunState, fold, may_turn, poured_at
from ..core.pour.view import Alarm, RunView, look
from ..store import runs
from ..store.runs import Run
from .coming import Coming, coming
from .inspecting import follow_inspection
from .learning import make_entry

HOT_C = 45.0  # own judgement: too hot to hold a hand on


MOST_ROOM = 120
JUMP_MOST = timedelta(days=21)


class Practice(BaseModel):
    """speed: so many times as fast; troubles: with things going wrong, drawn by the seed."""

    speed: float = Field(default=60, ge=1, le=MOST_SPEED)
    seed: int = Field(default=1, ge=0, le=10_000)
    troubles: bool = True


class RunRow(BaseModel):
    """One run in a list, as it stands. then: the next steps after the one of now, in order."""

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
    then: list[Coming]
    poured: float
    alarms: list[Alarm]
    open_mishaps: int
    speed: float


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


def speed_of(run: Run) -> float:
    return run.rehearsal.speed if run.rehearsal else 1.0


def settle(connection: Connection, shop: int, run: Run) -> None:
    state = fold(run.script, runs.events(connection, shop, run.id))
    runs.note(connection, shop, run.id, state.ended_at, state.attached)
    if state.ended and run.rehearsal is None:
        make_entry(connection, shop, run.id)


def _drawn(run: Run) -> list[Trouble]:
    wanted = run.rehearsal is not None and run.rehearsal.troubles
    return (
        troubles_of(run.rehearsal.seed, [one.pour for one in run.script.curves])
        if wanted and run.rehearsal
        else []
    )


def troubles_so_far(run: Run, state: RunState, moment: datetime) -> list[Trouble]:
    found = []
    for one in _drawn(run):
        poured = poured_at(run.script, state, one.pour)
        if poured is not None and poured + timedelta(seconds=one.after_s) <= moment:
            found.append(one)
    return found


def _stand_ins(
    connection: Connection, shop: int, run: Run, state: RunState, curve: PourCurve, moment: datetime
) -> list[Warm]:
    """What a rehearsal's stand-ins have read of one pour up to its moment and nobody kept yet."""
    poured = poured_at(run.script, state, curve.pour)
    if run.rehearsal is None or run.ended_at or poured is None:
        return []
    last = runs.last_reading_at(connection, shop, run.id, curve.pour)
    from_s = (last - poured).total_seconds() + 1.0 if last else 0.0
    to_s = min((moment - poured).total_seconds(), curve.curve[-1][0] * 1.3)
    if to_s <= from_s:
        return []
    return warmth(curve, run.rehearsal.seed, from_s, to_s, run.room_c, _drawn(run))


def _practise(connection: Connection, shop: int, run: Run, state: RunState, moment: datetime) -> None:
    """Keeps what a rehearsal's stand-ins have read. The caller holds the run's lock, so that no two requests
    wait for each other's rows.
    """
    for curve in run.script.curves:
        found = _stand_ins(connection, shop, run, state, curve, moment)
        poured = poured_at(run.script, state, curve.pour)
        if found and poured is not None:
            runs.keep_warm(connection, shop, run.id, curve.pour, poured, found)


def row_of(connection: Connection, shop: int, run: Run, real: datetime) -> RunRow:
    state = fold(run.script, runs.events(connection, shop, run.id))
    moment = run.now(real)
    view: RunView = look(run.script, state, moment)
    warmest = _warmest(run, state, moment)
    return RunRow(
        id=run.id,
        piece_id=run.piece_id,
        piece=run.script.piece,
        tint=run.script.tint,
        is_rehearsal=run.rehearsal is not None,
        begun_at=run.begun_at,
        ended_at=run.ended_at,
        now=moment,
        **_current(run.script, view),
        now_c=warmest,
        is_hot=warmest is not None and warmest >= HOT_C,
        poured=_poured_share(run.script, state),
        alarms=view.alarms,
        open_mishaps=sum(one.over_at is None for one in state.mishaps),
        speed=speed_of(run),
    )


def _current(script: Script, view: RunView) -> dict[str, Any]:
    """The step that is to be done now, and its window; empty words where there is none."""
    step = next((one for one in script.steps if one.id == view.current), None)
    seen = next((one for one in view.steps if one.id == view.current), None)
    window = (seen.opens_at, seen.closes_at) if seen else (None, None)
    if step is None:
        told = {"step": "", "step_id": "", "kind": "", "is_hands_on": False}
    else:
        told = {
            "step": step.title,
            "step_id": step.id,
            "kind": step.kind,
            "is_hands_on": step.hands_s > 0,
        }
    return {**told, "opens_at": window[0], "closes_at": window[1], "then": coming(script, view)}


def _poured_share(script: Script, state: RunState) -> float:
    """How much of the whole volume is poured, 0..1."""
    pours = sorted({one.pour for one in script.steps if one.pour and one.branch is None})
    shares = zip(script.depth_share, pours, strict=False)
    return sum((share for share, pour in shares if poured_at(script, state, pour)), 0.0)


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


def heat_of(connection: Connection, shop: int, run: Run, real: datetime) -> RunHeat:
    """What was read over what was predicted, pour by pour. Reads only: nothing is kept and nothing is
    locked.
    """
    kept = runs.events(connection, shop, run.id)
    state = fold(run.script, kept)
    moment = run.now(real)
    unkept = {
        curve.pour: _stand_ins(connection, shop, run, state, curve, moment) for curve in run.script.curves
    }
    pours = [
        _measured_curve(connection, shop, run, state, kept, curve, unkept[curve.pour])
        for curve in run.script.curves
    ]
    room = runs.readings(connection, shop, run.id, "room_c", most=MOST_ROOM)
    for curve in run.script.curves:
        poured = poured_at(run.script, state, curve.pour)
        if poured is not None:
            room += [(poured + timedelta(seconds=one.at_s), one.room_c) for one in unkept[curve.pour]]
    return RunHeat(pours=pours, room=sorted(room), attached=state.attached)


def _by_hand(state: RunState, kept: list[Kept], pour: int, poured: datetime) -> list[tuple[float, float]]:
    """Readings of a pour that were taken by hand and stand: s after pouring, degC."""
    standing = [one for one in kept if str(one.event_id) not in state.undone]
    read = [(one.at, one.event) for one in standing if isinstance(one.event, ReadOff)]
    return [
        ((at - poured).total_seconds(), event.value)
        for at, event in read
        if event.pour == pour and event.what in ("surface_c", "probe_c")
    ]


def _sound(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    return [one for one in points if not is_absurd(one[1])]


def _measured_curve(
    connection: Connection,
    shop: int,
    run: Run,
    state: RunState,
    kept: list[Kept],
    curve: PourCurve,
    unkept: list[Warm],
) -> MeasuredCurve:
    poured = poured_at(run.script, state, curve.pour)
    if poured is None:
        return MeasuredCurve(predicted=curve, poured_at=None, probe=[], surface=[], pace=None, absurd=0)
    logged = runs.readings(connection, shop, run.id, "probe_c", curve.pour)
    probe = [((at - poured).total_seconds(), value) for at, value in logged]
    probe += [(one.at_s, one.probe_c) for one in unkept if one.probe_c is not None]
    surface = _by_hand(state, kept, curve.pour, poured)
    every = [*probe, *surface]
    sound = _sound(every)
    return MeasuredCurve(
        predicted=curve,
        poured_at=poured,
        probe=_sound(probe),
        surface=_sound(surface),
        # A probe in the layer and a surface read from above are two things: never one curve of both.
        pace=pace_of(sorted(_sound(probe)), curve.curve) or pace_of(sorted(_sound(surface)), curve.curve),
        absurd=len(every) - len(sound),
    )


def follow_pace(connection: Connection, shop: int, run: Run, real: datetime) -> None:
    """A cure that keeps another time than predicted moves the windows to come, and that is an event of the
    run. Asked for whenever a reading was kept; the caller holds the run's lock.
    """
    if run.ended_at:
        return
    state = fold(run.script, runs.events(connection, shop, run.id))
    moment = run.now(real)
    for one in heat_of(connection, shop, run, real).pours:
        said = state.pace.get(str(one.predicted.pour), 1.0)
        if one.pace is None or abs(one.pace.times / said - 1) < MOVES_FROM:
            continue
        event = Pace(pour=one.predicted.pour, times=one.pace.times, why=one.pace.says)
        sent = Sent(
            event_id=uuid4(),
            device=runs.SERVER,
            seq=int(real.timestamp() * 1000),
            at=moment,
            device_at=real,
            event=event,
        )
        runs.append(connection, shop, run, [sent], moment)


def log_probe(connection: Connection, shop: int, celsius: float, name: str, now: datetime) -> None:
    """A probe's reading into every run that it lies in; a cure that keeps another time moves the windows."""
    for run_id, pour in runs.with_probe(connection, shop):
        with connection.transaction():
            run = runs.read(connection, shop, run_id, lock=True)
            runs.keep_readings(connection, shop, run_id, pour, "probe_c", [(now, celsius)], name)
            follow_pace(connection, shop, run, now)


def keep_events(connection: Connection, shop: int, run_id: int, sent: Sequence[Sent], real: datetime) -> Run:
    """Keeps each event once. Readings among them may move the windows to come.

    Raises DomainError for a step that this run does not have.
    """
    run = runs.read(connection, shop, run_id, lock=True)
    _check_steps(run, sent)
    if runs.append(connection, shop, run, sent, run.now(real)):
        if run.ended_at is None and not may_turn(one.event.kind for one in sent):
            runs.note(connection, shop, run.id, run.ended_at, run.probe_pour)
        else:
            settle(connection, shop, run)
            run = runs.read(connection, shop, run.id)
    if any(one.event.kind in ("test", "undo") for one in sent):
        follow_inspection(connection, shop, run)
    if run.rehearsal:
        state = fold(run.script, runs.events(connection, shop, run.id))
        _practise(connection, shop, run, state, run.now(real))
    if run.rehearsal or any(isinstance(one.event, ReadOff) for one in sent):
        follow_pace(connection, shop, run, real)
    return run


def _check_steps(run: Run, sent: Sequence[Sent]) -> None:
    known = {step.id for step in run.script.steps}
    for one in sent:
        step = getattr(one.event, "step", "")
        if step and step not in known:
            raise DomainError(
                argument="step",
                value=step,
                allowed="it is one of this run",
                way_out="Open the run again.",
                code="no-step",
            )


def jump(connection: Connection, shop: int, run_id: int, to: datetime, real: datetime) -> Run:
    """On to a moment of a rehearsal: the waits between are left out.

    Raises DomainError for a real run, and for more than JUMP_MOST at once.
    """
    run = runs.read(connection, shop, run_id, lock=True)
    if run.rehearsal is None:
        raise DomainError(
            argument="run",
            value="a real one",
            allowed="only a rehearsal's clock is moved",
            way_out="Wait, or rehearse it.",
            code="not-a-rehearsal",
        )
    wait = to - run.now(real)
    if wait > JUMP_MOST:
        raise DomainError(
            argument="jump",
            value=f"{wait.days} days",
            allowed=f"at most {JUMP_MOST.days} days at once",
            way_out="Jump in steps.",
            code="too-far",
        )
    if wait > timedelta(0):
        jumped = run.rehearsal.jumped_s + wait.total_seconds()
        runs.jump(connection, shop, run.id, run.rehearsal.model_copy(update={"jumped_s": jumped}))
        run = runs.read(connection, shop, run.id)
    state = fold(run.script, runs.events(connection, shop, run.id))
    _practise(connection, shop, run, state, run.now(real))
    follow_pace(connection, shop, run, real)
    return run
