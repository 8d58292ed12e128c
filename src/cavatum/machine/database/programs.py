"""PostgreSQL's own programs, run as the user who owns the cluster's folder, of the version that made it.

PostgreSQL refuses to run as root. As root its programs run as the user `postgres`, who then owns the folder;
as anybody else they run directly. An existing cluster keeps its owner.
"""

from __future__ import annotations

import os
import pwd
from pathlib import Path

from ..packages import find_postgres_bin, postgres_versions
from ..tell import SetupError, run
from .record import Cluster


def owner_of(folder: Path) -> str:
    """Who runs the server programs: the owner of the folder if there is one, else postgres for root, else
    oneself.
    """
    if folder.exists():
        return pwd.getpwuid(folder.stat().st_uid).pw_name
    return "postgres" if os.geteuid() == 0 else pwd.getpwuid(os.geteuid()).pw_name


def as_owner(owner: str, command: list[str]) -> list[str]:
    mine = pwd.getpwuid(os.geteuid()).pw_name
    if owner == mine:
        return command
    if os.geteuid() != 0:
        raise SetupError(
            f"The database folder belongs to {owner}, and you are {mine}.",
            f"Run the command as {owner} or root.",
        )
    return ["runuser", "-u", owner, "--", *command]


def give_to_owner(file: Path, owner: str) -> None:
    if os.geteuid() == 0:
        entry = pwd.getpwnam(owner)
        os.chown(file, entry.pw_uid, entry.pw_gid)


def version_of(folder: Path) -> int | None:
    """The major version that made this folder; None where it is no cluster."""
    try:
        text = (folder / "PG_VERSION").read_text().strip()
    except OSError:
        return None
    return int(text) if text.isdigit() else None


def program(name: str, version: int | None = None) -> str:
    """Of this major version; the newest where none is named."""
    folder = find_postgres_bin(version)
    if folder is None and version is not None and postgres_versions():
        here = ", ".join(map(str, postgres_versions()))
        raise SetupError(
            f"The database was made by PostgreSQL {version}; installed here is {here}. Another version does "
            "not read it.",
            f"Run: apt-get install -y postgresql-{version} (then ./cavatum upgrade-database takes it over to "
            "the newer one), or restore a backup into a new folder.",
        )
    if folder is None:
        raise SetupError(
            "PostgreSQL's server programs are not installed.", "Run: apt-get install -y postgresql"
        )
    return str(folder / name)


def its(cluster: Cluster, name: str) -> str:
    """The program of the version that made this cluster."""
    return program(name, version_of(Path(cluster.folder)))


def read_as_owner(file: Path) -> str:
    return run(as_owner(owner_of(file.parent), ["cat", str(file)]), way_out="")
