"""All that a workshop owns, out as open files and into an empty server: the same rows, numbers and files."""

import csv
import hashlib
import io
import json
import os
import zipfile

import psycopg
import pytest
from psycopg import sql

from cavatum.demo import scenario
from cavatum.machine import cluster
from cavatum.store import archive, pieces
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.samples import NOW, box_piece


@pytest.fixture
def two(database_url):
    """A server with the demo in it and an empty one."""
    record, names = cluster.read_record(), [f"whole_{which}_{os.getpid()}" for which in ("full", "empty")]
    with psycopg.connect(database_url, autocommit=True) as admin:
        for name in names:
            admin.execute(f"create database {name}")
    urls = [record.url(name) for name in names]
    for url in urls:
        migrate(url)
    with psycopg.connect(urls[0]) as connection:
        scenario.ensure(connection, implied_workshop(connection), NOW)
    yield urls
    for name in names:
        cluster.drop_database(record, name)


def rows(url: str) -> dict:
    with psycopg.connect(url) as connection:
        return {
            table: sorted(
                row[0]
                for row in connection.execute(
                    sql.SQL("select (to_jsonb(t) - 'workshop_id')::text from {} t").format(
                        sql.Identifier(table)
                    )
                )
            )
            for table in archive.TABLES
        }


def test_out_and_in_again_it_is_the_same_row_by_row_and_goes_on(two):
    full, empty = two
    out = io.BytesIO()
    with psycopg.connect(full) as connection, zipfile.ZipFile(out, "w") as pack:
        archive.export(connection, implied_workshop(connection), pack, NOW)
    with psycopg.connect(empty) as connection, zipfile.ZipFile(out) as pack:
        taken = archive.take_in(connection, implied_workshop(connection), pack)
    before = rows(full)
    assert rows(empty) == before and taken.rows == sum(len(one) for one in before.values()) > 250
    with psycopg.connect(empty) as connection:
        shop = implied_workshop(connection)
        assert pieces.create(connection, shop, box_piece()).id > max(
            json.loads(row)["id"] for row in before["piece"]
        )
        again = io.BytesIO(out.getvalue())
        with pytest.raises(archive.WholeError, match="not empty"), zipfile.ZipFile(again) as pack:
            archive.take_in(connection, shop, pack)


def test_every_file_in_it_is_open_and_signed(two):
    out = io.BytesIO()
    with psycopg.connect(two[0]) as connection, zipfile.ZipFile(out, "w") as pack:
        archive.export(connection, implied_workshop(connection), pack, NOW)
    with zipfile.ZipFile(out) as pack:
        sums = json.loads(pack.read("manifest.json"))["sha256"]
        assert {
            name: hashlib.sha256(pack.read(name)).hexdigest()
            for name in pack.namelist()
            if name != "manifest.json"
        } == sums
        from cavatum.formats.piece_file import read_piece

        assert len([read_piece(pack.read(name)) for name in sums if name.startswith("pieces/")]) >= 6
        head = next(csv.reader(io.StringIO(pack.read("rows/run_reading.csv").decode())))
        assert head == ["run_id", "what", "pour", "at", "value", "source"]
        for name in sums:
            if name.startswith("files/"):
                assert hashlib.sha256(pack.read(name)).hexdigest() == name.removeprefix("files/")


def test_every_table_of_a_workshop_is_taken_or_left_out_on_purpose(database_url):
    with psycopg.connect(database_url) as connection:
        tables = {
            row[0]
            for row in connection.execute(
                "select table_name from information_schema.columns where table_schema = 'public' and "
                "column_name = 'workshop_id'"
            )
        }
    assert tables == set(archive.TABLES) | set(archive.LEFT_OUT)
