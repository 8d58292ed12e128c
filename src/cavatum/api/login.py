"""Coming in on the network: passwords, passkeys, invitations. What is wrong with a try is not told, and tries
are counted.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any
from urllib.parse import urlsplit

from flask import Response, current_app, request, session
from flask_wtf.csrf import generate_csrf
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..network import passkeys, passwords
from ..store import logins as store
from ..store.addresses import normal
from .answers import RouteAnswer
from .context import at_the_door, now, who
from .operations import Blueprint
from .who import ENTRY, by_cookie, note

blueprint = Blueprint("door", "/api/v1/door")
WITHIN = timedelta(minutes=15)
# Failed tries in that time: of one account from one place, of one account from everywhere, from one place.
MOST_HERE, MOST_OF_ACCOUNT, MOST_OF_PLACE = 5, 50, 40


class DoorState(BaseModel):
    """passkeys: the address is a name, so that a browser can keep one for it."""

    csrf_token: str
    is_network: bool
    is_in: bool
    passkeys: bool


class LogInBody(BaseModel):
    email: str = Field(min_length=3, max_length=254)
    password: str = Field(min_length=1, max_length=passwords.MOST)


class InvitationBody(BaseModel):
    secret: str = Field(min_length=10, max_length=100)


class InvitationAnswer(BaseModel):
    """again: a new way in for somebody who has an account here."""

    workshop: str
    role: str
    name: str
    again: bool
    email: str


class JoinBody(InvitationBody):
    """With an address that has an account already the password is that account's."""

    name: Label = ""
    email: str = Field(default="", max_length=254, pattern=r"^$|^[^@\s]+@[^@\s]+$")
    password: str = Field(min_length=1, max_length=passwords.MOST)


class PasskeyQuestion(BaseModel):
    options: dict[str, Any]


class PasskeyAnswer(BaseModel):
    credential: dict[str, Any]


def host() -> str:
    """The name this request came to: what a passkey is bound to."""
    return (urlsplit(f"//{request.host}").hostname or "").lower()


def origin() -> str:
    return f"{request.scheme}://{request.host}"


def names_a_host() -> bool:
    """A passkey needs a name; an address of numbers has none."""
    return not host().replace(".", "").isdigit() and ":" not in host()


def refuse_often(connection: Connection, keys: list[tuple[str, int]]) -> None:
    since = now() - WITHIN
    if any(store.tries(connection, key, since) >= most for key, most in keys):
        raise DomainError(
            argument="logging in",
            value="tried too many times",
            allowed=f"a few tries in {WITHIN.seconds // 60} minutes are taken",
            way_out="Wait a quarter of an hour, then try again.",
            code="too-often",
        )


class WrongTry(Exception):
    """A try that is refused and counted."""

    def __init__(self, problem: DomainError) -> None:
        self.problem = problem


@contextmanager
def counted(keys: list[tuple[str, int]]) -> Iterator[None]:
    """Round a transaction: a wrong try undoes it and is counted after it, with no second connection held
    meanwhile.
    """
    try:
        yield
    except WrongTry as wrong:
        with at_the_door() as connection:
            store.failed(connection, [key for key, _ in keys], now())
        raise wrong.problem from None


def _keys(email: str) -> list[tuple[str, int]]:
    mail, place = normal(email), request.remote_addr or ""
    return [
        (f"account {mail} from {place}", MOST_HERE),
        (f"account {mail}", MOST_OF_ACCOUNT),
        (f"place {place}", MOST_OF_PLACE),
    ]


def _nobody() -> WrongTry:
    return WrongTry(
        DomainError(
            argument="address or password",
            value="not right",
            allowed="both must belong to one account",
            way_out="Try again, or ask the owner for a new link.",
            code="no-entry",
        )
    )


def _let_in(
    connection: Connection, account: store.Account, how: str, workshop_id: int | None = None
) -> Response:
    member = store.memberships(connection, account.id)
    if not member:
        raise _nobody()
    shop = workshop_id if workshop_id is not None else member[0][0]
    token, until = store.begin_entry(connection, shop, account.id, request.user_agent.string, now())
    note(connection, "came in", how, who=account.name, workshop_id=shop)
    session.clear()  # another page's token holds no more
    response = Response(status=204)
    response.set_cookie(
        ENTRY,
        token,
        max_age=int((until - now()).total_seconds()),
        secure=True,
        httponly=True,
        samesite="Strict",
        path="/",
    )
    return response


@blueprint.get("", operation_id="readDoor", responses={200: DoorState})
def read_door() -> RouteAnswer:
    is_network = bool(current_app.config["IS_NETWORK"])
    with at_the_door() as connection:
        found = by_cookie(connection) if is_network else None
    return DoorState(
        csrf_token=generate_csrf(),
        is_network=is_network,
        is_in=not is_network or found is not None,
        passkeys=names_a_host(),
    ).model_dump()


@blueprint.post("/login", operation_id="logIn", responses={204: None})
def log_in(body: LogInBody) -> RouteAnswer:
    """An account's address and password. The same answer, after the same time, whether there is such an
    account or not.
    """
    keys = _keys(body.email)
    with at_the_door() as connection:
        refuse_often(connection, keys)
        found = store.account_of(connection, body.email)
    holds = passwords.holds(
        found.password_hash if found else None, body.password
    )  # outside of the connection: it takes its time
    if found is not None and not holds:
        with at_the_door() as connection:
            for shop, _, _ in store.memberships(connection, found.id):
                note(connection, "was refused", "a wrong password", who=found.name, workshop_id=shop)
    with counted(keys), at_the_door() as connection:
        if found is None or not holds:
            raise _nobody()
        if passwords.wants_renewal(found.password_hash or ""):
            store.keep_password(connection, found.id, passwords.hash_of(body.password))
        store.forget_tries(connection, keys[0][0])
        return _let_in(connection, found, "with a password")


@blueprint.post("/passkey", operation_id="askPasskeyLogin", responses={200: PasskeyQuestion})
def ask_passkey_login() -> RouteAnswer:
    with at_the_door() as connection:
        refuse_often(connection, _keys("")[2:])
        challenge, options = passkeys.ask_to_sign(host())
        store.keep_challenge(connection, challenge, None, now())
        session["challenge"] = challenge.hex()
    return PasskeyQuestion(options=options).model_dump()


@blueprint.post("/passkey/login", operation_id="logInByPasskey", responses={204: None})
def log_in_by_passkey(body: PasskeyAnswer) -> RouteAnswer:
    challenge = bytes.fromhex(session.pop("challenge", ""))
    place = _keys("")[2:]
    with counted(place), at_the_door() as connection:
        refuse_often(connection, place)
        challenged = store.use_challenge(connection, challenge, None, now())
        credential = passkeys.credential_of(body.credential)
        key = store.passkey(connection, credential) if credential else None
        count = (
            passkeys.signed(body.credential, challenge, host(), origin(), key.public_key, key.sign_count)
            if challenged and key
            else None
        )
        account = store.account(connection, key.account_id) if key and count is not None else None
        if key is None or count is None or account is None:
            raise WrongTry(
                DomainError(
                    argument="the passkey",
                    value="not one that holds",
                    allowed="one that was made here is taken",
                    way_out="Log in with the password.",
                    code="no-entry",
                )
            )
        store.used_passkey(connection, key.id, count, now())
        return _let_in(connection, account, "with a passkey")


@blueprint.post("/invitation", operation_id="readInvitation", responses={200: InvitationAnswer})
def read_invitation(body: InvitationBody) -> RouteAnswer:
    with counted(_keys("")[2:]), at_the_door() as connection:
        found = _invitation(connection, body.secret)
        account = store.account(connection, found.account_id) if found.account_id else None
    return InvitationAnswer(
        workshop=found.workshop,
        role=found.role,
        name=account.name if account else found.name,
        again=account is not None,
        email=account.email if account else "",
    ).model_dump()


def _invitation(connection: Connection, secret: str, *, lock: bool = False) -> store.Invitation:
    refuse_often(connection, _keys("")[2:])
    found = store.invitation_of(connection, secret, now(), lock=lock)
    if found is None:
        raise WrongTry(
            DomainError(
                argument="the invitation",
                value="not one that holds",
                allowed="a link works once, for a week",
                way_out="Ask the owner for a new one.",
                code="no-invitation",
            )
        )
    return found


@blueprint.post("/join", operation_id="takeInvitation", responses={204: None})
def take_invitation(body: JoinBody) -> RouteAnswer:
    """Makes the account, joins with the one that this address and password open, or sets the account's new
    password.
    """
    with counted(_keys(body.email)), at_the_door() as connection:
        found = _invitation(connection, body.secret, lock=True)
        account = (
            _again(connection, body, found)
            if found.account_id is not None
            else _account_for(connection, body, found)
        )
        if found.account_id is None:
            store.join(connection, found.workshop_id, account.id, found.role)
        store.use_invitation(connection, found.id, now())
        note(connection, "took an invitation", found.role, who=account.name, workshop_id=found.workshop_id)
        return _let_in(connection, account, "with an invitation", found.workshop_id)


def _again(connection: Connection, body: JoinBody, found: store.Invitation) -> store.Account:
    """A new password for an account. An owner may offer that only while the account is in no workshop but
    theirs; the server's keeper always.
    """
    account = store.account(connection, found.account_id or 0)
    inside = [one[0] for one in store.memberships(connection, account.id)] if account else []
    if account is None or found.workshop_id not in inside or (len(inside) > 1 and not found.by_keeper):
        raise WrongTry(
            DomainError(
                argument="the invitation",
                value="not one that holds",
                allowed="the account is in other workshops too",
                way_out="Ask the keeper of the server for: ./cavatum way-in ADDRESS",
                code="no-invitation",
            )
        )
    passwords.check(body.password, [account.name, account.email], [found.workshop])
    store.keep_password(connection, account.id, passwords.hash_of(body.password))
    store.end_entries(connection, account.id, now())
    return account


def _account_for(connection: Connection, body: JoinBody, found: store.Invitation) -> store.Account:
    if not body.email:
        raise DomainError(
            argument="the address",
            value="missing",
            allowed="an e-mail address names the account",
            way_out="Enter it.",
            code="no-address",
        )
    known = store.account_of(connection, body.email)
    if known is not None:
        refuse_often(connection, _keys(body.email))
        if not passwords.holds(known.password_hash, body.password):
            raise WrongTry(
                DomainError(
                    argument="the password",
                    value="not right",
                    allowed="this address has an account, and its password is asked for",
                    way_out="Enter that password.",
                    code="no-entry",
                )
            )
        return known
    name = body.name or found.name
    if not name:
        raise DomainError(
            argument="the name",
            value="missing",
            allowed="it stands beside what you do",
            way_out="Enter it.",
            code="no-name",
        )
    passwords.check(body.password, [name, body.email], [found.workshop])
    made = store.make_account(connection, body.email, name, passwords.hash_of(body.password))
    if made is None:  # somebody with the same address was quicker
        raise _nobody()
    return store.Account(id=made, name=name, email=body.email, password_hash=None)


@blueprint.post("/logout", operation_id="logOut", responses={204: None})
def log_out() -> RouteAnswer:
    known = who()
    with at_the_door() as connection:
        if known.account_id is not None and known.entry_id is not None:
            store.end_entry(connection, known.account_id, known.entry_id, now())
            note(connection, "went out")
    session.clear()
    response = Response(status=204)
    response.delete_cookie(ENTRY, secure=True, httponly=True, samesite="Strict", path="/")
    return response
