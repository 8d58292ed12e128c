"""A database of its own for each test session, on the checkout's private cluster."""

from __future__ import annotations

import contextlib
import fcntl
import itertools
import os
import shutil
import tempfile
import threading
import time
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import psycopg
import pytest
from hypothesis import settings
from psycopg import sql

from cavatum.machine import cluster, ports
from cavatum.store import archive
from cavatum.store.migrate import migrate
from tests.samples import NOW

# The same examples every time, so that a run says something about a change; CAVATUM_EXPLORE=1 looks for new
# ones.
settings.register_profile("same", derandomize=True, deadline=None)
settings.register_profile("explore", max_examples=1000, deadline=None)
settings.load_profile("explore" if os.environ.get("CAVATUM_EXPLORE") else "same")

CORE = ("core", "formats")
STARTED = "CAVATUM_TESTS_STARTED"  # a file that the worker makes which has started the database server


def pytest_configure(config) -> None:
    """Workers come and go at times of their own; the server they share is stopped after the last of them, by
    whoever leads them.
    """
    if not hasattr(config, "workerinput"):
        os.environ[STARTED] = str(Path(tempfile.mkdtemp(prefix="cavatum-tests-")) / "started")


def pytest_unconfigure(config) -> None:
    if hasattr(config, "workerinput"):
        return
    started = Path(os.environ[STARTED])
    if started.exists():
        cluster.stop(cluster.ensure_running()[0])
    shutil.rmtree(started.parent, ignore_errors=True)


def pytest_collection_modifyitems(items) -> None:
    """The core is covered by its own tests alone: what a page happens to run through is not checked by it,
    and tracing would slow every server down; and by its quick ones: tracing doubles the time of the others.
    """
    root = Path(__file__).parent
    for item in items:
        if item.path.relative_to(root).parts[0] not in CORE or item.get_closest_marker("slow"):
            item.add_marker(pytest.mark.no_cover)
    workers = int(os.environ.get("PYTEST_XDIST_WORKER_COUNT", "1"))
    if workers > 1:
        items[:] = spread(items, workers)


def spread(items: list[pytest.Item], workers: int) -> list[pytest.Item]:
    """Each worker begins with an even part of the items in their order; what takes minutes is the first of
    each part, so that nobody waits at the end for one that began last.
    """
    long = [one for one in items if one.get_closest_marker("long")]
    others = iter([one for one in items if not one.get_closest_marker("long")])
    ordered: list[pytest.Item] = []
    for number in range(workers):
        left = (len(items) - len(ordered)) // (workers - number)
        first = long[number::workers]
        ordered += [*first, *itertools.islice(others, max(0, left - len(first)))]
    return [*ordered, *others]


@pytest.fixture(scope="session")
def database_url() -> Iterator[str]:
    running, started = cluster.ensure_running()
    if started:
        Path(os.environ[STARTED]).touch()
    name = f"test_{os.getpid()}"
    with psycopg.connect(running.url(), autocommit=True) as admin:
        admin.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
        # No test pulls the plug of this one: what a test writes need not reach the disk before it goes on.
        admin.execute(sql.SQL("alter database {} set synchronous_commit = off").format(sql.Identifier(name)))
    migrate(running.url(name))
    yield running.url(name)
    cluster.drop_database(running, name)


@pytest.fixture
def connection(database_url) -> Iterator[psycopg.Connection]:
    """A connection whose work is rolled back after the test."""
    with psycopg.connect(database_url) as one:
        yield one
        one.rollback()


KEY = "only for tests, and long enough to be one"


def as_shop(url: str) -> str:
    """The same database as requests reach it: as the role that sees one workshop."""
    return cluster.read_record().shop_url(url.rpartition("/")[2])


def as_door(url: str) -> str:
    """As the role that knows accounts and no workshop's rows."""
    return cluster.read_record().door_url(url.rpartition("/")[2])


def addresses(url: str) -> dict[str, str]:
    """The same database as processes are told it."""
    return cluster.read_record().addresses(url.rpartition("/")[2])


EVERYTHING = ("workshop", "account", "failed_try", "challenge")
HANGS_ON = """
    with recursive hanging(id) as (
        select unnest(%s::regclass[]::oid[])
        union
        select conrelid from pg_constraint join hanging on confrelid = hanging.id where contype = 'f'
    )
    select relname from hanging join pg_class on pg_class.oid = hanging.id
"""


def _empty(url: str) -> None:
    """All that a test left, and what hangs on it. Deleted, not truncated: that takes a new file a table, and
    far longer than most tests. A page that was closed may still be answered: then this waits, or tries again.
    """
    with psycopg.connect(url, autocommit=True) as connection:
        tables = [name for (name,) in connection.execute(HANGS_ON, [list(EVERYTHING)])]
        ask = sql.SQL("; ").join(
            sql.SQL("delete from {}").format(sql.Identifier(name)) for name in (*EVERYTHING, *tables)
        )
        for left in reversed(range(5)):
            try:
                with connection.transaction():
                    connection.execute(ask)
                return
            except psycopg.errors.DeadlockDetected:
                if not left:
                    raise


@pytest.fixture(scope="session")
def make_app(database_url):
    """Applications at the session's database. All share two pools: with pools of their own a whole run's
    applications take every connection the server has.
    """
    from cavatum.api.app import create_app
    from cavatum.store.pool import make_pool

    pools = {
        "cavatum-pool": make_pool(as_shop(database_url)),
        "cavatum-door": make_pool(as_door(database_url), 6),
    }

    def make(**options):
        app = create_app(as_shop(database_url), as_door(database_url), secret_key=KEY, **options)
        app.extensions.update(pools)
        return app

    yield make
    for pool in pools.values():
        pool.close()


@pytest.fixture(scope="session")
def fixed_app(make_app):
    """An application that believes it is tests.samples.NOW."""
    return make_app(now=lambda: NOW)


class Client:
    """A browser's worth of manners: asks for its CSRF token once and sends it with every change."""

    def __init__(self, app):
        self.http = app.test_client()
        self.token = self.http.get("/api/v1/session").json["csrf_token"]

    def call(self, method: str, path: str, json=None, **more):
        headers = {"X-CSRFToken": self.token, **more.pop("headers", {})}
        return self.http.open(f"/api/v1{path}", method=method, json=json, headers=headers, **more)

    def get(self, path: str):
        return self.call("GET", path)


@pytest.fixture
def client(fixed_app, database_url):
    yield Client(fixed_app)
    _empty(database_url)


@pytest.fixture(scope="session")
def live_app(make_app):
    return make_app()


@pytest.fixture(scope="session")
def live_address(live_app) -> Iterator[str]:
    """The real application on a loopback port, in this process."""
    from werkzeug.serving import make_server

    port = ports.free_port()
    server = make_server("127.0.0.1", port, live_app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{port}"
    server.shutdown()
    thread.join()
    server.server_close()


DEMO_HOLDS_S = 480.0  # its runs go on by the clock: an older copy is laid out anew
DEMO_TABLES = ("workshop", *archive.TABLES, "learned", "calendar_feed", "job", "device_reading")


class KeptDemo:
    """The demo's rows as files that all processes of one test run share: whoever needs them first, or anew,
    works them out while the others wait.
    """

    def __init__(self, folder: Path):
        self.folder = folder
        folder.mkdir(exist_ok=True)

    @contextlib.contextmanager
    def held(self) -> Iterator[None]:
        with (self.folder / "lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield

    @property
    def is_fresh(self) -> bool:
        made = self.folder / "made"
        return made.exists() and (
            time.time() - made.stat().st_mtime < DEMO_HOLDS_S
            and datetime.fromtimestamp(made.stat().st_mtime, UTC).date() == datetime.now(UTC).date()
        )

    def write(self, connection: psycopg.Connection) -> None:
        for table in DEMO_TABLES:
            ask = sql.SQL("copy {} to stdout (format binary)").format(sql.Identifier(table))
            with connection.cursor().copy(ask) as copy:
                (self.folder / table).write_bytes(b"".join(copy))
        (self.folder / "made").touch()

    def read(self, connection: psycopg.Connection) -> None:
        for table in DEMO_TABLES:
            ask = sql.SQL("copy {} from stdin (format binary)").format(sql.Identifier(table))
            with connection.cursor().copy(ask) as copy:
                copy.write((self.folder / table).read_bytes())
        _count_on(connection)


def _count_on(connection: psycopg.Connection) -> None:
    """Numbers that another process gave out are not given again here."""
    counted = connection.execute(
        "select c.relname, a.attname from pg_attribute a join pg_class c on c.oid = a.attrelid "
        "where a.attidentity <> '' and c.relname = any(%s)",
        [list(DEMO_TABLES)],
    ).fetchall()
    for table, column in counted:
        connection.execute(
            sql.SQL(
                "select setval(seq, greatest(nextval(seq), (select max({column}) from {table}))) "
                "from (select pg_get_serial_sequence({name}, {column_name}) as seq) as given"
            ).format(
                name=sql.Literal(table),
                column_name=sql.Literal(column),
                column=sql.Identifier(column),
                table=sql.Identifier(table),
            )
        )


@pytest.fixture(scope="session")
def lay_out_demo(make_app, database_url, tmp_path_factory):
    """The demo around today with its plans, worked out once in a while and copied from then on."""
    shared = tmp_path_factory.getbasetemp()
    kept = KeptDemo((shared.parent if "PYTEST_XDIST_WORKER" in os.environ else shared) / "kept-demo")

    def lay_out() -> None:
        from cavatum.demo import scenario
        from cavatum.store.workshops import implied_workshop

        _empty(database_url)
        with kept.held():
            if kept.is_fresh:
                with psycopg.connect(database_url) as connection:
                    kept.read(connection)
                return
            with psycopg.connect(database_url) as connection:
                scenario.ensure(connection, implied_workshop(connection), datetime.now(UTC))
            page = make_app().test_client()
            for piece in page.get("/api/v1/pieces").json["pieces"]:
                page.get(f"/api/v1/pieces/{piece['id']}/plan")
            page.get("/api/v1/bench")
            with psycopg.connect(database_url) as connection:
                kept.write(connection)

    return lay_out


@pytest.fixture
def demo_address(live_address, database_url, lay_out_demo):
    """The live application with the demo laid out around today."""
    lay_out_demo()
    yield live_address
    _empty(database_url)
