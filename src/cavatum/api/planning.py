"""A piece's plan for the API: taken from the store while its inputs are the same, made anew when they changed."""

from __future__ import annotations

import hashlib
from datetime import datetime
from functools import cache
from pathlib import Path
from typing import Any

from psycopg import Connection

from .. import __version__, core
from ..core.piece import Piece
from ..core.plan import make_plan
from ..core.plan_parts import Plan
from ..core.resin.system import System
from ..core.workshop import Workshop
from ..store import pieces, plans, systems, workshops
from ..store.pieces import StoredPiece

Inputs = tuple[dict[str, System], Workshop]


def inputs_of(connection: Connection, workshop_id: int) -> Inputs:
    return systems.newest(connection, workshop_id), workshops.read(connection, workshop_id)


def named_systems(piece: Piece) -> set[str]:
    named = {portion.system_id for filled in (*piece.voids, *piece.coats) for portion in filled.portions} | {piece.system_id}
    return {one for one in named if one is not None}


def plan_of(connection: Connection, workshop_id: int, stored: StoredPiece, now: datetime, inputs: Inputs | None = None) -> Plan:
    """The stored plan where nothing changed. A proposed start that has passed is no longer a proposal: then from now."""
    sheets, workshop = inputs or inputs_of(connection, workshop_id)
    record = _record(stored.piece, sheets, workshop)
    key = plans.hash_inputs(record)
    known = plans.newest(connection, workshop_id, stored.id, key)
    if known is not None and (known.start_is_chosen or known.start_at is None or known.start_at > now):
        return known
    plan = make_plan(stored.piece, sheets, workshop, now)
    plans.keep(connection, workshop_id, stored.id, stored.revision, key, record, now, plan)
    pieces.write_summary(connection, workshop_id, stored.id, _summary(stored.piece, plan))
    return plan


@cache
def core_fingerprint() -> str:
    """Of the core's own code: a corrected rule makes new plans, an old plan keeps the rule it was made by."""
    files = sorted(Path(core.__file__).parent.rglob("*.py"))
    return hashlib.sha256(b"".join(file.read_bytes() for file in files)).hexdigest()[:16]


def _record(piece: Piece, sheets: dict[str, System], workshop: Workshop) -> dict[str, Any]:
    named = named_systems(piece)
    return {
        "cavatum": __version__, "core": core_fingerprint(),
        "piece": piece.model_dump(mode="json", exclude={"systems", "workshop"}),
        "systems": [sheet.model_dump(mode="json") for id_, sheet in sorted(sheets.items()) if id_ in named],
        "workshop": workshop.model_dump(mode="json"),
    }


def job_inputs(piece: Piece, sheets: dict[str, System], workshop: Workshop, made_at: datetime) -> dict[str, Any]:
    """What a worker needs to make this very plan again."""
    return {**_record(piece, sheets, workshop), "made_at": made_at.isoformat()}


def _summary(piece: Piece, plan: Plan) -> dict[str, Any]:
    """What the list shows of a piece; times only when its start is set."""
    rows = plan.clock.rows if plan.clock and plan.start_is_chosen else []
    totals = plan.totals
    worst = next((verdict for verdict in plan.verdicts if verdict.weight != "good"), None)
    return {
        "net_m3": totals.net.value if totals.net else None, "mass_kg": totals.mass.value if totals.mass else None,
        "pours": totals.pours, "says": worst.title if worst else "", "weight": worst.weight if worst else "good",
        "tint": piece.tint, "poured_at": [row.segments[0].to_at.isoformat() for row in rows if row.segments],
    }
