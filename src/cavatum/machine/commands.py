"""The commands: each sets up what it needs, says what it does, and ends only what it started."""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import secrets
import signal
import subprocess
import sys
import time
from collections.abc import Callable

from . import cluster, network, packages, paths, ports, server
from .checking import SPEED_SUBJECTS, mutants, reference, speed, test
from .setting_up import in_venv, set_up
from .tell import SetupError, say
from .turns import one_at_a_time

LOOK_S, SOON_S, MOST_SOON, NAMES_S = 3.0, 20.0, 5, 3600.0


def main(arguments: list[str]) -> int:
    parser = _parser()
    # `test` passes everything on to pytest, options included.
    for_pytest = argparse.Namespace(command="test", rest=arguments[1:], do=test)
    options = for_pytest if arguments[:1] == ["test"] else parser.parse_args(arguments)
    try:
        return int(options.do(options))
    except SetupError as error:
        say(f"cannot go on. {error.problem}")
        if error.way_out:
            say(f"what to do: {error.way_out}")
        return 1
    except KeyboardInterrupt:
        say("stopped.")
        return 130


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./cavatum", description="Plan castings and coatings with two-part resins."
    )
    names = "demo|start|stop|backup|restore|export|import|workshop|way-in|test|speed|mutants|reference|"
    names += "plan|doctor"
    commands = parser.add_subparsers(dest="command", required=True, metavar=names)
    for name, do, text in (
        ("demo", demo, "set up everything, fill in the demo workshop, serve"),
        ("start", start, "the same without demo data"),
    ):
        command = commands.add_parser(name, help=text)
        command.add_argument("--port", type=int, default=paths.DEFAULT_PORT)
        command.add_argument(
            "--network", action="store_true", help="let paired phones in over HTTPS on the workshop's network"
        )
        command.add_argument("--network-port", type=int, default=paths.DEFAULT_PORT + 3)
        command.add_argument(
            "--behind-proxy",
            action="store_true",
            help="a proxy on this computer carries HTTPS; with --host NAME",
        )
        command.add_argument(
            "--host",
            action="append",
            default=[],
            help="a name or address phones use, beside those this computer knows of itself",
        )
        command.set_defaults(do=do)
    commands.add_parser("stop", help="end what demo or start began").set_defaults(do=stop)
    for name, argument, do, text in (
        ("backup", "file", backup, "write a backup and try it"),
        ("restore", "file", restore, "put a backup in place of the database"),
        ("export", "file", keep, "write all that the workshop owns as open files"),
        ("import", "file", keep, "take such a file into an empty server"),
        ("workshop", "name", keep, "open another workshop on this server, print a link for its owner"),
        ("way-in", "address", keep, "print a link for whoever has forgotten the password of that account"),
    ):
        command = commands.add_parser(name, help=text)
        command.add_argument(argument)
        command.set_defaults(do=do)
    commands.add_parser(
        "test", help="run all tests, or ./cavatum test [--quick] PATH... [pytest options]"
    ).set_defaults(do=test)
    speed_command = commands.add_parser("speed", help="run the benchmarks")
    speed_command.add_argument("subject", nargs="?", choices=SPEED_SUBJECTS)
    speed_command.set_defaults(do=speed)
    mutants_command = commands.add_parser(
        "mutants", help="put small faults into the core, see which tests notice"
    )
    mutants_command.add_argument("rest", nargs=argparse.REMAINDER, help="[FOLDER] [--count N] [--seed N]")
    mutants_command.set_defaults(do=mutants)
    commands.add_parser("reference", help="write docs/reference from the code").set_defaults(do=reference)
    plan_command = commands.add_parser("plan", help="print the plan of a piece file as JSON")
    plan_command.add_argument("file")
    plan_command.add_argument("--now", help="the moment to plan from, ISO 8601 with its offset; default: now")
    plan_command.set_defaults(do=plan)
    commands.add_parser("doctor", help="say what is missing or wrong").set_defaults(do=doctor)
    return parser


def demo(options: argparse.Namespace) -> int:
    return _serve(options, with_demo=True)


def start(options: argparse.Namespace) -> int:
    return _serve(options, with_demo=False)


def _bring_up_to_date(database: cluster.Cluster, with_demo: bool) -> None:
    for what in ["migrate", *(["demo-data"] if with_demo else [])]:
        if in_venv(["-m", "cavatum.cli", what], CAVATUM_DATABASE_URL=database.url()):
            raise SetupError("The database could not be brought up to date.", "Read the lines above.")


def _say_ready(took_s: float, port: int, network: str) -> None:
    here = f"http://{server.HOST}:{port}"
    say(f"ready in {took_s:.1f} s: {here}   (Ctrl-C ends it)")
    if network:
        say(f"on the network: {network} (let people in at {here}/people)")


def _serve(options: argparse.Namespace, *, with_demo: bool) -> int:
    port = options.port
    begun = time.monotonic()
    running = server.read_running()
    if running:
        say(f"Already running: http://{server.HOST}:{running['port']} (./cavatum stop ends it)")
        return 0
    server.require_free_port(port)
    with one_at_a_time():
        set_up(testing=False, broker=with_demo)
        database, started_database = cluster.ensure_running()
        mark = secrets.token_hex(16)
        server.note_running(port, mark)
    process = None
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    try:
        _bring_up_to_date(database, with_demo)
        if options.network:
            server.require_free_port(options.network_port, server.HOST if options.behind_proxy else "0.0.0.0")  # noqa: S104, asked for
        open_to = _open_network(options) if options.network else {}
        stand_ins = {name: ports.free_port() for name in (*server.STAND_INS, "broker")} if with_demo else None
        process = server.launch(database.url(), port, stand_ins, open_to, mark)
        server.note_running(port, mark, process.pid, open_to.get("CAVATUM_NETWORK_ADDRESS", ""))
        server.wait_until_it_answers(process, port)
        _say_ready(time.monotonic() - begun, port, open_to.get("CAVATUM_NETWORK_ADDRESS", ""))

        def again(found: cluster.Cluster) -> subprocess.Popen[bytes]:
            nonlocal open_to, database
            database = found
            server.end_left_behind(mark)
            open_to = _open_network(options) if options.network else {}
            anew = server.launch(database.url(), port, stand_ins, open_to, mark)
            server.note_running(port, mark, anew.pid, open_to.get("CAVATUM_NETWORK_ADDRESS", ""))
            return anew

        process = _keep_up(
            process, database, again, lambda: options.network and _open_network(options) != open_to
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


def _keep_up(
    process: subprocess.Popen[bytes],
    database: cluster.Cluster,
    again: Callable[[cluster.Cluster], subprocess.Popen[bytes]],
    is_another: Callable[[], bool],
) -> subprocess.Popen[bytes]:
    """Stays until it is stopped. A killed database is started again, and so is the whole server; each process
    minds itself (deploy/again).

    again       starts the server for this database: also when that had to move to another port
    is_another  looked at every hour: this computer has other names or addresses by now, or its certificate
                was renewed; the server is then started anew

    Raises SetupError for a server that ends again and again within seconds: it would only do so for ever.
    """
    begun = looked = time.monotonic()
    soon = 0
    while True:
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(LOOK_S)
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
        if ended or has_moved:
            say("the server is started again.")
            server.end(process)
            process, begun = again(database), time.monotonic()


def _open_network(options: argparse.Namespace) -> dict[str, str]:
    """Certificates for the names this computer has, and what the network's process is told. Behind a proxy
    there is none: that one carries HTTPS.
    """
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
        env={**os.environ, "PYTHONPATH": str(paths.CHECKOUT / "src")},
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


def stop(options: argparse.Namespace) -> int:
    running = server.read_running()
    if running is None:
        say("Nothing of this checkout is running.")
        return 0
    server.ask_to_stop(running)
    say("stopped.")
    return 0


def backup(options: argparse.Namespace) -> int:
    """Also while the server runs: the backup speaks of one moment."""
    return _keep("backup", options.file)


def restore(options: argparse.Namespace) -> int:
    if server.read_running():
        raise SetupError("Cavatum is running.", "Run ./cavatum stop first.")
    return _keep("restore", options.file)


def keep(options: argparse.Namespace) -> int:
    """The keeper's other commands, carried out by the application's own Python."""
    given = options.file if "file" in options else options.name if "name" in options else options.address
    return _keep(options.command, given)


def _keep(what: str, given: str) -> int:
    if not paths.venv_python().exists():
        raise SetupError("Nothing is set up here yet.", "Run ./cavatum start once, then stop it.")
    database, started_database = cluster.ensure_running()
    try:
        done = (
            in_venv(["-m", "cavatum.cli", "migrate"], CAVATUM_DATABASE_URL=database.url())
            if what != "backup"
            else 0
        )
        value = given if what in ("workshop", "way-in") else os.path.abspath(given)
        running = server.read_running() or {}
        done = done or in_venv(
            ["-m", "cavatum.cli", what, value],
            CAVATUM_DATABASE_URL=database.url(),
            CAVATUM_NETWORK_ADDRESS=running.get("address", ""),
        )
        return done or (
            in_venv(["-m", "cavatum.cli", "migrate"], CAVATUM_DATABASE_URL=database.url())
            if what == "restore"
            else 0
        )
    finally:
        if started_database:
            cluster.stop(database)


def plan(options: argparse.Namespace) -> int:
    if not paths.venv_python().exists():
        with one_at_a_time():
            packages.install_debian_packages(browser=False)
            packages.install_python_packages(testing=False)
    now = ["--now", options.now] if options.now else []
    return in_venv(["-m", "cavatum.cli", "plan", options.file, *now])


def doctor(options: argparse.Namespace) -> int:
    say(f"Python: {sys.version.split()[0]}")
    packages.describe()
    cluster.describe()
    running = server.read_running()
    say(f"Server: running on http://{server.HOST}:{running['port']}" if running else "Server: not running")
    if os.geteuid() == 0:
        say("You are root: the database runs as the user postgres.")
    return 0
