"""Cameras over the piece of a run: begun by a device, which sends its pictures; what was seen of them."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from flask import Response, request
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.watch.seen import SIDES, Flaw
from ..formats import sandbox
from ..services import watching
from ..services.watching import WatchTold
from ..store import runs, watch
from ..store.watch import SeenRow, WatchRow
from .answers import RouteAnswer
from .context import now, transaction, who, workshop_id
from .files import read_once
from .operations import Blueprint
from .runs import RunPath

blueprint = Blueprint("watching")
MOST_PICTURE = 1 << 20
JPEG = b"\xff\xd8\xff"


class WatchPath(BaseModel):
    watch_id: int = Field(ge=1, le=2**62)


class FramePath(WatchPath):
    number: int = Field(ge=1, le=2**31 - 1)


class SeenPath(BaseModel):
    seen_id: int = Field(ge=1, le=2**62)


class SeenAnswer(BaseModel):
    """number: of the picture. wrong_by: who looked and found nothing."""

    id: int
    event_id: str
    number: int
    kind: str
    at: datetime
    words: str
    sure: bool
    marks: list[list[float]]
    wrong_at: datetime | None
    wrong_by: str


class WatchAnswer(BaseModel):
    """kept: numbers and moments of the pictures that are still here; unfollowed: sides whose wet edge is too
    faint to be followed, None before the first pictures are looked at; problem: why the newest was not.
    """

    id: int
    run_id: int
    told: WatchTold
    begun_at: datetime
    ended_at: datetime | None
    why: str
    pictures: int
    last_at: datetime | None
    unfollowed: list[str] | None
    problem: str
    seen: list[SeenAnswer]
    kept: list[tuple[int, datetime]]
    kept_bytes: int


class WatchList(BaseModel):
    now: datetime
    watches: list[WatchAnswer]


def _seen(row: SeenRow) -> SeenAnswer:
    return SeenAnswer(
        id=row.id,
        event_id=str(row.event_id),
        number=row.number,
        kind=row.kind,
        at=row.at,
        words=row.words,
        sure=bool(row.told.get("sure", True)),
        marks=row.told.get("marks_px", []),
        wrong_at=row.wrong_at,
        wrong_by=row.wrong_by,
    )


def _answer(connection: Connection, shop: int, row: WatchRow) -> WatchAnswer:
    kept = watch.kept(connection, shop, row.id)
    return WatchAnswer(
        id=row.id,
        run_id=row.run_id,
        told=WatchTold.model_validate(row.told),
        begun_at=row.begun_at,
        ended_at=row.ended_at,
        why=row.why,
        pictures=row.pictures,
        last_at=row.last_at,
        unfollowed=None if row.unfollowed is None else [SIDES[side] for side in row.unfollowed],
        problem=row.problem,
        seen=[_seen(one) for one in watch.seen(connection, shop, [row.id])],
        kept=[(number, at) for number, at, _ in kept],
        kept_bytes=sum(size for *_, size in kept),
    )


@blueprint.post("/runs/<int:run_id>/watches", operation_id="beginWatch", responses={201: WatchAnswer})
def begin_watch(path: RunPath, body: WatchTold) -> RouteAnswer:
    """A device has marked the piece and sends its pictures from now on."""
    with transaction() as connection:
        shop = workshop_id(connection)
        row = watching.begin(connection, shop, path.run_id, body, now())
        return _answer(connection, shop, row).model_dump(mode="json"), 201


@blueprint.get("/runs/<int:run_id>/watches", operation_id="listWatches", responses={200: WatchList})
def list_watches(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        runs.read(connection, shop, path.run_id)
        rows = watch.of_run(connection, shop, path.run_id)
        return WatchList(now=now(), watches=[_answer(connection, shop, row) for row in rows]).model_dump(
            mode="json"
        )


def jpeg_told() -> bytes:
    data = request.get_data()
    if len(data) > MOST_PICTURE or not data.startswith(JPEG):
        raise DomainError(
            argument="picture",
            value=f"{len(data) / 1e6:.1f} MB" if data.startswith(JPEG) else "no JPEG",
            allowed="a JPEG of at most 1 MB",
            way_out="Choose another size in the camera.",
            code="not-a-picture",
        )
    return data


class FacesAnswer(BaseModel):
    """faces: the largest first, each far left, far right, near right, near left, in the picture's pixels."""

    size: tuple[int, int]
    faces: list[list[tuple[float, float]]]


@blueprint.post("/faces", operation_id="findFaces", responses={200: FacesAnswer})
def find_faces() -> RouteAnswer:
    """Four-cornered faces in one picture, the request's body, JPEG; it is not kept."""
    found = sandbox.ask("faces", jpeg_told())
    return FacesAnswer.model_validate(found).model_dump(mode="json")


class FrameAnswer(BaseModel):
    number: int
    now: datetime


@blueprint.post("/watches/<int:watch_id>/frames", operation_id="sendFrame", responses={201: FrameAnswer})
def send_frame(path: WatchPath) -> RouteAnswer:
    """One picture as the request's body, JPEG; its moment is that of its arrival."""
    data = jpeg_told()
    with transaction() as connection:
        shop = workshop_id(connection)
        row = watch.read(connection, shop, path.watch_id, locked=True)
        if row.ended_at is not None:
            raise DomainError(
                argument="watch",
                value=f"over: {row.why}",
                allowed="pictures are taken while it lasts",
                way_out="Mark the piece again.",
                code="over",
            )
        number = watch.add_frame(connection, shop, row, max(now(), row.last_at or now()), data)
    return FrameAnswer(number=number, now=now()).model_dump(mode="json"), 201


@blueprint.post("/watches/<int:watch_id>/end", operation_id="endWatch", responses={200: WatchAnswer})
def end_watch(path: WatchPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        watch.end(connection, shop, path.watch_id, now(), f"ended by {who().name}")
        return _answer(connection, shop, watch.read(connection, shop, path.watch_id)).model_dump(mode="json")


@blueprint.get("/watches/<int:watch_id>/frames/<int:number>.jpg", operation_id="viewFrame")
def view_frame(path: FramePath) -> RouteAnswer:
    with transaction() as connection:
        content = watch.frame(connection, workshop_id(connection), path.watch_id, path.number)
    response = Response(content, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@blueprint.post("/seen/<int:seen_id>/wrong", operation_id="callSeenWrong", responses={200: SeenAnswer})
def call_wrong(path: SeenPath) -> RouteAnswer:
    """Somebody looked, and there was nothing: kept beside it, so that anybody can count how often."""
    with transaction() as connection:
        shop = workshop_id(connection)
        row = watching.call_wrong(connection, shop, path.seen_id, who().name, now())
        return _seen(row).model_dump(mode="json")


class SideLightBody(BaseModel):
    """corners_px: in the photo as it is worked on. lamp: the side from which the light comes."""

    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")
    corners_px: list[tuple[float, float]] = Field(min_length=4, max_length=4)
    length_m: float = Field(gt=0, le=10)
    width_m: float = Field(gt=0, le=10)
    lamp: Literal["far", "right", "near", "left"]
    when: Literal["before the pour", "after the pour", "at the inspection"]


class SideLightAnswer(BaseModel):
    words: str
    flaws: list[Flaw]
    size: tuple[int, int]


@blueprint.post(
    "/runs/<int:run_id>/side-light", operation_id="markSideLight", responses={201: SideLightAnswer}
)
def mark_side_light(path: RunPath, body: SideLightBody) -> RouteAnswer:
    """A photo in low side light: what stands out is counted, marked and kept in the run."""
    options = body.model_dump(mode="json", include={"corners_px", "length_m", "width_m", "lamp"})
    found = read_once(body.sha256, "flaws", ("photo",), options)
    flaws = [Flaw.model_validate(one) for one in found["flaws"]]
    with transaction() as connection:
        shop = workshop_id(connection)
        words = watching.keep_flaws(
            connection, shop, path.run_id, body.sha256, flaws, found["size"], body.when, who().name, now()
        )
    return SideLightAnswer(words=words, flaws=flaws, size=found["size"]).model_dump(mode="json"), 201
