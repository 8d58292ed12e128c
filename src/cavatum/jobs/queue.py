"""The queue: one task that names a job's row. Asking twice queues once; a lost word is said again by the
worker's rounds.
"""

from __future__ import annotations

import contextlib

import procrastinate
from procrastinate import exceptions

TASK = "cavatum.work"
SAYS_AGAIN_AFTER_S = 20.0


def open_sync(url: str) -> procrastinate.App:
    """For the web process: asks only. The caller closes it, or keeps it for the process's life. It waits for
    no standby: a word that is lost is said again.
    """
    app = procrastinate.App(
        connector=procrastinate.SyncPsycopgConnector(
            conninfo=url, min_size=0, max_size=2, kwargs={"options": "-c synchronous_commit=local"}
        )
    )
    app.open()
    return app


def queue(app: procrastinate.App, job_id: int) -> None:
    """Word that a job waits. With the same word still unheard in the queue nothing happens."""
    with contextlib.suppress(exceptions.AlreadyEnqueued):
        app.configure_task(TASK, queueing_lock=f"job-{job_id}", allow_unknown=True).defer(job_id=job_id)
