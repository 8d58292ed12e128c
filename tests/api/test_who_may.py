"""Who may do what, cell by cell, and two workshops that never see each other: beside every query's own
condition row-level security.
"""

import csv
import io
import json
import re
import zipfile
from datetime import timedelta
from pathlib import Path

import psycopg
import pytest
from psycopg import sql

from cavatum.store.pool import make_pool, stay_within, within
from tests.api.shops import HERE, Caller, two_shops
from tests.conftest import _empty, as_door, as_shop
from tests.samples import NOW, box_piece

EXAMPLES = Path(__file__).parents[1] / "examples"
WHO_MAY = {row["operation"]: row for row in csv.DictReader((EXAMPLES / "who_may.csv").open())}
DOCUMENT = json.loads((Path(__file__).parents[2] / "web" / "src" / "api" / "openapi.json").read_text())
OPERATIONS = {
    operation["operationId"]: (method.upper(), path.removeprefix("/api/v1"))
    for path, methods in DOCUMENT["paths"].items()
    for method, operation in methods.items()
}
ENDS_ITSELF = (
    "logOut",
    "endOtherEntries",
    "endEntry",
    "putOutPerson",
    "changePerson",
    "endPhone",
    "switchWorkshop",
)  # asked last: they change who is asking


@pytest.fixture(scope="module")
def shops(make_app, database_url):
    """Two workshops; the address of the network as a page of theirs would know it."""
    app = make_app(network_hosts=["shop.local"], now=lambda: NOW)
    app.config["NETWORK_ADDRESS"] = HERE
    pair = two_shops(app, database_url)
    yield app, *pair
    _empty(database_url)


def path_of(name: str, ids: dict) -> str:
    return re.sub(r"{(\w+)}", lambda found: str(ids.get(found[1], 10**9)), OPERATIONS[name][1])


def test_the_table_names_every_operation_and_no_other():
    assert set(WHO_MAY) == set(OPERATIONS)


def test_every_role_may_do_what_the_table_says_and_nothing_else(shops):
    """Refused is 401 or 403; anything else means that the operation was reached. Ids are none of anybody's,
    so that nothing is changed on the way.
    """
    app, first, _ = shops
    callers = {**first.callers, "nobody": Caller(app=app)}
    wrong = []
    for name in sorted(OPERATIONS, key=lambda one: one in ENDS_ITSELF):
        if name in ("logOut", "endOtherEntries"):
            continue
        method, _ = OPERATIONS[name]
        for role, caller in callers.items():
            answer = caller.call(
                method, path_of(name, {"kind": "colourant"}), {} if method in ("POST", "PUT") else None
            )
            reached = answer.status_code not in (401, 403)
            if reached != (WHO_MAY[name][role] == "yes"):
                wrong.append((name, role, answer.status_code))
            assert answer.status_code < 500, (
                name,
                role,
                answer.status_code,
                answer.get_data(as_text=True)[:300],
            )
    assert wrong == []


def test_an_operation_that_nobody_gave_a_row_does_not_start(make_app, monkeypatch):
    from cavatum.api import permissions

    monkeypatch.delitem(permissions.MAY, "removePiece")
    with pytest.raises(LookupError, match="removePiece"):
        make_app()


def fingerprint(url: str, shop: int) -> dict:
    """All rows of one workshop, as text; what only says when somebody was last seen is left out."""
    with psycopg.connect(url) as connection:
        tables = [
            row[0]
            for row in connection.execute(
                "select table_name from information_schema.columns where table_schema = 'public' and "
                "column_name = 'workshop_id'"
            )
        ]
        return {
            table: sorted(
                row[0]
                for row in connection.execute(
                    sql.SQL("select (to_jsonb(t) - 'seen_at')::text from {} t where workshop_id = %s").format(
                        sql.Identifier(table)
                    ),
                    (shop,),
                )
            )
            for table in tables
        }


def words_of(data: bytes) -> bytes:
    """Of an archive what is in it."""
    if not data.startswith(b"PK"):
        return data
    with zipfile.ZipFile(io.BytesIO(data)) as pack:
        return b"".join(pack.read(name) for name in pack.namelist())


BODIES = {
    "savePiece": {
        "base_revision": 1,
        "piece": box_piece(name="taken over").model_dump(mode="json"),
        "what": "name",
    },
    "bringBackPiece": {},
    "undoPiece": {},
    "redoPiece": {},
    "beginRun": {"rehearse": None},
    "enterRun": {"poured": [{"pour": 1, "at": "2026-03-01T10:00:00Z"}]},
    "jumpRun": {"to": NOW.isoformat()},
    "sendRunEvents": {"since": 0, "events": []},
    "beginWeighing": {"pour": 1, "batch": 1},
    "changePerson": {"role": "viewer"},
    "offerWayIn": {},
    "planMending": {"trouble": "bubbles", "cause": "stirred-in"},
    "takeFromBottle": {"mass": "10 g"},
    "weighBottle": {"mass": "100 g"},
    "askForWork": {"kind": "three", "void_id": "v"},
    "bringBackBottle": {},
    "endJob": None,
}
HARMLESS = {
    "listWeighings",
    "removeTrial",
    "readMoves",
    "takeFromBottle",
}  # answered for what is not here as for what is empty or gone
# Named by the workshop's own words rather than by a number: the other workshop has, or makes, its own of that
# name.
BY_OWN_NAME = {
    "retireGood",
    "bringBackGood",
    "retireSystem",
    "confirmSystem",
    "weighOut",
    "readVersions",
    "keepColourant",
    "keepRecipe",
    "keepMaterial",
    "changeSystem",
    "scaleRecipe",
    "readOpacity",
}


def test_the_owner_of_another_workshop_reaches_nothing_of_this_one(shops, database_url):
    _, first, second = shops
    before = fingerprint(database_url, first.id)
    stranger, not_found = second.callers["owner"], set()
    for name, (method, path) in OPERATIONS.items():
        if name in ENDS_ITSELF + ("layOutDemo",) and name not in ("putOutPerson", "changePerson", "endPhone"):
            continue
        if name in BY_OWN_NAME and method in ("PUT", "DELETE", "POST"):
            continue
        body = BODIES.get(name, {}) if method in ("POST", "PUT") else None
        answer = stranger.call(method, path_of(name, first.ids), body)
        assert first.marker.encode() not in words_of(answer.get_data()), name
        if "{" in path and name not in BY_OWN_NAME:
            assert answer.status_code in (404, 422, 204) or name in HARMLESS, (name, answer.status_code)
            not_found |= {name} if answer.status_code == 404 else set()
    assert fingerprint(database_url, first.id) == before
    assert (
        len(not_found) > 35
        and {
            "readPiece",
            "savePiece",
            "readRun",
            "sendRunEvents",
            "readWeighing",
            "aboutMesh",
            "readJob",
            "exportRecord",
        }
        <= not_found
    )


def test_what_a_workshop_keeps_by_name_is_kept_beside_the_other_ones(shops, database_url):
    _, first, second = shops
    before = fingerprint(database_url, first.id)
    owner = second.callers["owner"]
    assert second.marker in owner.get("/systems").get_data(as_text=True)
    assert owner.call("DELETE", f"/systems/{first.ids['system_id']}").status_code < 300
    assert owner.call("DELETE", f"/goods/colourant/{first.ids['good_id']}").status_code in (204, 404)
    assert fingerprint(database_url, first.id) == before


PEOPLE = ("account", "membership", "invitation", "entry", "api_token", "pairing", "calendar_feed", "passkey")


def test_a_query_that_forgets_the_workshop_sees_that_workshop_alone(shops, database_url):
    _, first, second = shops
    work = [table for table in fingerprint(database_url, first.id) if table not in (*PEOPLE, "audit")]
    assert len(work) > 15
    with psycopg.connect(as_shop(database_url), autocommit=True) as connection:
        counts = {
            table: connection.execute(
                sql.SQL("select count(*) from {}").format(sql.Identifier(table))
            ).fetchone()[0]
            for table in work
        }
        assert set(counts.values()) == {0}  # no workshop named: nothing at all
        stay_within(connection, first.id)
        for table in [*work, "audit"]:
            ids = {
                row[0]
                for row in connection.execute(
                    sql.SQL("select distinct workshop_id from {}").format(sql.Identifier(table))
                )
            }
            assert ids <= {first.id}, table
        assert connection.execute("select array_agg(id) from workshop").fetchone()[0] == [first.id]
        assert (
            connection.execute("update piece set name = 'x' where workshop_id = %s", (second.id,)).rowcount
            == 0
        )
        assert connection.execute("delete from run where true").rowcount == 1
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute("insert into trial (workshop_id, trial) values (%s, '{}')", (second.id,))


# What a request could be made to say, if its words ever became SQL: to become another, to read what nobody
# reads, to change who may, to leave the database.
BECOME_ANOTHER = [
    f"{how} {who}"
    for who in ("cavatum", "cavatum_door", "cavatum_shop", "postgres", "pg_read_all_data", "pg_monitor")
    for how in ("set role", "set session authorization", "set local role", "grant", "alter role")
] + [
    "select set_config('role', 'cavatum', false)",
    "select set_config('role', 'postgres', false)",
    "select set_config('session_authorization', 'cavatum', false)",
    "reset role",
    "reset session authorization",
    "set role none",
    "select set_config('role', 'none', false)",
]
REFUSED = [
    *(f"select * from {table}" for table in (*PEOPLE, "challenge", "failed_try", "pg_authid", "pg_shadow")),
    *(f"update {table} set workshop_id = workshop_id" for table in PEOPLE[1:7]),
    "select password_hash from account",
    "select token_hash from entry",
    "select token_hash from api_token",
    "select code_hash from pairing",
    "update membership set role = 'owner'",
    "insert into membership (workshop_id, account_id, role) values (1, 1, 'owner')",
    "update account set password_hash = 'x'",
    "insert into entry (workshop_id, account_id, token_hash, made_at, seen_at, until_at)"
    " values (1, 1, 'x', now(), now(), now())",
    "delete from audit",
    "update audit set who = 'x'",
    "truncate piece",
    "drop table piece",
    "alter table piece disable row level security",
    "alter table piece owner to current_user",
    "create policy mine on piece using (true)",
    "drop policy of_the_workshop on piece",
    "create or replace function first_workshop() returns bigint language sql as 'select 1'",
    "create function mine() returns bigint language sql security definer as 'select 1'",
    "create table mine (x int)",
    "create role mine superuser",
    "create database mine",
    "create extension dblink",
    "alter system set log_statement = 'all'",
    "select pg_read_file('/etc/passwd')",
    "select pg_ls_dir('.')",
    "select lo_import('/etc/passwd')",
    "copy piece to program 'id'",
    "copy piece to '/tmp/pieces'",
    "select * from _yoyo_migration",
    "delete from procrastinate_jobs",
]


@pytest.mark.parametrize("address", [as_shop, as_door], ids=["shop", "door"])
def test_whoever_speaks_as_a_request_stays_what_they_are(shops, database_url, address):
    """By raw SQL, as an injected query would: the roles log in themselves and are members of nothing."""
    _, first, _ = shops
    with psycopg.connect(address(database_url), autocommit=True) as connection:
        connection.execute("select set_config('cavatum.workshop', %s, false)", (str(first.id),))
        me = connection.execute("select current_user, session_user").fetchone()
        for said in BECOME_ANOTHER:
            try:
                connection.execute(said)
            except psycopg.Error:
                continue
            finally:
                assert connection.execute("select current_user, session_user").fetchone() == me, said
        mine = (*PEOPLE, "challenge", "failed_try")
        for said in REFUSED:
            if address is as_door and any(name in said for name in (*mine, "_yoyo_migration")):
                continue  # its very work
            with pytest.raises(
                (
                    psycopg.errors.InsufficientPrivilege,
                    psycopg.errors.UndefinedColumn,
                    psycopg.errors.UndefinedFile,
                )
            ):
                connection.execute(said)
                pytest.fail(said)
        if address is as_door:
            for table in ("piece", "piece_revision", "run_event", "file", "system_version", "bottle"):
                with pytest.raises(psycopg.errors.InsufficientPrivilege):
                    connection.execute(sql.SQL("select * from {}").format(sql.Identifier(table)))


def test_the_two_roles_own_nothing_and_are_members_of_nothing(database_url):
    with psycopg.connect(database_url) as connection:
        told = connection.execute(
            "select rolname, rolsuper, rolcreaterole, rolcreatedb, rolbypassrls, rolreplication, rolcanlogin,"
            " (select count(*) from pg_auth_members m where m.member = r.oid),"
            " (select count(*) from pg_class c where c.relowner = r.oid)"
            " from pg_roles r where rolname in ('cavatum_shop', 'cavatum_door') order by 1"
        ).fetchall()
    nothing = (False, False, False, False, False, True, 0, 0)
    assert told == [("cavatum_door", *nothing), ("cavatum_shop", *nothing)]


def test_every_table_is_behind_the_wall(database_url):
    with psycopg.connect(database_url) as connection:
        open_ones = connection.execute(
            "select relname from pg_class c join pg_namespace n on n.oid = c.relnamespace where "
            "n.nspname = 'public' and c.relkind = 'r' and not c.relrowsecurity"
            " and has_table_privilege('cavatum_shop', c.oid, 'select')"
        ).fetchall()
    assert open_ones == []


def test_a_pooled_connection_sees_nothing_before_and_after_its_request(shops, database_url):
    _, first, _ = shops
    pool = make_pool(as_shop(database_url), 1)
    with pool.connection() as connection:
        within(connection, first.id)
        assert connection.execute("select count(*) from piece").fetchone() != (0,)
    with pool.connection() as connection:
        assert connection.execute(
            "select current_user, current_setting('cavatum.workshop', true)"
        ).fetchone() in [("cavatum_shop", ""), ("cavatum_shop", None)]
        assert connection.execute("select count(*) from piece").fetchone() == (0,)
    pool.close()


def test_a_script_comes_in_by_its_token_for_as_long_as_it_holds(shops):
    app, first, _ = shops
    owner = first.callers["owner"]
    token = owner.call("POST", "/people/tokens", {"name": "till", "role": "viewer", "days": 1}).json["token"]
    script = Caller(app=app, bearer=token)
    assert script.get("/pieces").json["pieces"][0]["name"] == f"block {first.marker}"
    assert script.call("POST", "/pieces", {}).status_code == 403 and script.get("/account").status_code in (
        401,
        403,
    )
    plain = app.test_client().get(
        "/api/v1/pieces", headers={"Authorization": f"Bearer {token}"}, base_url=HERE
    )
    assert plain.status_code == 200  # no cookie, so no CSRF token either
    ids = [one["id"] for one in owner.get("/people").json["tokens"] if one["name"] == "till"]
    later = NOW + timedelta(days=2)
    app.config["NOW"] = lambda: later
    assert script.get("/pieces").status_code == 401
    app.config["NOW"] = lambda: NOW
    owner.call("DELETE", f"/people/tokens/{ids[0]}")
    assert script.get("/pieces").status_code == 401


def test_the_gate_knows_every_operation_of_the_document_by_its_address():
    from cavatum.api.app import PLACES

    known = {
        (re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule), method): operation
        for module in PLACES
        for (rule, method), operation in module.blueprint.operations.items()
    }
    assert known == {
        (path, method.upper()): one["operationId"]
        for path, methods in DOCUMENT["paths"].items()
        for method, one in methods.items()
    }
