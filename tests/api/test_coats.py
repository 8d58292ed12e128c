"""Coats over the API: old documents, an inspection that changes its piece, amounts on a piece, candidates
for a film."""

import json

import psycopg
import pytest

from tests.api.test_runs import begin, said, send
from tests.samples import SHEETS, box_piece

TOP = {
    "id": "top",
    "name": "Top",
    "grain": "not porous",
    "edges": "none",
    "surface": {"kind": "board", "length_m": "600 mm", "width_m": "400 mm", "thickness_m": "18 mm"},
    "lays": [{"id": "seal", "film_m": "0.3 mm"}, {"id": "flood", "film_m": "1.2 mm"}],
}


def coated(client, coat=None, sheets=("coating-epoxy",), **changes):
    have = {one["system"]["id"] for one in client.get("/systems").json["sheets"]}
    for name in sheets:
        if name not in have:
            client.call("POST", "/systems", SHEETS[name].model_dump(mode="json"))
    piece = box_piece(
        voids=[], coats=[coat or TOP], system_id=sheets[0], kind_of_work="flood coat", **changes
    )
    return client.call("POST", "/pieces", piece.model_dump(mode="json")).json["id"]


def needs(client, piece):
    return len(client.get(f"/pieces/{piece}/plan").json["plan"]["pours"])


def test_an_inspection_that_failed_changes_its_piece_and_taken_back_no_more(client):
    piece = coated(client)
    run = begin(client, piece)
    assert needs(client, piece) == 2
    events = [said(1, {"kind": "done", "step": f"p{pour}/b1/pour"}) for pour in (1, 2)]
    failed = said(3, {"kind": "test", "step": "p2/inspect", "result": "not passed", "found": ["dimples"]})
    answer = send(client, run["id"], events[0], {**events[1], "seq": 2}, failed)
    assert answer.status_code == 200
    lays = client.get(f"/pieces/{piece}").json["piece"]["coats"][0]["lays"]
    assert [one["again"] for one in lays] == [False, False, True] and needs(client, piece) == 3
    send(client, run["id"], failed)  # heard twice, added once
    assert needs(client, piece) == 3
    send(client, run["id"], said(4, {"kind": "undo", "event_id": failed["event_id"]}))
    assert needs(client, piece) == 2
    last = client.get(f"/pieces/{piece}").json
    assert last["revision"] == 3


def test_a_rehearsals_inspection_leaves_the_piece_alone(client):
    piece = coated(client)
    run = begin(client, piece, rehearse={"speed": 60, "seed": 1, "troubles": False})
    failed = said(1, {"kind": "test", "step": "p2/inspect", "result": "not passed"})
    assert send(client, run["id"], failed).status_code == 200
    assert needs(client, piece) == 2


def test_a_piece_kept_by_an_earlier_release_opens_edits_and_joins(client, database_url):
    piece = coated(client)
    old = {key: value for key, value in TOP.items() if key != "lays"}
    portions = [{"id": "seal", "to_m": "0.3 mm"}, {"id": "flood"}]
    old |= {"film_m": {"value": 0.0015, "as_typed": "1.5 mm"}, "portions": portions}
    with psycopg.connect(database_url) as connection:
        connection.execute(
            "update piece_revision set document = "
            "jsonb_set(jsonb_set(document, '{coats}', %s::jsonb), '{version}', '1') where piece_id = %s",
            (json.dumps([old]), piece),
        )
    found = client.get(f"/pieces/{piece}").json
    assert found["piece"]["version"] == 2
    films = [one["film_m"]["value"] for one in found["piece"]["coats"][0]["lays"]]
    assert films == pytest.approx([0.0003, 0.0012])
    mine = {**found["piece"], "note": "mine"}
    body = {"base_revision": found["revision"], "piece": mine, "what": "note"}
    assert client.call("PUT", f"/pieces/{piece}", body).status_code == 200
    theirs = {**found["piece"], "name": "Theirs"}
    body = {"base_revision": found["revision"], "piece": theirs, "what": "name"}
    joined = client.call("PUT", f"/pieces/{piece}", body)
    assert joined.status_code == 200 and joined.json["piece"]["note"] == "mine"


def test_another_amount_says_what_it_lays_on_the_piece(client):
    piece = coated(client)
    body = {"text": "400 mL in all", "piece_id": piece}
    found = client.call("POST", "/systems/coating-epoxy/amount", body).json["on_piece"]
    assert [one["name"] for one in found["films"]] == ["Top, coat 1", "Top, coat 2"]
    assert found["films"][0]["film"]["value"] == pytest.approx((400e-6 * 0.98 - 4e-6) / 0.24)
    assert found["films"][0]["over"]["value"] > 0 > found["films"][1]["over"]["value"] - 1e-3


def test_casting_resins_are_no_candidates_for_a_film(client):
    piece = coated(client, sheets=("coating-epoxy", "slow-casting-epoxy", "casting-epoxy-25"))
    found = {
        one["option"]["title"]: one for one in client.get(f"/pieces/{piece}/candidates").json["candidates"]
    }
    by_id = {
        one["facts"]["system_id"]: one for one in client.get(f"/pieces/{piece}/candidates").json["candidates"]
    }
    assert found and by_id["coating-epoxy"]["option"]["offered"]
    for name in ("slow-casting-epoxy", "casting-epoxy-25"):
        assert not by_id[name]["option"]["offered"] and "film" in by_id[name]["reasons"]["against"]
    assert "out of the form" not in by_id["coating-epoxy"]["reasons"]["for_it"]
