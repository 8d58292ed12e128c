"""Files out of a measured piece: the opening, the cavity, a layer, a dam, a patch template, the stations. All
to scale, in mm.
"""

from __future__ import annotations

import base64
from typing import Literal

import numpy as np
from flask import Response
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Id
from ..core.measure.shape_hollow import hollow_of
from ..core.measure.triangles import Solid
from ..core.piece.document import Piece, Void
from ..core.piece.shapes import Mesh, River
from ..core.plan_model import Plan
from ..formats.drawings_out import Sheet, write_dxf, write_svg
from ..formats.pdf import Paper
from ..formats.pdf_drawing import write_pdf
from ..formats.stations_csv import write_stations
from ..services import planning
from ..store import pieces, workshops
from ..store.pool import NotFound
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .files import MESHES, read_once
from .operations import Blueprint

blueprint = Blueprint("exports", "/api/v1/pieces")
TO_SCALE = "To scale: print at 100 %; measure the bar."
MIMES = {
    "stl": "model/stl",
    "3mf": "model/3mf",
    "svg": "image/svg+xml",
    "dxf": "image/vnd.dxf",
    "csv": "text/csv",
    "pdf": "application/pdf",
}


class VoidPath(BaseModel):
    piece_id: int = Field(ge=1, le=2**62)
    void_id: Id


class DefectPath(BaseModel):
    piece_id: int = Field(ge=1, le=2**62)
    defect_id: Id


class ExportQuery(BaseModel):
    """what: the opening or a dam as a drawing; the cavity, a layer or a dam as a solid; the stations of a
    river.
    """

    what: Literal["opening", "cavity", "layer", "dam", "stations"]
    format: Literal["svg", "dxf", "pdf", "stl", "3mf", "csv"]
    layer: int = Field(default=1, ge=1, le=60)
    dam_wall_m: float = Field(default=0.006, gt=0, le=0.2)
    dam_height_m: float = Field(default=0.01, gt=0, le=0.5)


class PatchQuery(BaseModel):
    format: Literal["svg", "dxf", "pdf"]


@blueprint.get("/<int:piece_id>/voids/<string:void_id>/export", operation_id="exportVoid")
def export_void(path: VoidPath, query: ExportQuery) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        plan = planning.plan_of(connection, shop, stored, now()) if query.what == "layer" else None
        paper = workshops.read(connection, shop).sheet
    void = next((one for one in stored.piece.voids if one.id == path.void_id), None)
    if void is None:
        raise NotFound("void")
    name = f"{stored.piece.name} {void.name} {query.what}" + (
        f" {query.layer}" if query.what == "layer" else ""
    )
    if query.what == "stations":
        if not isinstance(void.shape, River):
            raise DomainError(
                argument="stations",
                value="not read for this void",
                allowed="only a river has them",
                way_out="Export its opening.",
                code="no-stations",
            )
        return _file(write_stations(void.shape), name, "csv")
    if query.format in ("svg", "dxf", "pdf"):
        return _file(_drawing(void, query, name, paper), name, query.format)
    if query.format == "csv":
        raise DomainError(
            argument="format",
            value="csv",
            allowed="it holds stations only",
            way_out="Choose SVG, DXF, STL or 3MF.",
            code="other-format",
        )
    return _file(_solid(void, query, plan, name), name, query.format)


def _drawing(void: Void, query: ExportQuery, name: str, paper: Paper) -> bytes:
    from ..core.measure.templates import dam_rings, opening_rings

    if query.what not in ("opening", "dam"):
        raise DomainError(
            argument="format",
            value=query.format,
            allowed="a cavity or a layer is a solid",
            way_out="Choose STL or 3MF.",
            code="other-format",
        )
    hollow = hollow_of(void.shape)
    rings = opening_rings(hollow) if query.what == "opening" else dam_rings(hollow, query.dam_wall_m)
    return _written(Sheet({query.what: rings}, f"{name}. {TO_SCALE}"), name, query.format, paper)


def _written(sheet: Sheet, name: str, ending: str, paper: Paper) -> bytes:
    if ending == "pdf":
        return write_pdf(sheet, name, paper)
    return write_svg(sheet) if ending == "svg" else write_dxf(sheet)


def _solid(void: Void, query: ExportQuery, plan: Plan | None, name: str) -> bytes:
    from ..core.measure.solids import dam_of, layer_of, solid_of, triangles_of
    from ..formats.solids_out import write_3mf, write_stl

    if query.what == "dam":
        made = dam_of(void.shape, query.dam_height_m, query.dam_wall_m)
    elif query.what in ("cavity", "layer"):
        made = solid_of(void.shape, _mesh_of(void))
        if query.what == "layer":
            found = [
                layer
                for pour in (plan.pours if plan else [])
                for layer in pour.layers
                if layer.void_id == void.id
            ]
            if query.layer > len(found):
                raise DomainError(
                    argument="layer",
                    value=str(query.layer),
                    allowed=f"{void.name} has {len(found)}",
                    way_out="Choose one of its layers.",
                    code="no-layer",
                )
            made = layer_of(made, found[query.layer - 1].from_m, found[query.layer - 1].to_m)
    else:
        raise DomainError(
            argument="format",
            value=query.format,
            allowed="an opening is a drawing",
            way_out="Choose SVG or DXF.",
            code="other-format",
        )
    solid = triangles_of(made)
    return write_stl(solid) if query.format == "stl" else write_3mf(solid, name)


def _mesh_of(void: Void) -> Solid | None:
    """The mesh a void was read from, placed as its shape is: metres, up is z, the middle of its floor at
    nought.
    """
    from ..core.measure.mesh_shape import placed_mesh
    from ..core.measure.triangles import Solid

    if not isinstance(void.shape, Mesh) or void.shape.source.file is None:
        return None
    raw = read_once(void.shape.source.file, "mesh source", MESHES, {}, keep=False)
    corners = np.frombuffer(base64.b64decode(raw["corners"]), "<f8").reshape(-1, 3)
    triangles = np.frombuffer(base64.b64decode(raw["triangles"]), "<i8").reshape(-1, 3)
    return placed_mesh(Solid(corners, triangles), void.shape.unit, void.shape.up)


@blueprint.get("/<int:piece_id>/patches/<string:defect_id>", operation_id="exportPatch")
def export_patch(path: DefectPath, query: PatchQuery) -> RouteAnswer:
    """A template for the tape over a defect: hole, least and greatest width."""
    from ..core.survey.patch_templates import patch_rings

    with transaction() as connection:
        shop = workshop_id(connection)
        piece: Piece = pieces.read(connection, shop, path.piece_id).piece
        paper = workshops.read(connection, shop).sheet
    defect = next(
        (one for one in (piece.survey.defects if piece.survey else []) if one.id == path.defect_id), None
    )
    if defect is None:
        raise NotFound("defect")
    name = f"{piece.name} patch {defect.kind}"
    sheet = Sheet(patch_rings(defect), f"{name}. {TO_SCALE}")
    return _file(_written(sheet, name, query.format, paper), name, query.format)


def _file(data: bytes, name: str, ending: str) -> Response:
    response = Response(data, mimetype=MIMES[ending])
    plain = (
        "-".join("".join(sign if sign.isascii() and sign.isalnum() else " " for sign in name.lower()).split())
        or "piece"
    )
    response.headers["Content-Disposition"] = f'attachment; filename="{plain}.{ending}"'
    return response
