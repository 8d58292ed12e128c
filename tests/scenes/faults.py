"""A shop's bad day, repeatable by seed: processes of a real `./cavatum start` are killed while pours and jobs
go on; then everything that was acknowledged is counted.
"""

from __future__ import annotations

import contextlib
import ctypes
import http.client
import json
import os
import random
import re
import signal
import struct
import subprocess
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg

from cavatum.machine import cluster, paths, ports, server
from cavatum.network import passwords
from cavatum.store import logins
from cavatum.store.workshops import implied_workshop
from tests.api.shops import PASSWORD
from tests.machine.test_growing import Browser
from tests.samples import box_piece, box_void, system
from tests.scenes.homes import share_compiled
from tests.scenes.idle import trusting_anybody

ROOT = Path(__file__).resolve().parents[2]
NAME = "shop.local"
Ask = Callable[..., tuple[int, Any]]
UP_AGAIN_S = 90.0
POURS, JOBS = 4, 2
CLOCKS_S = (0, 5400, -5400, 3 * 86400, -400 * 86400)  # what the server's own clock shows beside the true time
CUTS_S = (2.0, 8.0, 25.0)  # the longest is longer than a connection waits to be heard
KINDS = {
    "web's manager": r"gunicorn .*create_app\(\)",
    "web's worker": r"gunicorn .*create_app\(\)",
    "job worker": r"python.* -m cavatum\.jobs$",
    "network's manager": r"gunicorn .*create_network_app\(\)",
    "network's worker": r"gunicorn .*create_network_app\(\)",
    "front": r"nginx: master process",
    "front's worker": r"nginx: worker process",
    "log keeper": r"cavatum\.machine\.log_keeper",
    "minder": r"/again ",
    "devices": r"cavatum\.devices\.reader",
    "database's process": r"postgres: ",
    "database": r"",
    "process manager": r"honcho start",
    "start itself": r"",
}
WEIGHTS = {
    "web's manager": 3,
    "web's worker": 8,
    "job worker": 6,
    "network's manager": 3,
    "network's worker": 6,
    "front": 3,
    "front's worker": 3,
    "log keeper": 2,
    "minder": 1,
    "devices": 3,
    "database's process": 6,
    "database": 2,
    "process manager": 1,
    "start itself": 1,
}


@dataclass(kw_only=True)
class Day:
    kills: Counter = field(default_factory=Counter)
    full_disks: int = 0
    cuts: int = 0
    clock_jumps: int = 0
    sent: dict[int, list[str]] = field(default_factory=dict)
    acknowledged: dict[int, set[str]] = field(default_factory=dict)
    jobs_asked: set[int] = field(default_factory=set)
    jobs_done: set[int] = field(default_factory=set)
    wrong: list[str] = field(default_factory=list)
    longest_away_s: float = 0.0


def _another_clock(home: Path) -> dict[str, str]:
    """What makes every process of a start read the time as the file `clock` of its home says (clock.c)."""
    library = home / "clock.so"
    if not library.exists():
        subprocess.run(
            [
                "cc",
                "-shared",
                "-fPIC",
                "-O1",
                "-o",
                str(library),
                str(Path(__file__).with_name("clock.c")),
                "-ldl",
            ],
            check=True,
        )
    return {"LD_PRELOAD": str(library), "CLOCK_FILE": str(home / "clock")}


@contextlib.contextmanager
def own_network() -> Iterator[None]:
    """This thread and all it starts in a network of their own, whose loopback can be cut; for root only."""
    libc, new = ctypes.CDLL(None, use_errno=True), 0x40000000  # CLONE_NEWNET
    with open("/proc/thread-self/ns/net") as outer:
        if libc.unshare(new):
            raise OSError(ctypes.get_errno(), "a network of its own was refused")
        try:
            _loopback(up=True)
            yield
        finally:
            if libc.setns(outer.fileno(), new):
                raise OSError(ctypes.get_errno(), "the way back to the computer's network was refused")


def _loopback(*, up: bool) -> None:
    subprocess.run(["ip", "link", "set", "lo", "up" if up else "down"], check=True)


class Shop:
    """The command as a person gives it, in a home of its own; given again, with the same words, when it was
    killed itself.
    """

    def __init__(self, home: Path):
        self.home, self.port, self.process = home, ports.free_port(), None
        self.outer = ports.free_port()
        self.gave_up: list[str] = []
        (home / "clock").write_bytes(bytes(8))
        self.start()

    def start(self) -> None:
        with (self.home / "said.log").open("ab") as said:
            self.process = subprocess.Popen(
                [str(ROOT / "cavatum"), "start", "--port", str(self.port)]
                + ["--network", "--network-port", str(self.outer), "--host", NAME],
                stdout=said,
                stderr=said,
                start_new_session=True,
                env={**os.environ, "CAVATUM_HOME": str(self.home), **_another_clock(self.home)},
            )

    def show_time(self, beside_s: int) -> None:
        with (self.home / "clock").open("r+b") as file:
            file.write(struct.pack("=q", beside_s))

    def ask(self, method: str, path: str, body=None, cookie: dict | None = None):
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=15)
        kept = cookie if cookie is not None else {}
        try:
            if method != "GET" and "token" not in kept:
                kept["token"] = self.ask("GET", "/session", None, kept)[1]["csrf_token"]
            line.request(
                method,
                f"/api/v1{path}",
                None if body is None else json.dumps(body),
                {
                    "Content-Type": "application/json",
                    "X-CSRFToken": kept.get("token", ""),
                    "Cookie": kept.get("cookie", ""),
                },
            )
            answer = line.getresponse()
            if answer.getheader("Set-Cookie"):
                kept["cookie"] = answer.getheader("Set-Cookie").partition(";")[0]
            return answer.status, json.loads(answer.read() or b"null")
        finally:
            line.close()

    def outside(self) -> Browser:
        """Whoever comes in by the network: over HTTPS, through the front."""
        trusting = trusting_anybody()
        return Browser(
            lambda: http.client.HTTPSConnection("127.0.0.1", self.outer, context=trusting, timeout=15),
            host=f"{NAME}:{self.outer}",
        )

    def is_up(self) -> bool:
        with contextlib.suppress(OSError, http.client.HTTPException, json.JSONDecodeError):
            return self.ask("GET", "/ready")[0] == 200 and self.outside().call("GET", "/ready")[0] == 200
        return False

    def wait(self) -> float:
        """Seconds until it answers; a start that was killed is given again, also where what it left behind
        still answers. Nothing else is ever done for it.
        """
        begun = time.monotonic()
        while self.process.poll() is not None or not self.is_up():
            if self.process.poll() is not None:
                if self.process.returncode != -signal.SIGKILL:
                    self.gave_up.append(_end_of(self.home / "said.log"))
                self.start()
            if time.monotonic() - begun > UP_AGAIN_S:
                raise AssertionError(
                    f"not up again: {(self.home / 'said.log').read_text()[-800:]} "
                    f"{_end_of(self.home / 'server.log')}"
                    f" {_end_of(self.home / 'cluster' / 'server.log', 4000)}"
                )
            time.sleep(0.15)
        return time.monotonic() - begun

    def insist(self, method: str, path: str, body=None):
        """As a device does: again until it is answered."""
        until, kept = time.monotonic() + UP_AGAIN_S, {}
        while time.monotonic() < until:
            with contextlib.suppress(
                OSError, http.client.HTTPException, json.JSONDecodeError, KeyError, TypeError
            ):
                status, found = self.ask(method, path, body, kept)
                if status < 500:
                    assert status < 400, (path, status, found)
                    return found
            time.sleep(0.3)
        raise AssertionError(f"{path} was never answered")

    def end(self) -> None:
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(60)


def _end_of(file: Path, most: int = 800) -> str:
    return file.read_text(errors="replace")[-most:] if file.exists() else ""


def _victims(kind: str, shop: Shop, record: cluster.Cluster) -> list[int]:
    if kind == "start itself":
        return [shop.process.pid]
    with contextlib.suppress(OSError, ValueError, IndexError):
        master = int((Path(record.folder) / "postmaster.pid").read_text().split()[0])
        if kind == "database":
            return [master]
        if kind == "database's process":
            return [
                pid
                for pid in server._family(master)
                if pid != master and re.search(r"postgres: \w+ cavatum", _words(pid))
            ]
    family = [
        pid
        for pid in server._family(shop.process.pid)
        if re.search(KINDS[kind], _words(pid)) and ("/again " in _words(pid)) == (kind == "minder")
    ]
    if kind.endswith(("'s manager", "'s worker")) and "gunicorn" in KINDS[kind]:
        masters = [pid for pid in family if _parent(pid) not in family]
        return masters if kind.endswith("manager") else [pid for pid in family if pid not in masters]
    return family


def _words(pid: int) -> str:
    with contextlib.suppress(OSError):
        return Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " ").strip()
    return ""


def _parent(pid: int) -> int:
    with contextlib.suppress(OSError, IndexError):
        return int(Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[1])
    return 0


def _by_network(browser: Browser) -> Ask:
    """Somebody who is logged in, as Shop.ask is the owner at the computer itself."""

    def ask(method: str, path: str, body=None, kept: dict | None = None):
        if kept is not None and "token" not in kept:
            browser.token = kept["token"] = browser.call("GET", "/door")[1]["csrf_token"]
        return browser.call(method, path, body)

    return ask


def _pour(ask: Ask, run_id: int, begun: str, stop: threading.Event, day: Day, number: int) -> None:
    """A device at the bench: events by ones and threes, its clock jumping now and then; what is not
    acknowledged is sent again with what came after.
    """
    rng, device, waiting, kept = random.Random(number), str(uuid.uuid4()), [], {}
    sent, acknowledged = day.sent.setdefault(run_id, []), day.acknowledged.setdefault(run_id, set())
    seq = 0
    while not stop.is_set() or waiting:
        if not stop.is_set():
            for _ in range(rng.choice((1, 1, 3))):
                seq += 1
                at = datetime.fromisoformat(begun) + timedelta(
                    seconds=seq, days=rng.choice((0, 0, 0, 0, -400, 3))
                )
                waiting.append(
                    {
                        "event_id": str(uuid.UUID(int=rng.getrandbits(128))),
                        "device": device,
                        "seq": seq,
                        "at": at.isoformat(),
                        "device_at": at.isoformat(),
                        "event": {"kind": "note", "text": f"{number}/{seq}"},
                    }
                )
                sent.append(waiting[-1]["event_id"])
        try:
            parcel = waiting[:40]
            status, found = ask("POST", f"/runs/{run_id}/events", {"since": 0, "events": parcel}, kept)
            if status == 200:
                acknowledged |= {one["event_id"] for one in parcel}
                waiting = waiting[len(parcel) :]
            elif status in (403, 400):
                kept.clear()
            elif status < 500:
                day.wrong.append(f"refused: {status} {str(found)[:200]}")
                return
        except (OSError, http.client.HTTPException, json.JSONDecodeError, KeyError, TypeError):
            kept.clear()
        time.sleep(0.25)


def _ask_for_work(shop: Shop, made: list[int], stop: threading.Event, day: Day, number: int) -> None:
    """Long work, each time with another question: the next when the last is done, or keeps one waiting."""
    rng, kept = random.Random(number), {}
    while not stop.is_set():
        with contextlib.suppress(
            OSError, http.client.HTTPException, json.JSONDecodeError, KeyError, TypeError
        ):
            body = {
                "wishes": [
                    {
                        "piece_id": one,
                        "is_free": rng.random() < 0.5,
                        "must_bond": rng.random() < 0.5,
                        "must_due": rng.random() < 0.5,
                    }
                    for one in made
                ]
            }
            status, found = shop.ask("POST", "/schedule", body, kept)
            if status in (200, 202):
                day.jobs_asked.add(found["job_id"])
                _wait_for(shop, found["job_id"], stop)
            elif status in (400, 403):
                kept.clear()
        stop.wait(1.5)


def _wait_for(shop: Shop, job: int, stop: threading.Event, patience_s: float = 20.0) -> None:
    until = time.monotonic() + patience_s
    while time.monotonic() < until and not stop.wait(1.5):
        with contextlib.suppress(OSError, http.client.HTTPException, json.JSONDecodeError, TypeError):
            if shop.ask("GET", f"/schedule/{job}")[1]["state"] == "done":
                return


def full_disk(home: Path, seconds: float) -> None:
    """Fills the file system that the home is on, for a while."""
    with contextlib.suppress(OSError), (home / "filler").open("wb") as file:
        while True:
            file.write(b"\0" * (1 << 20))
            file.flush()
    time.sleep(seconds)
    (home / "filler").unlink(missing_ok=True)


def cut_network(seconds: float) -> None:
    """Nothing gets from one process to another for a while: web, workers, devices and the benches all lose
    the database or the web.
    """
    _loopback(up=False)
    try:
        time.sleep(seconds)
    finally:
        _loopback(up=True)


def _logged_in(shop: Shop, record: cluster.Cluster) -> Browser:
    with psycopg.connect(record.url()) as connection:
        shop_id = implied_workshop(connection)
        number = (connection.execute("select count(*) from account").fetchone() or (0,))[0]
        email = f"maker{number}@shop.example"
        account = logins.make_account(connection, email, "Wren", passwords.hash_of(PASSWORD))
        logins.join(connection, shop_id, account, "owner")
    browser = shop.outside()
    until = time.monotonic() + UP_AGAIN_S
    while time.monotonic() < until:
        with contextlib.suppress(OSError, http.client.HTTPException):
            if browser.log_in(email)[0] == 204:
                return browser
        time.sleep(0.3)
    raise AssertionError("nobody could log in")


def _spread(times: int, kills: int) -> list[int]:
    """After how many kills something happens that happens so many times."""
    return [kills * (number + 1) // (times + 1) for number in range(times)]


def bad_day(
    home: Path,
    kills: int,
    seed: int,
    *,
    pause_s: float = 0.4,
    full_disks: int = 0,
    cuts: int = 0,
    clock_jumps: int = 0,
) -> Day:
    """Kills that many processes while pours and jobs go on, cuts the network and moves the server's clock,
    then sends what is left and counts.
    """
    rng, day, shop, stop = random.Random(seed), Day(), Shop(home), threading.Event()
    try:
        shop.wait()
        record = cluster.Cluster(**json.loads((home / "cluster.json").read_text()))
        shop.insist("POST", "/systems", system().model_dump(mode="json"))
        made = [
            shop.insist(
                "POST",
                "/pieces",
                box_piece(name=f"pour {number}", voids=[box_void(depth="50 mm")]).model_dump(mode="json"),
            )["id"]
            for number in range(POURS)
        ]
        runs = [shop.insist("POST", f"/pieces/{one}/runs", {"rehearse": None}) for one in made]
        asks = [shop.ask if number % 2 else _by_network(_logged_in(shop, record)) for number in range(POURS)]
        threads = [
            threading.Thread(target=_pour, args=(ask, run["id"], run["now"], stop, day, number), daemon=True)
            for number, (ask, run) in enumerate(zip(asks, runs, strict=True))
        ]
        threads += [
            threading.Thread(target=_ask_for_work, args=(shop, made, stop, day, number), daemon=True)
            for number in range(JOBS)
        ]
        for thread in threads:
            thread.start()
        disks, cut, jump = _spread(full_disks, kills), _spread(cuts, kills), _spread(clock_jumps, kills)
        while (killed := sum(day.kills.values())) < kills:
            if jump and killed >= jump[0]:
                jump.pop(0)
                day.clock_jumps += 1
                shop.show_time(CLOCKS_S[day.clock_jumps % len(CLOCKS_S)])
            if cut and killed >= cut[0]:
                cut.pop(0)
                cut_network(CUTS_S[day.cuts % len(CUTS_S)])
                day.cuts += 1
                day.longest_away_s = max(day.longest_away_s, shop.wait())
            if disks and killed >= disks[0]:
                disks.pop(0)
                full_disk(home, 4.0)
                day.full_disks += 1
                day.longest_away_s = max(day.longest_away_s, shop.wait())
            kind = rng.choices(list(WEIGHTS), list(WEIGHTS.values()))[0]
            victims = _victims(kind, shop, record)
            if victims:
                with contextlib.suppress(ProcessLookupError):
                    os.kill(rng.choice(sorted(victims)), signal.SIGKILL)
                    day.kills[kind] += 1
            if kind in ("database", "start itself", "process manager"):
                day.longest_away_s = max(day.longest_away_s, shop.wait())
            time.sleep(pause_s * (0.5 + rng.random()))
        day.longest_away_s = max(day.longest_away_s, shop.wait())
        stop.set()
        for thread in threads:
            thread.join(UP_AGAIN_S)
        day.wrong += [f"a start gave up: {text}" for text in shop.gave_up]
        _jobs_end(shop, day)
        _count(record.url(), day)
    finally:
        stop.set()
        shop.end()
        _stop_database(home)
    return day


def _stop_database(home: Path) -> None:
    """A start that found the database running leaves it running, as it should; here it goes with its home."""
    with contextlib.suppress(OSError):
        record = cluster.Cluster(**json.loads((home / "cluster.json").read_text()))
        if cluster.run_status(record):
            cluster.stop(record)


def _jobs_end(shop: Shop, day: Day) -> None:
    """Given up when none gets done for a while: on a busy machine each takes its time."""
    until = time.monotonic() + 2 * UP_AGAIN_S
    while day.jobs_done != day.jobs_asked and time.monotonic() < until:
        for one in day.jobs_asked - day.jobs_done:
            state = shop.insist("GET", f"/schedule/{one}")["state"]
            if state == "done":
                day.jobs_done.add(one)
                until = time.monotonic() + 2 * UP_AGAIN_S
            elif state in ("failed", "ended"):
                day.wrong.append(f"job {one} {state}")
                day.jobs_done.add(one)
        time.sleep(0.5)


def _count(url: str, day: Day) -> None:
    with psycopg.connect(url) as connection:
        for run_id, sent in day.sent.items():
            rows = connection.execute(
                "select number, event_id::text from run_event where run_id = %s order by number", (run_id,)
            ).fetchall()
            stored = Counter(event for _, event in rows)
            lost, doubled = (
                day.acknowledged[run_id] - set(stored),
                [event for event, times in stored.items() if times > 1],
            )
            if (
                lost
                or doubled
                or set(stored) != set(sent)
                or [number for number, _ in rows] != list(range(1, len(rows) + 1))
            ):
                day.wrong.append(
                    f"run {run_id}: {len(lost)} lost, {len(doubled)} doubled, {len(stored)} of "
                    f"{len(sent)} stored"
                )
        results = connection.execute(
            "select count(*), count(distinct (workshop_id, kind, input_hash)), count(result) from job "
            "where id = any(%s)",
            (list(day.jobs_asked),),
        ).fetchone()
        if results != (len(day.jobs_asked),) * 3:
            day.wrong.append(f"of {len(day.jobs_asked)} jobs: {results}")


def own_home(folder: Path) -> Path:
    """A set-up folder that shares the installed packages and what was compiled with the checkout, readable
    for the database's own user.
    """
    home = folder / "home"
    home.mkdir(parents=True)
    for part in ("venv", "stamps", "nginx"):
        if (paths.HOME / part).exists():
            (home / part).symlink_to(paths.HOME / part)
    share_compiled(paths.HOME, home)
    for parent in [home, *home.parents]:
        if parent.is_relative_to("/tmp") and parent != Path("/tmp"):
            parent.chmod(0o755)
    return home
