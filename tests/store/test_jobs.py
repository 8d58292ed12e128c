"""Jobs: asked for once, done once, taken up again when a worker is killed."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from types import SimpleNamespace

import psycopg
import pytest

from cavatum.jobs import queue
from cavatum.jobs import work as work_module
from cavatum.jobs.work import work
from cavatum.store import jobs, workshops
from tests.conftest import as_shop
from tests.samples import NOW, box_piece, box_void, system, workshop

PATIENCE_S = 160  # a worker is nice: beside two busy processes it has a tenth of a processor


@pytest.fixture
def shop(database_url):
    with psycopg.connect(database_url, autocommit=True) as connection:
        with connection.transaction():
            found = workshops.implied_workshop(connection)
        connection.execute("delete from job where workshop_id = %s", (found,))
        connection.execute("delete from procrastinate_jobs")
        yield found


def inputs(**more):
    piece = box_piece(voids=[box_void(depth="60 mm")])
    return {
        "piece": piece.model_dump(mode="json"),
        "systems": [system().model_dump(mode="json")],
        "workshop": workshop().model_dump(mode="json"),
        "made_at": NOW.isoformat(),
        **more,
    }


def asked(database_url, shop, kind="three", **more):
    with psycopg.connect(database_url) as connection:
        job, is_new = jobs.ask(connection, shop, kind, inputs(**{"void_id": "box", **more}))
    return job, is_new


def read(database_url, shop, job_id):
    with psycopg.connect(database_url) as connection:
        return jobs.read(connection, shop, job_id)


def wait_for(database_url, shop, job_id, test):
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until:
        job = read(database_url, shop, job_id)
        if test(job):
            return job
        time.sleep(0.05)
    raise AssertionError(f"job {job_id} is still {job.state} at {job.progress}")


def test_the_same_inputs_are_one_job_with_one_result(database_url, shop):
    job, is_new = asked(database_url, shop)
    again, is_new_again = asked(database_url, shop)
    assert is_new and not is_new_again and again.id == job.id
    assert work(database_url, job.id, as_shop(database_url)) == "done"
    assert work(database_url, job.id, as_shop(database_url)) == "nothing"
    done = read(database_url, shop, job.id)
    assert done.state == "done" and done.progress == 1
    assert all(20 < peak < 60 for peak in done.result["peak_c"])


def test_a_run_in_three_dimensions_agrees_with_the_column(database_url, shop):
    job, _ = asked(database_url, shop, "three", void_id="box")
    assert work(database_url, job.id, as_shop(database_url)) == "done"
    three = read(database_url, shop, job.id).result
    for peak, column in zip(three["peak_c"], three["plan_peak_c"], strict=True):
        assert peak == pytest.approx(column, abs=5)
    row = three["section_c"][len(three["heights_m"]) // 2]
    assert row[0] < row[len(row) // 2] - 1  # cooler at the wall


def test_an_end_is_asked_for_and_heard(database_url, shop):
    job, _ = asked(database_url, shop)
    with psycopg.connect(database_url) as connection:
        assert jobs.end(connection, shop, job.id).state == "ended"  # it had not begun
    assert work(database_url, job.id, as_shop(database_url)) == "nothing"
    _, is_new = asked(database_url, shop)  # wanted after all
    assert is_new
    with psycopg.connect(database_url) as connection:
        taken = jobs.take(connection, job.id)
        jobs.end(connection, shop, job.id)
        assert jobs.tell(connection, taken, 0.5) is False
        assert jobs.finish(connection, taken, "ended", None)


def test_a_failure_says_why_and_may_be_asked_for_again(database_url, shop):
    job, _ = asked(database_url, shop, "three", void_id="elsewhere")
    assert work(database_url, job.id, as_shop(database_url)) == "failed"
    assert "elsewhere" in read(database_url, shop, job.id).says
    assert asked(database_url, shop, "three", void_id="elsewhere")[1]


def test_work_of_an_older_version_is_ended_with_a_word(database_url, shop):
    """Bands were work of their own up to 0.7."""
    job, _ = asked(database_url, shop, "bands")
    assert work(database_url, job.id, as_shop(database_url)) == "ended"
    assert "older version" in read(database_url, shop, job.id).says


def test_only_the_attempt_that_holds_a_job_may_store_its_result(database_url, shop):
    job, _ = asked(database_url, shop)
    with psycopg.connect(database_url, autocommit=True) as connection:
        slow = jobs.take(connection, job.id)
        quick = jobs.take(connection, job.id)  # the first was given up
        assert jobs.tell(connection, slow, 0.9) is False
        assert jobs.finish(connection, quick, "done", {"peak_c": []})
        assert not jobs.finish(connection, slow, "done", {"peak_c": ["late"]})
    assert read(database_url, shop, job.id).result == {"peak_c": []}


def start_worker(database_url):
    return subprocess.Popen(
        [
            sys.executable,
            "-c",
            (
                "import cavatum.jobs.queue as q, cavatum.jobs.worker as w; w.SAYS_AGAIN_AFTER_S = 1.5; "
                "w.ROUNDS_S = 0.5\n"
                "import asyncio, os; w.rounds.__defaults__ = (0.5, 1.5); "
                "asyncio.run(w.run(os.environ['CAVATUM_DATABASE_URL'], os.environ['CAVATUM_SHOP_URL']))"
            ),
        ],
        env={
            **os.environ,
            "CAVATUM_DATABASE_URL": database_url,
            "CAVATUM_SHOP_URL": as_shop(database_url),
            "PYTHONPATH": "src",
        },
        stderr=subprocess.PIPE,
    )


def test_a_killed_workers_job_is_taken_up_again_and_done_once(database_url, shop):
    job, _ = asked(database_url, shop, "three", void_id="box", extra="killed")
    app = queue.open_sync(database_url)
    queue.queue(app, job.id)
    queue.queue(app, job.id)  # said twice, queued once
    app.close()
    first = start_worker(database_url)
    wait_for(database_url, shop, job.id, lambda one: one.state == "running")
    first.send_signal(signal.SIGKILL)
    first.wait()
    second = start_worker(database_url)
    try:
        done = wait_for(database_url, shop, job.id, lambda one: one.is_over)
    finally:
        second.terminate()
        second.wait(90)
    assert done.state == "done" and done.attempt >= 2 and done.result["peak_c"]
    assert work(database_url, job.id, as_shop(database_url)) == "nothing"


def test_a_word_that_never_reached_the_queue_is_said_again(database_url, shop):
    job, _ = asked(database_url, shop, extra="unheard")  # nobody queued it
    worker = start_worker(database_url)
    try:
        assert wait_for(database_url, shop, job.id, lambda one: one.is_over).state == "done"
    finally:
        worker.terminate()
        worker.wait(90)


def test_slow_work_is_heard_of_and_never_begun_twice(database_url, shop, monkeypatch):
    """A long step on a busy computer says nothing for longer than silence is allowed."""
    job, _ = asked(database_url, shop, extra="slow")
    seen = []

    def slow(connection, mine, tell):
        for _ in range(12):
            time.sleep(0.25)
            with psycopg.connect(database_url) as other:
                seen.extend(jobs.left_behind(other, 1.5))
        return {"peak_c": []}

    monkeypatch.setitem(work_module.KINDS, "three", slow)
    with monkeypatch.context() as quick:
        quick.setattr(work_module._heard_of.__wrapped__, "__defaults__", (0.2,))
        assert work(database_url, job.id, as_shop(database_url)) == "done"
    assert seen == [] and read(database_url, shop, job.id).attempt == 1


def test_an_entry_that_cannot_go_back_keeps_nobody_from_the_rounds(database_url, shop):
    """Two entries of a dead worker; the word of the first waits again already."""
    first, _ = asked(database_url, shop, extra="first")
    second, _ = asked(database_url, shop, extra="second")
    app = queue.open_sync(database_url)
    with psycopg.connect(database_url, autocommit=True) as connection:
        for job in (first, second):
            queue.queue(app, job.id)
            connection.execute("update procrastinate_jobs set status = 'doing' where status = 'todo'")
        queue.queue(app, first.id)
        app.close()
        worker = start_worker(database_url)
        try:
            for job in (first, second):
                assert wait_for(database_url, shop, job.id, lambda one: one.is_over).state == "done"
            until = time.monotonic() + PATIENCE_S
            while time.monotonic() < until:
                if connection.execute("select count(*) from procrastinate_jobs").fetchone() == (0,):
                    break
                time.sleep(0.1)
            assert connection.execute("select status from procrastinate_jobs").fetchall() == []
        finally:
            worker.terminate()
            assert b"constraint" not in worker.communicate(timeout=90)[1]


def test_a_word_from_before_the_clock_was_put_back_does_not_keep_a_job_for_days(database_url, shop):
    job, _ = asked(database_url, shop)
    with psycopg.connect(database_url, autocommit=True) as connection:
        assert jobs.take(connection, job.id) and jobs.left_behind(connection, 15.0) == []
        connection.execute("update job set touched_at = now() + interval '3 days' where id = %s", (job.id,))
        assert jobs.left_behind(connection, 15.0) == [job.id]


def test_a_schedule_that_found_no_time_is_tried_longer_and_then_says_what_was_lacking(monkeypatch):
    from cavatum.core.schedule.together import ScheduleResult
    from cavatum.jobs import kinds

    tried: list[float] = []

    def too_short(*_, seconds: float) -> ScheduleResult:
        tried.append(seconds)
        return ScheduleResult(feasible=False, made_at=NOW, clash=["No place was found."], is_proof=False)

    inputs = {
        "systems": [],
        "workshop": workshop().model_dump(mode="json"),
        "goods": {},
        "made_at": "2026-03-02T12:07:00+00:00",
        "pieces": [],
    }
    job = SimpleNamespace(inputs=inputs)
    monkeypatch.setattr(kinds, "plan_together", too_short)
    made = kinds.work_schedule(None, job, lambda share: True)
    assert made["clash"] == ["No place was found."] and not made["feasible"]
    assert tried == list(kinds.SCHEDULE_S) and tried == sorted(tried)

    def told_to_end(*given, seconds: float) -> None:
        given[-1](0.5, "")

    monkeypatch.setattr(kinds, "plan_together", told_to_end)
    assert kinds.work_schedule(None, job, lambda share: False) is None
