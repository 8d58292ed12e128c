"""A data sheet through the API: kept, read, and what a person took of it as a system of the shelf."""

import pytest

from tests.api.test_files import SVG, send
from tests.formats.test_sheets_in import pdf
from tests.samples import box_void

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


def take(client, sha, names, system_id="larch", like="casting-epoxy-25", what="take"):
    found = rows(client, sha)
    body = {"name": "Larch", "system_id": system_id, "like": like, "taken": []}
    body["taken"] = [{"number": found[one]["number"]} for one in names]
    return client.call("POST", f"/sheets/{sha}/{what}", body)


def test_a_figure_of_a_plan_opens_to_the_line_it_came_from(client):
    sha = sheet(client)
    take(client, sha, ["ratio", "working_time", "depth_most", "demould", "full_cure"])
    void = box_void("200 mm", "100 mm", "12 mm")
    piece = client.call("POST", "/pieces", {"name": "Plaque", "system_id": "larch", "voids": [void]}).json
    plan = client.call("GET", f"/pieces/{piece['id']}/plan").json["plan"]
    places = {
        one["read_from"]["written"]: one["read_from"]
        for working in plan["workings"].values()
        for one in working["inputs"]
        if one.get("read_from")
    }
    assert "2 : 1" in places and "30 min" in places
    words = rows(client, sha)["ratio"]["found"]["where"][0]
    page = client.call("GET", f"/sheets/{sha}").json["pages"][0]
    assert places["2 : 1"]["file"] == sha
    assert places["2 : 1"]["top"] == pytest.approx(words["top"] / page["height"])
    # Typed anew by hand it is no longer that line's.
    system = client.call("GET", "/systems").json["sheets"][0]["system"]
    system["ratio"] = {"as_typed": "3:1", "origin": "sheet"}
    assert client.call("PUT", "/systems/larch", system).status_code == 200
    plan = client.call("GET", f"/pieces/{piece['id']}/plan").json["plan"]
    ratios = [
        one
        for working in plan["workings"].values()
        for one in working["inputs"]
        if one["name"].startswith("ratio A:B")
    ]
    assert ratios and not any(one.get("read_from") for one in ratios)


def test_a_new_edition_says_what_it_changes_and_which_pieces_it_touches(client):
    first = sheet(client)
    take(client, first, ["ratio", "working_time", "demould"])
    void = box_void("200 mm", "100 mm", "12 mm")
    for name, system in (("Plaque", "larch"), ("Tray", None)):
        client.call("POST", "/pieces", {"name": name, "system_id": system, "voids": [void]})
    second = sheet(client, [*LINES[:3], "Demould 36 h", "Full cure 7 days"])
    seen = take(client, second, ["ratio", "working_time", "demould"], like=None, what="preview").json
    assert [(one["field"], one["before"], one["after"]) for one in seen["changes"]] == [
        ("demould_s", "24 h", "36 h")
    ]
    assert [one["name"] for one in seen["pieces"]] == ["Plaque"]
    assert seen["unused"] == []
    assert client.call("GET", "/systems").json["sheets"][0]["system"]["demould_s"]["as_typed"] == "24 h"


def test_of_two_values_for_one_place_the_second_is_told_as_unused(client):
    sha = sheet(client, [*LINES[:2], "Demould 24 h (25 mm)", "Demould 36 h (60 mm)"])
    numbers = [
        one["number"]
        for one in client.call("GET", f"/sheets/{sha}").json["rows"]
        if one["found"]["quantity"] == "demould"
    ]
    body = {"name": "Larch", "system_id": "larch", "like": "casting-epoxy-25"}
    seen = client.call(
        "POST", f"/sheets/{sha}/preview", {**body, "taken": [{"number": one} for one in numbers]}
    )
    assert len(numbers) == 2 and seen.json["unused"] == numbers[1:]


def test_rows_of_other_masses_and_temperatures_calibrate_the_cure(client):
    lines = [
        "Mix ratio 2:1 by volume",
        "Pot life 45 min (100 g, 23 °C)",
        "Pot life 26 min (100 g, 30 °C)",
        "Pot life 40 min (500 g, 23 °C)",
    ]
    sha = sheet(client, lines)
    numbers = [{"number": one["number"]} for one in client.call("GET", f"/sheets/{sha}").json["rows"]]
    body = {"name": "Larch", "system_id": "larch", "like": "craft-casting-epoxy", "taken": numbers}
    made = client.call("POST", f"/sheets/{sha}/take", body).json
    system = made["system"]
    assert system["other_at_c"]["value"] == 30 and system["other_working_s"]["value"] == 26 * 60
    assert [one["mass_kg"]["value"] for one in system["more_working"]] == [0.5]
    assert [(one["at_c"], one["mass_kg"], one["said_s"]) for one in made["rows"]] == [
        (23, 0.1, 2700),
        (30, 0.1, 1560),
        (23, 0.5, 2400),
    ]
    assert made["rows"][0]["computed_s"] == 2700
    assert all(abs(one["computed_s"] / one["said_s"] - 1) < 0.2 for one in made["rows"])


def test_the_cautions_of_a_safety_data_sheet_are_said_in_the_plans(client):
    take(client, sheet(client), ["ratio", "working_time"])
    safety = sheet(client, ["Hazard statements H302 H315 H317 H319 H411", "Precautions P261 P273 P280 P302"])
    hazards = client.call("GET", f"/sheets/{safety}").json["hazards"]
    assert [one["code"] for one in hazards] == ["H302", "H315", "H317", "H319", "H411"]
    assert hazards[2]["says"] == "May cause an allergic skin reaction"
    done = client.call("POST", f"/sheets/{safety}/hazards", {"system_id": "larch", "codes": ["H317", "H411"]})
    assert done.status_code == 201 and done.json["system"]["hazards"] == ["H317", "H411"]
    void = box_void("200 mm", "100 mm", "12 mm")
    piece = client.call("POST", "/pieces", {"name": "Plaque", "system_id": "larch", "voids": [void]}).json
    cautions = client.call("GET", f"/pieces/{piece['id']}/plan").json["plan"]["cautions"]
    assert any("Larch, H317: may cause an allergic skin reaction." in one for one in cautions)
    # One that is not known here is said all the same, and sends to its sheet.
    lines = ["Hazard statements H302 H317 H319 EUH205 EUH401", "Precautions P261 P273 P280 P302"]
    codes = [one["code"] for one in client.call("GET", f"/sheets/{sheet(client, lines)}").json["hazards"]]
    assert codes == ["EUH205", "EUH401", "H302", "H317", "H319"]
    done = client.call(
        "POST", f"/sheets/{sheet(client, lines)}/hazards", {"system_id": "larch", "codes": codes}
    )
    assert done.status_code == 201, done.json
    cautions = client.call("GET", f"/pieces/{piece['id']}/plan").json["plan"]["cautions"]
    assert any("Larch, EUH205: contains epoxy constituents." in one for one in cautions)
    assert any("Larch, EUH401" in one and "Read it there." in one for one in cautions)
    strange = {"system_id": "larch", "codes": ["H350"]}
    assert client.call("POST", f"/sheets/{safety}/hazards", strange).status_code == 422
    nobody = {"system_id": "nobody", "codes": ["H317"]}
    assert client.call("POST", f"/sheets/{safety}/hazards", nobody).status_code == 404


def test_of_columns_at_several_temperatures_the_times_of_one_count(client):
    """Taken in the order they stand, 18 degC stood first and its times counted as those of 23 degC."""
    sha = sheet(
        client,
        [
            "Mix ratio 1:1 by volume",
            *(f"Pot life {minutes} min at {at} °C" for minutes, at in ((54, 18), (30, 23), (15, 30))),
            *(f"Tack free {hours} h at {at} °C" for hours, at in ((4, 18), (2, 23), (1, 30))),
            *(f"Demould {hours} h at {at} °C" for hours, at in ((18, 18), (10, 23), (5, 30))),
        ],
    )
    found = client.call("GET", f"/sheets/{sha}").json["rows"]
    body = {"name": "Larch", "system_id": "larch", "like": "coating-epoxy"}
    body["taken"] = [{"number": one["number"]} for one in found]
    unused = client.call("POST", f"/sheets/{sha}/preview", body).json["unused"]
    assert [(found[one]["found"]["as_typed"], found[one]["found"]["at_c"]) for one in sorted(unused)] == [
        ("4 h", 18),
        ("1 h", 30),
        ("5 h", 30),
    ]
    system = client.call("POST", f"/sheets/{sha}/take", body).json["system"]
    assert system["times_at_c"]["value"] == 23
    assert system["tack_free_s"]["as_typed"] == "2 h" and system["demould_s"]["as_typed"] == "10 h"
    assert system["working_time"]["temperature_c"]["value"] == 23
    assert system["other_at_c"]["value"] == 18
    assert (system["other_working_s"]["as_typed"], system["other_demould_s"]["as_typed"]) == (
        "54 min",
        "18 h",
    )
    assert [one["temperature_c"]["value"] for one in system["more_working"]] == [30]


def test_the_makers_names_of_the_parts_stand_at_the_scale(client):
    sha = sheet(client, ["Part A: Alder resin", "Part B: Alder quick", *LINES])
    named = client.call("GET", f"/sheets/{sha}").json["names"]
    assert [(one["part"], one["name"]) for one in named] == [("a", "Alder resin"), ("b", "Alder quick")]
    found = rows(client, sha)
    body = {"name": "Larch", "system_id": "larch", "like": "casting-epoxy-25", "name_a": "Alder resin"}
    body["taken"] = [{"number": found["ratio"]["number"]}]
    assert client.call("POST", f"/sheets/{sha}/take", body).json["system"]["name_a"] == "Alder resin"
    void = box_void("200 mm", "100 mm", "12 mm")
    piece = client.call("POST", "/pieces", {"name": "Plaque", "system_id": "larch", "voids": [void]}).json
    begun = client.call("POST", f"/pieces/{piece['id']}/weighings", {"pour": 1, "batch": 1}).json
    assert [one["name"] for one in begun["state"]["steps"][:2]] == ["part A, Alder resin", "part B"]


def test_a_density_without_its_part_is_asked_about(client):
    sha = sheet(client, ["Mix ratio 2:1 by volume", "Pot life 30 min", "Density 1.12 g/mL"])
    number = rows(client, sha)["density"]["number"]
    body = {"name": "Larch", "system_id": "larch", "like": "casting-epoxy-25"}
    unsaid = client.call("POST", f"/sheets/{sha}/preview", {**body, "taken": [{"number": number}]}).json
    assert unsaid["unused"] == [number]
    said = {**body, "taken": [{"number": number, "part": "b"}]}
    system = client.call("POST", f"/sheets/{sha}/take", said).json["system"]
    assert system["density_b_kg_m3"]["value"] == 1120 and system["density_b_kg_m3"]["origin"] == "sheet"
    assert system["density_a_kg_m3"]["origin"] == "typical"
