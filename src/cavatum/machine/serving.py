"""Serves until it is stopped: the database, the processes, what ends by itself begun again."""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import secrets
import signal
import subprocess
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from . import cluster, front, network, paths, ports, server
from .setting_up import in_venv, set_up
from .tell import SetupError, say
from .turns import one_at_a_time

LOOK_S, SOON_S, MOST_SOON, NAMES_S = 3.0, 20.0, 5, 3600.0
DEAF_S = (
    20.0  # nobody listens at a port of ours, and nobody has begun to: longer than any of its processes takes
)
COMES_UP_WITHIN_S = (45.0, 45.0, 90.0)  # per try; the last has time for the slowest machine


def bring_up_to_date(database: cluster.Cluster, with_demo: bool) -> cluster.Cluster:
    """The database with today's tables: another one where it ended meanwhile and had to move.

    Raises SetupError where it stands and still refuses.
    """
    backups = os.environ.get("CAVATUM_BACKUPS", str(paths.HOME / "backups"))
    for what in ["migrate", *(["demo-data"] if with_demo else [])]:
        for _ in range(MOST_SOON):
            known = {"CAVATUM_DATABASE_URL": database.url(), "CAVATUM_BACKUPS": backups}
            if not in_venv(["-m", "cavatum.cli", what], **known):
                break
            if cluster.answers(database):
                raise SetupError("The database could not be brought up to date.", "Read the lines above.")
            database = _anew(database)
        else:
            raise SetupError("The database ends again and again.", "Read the lines above.")
    return database


def _anew(database: cluster.Cluster) -> cluster.Cluster:
    """The database that has ended by itself, started again; as it is where it answers."""
    if cluster.answers(database):
        return database
    say("the database has ended by itself; starting it again.")
    return cluster.ensure_running()[0]


def _say_ready(took_s: float, port: int, network: str) -> None:
    here = f"http://{server.HOST}:{port}"
    say(f"ready in {took_s:.1f} s: {here}   (Ctrl-C ends it)")
    if network:
        say(f"on the network: {network} (let people in at {here}/people)")


def serve(options: argparse.Namespace, *, with_demo: bool) -> int:
    port = options.port
    begun = time.monotonic()
    running = server.read_running()
    if running:
        say(f"Already running: http://{server.HOST}:{running['port']} (./cavatum stop ends it)")
        return 0
    _require_ports(options)
    with one_at_a_time():
        set_up(testing=False, broker=with_demo, network=options.network and not options.behind_proxy)
        database, started_database = cluster.ensure_running()
        mark = secrets.token_hex(16)
        server.note_running(port, mark)
    process: subprocess.Popen[bytes] | None = None
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    try:
        database = bring_up_to_date(database, with_demo)
        open_to = open_network(options)
        stand_ins = {name: ports.free_port() for name in (*server.STAND_INS, "broker")} if with_demo else None

        def launch() -> subprocess.Popen[bytes]:
            nonlocal process, database
            database = _anew(database)
            process = server.launch(database.addresses(), port, stand_ins, with_front(open_to), mark)
            server.note_running(port, mark, process.pid, open_to.get("CAVATUM_NETWORK_ADDRESS", ""))
            return process

        def again(found: cluster.Cluster) -> subprocess.Popen[bytes]:
            nonlocal open_to, database
            database = found
            server.end_left_behind(mark)
            open_to = open_network(options)
            return launch()

        process = come_up(launch, port, mark, lambda: cluster.answers(database))
        _say_ready(time.monotonic() - begun, port, open_to.get("CAVATUM_NETWORK_ADDRESS", ""))
        own = [port, *([options.network_port] if options.network else [])]
        process = keep_up(
            process,
            database,
            again,
            lambda: open_network(options) != open_to,
            lambda: all(map(server.listens, own)),
            mark,
        )
    except KeyboardInterrupt:
        say("stopping ...")
    finally:
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        if process is not None:
            server.end(process)
            server.end_left_behind(mark)
        paths.RUN_FILE.unlink(missing_ok=True)
        if started_database:
            cluster.stop(database)
        say("stopped what this command had started.")
    return 0


def _require_ports(options: argparse.Namespace) -> None:
    """Told before the set-up, and not after it."""
    server.require_free_port(options.port)
    if options.network:
        everywhere = server.HOST if options.behind_proxy else "0.0.0.0"  # noqa: S104, asked for
        server.require_free_port(options.network_port, everywhere, "--network-port")


def come_up(
    launch: Callable[[], subprocess.Popen[bytes]],
    port: int,
    mark: str,
    has_database: Callable[[], bool] = lambda: True,
    within_s: Iterable[float] | None = None,
) -> subprocess.Popen[bytes]:
    """The server once it answers. A process manager that loses one of its own before that waits for it for
    ever: begun anew then, and at once where its database has ended: without one it never answers.

    Raises SetupError for one that never answers.
    """
    patience = list(COMES_UP_WITHIN_S if within_s is None else within_s)
    lost = 0
    while patience:
        process = launch()
        if server.answers_within(process, port, patience[0], has_database):
            return process
        server.end(process)
        server.end_left_behind(mark)
        if has_database() or lost >= MOST_SOON:
            say("the server did not answer; it is started anew.")
            patience.pop(0)
        lost += 1
    raise SetupError("The server did not come up.", f"Read the end of {paths.HOME / 'server.log'}.")


@dataclass
class _Silence:
    """How long nobody has listened."""

    since: float

    def is_too_long(self, listens: Callable[[], bool]) -> bool:
        now = time.monotonic()
        if listens():
            self.since = now
        return now - self.since > DEAF_S


def keep_up(
    process: subprocess.Popen[bytes],
    database: cluster.Cluster,
    again: Callable[[cluster.Cluster], subprocess.Popen[bytes]],
    is_another: Callable[[], bool],
    listens: Callable[[], bool] = lambda: True,
    mark: str = "",
) -> subprocess.Popen[bytes]:
    """Stays until it is stopped. A killed database is started again, and so is the whole server; each process
    minds itself (processes/again).

    again       starts the server for this database: also when that had to move to another port
    listens     whether somebody does at every port of it: where a process manager has lost one of its own it
                waits for that for ever and begins nothing any more
    mark        of this start, for what is begun again beside the server
    is_another  looked at every hour: this computer has other names or addresses by now, or its certificate
                was renewed; the server is then started anew

    Raises SetupError for a server that ends again and again within seconds: it would only do so for ever.
    """
    begun = looked = time.monotonic()
    silence = _Silence(begun)
    soon = 0
    while True:
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(LOOK_S)
        server.mind_the_log(process, mark)
        if not cluster.answers(database):
            say("the database has ended by itself; starting it again.")
            try:
                found, _ = cluster.ensure_running()
            except SetupError as error:  # a full disk, say: it is tried again until there is room
                say(f"not yet: {error.problem.splitlines()[0]}")
                continue
            has_moved, database = found.port != database.port, found
        else:
            has_moved = False
        ended = process.poll() is not None
        soon = 0 if not ended and time.monotonic() - begun > SOON_S else soon + ended
        if soon > MOST_SOON:
            raise SetupError("The server ended by itself.", f"Read the end of {paths.HOME / 'server.log'}.")
        if not ended and time.monotonic() - looked > NAMES_S:
            looked, ended = time.monotonic(), is_another()
        ended = ended or silence.is_too_long(listens)
        if ended or has_moved:
            say("the server is started again.")
            server.end(process)
            process, begun = again(database), time.monotonic()
            silence = _Silence(begun)


def with_front(network: dict[str, str]) -> dict[str, str]:
    """Nginx before it, where Cavatum carries HTTPS itself."""
    return front.lay_down(network) if "CAVATUM_NETWORK_KEY" in network else network


def open_network(options: argparse.Namespace) -> dict[str, str]:
    """Certificates for the names this computer has, and what the network's process is told. Behind a proxy
    there is none: that one carries HTTPS. Nothing where nobody asked for a network.
    """
    if not options.network:
        return {}
    if options.behind_proxy:
        if not options.host:
            raise SetupError(
                "Behind a proxy Cavatum has to know its name.", "Add --host NAME, as the proxy's server_name."
            )
        return {
            "CAVATUM_NETWORK_HOSTS": ",".join(options.host),
            "CAVATUM_NETWORK_PORT": str(options.network_port),
            "CAVATUM_BEHIND_PROXY": "1",
            "CAVATUM_NETWORK_ADDRESS": f"https://{options.host[0]}",
        }
    names = network.own_names(options.host)
    process = subprocess.run(
        [str(paths.venv_python()), "-m", "cavatum.cli", "certificates", str(paths.HOME / "tls"), *names],
        capture_output=True,
        text=True,
        env={**os.environ, **paths.for_python()},
    )
    if process.returncode:
        raise SetupError("The certificate could not be made.", process.stderr.strip()[-400:])
    made = json.loads(process.stdout)
    address = f"https://{network.best_name(names, options.host)}:{options.network_port}"
    return {
        "CAVATUM_NETWORK_HOSTS": ",".join(f"[{one}]" if ":" in one else one for one in names),
        "CAVATUM_NETWORK_PORT": str(options.network_port),
        "CAVATUM_NETWORK_ADDRESS": address,
        "CAVATUM_NETWORK_AUTHORITY": made["authority"],
        "CAVATUM_NETWORK_FINGERPRINT": made["fingerprint"],
        "CAVATUM_NETWORK_CERTIFICATE": made["server"],
        "CAVATUM_NETWORK_KEY": made["key"],
        "CAVATUM_NETWORK_UNTIL": made["until"],
    }
