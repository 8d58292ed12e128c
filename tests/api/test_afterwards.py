"""What was done before it was entered, and what is typed at the bench, over the API: own times, every
device, the
record.
"""

from datetime import timedelta

import pytest

from tests.api.test_runs import add_piece, begin, said, send
from tests.samples import NOW

POURED = NOW - timedelta(days=2, hours=3)


def enter(client, piece, **told):
    body = {"poured": [{"pour": 1, "at": POURED.isoformat()}], **told}
    return client.call("POST", f"/pieces/{piece}/runs/afterwards", body)


def test_a_run_is_entered_afterwards_with_its_own_times(client):
    piece = add_piece(client)
    answer = enter(client, piece, note="poured by the window")
    assert answer.status_code == 201, answer.json
    run = answer.json
    done = {one["event"]["step"]: one for one in run["events"] if one["event"]["kind"] == "done"}
    batches = [step for step in run["script"]["steps"] if step["pour"] == 1 and step["kind"] == "pour"]
    last = done[batches[-1]["id"]]
    assert last["at"].startswith(POURED.isoformat()[:16]) and last["entered"] and not last["doubted"]
    assert done["p1/ready"]["at"] < last["at"] and not run["ended"]
    assert run["begun_at"] <= done["p1/ready"]["at"]
    assert run["events"][-1]["event"]["text"] == "poured by the window"


def test_a_finished_piece_of_before_the_program_is_a_record_like_others(client):
    piece = add_piece(client)
    run = enter(client, piece, how="finished", ended_at=(NOW - timedelta(hours=1)).isoformat()).json
    assert run["ended"] and run["ended_at"].startswith((NOW - timedelta(hours=1)).isoformat()[:16])
    debrief = client.get(f"/runs/{run['id']}/debrief").json
    assert debrief["done"] >= 3


@pytest.mark.parametrize(
    "told",
    [
        {"poured": [{"pour": 1, "at": (NOW + timedelta(hours=2)).isoformat()}]},
        {"poured": [{"pour": 99, "at": POURED.isoformat()}]},
        {"poured": []},
        {"tests": [{"step": "p1/nowhere", "at": POURED.isoformat(), "result": "passed"}]},
    ],
)
def test_what_cannot_have_been_is_refused(client, told):
    assert enter(client, add_piece(client), **told).status_code == 422


def test_while_a_run_is_open_nothing_is_entered_beside_it(client):
    piece = add_piece(client)
    begin(client, piece)
    assert enter(client, piece).status_code == 422


def test_one_step_of_a_run_is_entered_at_its_own_time(client):
    run = begin(client, add_piece(client))
    earlier = NOW - timedelta(hours=20)
    answer = send(
        client, run["id"], {**said(1, {"kind": "done", "step": "p1/ready"}, at=earlier), "entered": True}
    )
    kept = answer.json["events"][0]
    assert kept["at"].startswith(earlier.isoformat()[:16]) and kept["entered"] and not kept["doubted"]
    plain = send(client, run["id"], said(2, {"kind": "done", "step": "p1/ready"}, at=earlier), since=1)
    assert plain.json["events"][0]["doubted"]


def test_what_was_typed_of_a_part_is_there_for_every_device_and_in_the_record(client):
    run = begin(client, add_piece(client))
    weigh = next(one for one in run["script"]["steps"] if one["kind"] == "weigh")
    first, second = weigh["parts"]
    more = first["target_kg"] * 1.1
    send(
        client,
        run["id"],
        said(1, {"kind": "weighed", "step": weigh["id"], "part": first["part"], "kg": more}),
    )
    again = client.get(f"/runs/{run['id']}").json["events"]
    assert [one["event"]["kg"] for one in again if one["event"]["kind"] == "weighed"] == [more]
    send(
        client,
        run["id"],
        said(2, {"kind": "done", "step": weigh["id"]}),
        said(3, {"kind": "end", "how": "finished"}),
    )
    record = client.get(f"/runs/{run['id']}/record").json
    batch = record["record"]["batches"][0]
    assert batch["weighed_kg"] == pytest.approx(more + more * second["per_other"], rel=0.01)
