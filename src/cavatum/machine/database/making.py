"""initdb into a folder beside, moved in place when it is whole; and what is laid down at every start."""

from __future__ import annotations

import contextlib
import hashlib
import os
import pwd
import secrets
import shutil
import signal
import subprocess
import time
from pathlib import Path

from .. import paths
from ..tell import SetupError, run, say, step
from ..whole import sync_folder, write_whole
from .programs import as_owner, give_to_owner, its, owner_of, program
from .record import SUPERUSER, Cluster

SOCKET_PATH_LIMIT = 107  # bytes of sun_path on Linux, less the terminating zero
SOCKET_NAME_LENGTH = len("/.s.PGSQL.65535")
# The superuser by the socket alone; everybody else by loopback, each with a password.
WHO_CONNECTS = f"""# Laid down by Cavatum at every start.
local all {SUPERUSER} scram-sha-256
host  all {SUPERUSER} 127.0.0.1/32 reject
host  all all         127.0.0.1/32 scram-sha-256
"""


def choose_folder(*, aloud: bool = True) -> Path:
    """.cavatum/cluster, or a place under the postgres user's home when it may not enter the checkout's
    folders.
    """
    folder = paths.HOME / "cluster"
    if os.geteuid() != 0 or folder.exists():
        return folder
    reachable = subprocess.run(
        ["runuser", "-u", "postgres", "--", "test", "-x", str(paths.HOME)], capture_output=True
    )
    if reachable.returncode == 0:
        return folder
    tag = hashlib.sha256(str(paths.HOME).encode()).hexdigest()[:12]
    other = Path(pwd.getpwnam("postgres").pw_dir) / f"cavatum-{tag}"
    if aloud:
        say(f"The postgres user may not enter {paths.HOME}; the database goes to {other}.")
    return other


def make_folder(cluster: Cluster, version: int | None = None) -> None:
    """A half-made one never looks finished. One left by a killed command is thrown away, its initdb ended;
    each try has a folder of its own, so that neither stands in the other's way.
    """
    folder = Path(cluster.folder)
    owner = owner_of(folder)
    for left in folder.parent.glob(f"{folder.name}.unfinished*"):
        say("A half-made database was left from an earlier try; making it again.")
        _throw_away(left)
    unfinished = folder.with_name(f"{folder.name}.unfinished-{secrets.token_hex(4)}")
    unfinished.mkdir(mode=0o700, parents=True)
    give_to_owner(unfinished, owner)
    password_file = folder.with_name(f".password-{secrets.token_hex(4)}")  # beside: its owner gets there
    write_whole(password_file, cluster.keeper_password)
    give_to_owner(password_file, owner)
    command = [program("initdb", version), "-D", str(unfinished), "-U", SUPERUSER, "-A", "scram-sha-256"]
    command += ["--pwfile", str(password_file), "-E", "UTF8", "--locale", "C.UTF-8", "--data-checksums"]
    try:
        done = subprocess.run(
            as_owner(owner, command), stdin=subprocess.DEVNULL, capture_output=True, text=True
        )
    finally:
        password_file.unlink()
    if done.returncode:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-8:])
        raise SetupError(
            f"initdb failed ({done.returncode}):\n{tail}", "Run ./cavatum doctor, then try again."
        )
    unfinished.rename(folder)
    sync_folder(folder.parent)


def _throw_away(folder: Path) -> None:
    """What a killed initdb began goes on writing for a moment, and what it writes comes back."""
    until = time.monotonic() + 30
    while folder.exists() and time.monotonic() < until:
        _end_whoever_works_at(folder)
        shutil.rmtree(folder, ignore_errors=True)
        time.sleep(0.1)


def _end_whoever_works_at(folder: Path) -> None:
    """A killed command leaves its initdb behind, still writing."""
    wanted = str(folder).encode()
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            words = (process / "cmdline").read_bytes().split(b"\0")
            if wanted in words and int(process.name) != os.getpid():
                os.kill(int(process.name), signal.SIGKILL)


def socket_folder(cluster: Cluster) -> Path:
    """The cluster's own folder, or a short one where that path does not fit into a socket's name."""
    if len(cluster.folder.encode()) + SOCKET_NAME_LENGTH <= SOCKET_PATH_LIMIT:
        return Path(cluster.folder)
    tag = hashlib.sha256(cluster.folder.encode()).hexdigest()[:12]
    return Path("/tmp") / f"cavatum-db-{tag}"  # noqa: S108, made for its owner alone and looked at below


def lay_down(cluster: Cluster) -> None:
    """Who may connect, and the folder of the socket. Before every start."""
    owner = owner_of(Path(cluster.folder))
    rules = Path(cluster.folder) / "pg_hba.conf"
    if not rules.exists() or rules.read_text() != WHO_CONNECTS:
        write_whole(rules, WHO_CONNECTS)
        give_to_owner(rules, owner)
    folder = socket_folder(cluster)
    if folder == Path(cluster.folder):
        return
    with contextlib.suppress(FileExistsError):
        folder.mkdir(mode=0o700)
        give_to_owner(folder, owner)
    found = folder.lstat()
    if folder.is_symlink() or found.st_uid != pwd.getpwnam(owner).pw_uid or found.st_mode & 0o077:
        raise SetupError(f"{folder} belongs to somebody else.", f"Remove it: rm -r {folder}")


def put_checksums_on(cluster: Cluster) -> None:
    """Every page of the database carries its checksum: a disk that forgets is noticed, not believed. For a
    cluster of an earlier release, once, while it is shut down in order.
    """
    owner = owner_of(Path(cluster.folder))
    told = run(
        as_owner(owner, [its(cluster, "pg_controldata"), "-D", cluster.folder]),
        way_out="Run ./cavatum doctor.",
        env={**os.environ, "LC_ALL": "C"},
    )
    lines = dict(line.split(":", 1) for line in told.splitlines() if ":" in line)
    is_on = lines.get("Data page checksum version", "").strip() != "0"
    if is_on or lines.get("Database cluster state", "").strip() != "shut down":
        return
    with step("Checksums for the database's pages"):
        run(
            as_owner(owner, [its(cluster, "pg_checksums"), "--enable", "-D", cluster.folder]),
            way_out="Run the command again; what was begun is begun anew.",
        )
