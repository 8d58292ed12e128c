"""Devices at the bench: codes given out by the owner, entered by the device, which is then let in for a
bounded time.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

from flask import Response, current_app, request, send_file
from flask_wtf.csrf import generate_csrf
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..store import logins as tries
from ..store import pairings
from .answers import RouteAnswer
from .context import at_the_door, now, who, workshop_id
from .operations import Blueprint
from .qr import qr_of
from .who import ENTRY, PHONE, by_cookie, note

blueprint = Blueprint("pairing")
TRIES_A_MINUTE = 10  # of everybody together: a code cannot be guessed in ten minutes
CODES = "codes of devices"
LONGEST_HOURS = 90 * 24


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
    """Told once: the code, the address it is entered at, and that address as a QR code (SVG, as its path and
    size).
    """

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
    made_by: str | None
    taken_by: str | None
    maker_kept: bool


class PhoneList(BaseModel):
    """address: where phones reach this workshop, empty while it is on loopback only. fingerprint: of the
    workshop's own authority.
    """

    address: str
    fingerprint: str
    phones: list[PairedPhone]


class PairingPath(BaseModel):
    pairing_id: int = Field(ge=1, le=2**62)


@blueprint.get("/pairing", operation_id="readPairing", responses={200: PairingState})
def read_pairing() -> RouteAnswer:
    is_network = bool(current_app.config["IS_NETWORK"])
    with at_the_door() as connection:
        paired = not is_network or by_cookie(connection) is not None
    return PairingState(csrf_token=generate_csrf(), is_network=is_network, paired=paired).model_dump()


def _logged_in(connection: Connection) -> int | None:
    """Whose browser this is, where somebody is logged in with it: the device then ends with that person."""
    cookie = request.cookies.get(ENTRY)
    found = tries.who_entered(connection, cookie, now(), only_asks=False) if cookie else None
    return found[1].account_id if found else None


@blueprint.post("/pairing/enter", operation_id="enterPairing", responses={204: None})
def enter_pairing(body: EnterBody) -> RouteAnswer:
    """A device enters its code once. What is wrong with a code is not told: no such, used, too late are one
    answer.
    """
    with at_the_door() as connection:
        if tries.tries(connection, CODES, now() - timedelta(minutes=1)) >= TRIES_A_MINUTE:
            raise DomainError(
                argument="code",
                value="tried too many times",
                allowed=f"at most {TRIES_A_MINUTE} a minute",
                way_out="Wait a minute, then try again.",
                code="too-often",
            )
        found = pairings.enter(connection, body.code, now(), _logged_in(connection))
        if found is None:
            tries.failed(connection, [CODES], now())
        else:
            note(connection, "a device entered its code", found[3], who="a device", workshop_id=found[2])
    if found is None:
        raise DomainError(
            argument="code",
            value="not one that holds",
            allowed="a code holds for ten minutes and for one device",
            way_out="Ask for a new one at the shop's screen.",
            code="no-code",
        )
    token, until = found[:2]
    response = Response(status=204)
    response.set_cookie(
        PHONE,
        token,
        max_age=int((until - now()).total_seconds()),
        secure=True,
        httponly=True,
        samesite="Strict",
        path="/",
    )
    return response


@blueprint.post("/phones", operation_id="offerPairing", responses={201: Offered})
def offer(body: OfferBody) -> RouteAnswer:
    address = current_app.config.get("NETWORK_ADDRESS") or ""
    if not address:
        raise DomainError(
            argument="network",
            value="not open",
            allowed="Cavatum was started for this computer alone",
            way_out="Start it with: ./cavatum start --network",
            code="loopback-only",
        )
    with at_the_door() as connection:
        code, one = pairings.offer(
            connection,
            workshop_id(connection),
            body.name,
            timedelta(hours=body.hours),
            now(),
            who().account_id,
        )
        note(connection, "offered a code for a device", body.name)
    url = f"{address}/pair#{code}"
    path, size = qr_of(url)
    return Offered(
        code=code, address=url, qr_path=path, qr_size=size, expires_at=one.expires_at, until_at=one.until_at
    ).model_dump(mode="json"), 201


@blueprint.get("/phones", operation_id="listPhones", responses={200: PhoneList})
def list_phones() -> RouteAnswer:
    with at_the_door() as connection:
        found = pairings.listed(connection, workshop_id(connection), now())
    return PhoneList(
        address=current_app.config.get("NETWORK_ADDRESS") or "",
        fingerprint=current_app.config.get("NETWORK_FINGERPRINT") or "",
        phones=[
            PairedPhone(
                id=one.id,
                name=one.name,
                is_used=one.used_at is not None,
                expires_at=one.expires_at,
                until_at=one.until_at,
                seen_at=one.seen_at,
                made_by=one.made_by,
                taken_by=one.taken_by,
                maker_kept=one.maker_kept,
            )
            for one in found
        ],
    ).model_dump(mode="json")


@blueprint.delete("/phones/<int:pairing_id>", operation_id="endPhone", responses={204: None})
def end_phone(path: PairingPath) -> RouteAnswer:
    with at_the_door() as connection:
        pairings.end(connection, workshop_id(connection), path.pairing_id, now())
        note(connection, "put out a device")
    return "", 204


@blueprint.get("/authority.crt", operation_id="readAuthority", responses={200: None})
def authority() -> RouteAnswer:
    """The workshop's own certificate authority, to be installed on a phone. Public by its nature."""
    file = current_app.config.get("NETWORK_AUTHORITY")
    if not file or not Path(file).exists():
        raise DomainError(
            argument="network",
            value="not open",
            allowed="there is no certificate of a network",
            way_out="Start it with: ./cavatum start --network",
            code="loopback-only",
        )
    return send_file(
        file, mimetype="application/x-x509-ca-cert", as_attachment=True, download_name="cavatum-workshop.crt"
    )
