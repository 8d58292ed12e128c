"""A run that was made before anybody entered it: from what a person remembers, with their own times. Rule
7.5."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Literal
from uuid import uuid4

from psycopg import Connection
from pydantic import AwareDatetime, BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..core.pour.events import DoneStep, EndRun, Noted, RunEvent, Sent, Tested
from ..core.pour.script_model import Script, ScriptStep
from ..store import runs
from ..store.runs import Run
from . import beginning
from . import runs as carried


class PouredAt(BaseModel):
    pour: int = Field(ge=1, le=500)
    at: AwareDatetime


class TestedAt(BaseModel):
    """A test of a step, as it came out then."""

    step: str = Field(max_length=80)
    at: AwareDatetime
    result: Literal["passed", "not passed", "not sure"] = "passed"


class Afterwards(BaseModel):
    """What was done, in its order: when each pour was poured, what was tested, and whether it is over."""

    poured: list[PouredAt] = Field(min_length=1, max_length=60)
    tests: list[TestedAt] = Field(default=[], max_length=60)
    how: Literal["finished", "given up", "goes on"] = "goes on"
    ended_at: AwareDatetime | None = None
    note: Label = ""


def enter(connection: Connection, shop: int, piece_id: int, told: Afterwards, real: datetime) -> Run:
    """A run begun at its first step of then, with every entry at the time that was typed.

    Raises DomainError for times in the future or out of order, for a pour or a test that the plan does not
    have, and while a run of this piece is open.
    """
    _check(told, real)
    if runs.listed(connection, shop, is_open=True, piece_id=piece_id):
        raise DomainError(
            argument="run",
            value="open",
            allowed="what was done before is entered into a run of its own",
            way_out="End the open run first, or enter it there with its own time.",
            code="run-open",
        )
    run = beginning.begin(connection, shop, piece_id, real, None)
    said = _events(run.script, told)
    runs.begun_at(connection, shop, run.id, min(at for at, _ in said))
    device = uuid4()
    sent = [
        Sent(event_id=uuid4(), device=device, seq=seq, at=at, device_at=real, entered=True, event=event)
        for seq, (at, event) in enumerate(said, start=1)
    ]
    return carried.keep_events(connection, shop, run.id, sent, real)


def _check(told: Afterwards, real: datetime) -> None:
    times = [one.at for one in told.poured]
    if times != sorted(times) or any(at > real for at in [*times, *(one.at for one in told.tests)]):
        raise DomainError(
            argument="time",
            value="in the future or out of order",
            allowed="each pour comes after the one before it, and all of them before now",
            way_out="Correct the times.",
            code="out-of-order",
        )


def _events(script: Script, told: Afterwards) -> list[tuple[datetime, RunEvent]]:
    said: list[tuple[datetime, RunEvent]] = []
    for poured in told.poured:
        said += [(at, DoneStep(step=step.id)) for step, at in _mixed(script, poured)]
    known = {step.id for step in script.steps if step.kind == "test"}
    for test in told.tests:
        if test.step not in known:
            raise _unknown("test", test.step)
        said.append((test.at, Tested(step=test.step, result=test.result)))
    said.sort(key=lambda one: one[0])
    last = max(told.ended_at or said[-1][0], said[-1][0])
    if told.note:
        said.append((last, Noted(text=told.note)))
    if told.how != "goes on":
        said.append((last, EndRun(how=told.how)))
    return said


def _mixed(script: Script, poured: PouredAt) -> Sequence[tuple[ScriptStep, datetime]]:
    """The steps of a pour up to its last batch, as far before it as the plan has them."""
    own = [step for step in script.steps if step.pour == poured.pour]
    batches = [step for step in own if step.kind == "pour" and step.batch is not None]
    if not batches:
        raise _unknown("pour", str(poured.pour))
    last = batches[-1]
    before = [step for step in own if step.planned_at <= last.planned_at and step.kind != "test"]
    return [(step, poured.at - max(last.planned_at - step.planned_at, timedelta(0))) for step in before]


def _unknown(what: str, value: str) -> DomainError:
    return DomainError(
        argument=what,
        value=value,
        allowed="it is one of this plan",
        way_out="Plan the piece as it was made first.",
        code=f"no-{what}",
    )
