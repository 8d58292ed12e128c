"""What the workshop's instruments say now."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.mix.live import PROBLEMS
from ..core.mix.scale import QUIET_S
from ..store import devices
from .answers import RouteAnswer
from .context import transaction, workshop_id
from .operations import Blueprint

blueprint = Blueprint("devices")
OLDEST_S = 10.0
ROOM_OLDEST_S = 600.0


class LevelReading(BaseModel):
    device: str
    pitch_deg: float
    roll_deg: float
    read_at: datetime


@blueprint.get("/level", operation_id="readLevel", responses={200: LevelReading})
def read_level() -> RouteAnswer:
    """The tilt of this moment. Refused when the level has been quiet for ten seconds: an old reading would
    level nothing.
    """
    with transaction() as connection:
        found = devices.newest(connection, workshop_id(connection), "level")
    if found is None:
        raise DomainError(
            argument="level",
            value="not connected",
            allowed="a level sends its lines to Cavatum",
            way_out="Type the two angles, or read the phone's tilt.",
            code="no-device",
        )
    name, reading, read_at, age_s = found
    if age_s > OLDEST_S:
        raise DomainError(
            argument="level",
            value=f"quiet for {age_s:.0f} s",
            allowed=f"it has to have spoken within {plainly(OLDEST_S)} s",
            way_out="Switch it on, or type the two angles.",
            code="quiet",
        )
    return LevelReading(device=name, read_at=read_at, **reading).model_dump(mode="json")


class Instrument(BaseModel):
    """One instrument as it spoke last. value: degC of thermometer, probe and room; mass_kg of a scale,
    pitch_deg and roll_deg of a level; problem: why there is none to use. here: it is at a browser, not at the
    server.
    """

    kind: str
    device: str
    stand_in: bool
    here: bool = False
    value: float | None = None
    humidity: float | None = None
    mass_kg: float | None = None
    pitch_deg: float | None = None
    roll_deg: float | None = None
    problem: str = ""
    age_s: float


class InstrumentList(BaseModel):
    instruments: list[Instrument]


KINDS = ("scale", "thermometer", "probe", "room", "level")
OLDEST_OF = {"room": ROOM_OLDEST_S, "scale": QUIET_S}


@blueprint.get("/instruments", operation_id="listInstruments", responses={200: InstrumentList})
def list_instruments() -> RouteAnswer:
    """Every kind that ever spoke, with what it said last. One that has been quiet says so; its last value is
    not used.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        found = [
            instrument(kind, one)
            for kind in KINDS
            if (one := devices.newest(connection, shop, kind)) is not None
        ]
    return InstrumentList(instruments=found).model_dump()


def instrument(kind: str, newest: tuple[Any, ...]) -> Instrument:
    name, reading, _, age_s = newest
    quiet = age_s > OLDEST_OF.get(kind, OLDEST_S)
    problem = reading.get("problem", "")
    if kind == "scale":
        problem = PROBLEMS.get(problem, problem and "It shows too much or too little.")
    if quiet:
        problem = f"The {name} has been quiet for {age_s:.0f} s."
    return Instrument(
        kind=kind,
        device=name,
        stand_in=bool(reading.get("stand_in", "stand-in" in name)),
        here=bool(reading.get("here", False)),
        **({} if quiet else _values(kind, reading)),
        problem=problem,
        age_s=age_s,
    )


def _values(kind: str, reading: dict[str, Any]) -> dict[str, float | None]:
    """What it shows, by the names of Instrument."""
    if kind == "scale":
        return {"mass_kg": reading["readings"][-1]["mass_kg"] if reading["readings"] else None}
    if kind == "level":
        return {"pitch_deg": reading["pitch_deg"], "roll_deg": reading["roll_deg"]}
    value = reading.get("temperature_c") if kind == "room" else reading.get("value")
    return {"value": value, "humidity": reading.get("humidity")}
