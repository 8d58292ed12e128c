"""The first minute over the API: from an empty shelf to a piece that can be weighed."""

import pytest

LOOK = {"bench": "picture or panel", "readings": {"length": "860 mm", "width": "330 mm"}, "amount": "200 mL"}


def test_an_empty_shelf_answers_and_keeps_nothing(client):
    answer = client.call("POST", "/first-look", LOOK)
    assert answer.status_code == 200 and answer.json["is_typical"]
    assert answer.json["plan"]["pours"][0]["batches"][0]["parts"][0]["mass"]["value"] > 0
    assert client.get("/pieces").json["total"] == 0 and client.get("/systems").json["sheets"] == []


def test_what_is_kept_is_a_piece_with_its_sheet_on_the_shelf(client):
    kept = client.call("POST", "/first-look/keep", {"look": LOOK, "name": "Harbour picture"})
    assert kept.status_code == 201
    piece = client.get(f"/pieces/{kept.json['id']}").json["piece"]
    assert piece["name"] == "Harbour picture" and piece["coats"][0]["film_m"]["origin"] == "chosen"
    assert [one["system"]["id"] for one in client.get("/systems").json["sheets"]] == ["coating-epoxy"]
    plan = client.get(f"/pieces/{kept.json['id']}/plan").json["plan"]
    looked = client.call("POST", "/first-look", LOOK).json
    assert not looked["is_typical"]
    assert plan["totals"]["mass"]["value"] == pytest.approx(looked["plan"]["totals"]["mass"]["value"])
    again = client.call("POST", "/first-look/keep", {"look": LOOK})
    assert client.get(f"/pieces/{again.json['id']}").json["piece"]["name"] == "Picture or panel"
    assert len(client.get("/systems").json["sheets"]) == 1


def test_half_a_look_is_not_kept_and_a_wrong_one_is_refused_at_its_field(client):
    half = {"bench": "mould", "readings": {"depth": "20 mm"}}
    assert client.call("POST", "/first-look", half).json["missing"] == ["diameter"]
    refused = client.call("POST", "/first-look/keep", {"look": half})
    assert refused.status_code == 422 and refused.json["problems"][0]["pointer"] == "/diameter"
    wrong = {**LOOK, "amount": "8 oz"}
    problem = client.call("POST", "/first-look", wrong).json["problems"][0]
    assert problem["pointer"] == "/amount" and "8 fl oz in all" in problem["choices"]
