"""The commands: each sets up what it needs, says what it does, and ends only what it started."""

from __future__ import annotations

import argparse
import os
import sys
import traceback
from datetime import UTC, datetime
from pathlib import Path

from . import cluster, packages, paths, server
from .checking import SPEED_SUBJECTS, mutants, reference, speed, test
from .database.taking_up import take_up_database, take_up_folder, upgrade
from .doctor import doctor
from .serving import bring_up_to_date, serve
from .setting_up import in_venv
from .tell import NAME, SetupError, say
from .turns import one_at_a_time
from .whole import write_whole

SYSTEM_PROGRAMS = ("/usr/local/sbin", "/usr/sbin", "/sbin", "/usr/bin", "/bin")
OF_A_CHECKOUT = ("test", "speed", "mutants", "reference")


def entry() -> int:
    """The command of an installed wheel."""
    return main(sys.argv[1:])


def main(arguments: list[str]) -> int:
    try:
        _prepare()
        arguments = _choose_home(arguments)
        # `test` passes everything on to pytest, options included.
        for_pytest = argparse.Namespace(command="test", rest=arguments[1:], do=test)
        options = for_pytest if arguments[:1] == ["test"] else _parser().parse_args(arguments)
        if paths.IS_INSTALLED and options.command in OF_A_CHECKOUT:
            raise SetupError(f"{options.command} belongs to a checkout of the sources.", "Clone them first.")
        return int(options.do(options))
    except SetupError as error:
        say(f"cannot go on. {error.problem}")
        if error.way_out:
            say(f"what to do: {error.way_out}")
        return 1
    except KeyboardInterrupt:
        say("stopped.")
        return 130
    except OSError as error:
        where = f" ({error.filename})" if error.filename else ""
        say(f"cannot go on. {error.strerror or error}{where}")
        say(f"what to do: look at that file or disk, or run {NAME} doctor.")
        return _keep_trouble()
    except Exception as error:
        say(f"cannot go on. Something went wrong inside: {type(error).__name__}: {error}")
        return _keep_trouble()


def _prepare() -> None:
    """Root's PATH need not have the folders of system programs; words of other programs come in one
    language and in UTF-8, whatever this computer speaks.
    """
    known = os.environ.get("PATH", "").split(os.pathsep)
    os.environ["PATH"] = os.pathsep.join([*known, *(one for one in SYSTEM_PROGRAMS if one not in known)])
    os.environ |= {"LC_ALL": "C.UTF-8", "LANG": "C.UTF-8", "PYTHONUTF8": "1"}
    os.umask(0o022)


def _choose_home(arguments: list[str]) -> list[str]:
    """--home DIR, before or behind the command."""
    for number, one in enumerate(arguments):
        if one == "--home" and number + 1 < len(arguments):
            paths.use(Path(arguments[number + 1]))
            return arguments[:number] + arguments[number + 2 :]
        if one.startswith("--home="):
            paths.use(Path(one.partition("=")[2]))
            return arguments[:number] + arguments[number + 1 :]
    return arguments


def _keep_trouble() -> int:
    """No traceback reaches a person: it is kept for whoever mends it."""
    text = f"{datetime.now(UTC).isoformat()}\n{traceback.format_exc()}"
    file = paths.HOME / "trouble.log"
    try:
        write_whole(file, text)
        say(f"what happened is in {file}; send it along when you report it.")
    except OSError:
        say("and it could not be written down: the disk is full or cannot be written.")
    return 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog=NAME,
        description="Plan castings and coatings with two-part resins.",
        epilog="--home DIR: another folder for the database and all that is made",
    )
    names = "demo|start|stop|backup|restore|export|import|workshop|way-in|test|speed|mutants|reference|"
    names += "plan|take-up|upgrade-database|doctor"
    commands = parser.add_subparsers(dest="command", required=True, metavar=names)
    for name, do, text in (
        ("demo", demo, "set up everything, fill in the demo workshop, serve"),
        ("start", start, "the same without demo data"),
    ):
        command = commands.add_parser(name, help=text)
        command.add_argument("--port", type=_port, default=paths.DEFAULT_PORT)
        command.add_argument(
            "--network", action="store_true", help="let paired phones in over HTTPS on the workshop's network"
        )
        command.add_argument("--network-port", type=_port, default=paths.DEFAULT_PORT + 3)
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
        ("take-up", "what", take_up, "a database's folder without its note, or a database by its name"),
    ):
        command = commands.add_parser(name, help=text)
        command.add_argument(argument)
        command.set_defaults(do=do)
    commands.add_parser(
        "upgrade-database", help="take the database over to the newest PostgreSQL installed"
    ).set_defaults(do=upgrade_database)
    commands.add_parser(
        "test", help="run all tests, or ./cavatum test [--quick] PATH... [pytest options]"
    ).set_defaults(do=test)
    speed_command = commands.add_parser("speed", help="run the benchmarks")
    speed_command.add_argument("subject", nargs="?", choices=SPEED_SUBJECTS)
    speed_command.add_argument("parts", nargs="*", help="only these parts of it: web load, watch picture")
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


def _port(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"{text} is no port: a number from 1 to 65535 is")
    return int(text)


def demo(options: argparse.Namespace) -> int:
    return serve(options, with_demo=True)


def start(options: argparse.Namespace) -> int:
    return serve(options, with_demo=False)


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
        if what not in ("backup", "restore"):  # a backup is of what is there; a restore replaces it
            bring_up_to_date(database, with_demo=False)
        value = given if what in ("workshop", "way-in") else os.path.abspath(given)
        running = server.read_running() or {}
        done = in_venv(
            ["-m", "cavatum.cli", what, value],
            CAVATUM_DATABASE_URL=database.url(),
            CAVATUM_NETWORK_ADDRESS=running.get("address", ""),
        )
        if not done and what == "restore":  # the file itself is the backup from before its changes
            done = in_venv(["-m", "cavatum.cli", "migrate"], CAVATUM_DATABASE_URL=database.url())
        return done
    finally:
        if started_database:
            cluster.stop(database)


def take_up(options: argparse.Namespace) -> int:
    """A database's folder without its note, or the name of a database a cut-short restore left."""
    if server.read_running():
        raise SetupError("Cavatum is running.", "Run ./cavatum stop first.")
    given = Path(options.what)
    if given.is_dir():
        take_up_folder(given)
    elif options.what.isidentifier():
        take_up_database(options.what)
    else:
        raise SetupError(f"{options.what} is neither a folder nor the name of a database.", "Look again.")
    return 0


def upgrade_database(options: argparse.Namespace) -> int:
    """To the newest PostgreSQL that is installed: a backup by the old one, restored and compared in the new;
    the old folder stays.
    """
    if server.read_running():
        raise SetupError("Cavatum is running.", "Run ./cavatum stop first.")
    if not paths.venv_python().exists():
        raise SetupError("Nothing is set up here yet.", "Run ./cavatum start once, then stop it.")
    upgrade(in_venv)
    return 0


def plan(options: argparse.Namespace) -> int:
    if not paths.venv_python().exists():
        with one_at_a_time():
            packages.install_debian_packages(browser=False)
            packages.install_python_packages(testing=False)
    now = ["--now", options.now] if options.now else []
    return in_venv(["-m", "cavatum.cli", "plan", options.file, *now])
