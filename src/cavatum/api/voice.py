"""Who is told of moments that want hands, by which ways, and what became of it."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from urllib.parse import urlsplit

from flask import current_app
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..core.voice.calls import CALL_KINDS, CallKind
from ..core.voice.listeners import Quiet, Way
from ..machine.seals import seal_key
from ..services import voice as carried
from ..services.telling import (
    CHANGED_KEY,
    BrokerServer,
    MailServer,
    Person,
    VoiceSettings,
    browsers_of,
    out_of,
    ways_of,
)
from ..services.voice import House
from ..store import sealed, voice, workshops
from ..store.sealed import SealBroken
from ..store.voice import CallRow, SendingRow
from ..voice.reach import LONGEST_ADDRESS
from .answers import RouteAnswer
from .context import now, transaction, who, workshop_id
from .operations import Blueprint

blueprint = Blueprint("voice", "/api/v1/voice")
RECENT = 30


def house() -> House:
    """Where this server stands."""
    return House(
        seal_key=seal_key(current_app.config["SECRET_KEY"]),
        address=current_app.config.get("NETWORK_ADDRESS") or "",
        trusted=current_app.config.get("VOICE_TRUSTS"),
    )


class ListenerPath(BaseModel):
    listener_id: int = Field(ge=1, le=2**62)


class CallPath(BaseModel):
    call_id: int = Field(ge=1, le=2**62)


class ListenerBody(BaseModel):
    """hook: its whole address, empty where the one that is kept stays; drop_hook: there is to be none."""

    name: str = Field(min_length=1, max_length=80)
    kinds: list[CallKind] = Field(default=[], max_length=len(CALL_KINDS))
    quiet_from_min: int | None = Field(default=None, ge=0, lt=1440)
    quiet_to_min: int | None = Field(default=None, ge=0, lt=1440)
    mail: str = Field(default="", max_length=254)
    topic: str = Field(default="", max_length=200)
    hook: str = Field(default="", max_length=LONGEST_ADDRESS)
    hook_secret: str = Field(default="", max_length=200)
    drop_hook: bool = False


class Browser(BaseModel):
    id: int
    name: str
    made_at: datetime


class ListenerAnswer(BaseModel):
    """problem: what keeps one of their ways from working."""

    id: int
    person: Person
    ways: list[Way]
    browsers: list[Browser]
    problem: str


class VoiceAnswer(BaseModel):
    """has_mail_password, has_broker_password: kept and never shown. local: messages may go to this house's
    own network; may_change_local: who asks sits at the computer itself.
    """

    people: list[ListenerAnswer]
    mail: MailServer
    broker: BrokerServer
    contact: str
    has_mail_password: bool
    has_broker_password: bool
    local: bool
    may_change_local: bool
    address: str
    problem: str
    recent: list[CallAnswer]


class SendingAnswer(BaseModel):
    """One message of a call. state: on its way, sent, tried again at next_try_at, or failed for good."""

    person: str
    way: Way
    at: datetime
    late_s: float
    state: str
    next_try_at: datetime | None
    why: str


class CallAnswer(BaseModel):
    id: int
    run_id: int | None
    piece_id: int | None
    kind: str
    urgency: str
    title: str
    text: str
    at: datetime
    latest: datetime | None
    answered_at: datetime | None
    answered_by: str
    is_over: bool
    sent: list[SendingAnswer]


class CallsAnswer(BaseModel):
    """Calls that somebody was told of and nobody has in hand, the oldest first; and the people that a device
    can be told for.
    """

    now: datetime
    calls: list[CallAnswer]
    people: list[Named]


class Named(BaseModel):
    id: int
    name: str


VoiceAnswer.model_rebuild()
CallsAnswer.model_rebuild()


@blueprint.get("", operation_id="readVoice", responses={200: VoiceAnswer})
def read_voice() -> RouteAnswer:
    with transaction() as connection:
        return all_of_it(connection, workshop_id(connection))


def all_of_it(connection: Connection, shop: int) -> dict[str, Any]:
    here = house()
    out = out_of(connection, shop, here.seal_key)
    reached = browsers_of(connection, shop)
    people = []
    for row in voice.listeners(connection, shop):
        person = Person.model_validate(row.person)
        browsers = reached.get(row.id, [])
        people.append(
            ListenerAnswer(
                id=row.id,
                person=person,
                ways=ways_of(person, browsers),
                browsers=[Browser(id=one.id, name=one.name, made_at=one.made_at) for one in browsers],
                problem=_problem(person, row.sealed, out.settings, here),
            )
        )
    return VoiceAnswer(
        people=people,
        mail=out.settings.mail,
        broker=out.settings.broker,
        contact=out.settings.contact,
        has_mail_password=bool(out.secrets.get("mail")),
        has_broker_password=bool(out.secrets.get("broker")),
        local=out.settings.local,
        may_change_local=who().how == "here",
        address=here.address,
        problem=CHANGED_KEY if out.broken else "",
        recent=_calls(connection, shop, voice.recent_calls(connection, shop, RECENT)),
    ).model_dump(mode="json")


def _problem(person: Person, closed: bytes | None, settings: VoiceSettings, here: House) -> str:
    if person.mail and not settings.mail.host:
        return "Mail needs a mail server, set below."
    if person.topic and not settings.broker.host:
        return "A topic needs a broker, set below."
    try:
        sealed.opened(here.seal_key, closed)
    except SealBroken:
        return CHANGED_KEY
    return ""


def _calls(connection: Connection, shop: int, rows: list[CallRow]) -> list[CallAnswer]:
    names = voice.names(connection, shop)
    sent: dict[int, list[SendingAnswer]] = {}
    for one in voice.sendings(connection, shop, [row.id for row in rows]):
        sent.setdefault(one.call_id, []).append(_sending(one, names))
    return [
        CallAnswer(
            id=row.id,
            run_id=row.run_id,
            piece_id=row.piece_id,
            kind=row.kind,
            urgency=row.urgency,
            title=row.title,
            text=row.text,
            at=row.at,
            latest=row.latest,
            answered_at=row.answered_at,
            answered_by=row.answered_by,
            is_over=row.over_at is not None,
            sent=sent.get(row.id, []),
        )
        for row in rows
    ]


def _sending(row: SendingRow, names: dict[int, str]) -> SendingAnswer:
    state = "on its way"
    if row.sent_at is not None:
        state = "sent"
    elif row.failed_at is not None:
        state = "failed"
    elif row.why:
        state = "tried again"
    return SendingAnswer(
        person=names.get(row.listener_id, "somebody"),
        way=row.way,
        at=row.sent_at or row.turn_at,
        late_s=row.late_s,
        state=state,
        next_try_at=row.next_try_at if state == "tried again" else None,
        why=row.why,
    )


@blueprint.get("/calls", operation_id="readCalls", responses={200: CallsAnswer})
def read_calls() -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        rows = [one for one in voice.open_calls(connection, shop) if one.at <= now()]
        people = [Named(id=one.id, name=str(one.person["name"])) for one in voice.listeners(connection, shop)]
        told = [one for one in _calls(connection, shop, rows) if one.sent]
        return CallsAnswer(now=now(), calls=told, people=people).model_dump(mode="json")


class AnswerBody(BaseModel):
    who: Label = ""


@blueprint.post("/calls/<int:call_id>/answer", operation_id="answerCall", responses={200: CallAnswer})
def answer_call(path: CallPath, body: AnswerBody) -> RouteAnswer:
    """I have it: nobody else is told. Whoever was first stays."""
    with transaction() as connection:
        shop = workshop_id(connection)
        row = carried.answer(connection, shop, path.call_id, body.who or who().name, now())
        return _calls(connection, shop, [row])[0].model_dump(mode="json")


@blueprint.post("/people", operation_id="addListener", responses={201: VoiceAnswer})
def add_listener(body: ListenerBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.lock(connection, shop)
        if len(voice.listeners(connection, shop)) >= voice.MOST_PEOPLE:
            raise full(f"at most {voice.MOST_PEOPLE} people are told")
        person, closed = _kept(connection, shop, body, None, "")
        voice.add_listener(connection, shop, person.model_dump(mode="json"), closed)
        return all_of_it(connection, shop), 201


@blueprint.put("/people/<int:listener_id>", operation_id="changeListener", responses={200: VoiceAnswer})
def change_listener(path: ListenerPath, body: ListenerBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.lock(connection, shop)
        row = voice.listener(connection, shop, path.listener_id)
        host = Person.model_validate(row.person).hook_host
        person, closed = _kept(connection, shop, body, row.sealed, host)
        voice.change_listener(connection, shop, row.id, person.model_dump(mode="json"), closed)
        return all_of_it(connection, shop)


def _kept(
    connection: Connection, shop: int, body: ListenerBody, before: bytes | None, host: str
) -> tuple[Person, bytes | None]:
    """The person, and what is sealed of them. Raises DomainError."""
    quiet = None
    if body.quiet_from_min is not None and body.quiet_to_min is not None:
        zone = workshops.read(connection, shop).zone
        quiet = Quiet(from_min=body.quiet_from_min, to_min=body.quiet_to_min, zone=zone)
    if body.mail and "@" not in body.mail:
        raise wrong("mail", body.mail, "it is a mail address, with an @")
    if any(sign in body.topic for sign in "+#\0"):
        raise wrong("topic", body.topic, "it names one topic, without + and #")
    if body.hook:
        host = _host_of(body.hook)
        before = sealed.sealed(house().seal_key, {"url": body.hook, "secret": body.hook_secret})
    if body.drop_hook:
        host, before = "", None
    person = Person(
        name=body.name.strip() or body.name,
        kinds=body.kinds,
        quiet=quiet,
        mail=body.mail.strip(),
        topic=body.topic.strip(),
        hook_host=host,
    )
    return person, before


def _host_of(url: str) -> str:
    try:
        parts = urlsplit(url)
        host = parts.hostname or ""
    except ValueError:
        host = ""
    if not host or parts.scheme not in ("http", "https"):
        raise wrong("webhook", url, "it begins with https://")
    return host


def wrong(name: str, value: str, allowed: str) -> DomainError:
    return DomainError(
        argument=name, value=value[:60], allowed=allowed, way_out="Correct it.", code="not-an-address"
    )


def full(allowed: str) -> DomainError:
    return DomainError(
        argument="list", value="full", allowed=allowed, way_out="Take one out first.", code="full"
    )


@blueprint.delete("/people/<int:listener_id>", operation_id="removeListener", responses={200: VoiceAnswer})
def remove_listener(path: ListenerPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.remove_listener(connection, shop, path.listener_id)
        return all_of_it(connection, shop)


class OrderBody(BaseModel):
    ids: list[int] = Field(max_length=voice.MOST_PEOPLE)


@blueprint.put("/order", operation_id="orderListeners", responses={200: VoiceAnswer})
def order_listeners(body: OrderBody) -> RouteAnswer:
    """In which order people are asked."""
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.lock(connection, shop)
        voice.put_in_order(connection, shop, body.ids)
        return all_of_it(connection, shop)
