"""Phones on the workshop's network: codes given out by the shop's own screen, entered by the phone, and the gate that lets nobody else in."""

from __future__ import annotations

import threading
import time
from collections import deque
from datetime import datetime, timedelta
from pathlib import Path

import segno
from flask import Flask, Response, current_app, g, request, send_file
from flask_openapi3 import APIBlueprint
from flask_wtf.csrf import generate_csrf
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.errors import DomainError
from ..core.readings import Label
from ..store import pairings
from .context import now, transaction, workshop_id
from .problems import Problem, answer

blueprint = APIBlueprint("pairing", __name__, url_prefix="/api/v1", abp_responses={"4XX": Problem})
COOKIE = "__Host-cavatum-phone"
OPEN = ("/api/v1/pairing", "/api/v1/pairing/enter", "/api/v1/health", "/api/v1/authority.crt")
TRIES_A_MINUTE = 10
LONGEST_HOURS = 90 * 24


class Tries:
    """Codes tried in the last minute, of everybody together: a code cannot be guessed in ten."""

    def __init__(self) -> None:
        self.lock, self.when = threading.Lock(), deque[float]()

    def one_more(self) -> bool:
        moment = time.monotonic()
        with self.lock:
            while self.when and self.when[0] < moment - 60:
                self.when.popleft()
            if len(self.when) >= TRIES_A_MINUTE:
                return False
            self.when.append(moment)
            return True


def guard(app: Flask) -> None:
    """On the network's own port nothing is answered to whoever is not paired, but the page itself, the pairing and the authority's certificate."""
    app.config.update(IS_NETWORK=True, SESSION_COOKIE_SECURE=True, SESSION_COOKIE_NAME="__Host-cavatum", SESSION_COOKIE_PATH="/")
    app.extensions["cavatum-tries"] = Tries()

    @app.before_request
    def only_paired() -> Response | None:
        if not request.path.startswith("/api/") or request.path in OPEN or _is_feed(request.path):
            return None
        with transaction() as connection:
            if _paired(connection):
                return None
        return answer(Problem(title="Not paired", status=401, detail="This device is not paired with the workshop, or its time is over. "
                                                                     "Ask for a new code at the shop's own screen."))


def _is_feed(path: str) -> bool:
    """A calendar subscribes without a cookie: its address is its secret."""
    return path.startswith("/api/v1/calendar/") and path.endswith(".ics")


def _paired(connection: Connection) -> bool:
    token = request.cookies.get(COOKIE, "")
    if token and pairings.is_in(connection, token, now()):
        g.paired = True
        return True
    return False


class PairingState(BaseModel):
    csrf_token: str
    is_network: bool
    paired: bool


class EnterBody(BaseModel):
    code: str = Field(min_length=4, max_length=40)


class OfferBody(BaseModel):
    name: Label = ""
    hours: float = Field(default=12, ge=0.25, le=LONGEST_HOURS)


class Offered(BaseModel):
    """Told once: the code, the address it is entered at, and that address as a QR code (SVG, as its path and size)."""

    code: str
    address: str
    qr_path: str
    qr_size: int
    expires_at: datetime
    until_at: datetime


class PairedPhone(BaseModel):
    id: int
    name: str
    is_used: bool
    expires_at: datetime
    until_at: datetime
    seen_at: datetime | None


class PhoneList(BaseModel):
    """address: where phones reach this workshop, empty while it is on loopback only. fingerprint: of the workshop's own authority."""

    address: str
    fingerprint: str
    phones: list[PairedPhone]


class PairingPath(BaseModel):
    pairing_id: int = Field(ge=1, le=2**62)


def _only_here() -> None:
    if current_app.config.get("IS_NETWORK"):
        raise DomainError("phones", "managed from a phone", "only the shop's own screen lets phones in", "Go to the computer Cavatum runs on.", "not-here")


@blueprint.get("/pairing", operation_id="readPairing", responses={200: PairingState})
def read_pairing():
    is_network = bool(current_app.config.get("IS_NETWORK"))
    with transaction() as connection:
        paired = not is_network or _paired(connection)
    return PairingState(csrf_token=generate_csrf(), is_network=is_network, paired=paired).model_dump()


@blueprint.post("/pairing/enter", operation_id="enterPairing", responses={204: None})
def enter_pairing(body: EnterBody):
    """A phone enters its code once. What is wrong with a code is not told: no such, used, too late are one answer."""
    tries = current_app.extensions.get("cavatum-tries")
    if tries is not None and not tries.one_more():
        raise DomainError("code", "tried too often", f"at most {TRIES_A_MINUTE} a minute", "Wait a minute, then try again.", "too-often")
    with transaction() as connection:
        found = pairings.enter(connection, body.code, now())
    if found is None:
        raise DomainError("code", "not one that holds", "a code holds for ten minutes and for one device", "Ask for a new one at the shop's screen.", "no-code")
    token, until = found
    response = Response(status=204)
    response.set_cookie(COOKIE, token, max_age=int((until - now()).total_seconds()), secure=True, httponly=True, samesite="Strict", path="/")
    return response


@blueprint.post("/phones", operation_id="offerPairing", responses={201: Offered})
def offer(body: OfferBody):
    _only_here()
    address = current_app.config.get("NETWORK_ADDRESS") or ""
    if not address:
        raise DomainError("network", "not open", "Cavatum was started for this computer alone", "Start it with: ./cavatum start --network", "loopback-only")
    with transaction() as connection:
        code, one = pairings.offer(connection, workshop_id(connection), body.name, timedelta(hours=body.hours), now())
    url = f"{address}/pair#{code}"
    qr = segno.make(url, error="m", micro=False)
    path = "".join(f"M{x} {y}h1v1h-1z" for y, row in enumerate(qr.matrix) for x, dark in enumerate(row) if dark)
    return Offered(code=code, address=url, qr_path=path, qr_size=len(qr.matrix), expires_at=one.expires_at, until_at=one.until_at).model_dump(mode="json"), 201


@blueprint.get("/phones", operation_id="listPhones", responses={200: PhoneList})
def list_phones():
    _only_here()
    with transaction() as connection:
        found = pairings.listed(connection, workshop_id(connection), now())
    return PhoneList(
        address=current_app.config.get("NETWORK_ADDRESS") or "", fingerprint=current_app.config.get("NETWORK_FINGERPRINT") or "",
        phones=[PairedPhone(id=one.id, name=one.name, is_used=one.used_at is not None, expires_at=one.expires_at, until_at=one.until_at, seen_at=one.seen_at)
                for one in found]).model_dump(mode="json")


@blueprint.delete("/phones/<int:pairing_id>", operation_id="endPhone", responses={204: None})
def end_phone(path: PairingPath):
    _only_here()
    with transaction() as connection:
        pairings.end(connection, workshop_id(connection), path.pairing_id, now())
    return "", 204


@blueprint.get("/authority.crt", operation_id="readAuthority", responses={200: None})
def authority():
    """The workshop's own certificate authority, to be installed on a phone. Public by its nature."""
    file = current_app.config.get("NETWORK_AUTHORITY")
    if not file or not Path(file).exists():
        raise DomainError("network", "not open", "there is no certificate of a network", "Start it with: ./cavatum start --network", "loopback-only")
    return send_file(file, mimetype="application/x-x509-ca-cert", as_attachment=True, download_name="cavatum-workshop.crt")
