"""The same core without the web: plan a piece file, migrate a database, fill in the demo."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from types import ModuleType
from typing import cast

from pydantic import ValidationError

from .core.common.errors import DomainError


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="cavatum")
    commands = parser.add_subparsers(dest="command", required=True)
    plan_command = commands.add_parser("plan")
    plan_command.add_argument("file")
    plan_command.add_argument("--now", type=_moment)
    commands.add_parser("migrate")
    commands.add_parser("demo-data")
    commands.add_parser("openapi", help="print the OpenAPI document")
    commands.add_parser("schema", help="print the JSON Schema of the piece file")
    certificate_command = commands.add_parser(
        "certificates", help="make or renew the network's certificates, print where they are"
    )
    certificate_command.add_argument("folder", type=Path)
    certificate_command.add_argument("names", nargs="+")
    for name in ("backup", "restore", "export", "import"):
        commands.add_parser(name).add_argument("file", type=Path)
    for name in ("workshop", "way-in"):
        commands.add_parser(name).add_argument("given")
    options = parser.parse_args(arguments)
    if options.command == "plan":
        return plan(options.file, options.now or datetime.now(UTC))
    if options.command == "certificates":
        return certificates(options.folder, options.names)
    if options.command in ("backup", "restore"):
        return keep(options.command, options.file)
    if options.command in ("export", "import"):
        return whole_workshop(options.command, options.file)
    if options.command in ("workshop", "way-in"):
        return let_in(options.command, options.given)
    if options.command == "openapi":
        return openapi()
    if options.command == "schema":
        return schema()
    return migrate() if options.command == "migrate" else demo_data()


def _moment(text: str) -> datetime:
    moment = datetime.fromisoformat(text)
    if moment.tzinfo is None:
        raise argparse.ArgumentTypeError("the moment needs its offset, like 2026-11-23T12:00+00:00")
    return moment


def plan(file: str, now: datetime) -> int:
    """Print the plan of a piece file as JSON. The file brings its sheets; what it lacks is taken as typical,
    and marked so.
    """
    gc.disable()  # a second's work in one go: what it leaves is freed by its end
    with _without_scipys_blas():
        from .core.plan import make_plan
    from .core.common.workshop import typical_workshop
    from .core.piece.document import Piece
    from .core.piece.shelf_items import NONE
    from .core.resin.typical import typical_systems
    from .formats.piece_file import explain, read_piece

    try:
        piece: Piece = read_piece(Path(file).read_bytes())
    except OSError as error:
        return _complain(f"{file} cannot be read: {error.strerror}.")
    except DomainError as error:
        return _complain(str(error))
    except ValidationError as error:
        return _complain(
            "\n".join(
                f"{one['pointer'] or 'piece'}: {one['message']} {one['way_out']}" for one in explain(error)
            )
        )
    sheets = {sheet.id: sheet for sheet in [*typical_systems(), *piece.systems]}
    made = make_plan(
        piece, sheets, piece.workshop or typical_workshop(), now, shelf_items=piece.goods or NONE
    )
    print(made.model_dump_json(indent=1))
    return 0


@contextmanager
def _without_scipys_blas() -> Iterator[None]:
    """numba looks for SciPy's linear algebra while it is imported, and goes without where there is none. The
    heat kernel multiplies no matrices: looking takes a tenth of a plan's time.
    """
    name = "scipy.linalg"
    if name in sys.modules:
        yield
        return
    sys.modules[name] = cast(ModuleType, None)  # an import of it fails from here on
    try:
        import numba.np.arraymath  # noqa: F401
    finally:
        del sys.modules[name]
    yield


def _complain(text: str) -> int:
    print(text, file=sys.stderr)
    return 2


def certificates(folder: Path, names: list[str]) -> int:
    import json

    from .network.certificates import ensure

    try:
        made = ensure(folder, names)
    except (ValueError, OSError) as error:
        return _complain(str(error))
    print(
        json.dumps(
            {
                "authority": str(made.authority),
                "server": str(made.server),
                "key": str(made.key),
                "fingerprint": made.fingerprint,
                "until": made.until,
            }
        )
    )
    return 0


def keep(what: str, file: Path) -> int:
    from .jobs.nightly import postgres_programs
    from .store import backup

    url = os.environ["CAVATUM_DATABASE_URL"]
    try:
        if what == "restore":
            kept = backup.restore(url, file, postgres_programs(url), datetime.now(UTC))
            print(
                "cavatum: restored and compared row by row; what was there before is kept as the "
                f"database {kept}",
                file=sys.stderr,
            )
        else:
            tables = backup.make(url, file, postgres_programs(url))
            print(
                f"cavatum: {file}: {sum(one.rows for one in tables.values())} rows of {len(tables)} "
                f"tables, {file.stat().st_size / 1e6:.1f} MB, "
                "restored once and compared row by row",
                file=sys.stderr,
            )
    except (backup.BackupError, OSError) as error:
        return _complain(str(error))
    return 0


def whole_workshop(what: str, file: Path) -> int:
    """The server's first workshop as open files, or such a file into an empty server: all of it or
    nothing.
    """
    import zipfile

    import psycopg

    from .store import archive
    from .store.workshops import implied_workshop

    try:
        with psycopg.connect(os.environ["CAVATUM_DATABASE_URL"]) as connection:
            if what == "export":
                shop = implied_workshop(connection)
                connection.commit()
                connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
                with zipfile.ZipFile(file, "x", zipfile.ZIP_DEFLATED) as pack:
                    archive.export(connection, shop, pack, datetime.now(UTC))
                print(f"cavatum: {file}: {file.stat().st_size / 1e6:.1f} MB", file=sys.stderr)
            else:
                with archive.opened(file) as pack:
                    taken = archive.take_in(connection, implied_workshop(connection), pack)
                print(f"cavatum: {taken.rows} rows and {taken.files} files taken in", file=sys.stderr)
    except (archive.WholeError, OSError) as error:
        return _complain(str(error))
    return 0


def let_in(what: str, given: str) -> int:
    """Another workshop with a link for its owner, or a new way in for an account; by whoever keeps the
    server.
    """
    import psycopg

    from .core.common.workshop import typical_workshop
    from .store import logins, people, workshops

    now = datetime.now(UTC)
    with psycopg.connect(os.environ["CAVATUM_DATABASE_URL"]) as connection:
        if what == "workshop":
            shop = workshops.open_another(connection, typical_workshop().model_copy(update={"name": given}))
            secret, made = people.invite(connection, shop, "owner", "", None, now)
        else:
            account = logins.account_of(connection, given)
            inside = logins.memberships(connection, account.id) if account else []
            if account is None or not inside:
                return _complain(f"No account of {given} is let into a workshop here.")
            shop = inside[0][0]
            secret, made = people.invite(
                connection, shop, inside[0][2], account.name, account.id, now, by_keeper=True
            )
        people.note(connection, shop, "the server's keeper made a link", "the keeper", given)
    address = os.environ.get("CAVATUM_NETWORK_ADDRESS") or "https://THIS-COMPUTER:PORT"
    print(f"{address}/join#{secret}")
    print(f"cavatum: holds until {made.expires_at:%Y-%m-%d %H:%M} UTC, once", file=sys.stderr)
    return 0


def openapi() -> int:
    import json

    from .api.operations import DESCRIBED

    os.environ[DESCRIBED] = "yes"
    from .api.app import create_app

    app = create_app("postgresql://unused", "postgresql://unused", secret_key="unused" * 6)  # noqa: S106, nothing is served
    print(json.dumps(app.api_doc, indent=1))  # type: ignore[attr-defined]  # flask_openapi3 makes it
    return 0


def schema() -> int:
    import json

    from .formats.piece_file import schema as piece_schema

    print(json.dumps(piece_schema(), indent=1))
    return 0


def migrate() -> int:
    import psycopg

    from .jobs.nightly import before_changes
    from .store.backup import BackupError
    from .store.migrate import NewerDatabase
    from .store.migrate import migrate as bring_up_to_date
    from .store.workshops import implied_workshop

    url, folder = os.environ["CAVATUM_DATABASE_URL"], os.environ.get("CAVATUM_BACKUPS")
    try:
        count = bring_up_to_date(
            url, (lambda: before_changes(url, Path(folder), datetime.now(UTC))) if folder else None
        )
    except NewerDatabase as error:
        return _complain(f"cavatum: {error}")
    except (BackupError, OSError) as error:
        return _complain(f"cavatum: no backup could be made, so the database was left as it is: {error}")
    with psycopg.connect(url) as connection:
        implied_workshop(connection)  # instruments and pages find one from the first moment
    if count:
        print(f"cavatum: {count} database {'change' if count == 1 else 'changes'} applied", file=sys.stderr)
    return 0


def demo_data() -> int:
    import psycopg

    from .demo import scenario
    from .store.workshops import implied_workshop

    with psycopg.connect(os.environ["CAVATUM_DATABASE_URL"]) as connection:
        said = scenario.ensure(connection, implied_workshop(connection), datetime.now(UTC))
    print(f"cavatum: demo data: {said}", file=sys.stderr)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
