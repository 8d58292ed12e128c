"""How each piece stands on the bench at a moment."""

from __future__ import annotations

from datetime import datetime

from psycopg import Connection
from pydantic import BaseModel

from ..core.clock.model import Clock
from ..core.schedule.bench import Moment, Standing, moments_after, standing_at
from ..store import pieces
from . import planning


class BenchPiece(BaseModel):
    id: int
    name: str
    tint: str
    standing: Standing
    clock: Clock | None
    moments: list[Moment]


def bench_piece(
    connection: Connection, shop: int, piece_id: int, moment: datetime, inputs: planning.Inputs
) -> BenchPiece:
    stored = pieces.read(connection, shop, piece_id)
    plan = planning.plan_of(connection, shop, stored, moment, inputs)
    return BenchPiece(
        id=piece_id,
        name=stored.piece.name,
        tint=stored.piece.tint,
        standing=standing_at(plan, moment),
        clock=plan.clock,
        moments=moments_after(plan, moment),
    )
