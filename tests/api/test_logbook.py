"""Logbook, learning, finish and mend over the API."""

import csv
import io
import json
from datetime import timedelta

import pytest

from tests.api.test_runs import add_piece, begin, said, send
from tests.conftest import Client
from tests.samples import NOW, system

H = 3600.0


def poured(client, piece=None, more=(), ends=True):
    """A run whose first pour is made, with what is said besides; its id and its script."""
    run = begin(client, piece or add_piece(client))
    batch = [step for step in run["script"]["steps"] if step["pour"] == 1 and step["batch"] is not None]
    events = (
        [{"kind": "done", "step": step["id"]} for step in batch]
        + list(more)
        + ([{"kind": "end", "how": "finished"}] if ends else [])
    )
    answer = send(client, run["id"], *(said(number + 1, event) for number, event in enumerate(events)))
    assert answer.status_code == 200, answer.json
    return run["id"], run["script"]


def residue(kg: float) -> dict:
    return {"kind": "amount", "what": "residue_kg", "value": kg, "of": "p1/b1"}


def taught(client, residues=(0.10, 0.11, 0.105)):
    """Three finished runs of one piece."""
    piece = add_piece(client)
    return piece, [poured(client, piece, [residue(kg)])[0] for kg in residues]


def test_a_run_is_found_by_every_word_of_it(client):
    run, _ = poured(
        client,
        more=[
            {"kind": "note", "text": "Larch from the Quarry"},
            {"kind": "rating", "stars": 4, "text": "slower"},
        ],
    )
    for words in ("", "larch quarry", "SAMPLE", "casting slower"):
        assert [row["run_id"] for row in client.get(f"/logbook?q={words}").json["rows"]] == [run]
    for nothing in ("q=oak", "q=larch oak", "q=%25", "stars=5", "kind=rotator", "troubled=true"):
        assert client.get(f"/logbook?{nothing}").json["total"] == 0


def test_a_rehearsal_is_no_run_of_the_logbook(client):
    begin(client, add_piece(client), {"speed": 60, "seed": 1, "troubles": False})
    assert client.get("/logbook").json["total"] == 0


def test_a_rehearsal_that_ended_is_read_and_teaches_nothing(client):
    run = begin(client, add_piece(client), {"speed": 60, "seed": 1, "troubles": False})
    send(client, run["id"], said(1, residue(0.1)), said(2, {"kind": "end", "how": "finished"}))
    assert client.get(f"/runs/{run['id']}/record").json["record"]["how"] == "finished"
    assert client.get("/logbook").json["total"] == 0 and client.get("/learned").json["learned"] == []


def test_a_mistaken_entry_is_taken_back_by_a_new_one_and_stays_visible(client):
    run, _ = poured(client, more=[residue(5.0)])
    record = client.get(f"/runs/{run}/record").json
    wrong = next(one for one in record["events"] if one["event"]["kind"] == "amount")
    send(client, run, said(90, {"kind": "undo", "event_id": wrong["event_id"]}), said(91, residue(0.05)))
    after = client.get(f"/runs/{run}/record").json
    assert after["record"]["batches"][0]["residue_kg"] == 0.05 and after["undone"] == [wrong["event_id"]]
    assert len(after["events"]) == len(record["events"]) + 2


def test_three_runs_teach_and_the_next_plan_uses_and_shows_it(client):
    piece, _ = taught(client)
    learned = client.get("/learned").json
    waste = next(one for one in learned["learned"] if one["code"] == "waste")
    assert (
        waste["used"]
        and len(waste["runs"]) == 3
        and waste["low"] < waste["value"] < waste["high"]
        and learned["runs"] == 3
    )
    plan = client.get(f"/pieces/{piece}/plan").json["plan"]
    residues = [
        working
        for working in plan["workings"].values()
        if any(one["origin"] == "learned" for one in working["inputs"])
    ]
    assert residues
    compared = client.get(f"/pieces/{piece}/learned").json
    mass = next(one for one in compared["compared"] if one["name"] == "on the scale")
    assert compared["taken"] and mass["after"] > mass["before"]


def test_set_aside_the_plan_is_as_before_and_used_again_as_after(client):
    piece, _ = taught(client)
    with_it = client.get(f"/pieces/{piece}/plan").json["plan"]["totals"]["mass"]["value"]
    keys = [one["key"] for one in client.get("/learned").json["learned"] if one["code"] == "waste"]
    assert len(keys) == 2 and "" in keys  # this resin, cup and scraping, and every other cup
    body = {"code": "waste", "set_aside": True}
    for key in keys:
        rows = client.call("PUT", "/learned", {**body, "key": key}).json["learned"]
        assert next(one for one in rows if one["key"] == key)["why_not"] == "set aside by you"
    without = client.get(f"/pieces/{piece}/plan").json["plan"]["totals"]["mass"]["value"]
    for key in keys:
        client.call("PUT", "/learned", {**body, "key": key, "set_aside": False})
    body["key"] = ""
    assert without < with_it == client.get(f"/pieces/{piece}/plan").json["plan"]["totals"]["mass"]["value"]
    assert client.call("PUT", "/learned", {**body, "code": "luck"}).status_code == 422


def test_an_outlier_that_would_teach_nonsense_is_told_and_not_used(client):
    taught(client, (0.10, 0.11, 0.105, 90.0))
    waste = client.get("/learned").json["learned"][0]
    assert "cannot be" in waste["left_out"][0] and len(waste["runs"]) == 3


@pytest.fixture
def later(make_app, client):
    """The same workshop three days on, when a log is taken in."""
    return Client(make_app(now=lambda: NOW + timedelta(days=3)))


def log_of(hours: int, start="2026-03-02T12:10:00+00:00", step_min: int = 30) -> str:
    from datetime import datetime

    begun = datetime.fromisoformat(start)
    return "time,temp C\n" + "".join(
        f"{(begun + timedelta(minutes=step_min * n)).isoformat()},{22 + 3 * n / (hours * 2):.2f}\n"
        for n in range(hours * 2)
    )


def test_a_loggers_file_lands_on_its_pour_once(client, later):
    run, _ = poured(client, ends=False)
    first = later.call(
        "POST", f"/runs/{run}/log-file", {"text": log_of(20), "pour": 1, "name": "probe.csv"}
    ).json
    assert first["kept"] == 40 and not first["says"]
    later.call("POST", f"/runs/{run}/log-file", {"text": log_of(20), "pour": 1, "name": "probe.csv"})
    curve = client.get(f"/runs/{run}/heat").json["pours"][0]
    assert len(curve["probe"]) == 40
    assert client.get(f"/runs/{run}/record").json["record"]["pours"][0]["peak_measured_c"] == pytest.approx(
        24.92, abs=0.1
    )


@pytest.mark.parametrize(
    ("text", "more", "code"),
    [
        ("time min,temp C\n0,22\n15,23\n", {}, "no-date"),
        (log_of(5, "2019-01-01T00:00:00+00:00"), {}, "outside"),
        (log_of(5, "2031-01-01T00:00:00+00:00"), {}, "outside"),
        (log_of(5), {"pour": 2}, "not-poured"),
        ("hello", {}, "no-columns"),
    ],
)
def test_a_file_that_cannot_belong_here_is_refused_with_the_way_out(client, later, text, more, code):
    run, _ = poured(client, ends=False)
    answer = later.call("POST", f"/runs/{run}/log-file", {"text": text, "pour": 1, **more})
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == code
    assert client.get(f"/runs/{run}/heat").json["pours"][0]["probe"] == []


def test_half_a_log_in_another_zone_is_put_right_and_said(client, later):
    run, _ = poured(client, ends=False)
    naive = log_of(20, "2026-03-02T17:10:00+00:00").replace("+00:00", "")
    found = later.call("POST", f"/runs/{run}/log-file", {"text": naive, "pour": 1, "shift_s": -5 * H}).json
    assert found["from_at"].startswith("2026-03-02T12:10") and "name no zone" in found["says"][0]
    late = later.call("POST", f"/runs/{run}/log-file", {"text": naive, "pour": 1}).json
    assert any("after the pour" in one for one in late["says"])


def test_the_logbook_leaves_as_a_table_json_and_pages(client):
    run, _ = poured(client, more=[{"kind": "rating", "stars": 5, "text": "=HYPERLINK(1)"}])
    rows = list(csv.DictReader(io.StringIO(client.get("/logbook.csv").text)))
    assert rows[0]["piece"] == "Sample block" and rows[0]["words"].startswith(
        "'="
    )  # no formula in a spreadsheet
    assert json.loads(client.get(f"/runs/{run}/record.json").text)["record"]["stars"] == 5
    for page in (
        f"/runs/{run}/record.pdf",
        f"/pieces/{client.get(f'/runs/{run}').json['piece_id']}/care.pdf",
    ):
        answer = client.get(page)
        assert answer.mimetype == "application/pdf" and answer.data.startswith(b"%PDF")


def test_gates_count_from_what_was_poured_and_what_was_tested(client):
    piece = add_piece(client, kind_of_work="block")
    before = client.get(f"/pieces/{piece}/finish").json
    assert before["run_id"] is None and all(one["poured_at"] is None for one in before["plan"]["gates"])
    run, _ = poured(client, piece, ends=False)
    send(client, run, said(80, {"kind": "gate", "gate": "recoat", "pour": 1, "result": "not sure"}))
    after = client.get(f"/pieces/{piece}/finish").json
    gate = next(one for one in after["plan"]["gates"] if one["code"] == "recoat")
    assert (
        after["run_id"] == run
        and gate["poured_at"]
        and gate["readiness"]["state"] == "not sure"
        and gate["readiness"]["next_s"] > 1800
    )
    assert after["plan"]["care"]["parts"]


def test_mend_knows_its_table_and_this_very_record(client):
    run, script = poured(client, ends=False, more=[{"kind": "skip", "step": "p1/cover"}])
    assert len(client.get("/mend").json["troubles"]) == 16
    asked = {"trouble": "dust", "answers": {"what": "hairs"}, "run_id": run}
    found = client.call("POST", "/mend/diagnose", asked).json
    assert found["ranked"][0]["cause"] == "uncovered" and "cover-left-out" in [
        one["fact"] for one in found["shown"]
    ]
    assert found["now"]  # the pour still runs: first what to do at once
    known = client.call("POST", "/mend/diagnose", {**asked, "not_so": ["cover-left-out"]}).json
    assert known["ranked"][0]["share"] < found["ranked"][0]["share"]
    assert client.call("POST", "/mend/diagnose", {"trouble": "luck"}).status_code == 422


def test_the_way_back_becomes_a_piece_with_its_plan(client):
    client.call("POST", "/systems", system("coating-epoxy").model_dump(mode="json"))
    piece = add_piece(client, system_id="coating-epoxy")
    body = {
        "trouble": "dust",
        "cause": "uncovered",
        "back": "sand-recoat",
        "area_m2": {"as_typed": "0.15 m2"},
    }
    made = client.call("POST", f"/pieces/{piece}/mend", body)
    assert made.status_code == 201, made.json
    plan = client.get(f"/pieces/{made.json['piece_id']}/plan").json["plan"]
    assert plan["pours"] and [one["code"] for one in plan["steps"] if one["rule"] == "10"] == [
        "let-cure",
        "sand-all",
        "dust-off",
    ]
    assert client.call("POST", f"/pieces/{piece}/mend", {**body, "area_m2": None}).status_code == 422
    assert client.call("POST", f"/pieces/{piece}/mend", {**body, "back": "luck"}).status_code == 422


def test_trials_are_planned_judged_and_kept(client):
    client.call("POST", "/systems", system("coating-epoxy").model_dump(mode="json"))
    made = client.call("POST", "/trials", {"what": "glitter-rest", "system_id": "coating-epoxy"}).json[
        "trials"
    ][0]
    assert made["in_all"]["value"] > 3 * made["each"]["value"] > 0 and made["workings"]
    trial = {**made["trial"], "kept": 2}
    trial["variants"][2]["stars"] = 5
    kept = client.call("PUT", f"/trials/{made['id']}", trial).json["trials"][0]["trial"]
    assert kept["kept"] == 2 and kept["variants"][2]["stars"] == 5
    for bad in ({"kept": 3}, {"what": "luck"}):
        assert client.call("PUT", f"/trials/{made['id']}", {**trial, **bad}).status_code == 422
    client.call("DELETE", "/systems/coating-epoxy")
    assert client.get("/trials").json["trials"][0]["row"][
        "steps"
    ]  # its resin is gone from the shelf: the trial is still there
    assert client.call("POST", "/trials", {"what": "luck", "system_id": "coating-epoxy"}).status_code == 422
    assert client.call("POST", "/trials", {"what": "flame", "system_id": "gone"}).status_code == 422
    assert client.call("DELETE", f"/trials/{made['id']}").json["trials"] == []


def test_what_is_said_after_the_end_still_counts(client):
    run, _ = poured(client)
    send(
        client,
        run,
        said(95, {"kind": "rating", "stars": 2, "text": "yellowed"}, at=NOW + timedelta(seconds=1)),
    )
    assert client.get("/logbook?q=yellowed").json["rows"][0]["stars"] == 2


def test_a_photo_of_eighty_megabytes_and_one_that_is_none_are_refused(client):
    big = client.call(
        "POST",
        "/files?name=big.jpg",
        data=b"\xff\xd8\xff" + b"0" * (80 << 20),
        headers={"Content-Type": "application/octet-stream"},
    )
    assert big.status_code == 413 and "MB" in big.json["detail"]
    none = client.call(
        "POST",
        "/files?name=photo.jpg",
        data=b"no photo",
        headers={"Content-Type": "application/octet-stream"},
    )
    assert none.status_code == 422
