"""The workshop's settings, the session, and spoken quantities."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, Field

from ..core.common import units
from ..core.common.readings import Id
from ..core.common.working import Working
from ..core.common.workshop import Workshop, typical_workshop
from ..core.piece.shapes import ProfileRow, Shape, Station
from ..core.piece.survey_findings import Survey
from ..core.piece.typed_rows import parse_rows
from ..core.survey.air import dew_point_working
from ..core.survey.defect_void import void_shape
from ..demo import scenario
from ..store import workshops
from ..store.pool import NotFound
from .answers import MadeOn, RouteAnswer
from .context import now, transaction, who, workshop_id
from .operations import Blueprint
from .permissions import Role
from .problems import command

blueprint = Blueprint("workshop")


class Session(BaseModel):
    """What a page needs to begin: its CSRF token for every change, the server's moment, the workshop's
    settings with their revision, who is at it and what they may. is_untouched: nobody has changed a setting
    yet;
    unsaid: what plans rest on and nobody has said; command: as a person calls Cavatum at its computer.
    """

    csrf_token: str
    now: datetime
    workshop: Workshop
    revision: int
    dew_point: Working
    is_demo: bool
    is_untouched: bool
    unsaid: list[Literal["room", "hours"]]
    role: Role
    how: Literal["here", "entry", "bench", "token"]
    who: str
    command: str


class Spoken(BaseModel):
    text: str = Field(max_length=400)
    kind: str = Field(max_length=40)
    default_unit: str | None = Field(default=None, max_length=20)


class Understood(BaseModel):
    value: float
    as_typed: str
    words: str
    notes: list[str]
    spread: float | None = None


def _unsaid(settings: Workshop) -> list[Literal["room", "hours"]]:
    found: list[Literal["room", "hours"]] = []
    if settings.room_c.origin == "typical":
        found.append("room")
    if settings.week == typical_workshop().week:
        found.append("hours")
    return found


def _session(settings: Workshop, is_demo: bool, revision: int) -> dict[str, Any]:
    return Session(
        csrf_token=generate_csrf(),
        now=now(),
        workshop=settings,
        revision=revision,
        is_demo=is_demo,
        is_untouched=settings == typical_workshop(),
        unsaid=_unsaid(settings),
        dew_point=dew_point_working(settings),
        role=who().role,
        how=who().how,
        who=who().name if who().how != "here" else "",
        command=command(),
    ).model_dump(mode="json")


@blueprint.get("/session", operation_id="readSession", responses={200: Session})
def session() -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return _session(
            workshops.read(connection, shop),
            workshops.is_demo(connection, shop),
            workshops.revision(connection, shop),
        )


@blueprint.put("/workshop", operation_id="saveWorkshop", responses={200: Session})
def save_workshop(body: Workshop, query: MadeOn) -> RouteAnswer:
    """Changed on a revision, joined with what was changed since; 409 where both changed the same value."""
    with transaction() as connection:
        shop = workshop_id(connection)
        settings = workshops.save(connection, shop, body, query.made_on)
        return _session(settings, workshops.is_demo(connection, shop), workshops.revision(connection, shop))


@blueprint.post("/quantities", operation_id="understandQuantity", responses={200: Understood})
def understand(body: Spoken) -> RouteAnswer:
    """What a spoken quantity means. Nothing is stored."""
    found = units.parse(body.text, body.kind, body.default_unit)
    return Understood(
        value=found.value, as_typed=found.as_typed, words=found.words, notes=found.notes, spread=found.spread
    ).model_dump()


class TypedOutline(BaseModel):
    text: str = Field(max_length=100_000)
    unit: str = Field(max_length=10)


class UnderstoodOutline(BaseModel):
    points_m: list[tuple[float, float]]


@blueprint.post("/outlines", operation_id="understandOutline", responses={200: UnderstoodOutline})
def understand_outline(body: TypedOutline) -> RouteAnswer:
    """The points of a typed outline. Nothing is stored."""
    return UnderstoodOutline(points_m=units.parse_points(body.text, body.unit)).model_dump()


class TypedRows(BaseModel):
    text: str = Field(max_length=20_000)
    unit: str = Field(max_length=10)
    kind: Literal["stations", "profile"]


class UnderstoodRows(BaseModel):
    stations: list[Station] = []
    profile: list[ProfileRow] = []


@blueprint.post("/rows", operation_id="understandRows", responses={200: UnderstoodRows})
def understand_rows(body: TypedRows) -> RouteAnswer:
    """Stations or a profile typed in one go, one reading a line. Nothing is stored."""
    return UnderstoodRows.model_validate({body.kind: parse_rows(body.text, body.unit, body.kind)}).model_dump(
        mode="json"
    )


class DefectBody(BaseModel):
    survey: Survey
    defect_id: Id


class DefectShape(BaseModel):
    shape: Shape


@blueprint.post("/defect-shape", operation_id="shapeOfDefect", responses={200: DefectShape})
def shape_of_defect(body: DefectBody) -> RouteAnswer:
    """The void that a marked defect most likely is. Nothing is stored."""
    defect = next((one for one in body.survey.defects if one.id == body.defect_id), None)
    if defect is None:
        raise NotFound("defect")
    return DefectShape(shape=void_shape(defect, body.survey)).model_dump(mode="json")


@blueprint.post("/demo", operation_id="layOutDemo", responses={200: Session})
def lay_out_demo() -> RouteAnswer:
    """Lay out the demo anew around today. Refused in a workshop that is not the demo's: real work is never
    cleared.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        scenario.lay_out_anew(connection, shop, now())
        return _session(workshops.read(connection, shop), True, workshops.revision(connection, shop))
