"""Data sheets that are dropped: what is read on them, a picture of each page, and what a person took of them
as a resin system. Reading happens in a child process with limits; nothing counts before it is taken.
"""

from __future__ import annotations

import base64
from typing import Annotated, Any

from flask import Response
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Id, Name
from ..core.resin.system import System
from ..core.resin.typical import typical_systems
from ..core.sheet.judging import Found
from ..core.sheet.kind import Document, nearest_class
from ..core.sheet.page import Page
from ..core.sheet.taking import fields_of, retyped, with_taken
from ..store import systems
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
    """pages: their words only where there is no picture of them. nearest: the typical class it is most like,
    a proposal.
    """

    file: str
    language: str
    document: Document
    pages: list[Page]
    rows: list[FoundRow]
    nearest: str
    has_pictures: bool


class PagePath(FilePath):
    number: int = Field(ge=1, le=1000)


class TakenRow(BaseModel):
    """as_typed: what the person made of it; None: as it was read. basis: of a ratio, where the sheet does
    not say."""

    number: int = Field(ge=0, le=2000)
    as_typed: str | None = Field(default=None, max_length=80)
    basis: str | None = Field(default=None, pattern=r"^(volume|weight)$")


class TakeSheetBody(BaseModel):
    """system_id: of a system that stands on the shelf: a new version of it; else `like` is the typical class
    it starts
    from.
    """

    name: Name
    system_id: Id
    like: Id | None = None
    taken: Annotated[list[TakenRow], Field(min_length=1, max_length=400)]


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
        nearest=nearest_class(found, typical_systems()),
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
    read = _read(path.sha)
    found = [Found.model_validate(one) for one in read["found"]]
    pages = [Page.model_validate(one) for one in read["pages"]]
    taken = [_taken(one, found) for one in body.taken]
    with transaction() as connection:
        shop = workshop_id(connection)
        known = systems.newest(connection, shop).get(body.system_id)
        if known is not None and body.like is not None:
            raise DomainError(
                argument="resin system id",
                value=body.system_id,
                allowed="it stands on the shelf already",
                way_out="Choose it as the sheet's earlier edition, or put this on the shelf again.",
                code="twice",
            )
        base = known or _class(body.like)
        made = with_taken(base, taken, path.sha, pages)
        named = made.model_copy(update={"id": body.system_id, "name": body.name})
        stored = systems.add_version(connection, shop, System.model_validate(named.model_dump()))
    return as_sheet(stored).model_dump(mode="json"), 201


def _taken(row: TakenRow, found: list[Found]) -> Found:
    if row.number >= len(found):
        raise DomainError(
            argument="line of the sheet",
            value=str(row.number),
            allowed=f"it has {len(found)}",
            way_out="Read the sheet again.",
            code="no-such-line",
        )
    one = retyped(found[row.number], row.as_typed, row.basis)
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
