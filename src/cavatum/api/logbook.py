"""The logbook: find and read runs, take logs in, export, and what was learned of them."""

from __future__ import annotations

import csv
import io
from datetime import datetime

from flask import Response
from pydantic import BaseModel, Field

from ..core.common.wording import Wording
from ..formats.pdf import record_pdf
from ..services import learning
from ..services.logbook import LoggerFile, RunDossier, lay_file_on, record_of
from ..store import logbook, workshops
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .runs import RunPath

blueprint = Blueprint("logbook")
PAGE = 30
MOST_CSV = 5_000


class SearchQuery(BaseModel):
    q: str = Field(default="", max_length=200)
    kind: str | None = Field(default=None, max_length=40)
    stars: int | None = Field(default=None, ge=1, le=5)
    troubled: bool = False
    offset: int = Field(default=0, ge=0, le=1_000_000)
    limit: int = Field(default=PAGE, ge=1, le=100)


class LogRow(BaseModel):
    run_id: int
    piece: str
    kind_of_work: str
    begun_at: datetime
    ended_at: datetime | None
    how: str
    systems: list[str]
    planned_kg: float
    used_kg: float | None
    peak_predicted_c: float | None
    peak_measured_c: float | None
    stars: int | None
    troubled: bool
    photos: int
    words: str


class LogList(BaseModel):
    rows: list[LogRow]
    total: int


class LogFileBody(BaseModel):
    """begins_at: when the log began, where it has no dates; shift_s: put right by so much, for a logger that
    runs in another zone.
    """

    text: str = Field(max_length=2 * 1024 * 1024)
    pour: int = Field(ge=1, le=500)
    begins_at: datetime | None = None
    shift_s: float = Field(default=0, ge=-86400, le=86400)
    name: str = Field(default="", max_length=120)


class LogFileAnswer(BaseModel):
    """kept: readings that lie within the run; says: what was left out, and anything odd."""

    kept: int
    from_at: datetime
    to_at: datetime
    says: list[str]


@blueprint.get("/logbook", operation_id="searchLogbook", responses={200: LogList})
def search(query: SearchQuery) -> RouteAnswer:
    """Real runs, newest first. Every word has to be found in piece, resin, colour, lot, mishap, note or words
    of the maker.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        learning.refresh(connection, shop)
        found, total = logbook.search(
            connection,
            shop,
            query.q.split(),
            query.kind,
            query.stars,
            query.troubled,
            query.limit,
            query.offset,
        )
    return LogList(rows=[_row(one) for one in found], total=total).model_dump(mode="json")


def _row(one: logbook.Entry) -> LogRow:
    record = one.record
    pours = record["pours"]
    return LogRow(
        run_id=one.run_id,
        piece=one.piece,
        kind_of_work=one.kind_of_work,
        begun_at=one.begun_at,
        ended_at=one.ended_at,
        how=record["how"],
        systems=record["systems"],
        planned_kg=record["planned_kg"],
        used_kg=record["used_kg"],
        stars=one.stars,
        troubled=one.troubled,
        peak_predicted_c=max(
            (pour["peak_predicted_c"] for pour in pours if pour["peak_predicted_c"] is not None), default=None
        ),
        peak_measured_c=max(
            (pour["peak_measured_c"] for pour in pours if pour["peak_measured_c"] is not None), default=None
        ),
        photos=len(record["photos"]),
        words=record["words"],
    )


@blueprint.get("/runs/<int:run_id>/record", operation_id="readRecord", responses={200: RunDossier})
def read_record(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return record_of(connection, shop, path.run_id).model_dump(mode="json")


@blueprint.post("/runs/<int:run_id>/log-file", operation_id="takeLogFile", responses={200: LogFileAnswer})
def take_log_file(path: RunPath, body: LogFileBody) -> RouteAnswer:
    """A logger's CSV laid on one pour of the run; what lies outside the run is left out and said. The same
    file twice changes nothing.
    """
    log = LoggerFile(
        text=body.text, pour=body.pour, begins_at=body.begins_at, shift_s=body.shift_s, name=body.name
    )
    with transaction() as connection:
        laid = lay_file_on(connection, workshop_id(connection), path.run_id, log, now())
    return LogFileAnswer(
        kept=len(laid.readings), from_at=laid.readings[0][0], to_at=laid.readings[-1][0], says=laid.says
    ).model_dump(mode="json")


@blueprint.get("/logbook.csv", operation_id="exportLogbook")
def export_csv(query: SearchQuery) -> RouteAnswer:
    """The same search as a table, at most MOST_CSV runs."""
    with transaction() as connection:
        shop = workshop_id(connection)
        learning.refresh(connection, shop)
        found, _ = logbook.search(
            connection, shop, query.q.split(), query.kind, query.stars, query.troubled, MOST_CSV, 0
        )
    out = io.StringIO()
    table = csv.writer(out, quoting=csv.QUOTE_ALL)  # whatever a spreadsheet takes for a border of cells
    names = [
        "run",
        "piece",
        "kind of work",
        "begun",
        "ended",
        "resin",
        "planned kg",
        "used kg",
        "peak predicted degC",
        "peak measured degC",
        "stars",
        "mishaps",
        "words",
    ]
    table.writerow(names)
    for one in found:
        row = _row(one)
        table.writerow(
            [
                row.run_id,
                _safe(row.piece),
                row.kind_of_work,
                row.begun_at.isoformat(),
                row.ended_at.isoformat() if row.ended_at else "",
                _safe("; ".join(row.systems)),
                f"{row.planned_kg:.4f}",
                "" if row.used_kg is None else f"{row.used_kg:.4f}",
                _plain(row.peak_predicted_c),
                _plain(row.peak_measured_c),
                row.stars or "",
                _safe("; ".join(one.record["went_wrong"])),
                _safe(row.words),
            ]
        )
    return Response(
        out.getvalue(),
        mimetype="text/csv",
        headers={"Content-Disposition": 'attachment; filename="logbook.csv"'},
    )


def _plain(value: float | None) -> str:
    return "" if value is None else f"{value:.1f}"


def _safe(text: str) -> str:
    """A cell that a spreadsheet would take for a formula is told as text."""
    begins = text.lstrip(" \t\r\n\u00a0\ufeff")[:1]
    return f"'{text}" if begins and begins in "=+-@\uff1d\uff0b\uff0d\uff20|%" else text


@blueprint.get("/runs/<int:run_id>/record.json", operation_id="exportRecord")
def export_json(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        answer = record_of(connection, workshop_id(connection), path.run_id)
    return Response(
        answer.model_dump_json(indent=1),
        mimetype="application/json",
        headers={"Content-Disposition": f'attachment; filename="run-{path.run_id}.json"'},
    )


@blueprint.get("/runs/<int:run_id>/record.pdf", operation_id="printRecord")
def export_pdf(path: RunPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        answer = record_of(connection, shop, path.run_id)
        wording = Wording(workshops.read(connection, shop))
    return Response(
        record_pdf(answer.record, answer.debrief, wording),
        mimetype="application/pdf",
        headers={"Content-Disposition": f'inline; filename="run-{path.run_id}.pdf"'},
    )
