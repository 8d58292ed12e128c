"""What a run's record tells of a trouble. Rule 10."""

from __future__ import annotations

from psycopg import Connection

from ..core.common.wording import Wording
from ..core.mend.evidence import Shown
from ..store import runs, workshops
from . import learning
from .logbook import shown_in


def shown_by_run(connection: Connection, shop: int, run_id: int | None) -> tuple[list[Shown], bool]:
    if run_id is None:
        return [], False
    run = runs.read(connection, shop, run_id)
    record = learning.make_entry(connection, shop, run_id) if run.rehearsal is None else None
    shown = shown_in(connection, shop, record, Wording(workshops.read(connection, shop))) if record else []
    return shown, run.ended_at is None
