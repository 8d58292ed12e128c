"""The bench: every piece on one clock, and what needs hands next."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime

from pydantic import BaseModel

from ..core.purchase.stock import Low, low_of
from ..services import planning
from ..services.bench import BenchPiece, bench_piece
from ..services.reserving import reserved
from ..services.runs import RunRow, row_of
from ..store import devices, pieces, runs, stock
from ..store.pool import NotFound
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .devices import Instrument, instrument
from .operations import Blueprint

blueprint = Blueprint("bench", "/api/v1/bench")
MOST_PIECES = 24


class Bench(BaseModel):
    """The pieces changed last, up to MOST_PIECES; `more` counts the others."""

    now: datetime
    pieces: list[BenchPiece]
    more: int
    runs: list[RunRow]
    room: list[Instrument]
    low: list[Low]


@blueprint.get("", operation_id="readBench", responses={200: Bench})
def read_bench() -> RouteAnswer:
    moment = now()
    with transaction() as connection:
        shop = workshop_id(connection)
        rows, total = pieces.listed(connection, shop, "", MOST_PIECES, 0)
        inputs = planning.inputs_of(connection, shop)
    found = []
    for row in (
        rows
    ):  # each in a transaction of its own: making plans anew may take long, and nobody's edit waits for it
        with suppress(NotFound), transaction() as connection:  # removed by another device meanwhile
            found.append(bench_piece(connection, shop, row.id, moment, inputs))
    with transaction() as connection:
        open_runs = [
            row_of(connection, shop, one, moment)
            for one in runs.listed(connection, shop, is_open=True)
            if one.rehearsal is None
        ]
        low = low_of(
            reserved(connection, shop, moment), stock.listed(connection, shop), inputs.sheets, moment.date()
        )
        room = devices.newest(connection, shop, "room")
    found.sort(
        key=lambda one: (
            one.moments[0].at if one.moments else datetime.max.replace(tzinfo=moment.tzinfo),
            one.name,
        )
    )
    return Bench(
        now=moment,
        pieces=found,
        more=max(total - MOST_PIECES, 0),
        runs=open_runs,
        room=[instrument("room", room)] if room else [],
        low=low,
    ).model_dump(mode="json")
