"""What a second database did not confirm is not said to be kept: PostgreSQL gives up its wait for a standby
with a warning and calls the commit a success.
"""

from datetime import timedelta

import psycopg
import pytest

from cavatum.store import logins
from cavatum.store.pool import Unconfirmed, make_pool
from cavatum.store.workshops import implied_workshop
from tests.api.test_runs import add_piece, begin, said, send
from tests.conftest import as_shop
from tests.samples import NOW

GIVES_UP = """
create function gives_up() returns trigger language plpgsql as
$$ begin raise warning 'canceling wait for synchronous replication due to user request'; return null; end $$;
create constraint trigger gives_up after insert on run_event deferrable initially deferred
for each row execute function gives_up();
"""


@pytest.fixture
def nobody_confirms(database_url):
    """A warning that comes with the commit, as the database's own does."""

    def of(on: bool) -> None:
        with psycopg.connect(database_url, autocommit=True) as admin:
            admin.execute(GIVES_UP if on else "drop function if exists gives_up() cascade")

    yield of
    of(False)


def test_an_entry_that_only_the_first_database_has_is_not_acknowledged_and_counts_once(
    client, nobody_confirms
):
    run = begin(client, add_piece(client))["id"]
    entry = said(1, {"kind": "note", "text": "kept?"})
    nobody_confirms(True)
    refused = send(client, run, entry)
    assert refused.status_code == 503 and "did not confirm" in refused.json["detail"]
    assert "Nothing was changed" not in refused.json["detail"]
    nobody_confirms(False)
    again = send(client, run, entry)
    assert again.status_code == 200
    notes = [one for one in again.json["events"] if one["event"]["kind"] == "note"]
    assert [one["event"]["text"] for one in notes] == ["kept?"]


def test_a_database_that_goes_away_while_it_keeps_something_leaves_it_open(database_url):
    """Not "nothing was changed": nobody knows."""
    with make_pool(as_shop(database_url), 1) as pool:
        with pytest.raises(Unconfirmed), pool.connection() as connection:
            connection.execute("select 1")
            with psycopg.connect(database_url, autocommit=True) as admin:
                admin.execute("select pg_terminate_backend(%s)", [connection.info.backend_pid])
        with pool.connection() as connection:
            assert connection.execute("select 2").fetchone() == (2,)


def test_whoever_only_looks_waits_for_no_second_database(connection):
    """When somebody was last seen is written once a minute, while they only look."""
    shop = implied_workshop(connection)
    account = logins.make_account(connection, "wren@yard.example", "Wren", "no hash")
    logins.join(connection, shop, account, "viewer")
    token, _ = logins.begin_entry(connection, shop, account, "browser", NOW)

    def waits() -> str:
        return connection.execute("show synchronous_commit").fetchone()[0]

    before = waits()
    assert logins.who_entered(connection, token, NOW) and waits() == before
    later = NOW + timedelta(minutes=5)
    assert logins.who_entered(connection, token, later, only_asks=False) and waits() == before
    assert logins.who_entered(connection, token, later + timedelta(minutes=5)) and waits() == "local"
