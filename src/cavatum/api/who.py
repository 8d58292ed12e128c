"""Who asks: the gate before every operation. On this computer's own address the workshop's owner; on the
network an account, a paired device or a script.

Order: an id for the request, who it is, whether the role may (permissions.py), then the CSRF token where a
cookie told who it is.
"""

from __future__ import annotations

import re
import secrets
import time

from flask import Flask, Response, current_app, g, request
from flask_wtf.csrf import CSRFProtect
from psycopg import Connection

from ..core.common import patience
from ..store import logins as store
from ..store import pairings, people
from .context import at_the_door, now
from .identity import Who
from .permissions import LOOK, MAY, OPEN, WHY, Role
from .problems import Problem, answer
from .texts import refuse_broken_text

# Browsers say which page asks. Answers to another's are unreadable to it, but an export of everything is
# work.
MOST_COMPUTING_S = 30.0  # for one answer, of its own thread's time
ANOTHER_PAGE = "Another site's page asked for this. Open Cavatum itself."
PHONE, ENTRY = "__Host-cavatum-phone", "__Host-cavatum-in"
_SOUND_ID = re.compile(r"^[A-Za-z0-9-]{8,64}$")


def guard(app: Flask, operations: dict[tuple[str, str], str], *, is_network: bool) -> None:
    """Puts the gate before every request. operations: (rule, method) -> operation, from the OpenAPI document;
    one without a row in permissions raises.
    """
    missing = {name for name in operations.values() if name not in MAY and name not in OPEN}
    if missing:
        raise LookupError(f"nobody has said who may do: {', '.join(sorted(missing))}")
    app.config["IS_NETWORK"] = is_network
    app.config["WTF_CSRF_CHECK_DEFAULT"] = False
    if is_network:
        app.config.update(
            SESSION_COOKIE_SECURE=True, SESSION_COOKIE_NAME="__Host-cavatum", SESSION_COOKIE_PATH="/"
        )
    csrf = CSRFProtect(app)
    app.teardown_request(lambda _: patience.over())

    @app.before_request
    def gate() -> Response | None:
        given = request.headers.get("X-Request-ID", "")
        g.request_id = (
            given if app.config.get("BEHIND_PROXY") and _SOUND_ID.match(given) else secrets.token_hex(8)
        )
        g.operation = operations.get((request.url_rule.rule if request.url_rule else "", request.method), "")
        if not request.path.startswith("/api/"):
            return None
        if request.headers.get("Sec-Fetch-Site") in ("cross-site", "same-site"):
            return answer(Problem(title="Not allowed", status=403, detail=ANOTHER_PAGE))
        refuse_broken_text()
        patience.begin(MOST_COMPUTING_S, time.thread_time)
        bearer = request.headers.get("Authorization", "").removeprefix("Bearer ")
        if g.operation not in OPEN:
            refusal = _may(g.operation, bearer)
            if refusal:
                return refusal
        if not bearer or g.operation in OPEN:
            csrf.protect()
        return None


def _may(operation: str, bearer: str) -> Response | None:
    if not bearer and not current_app.config["IS_NETWORK"]:
        return None  # the owner; which workshop is found with the first connection
    who = _find(bearer)
    if who is None:
        return answer(
            Problem(
                title="Please log in",
                status=401,
                detail="Log in, or ask for a code at the shop's own screen. If you were logged in, your "
                "session has ended.",
            )
        )
    if who.role not in MAY.get(
        operation, LOOK
    ):  # no operation: there is nothing at that address, or a document about the API
        return answer(Problem(title="Not allowed", status=403, detail=WHY[who.role]))
    if operation == "readMetrics" and who.how != "here":
        return answer(
            Problem(
                title="Not allowed",
                status=403,
                detail="Figures of the whole server are told on the computer's own address only.",
            )
        )
    return None


def _find(bearer: str) -> Who | None:
    with at_the_door() as connection:
        g.who = _by_token(connection, bearer) if bearer else by_cookie(connection)
    found: Who | None = g.who
    return found


def _by_token(connection: Connection, bearer: str) -> Who | None:
    found = store.who_holds(connection, bearer, now())
    return (
        Who(
            workshop_id=found[1],
            role="maker" if found[2] == "maker" else "viewer",
            how="token",
            token_id=found[0],
            name=f"script: {found[3]}",
        )
        if found
        else None
    )


def by_cookie(connection: Connection) -> Who | None:
    entered = (
        store.who_entered(connection, request.cookies[ENTRY], now()) if request.cookies.get(ENTRY) else None
    )
    if entered is not None:
        entry_id, member = entered
        role: Role = "owner" if member.role == "owner" else "maker" if member.role == "maker" else "viewer"
        return Who(
            workshop_id=member.workshop_id,
            role=role,
            how="entry",
            name=member.name,
            account_id=member.account_id,
            entry_id=entry_id,
        )
    paired = (
        pairings.who_is_in(connection, request.cookies[PHONE], now()) if request.cookies.get(PHONE) else None
    )
    return (
        Who(workshop_id=paired[0], role="bench", how="bench", name=paired[1] or "a paired device")
        if paired
        else None
    )


def note(
    connection: Connection,
    what: str,
    about: str = "",
    *,
    who: str | None = None,
    workshop_id: int | None = None,
) -> None:
    """One line of the trail, by whoever asks."""
    known: Who | None = g.get("who")
    people.note(
        connection,
        workshop_id if workshop_id is not None else known.workshop_id if known else None,
        what,
        who if who is not None else known.name if known else "nobody known",
        about,
        request.remote_addr or "",
        g.get("request_id", ""),
    )
