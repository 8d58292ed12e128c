"""Starts the processes of deploy/Procfile under honcho and ends them again; keeps a note of what runs."""

from __future__ import annotations

import json
import os
import secrets
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

from . import paths
from .tell import SetupError, say

HOST = "127.0.0.1"


def secret_key() -> str:
    """The key that signs sessions: made on first use, kept readable by its owner only, never in the repository."""
    if not paths.SECRET_FILE.exists():
        handle = os.open(paths.SECRET_FILE, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(48))
    return paths.SECRET_FILE.read_text()


def _start_time(pid: int) -> str | None:
    """The process's start in clock ticks: tells it from a later process that got the same number. None once it has ended."""
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        return None if fields[0] == "Z" else fields[19]
    except (FileNotFoundError, ProcessLookupError, IndexError):
        return None


def read_running() -> dict | None:
    """What `demo` or `start` noted, if that process still lives; a stale note is removed."""
    try:
        note = json.loads(paths.RUN_FILE.read_text())
    except (FileNotFoundError, json.JSONDecodeError):
        return None
    if _start_time(note["pid"]) == note["started"]:
        return note
    say("A stale note of an earlier run was found and removed.")
    paths.RUN_FILE.unlink(missing_ok=True)
    return None


def note_running(port: int) -> None:
    paths.RUN_FILE.write_text(json.dumps({"pid": os.getpid(), "started": _start_time(os.getpid()), "port": port}))


def require_free_port(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError as error:
            raise SetupError(
                f"Port {port} on {HOST} is taken by another program.",
                f"Choose another: ./cavatum demo --port {port + 1}",
            ) from error


def environment(database_url: str, port: int) -> dict[str, str]:
    return {
        **os.environ,
        "PATH": f"{paths.VENV / 'bin'}:{os.environ.get('PATH', '')}",
        "PYTHONPATH": str(paths.CHECKOUT / "src"),
        "PYTHONUNBUFFERED": "1",
        "CAVATUM_DATABASE_URL": database_url,
        "CAVATUM_SECRET_KEY": secret_key(),
        "CAVATUM_PORT": str(port),
    }


def launch(database_url: str, port: int) -> subprocess.Popen:
    procfile = paths.CHECKOUT / "deploy" / "Procfile"
    command = [str(paths.VENV / "bin" / "honcho"), "start", "--no-prefix", "-f", str(procfile), "-d", str(paths.CHECKOUT)]
    log = (paths.HOME / "server.log").open("ab")
    # A session of its own: Ctrl-C reaches this process alone, which then ends the others in order.
    return subprocess.Popen(
        command, env=environment(database_url, port), start_new_session=True, stdin=subprocess.DEVNULL, stdout=log, stderr=log
    )


def wait_until_it_answers(process: subprocess.Popen, port: int, patience_s: float = 30.0) -> None:
    until = time.monotonic() + patience_s
    while time.monotonic() < until:
        if process.poll() is not None:
            break
        try:
            urllib.request.build_opener(urllib.request.ProxyHandler({})).open(
                f"http://{HOST}:{port}/api/v1/health", timeout=2
            ).close()
            return
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            time.sleep(0.05)
    end(process)
    raise SetupError("The server did not come up.", f"Read the end of {paths.HOME / 'server.log'}.")


def end(process: subprocess.Popen) -> None:
    if process.poll() is None:
        process.send_signal(signal.SIGTERM)
        try:
            process.wait(timeout=10)
        except subprocess.TimeoutExpired:
            os.killpg(process.pid, signal.SIGKILL)
            process.wait()


def ask_to_stop(note: dict) -> None:
    os.kill(note["pid"], signal.SIGTERM)
    until = time.monotonic() + 20
    while _start_time(note["pid"]) == note["started"]:
        if time.monotonic() > until:
            raise SetupError(f"Process {note['pid']} does not end.", f"Run: kill -9 {note['pid']}")
        time.sleep(0.1)
