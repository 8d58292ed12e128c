"""The worker process. On any host that reaches the database: CAVATUM_DATABASE_URL=... CAVATUM_SHOP_URL=...
python -m
cavatum.jobs

Every few seconds it makes its rounds: jobs that wait or run without a word (their worker was killed, or the
word never reached the queue) are queued again; whoever takes one gets an attempt of its own, and only that
attempt may store a result.
"""

from __future__ import annotations

import asyncio
import logging
import os
import sys
from datetime import UTC, datetime
from pathlib import Path

import procrastinate
import psycopg
from procrastinate import exceptions
from procrastinate.jobs import Job, Status

from ..store import jobs
from ..store.backup import BackupError
from ..store.migrate import refuse_a_newer_one
from .nightly import postgres_programs, tonight
from .queue import SAYS_AGAIN_AFTER_S, TASK
from .work import work

ROUNDS_S = 5.0
BACKUP_LOOK_S = 600.0
BACKUP_LOCK = 0x43415642  # any number of our own: one worker of all makes the backup
AT_ONCE = 2
LONG_AGO = datetime(
    2000, 1, 1, tzinfo=UTC
)  # at once: a "now" would lie in the future of a clock that is put back
# Long work gives way to answers that somebody waits for, and still gets its share of a computer that is busy
# for minutes: by the scheduler's weights a tenth beside one busy process; at 15 it was one part in thirty.
NICE = 10


def build(url: str, shop_url: str) -> procrastinate.App:
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=url, min_size=1, max_size=4))

    @app.task(name=TASK)
    def carry_out(job_id: int) -> str:
        return work(url, job_id, shop_url)

    return app


async def rounds(
    app: procrastinate.App, url: str, every_s: float = ROUNDS_S, silent_s: float = SAYS_AGAIN_AFTER_S
) -> None:
    """Queues again what was left behind, and lets go of the queue's own entries of workers that died."""
    while True:
        await asyncio.sleep(every_s)
        try:
            stalled = await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=silent_s)
            for one in stalled:
                await _let_go(app, one)
            with psycopg.connect(url, autocommit=True) as connection:
                left = jobs.left_behind(connection, silent_s)
            for job_id in left:
                try:
                    await app.configure_task(TASK, queueing_lock=f"job-{job_id}").defer_async(job_id=job_id)
                except exceptions.AlreadyEnqueued:
                    continue
        except (psycopg.Error, exceptions.ProcrastinateException) as error:
            logging.getLogger("cavatum.jobs").warning("rounds: %s", error)


async def _let_go(app: procrastinate.App, entry: Job) -> None:
    """An entry that a dead worker held is queued again; where the same word waits there already, it is
    dropped: one entry that cannot go back must not keep the rounds from all the others.
    """
    try:
        await app.job_manager.retry_job(entry, retry_at=LONG_AGO)
    except exceptions.UniqueViolation:
        await app.job_manager.finish_job(entry, Status.FAILED, delete_job=True)


async def nights(url: str, folder: Path, every_s: float = BACKUP_LOOK_S) -> None:
    """A backup a day, made and tried by one worker of all; a failure is told in the log and tried again."""
    while True:
        await asyncio.sleep(every_s)
        try:
            made = await asyncio.to_thread(_tonight, url, folder)
            if made:
                logging.getLogger("cavatum.jobs").warning("backup made and tried: %s", made.name)
        except (BackupError, psycopg.Error, OSError) as error:
            logging.getLogger("cavatum.jobs").error("no backup: %s", error)


def _tonight(url: str, folder: Path) -> Path | None:
    with psycopg.connect(url, autocommit=True) as guard:
        return (
            tonight(url, folder, postgres_programs(url), datetime.now(UTC))
            if jobs.is_mine_alone(guard, BACKUP_LOCK)
            else None
        )


async def run(url: str, shop_url: str) -> None:
    app = build(url, shop_url)
    async with app.open_async():
        watching = asyncio.create_task(rounds(app, url))
        folder = os.environ.get("CAVATUM_BACKUPS")
        nightly = asyncio.create_task(nights(url, Path(folder))) if folder else None
        try:
            await app.run_worker_async(
                concurrency=AT_ONCE,
                wait=True,
                fetch_job_polling_interval=2.0,
                install_signal_handlers=True,
                delete_jobs="always",
                update_heartbeat_interval=5.0,
                stalled_worker_timeout=SAYS_AGAIN_AFTER_S,
            )
        finally:
            watching.cancel()
            if nightly:
                nightly.cancel()


def main() -> int:
    os.nice(NICE)
    logging.basicConfig(level=logging.WARNING, stream=sys.stderr, format="worker: %(message)s")
    url = os.environ["CAVATUM_DATABASE_URL"]
    with psycopg.connect(url) as connection:
        refuse_a_newer_one(connection)
    asyncio.run(run(url, os.environ["CAVATUM_SHOP_URL"]))
    return 0
