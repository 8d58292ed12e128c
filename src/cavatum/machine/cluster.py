"""The private PostgreSQL cluster, for who only uses it (machine/database says how it is kept)."""

from __future__ import annotations

from .database.finding import ensure_running
from .database.record import Cluster, read_record
from .database.roles import drop_database
from .database.running import answers, run_status, stop

__all__ = [
    "Cluster",
    "answers",
    "drop_database",
    "ensure_running",
    "read_record",
    "run_status",
    "stop",
]
