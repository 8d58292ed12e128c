"""What docs/security.md says of the door, of answers and of the log, and no other test holds."""

import json
import logging
import re
from datetime import timedelta

import pytest

from cavatum.network import passkeys, passwords
from cavatum.store import logins
from tests.api.shops import PASSWORD, Caller, quick_member
from tests.api.test_door import app, log_in, moment, shop  # noqa: F401, fixtures
from tests.samples import NOW, box_piece


def test_a_password_counts_to_its_last_character_whatever_they_are(app, shop, database_url):  # noqa: F811
    """ASVS 2.1.1 to 2.1.4: 12 to 128, spaces and emoji too, nothing cut off."""
    wren = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    longest = ("quiet larch  planks 🪵 drying over the bench " * 4)[:127] + "z"
    assert len(longest) == 128

    def change(old: str, new: str):
        return wren.call("PUT", "/account/password", {"password": old, "new_password": new})

    assert change(PASSWORD, "short larch").status_code == 422
    assert change(PASSWORD, longest + "z").status_code == 422
    assert change("not the old one at all", longest).status_code in (401, 403, 422)
    assert change(PASSWORD, longest).status_code == 204
    assert log_in(app, "wren@yard.example", longest[:-1] + "y")[0].status_code != 204
    assert log_in(app, "wren@yard.example", longest[:72])[0].status_code != 204
    assert log_in(app, "wren@yard.example", longest)[0].status_code == 204


def test_what_lets_in_is_long_by_chance_and_each_hash_has_its_salt(app, shop, database_url):  # noqa: F811
    """ASVS 2.4.1, 2.4.2, 3.2.1, 3.2.2."""
    quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    assert passwords.hash_of(PASSWORD) != passwords.hash_of(PASSWORD)
    assert passwords.hash_of(PASSWORD).startswith("$argon2id$")
    found = set()
    for _ in range(2):
        _, caller = log_in(app, "wren@yard.example")
        found |= {one.value for one in caller.http._cookies.values() if "cavatum-in" in one.key}
    assert len(found) == 2 and all(len(one) >= 43 for one in found)  # 256 bits in letters and digits


def test_a_logout_ends_the_session_at_the_server(app, shop, database_url):  # noqa: F811
    """ASVS 3.3.1: a copy of the cookie opens nothing afterwards."""
    quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    _, caller = log_in(app, "wren@yard.example")
    copies = dict(caller.http._cookies)
    assert caller.call("POST", "/door/logout").status_code == 204
    caller.http._cookies.update(copies)
    assert caller.get("/pieces").status_code == 401


def test_questions_of_a_passkey_are_chance_hold_five_minutes_and_are_used_up(connection):
    """ASVS 2.9.2."""
    made = [passkeys.ask_to_sign("shop.local")[0] for _ in range(3)]
    assert len(set(made)) == 3 and all(len(one) >= 8 for one in made)
    for one in made:
        logins.keep_challenge(connection, one, None, NOW)
    assert logins.use_challenge(connection, made[0], None, NOW)
    assert not logins.use_challenge(connection, made[0], None, NOW)
    assert not logins.use_challenge(connection, made[1], None, NOW + timedelta(minutes=6))
    assert not logins.use_challenge(connection, b"never asked", None, NOW)


def test_answers_are_not_kept_and_tell_no_versions(client):
    """ASVS 8.1.1, 8.2.1, 10.2.2, 14.4.1, 14.4.6: by the headers of pages, answers and refusals."""
    for path in ("/api/v1/session", "/api/v1/nowhere", "/"):
        headers = client.http.get(path).headers
        assert "no-store" in headers["Cache-Control"]
        assert headers["Referrer-Policy"] in ("no-referrer", "same-origin", "strict-origin")
        # The camera over a piece and spoken answers are this page's own, and no frame's in it
        assert headers["Permissions-Policy"] == "camera=(self), microphone=(self), geolocation=()"
        assert "charset" in headers["Content-Type"] or headers["Content-Type"].startswith("application/")
        assert "Access-Control-Allow-Origin" not in headers
        assert not re.search(r"\d+\.\d+", headers.get("Server", ""))
    policy = client.http.get("/").headers["Content-Security-Policy"]
    assert "connect-src 'self'" in policy and "frame-ancestors 'none'" in policy and "http" not in policy


def test_fields_that_are_not_offered_and_a_second_value_do_nothing(client):
    """ASVS 5.1.1, 5.1.2."""
    piece = box_piece(name="One").model_dump(mode="json")
    assert client.call("POST", "/pieces", {**piece, "workshop_id": 7}).status_code == 422
    client.call("POST", "/pieces", piece)
    client.call("POST", "/pieces", {**piece, "name": "Two"})
    twice = client.get("/pieces?search=One&search=Two")
    assert twice.status_code in (200, 422)
    if twice.status_code == 200:
        assert [one["name"] for one in twice.json["pieces"]] in (["One"], ["Two"])


@pytest.mark.parametrize(
    "path",
    ["/assets/", "/assets/../index.html", "/../../etc/passwd", "/%2e%2e/%2e%2e/etc/passwd", "/.git/config"],
)
def test_no_folder_is_listed_and_no_stray_file_is_given(client, path):
    """ASVS 4.3.2, 12.4.1: built files by their names, and the page for everything else."""
    answer = client.http.get(path)
    text = answer.get_data(as_text=True)
    assert "root:" not in text and "[core]" not in text and "Index of" not in text
    assert answer.status_code == 404 or '<div id="root"' in text


def test_nobody_writes_a_line_into_the_log(client, caplog):
    """ASVS 7.3.1."""
    caplog.set_level(logging.INFO, "cavatum.request")
    client.call("DELETE", "/pieces/7%0A%7B%22operation%22:%22forged%22%7D")
    client.call("POST", "/pieces", {"name": "x\n{}"}, headers={"X-Request-ID": '" , "forged": 1'})
    lines = [record.getMessage() for record in caplog.records if record.name == "cavatum.request"]
    assert lines and all(len(line.splitlines()) == 1 and json.loads(line) for line in lines)


def test_an_error_has_an_id_and_says_nothing_of_the_inside(client, monkeypatch):
    """ASVS 7.4.1 to 7.4.3: the last one, too, is caught."""
    from cavatum.store import pieces

    def fails(*_):
        raise RuntimeError("select secret from inside.py")

    monkeypatch.setattr(pieces, "listed", fails)
    client.http.application.config["PROPAGATE_EXCEPTIONS"] = False
    try:
        answer = client.get("/pieces")
    finally:
        client.http.application.config["PROPAGATE_EXCEPTIONS"] = None
    assert answer.status_code == 500 and answer.content_type == "application/problem+json"
    assert len(answer.headers["X-Request-ID"]) == 16
    assert "inside.py" not in answer.get_data(as_text=True) and "select" not in answer.get_data(as_text=True)


def test_a_caller_without_a_session_is_asked_in_on_the_network(app):  # noqa: F811
    """ASVS 4.1.1, 4.1.5: refused where nothing is known."""
    stranger = Caller(app=app)
    for path in ("/pieces", "/stock", "/people", "/runs", "/session"):
        assert stranger.get(path).status_code == 401, path


def test_what_a_person_is_told_to_type_is_the_command_they_have(client, monkeypatch):
    """From a wheel there is no ./cavatum."""
    assert client.get("/session").json["command"] == "./cavatum"
    assert "./cavatum start" in client.call("POST", "/phones", {}).json["detail"]
    monkeypatch.setenv("CAVATUM_COMMAND", "cavatum")
    assert client.get("/session").json["command"] == "cavatum"
    refused = client.call("POST", "/phones", {}).json
    assert "cavatum start" in refused["detail"] and "./cavatum" not in str(refused)
