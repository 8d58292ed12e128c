"""A database whose note was lost, one whose restore was cut short, one of another PostgreSQL version."""

from __future__ import annotations

import subprocess
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from .. import paths
from ..packages import postgres_versions
from ..ports import free_port
from ..tell import SetupError, say, step
from ..turns import one_at_a_time
from .finding import ensure_running
from .making import make_folder
from .programs import as_owner, owner_of, program, version_of
from .record import OWNER, SUPERUSER, Cluster, new_secrets, read_record, record_file, write_record
from .roles import DATABASE, ask, databases, make_database, make_roles
from .running import answers, run_status, start, stop


def take_up_folder(folder: Path) -> Cluster:
    """Writes the note anew, with new passwords set in the database itself while it is stopped. A damaged note
    is kept beside.
    """
    version = version_of(folder)
    if version is None:
        raise SetupError(
            f"{folder} is no folder of a PostgreSQL database.", "Name the one with PG_VERSION in it."
        )
    with one_at_a_time("database", "starts the database"):
        cluster = Cluster(folder=str(folder.resolve()), port=free_port(), **new_secrets())
        if run_status(cluster):
            raise SetupError(f"The database in {folder} is running.", "Stop it first: ./cavatum stop")
        words = f"alter role {SUPERUSER} password '{cluster.keeper_password}';\n"
        words += f"alter role {OWNER} password '{cluster.password}';\n"
        with step("New passwords for the database"):
            done = subprocess.run(
                as_owner(
                    owner_of(folder),
                    [program("postgres", version), "--single", "-D", str(folder), "postgres"],
                ),
                input=words,
                capture_output=True,
                text=True,
            )
        if done.returncode or "ERROR" in done.stderr:
            raise SetupError(
                f"The folder cannot be taken up: {done.stderr.strip()[-300:]}", f"Read {folder}/server.log."
            )
        if record_file().exists():
            record_file().rename(record_file().with_name("cluster.json.damaged"))
        write_record(cluster)
    say(f"The database in {folder} is taken up.")
    return cluster


def take_up_database(name: str) -> None:
    """Gives a database of the cluster the name the program looks for. Refused where there is one already."""
    cluster = read_record()
    if cluster is None or not cluster.made:
        raise SetupError("There is no note of a database here.", "Name its folder: ./cavatum take-up FOLDER")
    with one_at_a_time("database", "starts the database"):
        began = not answers(cluster)
        if began:
            cluster = start(cluster)
        try:
            here = databases(cluster)
            if DATABASE in here or name not in here or not name.isidentifier():
                said = "already there" if DATABASE in here else f"not among {', '.join(here) or 'none'}"
                raise SetupError(
                    f"The database {DATABASE if DATABASE in here else name} is {said}.", "Look again."
                )
            ask(cluster, f"alter database {name} rename to {DATABASE}")
        finally:
            if began:
                stop(cluster)
    say(f"The database {name} is the one that is started from now on.")


def upgrade(call: Callable[..., int], to: int | None = None) -> Cluster | None:
    """Dump by the old version, restore into an empty cluster of the newest installed one, compared row by
    row. The note changes last: until then the old one is what starts. None where there is nothing to do.

    call  runs the application's own Python with these arguments and this environment, and gives its result
    to    another version than the newest installed one; for tests
    """
    cluster = read_record()
    if cluster is None:
        raise SetupError("There is no database here yet.", "Run ./cavatum start.")
    version = version_of(Path(cluster.folder))
    newest = to if to is not None else max(postgres_versions(), default=0)
    if version is None or (newest <= version and to is None):
        say(f"The database is PostgreSQL {version}'s, and no newer one is installed.")
        return None
    program("pg_dump", version)
    file = paths.HOME / f"before-postgresql-{newest}.backup"
    cluster, began = ensure_running()
    try:
        _must(call(["-m", "cavatum.cli", "backup", str(file)], CAVATUM_DATABASE_URL=cluster.url()))
    finally:
        if began:
            stop(cluster)
    with one_at_a_time("database", "starts the database"):
        beside = _beside(cluster, newest)
        try:
            _must(call(["-m", "cavatum.cli", "restore", str(file)], CAVATUM_DATABASE_URL=beside.url()))
        finally:
            stop(beside)
        write_record(beside)
    say(f"PostgreSQL {newest} has the database now, in {beside.folder}.")
    say(f"The old folder {cluster.folder} and the backup {file} stay until you remove them.")
    return beside


def _must(done: int) -> None:
    if done:
        raise SetupError(
            "The database could not be taken over; nothing has changed.", "Read the lines above."
        )


def _beside(cluster: Cluster, version: int) -> Cluster:
    """An empty cluster of this PostgreSQL version beside the present one, running; not yet noted."""
    folder = Path(cluster.folder)
    made = replace(cluster, folder=str(folder.with_name(f"cluster-{version}")), port=free_port())
    if Path(made.folder).exists():
        raise SetupError(f"{made.folder} is there already.", "Move it away, then try again.")
    with step(f"New database of PostgreSQL {version}"):
        make_folder(made, version)
        made = start(made, keeps_record=False)
        make_roles(made)
        make_database(made)
    return made
