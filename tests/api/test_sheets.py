"""A data sheet through the API: kept, read, and what a person took of it as a system of the shelf."""

from tests.api.test_files import SVG, send
from tests.formats.test_sheets_in import pdf

LINES = [
    "Mix ratio 2:1 by volume",
    "Pot life 30 min (150 g, 25 °C)",
    "Max. pour depth 25 mm",
    "Demould 24 h",
    "Full cure 7 days",
]


def sheet(client, lines=LINES) -> str:
    answer = send(client, pdf(lines=lines), "larch.pdf")
    assert answer.status_code == 201 and answer.json["kind"] == "pdf"
    return answer.json["sha256"]


def rows(client, sha: str) -> dict[str, dict]:
    read = client.call("GET", f"/sheets/{sha}")
    assert read.status_code == 200, read.json
    return {one["found"]["quantity"]: one for one in read.json["rows"]}


def test_a_sheet_is_read_with_the_place_of_each_value(client):
    sha = sheet(client)
    read = client.call("GET", f"/sheets/{sha}").json
    assert read["document"] == "data sheet" and read["language"] == "en" and read["has_pictures"]
    work = rows(client, sha)["working_time"]
    assert work["found"]["mass_kg"] == 0.15 and work["fields"] == ["working_time"]
    assert 0 < work["found"]["where"][0]["x0"] < read["pages"][0]["width"]
    picture = client.call("GET", f"/sheets/{sha}/pages/1.jpg")
    assert picture.status_code == 200 and picture.data[:2] == b"\xff\xd8"
    assert client.call("GET", f"/sheets/{sha}/pages/2.jpg").status_code == 422


def test_nothing_counts_before_it_is_taken(client):
    sha = sheet(client)
    found = rows(client, sha)
    body = {
        "name": "Larch",
        "system_id": "larch",
        "like": "casting-epoxy-25",
        "taken": [
            {"number": found["ratio"]["number"]},
            {"number": found["working_time"]["number"], "as_typed": "35 min"},
        ],
    }
    made = client.call("POST", f"/sheets/{sha}/take", body)
    assert made.status_code == 201, made.json
    system = made.json["system"]
    assert system["ratio"]["value"] == 2 and system["ratio"]["origin"] == "sheet"
    assert system["working_time"]["time_s"]["value"] == 2100
    assert system["demould_s"]["origin"] == "typical" and "demould_s" in made.json["typical"]
    assert {one["field"] for one in system["read_from"]} == {"basis", "ratio", "working_time"}
    again = client.call(
        "POST",
        f"/sheets/{sha}/take",
        {**body, "like": None, "taken": [{"number": found["demould"]["number"]}]},
    )
    assert again.json["system"]["version"] == 2 and again.json["system"]["ratio"]["origin"] == "sheet"


def test_what_cannot_be_taken_is_refused_in_words(client):
    sha = sheet(client)
    body = {"name": "Larch", "system_id": "larch", "like": "casting-epoxy-25", "taken": [{"number": 99}]}
    assert client.call("POST", f"/sheets/{sha}/take", body).status_code == 422
    number = rows(client, sha)["demould"]["number"]
    wrong = {**body, "taken": [{"number": number, "as_typed": "24 mm"}]}
    assert client.call("POST", f"/sheets/{sha}/take", wrong).status_code == 422
    assert (
        client.call(
            "POST", f"/sheets/{sha}/take", {**body, "taken": [{"number": number}], "like": "no"}
        ).status_code
        == 422
    )


def test_a_ratio_needs_its_basis_and_a_new_system_its_own_name(client):
    sha = sheet(client, ["Mix ratio 2:1", "Pot life 30 min", "Full cure 7 days"])
    number = rows(client, sha)["ratio"]["number"]
    body = {"name": "Larch", "system_id": "larch", "like": "casting-epoxy-25", "taken": [{"number": number}]}
    refused = client.call("POST", f"/sheets/{sha}/take", body)
    assert refused.status_code == 422 and refused.json["problems"][0]["code"] == "no-basis"
    said = {**body, "taken": [{"number": number, "basis": "weight"}]}
    assert client.call("POST", f"/sheets/{sha}/take", said).json["system"]["basis"] == "weight"
    again = client.call("POST", f"/sheets/{sha}/take", said)
    assert again.status_code == 422 and again.json["problems"][0]["code"] == "twice"


def test_a_safety_data_sheet_is_told(client):
    sha = sheet(client, ["Hazard statements H302 H315 H317 H319 H411", "Precautions P261 P273 P280 P302"])
    assert client.call("GET", f"/sheets/{sha}").json["document"] == "safety data sheet"


def test_a_file_of_another_kind_is_no_sheet(client):
    drawing = send(client, SVG).json["sha256"]
    answer = client.call("GET", f"/sheets/{drawing}")
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == "other-kind"
