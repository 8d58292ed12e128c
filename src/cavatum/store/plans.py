"""Plans with the inputs they came from, so that an old one can be explained later. Keyed by a hash of the
inputs.
"""

from __future__ import annotations

import hashlib
import json
from datetime import datetime
from typing import Any

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.plan_model import Plan

KEPT_A_PIECE = 50


def hash_inputs(inputs: dict[str, Any]) -> str:
    return hashlib.sha256(json.dumps(inputs, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def newest(connection: Connection, workshop_id: int, piece_id: int, input_hash: str) -> Plan | None:
    row = connection.execute(
        "select result from plan where workshop_id = %s and piece_id = %s and input_hash = %s order by "
        "made_at desc limit 1",
        (workshop_id, piece_id, input_hash),
    ).fetchone()
    return Plan.model_validate(row[0]) if row else None


def keep(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    revision: int,
    input_hash: str,
    inputs: dict[str, Any],
    made_at: datetime,
    plan: Plan,
) -> None:
    """Store once; the oldest beyond KEPT_A_PIECE go (frozen ones hang on runs, not here)."""
    connection.execute(
        "insert into plan (workshop_id, piece_id, revision, input_hash, inputs, made_at, result)"
        " values (%s, %s, %s, %s, %s, %s, %s) on conflict do nothing",
        (
            workshop_id,
            piece_id,
            revision,
            input_hash,
            Jsonb(inputs),
            made_at,
            Jsonb(plan.model_dump(mode="json")),
        ),
    )
    connection.execute(
        "delete from plan where workshop_id = %s and piece_id = %s and id not in"
        " (select id from plan where workshop_id = %s and piece_id = %s order by id desc limit %s)",
        (workshop_id, piece_id, workshop_id, piece_id, KEPT_A_PIECE),
    )
