"""Who may connect as what. The superuser is asked by the socket, with a secret of its own."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

from ..tell import SetupError
from .making import socket_folder
from .programs import its
from .record import DOOR, OWNER, SHOP, SUPERUSER, Cluster

DATABASE = OWNER


def ask(cluster: Cluster, statement: str, database: str = "postgres") -> str:
    """One statement as the superuser. Raises SetupError with what PostgreSQL said."""
    done = _psql(cluster, str(socket_folder(cluster)), cluster.keeper_password, statement, database)
    if done.returncode:
        raise SetupError(f"The database refuses: {done.stderr.strip()[-400:]}", "Run ./cavatum doctor.")
    return done.stdout


def _psql(
    cluster: Cluster, host: str, password: str, statement: str, database: str
) -> subprocess.CompletedProcess[str]:
    command = [its(cluster, "psql"), "-h", host, "-p", str(cluster.port), "-U", SUPERUSER, "-d", database]
    return subprocess.run(
        [*command, "-v", "ON_ERROR_STOP=1", "-qAtc", statement],
        env={**os.environ, "PGPASSWORD": password, "PGCONNECT_TIMEOUT": "10"},
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
    )


def own_secret(cluster: Cluster) -> None:
    """In earlier releases the superuser had the application's password and was reached by loopback: it gets
    one of its own, by that way, once.
    """
    asked = (cluster, str(socket_folder(cluster)), cluster.keeper_password, "select 1", "postgres")
    if (Path(socket_folder(cluster)) / f".s.PGSQL.{cluster.port}").exists() and not _psql(*asked).returncode:
        return
    change = f"alter role {SUPERUSER} password '{cluster.keeper_password}'; select pg_reload_conf()"
    done = _psql(cluster, "127.0.0.1", cluster.password, change, "postgres")
    if done.returncode:  # told from the socket too: what is laid down now keeps the superuser off loopback
        done = _psql(cluster, str(socket_folder(cluster)), cluster.password, change, "postgres")
    if done.returncode:
        raise SetupError(
            f"The database does not know its keeper: {done.stderr.strip()[-300:]}",
            f"Stop it and take it up again: ./cavatum take-up {cluster.folder}",
        )


def make_roles(cluster: Cluster) -> None:
    """The application is no superuser: its role owns its database and may make others (to try backups), no
    more. Requests come as two roles that own nothing and cannot become it.
    """
    wanted = {OWNER: cluster.password, SHOP: cluster.shop_password, DOOR: cluster.door_password}
    names = ", ".join(f"'{name}'" for name in wanted)
    here = ask(
        cluster,
        f"select rolname from pg_roles where rolcanlogin and rolname in ({names})",  # noqa: S608, constants
    ).split()
    for name, password in wanted.items():
        if name in here:
            continue
        # made by token_urlsafe: letters, digits, - and _ only
        rights = "createdb" if name == OWNER else "nocreatedb"
        there = ask(cluster, f"select 1 from pg_roles where rolname = '{name}'").strip()  # noqa: S608, a constant
        verb = "alter" if there else "create"
        ask(cluster, f"{verb} role {name} login {rights} password '{password}'")
        if name != OWNER:
            ask(cluster, f"grant {name} to {OWNER}")


def databases(cluster: Cluster) -> list[str]:
    return ask(
        cluster,
        "select datname from pg_database where not datistemplate and datname <> 'postgres' order by 1",
    ).split()


def make_database(cluster: Cluster) -> None:
    """Only for a cluster that is being made: an existing one without its database is never given an empty
    one.
    """
    if DATABASE not in databases(cluster):
        ask(cluster, f"create database {DATABASE} owner {OWNER}")


def drop_database(cluster: Cluster, name: str) -> None:
    """A database of tests or benchmarks, with whoever is still at it: the server's own vacuum too, which only
    its superuser may end.
    """
    if not name.isidentifier():
        raise SetupError(f"{name} is no name of a database.", "Use letters, digits and _ only.")
    ask(cluster, f"drop database {name} with (force)")
