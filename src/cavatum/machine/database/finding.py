"""What is there, and whether to start it, to make one, or to refuse: an empty workshop is never started in
place of a full one.
"""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from ..ports import free_port
from ..tell import SetupError, step
from ..turns import one_at_a_time
from .making import choose_folder, make_folder
from .programs import program, version_of
from .record import Cluster, new_secrets, read_record, record_file, write_record
from .roles import DATABASE, databases, make_database, make_roles, own_secret
from .running import answers, running_port, start, wait_for_recovery, where_it_runs


def ensure_running() -> tuple[Cluster, bool]:
    """The running cluster, and whether this call started it. Makes it, goes on with a half-made one, waits
    for
    a slow one. The start command's own watch and another command can both find it ended: one of them starts
    it, the other waits for that.

    Raises SetupError, with what was found and what to do, rather than begin an empty one where there may be
    a full one.
    """
    with one_at_a_time("database", "starts the database"):
        return _ensure_running()


def _ensure_running() -> tuple[Cluster, bool]:
    cluster = read_record()
    if cluster is None:
        cluster = _begin()
    if not cluster.made:
        return _make(cluster), True
    look(cluster)
    if answers(cluster):
        return _let_roles_in(cluster), False
    with step("Database"):
        cluster = where_it_runs(cluster)
        wait_for_recovery(cluster)
        if answers(cluster):
            return _let_roles_in(cluster), False
        if running_port(cluster) is not None:
            raise SetupError(
                "The database runs and does not answer.",
                f"Wait a minute and try again, or read the end of {cluster.folder}/server.log.",
            )
        return _let_roles_in(start(cluster)), True


def _begin() -> Cluster:
    """The note comes first, so that a cluster without one is never ours half made."""
    folder = choose_folder()
    if folder.exists() and any(folder.iterdir()):
        version = version_of(folder)
        what = f"a database of PostgreSQL {version}" if version else "something that is no database"
        raise SetupError(
            f"There is no note of a database ({record_file()}), but {what} in {folder}. No empty one is "
            "started in its place.",
            f"Put the note back from a copy, or take the folder up again: ./cavatum take-up {folder}. If "
            "nothing in it is wanted, move it away.",
        )
    if folder.exists():
        folder.rmdir()
    cluster = Cluster(folder=str(folder), port=free_port(), made=False, **new_secrets())
    write_record(cluster)
    return cluster


def _make(cluster: Cluster) -> Cluster:
    """Also where an earlier command was killed at any step of it."""
    with step("New database cluster"):
        if not Path(cluster.folder).exists():
            make_folder(cluster)
        cluster = where_it_runs(cluster)
        wait_for_recovery(cluster)
        if not answers(cluster):
            cluster = start(cluster)
        make_roles(cluster)
        make_database(cluster)
        cluster = replace(cluster, made=True)
        write_record(cluster)
    return cluster


def look(cluster: Cluster) -> None:
    """Raises SetupError where the noted cluster is not there, or is another version's."""
    folder = Path(cluster.folder)
    found = "is not there" if not folder.exists() else ""
    if not found and version_of(folder) is None:
        found = "is empty" if not any(folder.iterdir()) else "holds no database"
    if found:
        raise SetupError(
            f"The database belongs in {folder}, and that folder {found}. No empty one is "
            "started in its place.",
            "Connect or mount the disk it is on, then start again. If it is lost: move "
            f"{record_file()} away, start, stop, and ./cavatum restore FILE with the newest backup.",
        )
    program("postgres", version_of(folder))


def _let_roles_in(cluster: Cluster) -> Cluster:
    """A cluster of an earlier release gets the roles it lacks. One without its database is not given an empty
    one.
    """
    if not (cluster.keeper_password and cluster.shop_password and cluster.door_password):
        made = new_secrets()
        cluster = replace(
            cluster,
            keeper_password=cluster.keeper_password or made["keeper_password"],
            shop_password=cluster.shop_password or made["shop_password"],
            door_password=cluster.door_password or made["door_password"],
        )
        write_record(cluster)
    own_secret(cluster)
    make_roles(cluster)
    here = databases(cluster)
    if DATABASE not in here:
        others = [one for one in here if one.startswith(f"{DATABASE}_")]
        raise SetupError(
            f"The database {DATABASE} is not in {cluster.folder}; found: {', '.join(here) or 'none'}. "
            "A restore was cut short, or somebody renamed it. No empty one is started in its place.",
            "Choose which of them it is: ./cavatum take-up NAME ("
            + (", ".join(others) if others else "none of them looks like one of Cavatum's")
            + f"; {DATABASE}_before_… is the one from before a restore).",
        )
    return cluster
