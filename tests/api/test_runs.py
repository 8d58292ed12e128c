"""Runs, schedule, calendars and phones over the API."""

import re
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from uuid import uuid4

import icalendar
import psycopg
import pytest

from cavatum.core.clock.hours import is_attended
from cavatum.core.common.workshop import Workshop
from cavatum.core.pour.pace import MOVES_FROM
from cavatum.jobs import work
from tests.conftest import Client, _empty, as_shop
from tests.samples import NOW, box_piece, box_void, system

DEVICE = str(uuid4())


def add_piece(client, **changes):
    if not client.get("/systems").json["sheets"]:
        client.call("POST", "/systems", system().model_dump(mode="json"))
    piece = box_piece(**{"name": "Sample block", "voids": [box_void(depth="70 mm")], **changes})
    return client.call("POST", "/pieces", piece.model_dump(mode="json")).json["id"]


def begin(client, piece_id: int, rehearse=None):
    answer = client.call("POST", f"/pieces/{piece_id}/runs", {"rehearse": rehearse})
    assert answer.status_code == 201, answer.json
    return answer.json


def said(seq: int, event: dict, at=None, id_=None):
    moment = (at or NOW).isoformat()
    return {
        "event_id": id_ or str(uuid4()),
        "device": DEVICE,
        "seq": seq,
        "at": moment,
        "device_at": moment,
        "event": event,
    }


def send(client, run: int, *events, since: int = 0):
    return client.call("POST", f"/runs/{run}/events", {"since": since, "events": list(events)})


def test_a_run_freezes_the_plan_and_keeps_every_event_once(client):
    piece = add_piece(client)
    run = begin(client, piece)
    assert begin(client, piece)["id"] == run["id"]  # two devices that begin at once share it
    one = said(1, {"kind": "done", "step": "p1/ready"})
    first = send(client, run["id"], one).json
    assert [event["number"] for event in first["events"]] == [1]
    assert (
        send(client, run["id"], one, said(2, {"kind": "note", "text": "clear"}), since=1).json["events"][0][
            "number"
        ]
        == 2
    )
    assert len(client.get(f"/runs/{run['id']}").json["events"]) == 2
    stored = client.get(f"/pieces/{piece}").json
    client.call(
        "PUT",
        f"/pieces/{piece}",
        {
            "base_revision": stored["revision"],
            "piece": {**stored["piece"], "name": "Another name"},
            "what": "name",
        },
    )
    assert client.get(f"/runs/{run['id']}").json["script"]["piece"] == "Sample block"


def test_what_a_run_refuses_it_says(client):
    run = begin(client, add_piece(client))["id"]
    refused = send(client, run, said(1, {"kind": "done", "step": "p9/nowhere"}))
    assert refused.status_code == 422 and "Open the run again" in refused.json["detail"]
    assert send(client, run, said(1, {"kind": "sing"})).status_code == 422
    assert (
        client.call("POST", f"/runs/{run}/jump", {"to": (NOW + timedelta(hours=1)).isoformat()}).json[
            "problems"
        ][0]["code"]
        == "not-a-rehearsal"
    )
    empty = client.call("POST", "/pieces", {"name": "Nothing in it"}).json["id"]
    assert (
        client.call("POST", f"/pieces/{empty}/runs", {"rehearse": None}).json["problems"][0]["code"]
        == "no-pour"
    )
    assert client.get("/runs/999999").status_code == 404


def pour(client, run, seq: int, at) -> int:
    """The first pour of a run, done step by step."""
    steps = [
        step["id"]
        for step in run["script"]["steps"]
        if step["pour"] == 1 and step["kind"] in ("ready", "weigh", "stir", "rest", "pour")
    ]
    send(
        client,
        run["id"],
        *(said(seq + number, {"kind": "done", "step": step}, at) for number, step in enumerate(steps)),
    )
    return seq + len(steps)


def test_readings_that_run_behind_move_the_windows_and_say_so(make_app, database_url):
    moment = [NOW]
    client = Client(make_app(now=lambda: moment[0]))
    run = begin(client, add_piece(client))
    seq = pour(client, run, 1, NOW)
    curve = run["script"]["curves"][0]["curve"]
    poured = NOW
    for hour in range(1, 40, 2):
        at = poured + timedelta(hours=hour)
        moment[0] = at
        late = hour * 3600 / 1.25  # everything takes a quarter longer
        value = next(celsius for second, celsius in curve if second >= late)
        seq += 1
        send(
            client,
            run["id"],
            said(seq, {"kind": "reading", "what": "surface_c", "value": round(value, 2), "pour": 1}, at),
        )
    send(
        client,
        run["id"],
        said(seq + 1, {"kind": "reading", "what": "surface_c", "value": 900.0, "pour": 1}, moment[0]),
    )
    found = client.get(f"/runs/{run['id']}/heat").json["pours"][0]
    assert (
        found["pace"]["times"] == pytest.approx(1.25, rel=0.06)
        and "behind" in found["pace"]["says"]
        and found["absurd"] == 1
    )
    paces = [
        one["event"]
        for one in client.get(f"/runs/{run['id']}").json["events"]
        if one["event"]["kind"] == "pace"
    ]
    assert paces[-1]["times"] == pytest.approx(1.25, rel=0.06) and "readings" in paces[-1]["why"]
    said_before = [1.0, *(one["times"] for one in paces)]
    moved = [after / before for before, after in zip(said_before, said_before[1:], strict=False)]
    assert all(abs(times - 1) >= MOVES_FROM for times in moved)
    _empty(database_url)


def test_a_rehearsal_has_its_own_clock_readings_and_troubles_and_a_debrief(make_app, database_url):
    moment = [NOW]
    client = Client(make_app(now=lambda: moment[0]))
    piece = add_piece(client)
    run = begin(client, piece, {"speed": 240, "seed": 12, "troubles": True})
    began = client.get(f"/runs/{run['id']}/events").json["now"]
    moment[0] = NOW + timedelta(seconds=15)
    assert datetime.fromisoformat(
        client.get(f"/runs/{run['id']}/events").json["now"]
    ) - datetime.fromisoformat(began) == timedelta(hours=1)
    pour(client, run, 1, datetime.fromisoformat(began))
    on = client.call(
        "POST",
        f"/runs/{run['id']}/jump",
        {"to": (datetime.fromisoformat(began) + timedelta(hours=30)).isoformat()},
    ).json
    assert on["troubles"] and {one["pour"] for one in on["troubles"]} == {1}
    heat = client.get(f"/runs/{run['id']}/heat").json
    assert len(heat["pours"][0]["probe"]) > 80 and len(heat["room"]) > 20
    assert begin(client, piece)["id"] != run["id"]  # the real run stands beside it
    send(client, run["id"], said(90, {"kind": "end", "how": "finished"}, datetime.fromisoformat(on["now"])))
    assert client.get(f"/runs/{run['id']}/debrief").json["done"] > 5
    too_far = client.call("POST", f"/runs/{run['id']}/jump", {"to": (NOW + timedelta(days=60)).isoformat()})
    assert too_far.json["problems"][0]["code"] == "too-far"
    _empty(database_url)


def test_many_pages_on_one_rehearsal_do_not_wait_for_each_other_in_a_circle(make_app, database_url):
    """Polls, taps and jumps all write what the stand-ins read; they used to lock the run and its readings in
    both orders.
    """
    moment = [NOW]
    app = make_app(now=lambda: moment[0])
    client = Client(app)
    run = begin(client, add_piece(client), {"speed": 240, "seed": 12, "troubles": False})
    began = datetime.fromisoformat(client.get(f"/runs/{run['id']}/events").json["now"])
    pour(client, run, 1, began)

    def page(seed: int) -> list[int]:
        device, own = str(uuid4()), Client(app)
        codes = []
        for turn in range(12):
            moment[0] += timedelta(seconds=3)
            to = (began + timedelta(hours=2 + (turn * 6 + seed) / 4)).isoformat()
            note = {**said(turn + 1, {"kind": "note", "text": "seen"}, began), "device": device}
            codes += [
                own.get(f"/runs/{run['id']}/events").status_code,
                send(own, run["id"], note).status_code,
                own.call("POST", f"/runs/{run['id']}/jump", {"to": to}).status_code,
                own.get(f"/runs/{run['id']}/heat").status_code,
            ]
        return codes

    with ThreadPoolExecutor(6) as threads:
        assert {code for codes in threads.map(page, range(6)) for code in codes} == {200}
    _empty(database_url)


def test_the_list_of_runs_says_what_is_next_of_each(client):
    piece = add_piece(client)
    run = begin(client, piece)["id"]
    (row,) = client.get("/runs").json["runs"]
    assert (row["id"], row["step"], row["is_hands_on"], row["poured"]) == (
        run,
        "Ready before mixing",
        True,
        0.0,
    )
    send(client, run, said(1, {"kind": "end", "how": "given up"}))
    assert (
        client.get("/runs").json["runs"] == []
        and client.get(f"/runs?piece_id={piece}&only_open=false").json["runs"][0]["ended_at"]
    )


def test_the_bench_has_runs_and_what_is_low(client):
    piece = add_piece(client, first_pour_at=(NOW + timedelta(days=1)).isoformat())
    begin(client, piece)
    client.call(
        "POST",
        "/stock",
        {"bottle": {"goods": "system", "goods_id": "slow-casting-epoxy", "part": "A", "full_kg": "1 kg"}},
    )
    found = client.get("/bench").json
    assert found["runs"][0]["piece"] == "Sample block"
    low = {
        one["part"]: one for one in found["low"]
    }  # A for some 11 kg, one bottle of a kilogram there; of B there is none
    assert low["A"]["left_kg"] == 1.0 < low["A"]["needed_kg"] and low["B"]["left_kg"] == 0.0


def test_all_pieces_are_planned_together_and_the_starts_are_kept(client, database_url):
    ids = [add_piece(client, name=name, voids=[box_void(depth="25 mm")]) for name in ("One", "Two")]
    asked = client.call("POST", "/schedule", {"wishes": []})
    assert asked.status_code == 202
    assert work.work(database_url, asked.json["job_id"], as_shop(database_url)) == "done"
    result = client.get(f"/schedule/{asked.json['job_id']}").json["result"]
    assert (
        result["feasible"]
        and result["proven"]
        and {one["piece_id"] for one in result["proposals"]} == set(ids)
    )
    assert client.call("POST", "/schedule", {"wishes": []}).status_code == 200  # known within the half hour
    kept = client.call(
        "POST",
        "/schedule/keep",
        {
            "starts": [
                {"piece_id": one["piece_id"], "start_at": one["start_at"], "later_mixes": one["later_mixes"]}
                for one in result["proposals"]
            ]
        },
    )
    assert kept.status_code == 200 and all(one["can_undo"] for one in kept.json["kept"])
    assert client.get(f"/pieces/{ids[0]}").json["piece"]["first_pour_at"]


def test_a_batch_weighed_at_the_scale_is_a_step_done_in_the_run(client):
    piece = add_piece(client, voids=[box_void("200 mm", "100 mm", "20 mm")])
    run = begin(client, piece)["id"]
    weighing = client.call("POST", f"/pieces/{piece}/weighings", {"pour": 1, "batch": 1}).json
    task = weighing["task"]
    for after, event in enumerate(
        (
            {"kind": "taken", "step": "A", "mass_kg": task["target_a_kg"], "by": "hand"},
            {"kind": "taken", "step": "B", "mass_kg": task["target_b_kg"], "by": "hand"},
            {"kind": "end", "how": "mixed"},
        )
    ):
        assert (
            client.call(
                "POST",
                f"/weighings/{weighing['id']}/entries",
                {"event_id": str(uuid4()), "after": after, "event": event},
            ).status_code
            == 200
        )
    assert [one["event"] for one in client.get(f"/runs/{run}").json["events"]] == [
        {"kind": "done", "step": "p1/b1/weigh", "unticked": 0, "knowing": False}
    ]


def test_starts_are_advised_with_the_window_that_follows(client):
    found = client.get(f"/pieces/{add_piece(client)}/starts").json["starts"]
    assert found and all(re.match(r"Pour at .* and the bond window opens .*", one["words"]) for one in found)


def test_the_calendar_has_every_moment_and_a_run_moves_it(client):
    piece = add_piece(client, first_pour_at=(NOW + timedelta(days=1)).isoformat())
    planned = icalendar.Calendar.from_ical(client.get("/calendar.ics").data).walk("VEVENT")
    assert any("mix, pour 1" in str(one["summary"]) for one in planned) and all(
        one.walk("VALARM") for one in planned
    )
    run = begin(client, piece)
    pour(client, run, 1, NOW)
    running = {
        str(one["uid"]): one
        for one in icalendar.Calendar.from_ical(client.get("/calendar.ics").data).walk("VEVENT")
    }
    round_two = running[f"run-{run['id']}-p1-round-2@cavatum"]
    assert round_two.decoded("dtstart") == NOW.replace(microsecond=0) + timedelta(minutes=15)


def test_a_time_zone_nobody_knows_is_asked_about_and_nothing_changes_before(client):
    def post(zone=""):
        data = (
            b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\n"
            b"DTSTAMP:20260301T000000Z\r\nSUMMARY:Fair\r\nDTSTART;TZID=Shed Time:20260304T120000\r\n"
            b"DTEND;TZID=Shed Time:20260304T140000\r\n"
            b"END:VEVENT\r\nEND:VCALENDAR\r\n"
        )
        where = f"/api/v1/calendar/busy{zone and '?zone=' + zone}"
        return client.http.post(where, data=data, headers={"X-CSRFToken": client.token})

    assert post().json == {"taken": 0, "left_out": [], "asks": ["Shed Time"]}
    assert not client.get("/session").json["workshop"].get("busy")
    assert post("Nowhere/Land").status_code == 422
    assert post("America/Chicago").json["taken"] == 1
    held = client.get("/session").json["workshop"]["busy"][0]["from_at"]
    assert datetime.fromisoformat(held).astimezone(UTC).hour == 18  # noon in Chicago, winter


def test_the_feed_of_a_running_pour_weighs_right_before_it_stirs_and_when_somebody_is_there(client):
    """A run prepared on a Sunday evening, three batches to mix on Monday: no weighing is left standing
    overnight."""
    piece = add_piece(client, first_pour_at=(NOW + timedelta(days=1)).isoformat())
    begin(client, piece)
    shop = client.get("/session").json["workshop"]
    feed = icalendar.Calendar.from_ical(client.get("/calendar.ics").data).walk("VEVENT")
    moments = sorted(
        (one.decoded("dtstart"), str(one["uid"])) for one in feed if str(one["uid"]).startswith("run-")
    )
    mixing = [(at, uid) for at, uid in moments if re.search(r"-(weigh|stir|pour)@", uid)]
    assert len(mixing) >= 3
    for (at, uid), (then, following) in pairwise(mixing):
        if "weigh" in uid:
            assert "stir" in following and then - at < timedelta(minutes=45)
    week = Workshop.model_validate(shop)
    for at, uid in moments:
        if "weigh" in uid:
            assert is_attended(week, at, at + timedelta(minutes=5)), (uid, at)


def test_a_feed_is_read_by_its_secret_address_alone(client):
    path = client.get("/calendar").json["path"]
    assert client.http.get(path).status_code == 200 and client.http.get(path).mimetype == "text/calendar"
    assert client.http.get("/api/v1/calendar/" + "x" * 32 + ".ics").status_code == 404
    client.call("POST", "/calendar/new")
    assert client.http.get(path).status_code == 404


def test_busy_times_are_taken_in_and_nothing_is_planned_into_them(client):
    data = (
        b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260301T000000Z\r\nSUMMARY:Fair\r\n"
        b"DTSTART:20260302T120000Z\r\nDTEND:20260304T190000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    taken = client.http.post("/api/v1/calendar/busy", data=data, headers={"X-CSRFToken": client.token})
    assert taken.json == {"taken": 1, "left_out": [], "asks": []}
    plan = client.get(f"/pieces/{add_piece(client)}/plan").json["plan"]
    assert plan["start_at"] >= "2026-03-05"
    refused = client.http.post(
        "/api/v1/calendar/busy", data=b"no calendar", headers={"X-CSRFToken": client.token}
    )
    assert refused.status_code == 422 and client.get("/session").json["workshop"]["busy"]


def test_instruments_that_went_quiet_give_no_value(client, database_url):
    from cavatum.store import devices, workshops

    assert client.get("/instruments").json["instruments"] == []
    with psycopg.connect(database_url) as connection:
        shop = workshops.implied_workshop(connection)
        devices.keep_reading(
            connection,
            shop,
            "thermometer",
            "the workshop's thermometer",
            {"value": 23.4, "problem": "", "stand_in": False},
        )
        devices.keep_reading(
            connection, shop, "room", "room sensor", {"temperature_c": 21.4, "humidity": 0.5}
        )
    found = {one["kind"]: one for one in client.get("/instruments").json["instruments"]}
    assert (found["thermometer"]["value"], found["room"]["value"], found["room"]["humidity"]) == (
        23.4,
        21.4,
        0.5,
    )
    with psycopg.connect(database_url) as connection:
        connection.execute("update device_reading set read_at = now() - interval '1 hour'")
    assert all(
        one["value"] is None and "quiet" in one["problem"]
        for one in client.get("/instruments").json["instruments"]
    )


HERE = "https://shop.local"


@pytest.fixture
def network(make_app, database_url):
    """The application as phones reach it, and the shop's own screen beside it."""
    app, own = make_app(network_hosts=["shop.local"]), make_app()
    own.config["NETWORK_ADDRESS"] = HERE
    yield app.test_client(), Client(own)
    _empty(database_url)


def test_on_the_network_nobody_is_answered_without_a_code_and_then_until_it_ends(network):
    phone, shop = network
    get = lambda path: phone.get(f"/api/v1{path}", base_url=HERE)  # noqa: E731
    assert [
        get(path).status_code for path in ("/session", "/pieces", "/runs", "/phones", "/openapi.json")
    ] == [401] * 5
    assert (
        phone.get("/", base_url=HERE).status_code == 200
        and phone.get("/", base_url="https://elsewhere.example").status_code == 400
    )
    offered = shop.call("POST", "/phones", {"name": "phone", "hours": 1}).json
    assert offered["address"].startswith(f"{HERE}/pair#") and offered["qr_path"].startswith("M0 0h1v1h-1z")
    state = get("/pairing").json
    headers = {"X-CSRFToken": state["csrf_token"], "Referer": HERE + "/"}
    wrong = phone.post("/api/v1/pairing/enter", json={"code": "NOTACODE22"}, headers=headers, base_url=HERE)
    assert wrong.status_code == 422 and "ten minutes" in wrong.json["detail"]
    entered = phone.post(
        "/api/v1/pairing/enter", json={"code": offered["code"]}, headers=headers, base_url=HERE
    )
    cookie = entered.headers["Set-Cookie"]
    assert entered.status_code == 204 and all(
        word in cookie for word in ("Secure", "HttpOnly", "SameSite=Strict", "__Host-")
    )
    assert get("/pieces").status_code == 200
    refused = get("/phones")
    assert refused.status_code == 403 and "paired for the bench" in refused.json["detail"]
    listed = shop.get("/phones").json["phones"]
    assert [one["is_used"] for one in listed] == [True]
    shop.call("DELETE", f"/phones/{listed[0]['id']}")
    assert get("/pieces").status_code == 401


def test_codes_cannot_be_tried_for_ever(network):
    phone, _ = network
    token = phone.get("/api/v1/pairing", base_url=HERE).json["csrf_token"]
    codes = [
        phone.post(
            "/api/v1/pairing/enter",
            json={"code": f"TRY{number:07}"},
            headers={"X-CSRFToken": token, "Referer": HERE + "/"},
            base_url=HERE,
        ).json
        for number in range(11)
    ]
    assert codes[9]["problems"][0]["code"] == "no-code" and codes[10]["problems"][0]["code"] == "too-often"


def test_on_loopback_alone_no_code_is_given_out(client):
    assert (
        client.call("POST", "/phones", {"name": "", "hours": 1}).json["problems"][0]["code"]
        == "loopback-only"
    )
    assert client.get("/phones").json["address"] == "" and client.get("/authority.crt").status_code == 422
    assert client.get("/pairing").json["paired"]


def test_the_worker_that_keeps_pages_at_hand_names_every_built_file(client):
    text = client.http.get("/sw.js").get_data(as_text=True)
    script = re.search(r"/assets/index-[\w-]+\.js", client.http.get("/").get_data(as_text=True)).group(0)
    assert script in text and "__FILES__" not in text
    assert "worker-src 'self'" in client.http.get("/").headers["Content-Security-Policy"]
    assert (
        client.http.get("/manifest.webmanifest").status_code == 200
        and client.http.get("/icon-192.png").status_code == 200
    )


def test_looking_at_the_heat_keeps_nothing_and_waits_for_nobody(make_app, database_url):
    moment = [NOW]
    client = Client(make_app(now=lambda: moment[0]))
    run = begin(client, add_piece(client), {"speed": 240, "seed": 12, "troubles": False})
    pour(client, run, 1, datetime.fromisoformat(client.get(f"/runs/{run['id']}/events").json["now"]))
    moment[0] += timedelta(minutes=10)  # 40 hours of the rehearsal

    def rows() -> list[tuple]:
        with psycopg.connect(database_url) as connection:
            return [
                connection.execute(f"select count(*), max(xmin::text::bigint) from {table}").fetchone()
                for table in ("run", "run_event", "run_reading")
            ]

    before = rows()
    with psycopg.connect(database_url) as other:
        other.execute("select 1 from run where id = %s for update", (run["id"],))
        heat = client.get(f"/runs/{run['id']}/heat").json
        assert client.get(f"/runs/{run['id']}/events").status_code == 200
    assert len(heat["pours"][0]["probe"]) > 80 and len(heat["room"]) > 80
    assert rows() == before
    send(client, run["id"], said(50, {"kind": "note", "text": "seen"}, moment[0]))
    assert rows() != before  # what a bench sends keeps the stand-ins' readings too
    again = client.get(f"/runs/{run['id']}/heat").json
    assert again["pours"][0]["probe"] == heat["pours"][0]["probe"]
    _empty(database_url)


def test_a_start_that_has_passed_is_asked_about_before_a_run_begins(client):
    piece = add_piece(client, first_pour_at=(NOW - timedelta(days=2)).isoformat())
    answer = client.call("POST", f"/pieces/{piece}/runs", {"rehearse": None})
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == "start-passed"
    assert "enter what was done" in answer.json["detail"]
    rehearsal = client.call(
        "POST", f"/pieces/{piece}/runs", {"rehearse": {"speed": 60, "seed": 1, "troubles": False}}
    )
    assert rehearsal.status_code == 201
    begun = client.call("POST", f"/pieces/{piece}/runs", {"rehearse": None, "anew": True})
    assert begun.status_code == 201
    planned = [datetime.fromisoformat(one["planned_at"]) for one in begun.json["script"]["steps"]]
    assert min(planned) >= NOW - timedelta(hours=1)
    again = client.call("POST", f"/pieces/{piece}/runs", {"rehearse": None})
    assert again.json["id"] == begun.json["id"]  # the run that goes on is never asked about
    stored = client.get(f"/pieces/{piece}").json
    assert stored["piece"]["first_pour_at"] is None and stored["can_undo"]


def test_what_was_poured_at_a_start_that_has_passed_can_be_entered(client):
    at = NOW - timedelta(days=2)
    piece = add_piece(client, first_pour_at=at.isoformat())
    body = {"poured": [{"pour": 1, "at": (at + timedelta(hours=1)).isoformat()}], "how": "goes on"}
    assert client.call("POST", f"/pieces/{piece}/runs/afterwards", body).status_code == 201
