"""Starts the cluster, stops it, tells whether it is ours and answers."""

from __future__ import annotations

import contextlib
import subprocess
import time
from dataclasses import replace
from pathlib import Path

from ..ports import free_port, is_free_soon
from ..tell import SetupError, run, say
from .making import lay_down, put_checksums_on, socket_folder
from .programs import as_owner, its, owner_of, read_as_owner
from .record import Cluster, write_record

PORT_PATIENCE_S = 8.0


def answers(cluster: Cluster) -> bool:
    """True when the server takes connections; pg_ctl status alone says running for a moment after a kill."""
    done = subprocess.run(
        [its(cluster, "pg_isready"), "-q", "-h", "127.0.0.1", "-p", str(cluster.port)], capture_output=True
    )
    return done.returncode == 0 and _is_ours(cluster)


def _is_ours(cluster: Cluster) -> bool:
    """The server on our port could be somebody else's: compare with the pid file of our folder."""
    try:
        lines = read_as_owner(Path(cluster.folder) / "postmaster.pid").splitlines()
    except SetupError:
        return False
    return len(lines) > 3 and lines[3].strip() == str(cluster.port)


def start(cluster: Cluster, *, keeps_record: bool = True) -> Cluster:
    """keeps_record: another port is noted; not for a cluster that is only looked at beside the noted one."""
    port = cluster.port if is_free_soon(cluster.port, PORT_PATIENCE_S) else free_port()
    if port != cluster.port:
        say(f"Port {cluster.port} is taken by another program; the database moves to {port}.")
        cluster = replace(cluster, port=port)
        if keeps_record:
            write_record(cluster)
    lay_down(cluster)
    put_checksums_on(cluster)
    options = {
        "listen_addresses": "127.0.0.1",
        "unix_socket_directories": str(socket_folder(cluster)),
        "shared_buffers": "128MB",
        "max_connections": "160",
        "logging_collector": "on",  # a file a weekday, its owner's alone, begun anew a week later
        "log_filename": "database-%a.log",
        "log_truncate_on_rotation": "on",
        "log_file_mode": "0600",
    }
    words = ["-p", str(port)]
    for name, value in options.items():
        words += ["-c", f"{name}={value}"]
    quoted = " ".join(f"'{word}'" for word in words)
    command = [its(cluster, "pg_ctl"), "-D", cluster.folder, "-w", "-t", "60"]
    command += ["-l", f"{cluster.folder}/server.log", "-o", quoted, "start"]
    until = time.monotonic() + PORT_PATIENCE_S
    while True:
        try:
            run(
                as_owner(owner_of(Path(cluster.folder)), command),
                way_out=f"Read the end of {cluster.folder}/server.log and of the newest file in "
                f"{cluster.folder}/log.",
            )
            return cluster
        except SetupError:  # a killed server's last processes still hold its memory
            if time.monotonic() > until:
                raise
            time.sleep(0.5)


def running_port(cluster: Cluster) -> int | None:
    """Of our own server, by its pid file, where that process lives; another process can have got its number
    since.
    """
    with contextlib.suppress(SetupError, OSError, ValueError, IndexError):
        lines = read_as_owner(Path(cluster.folder) / "postmaster.pid").splitlines()
        name, _, rest = Path(f"/proc/{int(lines[0])}/stat").read_text().rpartition(")")
        if name.endswith("(postgres") and not rest.startswith(" Z"):
            return int(lines[3])
    return None


def where_it_runs(cluster: Cluster) -> Cluster:
    """A start that was killed between noting another port and using it: the server that runs is right."""
    port = running_port(cluster)
    if port is not None and port != cluster.port:
        cluster = replace(cluster, port=port)
        write_record(cluster)
    return cluster


def wait_for_recovery(cluster: Cluster, patience_s: float = 60.0, ended_s: float = 4.0) -> None:
    """patience_s: for a server that lives; ended_s: for one that was killed, whose last processes still hold
    its memory.
    """
    begun = time.monotonic()
    while not answers(cluster):
        lives = running_port(cluster) is not None
        if not (lives or run_status(cluster)) or time.monotonic() - begun > (
            patience_s if lives else ended_s
        ):
            return
        time.sleep(0.2)


def run_status(cluster: Cluster) -> bool:
    command = as_owner(
        owner_of(Path(cluster.folder)), [its(cluster, "pg_ctl"), "-D", cluster.folder, "status"]
    )
    return subprocess.run(command, capture_output=True).returncode == 0


def stop(cluster: Cluster) -> None:
    command = [its(cluster, "pg_ctl"), "-D", cluster.folder, "-m", "fast", "-w", "stop"]
    run(as_owner(owner_of(Path(cluster.folder)), command), way_out="Run ./cavatum doctor.")
