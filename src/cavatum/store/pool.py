"""The pool of connections, and the two errors a caller of the store has to know."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from psycopg_pool import ConnectionPool

STATEMENT_LIMIT = "-c statement_timeout=15000 -c lock_timeout=5000 -c timezone=UTC"


def make_pool(url: str, most: int = 12) -> ConnectionPool:
    return ConnectionPool(url, min_size=1, max_size=most, open=True, timeout=10, kwargs={"options": STATEMENT_LIMIT})


class NotFound(Exception):
    """No such row in this workshop."""


@dataclass
class Conflict(Exception):
    """Somebody saved in between. `document` joins both edits with theirs where they clash; `clashes` holds what differs."""

    head: int
    document: dict[str, Any]
    clashes: list[dict[str, Any]]
