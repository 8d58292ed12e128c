"""Nothing lost, nobody in: what holds while somebody sits at the door, a backup goes abroad, two browsers
type."""

from __future__ import annotations

import tempfile
import threading
import time
from pathlib import Path
from statistics import median

import psycopg
from common import Board, own_app, own_database
from psycopg import sql

from cavatum.demo import scenario
from cavatum.jobs.nightly import postgres_programs
from cavatum.store import backup
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.conftest import Client
from tests.machine.test_front import on_the_network, pouring, tap
from tests.machine.test_growing import with_owner
from tests.samples import NOW
from tests.scenes.faults import own_network
from tests.scenes.idle import asked, holding
from tests.scenes.second_database import Pour, TwoDatabases

HEALTH_S, TAP_MS, HELD = 1.0, 250, 500
ASKED = 15
BACK_S = {"killed": 15.0, "cut": 40.0}  # as docs/network.md says them
ZONES = ("Asia/Kathmandu", "Pacific/Kiritimati")


def idle(board: Board) -> None:
    """500 connections of five kinds that say nothing or say it slowly, from one address and from fifty."""
    with own_database() as url, tempfile.TemporaryDirectory() as folder:
        with_owner(url)
        with on_the_network(url, Path(folder)) as (port, _):
            browser, run = pouring(port)
            number, free_s = 0, []
            for _ in range(ASKED):
                free_s.append(asked(port)[1])
            for many in (1, 50):
                healths, taps = [], []
                with holding(port, HELD, many):
                    for _ in range(ASKED):
                        status, seconds = asked(port)
                        healths.append(seconds if status == 200 else float("inf"))
                        began = time.perf_counter()
                        kept = tap(browser, run, number) == 200
                        taps.append(time.perf_counter() - began if kept else float("inf"))
                        number += 1
                who = "one address" if many == 1 else f"{many} addresses"
                board.line(f"health, {HELD} idle from {who}, slowest", max(healths), "s", most=HEALTH_S)
                board.line(
                    f"a pour's tap, {HELD} idle from {who}, slowest", max(taps) * 1000, "ms", most=TAP_MS
                )
                board.line("against the door when it is free", median(healths) / median(free_s), "times")


def zones(board: Board) -> None:
    """A backup made in one zone, restored in another, compared row by row; against pg_dump and pg_restore."""
    with own_database() as url, tempfile.TemporaryDirectory() as folder:
        migrate(url)
        with psycopg.connect(url) as connection:
            scenario.ensure(connection, implied_workshop(connection), NOW)
        name, programs = sql.Identifier(url.rpartition("/")[2]), postgres_programs(url)
        file = Path(folder) / "shop.backup"

        def in_zone(zone: str) -> None:
            with psycopg.connect(url, autocommit=True) as admin:
                admin.execute(sql.SQL("alter database {} set timezone to {}").format(name, zone))

        in_zone(ZONES[0])
        began = time.perf_counter()
        tables = backup.make(url, file, programs)
        made_s = time.perf_counter() - began
        in_zone(ZONES[1])
        began = time.perf_counter()
        backup.restore(url, file, programs, NOW)
        board.line("backup made and tried elsewhere, demo workshop", made_s, "s")
        board.line("restored in another zone", (time.perf_counter() - began) / made_s, "times a backup")
        with psycopg.connect(url) as connection:
            same = backup.fingerprints(connection) == tables
            kept = connection.execute(
                "select datname from pg_database where datname like %s",
                (f"{url.rpartition('/')[2]}_before%",),
            ).fetchall()
        board.line("tables that differ after it", 0 if same else 1, "", most=0)
        with psycopg.connect(url, autocommit=True) as admin:
            for (one,) in kept:
                admin.execute(sql.SQL("drop database {}").format(sql.Identifier(one)))


def revisions(board: Board) -> None:
    """Two browsers that change the same settings in turn, each always on what it saw a change ago."""
    with own_database() as url:
        migrate(url)
        app = own_app(url, now=lambda: NOW)
        clients = [Client(app), Client(app)]
        names = ("name", "currency")
        lost = conflicts = 0
        seconds: list[float] = []
        for number in range(100):
            seen = [client.get("/session").json for client in clients]
            for client, one, field in zip(clients, seen, names, strict=True):
                value = f"Shed {number}" if field == "name" else ("EUR" if number % 2 else "USD")
                began = time.perf_counter()
                answer = client.call(
                    "PUT", f"/workshop?made_on={one['revision']}", {**one["workshop"], field: value}
                )
                seconds.append(time.perf_counter() - began)
                conflicts += answer.status_code == 409
            both = clients[0].get("/session").json["workshop"]
            lost += both["name"] != f"Shed {number}" or both["currency"] != ("EUR" if number % 2 else "USD")
        for name in ("cavatum-pool", "cavatum-door"):
            app.extensions[name].close()
    board.line("200 changes of two browsers: lost", lost, "", most=0)
    board.line("of them asked about though nobody changed the same", conflicts, "", most=0)
    board.line("one of them", median(seconds) * 1000, "ms")


def replication(board: Board) -> None:
    """The first of two databases lost while a pour goes on, by the commands of docs/network.md; host by host
    in namespaces, so for root only.
    """
    with tempfile.TemporaryDirectory() as folder, own_network():
        Path(folder).chmod(0o755)
        two = TwoDatabases(Path(folder) / "two")
        try:
            pour = two.serve()
            alone = _taps_ms(pour)
            two.copy()
            two.confirm(True)
            board.line(
                "an entry, kept by both databases, to one kept by one", _taps_ms(pour) / alone, "times"
            )
            for how, confirmed in (
                ("killed", True),
                ("cut", True),
                ("killed", True),
                ("killed", False),
                ("cut", False),
            ):
                two.confirm(confirmed)
                round_ = two.round(pour, how, confirmed=confirmed)
                said = f"first database {how}, {'confirmed' if confirmed else 'not confirmed'}"
                most = {"most": 0} if confirmed else {}
                board.line(f"{said}: of {round_.acknowledged} acknowledged, lost", round_.lost, "", **most)
                board.line(f"{said}: doubled", round_.doubled, "", most=0)
                board.line(
                    f"{said}: from the command to the next entry", round_.back_s, "s", most=BACK_S[how]
                )
                two.bring_back(how)
        finally:
            two.end()


def _taps_ms(pour: Pour) -> float:
    had = len(pour.took_s)
    pour.stop.clear()
    thread = threading.Thread(target=pour.go_on, daemon=True)
    thread.start()
    time.sleep(5)
    pour.stop.set()
    thread.join(60)
    return median(pour.took_s[had:]) * 1000
