"""Starts the processes of processes/Procfile under honcho and ends them again; keeps a note of what runs."""

from __future__ import annotations

import contextlib
import json
import os
import secrets
import shutil
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any
from weakref import WeakKeyDictionary

from . import app_user, front, paths
from .seals import seal_key
from .tell import NAME, SetupError, say
from .whole import write_whole

HOST = "127.0.0.1"
LEAST_SECRET = 32  # characters


def secret_key() -> str:
    """The key that signs sessions: made on first use, kept readable by its owner only, never in the
    repository.
    """
    known = paths.SECRET_FILE.read_text().strip() if paths.SECRET_FILE.exists() else None
    if known is not None and len(known) < LEAST_SECRET:
        say(
            f"The key that signs sessions ({paths.SECRET_FILE}) was {'empty' if not known else 'cut short'}: "
            "a new one is made. Open pages ask to be loaded again; nobody is logged out."
        )
        known = None
    if known is None:
        known = secrets.token_urlsafe(48)
        write_whole(paths.SECRET_FILE, known)
    return known


def _start_time(pid: int) -> str | None:
    """The process's start in clock ticks: tells it from a later process that got the same number. None once
    it has ended.
    """
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        return None if fields[0] == "Z" else fields[19]
    except (FileNotFoundError, ProcessLookupError, IndexError):
        return None


def read_running() -> dict[str, Any] | None:
    """What `demo` or `start` noted, if that process still lives; a stale note is removed."""
    try:
        note = json.loads(paths.RUN_FILE.read_text())
    except (FileNotFoundError, ValueError):
        return None
    if _start_time(note["pid"]) == note["started"]:
        return dict(note)
    say("A stale note of an earlier run was found and removed.")
    _end_orphan(note)
    paths.RUN_FILE.unlink(missing_ok=True)
    return None


def _end_orphan(note: dict[str, Any]) -> None:
    """A command that was killed hard leaves its processes behind: end them, so that its port is free
    again.
    """
    if note.get("mark"):
        end_left_behind(note["mark"])


def end_left_behind(mark: str, patience_s: float = 10.0) -> None:
    """Ends every process that carries this mark of a start: also those whose process manager was killed, and
    which nobody else knows any more.
    """
    found = _marked(mark)
    if found:
        say("Processes of it were still running; ending those first.")
    for pid in found:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGTERM)
    until = time.monotonic() + patience_s
    while any(_start_time(pid) == started for pid, started in found.items()) and time.monotonic() < until:
        time.sleep(0.05)
    _kill_what_is_left(_marked(mark))


def _marked(mark: str) -> dict[int, str | None]:
    """nginx writes its title over what it was told: it is known by the folder it works in."""
    wanted, found = f"CAVATUM_MARK={mark}".encode(), {}
    for folder in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if wanted in (folder / "environ").read_bytes().split(b"\0") or _is_our_front(folder):
                found[int(folder.name)] = _start_time(int(folder.name))
    return found


def _is_our_front(process: Path) -> bool:
    if (process / "comm").read_text().strip() != "nginx":
        return False
    return os.readlink(process / "cwd").removesuffix(" (deleted)") == str(front.folder())


def _family(pid: int) -> dict[int, str | None]:
    """A process and all it started, each with its start time, so that a number used again later is not
    mistaken.
    """
    parents: dict[int, list[int]] = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            fields = (folder / "stat").read_text().rpartition(")")[2].split()
        except (FileNotFoundError, ProcessLookupError):
            continue
        parents.setdefault(int(fields[1]), []).append(int(folder.name))
    found, queue = {}, [pid]
    while queue:
        one = queue.pop()
        found[one] = _start_time(one)
        queue += parents.get(one, [])
    return found


def _kill_what_is_left(family: dict[int, str | None]) -> None:
    """The process manager gives each child a session of its own, so a signal to its group would miss them."""
    for pid, started in family.items():
        if started is not None and _start_time(pid) == started:
            os.kill(pid, signal.SIGKILL)


def note_running(port: int, mark: str, server_pid: int | None = None, address: str = "") -> None:
    """Written before the set-up ends and again once the server has a process of its own."""
    note = {
        "pid": os.getpid(),
        "started": _start_time(os.getpid()),
        "port": port,
        "address": address,
        "mark": mark,
    }
    if server_pid is not None:
        note |= {"server_pid": server_pid, "server_started": _start_time(server_pid)}
    write_whole(paths.RUN_FILE, json.dumps(note))


def require_free_port(port: int, host: str = HOST, option: str = "--port") -> None:
    """option: the one that chooses this port, told where it is taken."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise SetupError(
                f"Port {port} on {host} is taken by another program.",
                f"Choose another with {option} {port + 1 if port < 65535 else port - 1}",
            ) from error


def listens(port: int) -> bool:
    """Whether somebody takes connections there; one who is slow to does."""
    try:
        socket.create_connection((HOST, port), timeout=1.0).close()
    except ConnectionRefusedError:
        return False
    except OSError:
        return True
    return True


STAND_INS = ("level", "scale", "thermometer", "probe")


def environment(
    addresses: dict[str, str],
    port: int,
    stand_ins: dict[str, int] | None = None,
    network: dict[str, str] | None = None,
    mark: str = "",
) -> dict[str, str]:
    """What the processes are told. addresses: of the database, as its roles (Cluster.addresses); mark: of
    the start they belong to.

    stand_ins: ports of the instruments that ship with Cavatum and of the broker; those say that they are
    stand-ins.
    """
    stand_in: dict[str, str] = {}
    if stand_ins:
        for name in STAND_INS:
            stand_in |= {
                f"CAVATUM_STAND_IN_{name.upper()}_PORT": str(stand_ins[name]),
                f"CAVATUM_{name.upper()}": f"socket://{HOST}:{stand_ins[name]}",
            }
        stand_in |= {
            "CAVATUM_BROKER_PORT": str(stand_ins["broker"]),
            "CAVATUM_BROKER_CONF": str(paths.HOME / "broker.conf"),
            "CAVATUM_ROOM": f"mqtt://{HOST}:{stand_ins['broker']}/cavatum/room",
        }
    backups = (
        {}
        if stand_ins
        else {"CAVATUM_BACKUPS": os.environ.get("CAVATUM_BACKUPS", str(paths.HOME / "backups"))}
    )
    return {
        **os.environ,
        **backups,
        "PATH": f"{paths.venv_python().parent}:{os.environ.get('PATH', '')}",
        **paths.for_python(),
        "CAVATUM_PAGES": str(paths.pages()),
        "PYTHONUNBUFFERED": "1",
        **addresses,
        "CAVATUM_SECRET_KEY": secret_key(),
        "CAVATUM_SEAL_KEY": seal_key(secret_key()),
        "CAVATUM_PORT": str(port),
        "CAVATUM_MARK": mark,
        "CAVATUM_COMMAND": NAME,
        "CAVATUM_PROCESSES": str(paths.PROCESSES),
        "CAVATUM_LOG_REQUESTS": "1",
        "PROMETHEUS_MULTIPROC_DIR": str(_empty_folder(paths.HOME / "figures")),
        **stand_in,
        **(network or {}),
    }


def _empty_folder(folder: Path) -> Path:
    """Where the processes of one start keep their counts for the watcher; those of an earlier start are
    cleared.
    """
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(mode=0o700)
    return folder


def _write_broker_settings(port: int) -> None:
    """Loopback only, nothing kept: the broker carries the stand-in room sensor's words and no others."""
    lines = [
        f"listener {port} {HOST}",
        "allow_anonymous true",
        "persistence false",
        "log_dest stderr",
        "log_type error",
    ]
    write_whole(paths.HOME / "broker.conf", "\n".join(lines) + "\n", 0o644)


def _network_processes(network: dict[str, str]) -> str:
    return "Procfile.network" if "CAVATUM_FRONT" in network else "Procfile.proxy"


def launch(
    addresses: dict[str, str],
    port: int,
    stand_ins: dict[str, int] | None = None,
    network: dict[str, str] | None = None,
    mark: str = "",
) -> subprocess.Popen[bytes]:
    """The processes of the Procfile, the network's own beside them where phones are let in."""
    procfile = paths.PROCESSES / ("Procfile" if stand_ins is None else "Procfile.demo")
    if network:
        text = procfile.read_text() + (paths.PROCESSES / _network_processes(network)).read_text()
        procfile = paths.HOME / "Procfile"
        write_whole(procfile, text, 0o644)
    if stand_ins:
        _write_broker_settings(stand_ins["broker"])
    told = environment(addresses, port, stand_ins, network, mark)
    own = [paths.HOME / "app", Path(told["PROMETHEUS_MULTIPROC_DIR"])]
    own += [Path(told["CAVATUM_BACKUPS"])] if "CAVATUM_BACKUPS" in told else []
    for folder in own:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    app_user.give(*own)
    command = [str(paths.venv_python()), "-m", "honcho", "start", "--no-prefix", "-f", str(procfile)]
    # A session of its own: Ctrl-C reaches this process alone, which then ends the others in order.
    process = subprocess.Popen(
        app_user.as_user([*command, "-d", str(paths.HOME / "app")]),
        env=app_user.environment(told),
        start_new_session=True,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )
    mind_the_log(process, mark)
    return process


_LOG_KEEPERS: WeakKeyDictionary[subprocess.Popen[bytes], subprocess.Popen[bytes]] = WeakKeyDictionary()


def mind_the_log(process: subprocess.Popen[bytes], mark: str = "") -> None:
    """Begins what keeps its log, and begins it anew where it was killed: what it writes waits in the pipe
    meanwhile, whose reading end stays open here.
    """
    keeper = _LOG_KEEPERS.get(process)
    if process.poll() is not None or (keeper is not None and keeper.poll() is None):
        return
    _LOG_KEEPERS[process] = subprocess.Popen(
        [str(paths.venv_python()), "-m", "cavatum.machine.log_keeper", str(paths.HOME / "server.log")],
        env={**os.environ, **paths.for_python(), "CAVATUM_MARK": mark},
        start_new_session=True,
        stdin=process.stdout,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )


def wait_until_it_answers(process: subprocess.Popen[bytes], port: int, patience_s: float = 240.0) -> None:
    if not answers_within(process, port, patience_s):
        end(process)
        raise SetupError("The server did not come up.", f"Read the end of {paths.HOME / 'server.log'}.")


def answers_within(
    process: subprocess.Popen[bytes],
    port: int,
    patience_s: float,
    may_still: Callable[[], bool] = lambda: True,
) -> bool:
    """Whether it answers in time; not waited for once it has ended, or may_still says it never will."""
    until, looked = time.monotonic() + patience_s, time.monotonic()
    while time.monotonic() < until:
        if process.poll() is not None:
            break
        if time.monotonic() - looked > 1.0:
            looked = time.monotonic()
            if not may_still():
                break
        try:
            urllib.request.build_opener(urllib.request.ProxyHandler({})).open(
                f"http://{HOST}:{port}/api/v1/health", timeout=2
            ).close()
            return True
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(0.05)
    return False


def end(process: subprocess.Popen[bytes]) -> None:
    if process.poll() is not None:
        return
    family = _family(process.pid)
    process.send_signal(signal.SIGTERM)
    try:
        process.wait(timeout=10)
    except subprocess.TimeoutExpired:
        _kill_what_is_left(family)
        process.wait()
    _kill_what_is_left(family)


def ask_to_stop(note: dict[str, Any]) -> None:
    os.kill(note["pid"], signal.SIGTERM)
    until = time.monotonic() + 40
    while _start_time(note["pid"]) == note["started"]:
        if time.monotonic() > until:
            raise SetupError(f"Process {note['pid']} does not end.", f"Run: kill -9 {note['pid']}")
        time.sleep(0.1)
