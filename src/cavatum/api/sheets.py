"""Data sheets that are dropped: what is read on them, a picture of each page, and what a person took of them
as a resin system. Reading happens in a child process with limits; nothing counts before it is taken.
"""

from __future__ import annotations

import base64
from typing import Annotated, Any

from flask import Response
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Id, Label, Name
from ..core.common.verdict import Verdict
from ..core.resin.system import HazardCode, System
from ..core.resin.typical import typical_systems
from ..core.sheet.edition import Change, changes
from ..core.sheet.hazards import Hazard
from ..core.sheet.judging import Found
from ..core.sheet.kind import Document, nearest_class
from ..core.sheet.names import PartName
from ..core.sheet.page import Page
from ..core.sheet.taking import Taken, fields_of, retyped, with_taken
from ..store import pieces, systems
from ..store.pool import NotFound
from .answers import RouteAnswer
from .context import transaction, workshop_id
from .files import FilePath, read_once
from .operations import Blueprint
from .systems import Sheet, as_sheet

blueprint = Blueprint("sheets", "/api/v1/sheets")
KINDS = ("pdf", "html", "text", "csv", "photo")


class FoundRow(BaseModel):
    """number: by which it is taken. fields: of the system it becomes; none where nothing is computed with
    it."""

    number: int
    found: Found
    fields: list[str]


class SheetReading(BaseModel):
    """pages: their words only where there is no picture of them. hazards: statements of a safety data sheet
    that it names. nearest: the typical class it is most like, a proposal. left_out: how many pages of a scan
    were not read.
    """

    file: str
    language: str
    document: Document
    pages: list[Page]
    rows: list[FoundRow]
    names: list[PartName]
    hazards: list[Hazard]
    nearest: str
    has_pictures: bool
    left_out: int


class PagePath(FilePath):
    number: int = Field(ge=1, le=1000)


class TakenRow(BaseModel):
    """as_typed: what the person made of it; None: as it was read. basis: of a ratio, part: of a density,
    where the sheet does not say.
    """

    number: int = Field(ge=0, le=2000)
    as_typed: str | None = Field(default=None, max_length=80)
    basis: str | None = Field(default=None, pattern=r"^(volume|weight)$")
    part: str | None = Field(default=None, pattern=r"^(a|b|mix)$")


class TakeSheetBody(BaseModel):
    """system_id: of a system that stands on the shelf: a new version of it; else `like` is the typical class
    it starts
    from.
    """

    name: Name
    system_id: Id
    like: Id | None = None
    name_a: Label | None = None
    name_b: Label | None = None
    taken: Annotated[list[TakenRow], Field(min_length=1, max_length=400)]


class TouchedPiece(BaseModel):
    """A piece that is planned with a system."""

    id: int
    name: str


class TakenPreview(BaseModel):
    """changes: of the edition on the shelf; unused: numbers of rows whose place another one has; verdicts:
    what would be doubted of the sheet.
    """

    changes: list[Change]
    pieces: list[TouchedPiece]
    unused: list[int]
    verdicts: list[Verdict]


class TakeHazardsBody(BaseModel):
    system_id: Id
    codes: Annotated[list[HazardCode], Field(max_length=40)]


def _read(sha: str) -> dict[str, Any]:
    return read_once(sha, "sheet", KINDS, {})


@blueprint.get("/<string:sha>", operation_id="readSheet", responses={200: SheetReading})
def read_sheet(path: FilePath) -> RouteAnswer:
    """What stands on a stored file, as a data sheet."""
    read = _read(path.sha)
    found = [Found.model_validate(one) for one in read["found"]]
    return SheetReading(
        file=path.sha,
        language=read["language"],
        document=read["document"],
        pages=[Page.model_validate(one) for one in read["pages"]],
        rows=[FoundRow(number=number, found=one, fields=fields_of(one)) for number, one in enumerate(found)],
        names=[PartName.model_validate(one) for one in read["names"]],
        hazards=[Hazard.model_validate(one) for one in read["hazards"]],
        nearest=nearest_class(found, typical_systems()),
        left_out=read["left_out"],
        has_pictures=not any(page["words"] for page in read["pages"]),
    ).model_dump(mode="json")


@blueprint.get("/<string:sha>/pages/<int:number>.jpg", operation_id="viewSheetPage")
def view_page(path: PagePath) -> RouteAnswer:
    found = read_once(path.sha, "sheet page", ("pdf", "photo"), {"page": path.number})
    response = Response(base64.b64decode(found["jpeg"]), mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@blueprint.post("/<string:sha>/take", operation_id="takeSheet", responses={201: Sheet})
def take_sheet(path: FilePath, body: TakeSheetBody) -> RouteAnswer:
    """What the person took becomes a system, or the next version of one. Each value keeps its place on the
    sheet."""
    with transaction() as connection:
        shop = workshop_id(connection)
        made = _made(path.sha, body, systems.newest(connection, shop).get(body.system_id))[0]
        named = made.system.model_copy(update={"id": body.system_id, "name": body.name})
        stored = systems.add_version(connection, shop, System.model_validate(named.model_dump()))
    return as_sheet(stored).model_dump(mode="json"), 201


@blueprint.post("/<string:sha>/preview", operation_id="previewTaken", responses={200: TakenPreview})
def preview_taken(path: FilePath, body: TakeSheetBody) -> RouteAnswer:
    """What taking this would change, which pieces are planned with it, and what finds no room. Nothing is
    stored."""
    with transaction() as connection:
        shop = workshop_id(connection)
        known = systems.newest(connection, shop).get(body.system_id)
        touched = [] if known is None else pieces.using(connection, shop, body.system_id)
    made, numbers = _made(path.sha, body, known)
    return TakenPreview(
        changes=[] if known is None else changes(known, made.system),
        pieces=[TouchedPiece(id=number, name=name) for number, name in touched],
        unused=[number for number, one in numbers if any(one is two for two in made.unused)],
        verdicts=as_sheet(made.system).verdicts,
    ).model_dump(mode="json")


@blueprint.post("/<string:sha>/hazards", operation_id="takeHazards", responses={201: Sheet})
def take_hazards(path: FilePath, body: TakeHazardsBody) -> RouteAnswer:
    """Hazard statements of a safety data sheet, taken for a system: its plans say them among their
    cautions."""
    named = {one["code"] for one in _read(path.sha)["hazards"]}
    strange = [code for code in body.codes if code not in named]
    if strange:
        raise DomainError(
            argument="hazard statement",
            value=", ".join(strange),
            allowed="it is named on the sheet",
            way_out="Read the sheet again.",
            code="no-such-line",
        )
    with transaction() as connection:
        shop = workshop_id(connection)
        known = systems.newest(connection, shop).get(body.system_id)
        if known is None:
            raise NotFound(f"resin system {body.system_id}")
        changed = known.model_copy(update={"hazards": sorted(set(body.codes))})
        stored = systems.add_version(connection, shop, System.model_validate(changed.model_dump()))
    return as_sheet(stored).model_dump(mode="json"), 201


def _made(sha: str, body: TakeSheetBody, known: System | None) -> tuple[Taken, list[tuple[int, Found]]]:
    """The system with what the body takes, and what it takes by its numbers."""
    read = _read(sha)
    found = [Found.model_validate(one) for one in read["found"]]
    pages = [Page.model_validate(one) for one in read["pages"]]
    taken = [(one.number, _taken(one, found)) for one in body.taken]
    if known is not None and body.like is not None:
        raise DomainError(
            argument="resin system id",
            value=body.system_id,
            allowed="it stands on the shelf already",
            way_out="Choose it as the sheet's earlier edition, or put this on the shelf again.",
            code="twice",
        )
    base = known or _class(body.like)
    called = {"name_a": body.name_a or base.name_a, "name_b": body.name_b or base.name_b}
    named = base.model_copy(update=called)
    return with_taken(named, [one for _, one in taken], sha, pages), taken


def _taken(row: TakenRow, found: list[Found]) -> Found:
    if row.number >= len(found):
        raise DomainError(
            argument="line of the sheet",
            value=str(row.number),
            allowed=f"it has {len(found)}",
            way_out="Read the sheet again.",
            code="no-such-line",
        )
    one = retyped(found[row.number], row.as_typed, row.basis, row.part)
    if one.quantity == "ratio" and not one.basis:
        raise DomainError(
            argument="mixing ratio",
            value=one.as_typed,
            allowed="by volume or by weight",
            way_out="Look on the bottle and say which.",
            code="no-basis",
        )
    return one


def _class(like: str | None) -> System:
    classes = {one.id: one for one in typical_systems()}
    if like not in classes:
        raise DomainError(
            argument="typical class",
            value=like or "none",
            allowed=f"it is one of {', '.join(classes)}",
            way_out="Choose which class the resin is most like.",
            code="no-class",
        )
    return classes[like]
