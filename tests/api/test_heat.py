"""Heat over the web: figures at once, long work as jobs, a probe's log laid over the prediction, a trial that
keeps nothing.
"""

import pytest

from cavatum.jobs.work import work
from tests.conftest import as_shop
from tests.samples import box_void, system


@pytest.fixture
def stored(client):
    client.call("POST", "/systems", system().model_dump(mode="json"))
    answer = client.call(
        "POST", "/pieces", {"name": "Block", "system_id": "slow-casting-epoxy", "voids": [box_void()]}
    )
    assert answer.status_code == 201, answer.json
    return answer.json


def test_every_layer_says_how_hot_it_gets_and_what_limits_it(client, stored):
    plan = client.get(f"/pieces/{stored['id']}/plan").json["plan"]
    for pour in plan["pours"]:
        for layer in pour["layers"]:
            heat = layer["heat"]
            assert heat["peak"]["value"] < heat["wanted_c"] < heat["never_c"] and layer["limited_by"]
            assert plan["workings"][heat["peak"]["working"]]["inputs"]
    assert plan["heat_notes"] and any("Not entered yet, so typical" in note for note in plan["heat_notes"])
    assert plan["heat_maps"][0]["void_id"] == "box"


def test_a_run_in_three_dimensions_is_asked_for_done_by_a_worker_and_kept(client, stored, database_url):
    path = f"/pieces/{stored['id']}/work"
    asked = client.call("POST", path, {"kind": "three", "void_id": "box"})
    assert asked.status_code == 202 and asked.json["state"] == "waiting"
    assert work(database_url, asked.json["id"], as_shop(database_url)) == "done"
    assert client.get(f"/jobs/{asked.json['id']}").json["three"]["peak_c"]
    assert client.call("POST", path, {"kind": "three", "void_id": "box"}).status_code == 200  # known already


def changed(piece, **void):
    return {**piece, "voids": [{**piece["voids"][0], **void}]}


def test_a_cover_and_neighbours_move_the_chance_before_they_are_kept(client, stored):
    def worst(around, **void):
        piece = changed(stored["piece"], around=around, **void)
        plan = client.call("POST", "/pieces/try", {"piece": piece}).json["plan"]
        chances = [layer["heat"]["chance"] for pour in plan["pours"] for layer in pour["layers"]]
        return max(one["high_c"] for one in chances)

    deep = {"count": 12}
    stored["piece"]["layering"] = "thirds"
    alone = worst({}, **deep)
    assert worst({"covered": "in a box"}, **deep) > alone + 5
    assert worst({"spacing_m": {"value": 0.01}}, **deep) > alone + 0.5
    assert worst({"fan": True}, **deep) < alone


@pytest.mark.parametrize(
    ("void", "pointer"),
    [
        (
            {"count": 4, "around": {"wall_m": {"value": 0.02}, "spacing_m": {"value": 0.01}}},
            "/piece/voids/0/around/spacing_m",
        ),
        ({"portions": [{"id": "p1", "pour_c": {"value": 60}}]}, "/piece/voids/0/portions/0/pour_c"),
        (
            {
                "shape": {
                    "kind": "cone",
                    "bottom_diameter_m": {"value": 0.1},
                    "top_diameter_m": {"value": 0.0005},
                    "depth_m": {"value": 0.1},
                },
                "around": {"covered": "under a cover"},
            },
            "/piece/voids/0/around/covered",
        ),
    ],
)
def test_what_cannot_be_round_a_void_is_refused_at_its_field(client, stored, void, pointer):
    answer = client.call(
        "PUT",
        f"/pieces/{stored['id']}",
        {"base_revision": stored["revision"], "what": "around", "piece": changed(stored["piece"], **void)},
    )
    assert answer.status_code == 422, answer.json
    assert answer.json["problems"][0]["pointer"] == pointer and answer.json["problems"][0]["way_out"]


def test_a_job_can_be_ended_and_one_of_another_name_is_refused(client, stored):
    asked = client.call("POST", f"/pieces/{stored['id']}/work", {"kind": "three", "void_id": "box"}).json
    assert client.call("DELETE", f"/jobs/{asked['id']}").json["state"] == "ended"
    assert client.get("/jobs/999999").status_code == 404
    assert client.call("POST", f"/pieces/{stored['id']}/work", {"kind": "everything"}).status_code == 422


def test_a_warmer_room_is_tried_without_being_kept(client, stored):
    def peak(**more):
        plan = client.call("POST", "/pieces/try", {"piece": stored["piece"], **more}).json["plan"]
        return plan["pours"][0]["layers"][0]["heat"]["peak"]["value"]

    piece = {**stored["piece"], "layering": "thirds"}
    stored["piece"] = piece
    assert peak(room_c=30) > peak() + 5
    assert client.get("/session").json["workshop"]["room_c"]["value"] == pytest.approx(box_room())


def box_room():
    from tests.samples import workshop

    return workshop().room_c.value


def test_a_probes_log_refits_the_resin_and_is_kept_as_a_new_version(client, stored):
    answer = client.call(
        "POST", f"/pieces/{stored['id']}/probe", {"void_id": "box", "layer": 0, "stand_in": True}
    )
    assert answer.status_code == 200, answer.json
    refit = answer.json["refit"]
    assert refit["after_k"] < 0.4 < refit["before_k"] and refit["rate_factor"] == pytest.approx(
        1.12, abs=0.05
    )
    sheet = client.get("/systems").json["sheets"][0]["system"]
    kept = client.call("PUT", f"/systems/{sheet['id']}", {**sheet, "cure_fit": answer.json["fit"]})
    assert kept.status_code == 200 and kept.json["system"]["version"] == sheet["version"] + 1
    plan = client.get(f"/pieces/{stored['id']}/plan").json["plan"]
    assert any("a measured curve" in note for note in plan["heat_notes"])


def test_the_resin_alone_keeps_what_an_older_fit_knew_of_the_top(client, stored):
    """A sheet of an earlier version; both together hand it over to the workshop."""
    sheet = client.get("/systems").json["sheets"][0]["system"]
    old = {"rate_factor": 1.0, "top_w_m2k": 8.0, "before_k": 2, "after_k": 0.3, "points": 80}
    client.call("PUT", f"/systems/{sheet['id']}", {**sheet, "cure_fit": old})
    asked = {"void_id": "box", "layer": 0, "stand_in": True}
    path = f"/pieces/{stored['id']}/probe"
    resin = client.call("POST", path, {**asked, "teaches": "resin"}).json
    assert resin["fit"]["top_w_m2k"] == 8.0 and resin["air"] is None
    both = client.call("POST", path, asked).json
    assert both["fit"]["top_w_m2k"] is None and both["air"]["top_times"] == pytest.approx(0.8 * 0.85, rel=0.3)
    workshop = client.call("POST", path, {**asked, "teaches": "workshop"}).json
    assert workshop["fit"] is None and workshop["air"]


def test_a_log_of_another_layer_or_of_nothing_is_refused(client, stored):
    path = f"/pieces/{stored['id']}/probe"
    assert client.call("POST", path, {"void_id": "box", "layer": 9, "stand_in": True}).status_code == 422
    flat = "time min,temp C\n" + "".join(f"{i * 15},22.0\n" for i in range(40))
    refused = client.call("POST", path, {"void_id": "box", "layer": 0, "text": flat})
    assert refused.status_code == 422 and "rise" in refused.json["detail"]
