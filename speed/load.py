"""A full shop on two cores: benches that send an event a second and hold a stream of them, planners who drag,
over a well-filled database.
"""

from __future__ import annotations

import http.client
import json
import math
import random
import threading
import time
import uuid
from dataclasses import dataclass, field
from urllib.parse import urlsplit

import psycopg
from common import Board
from psycopg import sql

from cavatum.machine import server
from cavatum.store.workshops import implied_workshop
from tests.samples import box_piece, box_void, system

PIECES, RUNS, READINGS = 10_000, 5_000, 2_000_000
BENCHES, PLANNERS = 30, 5
EVENT_P99_MS, DRAG_P95_MS, MOST_GROWTH = 250.0, 300.0, 1.10


class Page:
    """One browser: a line that stays open, its cookie and its token."""

    def __init__(self, address: str):
        self.host, self.cookie, self.token = urlsplit(address).netloc, "", ""
        self.line = http.client.HTTPConnection(self.host, timeout=30)
        self.token = self.call("GET", "/session")["csrf_token"]

    def call(self, method: str, path: str, body=None):
        headers = {"Content-Type": "application/json", "X-CSRFToken": self.token, "Cookie": self.cookie}
        try:
            self.line.request(method, f"/api/v1{path}", None if body is None else json.dumps(body), headers)
            answer = self.line.getresponse()
        except (http.client.HTTPException, OSError):  # the server closed an idle line: once more on a new one
            self.line = http.client.HTTPConnection(self.host, timeout=30)
            self.line.request(method, f"/api/v1{path}", None if body is None else json.dumps(body), headers)
            answer = self.line.getresponse()
        if answer.getheader("Set-Cookie"):
            self.cookie = answer.getheader("Set-Cookie").partition(";")[0]
        text = answer.read()
        if answer.status >= 400:
            raise RuntimeError(f"{path}: {answer.status} {text[:300]!r}")
        return json.loads(text) if text else None


@dataclass(kw_only=True)
class Heard:
    event_ms: list[float] = field(default_factory=list)
    poll_ms: list[float] = field(default_factory=list)
    drag_ms: list[float] = field(default_factory=list)
    failed: list[str] = field(default_factory=list)


def fill(url: str, run_ids: list[int]) -> None:
    """Pieces, runs and readings by copies of real rows: their number is what is asked here, not their
    variety.
    """
    with psycopg.connect(url) as connection:
        shop = implied_workshop(connection)
        connection.execute(
            "with made as (insert into piece (workshop_id, head, name, for_whom, kind, due, summary) "
            "select workshop_id, 1, name || ' ' || n, for_whom, kind,"
            " due, summary from piece, generate_series(1, %s) n where id = (select min(id) from piece "
            "where workshop_id = %s) returning id, workshop_id)"
            " insert into piece_revision (piece_id, workshop_id, revision, document, what, content_of) "
            "select made.id, made.workshop_id, 1,"
            " (select document from piece_revision order by piece_id, revision limit 1), 'made', 1 from made",
            (PIECES, shop),
        )
        connection.execute(
            "insert into run (workshop_id, piece_id, revision, plan, script, room_c, begun_at, ended_at) "
            "select workshop_id, null, revision, '{}', '{}',"
            " room_c, begun_at - n * interval '1 hour', begun_at - n * interval '1 hour' + interval '2 "
            "hours' from run, generate_series(1, %s) n where id = %s",
            (RUNS, run_ids[0]),
        )
        connection.execute(
            "insert into run_log (run_id, workshop_id, begun_at, ended_at, piece, kind_of_work, "
            "troubled, words, record, observations)"
            " select id, workshop_id, begun_at, ended_at, 'copy', 'casting', false, 'copy', '{}', '[]' "
            "from run where ended_at is not null"
            " on conflict do nothing"
        )
        connection.execute(
            "insert into run_reading (workshop_id, run_id, what, pour, at, value, source) select "
            "r.workshop_id, r.id, 'probe_c', 1,"
            " r.begun_at + n * interval '1 minute', 20 + 30 * sin(n / 60.0), 'probe' from (select * from "
            "run where ended_at is not null limit %s) r,"
            " generate_series(1, %s) n",
            (RUNS, READINGS // RUNS),
        )
        connection.commit()
        connection.autocommit = True
        for table in ("piece", "piece_revision", "run", "run_log", "run_reading"):
            connection.execute(sql.SQL("vacuum analyze {}").format(sql.Identifier(table)))


def bench(address: str, run: dict, until: float, heard: Heard, number: int) -> None:
    """An event a second, and the stream of what others said: asked every second and a half, as the page
    does.
    """
    page, device, since, seq, begun = Page(address), str(uuid.uuid4()), 0, 0, run["now"]
    rng = random.Random(number)
    time.sleep(rng.random())
    stop = threading.Event()
    threading.Thread(target=stream, args=(address, run["id"], stop, heard), daemon=True).start()
    while time.monotonic() < until:
        seq, beat = seq + 1, time.perf_counter()
        event = {
            "event_id": str(uuid.uuid4()),
            "device": device,
            "seq": seq,
            "at": begun,
            "device_at": begun,
            "event": {"kind": "reading", "what": "surface_c", "pour": 1, "value": 20 + rng.random() * 20},
        }
        try:
            answer = page.call("POST", f"/runs/{run['id']}/events", {"since": since, "events": [event]})
            since = max((one["number"] for one in answer["events"]), default=since)
            heard.event_ms.append((time.perf_counter() - beat) * 1000)
        except (RuntimeError, OSError, http.client.HTTPException) as error:
            heard.failed.append(f"event: {error}")
        time.sleep(max(0.0, 1.0 - (time.perf_counter() - beat)))
    stop.set()


def stream(address: str, run_id: int, stop: threading.Event, heard: Heard) -> None:
    page, since = Page(address), 0
    while not stop.wait(1.5):
        beat = time.perf_counter()
        try:
            answer = page.call("GET", f"/runs/{run_id}/events?since={since}")
            since = max((one["number"] for one in answer["events"]), default=since)
            heard.poll_ms.append((time.perf_counter() - beat) * 1000)
        except (RuntimeError, OSError, http.client.HTTPException) as error:
            heard.failed.append(f"stream: {error}")


def planner(address: str, until: float, heard: Heard, number: int) -> None:
    """A boundary is dragged for a while, then looked at: a try of the plan for each step of the drag that was
    answered, as the page asks.
    """
    page, rng = Page(address), random.Random(number)
    made = page.call(
        "POST",
        "/pieces",
        box_piece(name=f"dragged {number}", voids=[box_void(depth="70 mm")]).model_dump(mode="json"),
    )
    piece = page.call("GET", f"/pieces/{made['id']}")["piece"] | {
        "layering": "own"
    }  # what the page asks for while a boundary is held
    while time.monotonic() < until:
        for step in range(20):
            piece["voids"][0]["portions"][0]["boundaries_m"] = [
                {"value": round(0.035 + 0.01 * math.sin(step / 3 + number), 5), "origin": "chosen"}
            ]
            beat = time.perf_counter()
            try:
                page.call("POST", "/pieces/try", {"piece": piece, "in_full": False})
                heard.drag_ms.append((time.perf_counter() - beat) * 1000)
            except (RuntimeError, OSError, http.client.HTTPException) as error:
                heard.failed.append(f"drag: {error}")
            time.sleep(0.05)
        time.sleep(2 + rng.random() * 3)


def memory_mb(pid: int) -> float:
    """Of the server's whole family: the sum of what is theirs alone and their share of what is common
    (PSS).
    """
    total = 0
    for one in server._family(pid):
        try:
            with open(f"/proc/{one}/smaps_rollup") as file:
                total += next(int(row.split()[1]) for row in file if row.startswith("Pss:"))
        except (OSError, StopIteration):
            continue
    return total / 1024


def run_load(address: str, url: str, pid: int, seconds: float, board: Board) -> None:
    """Prints the lines of the load."""
    page = Page(address)
    page.call("POST", "/systems", system().model_dump(mode="json"))
    shops = []
    for number in range(BENCHES):
        made = page.call(
            "POST",
            "/pieces",
            box_piece(name=f"bench {number}", voids=[box_void(depth="50 mm")]).model_dump(mode="json"),
        )
        shops.append(page.call("POST", f"/pieces/{made['id']}/runs", {"rehearse": None}))
    fill(url, [one["id"] for one in shops])
    heard, memory = Heard(), []
    until = time.monotonic() + seconds
    threads = [
        threading.Thread(target=bench, args=(address, run, until, heard, number), daemon=True)
        for number, run in enumerate(shops)
    ]
    threads += [
        threading.Thread(target=planner, args=(address, until, heard, number), daemon=True)
        for number in range(PLANNERS)
    ]
    for thread in threads:
        thread.start()
    while time.monotonic() < until:
        time.sleep(min(10.0, seconds / 30))
        memory.append(memory_mb(pid))
    for thread in threads:
        thread.join(60)
    warm, end = memory[len(memory) // 3 : len(memory) // 2], memory[-len(memory) // 6 :]
    board.line(
        f"{BENCHES} benches, {len(heard.event_ms)} events in {seconds / 60:g} min: kept, 99 of 100",
        _share(heard.event_ms, 0.99),
        "ms",
        most=EVENT_P99_MS,
    )
    board.line(f"their streams, {len(heard.poll_ms)} answers: 99 of 100", _share(heard.poll_ms, 0.99), "ms")
    board.line(
        f"{PLANNERS} planners dragging, {len(heard.drag_ms)} answers: 95 of 100",
        _share(heard.drag_ms, 0.95),
        "ms",
        most=DRAG_P95_MS,
    )
    board.line("requests that failed", len(heard.failed), "", most=0)
    board.line(
        "memory of the server at the end to that after a third of the time",
        sum(end) / len(end) / (sum(warm) / len(warm)),
        "",
        most=MOST_GROWTH,
    )
    board.line("memory of the server at the end", end[-1], "MB")
    for one in heard.failed[:5]:
        print("  ", one)


def _share(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, math.ceil(share * len(values)) - 1)] if values else math.inf
