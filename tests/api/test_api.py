"""The web edge: what it answers, and that bad input is refused at the field with a way out and nothing is
half saved.
"""

import json

import pytest
from jsonschema import Draft202012Validator
from pydantic import BaseModel

from cavatum.formats.piece_file import MOST_BYTES, schema
from tests.api.shops import save_workshop
from tests.samples import box_piece, box_void, system


@pytest.fixture
def shelf(client):
    client.call("POST", "/systems", system().model_dump(mode="json"))
    return client


def made(client, **changes):
    answer = client.call(
        "POST",
        "/pieces",
        {"name": "Block", "system_id": "slow-casting-epoxy", "voids": [box_void()], **changes},
    )
    assert answer.status_code == 201, answer.json
    return answer.json


def save(client, stored, **changes):
    return client.call(
        "PUT",
        f"/pieces/{stored['id']}",
        {"base_revision": stored["revision"], "piece": {**stored["piece"], **changes}},
    )


def test_health_asks_the_database(client):
    assert client.get("/health").json["status"] == "well"


def test_a_piece_is_made_measured_and_planned(shelf):
    stored = made(shelf)
    plan = shelf.get(f"/pieces/{stored['id']}/plan").json["plan"]
    assert plan["totals"]["net"]["value"] == pytest.approx(0.0135)
    assert stored["piece"]["voids"][0]["shape"]["depth_m"] == {
        "value": 0.09,
        "as_typed": "90 mm",
        "origin": "measured",
        "spread": None,
    }


def test_the_plan_stays_the_same_while_nothing_changes(shelf):
    stored = made(shelf)
    path = f"/pieces/{stored['id']}/plan"
    assert shelf.get(path).json == shelf.get(path).json


def test_the_plan_follows_a_new_version_of_the_sheet(shelf):
    stored = made(shelf)
    before = shelf.get(f"/pieces/{stored['id']}/plan").json["plan"]["totals"]["pours"]
    sheet = shelf.get("/systems").json["sheets"][0]["system"]
    answer = shelf.call(
        "PUT", f"/systems/{sheet['id']}", {**sheet, "depth_rules": [{"most_depth_m": "95 mm"}]}
    )
    assert answer.json["system"]["version"] == 2
    after = shelf.get(f"/pieces/{stored['id']}/plan").json["plan"]["totals"]["pours"]
    assert (before, after) == (3, 2)  # the sheet would now let it be one; the heat does not


def test_two_changes_of_the_same_value_of_a_sheet_are_asked_about(shelf):
    sheet = shelf.get("/systems").json["sheets"][0]["system"]
    shelf.call("PUT", f"/systems/{sheet['id']}", {**sheet, "name": "new"})
    assert shelf.call("PUT", f"/systems/{sheet['id']}", {**sheet, "name": "late"}).status_code == 409


def test_the_list_is_searched_and_carries_a_summary(shelf):
    stored = made(shelf)
    shelf.get(f"/pieces/{stored['id']}/plan")
    listed = shelf.get("/pieces?search=loc").json
    assert listed["total"] == 1 and listed["pieces"][0]["pours"] == 3


def test_trying_a_boundary_stores_nothing(shelf):
    stored = made(shelf)
    voids = stored["piece"]["voids"]
    voids[0]["portions"][0]["boundaries_m"] = ["30 mm"]
    tried = shelf.call(
        "POST", "/pieces/try", {"piece": {**stored["piece"], "layering": "own", "voids": voids}}
    ).json
    assert tried["plan"]["pours"][0]["layers"][0]["to_m"] == pytest.approx(0.03)
    assert shelf.get(f"/pieces/{stored['id']}").json["revision"] == 1


def test_options_and_candidates_are_laid_side_by_side(shelf):
    stored = made(shelf)
    assert [one["choice"] for one in shelf.get(f"/pieces/{stored['id']}/options").json["options"]] == [
        "fewest",
        "coolest",
        "soonest",
        "thirds",
    ]
    whole = shelf.get(f"/pieces/{stored['id']}/candidates").json
    assert whole["candidates"][0]["option"]["pours"] == 3 and not whole["is_pending"]
    quick = shelf.get(f"/pieces/{stored['id']}/candidates?chances=false").json
    assert quick["is_pending"], "how often each gets too hot is not there yet, nor what hangs on it"
    for one, other in zip(quick["candidates"], whole["candidates"], strict=True):
        assert one["facts"]["chance"] is None and one["reasons"] == {"for_it": "", "against": ""}
        assert other["facts"]["chance"] and other["reasons"]["for_it"] + other["reasons"]["against"]
        assert {**one["facts"], "chance": None} == {**other["facts"], "chance": None}


def test_undo_redo_remove_and_bring_back(shelf):
    stored = made(shelf)
    stored = save(shelf, stored, name="Renamed").json
    stored = shelf.call("POST", f"/pieces/{stored['id']}/undo", {"base_revision": stored["revision"]}).json
    assert stored["piece"]["name"] == "Block" and stored["can_redo"]
    stored = shelf.call("POST", f"/pieces/{stored['id']}/redo", {"base_revision": stored["revision"]}).json
    assert stored["piece"]["name"] == "Renamed"
    assert shelf.call("DELETE", f"/pieces/{stored['id']}").status_code == 204
    assert shelf.get(f"/pieces/{stored['id']}").status_code == 404
    assert shelf.call("POST", f"/pieces/{stored['id']}/bring-back").json["piece"]["name"] == "Renamed"


def test_the_second_device_is_told_and_shown_both(shelf):
    stored = made(shelf)
    save(shelf, stored, name="Theirs", note="kept")
    answer = save(shelf, stored, name="Yours", for_whom="kept too")
    assert answer.status_code == 409 and answer.content_type == "application/problem+json"
    assert answer.json["clashes"] == [
        {"pointer": "/name", "base": "Block", "theirs": "Theirs", "yours": "Yours"}
    ]
    assert (answer.json["merged"]["note"], answer.json["merged"]["for_whom"]) == ("kept", "kept too")


@pytest.mark.parametrize(
    ("shape", "pointer", "words"),
    [
        ({"length_m": "-600 mm"}, "/voids/0/shape/length_m", "more than 0"),
        ({"depth_m": "0 mm"}, "/voids/0/shape/depth_m", "more than 0"),
        ({"depth_m": "40 m"}, "/voids/0/shape/depth_m", "at most 10 m"),
        ({"depth_m": ""}, "/voids/0/shape/depth_m", "value is needed"),
        ({"depth_m": "NaN mm"}, "/voids/0/shape/depth_m", "no number"),
        ({"depth_m": "3/0 in"}, "/voids/0/shape/depth_m", "divided by 0"),
        ({"depth_m": "8 oz"}, "/voids/0/shape/depth_m", "ounce"),
    ],
)
def test_bad_readings_are_refused_at_their_field(shelf, shape, pointer, words):
    void = box_void()
    void["shape"].update(shape)
    answer = shelf.call("POST", "/pieces", {"name": "x", "voids": [void]})
    assert answer.status_code == 422
    problem = answer.json["problems"][0]
    assert problem["pointer"] == pointer and words in problem["message"] and problem["way_out"]
    assert shelf.get("/pieces").json["total"] == 0


def test_an_outline_that_crosses_itself_is_refused_at_its_void(shelf):
    shape = {"kind": "outline", "depth_m": "10 mm", "points_m": [[0, 0], [0.1, 0.1], [0.1, 0], [0, 0.1]]}
    answer = shelf.call("POST", "/pieces", {"name": "x", "voids": [box_void(shape=shape)]})
    assert (
        answer.status_code == 422 and answer.json["problems"][0]["pointer"] == "/piece/voids/0/shape/outline"
    )


def test_a_boundary_over_the_moulds_height_is_refused_and_nothing_is_saved(shelf):
    stored = made(shelf)
    voids = json.loads(json.dumps(stored["piece"]["voids"]))
    voids[0]["portions"][0]["boundaries_m"] = ["40 mm", "200 mm"]
    answer = save(shelf, stored, voids=voids, layering="own")
    assert answer.status_code == 422 and answer.json["problems"][0]["pointer"].endswith("/boundaries_m/1")
    assert shelf.get(f"/pieces/{stored['id']}").json["revision"] == 1


def test_a_shallower_void_keeps_its_old_boundaries_and_the_plan_says_so(shelf):
    void = box_void(portions=[{"id": "p1", "boundaries_m": ["80 mm"]}])
    stored = made(shelf, voids=[void], layering="own")
    voids = json.loads(json.dumps(stored["piece"]["voids"]))
    voids[0]["shape"]["depth_m"] = "50 mm"
    saved = save(shelf, stored, voids=voids)
    assert saved.status_code == 200
    plan = shelf.get(f"/pieces/{stored['id']}/plan").json["plan"]
    assert plan["verdicts"][0]["code"] == "out-of-order"


def test_a_ratio_of_zero_is_refused_on_the_shelf(shelf):
    answer = shelf.call(
        "POST", "/systems", {**system().model_dump(mode="json"), "id": "mine", "ratio": "0:1"}
    )
    assert answer.status_code == 422 and answer.json["problems"][0]["pointer"] == "/ratio"


def test_the_same_system_twice_is_refused(shelf):
    assert shelf.call("POST", "/systems", system().model_dump(mode="json")).status_code == 422


def test_confirming_and_retiring_a_sheet(shelf):
    assert shelf.call("POST", "/systems/slow-casting-epoxy/confirm?made_on=1").json["typical"] == []
    assert len(shelf.get("/systems/slow-casting-epoxy/versions").json["versions"]) == 2
    assert shelf.call("DELETE", "/systems/slow-casting-epoxy").status_code == 204
    assert shelf.get("/systems").json["sheets"] == []
    assert len(shelf.get("/systems/classes").json["sheets"]) == 6


@pytest.mark.parametrize(
    ("text", "kind", "code"),
    [
        ("3/0 in", "length", "zero-denominator"),
        ("4 oz", "mass", "bare-ounce"),
        ("5", "weight", "unknown-kind"),
    ],
)
def test_spoken_quantities_that_cannot_be_understood(client, text, kind, code):
    answer = client.call("POST", "/quantities", {"text": text, "kind": kind})
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == code


def test_spoken_quantities_are_understood(client):
    answer = client.call("POST", "/quantities", {"text": "2 ft 3", "kind": "length"}).json
    assert answer["value"] == pytest.approx(0.6858) and answer["words"] == "2 foot 3 inch"


def test_a_typed_outline_is_understood(client):
    assert client.call("POST", "/outlines", {"text": "0 0\n10 0\n10 10", "unit": "mm"}).json["points_m"][
        1
    ] == [0.01, 0]


def test_the_workshops_settings_are_kept(client):
    settings = client.get("/session").json["workshop"]
    answer = save_workshop(client, {**settings, "name": "Shed", "room_c": "68 F"})
    assert answer.json["workshop"]["room_c"]["value"] == pytest.approx(20)
    assert client.get("/session").json["workshop"]["name"] == "Shed"


def test_the_bench_lists_where_pieces_stand(shelf):
    made(shelf, first_pour_at="2026-03-02T08:00:00Z")
    bench = shelf.get("/bench").json
    assert bench["pieces"][0]["standing"]["phase"] == "curing" and bench["pieces"][0]["moments"]


def test_the_demo_is_laid_out_in_an_empty_workshop_and_not_over_own_work(client):
    assert client.call("POST", "/demo").json["workshop"]["name"] == "Quillstone Yard"
    assert client.get("/pieces").json["total"] == 15
    assert client.call("POST", "/demo").status_code == 200


def test_own_work_is_never_cleared_for_the_demo(shelf):
    made(shelf)
    assert shelf.call("POST", "/demo").status_code == 422


# Files


def exported(client, stored):
    answer = client.get(f"/pieces/{stored['id']}/file")
    assert "attachment" in answer.headers["Content-Disposition"]
    return answer.data


def taken_in(client, data):
    return client.call("POST", "/pieces/file", data=data, content_type="application/json")


def test_a_piece_goes_out_and_comes_in_the_same(shelf):
    stored = made(shelf)
    back = taken_in(shelf, exported(shelf, stored))
    assert (
        back.status_code == 201 and back.json["piece"] == stored["piece"] and back.json["id"] != stored["id"]
    )
    assert len(shelf.get("/systems").json["sheets"]) == 1


def test_a_file_obeys_the_published_schema(shelf):
    Draft202012Validator(schema()).validate(json.loads(exported(shelf, made(shelf))))


def test_an_unlike_sheet_in_a_file_gets_an_id_of_its_own(shelf):
    document = json.loads(exported(shelf, made(shelf)))
    document["systems"][0]["stir_s"] = {"as_typed": "9 min"}
    back = taken_in(shelf, json.dumps(document).encode())
    assert back.json["piece"]["system_id"] == "slow-casting-epoxy-2"
    assert len(shelf.get("/systems").json["sheets"]) == 2


@pytest.mark.parametrize(
    ("data", "status", "words"),
    [
        (b'{"format": "cavatum-piece", "version": 1', 422, "broken"),
        (b"\xff\xfe", 422, "broken"),
        (b"[1, 2]", 422, "another format"),
        (b'{"format": "cavatum-piece", "version": 3, "name": "x"}', 422, "Update Cavatum"),
        (b'{"format": "cavatum-piece", "version": 1, "name": NaN}', 422, "broken"),
        (b"[" * 100_000, 422, "broken"),
        (b'{"format": "cavatum-piece", "version": 1, "name": "x", "tint": "red"}', 422, "tint"),
        (b" " * (MOST_BYTES + 10), 413, "2 MB"),
    ],
)
def test_bad_files_are_refused_with_a_reason(client, data, status, words):
    answer = taken_in(client, data)
    assert answer.status_code == status and words in json.dumps(answer.json)
    assert client.get("/pieces").json["total"] == 0


# The edge itself


def test_a_change_without_the_token_is_refused(client):
    answer = client.http.post("/api/v1/pieces", json={"name": "x"})
    assert answer.status_code == 403 and "token" in answer.json["detail"]


def test_another_host_name_is_refused(client):
    assert client.http.get("/api/v1/session", headers={"Host": "evil.example"}).status_code == 400


def test_strict_headers_on_every_answer(client):
    for path in ("/", "/api/v1/session", "/api/v1/nowhere"):
        headers = client.http.get(path).headers
        assert (
            "default-src 'none'" in headers["Content-Security-Policy"]
            and "unsafe" not in headers["Content-Security-Policy"]
        )
        assert headers["X-Content-Type-Options"] == "nosniff" and headers["X-Frame-Options"] == "DENY"


def test_an_answer_opened_by_itself_is_a_file_and_never_a_page(client):
    assert client.get("/session").headers["Content-Disposition"] == 'attachment; filename="answer.json"'


@pytest.mark.parametrize(
    "media", ["text/plain", "application/xml", "application/x-www-form-urlencoded", "multipart/form-data"]
)
def test_a_body_of_another_kind_than_json_is_refused(client, media):
    answer = client.call(
        "POST", "/pieces", data=json.dumps(box_piece().model_dump(mode="json")), content_type=media
    )
    assert answer.status_code in (400, 415, 422) and client.get("/pieces").json["pieces"] == []


def test_the_session_cookie_is_strict_and_hidden_from_scripts(fixed_app, client):
    cookie = fixed_app.test_client().get("/api/v1/session").headers["Set-Cookie"]
    assert "HttpOnly" in cookie and "SameSite=Strict" in cookie


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/nowhere", 404),
        ("GET", "/pieces/999", 404),
        ("GET", "/pieces/abc", 404),
        ("PATCH", "/pieces", 405),
        ("GET", "/pieces?limit=9999", 422),
        ("GET", "/systems/Not%20An%20Id/versions", 422),
    ],
)
def test_what_is_not_there_is_told_as_a_problem(client, method, path, status):
    answer = client.call(method, path)
    assert (
        answer.status_code == status
        and answer.content_type == "application/problem+json"
        and answer.json["detail"]
    )


def test_broken_json_is_told_as_such(client):
    answer = client.call("POST", "/pieces", data=b'{"name":', content_type="application/json")
    assert answer.status_code == 400 and "JSON" in answer.json["detail"]


def test_fifty_megabytes_are_refused_unread(client):
    answer = client.call("POST", "/pieces/file", data=b"x" * 50_000_000, content_type="application/json")
    assert answer.status_code == 413


def test_a_document_nested_a_hundred_thousand_deep_is_refused(client):
    answer = client.call(
        "POST", "/pieces", data=b'{"name":' + b"[" * 100_000, content_type="application/json"
    )
    assert answer.status_code in (400, 422)


def test_the_page_carries_a_fresh_nonce_and_routes_by_itself(client):
    first, second = client.http.get("/"), client.http.get("/pieces/1/layers")
    assert first.status_code == second.status_code == 200
    assert b"__NONCE__" not in first.data and first.data != second.data


def test_the_sample_piece_is_sound():
    assert box_piece().voids[0].count == 1


def test_what_an_answer_says_is_in_the_workshops_units(client):
    def said(path: str) -> str:
        return json.dumps(client.get(path).json, ensure_ascii=False)

    for path in ("/mend", "/systems/classes"):
        assert "⟦" not in said(path)
    assert "35 to 40 °C" in said("/mend")
    settings = client.get("/session").json["workshop"]
    assert save_workshop(client, {**settings, "units": "us"}).status_code == 200
    table = said("/mend")
    assert "95 to 104 °F" in table and "°C" not in table and "⟦" not in table
    refused = client.call(
        "POST",
        "/pieces",
        box_piece(
            voids=[
                {
                    **box_void(),
                    "inclusions": [
                        {"id": "t", "name": "thing", "volume_m3": "1 mL", "from_m": "20 mm", "to_m": "10 mm"}
                    ],
                }
            ]
        ).model_dump(mode="json"),
    )
    assert refused.status_code == 422 and "0.79 in" in refused.json["detail"] and "⟦" not in refused.text


def test_words_of_a_maker_come_back_as_they_were(client):
    """Quotation marks around an amount are a maker's own affair."""
    settings = client.get("/session").json["workshop"]
    assert save_workshop(client, {**settings, "units": "us"}).status_code == 200
    made = client.call("POST", "/pieces", box_piece(name="Table «10 mm» river").model_dump(mode="json"))
    assert made.status_code == 201
    assert client.get(f"/pieces/{made.json['id']}").json["piece"]["name"] == "Table «10 mm» river"


def test_no_two_bodies_of_the_api_share_a_name(client):
    """The one read last took the other's place in the description, without a word."""
    described = set(client.get("/openapi.json").json["components"]["schemas"])
    modules: dict[str, set[str]] = {}

    def walk(kind):
        for one in kind.__subclasses__():
            if one.__module__.startswith("cavatum.") and one.__name__ in described:
                modules.setdefault(one.__name__, set()).add(one.__module__)
            walk(one)

    walk(BaseModel)
    assert len(modules) > 100
    assert {name: where for name, where in modules.items() if len(where) > 1} == {}
