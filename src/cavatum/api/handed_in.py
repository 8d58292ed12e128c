"""What a device still held when it was put out: it hands that in, and the owner accepts or refuses it."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from flask import request
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.wording import Wording
from ..core.pour.events import Sent
from ..services import runs as carried
from ..services.entry_words import content
from ..store import handed_in as store
from ..store import pairings, runs, weighings, workshops
from ..store.pool import NotFound
from .answers import RouteAnswer
from .context import at_the_door, now, transaction, workshop_id
from .operations import Blueprint
from .weighing import EntryBody, enter_one
from .who import PHONE, note

blueprint = Blueprint("handed-in", "/api/v1/handed-in")
MOST_AT_ONCE, MOST_WORDS = 500, 400


class OfRun(BaseModel):
    run_id: int = Field(ge=1, le=2**62)
    events: list[Sent] = Field(max_length=MOST_AT_ONCE)


class OfWeighing(BaseModel):
    weighing_id: int = Field(ge=1, le=2**62)
    entries: list[EntryBody] = Field(max_length=MOST_AT_ONCE)


class HandInBody(BaseModel):
    runs: list[OfRun] = Field(default=[], max_length=20)
    weighings: list[OfWeighing] = Field(default=[], max_length=20)


class HandInAnswer(BaseModel):
    """device: by which name the owner knows it."""

    device: str
    taken: int


class WaitingRow(BaseModel):
    """kind: of the entry; piece, about: whose pour or batch, and which step or words; at: when it was tapped,
    by the device.
    """

    id: int
    device: str
    what: Literal["run", "weighing"]
    of_id: int
    kind: str
    piece: str
    about: str
    at: datetime | None
    received_at: datetime


class WaitingList(BaseModel):
    waiting: list[WaitingRow]


class DecideBody(BaseModel):
    ids: list[int] = Field(min_length=1, max_length=500)
    accept: bool


class DecidedAnswer(BaseModel):
    """refused: what could not be kept though it was accepted, each with the reason."""

    accepted: int
    refused: list[str]


@blueprint.post("", operation_id="handIn", responses={202: HandInAnswer})
def hand_in(body: HandInBody) -> RouteAnswer:
    """By a device that was put out, with the cookie it came in with, within a month. Nothing of it counts
    before the owner accepts it.
    """
    entries = sum(len(one.events) for one in body.runs) + sum(len(one.entries) for one in body.weighings)
    with at_the_door() as connection:
        device = store.who_was_in(connection, request.cookies.get(PHONE, ""), now())
        if device is None:
            raise DomainError(
                argument="this device",
                value="not one that was put out",
                allowed="what a device held when it was put out is taken for a month",
                way_out="Log in, or ask for a code at the shop's own screen.",
                code="no-device",
            )
        if store.count_of(connection, device) + entries > store.MOST_OF_DEVICE:
            raise DomainError(
                argument="handed in",
                value="too much",
                allowed=f"at most {store.MOST_OF_DEVICE} entries of a device are kept for the owner",
                way_out="The owner decides on those that wait first.",
                code="too-much",
            )
        for run in body.runs:
            said = [(one.event_id, one.model_dump(mode="json")) for one in run.events]
            store.keep(connection, device, "run", run.run_id, said, now())
        for batch in body.weighings:
            said = [(one.event_id, one.model_dump(mode="json")) for one in batch.entries]
            store.keep(connection, device, "weighing", batch.weighing_id, said, now())
        note(
            connection,
            "handed in what it still held",
            f"{entries} entries",
            who=device.name or "a device",
            workshop_id=device.workshop_id,
        )
    return HandInAnswer(device=device.name, taken=entries).model_dump(), 202


def _names(shop: int) -> dict[int, str]:
    with at_the_door() as connection:
        return pairings.names(connection, shop)


class _Script:
    """What the steps of runs and batches are called, each read once."""

    def __init__(self, connection: Connection, shop: int) -> None:
        self.connection, self.shop = connection, shop
        self.wording = Wording(workshops.read(connection, shop))
        self.known: dict[tuple[str, int], tuple[str, dict[str, str]]] = {}

    def of(self, what: str, id_: int) -> tuple[str, dict[str, str]]:
        if (what, id_) not in self.known:
            self.known[what, id_] = self._read(what, id_)
        return self.known[what, id_]

    def _read(self, what: str, id_: int) -> tuple[str, dict[str, str]]:
        try:
            if what == "run":
                script = runs.read(self.connection, self.shop, id_).script
                return script.piece, {one.id: one.title for one in script.steps}
            one = weighings.read(self.connection, self.shop, id_)
            return f"{one.task.piece}, pour {one.pour}, batch {one.batch}", {}
        except NotFound:
            return "not there any more", {}


def _row(one: store.HandedIn, script: _Script) -> WaitingRow:
    event: dict[str, Any] = one.entry.get("event", {})
    piece, steps = script.of(one.what, one.of_id)
    about = content(event, steps, script.wording) or str(event.get("key") or "")
    return WaitingRow(
        id=one.id,
        device=one.device,
        what=one.what,
        of_id=one.of_id,
        kind=str(event.get("kind", "")),
        piece=piece,
        about=about[:MOST_WORDS],
        at=one.entry.get("at"),
        received_at=one.received_at,
    )


@blueprint.get("", operation_id="listHandedIn", responses={200: WaitingList})
def list_handed_in() -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        found = store.waiting(connection, shop, _names(shop))
        script = _Script(connection, shop)
        rows = [_row(one, script) for one in found]
    return WaitingList(waiting=rows).model_dump(mode="json")


@blueprint.post("/decide", operation_id="decideHandedIn", responses={200: DecidedAnswer})
def decide(body: DecideBody) -> RouteAnswer:
    """Accepted, an entry is kept as if the device had sent it; one that cannot be kept any more is said."""
    refused: list[str] = []
    with transaction() as connection:
        shop = workshop_id(connection)
        wanted, script = set(body.ids), _Script(connection, shop)
        chosen = [one for one in store.waiting(connection, shop, _names(shop)) if one.id in wanted]
        for one in chosen:
            why = _take(connection, shop, one) if body.accept else ""
            if why:
                refused.append(f"{_row(one, script).kind}: {why}")
            taken = body.accept and not why
            store.decide(connection, shop, one.id, now(), accepted=taken, why=why)
        did = "accepted" if body.accept else "refused"
        note(connection, f"{did} what a device had handed in", f"{len(chosen)} entries")
    kept = len(chosen) - len(refused) if body.accept else 0
    return DecidedAnswer(accepted=kept, refused=refused).model_dump()


def _take(connection: Connection, shop: int, one: store.HandedIn) -> str:
    """Empty where it was kept, else the reason."""
    try:
        with connection.transaction():
            if one.what == "run":
                sent = Sent.model_validate(one.entry)
                said = sent.model_copy(update={"who": sent.who or one.device})
                carried.keep_events(connection, shop, one.of_id, [said], now())
            else:
                entry = EntryBody.model_validate(one.entry)
                version = len(weighings.read(connection, shop, one.of_id).events)
                enter_one(connection, shop, one.of_id, entry.model_copy(update={"after": version}))
    except (DomainError, NotFound) as error:
        return str(error) or "it is not there any more"
    return ""
