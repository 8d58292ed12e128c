"""People and the ways that reach them, opened from their seals; one message carried to one person."""

from __future__ import annotations

import base64
from dataclasses import dataclass, field
from datetime import datetime
from typing import TYPE_CHECKING, Any

from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    load_der_private_key,
)
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.voice.calls import CALL_KINDS, CallKind
from ..core.voice.listeners import Listener, Quiet, Way
from ..store import sealed, voice
from ..store.sealed import SealBroken
from ..store.voice import BrowserRow, ListenerRow
from ..voice import broker, hook, mail, push
from ..voice.told import Told, Undelivered

if TYPE_CHECKING:
    from .voice import House

CHANGED_KEY = "The server's key has changed: enter it again."
CONTACT = "mailto:workshop@cavatum.invalid"


class Person(BaseModel):
    """As the workshop keeps them. kinds: what they want to hear of, none named: all."""

    name: str = Field(min_length=1, max_length=80)
    kinds: list[CallKind] = Field(default=[], max_length=len(CALL_KINDS))
    quiet: Quiet | None = None
    mail: str = Field(default="", max_length=254)
    topic: str = Field(default="", max_length=200)
    hook_host: str = Field(default="", max_length=254)


class MailServer(BaseModel):
    host: str = Field(default="", max_length=254)
    port: int = Field(default=587, ge=1, le=65_535)
    sender: str = Field(default="", max_length=254)
    secure: mail.Secure = "after a word"
    user: str = Field(default="", max_length=200)


class BrokerServer(BaseModel):
    host: str = Field(default="", max_length=254)
    port: int = Field(default=1883, ge=1, le=65_535)
    secure: bool = False
    user: str = Field(default="", max_length=200)


class VoiceSettings(BaseModel):
    """local: messages may go to this house's own network, as somebody at the computer itself said."""

    mail: MailServer = MailServer()
    broker: BrokerServer = BrokerServer()
    contact: str = Field(default="", max_length=254)
    local: bool = False


@dataclass(frozen=True, kw_only=True)
class Out:
    """The workshop's ways out, with their secrets. broken: these were sealed with another key."""

    settings: VoiceSettings
    secrets: dict[str, Any] = field(default_factory=dict, repr=False)
    broken: bool = False


def out_of(connection: Connection, shop: int, seal_key: str) -> Out:
    told, closed = voice.settings(connection, shop)
    settings = VoiceSettings.model_validate(told)
    try:
        return Out(settings=settings, secrets=sealed.opened(seal_key, closed))
    except SealBroken:
        return Out(settings=settings, broken=True)


def push_key(connection: Connection, shop: int, seal_key: str) -> bytes:
    """Our own public key as browsers want it, made on first use; made anew where the seal does not open, and
    with it every browser has to register again.
    """
    voice.lock(connection, shop)
    out = out_of(connection, shop, seal_key)
    if "push" not in out.secrets:
        made = ec.generate_private_key(push.CURVE).private_bytes(
            Encoding.DER, PrivateFormat.PKCS8, NoEncryption()
        )
        kept = {**out.secrets, "push": base64.b64encode(made).decode()}
        voice.keep_settings(
            connection, shop, out.settings.model_dump(mode="json"), sealed.sealed(seal_key, kept)
        )
        voice.remove_browsers(connection, shop)
        out = Out(settings=out.settings, secrets=kept)
    return push.public_of(_own_key(out))


def _own_key(out: Out) -> ec.EllipticCurvePrivateKey:
    key = load_der_private_key(base64.b64decode(out.secrets["push"]), None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)  # made by push_key
    return key


def browsers_of(connection: Connection, shop: int) -> dict[int, list[BrowserRow]]:
    found: dict[int, list[BrowserRow]] = {}
    for one in voice.browsers(connection, shop):
        found.setdefault(one.listener_id, []).append(one)
    return found


def ways_of(person: Person, browsers: list[BrowserRow]) -> list[Way]:
    found: list[Way] = []
    if browsers:
        found.append("push")
    if person.mail:
        found.append("mail")
    if person.topic:
        found.append("mqtt")
    if person.hook_host:
        found.append("webhook")
    return found


def listener_of(row: ListenerRow, reached: dict[int, list[BrowserRow]]) -> Listener | None:
    """None where no way leads to them."""
    person = Person.model_validate(row.person)
    ways = ways_of(person, reached.get(row.id, []))
    if not ways:
        return None
    return Listener(id=str(row.id), name=person.name, ways=ways, kinds=list(person.kinds), quiet=person.quiet)


def deliver(
    way: Way,
    row: ListenerRow,
    browsers: list[BrowserRow],
    out: Out,
    told: Told,
    house: House,
    now: datetime,
    use_s: float,
) -> tuple[Undelivered | None, list[int]]:
    """What kept it from arriving, None where it went out; and the browsers that took themselves back."""
    try:
        if way == "push":
            return _push(browsers, out, told, house, now, use_s)
        _others(way, row, out, told, house, now)
    except Undelivered as failure:
        return failure, []
    except SealBroken:
        return Undelivered(CHANGED_KEY, is_final=True), []
    return None, []


def _push(
    browsers: list[BrowserRow], out: Out, told: Told, house: House, now: datetime, use_s: float
) -> tuple[Undelivered | None, list[int]]:
    """To all of a person's browsers: it went out where one of them took it."""
    if "push" not in out.secrets:
        return Undelivered("Every browser has to be registered again.", is_final=True), []
    settings = out.settings
    contact = settings.contact or (f"mailto:{settings.mail.sender}" if settings.mail.sender else CONTACT)
    failures, gone, took = [], [], 0
    for one in browsers:
        try:
            push.send(
                push.Subscription(**sealed.opened(house.seal_key, one.sealed)),
                told,
                key=_own_key(out),
                contact=contact,
                now=now,
                use_s=max(use_s, 60.0),
                may_be_local=settings.local,
                trusted=house.trusted,
            )
            took += 1
        except Undelivered as failure:
            failures.append(failure)
            if failure.is_final:
                gone.append(one.id)
    if took or not failures:
        return (None if took else Undelivered("No browser is registered.", is_final=True)), gone
    return next((one for one in failures if not one.is_final), failures[0]), gone


def _others(way: Way, row: ListenerRow, out: Out, told: Told, house: House, now: datetime) -> None:
    person, local, trusted = Person.model_validate(row.person), out.settings.local, house.trusted
    if way == "mail":
        post = out.settings.mail
        if not post.host:
            raise Undelivered("No mail server is set.", is_final=True)
        server = mail.Post(**post.model_dump(), password=_secret(out, "mail", post.user))
        mail.send(server, person.mail, told, now=now, may_be_local=local, trusted=trusted)
    elif way == "mqtt":
        its = out.settings.broker
        if not its.host:
            raise Undelivered("No broker is set.", is_final=True)
        one = broker.Broker(**its.model_dump(), topic=person.topic, password=_secret(out, "broker", its.user))
        broker.send(one, told, may_be_local=local, trusted=trusted)
    else:
        kept = sealed.opened(house.seal_key, row.sealed)
        hook.send(kept["url"], told, secret=kept.get("secret", ""), may_be_local=local, trusted=trusted)


def _secret(out: Out, name: str, user: str) -> str:
    if out.broken and user:
        raise Undelivered(CHANGED_KEY, is_final=True)
    return str(out.secrets.get(name, "")) if user else ""
