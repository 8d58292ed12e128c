"""A batch at the scale: begin it, see it live, keep what was weighed, answer what went wrong. An entry sent
twice is kept once.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID, uuid5

from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Mass, Volume
from ..core.common.verdict import Verdict
from ..core.common.wording import Wording
from ..core.mix.bottle import bottle_verdict, which_part
from ..core.mix.live import Live, live, no_scale
from ..core.mix.scale import ScaleReading
from ..core.mix.weigh_events import EndWeighing, FromBottle, WeighEvent, WeighState, WeighTask
from ..core.mix.weigh_task import task_of
from ..core.mix.weighing import reduce
from ..core.pour.events import DoneStep, Sent
from ..services import planning
from ..services.stock import chosen_bottle
from ..store import devices, runs, stock, weighings, workshops
from ..store.pool import NotFound
from ..store.weighings import Weighing
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("weighing")
STAND_IN_COMMANDS = (
    r"^(tare|CUP \d{1,4}|LIFT|POUR \d{1,4}(\.\d)?|ADD \d{1,4}(\.\d)?|SPOON \d{1,4}(\.\d)?|"
    r"UNIT (g|kg|oz|lb)|FREEZE \d{1,3}|JUMP \d{1,4}|AWAY \d{1,3})$"
)


class WeighingPath(BaseModel):
    weighing_id: int = Field(ge=1, le=2**62)


class BeginBody(BaseModel):
    pour: int = Field(ge=1, le=500)
    batch: int = Field(ge=1, le=1000)


class EntryBody(BaseModel):
    """after: how many entries the device knew when this one was made; event_id: made by the device."""

    event_id: UUID
    after: int = Field(ge=0, le=1000)
    event: WeighEvent


class KeptEntry(BaseModel):
    number: int
    event: WeighEvent
    received_at: datetime


class WeighingAnswer(BaseModel):
    """state: all that follows from the entries; live: the scale at this moment."""

    id: int
    piece_id: int | None
    pour: int
    batch: int
    task: WeighTask
    state: WeighState
    entries: list[KeptEntry]
    live: Live
    made_at: datetime
    ended_at: datetime | None
    booked: list[Verdict] = []


class WeighingRow(BaseModel):
    """One weighed batch in a list."""

    id: int
    pour: int
    batch: int
    called: str
    made_at: datetime
    ended_at: datetime | None
    ended: str
    mass_a_kg: float
    mass_b_kg: float
    off: float | None
    colourants: dict[str, float]
    lots: dict[str, str]


class WeighingList(BaseModel):
    weighings: list[WeighingRow]


class TestBody(BaseModel):
    """A known volume of what is meant to be this part, on the scale; line: how far the cup's lines are
    apart.
    """

    step: str = Field(pattern="^[AB]$")
    volume: Volume
    mass: Mass
    line: Volume


class TestAnswer(BaseModel):
    verdict: Verdict


class CommandBody(BaseModel):
    command: str = Field(pattern=STAND_IN_COMMANDS)


class ScaleAnswer(BaseModel):
    connected: bool
    device: str
    stand_in: bool
    mass_kg: float | None
    age_s: float | None


def _answer(
    connection: Connection, shop: int, one: Weighing, booked: list[Verdict] | None = None
) -> dict[str, Any]:
    wording = Wording(workshops.read(connection, shop))
    state = reduce(one.task, one.plain, wording)
    return WeighingAnswer(
        id=one.id,
        piece_id=one.piece_id,
        pour=one.pour,
        batch=one.batch,
        task=one.task,
        state=state,
        entries=[
            KeptEntry(number=entry.number, event=entry.event, received_at=entry.received_at)
            for entry in one.events
        ],
        live=_live(connection, shop, one, state, wording),
        made_at=one.made_at,
        ended_at=one.ended_at,
        booked=booked or [],
    ).model_dump(mode="json")


def _live(connection: Connection, shop: int, one: Weighing, state: WeighState, wording: Wording) -> Live:
    found = devices.newest(connection, shop, "scale")
    if found is None:
        return no_scale()
    name, reading, _, age_s = found
    readings = [ScaleReading.model_validate(one) for one in reading["readings"]]
    # Nobody is meant to have been pouring before the last entry: the same machine's clock on both.
    entered = (one.events[-1].received_at if one.events else one.made_at).timestamp()
    began = max(reading["unchanged_since_s"], entered)
    still = max(readings[-1].at_s - began, 0.0) if readings else 0.0
    return live(
        one.task,
        state,
        readings,
        age_s,
        still,
        reading["problem"],
        reading["step_kg"],
        name,
        wording,
        stand_in=reading["stand_in"],
        trail=[(at, kg) for at, kg in reading.get("trail", []) if at > entered],
    )


@blueprint.post(
    "/pieces/<int:piece_id>/weighings", operation_id="beginWeighing", responses={201: WeighingAnswer}
)
def begin(path: PiecePath, body: BeginBody) -> RouteAnswer:
    """The batch that is open already, else a new one, frozen as the plan has it now."""
    with transaction() as connection:
        shop = workshop_id(connection)
        stored, inputs, plan = planning.opened(connection, shop, path.piece_id, now())
        task = task_of(
            stored.id, stored.piece.name, plan.pours, body.pour, body.batch, inputs.sheets, inputs.workshop
        )
        return _answer(
            connection, shop, weighings.start(connection, shop, stored.id, body.pour, body.batch, task)
        ), 201


@blueprint.get("/weighings/<int:weighing_id>", operation_id="readWeighing", responses={200: WeighingAnswer})
def read_weighing(path: WeighingPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return _answer(connection, shop, weighings.read(connection, shop, path.weighing_id))


@blueprint.post(
    "/weighings/<int:weighing_id>/entries", operation_id="enterWeighing", responses={200: WeighingAnswer}
)
def enter(path: WeighingPath, body: EntryBody) -> RouteAnswer:
    """Keep one entry. The last one, mixed, books what was taken from the bottles that were named."""
    with transaction() as connection:
        shop = workshop_id(connection)
        one, booked = enter_one(connection, shop, path.weighing_id, body)
        return _answer(connection, shop, one, booked)


def enter_one(
    connection: Connection, shop: int, weighing_id: int, body: EntryBody
) -> tuple[Weighing, list[Verdict]]:
    """The weighing with this entry, and what was booked by it."""
    event = body.event
    if isinstance(event, FromBottle):
        task = weighings.read(connection, shop, weighing_id).task
        event = chosen_bottle(connection, shop, event, task.system_id, now().date())
    one, is_new = weighings.append(connection, shop, weighing_id, body.event_id, event, body.after)
    booked = _book(connection, shop, one) if is_new and isinstance(body.event, EndWeighing) else []
    if is_new and isinstance(body.event, EndWeighing) and body.event.how == "mixed":
        _tell_the_run(connection, shop, one)
    return one, booked


def _tell_the_run(connection: Connection, shop: int, one: Weighing) -> None:
    """The batch is weighed: in the piece's open run its step is done, without anybody saying it twice."""
    step, moment = f"p{one.pour}/b{one.batch}/weigh", now()
    for run in runs.listed(connection, shop, is_open=True, piece_id=one.piece_id) if one.piece_id else []:
        if run.rehearsal is None and any(known.id == step for known in run.script.steps):
            said = Sent(
                event_id=uuid5(runs.SERVER, f"weighing/{one.id}"),
                device=runs.SERVER,
                seq=one.id,
                at=moment,
                device_at=moment,
                event=DoneStep(step=step),
            )
            runs.append(connection, shop, runs.read(connection, shop, run.id, lock=True), [said], moment)


def _book(connection: Connection, shop: int, one: Weighing) -> list[Verdict]:
    """From each named bottle what was taken of it. A bottle that held less by its bookings is emptied in the
    record, and that is said: the batch stands.
    """
    wording, said = Wording(workshops.read(connection, shop)), []
    taken = [
        (step, part.bottle_id, part.kg)
        for step in reduce(one.task, one.plain).steps
        for part in step.portions
        if part.bottle_id is not None and part.kg > 0
    ]
    why = f"{one.task.piece}, {one.task.pour}, batch {one.task.batch}"
    # Always in the same order, so that two batches that end at once do not wait for each other.
    for step, bottle_id, kg in sorted(taken, key=lambda row: row[1]):
        try:
            left = stock.take_what_is_there(connection, shop, bottle_id, kg, why, one.id)
        except NotFound:  # off the shelf since: there is nothing to book it to
            continue
        if kg > left + 1e-9:
            said.append(
                Verdict(
                    weight="warning",
                    stage="mix",
                    code="bottle-held-less",
                    rule="3.4",
                    title=f"The bottle of {step.name} held more than was booked",
                    text=f"{wording.mass(kg)} were taken, {wording.mass(left)} were left by the "
                    "bookings. The batch is recorded in full; the bottle stands at "
                    f"nothing now.",
                    todo="Weigh the bottle and correct what is left.",
                    where=f"/stock/{bottle_id}",
                )
            )
    return said


@blueprint.get(
    "/pieces/<int:piece_id>/weighings", operation_id="listWeighings", responses={200: WeighingList}
)
def list_weighings(path: PiecePath) -> RouteAnswer:
    """Every batch of this piece that was begun, oldest first."""
    with transaction() as connection:
        found = weighings.of_piece(connection, workshop_id(connection), path.piece_id)
    return WeighingList(weighings=[_row(one) for one in found]).model_dump(mode="json")


def _row(one: Weighing) -> WeighingRow:
    state = reduce(one.task, one.plain)
    grams: dict[str, float] = {}
    lots: dict[str, str] = {}
    for step in state.steps:
        id_ = step.key.partition("/")[2] if step.kind == "colourant" else step.key
        if step.kind == "colourant" and step.taken_kg > 0:
            grams[id_] = grams.get(id_, 0.0) + step.taken_kg
        if step.lots:
            lots[id_] = ", ".join(step.lots)
    return WeighingRow(
        id=one.id,
        pour=one.pour,
        batch=one.batch,
        called=f"{one.task.piece}, {one.task.pour}, batch {one.task.batch}",
        made_at=one.made_at,
        ended_at=one.ended_at,
        ended=state.ended,
        mass_a_kg=state.mass_a_kg,
        mass_b_kg=state.mass_b_kg,
        off=state.off,
        colourants=grams,
        lots=lots,
    )


@blueprint.get("/weighings", operation_id="listAllWeighings", responses={200: WeighingList})
def list_all() -> RouteAnswer:
    """The newest hundred batches of the workshop: what a colour can be repeated from."""
    with transaction() as connection:
        found = weighings.newest(connection, workshop_id(connection))
    return WeighingList(weighings=[_row(one) for one in found]).model_dump(mode="json")


@blueprint.post(
    "/weighings/<int:weighing_id>/bottle-test", operation_id="testBottle", responses={200: TestAnswer}
)
def test_bottle(path: WeighingPath, body: TestBody) -> RouteAnswer:
    """Which part a known volume weighs like. Nothing is stored."""
    with transaction() as connection:
        shop = workshop_id(connection)
        one = weighings.read(connection, shop, path.weighing_id)
        wording = Wording(workshops.read(connection, shop))
    found = which_part(body.mass.value, body.volume.value, body.line.value, one.task.step_kg, one.task.ratio)
    return TestAnswer(verdict=bottle_verdict(found, body.step, one.task.ratio, wording)).model_dump(
        mode="json"
    )


@blueprint.get("/scale", operation_id="readScale", responses={200: ScaleAnswer})
def read_scale() -> RouteAnswer:
    with transaction() as connection:
        found = devices.newest(connection, workshop_id(connection), "scale")
    if found is None:
        return ScaleAnswer(connected=False, device="", stand_in=False, mass_kg=None, age_s=None).model_dump()
    name, reading, _, age_s = found
    last = reading["readings"][-1] if reading["readings"] else None
    return ScaleAnswer(
        connected=age_s < 3,
        device=name,
        stand_in=reading["stand_in"],
        mass_kg=last["mass_kg"] if last else None,
        age_s=age_s,
    ).model_dump()


@blueprint.post("/scale/commands", operation_id="commandScale", responses={204: None})
def command_scale(body: CommandBody) -> RouteAnswer:
    """Tare any scale; the others move what lies on the stand-in, and are refused on a real one."""
    with transaction() as connection:
        shop = workshop_id(connection)
        found = devices.newest(connection, shop, "scale")
        if found is None:
            raise DomainError(
                argument="scale",
                value="not connected",
                allowed="one sends its lines to Cavatum",
                way_out="Connect it, or type what it shows.",
                code="no-device",
            )
        if body.command != "tare" and not found[1]["stand_in"]:
            raise DomainError(
                argument="command",
                value=body.command,
                allowed="a real scale takes only tare",
                way_out="Pour by hand.",
                code="not-a-stand-in",
            )
        devices.ask(connection, shop, "scale", body.command)
    return "", 204
