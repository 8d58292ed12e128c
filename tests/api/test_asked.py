"""The whole API with what its document allows and with what it does not: never a 500, never a hang; what is
kept stays readable.
"""

import pytest

from tests.api.test_who_may import DOCUMENT
from tests.conftest import Client, _empty
from tests.samples import box_piece, box_void, system
from tests.scenes.asked import campaign


def laid_out(client) -> dict:
    """Some rows to aim at."""
    client.call("POST", "/systems", system().model_dump(mode="json"))
    piece = client.call(
        "POST", "/pieces", box_piece(voids=[box_void(depth="70 mm")]).model_dump(mode="json")
    ).json["id"]
    client.call(
        "PUT",
        "/goods/colourant/mica",
        {"id": "mica", "name": "Mica", "kind": "mica powder", "density_kg_m3": "3 g/cm3", "most": "5 %"},
    )
    bottle = client.call(
        "POST",
        "/stock",
        {"bottle": {"goods": "system", "goods_id": system().id, "part": "A", "full_kg": "1 kg"}},
    ).json["standing"]["id"]
    return {
        "piece_id": piece,
        "void_id": "box",
        "system_id": system().id,
        "good_id": "mica",
        "kind": "colourant",
        "bottle_id": bottle,
        "run_id": client.call("POST", f"/pieces/{piece}/runs", {"rehearse": None}).json["id"],
        "weighing_id": client.call("POST", f"/pieces/{piece}/weighings", {"pour": 1, "batch": 1}).json["id"],
        "trial_id": client.call("POST", "/trials", {"what": "flame", "system_id": system().id}).json[
            "trials"
        ][0]["id"],
        "job_id": client.call("POST", "/schedule", {}).json["job_id"],
    }


def caller(client):
    def call(method: str, url: str, request: dict) -> int:
        more = {key: request[key] for key in ("json", "data") if key in request}
        headers = {
            key: value for key, value in (request.get("headers") or {}).items() if isinstance(value, str)
        }
        return client.http.open(
            url.removeprefix("http://127.0.0.1"),
            method=method,
            query_string=request.get("params"),
            headers={**headers, "X-CSRFToken": client.token},
            **more,
        ).status_code

    return call


@pytest.mark.long
def test_no_operation_makes_a_mistake_of_its_own(make_app, database_url):
    client = Client(make_app())
    found = campaign(DOCUMENT, caller(client), 3, 20261125, laid_out(client))
    assert (
        found.wrong == []
        and found.operations == len([1 for path in DOCUMENT["paths"].values() for _ in path]) - 1
    )
    assert found.answers[2] > 60 and found.answers[4] > 300  # both what is taken and what is refused
    for piece in client.get("/pieces").json["pieces"]:
        assert (
            client.get(f"/pieces/{piece['id']}").status_code == 200
            and client.get(f"/pieces/{piece['id']}/plan").status_code == 200
        )
    assert (
        client.get("/session").status_code
        == client.get("/bench").status_code
        == client.get("/systems").status_code
        == 200
    )
    _empty(database_url)
