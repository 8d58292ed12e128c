"""What long work on a piece's heat is asked with, and a probe's log laid over its plan. Rules 4.1, 9.2."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from psycopg import Connection

from ..core.calibration.of_system import class_of, cure_of
from ..core.clock.windows import whole_half_hour
from ..core.cure.parameters import CLASSES
from ..core.piece.document import Piece
from ..core.plan_model import Plan
from ..core.resin.system import System
from ..store import pieces
from . import planning


def heat_inputs(
    connection: Connection, shop: int, piece_id: int, now: datetime
) -> tuple[Piece, Plan, dict[str, Any]]:
    stored, inputs, plan = planning.opened(connection, shop, piece_id, now)
    return stored.piece, plan, planning.job_inputs(stored.piece, inputs, plan.made_at)


def compare_inputs(connection: Connection, shop: int, piece_id: int, now: datetime) -> dict[str, Any]:
    """All sheets of the shelf. The start is rounded to the half hour, so that a page opened again finds the
    answer of a moment ago.
    """
    inputs = planning.inputs_of(connection, shop)
    piece = pieces.read(connection, shop, piece_id).piece
    return planning.all_systems_inputs(piece, inputs, whole_half_hour(now))


def rate_factor_of(system: System) -> float:
    """The rate that the plan used, over the class's own."""
    return cure_of(system).kinetics.k2_ref_1_s / CLASSES[class_of(system)].k2_ref_1_s
