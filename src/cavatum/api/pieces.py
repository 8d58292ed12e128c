"""Pieces: list, make, read, save with a version check, undo, plan, try out, file in and out."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from ..core.common.readings import Temperature
from ..core.common.verdict import Weight
from ..core.options import compare
from ..core.piece.document import Piece
from ..core.plan import make_plan
from ..core.plan_model import Option, Plan
from ..formats.piece_file import read_piece, write_piece
from ..services import piece_import, planning
from ..services.pieces import (
    PointedError,
    check_boundaries,
    check_pour_temperatures,
    check_voids,
    with_all_it_names,
)
from ..store import pieces
from ..store.pieces import StoredPiece
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .problems import from_domain
from .qr import qr_of

blueprint = Blueprint("pieces", "/api/v1/pieces")


class PiecePath(BaseModel):
    piece_id: int = Field(ge=1, le=2**62)


class ListQuery(BaseModel):
    search: str = Field(default="", max_length=120)
    limit: int = Field(default=50, ge=1, le=200)
    offset: int = Field(default=0, ge=0, le=1_000_000)


class ListedPiece(BaseModel):
    id: int
    name: str
    for_whom: str
    kind: str
    due: date | None
    changed_at: datetime
    net_m3: float | None = None
    mass_kg: float | None = None
    pours: int = 0
    says: str = ""
    weight: Weight = "note"
    tint: str = "#D39A3C"
    filled: float = 0.0


class PieceList(BaseModel):
    pieces: list[ListedPiece]
    total: int


class PieceAnswer(BaseModel):
    """A piece as it is stored. merged: your edit was joined with one from another device."""

    id: int
    revision: int
    piece: Piece
    changed_at: datetime
    can_undo: bool
    can_redo: bool
    merged: bool


class SaveBody(BaseModel):
    base_revision: int = Field(ge=1)
    piece: Piece
    what: str = Field(default="changed", max_length=120)


class StepBody(BaseModel):
    base_revision: int = Field(ge=1)


class TryBody(BaseModel):
    """A piece as it would be; nothing is kept. room_c: in another room. in_full: with maps and margins, not
    only the figures of a drag.
    """

    piece: Piece
    room_c: float | None = Field(default=None, ge=-20, le=60)
    in_full: bool = True


class PlanAnswer(BaseModel):
    plan: Plan
    revision: int


class OptionsAnswer(BaseModel):
    options: list[Option]


def _answer(stored: StoredPiece) -> dict[str, Any]:
    return PieceAnswer(
        id=stored.id,
        revision=stored.revision,
        piece=stored.piece,
        changed_at=stored.changed_at,
        can_undo=stored.can_undo,
        can_redo=stored.can_redo,
        merged=stored.merged,
    ).model_dump(mode="json")


@blueprint.get("", operation_id="listPieces", responses={200: PieceList})
def list_pieces(query: ListQuery) -> RouteAnswer:
    with transaction() as connection:
        rows, total = pieces.listed(
            connection, workshop_id(connection), query.search, query.limit, query.offset
        )
    listed = [
        ListedPiece(
            id=row.id,
            name=row.name,
            for_whom=row.for_whom,
            kind=row.kind,
            due=row.due,
            changed_at=row.changed_at,
            filled=_filled(row.summary),
            **{key: value for key, value in row.summary.items() if key != "poured_at"},
        )
        for row in rows
    ]
    return PieceList(pieces=listed, total=total).model_dump(mode="json")


def _filled(summary: dict[str, Any]) -> float:
    """Share of the pours that lie behind, if the plan was kept."""
    times = [datetime.fromisoformat(one) for one in summary.get("poured_at", [])]
    return sum(1 for one in times if one <= now()) / len(times) if times else 0.0


@blueprint.post("", operation_id="makePiece", responses={201: PieceAnswer})
def make_piece(body: Piece) -> RouteAnswer:
    check_voids(body)
    with transaction() as connection:
        stored = pieces.create(connection, workshop_id(connection), body)
    return _answer(stored), 201


@blueprint.get("/<int:piece_id>", operation_id="readPiece", responses={200: PieceAnswer})
def read_one(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        return _answer(pieces.read(connection, workshop_id(connection), path.piece_id))


@blueprint.put("/<int:piece_id>", operation_id="savePiece", responses={200: PieceAnswer})
def save_piece(path: PiecePath, body: SaveBody) -> RouteAnswer:
    check_voids(body.piece)
    with transaction() as connection:
        shop = workshop_id(connection)
        before = pieces.read(connection, shop, path.piece_id)
        check_boundaries(before.piece, body.piece)
        check_pour_temperatures(body.piece, planning.inputs_of(connection, shop).sheets)
        return _answer(
            pieces.save(connection, shop, path.piece_id, body.base_revision, body.piece, body.what)
        )


def answer_pointed(error: PointedError) -> Response:
    return from_domain(error.error, error.pointer)


@blueprint.delete("/<int:piece_id>", operation_id="removePiece", responses={204: None})
def remove_piece(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        pieces.remove(connection, workshop_id(connection), path.piece_id)
    return "", 204


@blueprint.post("/<int:piece_id>/bring-back", operation_id="bringBackPiece", responses={200: PieceAnswer})
def bring_back(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        return _answer(pieces.bring_back(connection, workshop_id(connection), path.piece_id))


@blueprint.post("/<int:piece_id>/undo", operation_id="undoPiece", responses={200: PieceAnswer})
def undo(path: PiecePath, body: StepBody) -> RouteAnswer:
    with transaction() as connection:
        return _answer(
            pieces.step_back(connection, workshop_id(connection), path.piece_id, body.base_revision)
        )


@blueprint.post("/<int:piece_id>/redo", operation_id="redoPiece", responses={200: PieceAnswer})
def redo(path: PiecePath, body: StepBody) -> RouteAnswer:
    with transaction() as connection:
        return _answer(
            pieces.step_forward(connection, workshop_id(connection), path.piece_id, body.base_revision)
        )


@blueprint.get("/<int:piece_id>/plan", operation_id="readPlan", responses={200: PlanAnswer})
def read_plan(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        plan = planning.plan_of(connection, shop, stored, now())
    return PlanAnswer(plan=plan, revision=stored.revision).model_dump(mode="json")


class PourAddress(BaseModel):
    """Where this piece's pour opens on a phone, and that address as a QR code (SVG). All empty on a computer
    that no phone can reach.
    """

    address: str = ""
    qr_path: str = ""
    qr_size: int = 0


@blueprint.get("/<int:piece_id>/address", operation_id="readPourAddress", responses={200: PourAddress})
def read_pour_address(path: PiecePath) -> RouteAnswer:
    """For the sheet that stands at the bench."""
    with transaction() as connection:
        pieces.read(connection, workshop_id(connection), path.piece_id)
    network = current_app.config.get("NETWORK_ADDRESS") or ""
    if not network:
        return PourAddress().model_dump(mode="json")
    address = f"{network}/pieces/{path.piece_id}/pour"
    qr_path, qr_size = qr_of(address)
    return PourAddress(address=address, qr_path=qr_path, qr_size=qr_size).model_dump(mode="json")


@blueprint.get("/<int:piece_id>/options", operation_id="readOptions", responses={200: OptionsAnswer})
def read_options(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        inputs = planning.inputs_of(connection, shop)
    return OptionsAnswer(
        options=compare(stored.piece, inputs.sheets, inputs.workshop, now(), inputs.shelf_items)
    ).model_dump(mode="json")


@blueprint.post("/try", operation_id="tryPlan", responses={200: PlanAnswer})
def try_plan(body: TryBody) -> RouteAnswer:
    """The plan of a piece as it would be, for figures that follow a drag. Nothing is stored."""
    with transaction() as connection:
        sheets, workshop, shelf_items, _ = planning.inputs_of(connection, workshop_id(connection))
    if body.room_c is not None:
        workshop = workshop.model_copy(
            update={"room_c": Temperature(value=body.room_c, origin="chosen"), "night": None}
        )
    made = make_plan(
        body.piece,
        sheets,
        workshop,
        now(),
        in_full=body.in_full,
        provisional=not body.in_full,
        shelf_items=shelf_items,
    )
    return Response(
        PlanAnswer(plan=made, revision=0).model_dump_json(), mimetype="application/json"
    )  # long, and asked for with every step of a drag


@blueprint.get("/<int:piece_id>/file", operation_id="exportPiece", responses={200: Piece})
def export_piece(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        complete = with_all_it_names(stored.piece, planning.inputs_of(connection, shop))
    response = Response(write_piece(complete), mimetype="application/json")
    name = (
        "".join(
            sign if sign.isascii() and sign.isalnum() else "-" for sign in stored.piece.name.lower()
        ).strip("-")
        or "piece"
    )
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.cavatum.json"'
    return response


@blueprint.post("/file", operation_id="importPiece", responses={201: PieceAnswer})
def import_piece() -> RouteAnswer:
    """A piece file as the request's body. Sheets that the shelf holds alike are used; others are added under
    a free id.
    """
    piece = read_piece(request.get_data())
    check_voids(piece)
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.create(
            connection, shop, piece_import.with_own_shelf(connection, shop, piece), "taken in from a file"
        )
    return _answer(stored), 201
