"""The ways that messages take out of the house: the workshop's mail server and broker, and browsers that
take push messages.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import timedelta

from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..core.voice.listeners import Way
from ..services.telling import (
    BrokerServer,
    MailServer,
    Person,
    VoiceSettings,
    browsers_of,
    deliver,
    out_of,
    push_key,
    ways_of,
)
from ..store import sealed, voice
from ..store.pool import NotFound
from ..voice.push import url64
from ..voice.reach import LONGEST_ADDRESS
from ..voice.told import Told
from .answers import RouteAnswer
from .context import now, transaction, who, workshop_id
from .operations import Blueprint
from .voice import ListenerPath, VoiceAnswer, all_of_it, full, house, wrong

blueprint = Blueprint("voice_ways", "/api/v1/voice")
TRY_APART = timedelta(seconds=10)


class BrowserPath(BaseModel):
    browser_id: int = Field(ge=1, le=2**62)


class TriedAnswer(BaseModel):
    """problem: why it did not go out, empty where it did."""

    way: Way
    problem: str


class TriedList(BaseModel):
    tried: list[TriedAnswer]


@blueprint.post("/people/<int:listener_id>/try", operation_id="tryListener", responses={200: TriedList})
def try_listener(path: ListenerPath) -> RouteAnswer:
    """A message to try, by each of their ways, now."""
    here = house()
    with transaction() as connection:
        shop = workshop_id(connection)
        row = voice.listener(connection, shop, path.listener_id)
        if not voice.may_be_tried(connection, shop, row.id, TRY_APART):
            raise DomainError(
                argument="try",
                value="a moment ago",
                allowed="ten seconds between two tries",
                way_out="Wait a moment.",
                code="too-often",
            )
        out, browsers = out_of(connection, shop, here.seal_key), browsers_of(connection, shop).get(row.id, [])
    person = Person.model_validate(row.person)
    told = Told(
        key=f"try/{row.id}/{now().timestamp():.0f}",
        title="Cavatum can reach you",
        text=f"{person.name}, this is only to try. When a moment wants hands you hear of it like this.",
        link=f"{here.address}/" if here.address else "",
    )
    tried, gone = [], list[int]()
    for way in ways_of(person, browsers):
        failure, lost = deliver(way, row, browsers, out, told, here, now(), 600.0)
        gone += lost
        tried.append(TriedAnswer(way=way, problem=failure.why if failure else ""))
    with transaction() as connection:
        for one in gone:
            with suppress(NotFound):
                voice.remove_browser(connection, workshop_id(connection), one)
    return TriedList(tried=tried).model_dump(mode="json")


class VoiceSettingsBody(BaseModel):
    """Passwords: empty where the one that is kept stays."""

    mail: MailServer
    broker: BrokerServer
    contact: str = Field(default="", max_length=254)
    local: bool = False
    mail_password: str = Field(default="", max_length=400)
    broker_password: str = Field(default="", max_length=400)


@blueprint.put("/settings", operation_id="keepVoiceSettings", responses={200: VoiceAnswer})
def keep_settings(body: VoiceSettingsBody) -> RouteAnswer:
    here = house()
    if body.contact and not body.contact.startswith(("mailto:", "https://")):
        raise wrong("contact", body.contact, "it begins with mailto: or https://")
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.lock(connection, shop)
        before = out_of(connection, shop, here.seal_key)
        if body.local != before.settings.local and who().how != "here":
            raise wrong(
                "house", "this browser", "said at the computer that Cavatum runs on, and nowhere else"
            )
        secrets = dict(before.secrets)
        for name, typed, user, stands in (
            ("mail", body.mail_password, body.mail.user, before.settings.mail.host == body.mail.host),
            (
                "broker",
                body.broker_password,
                body.broker.user,
                before.settings.broker.host == body.broker.host,
            ),
        ):
            if typed:
                secrets[name] = typed
            elif not user or not stands:  # a password is never handed to another server than it was typed for
                secrets.pop(name, None)
        told = VoiceSettings(mail=body.mail, broker=body.broker, contact=body.contact, local=body.local)
        voice.keep_settings(
            connection, shop, told.model_dump(mode="json"), sealed.sealed(here.seal_key, secrets)
        )
        return all_of_it(connection, shop)


class PushKeyAnswer(BaseModel):
    key: str


@blueprint.post("/push-key", operation_id="askPushKey", responses={200: PushKeyAnswer})
def ask_push_key() -> RouteAnswer:
    """The server's own public key, by which a browser knows whose messages it takes."""
    with transaction() as connection:
        shop = workshop_id(connection)
        return PushKeyAnswer(key=url64(push_key(connection, shop, house().seal_key))).model_dump()


class RegisterBody(BaseModel):
    listener_id: int = Field(ge=1, le=2**62)
    name: Label = ""
    endpoint: str = Field(min_length=1, max_length=LONGEST_ADDRESS, pattern=r"^https://")
    p256dh: str = Field(min_length=1, max_length=200)
    auth: str = Field(min_length=1, max_length=100)


@blueprint.post("/browsers", operation_id="registerBrowser", responses={204: None})
def register_browser(body: RegisterBody) -> RouteAnswer:
    """This browser takes push messages for a person from now on."""
    here = house()
    content = {"endpoint": body.endpoint, "p256dh": body.p256dh, "auth": body.auth}
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.lock(connection, shop)
        voice.listener(connection, shop, body.listener_id)
        if len(voice.browsers(connection, shop)) >= voice.MOST_BROWSERS:
            raise full(f"at most {voice.MOST_BROWSERS} browsers are registered")
        voice.add_browser(
            connection,
            shop,
            body.listener_id,
            body.name,
            body.endpoint,
            sealed.sealed(here.seal_key, content),
        )
    return "", 204


class LeaveBody(BaseModel):
    endpoint: str = Field(min_length=1, max_length=LONGEST_ADDRESS)


@blueprint.post("/browsers/leave", operation_id="leaveVoice", responses={204: None})
def leave(body: LeaveBody) -> RouteAnswer:
    """This browser takes no more push messages."""
    with transaction() as connection:
        voice.forget_browser(connection, workshop_id(connection), body.endpoint)
    return "", 204


@blueprint.delete("/browsers/<int:browser_id>", operation_id="endBrowser", responses={200: VoiceAnswer})
def end_browser(path: BrowserPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        voice.remove_browser(connection, shop, path.browser_id)
        return all_of_it(connection, shop)
