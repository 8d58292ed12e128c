"""Instruments at a browser: what a page reads of its own scale, thermometer, probe or level, by the same
parsers as the server's own ports.
"""

from __future__ import annotations

from typing import Any, Literal

from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Label
from ..devices import binary
from ..devices.lines import parse_tilt
from ..devices.scale_lines import ScaleLine, parse_scale
from ..devices.scale_said import fresh, with_line
from ..devices.thermo_lines import ThermoLine, parse_thermo
from ..services.runs import log_probe
from ..store import devices
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint

blueprint = Blueprint("ears")
Kind = Literal["scale", "thermometer", "probe", "room", "level"]
Form = Literal["line", "weight", "hid-scale", "temperature", "air-temperature", "humidity"]
OTHER_S = 3.0  # an instrument of this kind that spoke so lately has the place
LOG_EVERY_S = 60.0
COMMANDS = {"tare": "T"}


class HeardLine(BaseModel):
    """One line of text, or bytes as hexadecimal digits. ago_s: how long before this was sent."""

    text: str = Field(max_length=400)
    ago_s: float = Field(default=0, ge=0, le=60)


class SaidBody(BaseModel):
    """form: a line of text, or which bytes. device: as its owner knows it. stand_in: of a rehearsal."""

    kind: Kind
    form: Form
    device: Label = ""
    stand_in: bool = False
    heard: list[HeardLine] = Field(min_length=1, max_length=200)


class SaidAnswer(BaseModel):
    """understood: of what was heard, how many were readings; commands: to be sent to the instrument now."""

    understood: int
    commands: list[str]


@blueprint.post("/instruments/said", operation_id="sayInstrument", responses={200: SaidAnswer})
def say_instrument(body: SaidBody) -> RouteAnswer:
    name = body.device or f"a {body.kind}"
    with transaction() as connection:
        shop = workshop_id(connection)
        devices.lock(connection, shop, body.kind)
        newest = devices.newest(connection, shop, body.kind)
        if newest is not None and newest[0] != name and newest[3] < OTHER_S:
            raise DomainError(
                argument=body.kind,
                value=f"{newest[0]}, connected",
                allowed=f"one {body.kind} speaks at a time",
                way_out="Disconnect the other one first.",
                code="taken",
            )
        before = newest[1] if newest is not None and newest[0] == name else None
        understood, reading = _after(body, before, now().timestamp())
        if understood:
            logged = _into_its_run(connection, shop, body.kind, name, before, reading)
            devices.keep_reading(connection, shop, body.kind, name, {**reading, **logged, "here": True})
        waiting = devices.take_commands(connection, shop, body.kind)
    commands = [COMMANDS[one] for one in waiting if one in COMMANDS]
    return SaidAnswer(understood=understood, commands=commands).model_dump()


def _after(body: SaidBody, before: dict[str, Any] | None, now_s: float) -> tuple[int, dict[str, Any]]:
    """How much of it was a reading, and what is kept then."""
    if body.kind == "scale":
        said, understood = before or fresh(now_s, stand_in=body.stand_in), 0
        for heard in sorted(body.heard, key=lambda one: -one.ago_s):
            found = _scale(body.form, heard.text)
            if found is not None:
                understood += 1
                said, _ = with_line(said, found, now_s - heard.ago_s)
        return understood, said
    found_all = [one for heard in body.heard if (one := _other(body, heard.text)) is not None]
    merged: dict[str, Any] = dict(before or {}) if body.kind == "room" else {}
    for one in found_all:
        merged |= one
    return len(found_all), {**merged, "stand_in": body.stand_in}


def _bytes(text: str) -> bytes:
    try:
        return bytes.fromhex(text)
    except ValueError:
        return b""


def _scale(form: Form, text: str) -> ScaleLine | None:
    if form == "line":
        return parse_scale(text)
    if form == "weight":
        return binary.parse_weight(_bytes(text))
    return binary.parse_hid_scale(_bytes(text)) if form == "hid-scale" else None


def _other(body: SaidBody, text: str) -> dict[str, Any] | None:
    """Of a thermometer, probe, room sensor or level, in the names that are kept."""
    if body.kind == "level":
        tilt = parse_tilt(text)
        return None if tilt is None else {"pitch_deg": tilt.pitch_deg, "roll_deg": tilt.roll_deg}
    if body.form == "humidity":
        share = binary.parse_humidity(_bytes(text))
        return None if share is None else {"humidity": share}
    found = _degrees(body.form, text)
    if found is None:
        return None
    if body.kind == "room":
        return {} if found.celsius is None else {"temperature_c": found.celsius}
    return {"value": found.celsius, "problem": found.words}


def _degrees(form: Form, text: str) -> ThermoLine | None:
    if form == "temperature":
        return binary.parse_temperature(_bytes(text))
    if form == "air-temperature":
        return binary.parse_air_temperature(_bytes(text))
    return parse_thermo(text) if form == "line" else None


def _into_its_run(
    connection: Connection,
    shop: int,
    kind: Kind,
    name: str,
    before: dict[str, Any] | None,
    reading: dict[str, Any],
) -> dict[str, float]:
    """A probe that lies in a run is logged there every minute: when it was last."""
    if kind != "probe":
        return {}
    last = (before or {}).get("logged_s", 0.0)
    if reading.get("value") is None or now().timestamp() - last < LOG_EVERY_S:
        return {"logged_s": last}
    log_probe(connection, shop, reading["value"], name, now())
    return {"logged_s": now().timestamp()}
