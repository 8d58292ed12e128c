"""The first minute over the API: from an empty shelf to a piece that can be weighed."""

import pytest

from tests.api.shops import save_workshop

LOOK = {
    "bench": "picture or panel",
    "readings": {"length": "860 mm", "width": "330 mm"},
    "amount": "200 mL in all",
}


def test_an_empty_shelf_answers_and_keeps_nothing(client):
    answer = client.call("POST", "/first-look", LOOK)
    assert answer.status_code == 200 and answer.json["is_typical"]
    assert answer.json["plan"]["pours"][0]["batches"][0]["parts"][0]["mass"]["value"] > 0
    assert client.get("/pieces").json["total"] == 0 and client.get("/systems").json["sheets"] == []


def test_what_is_kept_is_a_piece_with_its_sheet_on_the_shelf(client):
    kept = client.call("POST", "/first-look/keep", {"look": LOOK, "name": "Harbour picture"})
    assert kept.status_code == 201
    piece = client.get(f"/pieces/{kept.json['id']}").json["piece"]
    assert (
        piece["name"] == "Harbour picture"
        and piece["coats"][0]["lays"][0]["amount"]["as_typed"] == LOOK["amount"]
    )
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
    assert problem["pointer"] == "/amount" and "8 fl oz" in problem["choices"]


def test_a_workshop_nobody_set_up_says_so_and_what_plans_take_for_granted(client):
    session = client.get("/session").json
    assert session["is_untouched"] and session["unsaid"] == ["room", "hours"]
    room = {"value": 18.0, "as_typed": "18 C", "origin": "measured"}
    saved = save_workshop(client, {**session["workshop"], "room_c": room}).json
    assert not saved["is_untouched"] and saved["unsaid"] == ["hours"]
    week = [[{"from_min": 480, "to_min": 960}]] * 7
    assert save_workshop(client, {**saved["workshop"], "week": week}).json["unsaid"] == []


def test_an_amount_is_weighed_out_by_a_class_before_anything_is_on_the_shelf(client):
    body = {"text": "100 mL of each part", "default_unit": "g"}
    found = client.call("POST", "/systems/coating-epoxy/amount", body)
    assert found.status_code == 200 and found.json["weigh"]["volume_a"]["value"] == pytest.approx(1e-4)
    assert client.call("POST", "/systems/nobodys/amount", body).status_code == 404


def test_the_sheet_at_the_bench_has_a_code_only_where_a_phone_can_reach_it(client, fixed_app):
    kept = client.call("POST", "/first-look/keep", {"look": LOOK}).json["id"]
    assert client.get(f"/pieces/{kept}/address").json == {"address": "", "qr_path": "", "qr_size": 0}
    fixed_app.config["NETWORK_ADDRESS"] = "https://bench.example:8443"
    try:
        found = client.get(f"/pieces/{kept}/address").json
    finally:
        fixed_app.config["NETWORK_ADDRESS"] = None
    assert found["address"] == f"https://bench.example:8443/pieces/{kept}/pour"
    assert (
        found["qr_path"].count("M") > 100 and found["qr_size"] >= 25
    )  # a QR code of version 2 has 25 modules
