"""One's own account: the browsers one is in with, the password, passkeys, the workshops one may change to."""

from __future__ import annotations

from datetime import datetime

from flask import session
from pydantic import BaseModel, Field
from werkzeug.exceptions import Forbidden

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..network import passkeys, passwords
from ..store import logins as store
from .answers import RouteAnswer
from .context import at_the_door, now, who
from .login import PasskeyAnswer, PasskeyQuestion, WrongTry, counted, host, names_a_host, origin, refuse_often
from .operations import Blueprint
from .who import note

blueprint = Blueprint("account", "/api/v1/account")
MOST_PASSKEYS, MOST_TRIES = 20, 5


class EntryRow(BaseModel):
    """A browser one is in with."""

    id: int
    agent: str
    made_at: datetime
    seen_at: datetime
    until_at: datetime
    is_this: bool


class PasskeyRow(BaseModel):
    id: int
    name: str
    made_at: datetime
    used_at: datetime | None


class WorkshopRow(BaseModel):
    id: int
    name: str
    role: str
    is_this: bool


class AccountAnswer(BaseModel):
    name: str
    email: str
    entries: list[EntryRow]
    passkeys: list[PasskeyRow]
    can_passkey: bool
    workshops: list[WorkshopRow]


class PasswordBody(BaseModel):
    password: str = Field(min_length=1, max_length=passwords.MOST)
    new_password: str = Field(min_length=1, max_length=passwords.MOST)


class NewPasskeyBody(PasskeyAnswer):
    name: Label = ""


class WorkshopBody(BaseModel):
    workshop_id: int = Field(ge=1, le=2**62)


class EntryPath(BaseModel):
    entry_id: int = Field(ge=1, le=2**62)


class PasskeyPath(BaseModel):
    passkey_id: int = Field(ge=1, le=2**62)


def _account() -> int:
    account_id = who().account_id
    if account_id is None:
        raise Forbidden("That belongs to an account; log in with one.")
    return account_id


@blueprint.get("", operation_id="readAccount", responses={200: AccountAnswer})
def read_account() -> RouteAnswer:
    account_id = _account()
    with at_the_door() as connection:
        found = store.account(connection, account_id)
        assert found is not None  # the gate found them
        return AccountAnswer(
            name=found.name,
            email=found.email,
            can_passkey=names_a_host(),
            entries=[
                EntryRow(
                    id=id_,
                    agent=agent,
                    made_at=made,
                    seen_at=seen,
                    until_at=until,
                    is_this=id_ == who().entry_id,
                )
                for id_, agent, made, seen, until in store.entries(connection, account_id, now())
            ],
            passkeys=[
                PasskeyRow(id=id_, name=name, made_at=made, used_at=used)
                for id_, _, name, made, used in store.passkeys(connection, account_id)
            ],
            workshops=[
                WorkshopRow(id=id_, name=name, role=role, is_this=id_ == who().workshop_id)
                for id_, name, role in store.memberships(connection, account_id)
            ],
        ).model_dump(mode="json")


@blueprint.put("/password", operation_id="changePassword", responses={204: None})
def change_password(body: PasswordBody) -> RouteAnswer:
    """Every other browser of this account is put out."""
    account_id = _account()
    keys = [(f"password of {account_id}", MOST_TRIES)]
    with counted(keys), at_the_door() as connection:
        found = store.account(connection, account_id)
        assert found is not None  # the gate found them
        refuse_often(connection, keys)
        if not passwords.holds(found.password_hash, body.password):
            raise WrongTry(
                DomainError(
                    argument="the password",
                    value="not right",
                    allowed="your current password is asked for",
                    way_out="Enter it again.",
                    code="no-entry",
                )
            )
        shops = [name for _, name, _ in store.memberships(connection, account_id)]
        passwords.check(body.new_password, [found.name, found.email], shops)
        store.keep_password(connection, account_id, passwords.hash_of(body.new_password))
        store.end_entries(connection, account_id, now(), but=who().entry_id)
        note(connection, "changed the password")
    return "", 204


@blueprint.delete("/entries/<int:entry_id>", operation_id="endEntry", responses={204: None})
def end_entry(path: EntryPath) -> RouteAnswer:
    account_id = _account()
    with at_the_door() as connection:
        if store.end_entry(connection, account_id, path.entry_id, now()):
            note(connection, "put out a browser of their own")
    return "", 204


@blueprint.delete("/entries", operation_id="endOtherEntries", responses={204: None})
def end_other_entries() -> RouteAnswer:
    account_id = _account()
    with at_the_door() as connection:
        count = store.end_entries(connection, account_id, now(), but=who().entry_id)
        note(connection, "put out all other browsers", str(count))
    return "", 204


@blueprint.post("/passkeys/ask", operation_id="askPasskey", responses={200: PasskeyQuestion})
def ask_passkey() -> RouteAnswer:
    account_id = _account()
    if not names_a_host():
        raise DomainError(
            argument="a passkey",
            value="not possible here",
            allowed="the address has to be a name",
            way_out="Open Cavatum by the computer's name instead of its number.",
            code="no-name",
        )
    with at_the_door() as connection:
        found, have = store.account(connection, account_id), store.passkeys(connection, account_id)
        assert found is not None  # the gate found them
        if len(have) >= MOST_PASSKEYS:
            raise DomainError(
                argument="passkeys",
                value=str(len(have)),
                allowed=f"at most {MOST_PASSKEYS}",
                way_out="Remove one first.",
                code="too-many",
            )
        challenge, options = passkeys.ask_to_make(
            host(), account_id, found.email, found.name, [one[1] for one in have]
        )
        store.keep_challenge(connection, challenge, account_id, now())
        session["challenge"] = challenge.hex()
    return PasskeyQuestion(options=options).model_dump()


@blueprint.post("/passkeys", operation_id="keepPasskey", responses={204: None})
def keep_passkey(body: NewPasskeyBody) -> RouteAnswer:
    account_id = _account()
    challenge = bytes.fromhex(session.pop("challenge", ""))
    with at_the_door() as connection:
        challenged = store.use_challenge(connection, challenge, account_id, now())
        made = passkeys.made(body.credential, challenge, host(), origin()) if challenged else None
        if made is None or store.passkey(connection, made.credential_id) is not None:
            raise DomainError(
                argument="the passkey",
                value="not one that holds",
                allowed="it answers what was just asked",
                way_out="Try again.",
                code="no-passkey",
            )
        store.keep_passkey(
            connection, account_id, made.credential_id, made.public_key, made.sign_count, body.name
        )
        note(connection, "added a passkey", body.name)
    return "", 204


@blueprint.delete("/passkeys/<int:passkey_id>", operation_id="removePasskey", responses={204: None})
def remove_passkey(path: PasskeyPath) -> RouteAnswer:
    account_id = _account()
    with at_the_door() as connection:
        if store.remove_passkey(connection, account_id, path.passkey_id):
            note(connection, "removed a passkey")
    return "", 204


@blueprint.post("/workshop", operation_id="switchWorkshop", responses={204: None})
def switch_workshop(body: WorkshopBody) -> RouteAnswer:
    account_id = _account()
    with at_the_door() as connection:
        if body.workshop_id not in [one[0] for one in store.memberships(connection, account_id)]:
            raise Forbidden("You are not let into that workshop.")
        entry_id = who().entry_id
        if entry_id is None:
            raise Forbidden("Log in to change to another workshop.")
        store.switch(connection, entry_id, body.workshop_id)
        note(connection, "came over from another workshop", workshop_id=body.workshop_id)
    return "", 204
