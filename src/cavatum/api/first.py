"""The first minute: an answer before anything is kept, and keeping it."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field

from ..core.first.look import AtKey, FirstAnswer, FirstLook
from ..services import first
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .problems import from_domain

blueprint = Blueprint("first", "/api/v1/first-look")


class KeepLookBody(BaseModel):
    """name: empty: called after what lies on the bench."""

    look: FirstLook
    name: str = Field(default="", max_length=120)


class KeptPiece(BaseModel):
    id: int


@blueprint.post("", operation_id="firstLook", responses={200: FirstAnswer})
def look(body: FirstLook) -> RouteAnswer:
    """What to weigh for what lies on the bench. Nothing is kept."""
    with transaction() as connection:
        answer = first.look_at(connection, workshop_id(connection), body, now())
    return Response(answer.model_dump_json(), mimetype="application/json")  # asked with every letter typed


@blueprint.post("/keep", operation_id="keepFirstLook", responses={201: KeptPiece})
def keep(body: KeepLookBody) -> RouteAnswer:
    """Keeps it as a piece; the typical class it took goes onto the shelf."""
    with transaction() as connection:
        stored = first.keep(connection, workshop_id(connection), body.look, body.name, now())
    return KeptPiece(id=stored.id).model_dump(mode="json"), 201


def answer_at_key(error: AtKey) -> Response:
    return from_domain(error.error, f"/{error.key}")
