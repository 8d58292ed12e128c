"""A bench device that was put out keeps what it had not sent: it hands it in, and the owner decides."""

import json
import re
from datetime import timedelta
from pathlib import Path
from typing import get_args
from uuid import uuid4

import psycopg
import pytest

from cavatum.core.common.wording import Wording
from cavatum.core.mix.weigh_events import WeighEvent
from cavatum.core.pour.events import RunEvent
from cavatum.services.entry_words import content
from tests.api.shops import HERE, Caller, bench_device, new_shop, quick_member
from tests.conftest import _empty
from tests.samples import NOW, box_piece, box_void, system, workshop

ROOT = Path(__file__).resolve().parents[2]


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
def yard(app, database_url):
    """(owner, device, run): a pour that is on, and a tablet at the bench."""
    with psycopg.connect(database_url) as connection:
        shop = new_shop(connection, "yard")
    owner = quick_member(app, database_url, shop, "owner", "wren@yard.example", "Wren")
    assert owner.call("POST", "/systems", system().model_dump(mode="json")).status_code == 201
    piece = owner.call("POST", "/pieces", box_piece(voids=[box_void(depth="40 mm")]).model_dump(mode="json"))
    run = owner.call("POST", f"/pieces/{piece.json['id']}/runs", {"rehearse": None}).json["id"]
    return owner, bench_device(app, owner), run


def said(text: str, number: int = 1) -> dict:
    return {
        "event_id": str(uuid4()),
        "device": str(uuid4()),
        "seq": number,
        "at": NOW.isoformat(),
        "device_at": NOW.isoformat(),
        "event": {"kind": "note", "text": text},
    }


def put_out(owner) -> None:
    (phone,) = owner.get("/phones").json["phones"]
    assert owner.call("DELETE", f"/phones/{phone['id']}").status_code == 204


def texts(owner, run) -> list[str]:
    return [one["event"]["text"] for one in owner.get(f"/runs/{run}/events").json["events"]]


def test_what_it_still_held_waits_for_the_owner_and_counts_only_when_accepted(yard):
    owner, device, run = yard
    events = [said(f"tap {number}", number) for number in range(1, 4)]
    put_out(owner)
    refused = device.call("POST", f"/runs/{run}/events", {"since": 0, "events": events})
    assert refused.status_code == 401
    body = {"runs": [{"run_id": run, "events": events}]}
    for _ in range(2):  # a device that did not hear the answer says it again
        answer = device.call("POST", "/handed-in", body)
        assert answer.status_code == 202 and answer.json == {"device": "bench tablet", "taken": 3}
    assert texts(owner, run) == []
    waiting = owner.get("/handed-in").json["waiting"]
    assert [(one["device"], one["about"], one["kind"]) for one in waiting] == [
        ("bench tablet", f"tap {number}", "note") for number in range(1, 4)
    ]
    ids = [one["id"] for one in waiting]
    assert owner.call("POST", "/handed-in/decide", {"ids": ids[:2], "accept": True}).json == {
        "accepted": 2,
        "refused": [],
    }
    assert owner.call("POST", "/handed-in/decide", {"ids": ids[2:], "accept": False}).json["accepted"] == 0
    assert texts(owner, run) == ["tap 1", "tap 2"] and owner.get("/handed-in").json["waiting"] == []
    again = owner.call("POST", "/handed-in/decide", {"ids": ids, "accept": True}).json
    assert again["accepted"] == 0 and texts(owner, run) == ["tap 1", "tap 2"]  # decided once
    kept = owner.get(f"/runs/{run}/events").json["events"][0]
    assert "bench tablet" in json.dumps(kept)
    trail = [one["what"] for one in owner.get("/people/trail").json["trail"]]
    assert "handed in what it still held" in trail and "accepted what a device had handed in" in trail


def test_one_that_cannot_be_kept_any_more_is_said_and_the_others_stay(yard):
    owner, device, run = yard
    put_out(owner)
    wrong = {**said("x"), "event": {"kind": "done", "step": "no such step"}}
    device.call("POST", "/handed-in", {"runs": [{"run_id": run, "events": [wrong, said("fine", 2)]}]})
    ids = [one["id"] for one in owner.get("/handed-in").json["waiting"]]
    answer = owner.call("POST", "/handed-in/decide", {"ids": ids, "accept": True}).json
    assert answer["accepted"] == 1 and len(answer["refused"]) == 1 and texts(owner, run) == ["fine"]


def test_only_a_device_that_was_put_out_hands_in_and_only_for_a_month(app, yard, moment):
    owner, device, run = yard
    body = {"runs": [{"run_id": run, "events": [said("x")]}]}
    assert device.call("POST", "/handed-in", body).status_code == 422  # it is in: it sends as ever
    assert Caller(app=app).call("POST", "/handed-in", body).status_code == 422
    put_out(owner)
    moment[0] = NOW + timedelta(days=31)
    assert device.call("POST", "/handed-in", body).status_code == 422
    moment[0] = NOW + timedelta(days=6)
    assert device.call("POST", "/handed-in", body).status_code == 202


def test_it_reaches_no_other_workshop_and_fills_no_disk(app, yard, database_url):
    owner, device, run = yard
    with psycopg.connect(database_url) as connection:
        other = new_shop(connection, "other yard")
    stranger = quick_member(app, database_url, other, "owner", "moss@yard.example", "Moss")
    put_out(owner)
    device.call("POST", "/handed-in", {"runs": [{"run_id": run, "events": [said("x")]}]})
    assert stranger.get("/handed-in").json["waiting"] == []
    ids = [one["id"] for one in owner.get("/handed-in").json["waiting"]]
    assert stranger.call("POST", "/handed-in/decide", {"ids": ids, "accept": True}).json["accepted"] == 0
    many = [said(f"tap {number}", number) for number in range(1, 501)]
    for _ in range(3):
        told = device.call("POST", "/handed-in", {"runs": [{"run_id": run, "events": many}]})
        many = [{**one, "event_id": str(uuid4())} for one in many]
        assert told.status_code == 202
    told = device.call("POST", "/handed-in", {"runs": [{"run_id": run, "events": many}]})
    assert told.status_code == 422 and told.json["problems"][0]["code"] == "too-much"


@pytest.mark.parametrize(
    ("event", "words"),
    [
        ({"kind": "note", "text": "a bubble", "step": "p1/pour"}, "Pour layer 1, a bubble"),
        ({"kind": "reading", "what": "surface_c", "value": 43.2, "pour": 1}, "surface 43.2 °C"),
        ({"kind": "reading", "what": "humidity", "value": 61, "pour": 1}, "air 61 %"),
        ({"kind": "reading", "what": "level_along", "value": 0.4}, "level along 0.4 mm a metre"),
        ({"kind": "weighed", "step": "p1/pour", "part": "A", "kg": 0.35}, "Pour layer 1, 350 g, A"),
        (
            {"kind": "test", "step": "p1/pour", "result": "not passed", "found": ["dimples"]},
            "Pour layer 1, not passed, dimples",
        ),
        ({"kind": "taken", "mass_kg": 0.1225}, "122 g"),
        ({"kind": "end", "how": "given up"}, "given up"),
        ({"kind": "amount", "what": "residue_kg", "value": 0.012}, "residue kg 0.012"),
        ({"kind": "amount", "what": "residue_kg", "value": 0.012, "as_typed": "12 g"}, "residue kg, 12 g"),
        ({"kind": "rating", "stars": 4, "text": "clear"}, "clear, 4 of 5"),
    ],
)
def test_an_entry_is_said_with_all_that_was_typed_taken_or_measured(event, words):
    """Of a note its step stood there and not its words."""
    assert content(event, {"p1/pour": "Pour layer 1"}, Wording(workshop())) == words


def test_every_kind_of_entry_has_its_word_on_the_page():
    page = (ROOT / "web" / "src" / "places" / "Phones.tsx").read_text()
    kinds = {
        name
        for union in (RunEvent, WeighEvent)
        for one in get_args(get_args(union)[0])
        for name in get_args(one.model_fields["kind"].annotation)
    }
    assert len(kinds) > 20
    assert {name for name in kinds if not re.search(rf'^  "?{name}"?: "', page, re.M)} == set()
