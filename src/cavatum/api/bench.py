"""The bench: every piece on one clock, and what needs hands next."""

from __future__ import annotations

from datetime import datetime

from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from ..core.clock.bench import Moment, Standing, moments_after, standing_at
from ..core.plan_parts import Clock
from ..store import pieces
from . import planning
from .context import now, transaction, workshop_id
from .problems import Problem

blueprint = APIBlueprint("bench", __name__, url_prefix="/api/v1/bench", abp_responses={"4XX": Problem})
MOST_PIECES = 24


class BenchPiece(BaseModel):
    id: int
    name: str
    tint: str
    standing: Standing
    clock: Clock | None
    moments: list[Moment]


class Bench(BaseModel):
    """The pieces changed last, up to MOST_PIECES; `more` counts the others."""

    now: datetime
    pieces: list[BenchPiece]
    more: int


@blueprint.get("", operation_id="readBench", responses={200: Bench})
def read_bench():
    moment = now()
    with transaction() as connection:
        shop = workshop_id(connection)
        rows, total = pieces.listed(connection, shop, "", MOST_PIECES, 0)
        inputs = planning.inputs_of(connection, shop)
        found = [_bench_piece(connection, shop, row.id, moment, inputs) for row in rows]
    found.sort(key=lambda one: (one.moments[0].at if one.moments else datetime.max.replace(tzinfo=moment.tzinfo), one.name))
    return Bench(now=moment, pieces=found, more=max(total - MOST_PIECES, 0)).model_dump(mode="json")


def _bench_piece(connection, shop: int, piece_id: int, moment: datetime, inputs: planning.Inputs) -> BenchPiece:
    stored = pieces.read(connection, shop, piece_id)
    plan = planning.plan_of(connection, shop, stored, moment, inputs)
    return BenchPiece(
        id=piece_id, name=stored.piece.name, tint=stored.piece.tint, standing=standing_at(plan, moment), clock=plan.clock,
        moments=moments_after(plan, moment),
    )
