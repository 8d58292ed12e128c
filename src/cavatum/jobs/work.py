"""What each kind of job does: its inputs as they were stored, the core's long computations, a result that is
stored once.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import psycopg

from ..core.common.errors import DomainError
from ..core.common.extras import left_out
from ..store import jobs
from ..store.jobs import LongWork
from ..store.pool import stay_within
from .kinds import KINDS
from .queue import SAYS_AGAIN_AFTER_S

log = logging.getLogger("cavatum.jobs")
Tell = Callable[[float], bool]
OLDER = "Asked for by an older version; the plan says it itself now."


def work(url: str, job_id: int, shop_url: str) -> str:
    """Does one job, in this thread, with a connection of its own. Returns the state it came to, or 'nothing'
    where there was nothing to do.

    url       of the database's owner: takes the job, of whichever workshop
    shop_url  of the role that sees the job's workshop and no other: does the work
    """
    with psycopg.connect(url, autocommit=True) as owner:
        job = jobs.take(owner, job_id)
    if job is None:
        return "nothing"
    with psycopg.connect(shop_url, autocommit=True) as connection:
        stay_within(connection, job.workshop_id)
        with _heard_of(shop_url, job):
            return _carry_out(connection, job)


@contextmanager
def _heard_of(url: str, job: LongWork, every_s: float = SAYS_AGAIN_AFTER_S / 5) -> Iterator[None]:
    """While the work lasts, word that it is not left behind, by a thread and a connection of its own: on a
    busy computer a long step between two words of the work itself would be taken for a dead worker, another
    would begin anew, and neither ever be done.
    """
    over = threading.Event()

    def say() -> None:
        while not over.wait(every_s):
            try:
                with psycopg.connect(url, autocommit=True) as own:
                    stay_within(own, job.workshop_id)
                    while jobs.say_alive(own, job) and not over.wait(every_s):
                        pass
                    return
            except psycopg.Error as error:  # the work itself finds out whether the database is gone
                log.warning("job %s could not be heard of: %s", job.id, error)

    speaker = threading.Thread(target=say, daemon=True, name=f"job-{job.id}")
    speaker.start()
    try:
        yield
    finally:
        over.set()
        speaker.join()


def _carry_out(connection: psycopg.Connection, job: LongWork) -> str:
    told = {"share": -1.0}

    def tell(share: float) -> bool:
        told["share"] = share
        return jobs.tell(connection, job, share)

    if job.kind not in KINDS:
        jobs.finish(connection, job, "ended", None, OLDER)
        return "ended"
    try:
        result: dict[str, Any] | None = KINDS[job.kind](connection, job, tell)
    except DomainError as error:
        jobs.finish(connection, job, "failed", None, str(error))
        return "failed"
    except ModuleNotFoundError as error:
        jobs.finish(connection, job, "failed", None, str(left_out(error)))
        return "failed"
    except psycopg.OperationalError:
        raise  # the database went away: the job is taken up again
    except Exception:  # a worker outlives any one job
        log.exception("job %s (%s) failed", job.id, job.kind)
        jobs.finish(connection, job, "failed", None, "It failed inside; the server's log says more.")
        return "failed"
    if result is None:
        jobs.finish(connection, job, "ended", None, "ended before it was done")
        return "ended"
    return "done" if jobs.finish(connection, job, "done", result) else "taken over"
