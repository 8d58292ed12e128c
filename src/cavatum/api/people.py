"""Who is let into this workshop: people and their roles, invitations, tokens for scripts, and the trail. For
its owner.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Literal

from flask import current_app
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..store import people as store
from .answers import RouteAnswer
from .context import at_the_door, now, who, workshop_id
from .operations import Blueprint
from .qr import qr_of
from .who import note

blueprint = Blueprint("people", "/api/v1/people")
Given = Literal["owner", "maker", "viewer"]
NOTHING_ENDED = store.Ended(browsers=0, invitations=0, tokens=0, devices=0, feeds=0, unknown=0)


class PersonRow(BaseModel):
    account_id: int
    name: str
    email: str
    role: Given
    joined_at: datetime
    seen_at: datetime | None
    is_you: bool


class InvitedRow(BaseModel):
    id: int
    name: str
    role: Given
    expires_at: datetime
    again: bool
    made_by: str | None
    maker_kept: bool


class TokenRow(BaseModel):
    id: int
    name: str
    role: Given
    until_at: datetime
    seen_at: datetime | None
    made_by: str | None
    maker_kept: bool


class EndedAnswer(BaseModel):
    """What ended with somebody's role or membership. unknown: links, tokens and devices that go on and were
    made before it was kept by whom; the owner looks through them.
    """

    browsers: int
    invitations: int
    tokens: int
    devices: int
    feeds: int
    unknown: int


class PeopleAnswer(BaseModel):
    """address: where people reach this workshop, empty while it is on this computer only."""

    address: str
    people: list[PersonRow]
    invited: list[InvitedRow]
    tokens: list[TokenRow]


class InviteBody(BaseModel):
    name: Label = ""
    role: Given


class InviteAnswer(BaseModel):
    """Told once: the link, and the same as a QR code."""

    link: str
    qr_path: str
    qr_size: int
    expires_at: datetime


class RoleBody(BaseModel):
    role: Given


class TokenBody(BaseModel):
    name: Label
    role: Literal["maker", "viewer"] = "viewer"
    days: int = Field(default=90, ge=1, le=366)


class TokenAnswer(BaseModel):
    """Told once."""

    token: str
    until_at: datetime


class TrailRow(BaseModel):
    id: int
    at: datetime
    what: str
    who: str
    about: str
    address: str


class TrailAnswer(BaseModel):
    trail: list[TrailRow]


class PersonPath(BaseModel):
    account_id: int = Field(ge=1, le=2**62)


class InvitationPath(BaseModel):
    invitation_id: int = Field(ge=1, le=2**62)


class TokenPath(BaseModel):
    token_id: int = Field(ge=1, le=2**62)


class TrailQuery(BaseModel):
    before: int | None = Field(default=None, ge=1, le=2**62)


def _address() -> str:
    return current_app.config.get("NETWORK_ADDRESS") or ""


@blueprint.get("", operation_id="readPeople", responses={200: PeopleAnswer})
def read_people() -> RouteAnswer:
    with at_the_door() as connection:
        shop = workshop_id(connection)
        return PeopleAnswer(
            address=_address(),
            people=[
                PersonRow(**vars(one), is_you=one.account_id == who().account_id)
                for one in store.people(connection, shop)
            ],
            invited=[InvitedRow(**vars(one)) for one in store.invited(connection, shop, now())],
            tokens=[TokenRow(**vars(one)) for one in store.tokens(connection, shop, now())],
        ).model_dump(mode="json")


def _link(token: str, expires_at: datetime) -> InviteAnswer:
    link = f"{_address()}/join#{token}"
    path, size = qr_of(link)
    return InviteAnswer(link=link, qr_path=path, qr_size=size, expires_at=expires_at)


def _on_a_network() -> None:
    if not _address():
        raise DomainError(
            argument="network",
            value="not open",
            allowed="Cavatum was started for this computer alone",
            way_out="Start it with: ./cavatum start --network",
            code="loopback-only",
        )


@blueprint.post("/invitations", operation_id="invitePerson", responses={201: InviteAnswer})
def invite_person(body: InviteBody) -> RouteAnswer:
    _on_a_network()
    with at_the_door() as connection:
        token, made = store.invite(
            connection,
            workshop_id(connection),
            body.role,
            body.name,
            None,
            now(),
            made_by=who().account_id,
        )
        note(connection, "invited", f"{body.name or 'somebody'} as {body.role}")
    return _link(token, made.expires_at).model_dump(mode="json"), 201


@blueprint.delete("/invitations/<int:invitation_id>", operation_id="endInvitation", responses={204: None})
def end_invitation(path: InvitationPath) -> RouteAnswer:
    with at_the_door() as connection:
        store.end_invitation(connection, workshop_id(connection), path.invitation_id, now())
        note(connection, "took back an invitation")
    return "", 204


@blueprint.post("/<int:account_id>/way-in", operation_id="offerWayIn", responses={201: InviteAnswer})
def offer_way_in(path: PersonPath) -> RouteAnswer:
    """For somebody who forgot the password: a link by which they set another. Nobody else gets to know it."""
    _on_a_network()
    with at_the_door() as connection:
        shop = workshop_id(connection)
        person = store.person(connection, shop, path.account_id)
        token, made = store.invite(
            connection,
            shop,
            person.role,
            person.name,
            person.account_id,
            now(),
            made_by=who().account_id,
        )
        note(connection, "offered a new way in", person.name)
    return _link(token, made.expires_at).model_dump(mode="json"), 201


@blueprint.put("/<int:account_id>", operation_id="changePerson", responses={200: EndedAnswer})
def change_person(path: PersonPath, body: RoleBody) -> RouteAnswer:
    """What an owner made to let others in ends with that role; the calendar's address with the maker's."""
    with at_the_door() as connection:
        shop = workshop_id(connection)
        person = _keeping_an_owner(connection, shop, path.account_id, loses=body.role != "owner")
        store.change_role(connection, shop, path.account_id, body.role)
        note(connection, "gave another role", f"{person.name}: {body.role}")
        if person.role != "owner" and body.role != "viewer":
            ended = NOTHING_ENDED
        else:
            ended = store.end_what_they_made(
                connection, shop, path.account_id, now(), feeds_too=body.role == "viewer"
            )
            _note_ended(connection, person, ended)
    return EndedAnswer(**vars(ended)).model_dump()


@blueprint.delete("/<int:account_id>", operation_id="putOutPerson", responses={200: EndedAnswer})
def put_out_person(path: PersonPath) -> RouteAnswer:
    with at_the_door() as connection:
        shop = workshop_id(connection)
        person = _keeping_an_owner(connection, shop, path.account_id, loses=True, leaves=True)
        ended = store.put_out(connection, shop, path.account_id, now())
        note(connection, "put out", person.name)
        _note_ended(connection, person, ended)
    return EndedAnswer(**vars(ended)).model_dump()


def _note_ended(connection: Connection, person: store.Person, ended: store.Ended) -> None:
    counts = {name: count for name, count in vars(ended).items() if count and name != "unknown"}
    if counts:
        about = ", ".join(
            f"{count} {name if count > 1 else name.removesuffix('s')}" for name, count in counts.items()
        )
        note(connection, "ended what was let in by", f"{person.name}: {about}")


def _keeping_an_owner(
    connection: Connection, shop: int, account_id: int, *, loses: bool, leaves: bool = False
) -> store.Person:
    """The last owner stays one, from wherever it is asked. Only where they are the only person at all they
    may leave, and that by the computer's own address, where somebody is always let in.
    """
    owners = store.lock_owners(connection, shop)
    person = store.person(connection, shop, account_id)
    is_alone = leaves and who().how == "here" and len(store.people(connection, shop)) == 1
    if loses and person.role == "owner" and owners <= 1 and not is_alone:
        raise DomainError(
            argument="the owner",
            value="the last one",
            allowed="a workshop has at least one",
            way_out="Make somebody else an owner first.",
            code="last-owner",
        )
    return person


@blueprint.post("/tokens", operation_id="makeToken", responses={201: TokenAnswer})
def make_token(body: TokenBody) -> RouteAnswer:
    with at_the_door() as connection:
        token, made = store.make_token(
            connection,
            workshop_id(connection),
            body.name,
            body.role,
            now() + timedelta(days=body.days),
            who().account_id,
        )
        note(connection, "made a token for a script", f"{body.name} as {body.role}")
    return TokenAnswer(token=token, until_at=made.until_at).model_dump(mode="json"), 201


@blueprint.delete("/tokens/<int:token_id>", operation_id="endToken", responses={204: None})
def end_token(path: TokenPath) -> RouteAnswer:
    with at_the_door() as connection:
        store.end_token(connection, workshop_id(connection), path.token_id, now())
        note(connection, "ended a script's token")
    return "", 204


@blueprint.get("/trail", operation_id="readTrail", responses={200: TrailAnswer})
def read_trail(query: TrailQuery) -> RouteAnswer:
    with at_the_door() as connection:
        rows = store.trail(connection, workshop_id(connection), query.before)
    return TrailAnswer(trail=[TrailRow(id=id_, **vars(one)) for id_, one in rows]).model_dump(mode="json")
