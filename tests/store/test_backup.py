"""Backups: equal row by row, tried before they count, refused when damaged; which nights stay."""

import json
import os
import secrets
import zipfile
from datetime import UTC, date, datetime, timedelta

import psycopg
import pytest
from psycopg import sql
from psycopg.conninfo import conninfo_to_dict, make_conninfo

from cavatum.demo import scenario
from cavatum.jobs.nightly import DAYS, WEEKS, due, name_of, postgres_programs, to_remove, tonight
from cavatum.machine import cluster
from cavatum.store import backup
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.samples import NOW

PROGRAMS = postgres_programs()


@pytest.fixture
def filled(database_url):
    """A database of its own with the demo in it."""
    name = f"keeping_{os.getpid()}_{secrets.token_hex(3)}"
    other = f"{database_url.rpartition('/')[0]}/{name}"
    with psycopg.connect(database_url, autocommit=True) as admin:
        admin.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
    migrate(other)
    with psycopg.connect(other) as connection:
        scenario.ensure(connection, implied_workshop(connection), NOW)
    yield other
    with psycopg.connect(database_url, autocommit=True) as admin:
        left = admin.execute(
            "select datname from pg_database where datname like %s", (f"{name}%",)
        ).fetchall()
    for (one,) in left:
        cluster.drop_database(cluster.read_record(), one)


def rows(url: str) -> dict:
    """Every row of every table as text, by another route than the fingerprints."""
    with psycopg.connect(url) as connection:
        names = [
            name
            for (name,) in connection.execute(
                "select tablename from pg_tables where schemaname = 'public' order by 1"
            ).fetchall()
        ]
        return {
            name: sorted(
                row[0]
                for row in connection.execute(
                    sql.SQL("select {0}::text from {0}").format(sql.Identifier(name))
                ).fetchall()
            )
            for name in names
        }


def test_a_restored_backup_equals_the_original_row_by_row(filled, tmp_path):
    before = rows(filled)
    assert before["run_event"] and before["piece"] and before["file"]
    tables = backup.make(filled, tmp_path / "shop.backup", PROGRAMS)
    assert {name: one.rows for name, one in tables.items()} == {
        name: len(found) for name, found in before.items()
    }
    with psycopg.connect(filled, autocommit=True) as connection:
        connection.execute("delete from piece")
    kept = backup.restore(filled, tmp_path / "shop.backup", PROGRAMS, NOW)
    assert rows(filled) == before
    assert (
        rows(make_conninfo(**{**conninfo_to_dict(filled), "dbname": kept}))["piece"] == []
    )  # the one before is kept
    assert migrate(filled) == 0


def test_only_its_owner_may_read_it_and_no_password_is_in_it(filled, tmp_path):
    file = tmp_path / "shop.backup"
    backup.make(filled, file, PROGRAMS)
    assert file.stat().st_mode & 0o077 == 0
    assert conninfo_to_dict(filled)["password"].encode() not in file.read_bytes()
    assert [one.name for one in tmp_path.iterdir()] == ["shop.backup"]  # nothing half-made is left


def test_a_damaged_one_and_what_is_none_are_refused_and_nothing_changes(filled, tmp_path):
    file = tmp_path / "shop.backup"
    backup.make(filled, file, PROGRAMS)
    with zipfile.ZipFile(file) as pack:
        manifest, dump = pack.read(backup.MANIFEST), pack.read(backup.DUMP)
    broken = tmp_path / "broken.backup"
    with zipfile.ZipFile(broken, "w") as pack:
        pack.writestr(backup.MANIFEST, manifest)
        pack.writestr(backup.DUMP, dump[:-200] + bytes(200))
    half = tmp_path / "half.backup"
    half.write_bytes(file.read_bytes()[:-5000])
    other = tmp_path / "holiday.zip"
    with zipfile.ZipFile(other, "w") as pack:
        pack.writestr("photo.jpg", b"sea")
    before = rows(filled)
    for bad in (broken, half, other, tmp_path / "gone.backup"):
        with pytest.raises(backup.BackupError):
            backup.restore(filled, bad, PROGRAMS, NOW)
    assert rows(filled) == before


def test_a_manifest_that_lies_about_a_table_is_found_out(filled, tmp_path):
    file = tmp_path / "shop.backup"
    backup.make(filled, file, PROGRAMS)
    with zipfile.ZipFile(file) as pack:
        manifest, dump = pack.read(backup.MANIFEST), pack.read(backup.DUMP)
    with zipfile.ZipFile(file, "w") as pack:
        told = json.loads(manifest)
        told["tables"]["piece"][0] += 1
        pack.writestr(backup.MANIFEST, json.dumps(told))
        pack.writestr(backup.DUMP, dump)
    with pytest.raises(backup.BackupError, match="piece"):
        backup.try_out(filled, file, PROGRAMS)


def test_while_somebody_is_connected_nothing_is_replaced(filled, tmp_path):
    backup.make(filled, tmp_path / "shop.backup", PROGRAMS)
    with psycopg.connect(filled), pytest.raises(backup.BackupError, match="connected"):
        backup.restore(filled, tmp_path / "shop.backup", PROGRAMS, NOW)
    assert rows(filled)["piece"]


def test_seven_days_and_four_weeks_stay_and_never_fewer_than_one():
    names = [name_of(datetime(2026, 11, 25, 2, tzinfo=UTC) - timedelta(days=n)) for n in range(80)]
    second = names[0].replace("T02", "T03")
    gone = to_remove([*names, "holiday.zip", second])
    stays = [name for name in [second, *names] if name not in gone]
    assert (
        stays[:DAYS] == [second, *names[1:DAYS]] and len(stays) == DAYS + WEEKS and "holiday.zip" not in gone
    )
    weeks = [date(*(int(part) for part in name[8:18].split("-"))).isocalendar()[:2] for name in stays[DAYS:]]
    assert len(set(weeks)) == WEEKS and max(names.index(name) for name in stays[DAYS:]) < DAYS * (WEEKS + 1)
    assert to_remove([names[70]]) == []


def test_a_clock_a_year_ahead_takes_no_backup_away_and_holds_none_up():
    names = [name_of(datetime(2026, 11, 25, 2, tzinfo=UTC) - timedelta(days=n)) for n in range(6)]
    ahead = name_of(datetime(2027, 12, 30, 2, tzinfo=UTC))
    assert to_remove([*names, ahead]) == []
    now = datetime(2026, 11, 26, 2, tzinfo=UTC)
    assert due([*names, ahead], now) and not due([*names, ahead, name_of(now)], now + timedelta(hours=3))


def test_a_night_without_need_makes_none(filled, tmp_path):
    made = tonight(filled, tmp_path / "nights", PROGRAMS, NOW)
    assert (
        made
        and made.exists()
        and tonight(filled, tmp_path / "nights", PROGRAMS, NOW + timedelta(hours=3)) is None
    )
    assert tonight(filled, tmp_path / "nights", PROGRAMS, NOW + timedelta(hours=24)) is not None


SOMEWHERE = ("Asia/Kathmandu", "America/St_Johns", "UTC", "Pacific/Kiritimati")


@pytest.mark.parametrize(
    "made_in, tried_in", list(zip(SOMEWHERE, SOMEWHERE[1:] + SOMEWHERE[:1], strict=True))
)
def test_a_backup_made_in_one_zone_restores_in_another(filled, tmp_path, made_in, tried_in):
    before = rows(filled)
    name = sql.Identifier(conninfo_to_dict(filled)["dbname"])
    with psycopg.connect(filled, autocommit=True) as admin:
        admin.execute(sql.SQL("alter database {} set timezone to {}").format(name, made_in))
        admin.execute(sql.SQL("alter database {} set datestyle to 'SQL, DMY'").format(name))
    backup.make(filled, tmp_path / "shop.backup", PROGRAMS)
    with psycopg.connect(filled, autocommit=True) as admin:
        for setting, value in (
            ("timezone", tried_in),
            ("datestyle", "German"),
            ("intervalstyle", "sql_standard"),
        ):
            admin.execute(sql.SQL("alter database {} set {} to {}").format(name, sql.SQL(setting), value))
    backup.restore(filled, tmp_path / "shop.backup", PROGRAMS, NOW)
    assert rows(filled) == before  # the new database has the cluster's own zone again


def _as_version_1(file, url, zone):
    """What release 0.7 wrote: fingerprints in the zone its server happened to have."""
    with zipfile.ZipFile(file) as pack:
        told, dump = json.loads(pack.read(backup.MANIFEST)), pack.read(backup.DUMP)
    with psycopg.connect(url) as connection:
        connection.execute("select set_config('TimeZone', %s, false)", (zone,))
        for name in told["tables"]:
            told["tables"][name] = list(
                connection.execute(
                    sql.SQL(
                        "select count(*), coalesce(md5(string_agg(md5(t::text), '' order by"
                        " md5(t::text))), '') from {} t"
                    ).format(sql.Identifier(name))
                ).fetchone()
            )
    del told["as_text"]
    told["version"] = 1
    with zipfile.ZipFile(file, "w") as pack:
        pack.writestr(backup.MANIFEST, json.dumps(told))
        pack.writestr(backup.DUMP, dump)


def test_a_file_of_an_earlier_release_restores_wherever_it_was_made(filled, tmp_path):
    file, before = tmp_path / "shop.backup", rows(filled)
    for zone in ("Australia/Lord_Howe", "UTC"):
        file.unlink(missing_ok=True)
        backup.make(filled, file, PROGRAMS)
        _as_version_1(file, filled, zone)
        backup.restore(filled, file, PROGRAMS, NOW.replace(hour=1 if zone == "UTC" else 2))
        assert rows(filled) == before


def test_the_trial_runs_where_nothing_is_like_the_origin(filled, tmp_path, monkeypatch):
    seen = {}
    compare = backup.fingerprints

    def look(connection, styles=None, only=None):
        collate, zone, style = connection.execute(
            "select datcollate, current_setting('TimeZone'), current_setting('DateStyle') from pg_database "
            "where datname = current_database()"
        ).fetchone()
        seen[connection.info.dbname] = (collate, zone, style)
        return compare(connection, styles, only)

    monkeypatch.setattr(backup, "fingerprints", look)
    backup.make(filled, tmp_path / "shop.backup", PROGRAMS)
    origin, trial = seen.pop(conninfo_to_dict(filled)["dbname"]), next(iter(seen.values()))
    assert all(a != b for a, b in zip(origin, trial, strict=True)), (origin, trial)
