"""From a run's alarm to a phone, a mailbox, a broker and a webhook, by the worker's round and the API: told
once, in turn, late ones said, answered by one, secrets sealed.
"""

import json
from datetime import datetime, timedelta
from email import message_from_bytes
from email.policy import default
from types import SimpleNamespace

import psycopg
import pytest

from cavatum.core.voice.calls import Called
from cavatum.jobs import worker
from cavatum.machine.seals import seal_key
from cavatum.services import voice as round_
from cavatum.store import sealed, workshops
from cavatum.store import voice as store
from cavatum.store.pool import stay_within
from cavatum.voice import push
from tests.api.test_runs import add_piece, begin, pour, said, send
from tests.conftest import KEY, Client, _empty, as_shop
from tests.samples import NOW
from tests.voice import servers


@pytest.fixture(scope="module")
def certificate(tmp_path_factory):
    return servers.certificate(tmp_path_factory.mktemp("certificate"))


@pytest.fixture
def shop(make_app, database_url, certificate):
    """A workshop whose clock is set by hand, one pour made, and the round of its worker."""
    moment = [NOW]
    app = make_app(now=lambda: moment[0])
    app.config["VOICE_TRUSTS"] = certificate.trusts
    client = Client(app)
    house = round_.House(
        seal_key=seal_key(KEY), address="https://workshop.example", trusted=certificate.trusts
    )
    with psycopg.connect(as_shop(database_url), autocommit=True) as connection:
        with psycopg.connect(database_url, autocommit=True) as owner:
            number = workshops.implied_workshop(owner)
        stay_within(connection, number)
        yield SimpleNamespace(
            client=client,
            moment=moment,
            connection=connection,
            id=number,
            house=house,
            tell=lambda: round_.tell(connection, number, house, moment[0]),
        )
    _empty(database_url)


def add(shop, name, **ways):
    hook_to = ways.pop("hook_to", None)
    if hook_to is not None:
        ways["hook"] = f"http://localhost:{hook_to.port}/of/{name.lower()}"
    answer = shop.client.call("POST", "/voice/people", {"name": name, "kinds": ["tests"], **ways})
    assert answer.status_code == 201, answer.json
    return next(one["id"] for one in answer.json["people"] if one["person"]["name"] == name)


def settle(shop, **changes):
    body = {"mail": {}, "broker": {}, "local": True, **changes}
    answer = shop.client.call("PUT", "/voice/settings", body)
    assert answer.status_code == 200, answer.json
    return answer.json


def poured(shop):
    """A run with its first pour made, and the alarm of the stick test that opens the second."""
    run = begin(shop.client, add_piece(shop.client))
    pour(shop.client, run, 1, shop.moment[0])
    (row,) = shop.client.get("/runs").json["runs"]
    return run, next(one for one in row["alarms"] if one["step"] == "p1/stick")


def to(shop, alarm, **later):
    shop.moment[0] = datetime.fromisoformat(alarm["at"]) + timedelta(**later)


def keys(heard):
    return [json.loads(body)["key"] for *_, body in heard.asked]


def test_an_alarm_reaches_the_first_then_the_next_and_nobody_once_somebody_has_it(shop):
    with servers.web() as ada, servers.web() as ben:
        ada.answers = ben.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        add(shop, "Ben", hook_to=ben)
        run, alarm = poured(shop)
        shop.tell()
        assert not ada.asked and not ben.asked  # nothing is due yet
        to(shop, alarm)
        assert shop.tell() == 1 and shop.tell() == 0
        (message,) = [json.loads(body) for *_, body in ada.asked]
        assert message["title"] == alarm["words"] and "Sample block" in message["text"]
        assert message["link"] == f"https://workshop.example/runs/{run['id']}" and not ben.asked
        (call,) = shop.client.get("/voice/calls").json["calls"]
        assert [(one["person"], one["state"]) for one in call["sent"]] == [("Ada", "sent")]
        to(shop, alarm, minutes=16)
        shop.tell()
        (second,) = [json.loads(body) for *_, body in ben.asked]
        assert "Ada has not answered." in second["text"]
        first = shop.client.call("POST", f"/voice/calls/{call['id']}/answer", {"who": "Ben"}).json
        later = shop.client.call("POST", f"/voice/calls/{call['id']}/answer", {"who": "Ada"}).json
        assert first["answered_by"] == later["answered_by"] == "Ben"
        assert not shop.client.get("/voice/calls").json["calls"]
        to(shop, alarm, minutes=40)
        assert shop.tell() == 0 and len(ada.asked) == len(ben.asked) == 1
    heard = [one for one in shop.client.get(f"/runs/{run['id']}").json["events"] if one["who"] == "Ben"]
    assert [one["event"] for one in heard] == [{"kind": "heard", "alarm": alarm["id"]}]


def test_what_was_heard_or_done_at_the_bench_is_told_to_nobody_and_the_record_says_by_whom(shop):
    with servers.web() as ada:
        ada.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        run, alarm = poured(shop)
        shop.tell()
        to(shop, alarm, seconds=5)
        event = {**said(900, {"kind": "heard", "alarm": alarm["id"]}, shop.moment[0]), "who": "Wren"}
        send(shop.client, run["id"], event)
        assert shop.tell() == 0 and not ada.asked
    row = shop.connection.execute(
        "select answered_by, over_at is not null from moment_call where alarm = %s", [alarm["id"]]
    ).fetchone()
    assert row == ("Wren", True)


def test_a_message_that_was_begun_and_never_ended_goes_out_again_under_its_key(shop):
    """A worker that is killed between sending and writing down."""
    with servers.web() as ada:
        ada.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        _, alarm = poured(shop)
        to(shop, alarm)
        with shop.connection.transaction():
            round_.refresh(shop.connection, shop.id, shop.moment[0])
        with shop.connection.transaction():
            (due,) = round_.due_now(shop.connection, shop.id, shop.house, shop.moment[0])
        # killed here; its word is in the database
        assert shop.tell() == 0  # somebody may still be at it
        to(shop, alarm, minutes=1)
        assert shop.tell() == 1
        assert keys(ada) == [due.message.key]
        assert shop.tell() == 0


def test_a_server_that_was_away_says_how_late_it_is(shop):
    with servers.web() as ada:
        ada.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        _, alarm = poured(shop)
        to(shop, alarm, minutes=12)  # nothing ran until now
        assert shop.tell() == 1
        assert json.loads(ada.asked[0][2])["text"].startswith("This comes 12 min late.")


def test_a_way_that_is_down_is_tried_again_and_one_that_is_wrong_is_not(shop):
    with servers.web() as ada, servers.web() as ben:
        ada.answers, ben.answers = 503, 404
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        _, alarm = poured(shop)
        to(shop, alarm)
        assert shop.tell() == 0 and len(ada.asked) == 1
        (call,) = shop.client.get("/voice/calls").json["calls"]
        (sent,) = call["sent"]
        assert (sent["state"], sent["why"]) == ("tried again", "The webhook answered 503.")
        to(shop, alarm, seconds=31)
        ada.answers = 204
        assert shop.tell() == 1 and len(set(keys(ada))) == 1
        add(shop, "Ben", hook_to=ben)
        to(shop, alarm, minutes=20)
        assert shop.tell() == 0 and len(ben.asked) == 1
        to(shop, alarm, minutes=50)
        shop.tell()
        tried = [key for key in keys(ben) if key.startswith(f"{call['id']}/")]
        assert len(tried) == 1
        recent = shop.client.get("/voice").json["recent"]
        states = {
            one["person"]: one["state"] for row in recent if row["id"] == call["id"] for one in row["sent"]
        }
        assert states == {"Ada": "sent", "Ben": "failed"}


def register(shop, heard, listener, browser):
    key = shop.client.call("POST", "/voice/push-key").json["key"]
    body = {
        "listener_id": listener,
        "name": "Ada's phone",
        "endpoint": f"https://localhost:{heard.port}/of/ada",
        "p256dh": push.url64(push.public_of(browser.key)),
        "auth": push.url64(browser.secret),
    }
    assert shop.client.call("POST", "/voice/browsers", body).status_code == 204
    return key


def test_mail_and_push_of_one_person_and_a_browser_that_took_itself_back(shop, certificate):
    with servers.mail(certificate.serves) as letters, servers.web(certificate.serves) as service:
        told = {"host": "localhost", "port": letters.port, "sender": "bench@workshop.example", "user": "shop"}
        kept = settle(shop, mail=told, mail_password="right")
        assert kept["has_mail_password"] and "right" not in json.dumps(kept)
        ada = add(shop, "Ada", mail="ada@workshop.example")
        browser = servers.Browser()
        key = register(shop, service, ada, browser)
        assert register(shop, service, ada, browser) == key  # asked twice, one key and one browser
        run, alarm = poured(shop)
        to(shop, alarm)
        assert shop.tell() == 2
        path, headers, body = service.asked[0]
        assert servers.who_sent(headers["authorization"], shop.moment[0])["k"] == key
        pushed = browser.opened(body)
        assert path == "/of/ada" and pushed["link"] == f"/runs/{run['id']}"
        letter = message_from_bytes(letters.got[0][1], policy=default)
        assert letter["Subject"] == pushed["title"] == alarm["words"] and letters.got[0][2]  # over TLS
        tried = shop.client.call("POST", f"/voice/people/{ada}/try").json["tried"]
        assert tried == [{"way": "push", "problem": ""}, {"way": "mail", "problem": ""}]
        again = shop.client.call("POST", f"/voice/people/{ada}/try")
        assert again.status_code == 422 and again.json["problems"][0]["code"] == "too-often"
        service.answers = 410
        shop.connection.execute("update listener set tried_at = null")
        gone = shop.client.call("POST", f"/voice/people/{ada}/try").json["tried"][0]
        assert "register it again" in gone["problem"]
        assert shop.client.get("/voice").json["people"][0]["ways"] == ["mail"]


def test_secrets_lie_sealed_in_the_database_and_another_key_opens_none(shop, certificate):
    with servers.web(certificate.serves) as service:
        told = {"host": "mail.example", "sender": "bench@workshop.example", "user": "shop"}
        settle(shop, mail=told, mail_password="open sesame larch")
        hook = f"https://localhost:{service.port}/token-9f3c"
        ada = add(shop, "Ada", hook=hook, hook_secret="birch and ash")
        register(shop, service, ada, servers.Browser())
        everything = ""
        for table in ("voice_setting", "listener", "listener_browser"):
            everything += str(shop.connection.execute(f"select t::text from {table} t").fetchall())
            raw = shop.connection.execute(f"select sealed from {table}").fetchall()
            assert raw and all(bytes(row[0]).startswith(b"gAAAA") for row in raw)  # Fernet's own mark
            assert sealed.opened(shop.house.seal_key, raw[0][0])
            with pytest.raises(sealed.SealBroken):
                sealed.opened(seal_key("another secret that is long enough too"), raw[0][0])
        for secret in ("open sesame larch", "token-9f3c", "birch and ash", "/of/ada"):
            assert secret not in everything
        shown = json.dumps(shop.client.get("/voice").json)
        assert "token-9f3c" not in shown and "birch" not in shown and "open sesame" not in shown
        # The server's secret was replaced: said where it is entered, and no message goes out half
        shop.client.http.application.config["SECRET_KEY"] = "another secret that is long enough too"
        shop.client = Client(shop.client.http.application)
        try:
            found = shop.client.get("/voice").json
            assert "enter it again" in found["problem"] and "enter it again" in found["people"][0]["problem"]
            tried = shop.client.call("POST", f"/voice/people/{ada}/try").json["tried"]
            assert all("again" in one["problem"] for one in tried) and not service.asked
        finally:
            shop.client.http.application.config["SECRET_KEY"] = KEY


def test_a_password_is_not_handed_to_another_server(shop):
    told = {"host": "mail.example", "sender": "bench@workshop.example", "user": "shop"}
    assert settle(shop, mail=told, mail_password="right")["has_mail_password"]
    assert settle(shop, mail={**told, "port": 465})["has_mail_password"]
    assert not settle(shop, mail={**told, "host": "mail.elsewhere.example"})["has_mail_password"]


def test_nothing_goes_to_the_own_network_unless_it_was_allowed(shop):
    settle(shop, local=False)
    with servers.web() as ada:
        listener = add(shop, "Ada", hook_to=ada)
        (tried,) = shop.client.call("POST", f"/voice/people/{listener}/try").json["tried"]
        assert "https://" in tried["problem"] and not ada.asked
        settle(shop, local=True)
        shop.connection.execute("update listener set tried_at = null")
        ada.answers = 204
        (tried,) = shop.client.call("POST", f"/voice/people/{listener}/try").json["tried"]
        assert tried["problem"] == "" and len(ada.asked) == 1


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"name": "Ada", "mail": "ada"}, "with an @"),
        ({"name": "Ada", "topic": "shop/#"}, "one topic"),
        ({"name": "Ada", "hook": "ftp://workshop.example/"}, "https://"),
        ({"name": "Ada", "hook": "https://[::1/"}, "https://"),
    ],
)
def test_what_is_no_address_is_refused_where_it_is_typed(shop, body, says):
    answer = shop.client.call("POST", "/voice/people", body)
    assert answer.status_code == 422 and says in answer.json["detail"]


def test_a_planned_start_is_told_until_somebody_pours(shop):
    with servers.web() as ada:
        ada.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada, kinds=["starts"])
        piece = add_piece(shop.client, first_pour_at=NOW + timedelta(hours=20))
        shop.client.get(f"/pieces/{piece}/plan")
        shop.tell()
        row = shop.connection.execute(
            "select at, kind from moment_call where piece_id = %s order by at limit 1", [piece]
        ).fetchone()
        assert row is not None and row[1] == "starts"
        shop.moment[0] = row[0]
        assert shop.tell() == 1
        message = json.loads(ada.asked[0][2])
        assert message["title"].startswith("Mix") and message["link"].endswith(f"/pieces/{piece}/clock")
        begin(shop.client, piece)
        shop.tell()
        left = shop.connection.execute(
            "select count(*) from moment_call where piece_id = %s and over_at is null and at > %s",
            [piece, shop.moment[0]],
        ).fetchone()
        assert left == (0,)


def test_a_moment_that_moves_by_much_is_told_anew_and_by_little_is_not(shop):
    settle(shop)
    add(shop, "Ada", topic="shop/said")
    _, alarm = poured(shop)
    shop.tell()
    standing = store.standing_calls(shop.connection, shop.id)
    (found,) = [one for one in standing if one.alarm == alarm["id"]]

    def moved(**by):
        at = found.at + timedelta(**by)
        return Called(
            key=found.key,
            alarm=found.alarm,
            kind="rounds",
            urgency="in its window",
            title="t",
            text="",
            at=at,
            latest=at + timedelta(hours=1),
        )

    def keep(stands):
        known = store.call(shop.connection, shop.id, found.id)
        store.keep_call(shop.connection, shop.id, known, stands, shop.moment[0], run_id=found.run_id)
        return store.call(shop.connection, shop.id, found.id)

    assert keep(moved(minutes=9)).at == found.at + timedelta(minutes=9)
    keep(moved(minutes=11))
    versions = shop.connection.execute(
        "select version, over_at is null from moment_call where key = %s order by version", [found.key]
    ).fetchall()
    assert versions == [(1, False), (2, True)]


def test_one_worker_of_all_sends_and_one_workshops_trouble_keeps_no_other_waiting(
    shop, database_url, monkeypatch
):
    with servers.web() as ada:
        ada.answers = 204
        settle(shop)
        add(shop, "Ada", hook_to=ada)
        told = []
        monkeypatch.setattr(worker, "tell", lambda _c, number, _h, _n: told.append(number))
        with psycopg.connect(database_url, autocommit=True) as other:
            other.execute("select pg_advisory_lock(%s)", [worker.VOICE_LOCK])
            worker._tell_all(database_url, as_shop(database_url), shop.house)
            assert told == []
        worker._tell_all(database_url, as_shop(database_url), shop.house)
        assert told == [shop.id]

        def breaks(_c, number, _h, _n):
            told.append(number)
            raise ValueError("nonsense")

        monkeypatch.setattr(worker, "tell", breaks)
        monkeypatch.setattr(worker.told, "workshops_to_tell", lambda _: [shop.id, shop.id])
        worker._tell_all(database_url, as_shop(database_url), shop.house)
        assert told == [shop.id] * 3


def test_people_are_put_in_order_and_taken_out_with_their_addresses(shop):
    ada, ben = add(shop, "Ada", mail="ada@workshop.example"), add(shop, "Ben", topic="shop/ben")
    swapped = shop.client.call("PUT", "/voice/order", {"ids": [ben, ada]}).json["people"]
    assert [one["id"] for one in swapped] == [ben, ada]
    changed = shop.client.call(
        "PUT",
        f"/voice/people/{ben}",
        {"name": "Ben", "topic": "shop/ben", "quiet_from_min": 1320, "quiet_to_min": 420},
    ).json["people"][0]["person"]
    assert changed["quiet"]["from_min"] == 1320 and changed["topic"] == "shop/ben"
    left = shop.client.call("DELETE", f"/voice/people/{ada}").json["people"]
    assert [one["id"] for one in left] == [ben]
    assert "ada@" not in str(shop.connection.execute("select person::text from listener").fetchall())
    assert shop.client.call("DELETE", f"/voice/people/{ada}").status_code == 404
