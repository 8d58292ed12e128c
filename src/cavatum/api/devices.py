"""What the workshop's instruments say now."""

from __future__ import annotations

from datetime import datetime

from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from ..core.errors import DomainError
from ..store import devices
from .context import transaction, workshop_id
from .problems import Problem

blueprint = APIBlueprint("devices", __name__, url_prefix="/api/v1", abp_responses={"4XX": Problem})
OLDEST_S = 10.0


class LevelReading(BaseModel):
    device: str
    pitch_deg: float
    roll_deg: float
    read_at: datetime


@blueprint.get("/level", operation_id="readLevel", responses={200: LevelReading})
def read_level():
    """The tilt of this moment. Refused when the level has been quiet for ten seconds: an old reading would level nothing."""
    with transaction() as connection:
        found = devices.newest(connection, workshop_id(connection), "level")
    if found is None:
        raise DomainError("level", "not connected", "a level sends its lines to Cavatum", "Type the two angles, or read the phone's tilt.", "no-device")
    name, reading, read_at, age_s = found
    if age_s > OLDEST_S:
        raise DomainError("level", f"quiet for {age_s:.0f} s", f"it has to have spoken within {OLDEST_S:g} s", "Switch it on, or type the two angles.", "quiet")
    return LevelReading(device=name, read_at=read_at, **reading).model_dump(mode="json")
