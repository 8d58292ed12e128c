"""Files: photos, drawings, meshes and stations in, and what is read from them. Reading happens in a child
process with limits.
"""

from __future__ import annotations

import base64
import hashlib
import json
from functools import cache
from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.piece.document import Piece
from ..core.piece.shapes import Mesh, Station
from ..formats import sandbox, sniff
from ..formats.stations_csv import read_stations
from ..machine.paths import PACKAGE
from ..services.planning import core_fingerprint
from ..store import files
from .answers import RouteAnswer
from .context import transaction, workshop_id
from .operations import Blueprint

blueprint = Blueprint("files", "/api/v1/files")
Unit = Literal["mm", "cm", "m", "in"]
Up = Literal["x", "y", "z", "-x", "-y", "-z"]
Pixel = tuple[float, float]
FILE_ROOM = 64 << 20


class FilePath(BaseModel):
    sha: str = Field(pattern=r"^[0-9a-f]{64}$")


class NameQuery(BaseModel):
    name: str = Field(default="file", max_length=120)


class FileAnswer(BaseModel):
    sha256: str
    kind: str
    name: str
    size: int


class OutlinesBody(BaseModel):
    """unit: of the drawing where it names none, or against what it names. layers: those to read, None all."""

    unit: Unit | None = None
    layers: list[str] | None = Field(default=None, max_length=400)


class DrawingLayer(BaseModel):
    name: str
    lines: int


class FoundOutline(BaseModel):
    layer: str
    points_m: list[Pixel]
    holes_m: list[list[Pixel]]
    area_m2: float
    kept: float
    size_m: list[float]


class OutlinesAnswer(BaseModel):
    """size: of the whole drawing in its own unit. shapes is empty until the unit is known."""

    layers: list[DrawingLayer]
    declared: str | None
    unit: str | None
    size: list[float]
    size_m: list[float] | None
    problems: list[str]
    left_out: dict[str, int]
    notes: list[str]
    shapes: list[FoundOutline]
    found: int


class MeshAbout(BaseModel):
    """size: in the file's own unit; declared: the unit that the file names, if it does; notes: how it was
    read,
    where not as it stands.
    """

    triangles: int
    size: list[float]
    declared: str | None
    notes: list[str]


class MeshBody(BaseModel):
    unit: Unit
    up: Up = "z"
    role: Literal["cavity", "body"] = "cavity"
    form_m: tuple[float, float, float] | None = None


class PreviewQuery(BaseModel):
    unit: Unit
    up: Up = "z"


class MeshPreview(BaseModel):
    """corners: float32 triples, triangles: uint32 triples, both base64, little-endian; shown of all
    triangles.
    """

    corners: str
    triangles: str
    of: int
    shown: int
    size_m: list[float]


class Reference(BaseModel):
    """points_px: four corners round a rectangle, or the two ends of each of two lengths. first and second:
    their metres.
    """

    kind: Literal["rectangle", "lengths"]
    points_px: list[Pixel] = Field(min_length=4, max_length=4)
    first_m: float = Field(gt=0, le=10)
    second_m: float = Field(gt=0, le=10)
    first_spread_m: float = Field(default=0, ge=0, le=1)
    second_spread_m: float = Field(default=0, ge=0, le=1)


class ParallaxBody(BaseModel):
    above_m: float = Field(ge=-1, le=1)
    camera_m: float = Field(gt=0, le=20)


class TraceBody(BaseModel):
    """seeds_px: points inside; or outline_px: the person's own or corrected points (moved: any of them
    was).
    """

    reference: Reference
    seeds_px: list[Pixel] = Field(default=[], max_length=40)
    outside_px: list[Pixel] = Field(default=[], max_length=40)
    outline_px: list[Pixel] | None = Field(default=None, min_length=3, max_length=1500)
    moved: bool = True
    parallax: ParallaxBody | None = None


class TraceAnswer(BaseModel):
    outline_px: list[Pixel]
    points_m: list[Pixel]
    area_m2: float
    half_m2: float
    shares: dict[str, float]
    reference_px: Any
    corner_sigma_px: float | None
    by_hand: bool
    doubts: list[str]
    is_good: bool


class PhotoAbout(BaseModel):
    width: int
    height: int


class StationsBody(BaseModel):
    unit: Unit | None = None


class StationsAnswer(BaseModel):
    stations: list[Station]


def more_room() -> None:
    """Before every request, and before the token is looked for, which reads the body: this one address takes
    a large one.
    """
    if request.method == "POST" and request.path == blueprint.url_prefix:
        request.max_content_length = FILE_ROOM + 4096


@blueprint.post("", operation_id="keepFile", responses={201: FileAnswer})
def keep_file(query: NameQuery) -> RouteAnswer:
    """The file as the request's body. Its kind is told by its content."""
    data = request.get_data()
    kind = sniff.kind_of(data, query.name)
    with transaction() as connection:
        kept = files.keep(connection, workshop_id(connection), kind, query.name, data)
    return FileAnswer(sha256=kept.sha256, kind=kept.kind, name=kept.name, size=kept.size).model_dump(
        mode="json"
    ), 201


def read_once(
    sha: str, task: str, kinds: tuple[str, ...], options: dict[str, Any], *, keep: bool = True
) -> dict[str, Any]:
    """What the child makes of a stored file; asked once for each question and version of the readers, unless
    it is too large to keep.
    """
    question = hashlib.sha256(
        json.dumps([task, options, core_fingerprint(), _readers()], sort_keys=True).encode()
    ).hexdigest()
    with transaction() as connection:
        shop = workshop_id(connection)
        about = files.about(connection, shop, sha)
        if about.kind not in kinds:
            raise DomainError(
                argument="file",
                value=f"a {about.kind}",
                allowed=f"{' or '.join(kinds)} is read for this",
                way_out="Choose another file.",
                code="other-kind",
            )
        known = files.reading(connection, shop, sha, question)
        data = b"" if known is not None else files.content(connection, shop, sha)
    if known is not None:
        return known
    source = {"format": about.kind, "name": about.name, "file": sha}
    found = sandbox.ask(task, data, {**options, "kind": about.kind, "source": source})
    if not keep:
        return found
    with transaction() as connection:
        files.keep_reading(connection, workshop_id(connection), sha, question, found)
    return found


READERS = (
    *(f"core/measure/{name}" for name in ("photo", "photo_doubt", "photo_edge", "photo_reference")),
    *(f"core/watch/{name}" for name in ("corners", "raking", "view")),
    *(
        f"formats/{name}"
        for name in (
            "drawings_in",
            "meshes_in",
            "pages_in",
            "photos_in",
            "pictures_of_text",
            "sheets_in",
            "solids_in",
            "svg_flat",
            "tasks",
        )
    ),
)
WORDS = PACKAGE / "formats" / "sheet_words"


@cache
def _readers() -> str:
    """What the readers are, by their text: they are loaded in the child alone."""
    texts = [(PACKAGE / f"{name}.py").read_bytes() for name in READERS]
    texts += [one.read_bytes() for one in sorted(WORDS.glob("*.toml"))]
    return hashlib.sha256(b"".join(texts)).hexdigest()[:16]


MESHES = ("stl", "obj", "ply", "3mf")


@blueprint.post("/<string:sha>/outlines", operation_id="readOutlines", responses={200: OutlinesAnswer})
def read_outlines(path: FilePath, body: OutlinesBody) -> RouteAnswer:
    return OutlinesAnswer.model_validate(
        read_once(path.sha, "outlines", ("svg", "dxf"), body.model_dump())
    ).model_dump(mode="json")


@blueprint.get("/<string:sha>/mesh", operation_id="aboutMesh", responses={200: MeshAbout})
def about_mesh(path: FilePath) -> RouteAnswer:
    return read_once(path.sha, "mesh about", MESHES, {})


@blueprint.post("/<string:sha>/mesh", operation_id="readMesh", responses={200: Mesh})
def read_mesh(path: FilePath, body: MeshBody) -> RouteAnswer:
    return read_once(path.sha, "mesh", MESHES, body.model_dump(mode="json"))


@blueprint.get("/<string:sha>/preview", operation_id="previewMesh", responses={200: MeshPreview})
def preview_mesh(path: FilePath, query: PreviewQuery) -> RouteAnswer:
    return read_once(path.sha, "mesh preview", MESHES, query.model_dump())


@blueprint.get("/<string:sha>/photo", operation_id="aboutPhoto", responses={200: PhotoAbout})
def about_photo(path: FilePath) -> RouteAnswer:
    found = read_once(path.sha, "photo view", ("photo",), {})
    return {"width": found["width"], "height": found["height"]}


@blueprint.get("/<string:sha>/photo.jpg", operation_id="viewPhoto")
def view_photo(path: FilePath) -> RouteAnswer:
    """The picture as it is worked on: turned upright, at most 2400 pixels long, without what the camera wrote
    into it.
    """
    found = read_once(path.sha, "photo view", ("photo",), {})
    response = Response(base64.b64decode(found["jpeg"]), mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@blueprint.post("/<string:sha>/trace", operation_id="tracePhoto", responses={200: TraceAnswer})
def trace_photo(path: FilePath, body: TraceBody) -> RouteAnswer:
    if not body.seeds_px and body.outline_px is None:
        raise DomainError(
            argument="photo",
            value="without a point inside the void",
            allowed="one point inside it is needed",
            way_out="Tap the middle of the void.",
            code="no-seed",
        )
    return read_once(path.sha, "trace", ("photo",), body.model_dump(mode="json"))


@blueprint.post("/<string:sha>/stations", operation_id="readStations", responses={200: StationsAnswer})
def stations_of(path: FilePath, body: StationsBody) -> RouteAnswer:
    with transaction() as connection:
        data = files.content(connection, workshop_id(connection), path.sha)
    return StationsAnswer(stations=read_stations(data, body.unit)).model_dump(mode="json")


def files_of(piece: Piece) -> set[str]:
    """Hashes of the files that a piece was measured from."""
    found = set()
    for void in piece.voids:
        source = getattr(void.shape, "source", None)
        if source is not None and source.file:
            found.add(source.file)
    return found
