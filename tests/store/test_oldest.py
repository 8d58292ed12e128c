"""Data of the oldest release comes along through every change of the database, and every page of today reads
it.
"""

import os
from pathlib import Path

import psycopg
import pytest

from cavatum.machine import cluster
from cavatum.store import server
from cavatum.store.migrate import migrate
from tests.conftest import KEY, Client, as_door, as_shop
from tests.samples import NOW

OLDEST = Path(__file__).parents[1] / "examples" / "release-0.1.0.sql"


@pytest.fixture
def oldest(database_url):
    name = f"oldest_{os.getpid()}"
    with psycopg.connect(database_url, autocommit=True) as admin:
        admin.execute(f"create database {name}")
    record = cluster.read_record()
    with psycopg.connect(record.url(name)) as connection:
        connection.execute(OLDEST.read_text())
    yield record.url(name)
    cluster.drop_database(record, name)


def kept(url: str) -> list:
    with psycopg.connect(url) as connection:
        return [
            connection.execute(query).fetchall()
            for query in (
                "select piece_id, revision, document, what from piece_revision order by 1, 2",
                "select system_id, version, sheet from system_version order by 1, 2",
                "select id, head, name, due from piece order by 1",
                "select settings from workshop",
            )
        ]


def test_release_0_1_0_comes_along_and_is_planned_today(oldest):
    before = kept(oldest)
    assert [len(one) for one in before] == [6, 6, 6, 1]
    assert migrate(oldest) >= 7 and migrate(oldest) == 0
    assert kept(oldest) == before
    with psycopg.connect(oldest) as connection:
        applied, known = server.changes(connection)
        assert applied == known
    from cavatum.api.app import create_app

    app = create_app(as_shop(oldest), as_door(oldest), secret_key=KEY, now=lambda: NOW)
    client = Client(app)
    try:
        pieces = client.get("/pieces").json["pieces"]
        assert len(pieces) == 6
        for piece in pieces:
            plan = client.get(f"/pieces/{piece['id']}/plan")
            assert plan.status_code == 200 and plan.json["plan"]["verdicts"] is not None
            assert client.get(f"/pieces/{piece['id']}/file").status_code == 200
        with_pour = next(
            piece for piece in pieces if client.get(f"/pieces/{piece['id']}/plan").json["plan"]["pours"]
        )
        assert client.call("POST", f"/pieces/{with_pour['id']}/runs", {"rehearse": None}).status_code == 201
        assert (
            client.get("/bench").status_code
            == client.get("/systems").status_code
            == client.get("/logbook").status_code
            == 200
        )
    finally:
        app.extensions["cavatum-pool"].close()
