"""Coming in: nothing can be guessed, tries are counted, what was let in can be put out, and nothing secret is
written down.
"""

import json
import logging
from datetime import timedelta

import psycopg
import pytest

from cavatum.core.common.errors import DomainError
from cavatum.network import passwords
from cavatum.store import logins, people
from cavatum.store.addresses import fill_in, normal
from cavatum.store.pool import within
from tests.api.shops import HERE, PASSWORD, Caller, bench_device, invited, new_shop, quick_member
from tests.conftest import Client, _empty
from tests.samples import NOW


@pytest.fixture
def moment():
    return [NOW]


@pytest.fixture
def app(make_app, database_url, moment):
    made = make_app(network_hosts=["shop.local"], now=lambda: moment[0])
    made.config["NETWORK_ADDRESS"] = HERE
    yield made
    _empty(database_url)


@pytest.fixture
def shop(database_url, app):
    with psycopg.connect(database_url) as connection:
        return new_shop(connection, "yard")


def log_in(app, email: str, password: str = PASSWORD, caller: Caller | None = None):
    caller = caller or Caller(app=app)
    answer = caller.call("POST", "/door/login", {"email": email, "password": password})
    return answer, caller.again()


def said(answer) -> str:
    return answer.json["problems"][0]["code"]


def test_a_link_makes_an_account_once_and_the_password_opens_it(app, shop, database_url):
    wren = invited(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    assert wren.get("/session").json["role"] == "owner" and wren.get("/session").json["who"] == "Wren"
    with psycopg.connect(database_url) as connection:
        (stored,) = connection.execute("select password_hash from account").fetchone()
        assert stored.startswith("$argon2id$") and PASSWORD not in json.dumps(
            connection.execute("select to_jsonb(a), to_jsonb(e) from account a, entry e").fetchall()
        )
    answer, again = log_in(app, "WREN@yard.example")
    assert answer.status_code == 204 and again.get("/pieces").status_code == 200
    flags = answer.headers["Set-Cookie"] + "".join(answer.headers.getlist("Set-Cookie"))
    assert (
        all(
            word in flags
            for word in ("__Host-cavatum-in=", "Secure", "HttpOnly", "SameSite=Strict", "Path=/")
        )
        and "Domain" not in flags
    )
    assert again.call("POST", "/door/logout").status_code == 204 and again.get("/pieces").status_code == 401
    assert wren.get("/pieces").status_code == 200  # the other browser stays


def test_there_is_no_telling_whether_an_account_is_there(app, shop, database_url, monkeypatch):
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    verified = []
    real = passwords._HASHER.verify
    monkeypatch.setattr(
        passwords,
        "_HASHER",
        type(
            "Hasher",
            (),
            {
                "verify": lambda self, *all_: (verified.append(1), real(*all_))[1],
                "hash": passwords._HASHER.hash,
            },
        )(),
    )
    (there, _), (not_there, _) = (
        log_in(app, "moss@yard.example", "wrong"),
        log_in(app, "nobody@yard.example", "wrong"),
    )
    assert (there.status_code, there.json) == (not_there.status_code, not_there.json) and len(
        verified
    ) == 2  # the same work for both


def test_tries_are_counted_by_account_and_place_and_a_right_password_has_to_wait_too(
    app, shop, database_url, moment
):
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    assert [said(log_in(app, "moss@yard.example", "wrong")[0]) for _ in range(6)] == ["no-entry"] * 5 + [
        "too-often"
    ]
    assert said(log_in(app, "moss@yard.example")[0]) == "too-often"
    moment[0] = NOW + timedelta(minutes=16)
    assert log_in(app, "moss@yard.example")[0].status_code == 204
    with psycopg.connect(database_url) as connection:
        logins.failed(connection, ["place 127.0.0.1"] * 40, moment[0])
    assert said(log_in(app, "somebody@yard.example", "wrong")[0]) == "too-often"  # one place, many accounts


SPELT = (
    "İris@yard.example",
    "iris@yard.example",
    "IRIS@YARD.EXAMPLE",
    "\u2170ris@yard.example",
    " i\u200bris@yard.example ",
)


def test_tries_are_counted_per_account_whatever_it_is_spelt_like(app, shop, database_url):
    """Each spelling opened five more tries, as the two languages fold letters differently."""
    quick_member(app, database_url, shop, "maker", "iris@yard.example", "Iris")
    told = [said(log_in(app, SPELT[n % len(SPELT)], "wrong")[0]) for n in range(7)]
    assert told == ["no-entry"] * 5 + ["too-often"] * 2
    with psycopg.connect(database_url) as connection:
        for spelling in SPELT:
            assert logins.make_account(connection, spelling, "Somebody", None) is None  # one account
        assert {normal(one) for one in SPELT} == {"iris@yard.example"}


def test_accounts_of_an_earlier_release_get_their_normal_form_and_two_alike_stay_two(database_url, shop):
    with psycopg.connect(database_url) as connection:
        for email in ("Moss@Yard.example", "mo\ufb00s@yard.example", "moffs@yard.example"):
            connection.execute("insert into account (email, name) values (%s, 'Moss')", (email,))
        assert fill_in(connection) == 3
        assert logins.account_of(connection, "moss@yard.EXAMPLE").email == "Moss@Yard.example"
        for email in ("mo\ufb00s@yard.example", "moffs@yard.example"):
            assert logins.account_of(connection, email).email == email


@pytest.mark.parametrize(
    "password", ["my cavatum opens at nine", "Ca-Va-Tum 4 the win here", "elm&brass 1987 forever on"]
)
def test_a_password_does_not_name_what_it_opens(password):
    with pytest.raises(DomainError) as refused:
        passwords.check(password, ["Wren"], ["Elm and Brass", "Elm & Brass"])
    assert refused.value.code == "password-names"


@pytest.mark.parametrize(
    "password", ["short", "password1234", "qwertyuiop12", "aaaaaaaaaaaaaaaa", "wren@yard.example", "x" * 129]
)
def test_passwords_that_are_tried_first_are_refused(password):
    with pytest.raises(DomainError) as refused:
        passwords.check(password, ["Wren", "wren@yard.example"], ["yard"])
    assert refused.value.way_out
    passwords.check(PASSWORD, ["Wren"])


def test_an_entry_ends_by_itself_by_the_person_and_with_the_membership(app, shop, database_url, moment):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    moss = quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    _, phone = log_in(app, "moss@yard.example")
    mine = moss.get("/account").json["entries"]
    assert len(mine) == 2 and sum(one["is_this"] for one in mine) == 1
    moss.call("DELETE", f"/account/entries/{next(one['id'] for one in mine if not one['is_this'])}")
    assert phone.get("/pieces").status_code == 401 and moss.get("/pieces").status_code == 200
    foreign = owner.get("/account").json["entries"][0]["id"]
    moss.call("DELETE", f"/account/entries/{foreign}")
    assert owner.get("/pieces").status_code == 200  # nobody ends another's
    account = next(one["account_id"] for one in owner.get("/people").json["people"] if one["name"] == "Moss")
    owner.call("DELETE", f"/people/{account}")
    assert moss.get("/pieces").status_code == 401 and log_in(app, "moss@yard.example")[0].status_code == 422
    moment[0] = NOW + timedelta(days=8)
    assert owner.get("/pieces").status_code == 401  # a week without use


def test_a_used_entry_holds_for_thirty_days_at_most(app, shop, database_url, moment):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    for day in range(0, 30, 6):
        moment[0] = NOW + timedelta(days=day)
        assert owner.get("/session").status_code == 200
    moment[0] = NOW + timedelta(days=31)
    assert owner.get("/session").status_code == 401


def test_a_new_password_puts_every_other_browser_out(app, shop, database_url):
    moss = quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    _, phone = log_in(app, "moss@yard.example")
    new = "four damp otters filing"
    assert (
        said(moss.call("PUT", "/account/password", {"password": "wrong", "new_password": new})) == "no-entry"
    )
    assert (
        moss.call("PUT", "/account/password", {"password": PASSWORD, "new_password": new}).status_code == 204
    )
    assert moss.get("/pieces").status_code == 200 and phone.get("/pieces").status_code == 401
    assert (
        log_in(app, "moss@yard.example")[0].status_code == 422
        and log_in(app, "moss@yard.example", new)[0].status_code == 204
    )


def test_the_last_owner_stays_one_and_roles_change_at_once(app, shop, database_url):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    moss = quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    ids = {one["name"]: one["account_id"] for one in owner.get("/people").json["people"]}
    for method, body in (("PUT", {"role": "viewer"}), ("DELETE", None)):
        assert said(owner.call(method, f"/people/{ids['Wren']}", body)) == "last-owner"
    assert owner.call("PUT", f"/people/{ids['Moss']}", {"role": "viewer"}).status_code == 200
    assert moss.call("POST", "/systems", {}).status_code == 403 and moss.get("/people").status_code == 403
    trail = owner.get("/people/trail").json["trail"]
    assert (trail[0]["what"], trail[0]["who"], trail[0]["about"]) == (
        "gave another role",
        "Wren",
        "Moss: viewer",
    ) and trail[0]["address"]


@pytest.mark.parametrize("how", ["put out", "demoted to maker", "demoted to viewer"])
def test_who_is_put_out_or_demoted_takes_along_all_they_made(app, shop, database_url, how):
    """A person put out came back by an invitation of their own; token, paired phone and feed went on."""
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    moss = quick_member(app, database_url, shop, "owner", "moss@yard.example", "Moss")
    link = moss.call("POST", "/people/invitations", {"role": "owner"}).json["link"].rpartition("#")[2]
    account = next(one["account_id"] for one in owner.get("/people").json["people"] if one["name"] == "Moss")
    way_in = owner.call("POST", f"/people/{account}/way-in").json["link"].rpartition("#")[2]
    script = Caller(
        app=app, bearer=moss.call("POST", "/people/tokens", {"name": "till", "role": "maker"}).json["token"]
    )
    phone = bench_device(app, moss)
    waiting = moss.call("POST", "/phones", {"name": "spare", "hours": 12}).json["code"]
    theirs = owner.call("POST", "/phones", {"name": "apron", "hours": 12}).json["code"]
    assert moss.call("POST", "/pairing/enter", {"code": theirs}).status_code == 204  # in Moss's own browser
    feeds = {name: one.get("/calendar").json["path"] for name, one in (("Moss", moss), ("script", script))}
    kept = bench_device(app, owner)
    mine = owner.get("/calendar").json["path"]
    with psycopg.connect(database_url) as connection:
        connection.execute(
            "insert into calendar_feed (workshop_id, token, of_all)"
            " values (%s, 'of-an-earlier-release', true)",
            (shop,),
        )
    if how == "put out":
        answer = owner.call("DELETE", f"/people/{account}")
    else:
        answer = owner.call("PUT", f"/people/{account}", {"role": how.rpartition(" ")[2]})
    stranger = Caller(app=app)
    ended = answer.json
    assert (ended["invitations"], ended["tokens"], ended["devices"]) == (2, 1, 3), ended
    for secret, email in ((link, "moss@yard.example"), (link, "other@yard.example"), (way_in, "")):
        body = {"secret": secret, "name": "Moss", "email": email, "password": PASSWORD}
        assert said(stranger.call("POST", "/door/join", body)) == "no-invitation"
    assert script.get("/pieces").status_code == 401 and phone.get("/pieces").status_code == 401
    assert said(stranger.call("POST", "/pairing/enter", {"code": waiting})) == "no-code"
    gone = {"put out": 401, "demoted to maker": 200, "demoted to viewer": 200}[how]
    assert moss.get("/pieces").status_code == gone
    left = how == "demoted to maker"
    assert stranger.get(feeds["Moss"].removeprefix("/api/v1")).status_code == (200 if left else 404)
    assert stranger.get(feeds["script"].removeprefix("/api/v1")).status_code == 404
    assert stranger.get("/calendar/of-an-earlier-release.ics").status_code == (200 if left else 404)
    assert kept.get("/pieces").status_code == 200  # what others let in stays
    assert stranger.get(mine.removeprefix("/api/v1")).status_code == 200


def test_what_was_made_before_it_was_kept_by_whom_is_said(app, shop, database_url):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    with psycopg.connect(database_url) as connection:
        people.invite(connection, shop, "maker", "", None, NOW)
        people.make_token(connection, shop, "till", "maker", NOW + timedelta(days=5))
        connection.execute("update api_token set maker_kept = false")
    found = owner.get("/people").json
    assert [one["maker_kept"] for one in found["tokens"]] == [False] and found["invited"][0]["maker_kept"]
    moss = next(one["account_id"] for one in found["people"] if one["name"] == "Moss")
    assert owner.call("DELETE", f"/people/{moss}").json["unknown"] == 1


def test_the_last_owner_cannot_lower_themselves_by_any_way(app, make_app, shop, database_url):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    me = next(one["account_id"] for one in owner.get("/people").json["people"] if one["is_you"])
    for role in ("viewer", "maker"):  # a link of a lower role, taken by themselves
        secret = owner.call("POST", "/people/invitations", {"role": role}).json["link"].rpartition("#")[2]
        body = {"secret": secret, "email": "wren@yard.example", "password": PASSWORD}
        assert Caller(app=app).call("POST", "/door/join", body).status_code == 204
        assert owner.get("/session").json["role"] == "owner"
    here = Client(make_app())
    with psycopg.connect(database_url) as connection:
        assert connection.execute("select min(id) from workshop").fetchone() == (shop,)
    for method, body in (("PUT", {"role": "viewer"}), ("DELETE", None)):
        for caller in (owner, here):
            assert said(caller.call(method, f"/people/{me}", body)) == "last-owner"
    assert owner.get("/people").status_code == 200


def test_a_new_way_in_is_no_way_into_another_workshop(app, shop, database_url):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    account = next(one["account_id"] for one in owner.get("/people").json["people"] if one["name"] == "Moss")
    secret = owner.call("POST", f"/people/{account}/way-in").json["link"].rpartition("#")[2]
    with psycopg.connect(database_url) as connection:
        other = new_shop(connection, "other yard")
        connection.execute(
            "insert into membership (workshop_id, account_id, role) values (%s, %s, 'owner')",
            (other, account),
        )
    taker = Caller(app=app)
    assert (
        said(taker.call("POST", "/door/join", {"secret": secret, "password": "four damp otters filing"}))
        == "no-invitation"
    )
    with psycopg.connect(database_url) as connection:  # the keeper of the server stands above workshops
        secret, _ = people.invite(connection, shop, "maker", "Moss", account, NOW, by_keeper=True)
    assert (
        taker.call(
            "POST", "/door/join", {"secret": secret, "password": "four damp otters filing"}
        ).status_code
        == 204
    )
    assert (
        log_in(app, "moss@yard.example")[0].status_code == 422
        and log_in(app, "moss@yard.example", "four damp otters filing")[0].status_code == 204
    )


def test_one_account_in_two_workshops_is_in_one_at_a_time(app, shop, database_url):
    with psycopg.connect(database_url) as connection:
        other, foreign = new_shop(connection, "other yard"), new_shop(connection, "foreign yard")
    moss = quick_member(app, database_url, shop, "owner", "moss@yard.example", "Moss")
    with psycopg.connect(database_url) as connection:
        connection.execute(
            "insert into membership (workshop_id, account_id, role) select %s, id, 'viewer' from account",
            (other,),
        )
    assert [one["name"] for one in moss.get("/account").json["workshops"]] == ["yard", "other yard"]
    assert moss.call("POST", "/account/workshop", {"workshop_id": foreign}).status_code == 403
    assert moss.call("POST", "/account/workshop", {"workshop_id": other}).status_code == 204
    session = moss.get("/session").json
    assert (session["workshop"]["name"], session["role"]) == ("other yard", "viewer")


def test_an_address_that_has_an_account_joins_with_its_password_only(app, shop, database_url):
    quick_member(app, database_url, shop, "maker", "moss@yard.example", "Moss")
    with psycopg.connect(database_url) as connection:
        other = new_shop(connection, "other yard")
        secret, _ = people.invite(connection, other, "maker", "", None, NOW)
    caller = Caller(app=app)
    body = {
        "secret": secret,
        "name": "Not Moss",
        "email": "moss@yard.example",
        "password": "four damp otters filing",
    }
    assert said(caller.call("POST", "/door/join", body)) == "no-entry"
    assert caller.call("POST", "/door/join", {**body, "password": PASSWORD}).status_code == 204
    assert (
        said(Caller(app=app).call("POST", "/door/join", {**body, "password": PASSWORD})) == "no-invitation"
    )  # once


def test_a_page_without_its_token_changes_nothing(app, shop, database_url):
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    owner.token = "another"
    for method, path in (
        ("POST", "/pieces"),
        ("PUT", "/workshop"),
        ("DELETE", "/pieces/1"),
        ("POST", "/door/login"),
        ("POST", "/people/tokens"),
    ):
        assert owner.call(method, path, {}).status_code == 403
    elsewhere = owner.again().call(
        "POST", "/pieces", {"name": "x"}, headers={"Referer": "https://elsewhere.example/"}
    )
    assert elsewhere.status_code == 403


def test_nothing_secret_is_in_the_log(app, shop, database_url, caplog):
    caplog.set_level(logging.INFO, "cavatum.request")
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    log_in(app, "wren@yard.example", "a secret that was mistyped")
    token = owner.call("POST", "/people/tokens", {"name": "till"}).json["token"]
    link = owner.call("POST", "/people/invitations", {"role": "viewer"}).json["link"]
    feed = owner.get("/calendar").json
    device = bench_device(app, owner)
    Caller(app=app).get(f"/calendar/{'A' * 30}.ics")
    lines = [record.getMessage() for record in caplog.records if record.name == "cavatum.request"]
    assert len(lines) > 5 and all(json.loads(line)["request"] for line in lines)
    written = "\n".join(lines)
    cookies = [cookie.value for caller in (owner, device) for cookie in caller.http._cookies.values()]
    for secret in (
        "mistyped",
        "wren@",
        token,
        link.rpartition("#")[2],
        json.dumps(feed)[20:60],
        "A" * 30,
        *cookies,
    ):
        assert secret not in written


def test_the_watcher_is_told_figures_on_this_computer_and_nowhere_else(make_app, app, shop, database_url):
    own, owner = (
        Client(make_app()),
        quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren"),
    )
    assert owner.get("/metrics").status_code == 403
    text = own.get("/metrics").get_data(as_text=True)
    assert (
        'cavatum_requests_total{operation="readSession",status="200"}' in text
        and "cavatum_runs_open 0.0" in text
        and 'cavatum_jobs{state="waiting"}' in text
    )
    assert own.get("/ready").json["status"] == "ready" and own.get("/health").headers["X-Request-ID"]


def test_a_database_behind_the_version_is_not_ready(client, connection, monkeypatch):
    from cavatum.store import server

    monkeypatch.setattr(server, "changes", lambda _: (3, 8))
    assert client.get("/ready").status_code == 503


def test_the_trail_is_only_added_to(database_url, shop):
    with psycopg.connect(database_url) as connection:
        within(connection, shop)
        people.note(connection, shop, "looked", "Wren")
        for change in ("update audit set who = 'x'", "delete from audit"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege), connection.transaction():
                connection.execute(change)
