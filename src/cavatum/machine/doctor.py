"""Looks at a set-up, running or not: each thing in a line, what is wrong with how to mend it."""

from __future__ import annotations

import argparse
import json
import os
import shutil
import stat
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from . import app_user, cluster, front, nginx, packages, paths, server
from .database import finding, making, programs, roles
from .database.record import record_file
from .tell import SetupError, say

BACKUP_STALE_H = 48.0


@dataclass(frozen=True)
class Finding:
    """mend: empty where nothing is to be done."""

    what: str
    mend: str = ""


def doctor(options: argparse.Namespace) -> int:
    """0 where nothing is to be mended, else 1."""
    say(f"Python: {sys.version.split()[0]}")
    packages.describe()
    wrong = 0
    for look in LOOKS:
        for found in _looked(look):
            say(f"{'MEND' if found.mend else 'well'}: {found.what}")
            if found.mend:
                say(f"      {found.mend}")
                wrong += 1
    say("nothing is to be mended." if not wrong else f"{wrong} to mend.")
    return 1 if wrong else 0


def _looked(look: Callable[[], Iterator[Finding]]) -> Iterator[Finding]:
    try:
        yield from look()
    except SetupError as error:
        yield Finding(error.problem, error.way_out or "Read the lines above.")
    except OSError as error:
        yield Finding(
            f"{error.filename or 'a file'}: {error.strerror}", "Run it as root, or as who set it up."
        )


def _disk() -> Iterator[Finding]:
    if not paths.HOME.exists():
        yield Finding(f"{paths.HOME} is not there yet; demo or start makes it")
        return
    free = shutil.disk_usage(paths.HOME).free
    yield Finding(
        f"the disk of {paths.HOME} has {free / 1e9:.1f} GB left",
        "" if free > 5 * packages.RUNNING_BYTES else "Make room: a full disk stops every pour's record.",
    )


def _secrets() -> Iterator[Finding]:
    """Files that only their owner may read."""
    files = [record_file(), paths.SECRET_FILE, paths.HOME / "server.log", *(paths.HOME / "tls").glob("*.key")]
    files += list((paths.HOME / "backups").glob("*.backup"))
    shown = [one for one in files if one.exists() and stat.S_IMODE(one.stat().st_mode) & 0o077]
    for one in shown:
        yield Finding(f"others may read {one}", f"chmod 600 {one}")
    if paths.SECRET_FILE.exists() and len(paths.SECRET_FILE.read_text().strip()) < server.LEAST_SECRET:
        yield Finding(f"{paths.SECRET_FILE} is empty or cut short", "Start Cavatum: it makes another.")
    if not shown:
        yield Finding("secrets, logs and backups are readable by their owner alone")


def _database() -> Iterator[Finding]:
    if packages.find_postgres_bin() is None:
        raise SetupError(
            "PostgreSQL's server programs are not installed.", "Run: apt-get install -y postgresql"
        )
    found = cluster.read_record()
    if found is None:
        folder = making.choose_folder(aloud=False)
        if folder.exists() and any(folder.iterdir()):
            raise SetupError(
                f"There is a database in {folder} and no note of it.", f"./cavatum take-up {folder}"
            )
        yield Finding("no database yet; demo or start makes it")
        return
    if not found.made:
        yield Finding("the database is half made; the next start goes on with it")
        return
    finding.look(found)
    folder = Path(found.folder)
    version, newest = programs.version_of(folder), max(packages.postgres_versions())
    yield Finding(
        f"the database is PostgreSQL {version}'s, kept by {programs.owner_of(folder)}"
        + (f"; {newest} is installed" if newest != version else ""),
        "" if newest == version else "./cavatum upgrade-database takes it over; the old folder stays.",
    )
    rules = folder / "pg_hba.conf"
    if rules.read_text() != making.WHO_CONNECTS:
        yield Finding("who may connect to the database is not as laid down", "Start Cavatum anew.")
    if not cluster.answers(found):
        yield Finding("the database is not running; demo or start starts it")
        return
    yield from _running_database(found)


def _running_database(found: cluster.Cluster) -> Iterator[Finding]:
    is_on = roles.ask(found, "show data_checksums").strip() == "on"
    yield Finding(
        "pages of the database have checksums" if is_on else "pages of the database have no checksums",
        "" if is_on else "Stop Cavatum and start it anew: they are put on.",
    )
    failures = roles.ask(found, "select coalesce(sum(checksum_failures), 0) from pg_stat_database").strip()
    if failures not in ("", "0"):
        yield Finding(
            f"{failures} pages were read with a wrong checksum: the disk loses data",
            "Stop, copy the newest backup to another computer, replace the disk, then "
            "./cavatum restore FILE.",
        )
    if roles.DATABASE not in roles.databases(found):
        yield Finding(
            "the database of Cavatum is not in it", "./cavatum take-up NAME, or ./cavatum restore FILE"
        )
        return
    told = roles.ask(
        found,
        "select rolname from pg_roles r where rolname in ('cavatum_shop', 'cavatum_door') and (rolsuper or"
        " rolcreaterole or rolbypassrls or exists (select 1 from pg_auth_members m where m.member = r.oid))",
    ).split()
    yield Finding(
        "requests reach the database as roles that own nothing"
        if not told
        else f"{', '.join(told)} may too much",
        "" if not told else f"As the superuser: revoke what was granted to {', '.join(told)}.",
    )


def _served() -> Iterator[Finding]:
    running = server.read_running()
    if running is None:
        yield Finding("the server is not running")
        return
    own = f"http://{server.HOST}:{running['port']}"
    status, words = _asked(f"{own}/api/v1/ready")
    yield Finding(
        f"the server answers on {own}" if status == 200 else f"the server on {own} says: {words}",
        "" if status == 200 else f"Read the end of {paths.HOME / 'server.log'}, then stop and start it.",
    )
    pid = running.get("server_pid")
    if pid and Path(f"/proc/{pid}").exists() and Path(f"/proc/{pid}").stat().st_uid == 0:
        yield Finding("the server runs as root", f"Stop and start it: it takes the user '{app_user.USER}'.")
    if running.get("address"):
        yield Finding(f"on the network: {running['address']}")


def _asked(address: str) -> tuple[int, str]:
    opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    try:
        with opener.open(address, timeout=10) as answer:
            return answer.status, ""
    except urllib.error.HTTPError as error:
        try:
            return error.code, str(json.loads(error.read()).get("detail", ""))
        except ValueError:
            return error.code, error.reason
    except (OSError, TimeoutError) as error:
        return 0, str(error)


def _backups() -> Iterator[Finding]:
    folder = Path(os.environ.get("CAVATUM_BACKUPS") or paths.HOME / "backups")
    files = sorted(folder.glob("cavatum-*.backup"), key=lambda one: one.stat().st_mtime)
    found = cluster.read_record()
    if not files:
        if found is not None and found.made:
            yield Finding(f"no nightly backup in {folder} yet; a running start makes one a day")
        return
    hours = (time.time() - files[-1].stat().st_mtime) / 3600
    made = datetime.fromtimestamp(files[-1].stat().st_mtime, UTC)
    yield Finding(
        f"the newest backup is of {made:%Y-%m-%d %H:%M} UTC, tried when it was made",
        ""
        if hours < BACKUP_STALE_H
        else f"Let it run over night, or: ./cavatum backup {folder / 'today.backup'}",
    )
    if folder.stat().st_dev == paths.HOME.stat().st_dev:
        yield Finding("backups lie on the same disk as the database: CAVATUM_BACKUPS=FOLDER names another")


def _network() -> Iterator[Finding]:
    """Only where it was ever opened."""
    if not (paths.HOME / "tls").exists():
        return
    here = nginx.find() is not None and nginx.find_stream() is not None
    yield Finding(
        "nginx is there for the network" if here else "nginx or its stream module is missing",
        "" if here else "The next start --network unpacks it; or apt-get install nginx libnginx-mod-stream.",
    )
    folder = front.folder()
    if folder.exists() and stat.S_IMODE(folder.stat().st_mode) & 0o077:
        yield Finding(f"others may enter {folder}", f"chmod 700 {folder}")


def _user() -> Iterator[Finding]:
    if not app_user.is_needed():
        yield Finding("started by you, the server runs as you")
        return
    done = subprocess.run(app_user.as_user(["id", "-un"]), capture_output=True, text=True)
    is_well = done.stdout.strip() == app_user.USER
    yield Finding(
        f"started by root, the server runs as '{app_user.USER}'" if is_well else done.stderr.strip()[-200:],
        "" if is_well else "Run it as an ordinary user.",
    )


LOOKS = (_disk, _secrets, _database, _served, _backups, _network, _user)
