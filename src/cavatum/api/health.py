"""How the server is: alive, ready, and in figures for a watcher (Prometheus text). No workshop's content is
in any of it.
"""

from __future__ import annotations

import os
from collections.abc import Iterator

from flask import Response
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Histogram,
    Metric,
    generate_latest,
)
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from pydantic import BaseModel

from .. import __version__
from ..store import server
from .answers import RouteAnswer
from .context import at_the_door
from .operations import Blueprint
from .problems import Problem, answer

blueprint = Blueprint("health")
REQUESTS = Counter("cavatum_requests", "Requests answered", ["operation", "status"])
SECONDS = Histogram(
    "cavatum_request_seconds",
    "Time to the answer",
    ["operation"],
    buckets=(0.01, 0.03, 0.1, 0.3, 1.0, 3.0, 10.0),
)


class Health(BaseModel):
    status: str
    version: str


class Ready(BaseModel):
    """changes: of the database, how many are applied and how many this version has."""

    status: str
    changes_applied: int
    changes_known: int


def count(operation: str, status: int, seconds: float) -> None:
    REQUESTS.labels(operation, str(status)).inc()
    SECONDS.labels(operation).observe(seconds)


@blueprint.get("/health", operation_id="readHealth", responses={200: Health})
def health() -> RouteAnswer:
    """Alive: the process answers, and the database does."""
    with at_the_door() as connection:
        server.answers(connection)
    return Health(status="well", version=__version__).model_dump()


@blueprint.get("/ready", operation_id="readReady", responses={200: Ready, 503: Problem})
def ready() -> RouteAnswer:
    """Ready: the database is as new as this version. For a proxy that chooses between hosts."""
    with at_the_door() as connection:
        applied, known = server.changes(connection)
    if applied != known:
        said = (
            f"The database has {applied} of {known} changes; run the migration once."
            if applied < known
            else "A newer Cavatum has worked in the database; this one is to be replaced."
        )
        return answer(Problem(title="Not ready", status=503, detail=said))
    return Ready(status="ready", changes_applied=applied, changes_known=known).model_dump()


class _Database:
    """What is counted in the database at the moment of asking."""

    def collect(self) -> Iterator[Metric]:
        with at_the_door() as connection:
            found = server.figures(connection)
        jobs = GaugeMetricFamily("cavatum_jobs", "Long work by its state", labels=["state"])
        for state, number in found.jobs.items():
            jobs.add_metric([state], number)
        yield jobs
        yield GaugeMetricFamily("cavatum_runs_open", "Pours that are going on", value=found.runs_open)
        yield GaugeMetricFamily("cavatum_database_bytes", "Size of the database", value=found.bytes)
        yield GaugeMetricFamily(
            "cavatum_database_standbys", "Standby databases that are connected", value=found.standbys
        )


@blueprint.get("/metrics", operation_id="readMetrics", responses={200: None})
def metrics() -> RouteAnswer:
    """Of all processes of this host, and of the database."""
    shown = CollectorRegistry()
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        MultiProcessCollector(shown)  # type: ignore[no-untyped-call]
        shown.register(_Database())
        return Response(generate_latest(shown), mimetype=CONTENT_TYPE_LATEST)
    shown.register(_Database())
    return Response(generate_latest(REGISTRY) + generate_latest(shown), mimetype=CONTENT_TYPE_LATEST)
