"""Two database hosts, a web host and a worker host in network namespaces, by the very commands of
docs/network.md; the first database is lost while a pour goes on, and its place is taken by the second.
"""

from __future__ import annotations

import contextlib
import http.client
import os
import re
import shutil
import signal
import subprocess
import sys
import threading
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

import psycopg
from psycopg.conninfo import make_conninfo

from cavatum.machine import packages
from tests.api.shops import PASSWORD
from tests.browser.test_layers import AS_A_WORKER
from tests.machine.test_growing import GUNICORN, Browser, Hosts, environment, until, with_owner
from tests.samples import box_piece, system

ROOT = Path(__file__).resolve().parents[2]
PORT = 5432
HTTPS = {"X-Forwarded-Proto": "https"}
OTHER = {"db1": "db2", "db2": "db1"}


def documented(name: str) -> str:
    """The block of docs/network.md that carries this name."""
    text = (ROOT / "docs" / "network.md").read_text()
    found = re.findall(rf"^```\w+ {name}\n(.*?)^```", text, re.M | re.S)
    assert len(found) == 1, f"{name} stands {len(found)} times in docs/network.md"
    return str(found[0])


@dataclass(kw_only=True)
class Loss:
    """One round: how the first was lost. lost: acknowledged, and not on the second. back_s: from the command
    that promotes to the next acknowledged entry; away_s: from the loss to it.
    """

    how: str
    confirmed: bool
    acknowledged: int
    lost: int
    doubled: int
    back_s: float
    away_s: float


@dataclass(kw_only=True)
class Pour:
    """A device at the bench: an entry at a time, sent again until it is acknowledged."""

    browser: Browser
    run_id: int
    moment: str
    kept: list[str] = field(default_factory=list)
    at: list[float] = field(default_factory=list)
    took_s: list[float] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)
    stop: threading.Event = field(default_factory=threading.Event)
    number: int = 0

    def go_on(self) -> None:
        while not self.stop.is_set():
            self.number += 1
            entry = {
                "event_id": f"00000000-0000-4000-8000-{self.number:012}",
                "device": "00000000-0000-4000-8000-00000000dead",
                "seq": self.number,
                "at": self.moment,
                "device_at": self.moment,
                "event": {"kind": "note", "text": f"entry {self.number}"},
            }
            while not self.send(entry) and not self.stop.wait(0.1):
                pass

    def send(self, entry: dict) -> bool:
        body, began = {"since": self.number, "events": [entry]}, time.monotonic()
        try:
            status, said = self.browser.call("POST", f"/runs/{self.run_id}/events", body, **HTTPS)
        except (OSError, http.client.HTTPException):
            return False
        if status != 200:
            self.refused.append(f"{status} {str(said)[:160]}")
            return False
        self.kept.append(entry["event_id"])
        self.at.append(time.monotonic())
        self.took_s.append(self.at[-1] - began)
        return True


class TwoDatabases:
    def __init__(self, folder: Path):
        self.folder = folder
        self.hosts = Hosts(os.urandom(2).hex())
        self.at = {name: self.hosts.add(name) for name in ("db1", "db2", "web1", "work1")}
        self.processes: list[subprocess.Popen] = []
        self.programs = packages.find_postgres_bin()
        assert self.programs
        self.first = "db1"
        folder.mkdir(mode=0o755)
        self._by_postgres("db1", self._program("initdb"), "-D", str(self._data("db1")), "-U", "postgres")
        self._rules("db1")
        self._start("db1")
        self._ask("db1", "create role cavatum login password 'owner' createdb bypassrls")
        for role in ("cavatum_shop", "cavatum_door"):
            self._ask("db1", f"create role {role} login password 'role'; grant {role} to cavatum")
        self._ask("db1", "create database cavatum owner cavatum")
        self._ask("db1", self._told("prepare"))

    def _data(self, name: str) -> Path:
        home = self.folder / name
        if not home.exists():
            home.mkdir()
            shutil.chown(home, "postgres")
        return home / "data"

    def _program(self, name: str) -> str:
        return str(Path(self.programs) / name)

    def _by_postgres(self, name: str, *command: str) -> None:
        space = f"{self.hosts.bridge}-{name}"
        subprocess.run(
            ["ip", "netns", "exec", space, "runuser", "-u", "postgres", "--", *command],
            check=True,
            cwd=self.folder,
            stdout=subprocess.DEVNULL,
            env={"PATH": f"{self.programs}:{os.environ['PATH']}", "LC_ALL": "C.UTF-8"},
        )

    def _rules(self, name: str) -> None:
        with (self._data(name) / "pg_hba.conf").open("a") as rules:
            rules.write(f"host all all {self.hosts.net}.0/24 scram-sha-256\n")
            rules.write(f"host replication cavatum_copy {self.hosts.net}.0/24 scram-sha-256\n")

    def _start(self, name: str) -> None:
        data = self._data(name)
        options = f"-p {PORT} -c listen_addresses=* -c unix_socket_directories={data.parent}"
        command = ["-D", str(data), "-w", "-l", f"{data.parent}/log", "-o", options, "start"]
        until(lambda: self._is_started(name, command))  # what was killed holds its memory for a moment

    def _is_started(self, name: str, command: list[str]) -> bool:
        try:
            self._by_postgres(name, self._program("pg_ctl"), *command)
        except subprocess.CalledProcessError:
            return False
        return True

    def _ask(self, name: str, text: str) -> list[tuple]:
        """As the superuser by the socket, a statement at a time, as psql does."""
        where = f"host={self._data(name).parent} port={PORT} user=postgres dbname=postgres"
        rows: list[tuple] = []
        with psycopg.connect(where, autocommit=True) as keeper:
            for statement in re.sub(r"--.*", "", text).split(";"):
                if statement.strip():
                    cursor = keeper.execute(statement)
                    rows = cursor.fetchall() if cursor.description else []
        return rows

    def _told(self, block: str, **more: str) -> str:
        first, second = self.at[self.first], self.at[OTHER[self.first]]
        words = {"FIRST": first, "SECOND": second, "COPY-PASSWORD": "copy", **more}
        text = documented(block)
        for word, value in words.items():
            text = text.replace(word, value)
        return text

    def copy(self) -> None:
        """The other host follows, from nothing, by the documented command."""
        other = OTHER[self.first]
        shutil.rmtree(self._data(other), ignore_errors=True)
        self._by_postgres(other, "sh", "-ec", self._told("copy", FOLDER=str(self._data(other))))
        self._start(other)
        until(lambda: self._ask(self.first, "select 1 from pg_stat_replication where state = 'streaming'"))

    def confirm(self, on: bool) -> None:
        self._ask(self.first, self._told("confirm" if on else "alone"))
        if on:
            until(
                lambda: self._ask(self.first, "select 1 from pg_stat_replication where sync_state = 'sync'")
            )

    def follows(self) -> bool:
        return bool(self._ask(self.first, documented("state")))

    def address(self, role: str, password: str) -> str:
        """Of both, as docs/network.md writes it."""
        text = documented("addresses").strip()
        for word, value in {
            "ROLE": role,
            "PASSWORD": password,
            "FIRST": self.at["db1"],
            "SECOND": self.at["db2"],
        }.items():
            text = text.replace(word, value)
        return text

    def one(self, name: str) -> str:
        return make_conninfo(
            host=self.at[name], port=PORT, user="cavatum", password="owner", dbname="cavatum"
        )

    def serve(self) -> Pour:
        """A web host and a worker host; somebody logged in, with a run on."""
        with_owner(self.address("cavatum", "owner"))  # as migrations are given it
        env = environment(
            {
                "CAVATUM_DATABASE_URL": self.address("cavatum", "owner"),
                "CAVATUM_SHOP_URL": self.address("cavatum_shop", "role"),
                "CAVATUM_DOOR_URL": self.address("cavatum_door", "role"),
            }
        )
        web = [*GUNICORN, "--bind", "0.0.0.0:8000", "cavatum.api.app:create_network_app()"]
        self.processes.append(self.hosts.start("web1", web, env, self.folder))
        self.processes.append(
            self.hosts.start("work1", [sys.executable, "-c", AS_A_WORKER], env, self.folder)
        )
        browser = self.browser()
        until(lambda: browser.call("GET", "/ready", **HTTPS)[0] == 200)
        browser.token = browser.call("GET", "/door", **HTTPS)[1]["csrf_token"]
        who = {"email": "owner@shop.example", "password": PASSWORD}
        assert browser.call("POST", "/door/login", who, **HTTPS)[0] == 204
        browser.token = browser.call("GET", "/door", **HTTPS)[1]["csrf_token"]
        assert browser.call("POST", "/systems", system().model_dump(mode="json"), **HTTPS)[0] < 300
        piece = browser.call("POST", "/pieces", box_piece().model_dump(mode="json"), **HTTPS)[1]["id"]
        run = browser.call("POST", f"/pieces/{piece}/runs", {"rehearse": None}, **HTTPS)[1]
        moment = browser.call("GET", f"/runs/{run['id']}", **HTTPS)[1]["now"]
        return Pour(browser=browser, run_id=run["id"], moment=moment)

    def browser(self) -> Browser:
        return Browser(lambda: http.client.HTTPConnection(self.at["web1"], 8000, timeout=40))

    def lose(self, how: str) -> None:
        """The first is gone: killed with all its processes, or its cable pulled."""
        if how == "cut":
            self.hosts.cut(int(self.first[2:]) + 1, up=False)
        else:
            self.kill(self.first)

    def kill(self, name: str) -> None:
        """Every process of this host."""
        found = subprocess.run(
            ["ip", "netns", "pids", f"{self.hosts.bridge}-{name}"], capture_output=True, text=True
        )
        for pid in found.stdout.split():
            with contextlib.suppress(ProcessLookupError):
                os.kill(int(pid), signal.SIGKILL)

    def take_over(self) -> None:
        """By the documented command, on the second."""
        second = OTHER[self.first]
        self._ask(second, self._told("promote"))
        self.first = second

    def bring_back(self, how: str) -> None:
        """The one that was lost is made anew, and follows."""
        lost = OTHER[self.first]
        if how == "cut":  # and off before its cable is in again, as docs/network.md says
            self.kill(lost)
            self.hosts.cut(int(lost[2:]) + 1, up=True)
        self.copy()

    def count(self, pour: Pour) -> tuple[int, int]:
        """(acknowledged and not there, there twice) in the database that is the first now."""
        with psycopg.connect(self.one(self.first)) as connection:
            rows = connection.execute(
                "select number, event_id::text from run_event where run_id = %s order by number",
                (pour.run_id,),
            ).fetchall()
        stored = Counter(event for _, event in rows)
        assert [number for number, _ in rows] == list(range(1, len(rows) + 1))
        return len(set(pour.kept) - set(stored)), sum(times - 1 for times in stored.values())

    def round(self, pour: Pour, how: str, *, confirmed: bool, before_s: float = 2.0) -> Loss:
        """Pour, lose the first, promote the second, pour on; count."""
        pour.stop.clear()
        thread = threading.Thread(target=pour.go_on, daemon=True)
        had = len(pour.kept)
        thread.start()
        until(lambda: len(pour.kept) > had)
        time.sleep(before_s)
        lost_at = time.monotonic()
        self.lose(how)
        asked_at = time.monotonic()
        self.take_over()
        until(lambda: pour.at[-1] > asked_at)
        back = next(at for at in pour.at if at > asked_at)
        time.sleep(1.0)
        pour.stop.set()
        thread.join(60)
        lost, doubled = self.count(pour)
        return Loss(
            how=how,
            confirmed=confirmed,
            acknowledged=len(pour.kept) - had,
            lost=lost,
            doubled=doubled,
            back_s=back - asked_at,
            away_s=back - lost_at,
        )

    def end(self) -> None:
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(30)
        for name in ("db1", "db2"):
            self.kill(name)
        self.hosts.remove()
