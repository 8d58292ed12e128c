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

from ..machine.seals import seal_key
from ..services.voice import House, tell
from ..services.watching import Watching
from ..store import jobs, watch
from ..store import voice as told
from ..store.backup import BackupError
from ..store.migrate import refuse_a_newer_one
from ..store.pool import NotFound, stay_within
from .nightly import postgres_programs, tonight
from .queue import SAYS_AGAIN_AFTER_S, TASK
from .work import work

ROUNDS_S = 5.0
BACKUP_LOOK_S = 600.0
BACKUP_LOCK = 0x43415642  # any number of our own: one worker of all makes the backup
EYES_S = 2.0
EYES_LOCK = 0x43415645
VOICE_S = 20.0
VOICE_LOCK = 0x43415656  # and one of all sends the messages
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


async def voices(url: str, shop_url: str, house: House, every_s: float = VOICE_S) -> None:
    """Tells people of what wants hands, by one worker of all; what fails is logged and tried again."""
    while True:
        await asyncio.sleep(every_s)
        try:
            await asyncio.to_thread(_tell_all, url, shop_url, house)
        except (psycopg.Error, OSError) as error:
            logging.getLogger("cavatum.jobs").warning("voice: %s", error)


def _tell_all(url: str, shop_url: str, house: House) -> None:
    with psycopg.connect(url, autocommit=True) as guard:
        if not jobs.is_mine_alone(guard, VOICE_LOCK):
            return
        for shop in told.workshops_to_tell(guard):
            with psycopg.connect(shop_url, autocommit=True) as connection:
                stay_within(connection, shop)
                try:
                    tell(connection, shop, house, datetime.now(UTC))
                except (psycopg.Error, ValueError) as error:  # the others' messages do not wait for this one
                    logging.getLogger("cavatum.jobs").exception("voice of workshop %s: %s", shop, error)


async def eyes(url: str, shop_url: str, every_s: float = EYES_S) -> None:
    """Looks at what cameras sent, by one worker of all, for as long as it lives."""
    watching = Watching()
    guard: psycopg.Connection | None = None
    try:
        while True:
            await asyncio.sleep(every_s)
            try:
                if guard is None:  # the lock lasts as long as its connection
                    guard = await asyncio.to_thread(lambda: psycopg.connect(url, autocommit=True))
                if jobs.is_mine_alone(guard, EYES_LOCK):
                    await asyncio.to_thread(_look_at_all, guard, shop_url, watching)
            except (psycopg.Error, OSError) as error:
                logging.getLogger("cavatum.jobs").warning("eyes: %s", error)
                if guard is not None:
                    guard.close()
                    guard = None
    finally:
        watching.close()
        if guard is not None:
            guard.close()


def _look_at_all(guard: psycopg.Connection, shop_url: str, watching: Watching) -> None:
    open_ones = watch.open_everywhere(guard)
    watching.keep_only({watch_id for _, watch_id in open_ones})
    for shop, watch_id in open_ones:
        with psycopg.connect(shop_url, autocommit=True) as connection:
            stay_within(connection, shop)
            try:
                watching.round(connection, shop, watch_id, datetime.now(UTC))
            except (
                psycopg.Error,
                NotFound,
                ValueError,
            ) as error:  # others' pieces are looked at all the same
                logging.getLogger("cavatum.jobs").exception("watch %s: %s", watch_id, error)


def house_of_process() -> House | None:
    """As the start command told, or by the server's secret. None, and said, where neither is known here."""
    secret = os.environ.get("CAVATUM_SECRET_KEY")
    key = os.environ.get("CAVATUM_SEAL_KEY") or (seal_key(secret) if secret else None)
    if key is None:
        logging.getLogger("cavatum.jobs").warning("CAVATUM_SEAL_KEY is not set: nobody is told")
        return None
    return House(seal_key=key, address=os.environ.get("CAVATUM_NETWORK_ADDRESS", ""))


async def run(url: str, shop_url: str) -> None:
    app = build(url, shop_url)
    async with app.open_async():
        watching = asyncio.create_task(rounds(app, url))
        folder = os.environ.get("CAVATUM_BACKUPS")
        nightly = asyncio.create_task(nights(url, Path(folder))) if folder else None
        house = house_of_process()
        looking = asyncio.create_task(eyes(url, shop_url))
        speaking = asyncio.create_task(voices(url, shop_url, house)) if house else None
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
            for one in (nightly, speaking, looking):
                if one:
                    one.cancel()


def main() -> int:
    os.nice(NICE)
    logging.basicConfig(level=logging.WARNING, stream=sys.stderr, format="worker: %(message)s")
    url = os.environ["CAVATUM_DATABASE_URL"]
    with psycopg.connect(url) as connection:
        refuse_a_newer_one(connection)
    asyncio.run(run(url, os.environ["CAVATUM_SHOP_URL"]))
    return 0
