"""A camera over the piece of a run, from its marked corners to an alarm with the picture in the run: through
the API, the worker's round and the child that looks.
"""

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from types import SimpleNamespace
from uuid import uuid4

import cv2
import numpy as np
import psycopg
import pytest

from cavatum.core.pour.events import Saw
from cavatum.core.watch.seen import Seen
from cavatum.jobs import worker
from cavatum.services import voice as round_
from cavatum.services.watching import FIRST, MOST_OPEN, Watching, say
from cavatum.store import runs, watch, workshops
from cavatum.store.pool import stay_within
from cavatum.store.watch import FrameRow
from tests.api.test_runs import add_piece, begin, said, send
from tests.conftest import Client, _empty, as_shop
from tests.samples import NOW
from tests.scenes.raking import Face
from tests.scenes.watch import Scene


@pytest.fixture
def shop(make_app, database_url):
    moment = [NOW]
    client = Client(make_app(now=lambda: moment[0]))
    with psycopg.connect(as_shop(database_url), autocommit=True) as connection:
        with psycopg.connect(database_url, autocommit=True) as owner:
            number = workshops.implied_workshop(owner)
        stay_within(connection, number)
        eyes = Watching()
        yield SimpleNamespace(client=client, moment=moment, connection=connection, id=number, eyes=eyes)
        eyes.close()
    _empty(database_url)


def marked(shop, run, scene, **changes):
    body = {
        "device": "Phone on a stand",
        "corners_px": scene.corners_px.tolist(),
        "size_px": list(scene.size),
        "length_m": scene.length_mm / 1000,
        "width_m": scene.width_mm / 1000,
        "every_s": 20,
        **changes,
    }
    return shop.client.call("POST", f"/runs/{run}/watches", body)


def jpeg(picture) -> bytes:
    return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 90])[1].tobytes()


def show(shop, watch_id, data):
    return shop.client.call(
        "POST", f"/watches/{watch_id}/frames", data=data, content_type="application/octet-stream"
    )


def look(shop, watch_id):
    return shop.eyes.round(shop.connection, shop.id, watch_id, shop.moment[0])


def played(shop, scene, watch_id, *, until=None):
    """Its pictures, each at its moment; stops once something was told."""
    for at, picture in scene.frames():
        shop.moment[0] = NOW + timedelta(seconds=at)
        assert show(shop, watch_id, jpeg(picture)).status_code == 201
        look(shop, watch_id)
        if until and (found := [one for one in saw(shop) if one.what == until]):
            return at, found[0]
    return None


def saw(shop):
    (run,) = runs.listed(shop.connection, shop.id, is_open=True)
    return [one.event for one in runs.events(shop.connection, shop.id, run.id) if isinstance(one.event, Saw)]


@pytest.mark.slow
@pytest.mark.parametrize(
    ("seed", "kind", "words"),
    [
        (1, "bubbles", "time for a flame round"),
        (2, "creep", "creeps out"),
        (4, "landed", "tweezers"),
        (6, "smoke", "smoke or fumes"),
    ],
)
def test_what_happens_over_the_piece_rings_in_the_run_with_its_picture(shop, seed, kind, words):
    scene = Scene(seed=seed, kind=kind, minutes=14.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    at, event = played(shop, scene, watch_id, until=kind)
    assert scene.events[0].at_s <= at <= scene.events[0].at_s + 120 and words in event.words
    alarm = next(one for one in shop.client.get("/runs").json["runs"][0]["alarms"] if "saw/" in one["id"])
    assert alarm["words"] == event.words and alarm["is_past"]
    picture = shop.client.get(f"/files/{event.sha256}/photo.jpg")
    assert picture.status_code == 200 and picture.mimetype == "image/jpeg"
    place = scene.events[0].place_mm
    if place is not None and kind == "landed":  # the ring is round it, by the scene's own truth
        wanted = cv2.perspectiveTransform(np.array([[place]], np.float32), to_picture(scene)).ravel()
        x, y, radius = event.marks[0]
        assert np.hypot(x - wanted[0], y - wanted[1]) < radius + 4
    (row,) = shop.client.get(f"/runs/{run}/watches").json["watches"]
    assert row["seen"][-1]["words"] == event.words and row["pictures"] == at / 20 + 1
    # Smoke is told at once to whoever is told of anything
    urgency = {"smoke": "at once", "leak": "at once"}.get(kind, "in its window")
    with shop.connection.transaction():
        round_.refresh(shop.connection, shop.id, shop.moment[0])
    (call,) = [
        one for one in round_.voice.standing_calls(shop.connection, shop.id) if one.alarm == alarm["id"]
    ]
    assert (call.kind, call.urgency) == ("seen", urgency)
    assert event.words.startswith(call.title) and "Sample block, seen by its camera" in call.text
    # Somebody looked, and there was nothing
    wrong = shop.client.call("POST", f"/seen/{row['seen'][-1]['id']}/wrong").json
    assert wrong["wrong_by"] and wrong["wrong_at"]


def to_picture(scene):
    long, wide = scene.length_mm, scene.width_mm
    flat = np.array([[0, 0], [long, 0], [long, wide], [0, wide]], np.float32)
    return cv2.getPerspectiveTransform(flat, scene.corners_px.astype(np.float32))


@pytest.mark.slow
def test_eyes_that_were_lost_begin_again_and_tell_nothing_twice(shop):
    scene = Scene(seed=4, kind="landed", minutes=14.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    frames = scene.frames()
    told_at = None
    for at, picture in frames:
        shop.moment[0] = NOW + timedelta(seconds=at)
        show(shop, watch_id, jpeg(picture))
        look(shop, watch_id)
        if saw(shop):
            told_at = at
            break
    assert told_at is not None
    shop.eyes.close()  # the worker was killed
    assert shop.eyes._eyes == {}
    for at, picture in frames:
        if at > told_at + 300:
            break
        shop.moment[0] = NOW + timedelta(seconds=at)
        show(shop, watch_id, jpeg(picture))
        look(shop, watch_id)
    assert len(saw(shop)) == 1


def test_a_picture_that_is_none_or_another_size_is_said_and_the_next_is_looked_at(shop):
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    pictures = [picture for _, picture in scene.frames()]
    refused = show(shop, watch_id, b"GIF89a" + b"0" * 100)
    assert refused.status_code == 422 and refused.json["problems"][0]["code"] == "not-a-picture"
    assert show(shop, watch_id, b"\xff\xd8\xff" + b"0" * (1 << 20)).status_code == 422
    show(shop, watch_id, jpeg(pictures[0]))
    for broken, says in (
        (b"\xff\xd8\xff\xe0" + b"junk" * 200, ""),
        (jpeg(cv2.resize(pictures[1], (320, 240))), "another size"),
        (jpeg(cv2.resize(pictures[1], (120, 90))), "120"),
    ):
        show(shop, watch_id, broken)
        look(shop, watch_id)
        (row,) = shop.client.get(f"/runs/{run}/watches").json["watches"]
        assert row["problem"] and says in row["problem"]
    for picture in pictures[1 : FIRST + 1]:
        show(shop, watch_id, jpeg(picture))
    assert look(shop, watch_id) == FIRST
    (row,) = shop.client.get(f"/runs/{run}/watches").json["watches"]
    assert row["problem"] == "" and row["unfollowed"] is not None
    assert shop.client.get(f"/watches/{watch_id}/frames/1.jpg").data == jpeg(pictures[0])
    assert shop.client.get(f"/watches/{watch_id}/frames/99.jpg").status_code == 404


def test_a_camera_that_sends_nothing_is_said_once_and_a_run_that_ends_ends_it(shop):
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    _, picture = next(scene.frames())
    show(shop, watch_id, jpeg(picture))
    look(shop, watch_id)
    shop.moment[0] = NOW + timedelta(minutes=6)
    look(shop, watch_id)
    look(shop, watch_id)
    assert [one.what for one in saw(shop)] == ["silent"]
    show(shop, watch_id, jpeg(picture))  # it is back, and goes again
    shop.moment[0] += timedelta(minutes=6)
    look(shop, watch_id)
    assert [one.what for one in saw(shop)] == ["silent"] * 2
    send(shop.client, run, said(1, {"kind": "end", "how": "finished"}, shop.moment[0]))
    look(shop, watch_id)
    (row,) = shop.client.get(f"/runs/{run}/watches").json["watches"]
    assert row["why"] == "the run is over"
    over = show(shop, watch_id, jpeg(picture))
    assert over.status_code == 422 and over.json["problems"][0]["code"] == "over"
    assert marked(shop, run, scene).json["problems"][0]["code"] == "no-run"


def test_marked_again_is_one_watch_and_too_many_or_wrong_corners_are_refused(shop):
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    first = marked(shop, run, scene).json["id"]
    second = marked(shop, run, scene).json["id"]
    rows = {one["id"]: one for one in shop.client.get(f"/runs/{run}/watches").json["watches"]}
    assert rows[first]["why"] == "marked again" and rows[second]["ended_at"] is None
    for number in range(MOST_OPEN - 1):
        assert marked(shop, run, scene, device=f"another {number}").status_code == 201
    assert marked(shop, run, scene, device="one more").json["problems"][0]["code"] == "full"
    cut = (scene.corners_px - (scene.corners_px[0, 0], 0)).tolist()
    assert marked(shop, run, scene, corners_px=cut).json["problems"][0]["code"] == "half-seen"
    crossed = scene.corners_px.tolist()
    crossed[0], crossed[1] = crossed[1], crossed[0]
    assert marked(shop, run, scene, corners_px=crossed).json["problems"][0]["code"] == "corners"


def test_the_face_is_found_in_the_picture_and_the_picture_is_not_kept(shop):
    scene = Scene(seed=1, kind="quiet", beside=True)
    told = {"data": jpeg(next(scene.frames())[1]), "content_type": "application/octet-stream"}
    answer = shop.client.call("POST", "/faces", **told).json
    assert answer["size"] == [640, 480] and len(answer["faces"]) == 2
    assert np.abs(np.array(answer["faces"][0]) - scene.corners_px).max() < 4
    run = begin(shop.client, add_piece(shop.client))["id"]
    held = marked(shop, run, scene, others_px=answer["faces"][1:]).json
    assert np.abs(np.array(held["told"]["others_px"][0]) - answer["faces"][1]).max() < 1
    no_picture = shop.client.call("POST", "/faces", data=b"\xff\xd8\xff no", content_type="image/jpeg")
    assert no_picture.status_code == 422 and no_picture.json["problems"][0]["code"] == "broken"
    assert shop.client.call("POST", "/faces", data=b"GIF89a").json["problems"][0]["code"] == "not-a-picture"


def test_without_the_packages_for_pictures_a_camera_is_refused_with_what_to_install(shop, monkeypatch):
    monkeypatch.setattr("cavatum.services.watching.find_spec", lambda name: None)
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    (problem,) = marked(shop, run, scene).json["problems"]
    assert problem["code"] == "left-out" and "cavatum[photo]" in problem["way_out"]


def test_colour_that_moves_or_stands_still_is_written_down_and_rings_nowhere(shop):
    run = begin(shop.client, add_piece(shop.client))["id"]
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    row = watch.read(shop.connection, shop.id, marked(shop, run, scene).json["id"])
    frame = FrameRow(number=1, at=NOW, content=jpeg(next(scene.frames())[1]))
    told = [Seen(kind="flows", at_s=0, size_m=0.003), Seen(kind="still", at_s=900)]
    with shop.connection.transaction():
        say(shop.connection, shop.id, row, frame, told, NOW)
    assert [one.rings for one in saw(shop)] == [False, False]
    alarms = shop.client.get("/runs").json["runs"][0]["alarms"]
    assert not [one for one in alarms if one["id"].startswith("saw/")]
    record = shop.client.get(f"/runs/{run}/record").json["record"]
    assert [one["what"] for one in record["seen"]] == ["flows", "still"]


def test_eight_hours_of_pictures_are_kept_by_the_rule(shop):
    """Bytes are made up here: what is looked at is another test."""
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    row = watch.read(shop.connection, shop.id, watch_id)
    with shop.connection.transaction():
        for number in range(1440):
            at = NOW + timedelta(seconds=20 * number)
            watch.add_frame(shop.connection, shop.id, row, at, b"\xff\xd8\xff" + bytes(97))
            row = watch.read(shop.connection, shop.id, watch_id)
        shop.connection.execute("update watch_frame set looked_at = at")
        watch.add_seen(
            shop.connection,
            shop.id,
            watch_id,
            uuid4(),
            700,
            "landed",
            NOW,
            {"kind": "landed", "at_s": 1.0},
            "x",
        )
    shop.moment[0] = NOW + timedelta(hours=8)
    look(shop, watch_id)
    (shown,) = shop.client.get(f"/runs/{run}/watches").json["watches"]
    numbers = [number for number, _ in shown["kept"]]
    assert shown["pictures"] == 1440 and len(numbers) < 320
    assert numbers[:FIRST] == [1, 2, 3, 4, 5] and {699, 700} <= set(numbers)
    assert set(range(1412, 1441)) <= set(numbers)  # all of the last ten minutes
    moments = [datetime.fromisoformat(at) for _, at in shown["kept"]]
    older = moments[FIRST:-30]
    gaps = [(after - before).total_seconds() for before, after in pairwise(older)]
    assert max(gaps) <= 140


def test_one_worker_looks_and_a_watch_that_is_gone_breaks_nothing(shop, database_url):
    shop.moment[0] = datetime.now(UTC)  # the worker goes by the real one
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    run = begin(shop.client, add_piece(shop.client))["id"]
    watch_id = marked(shop, run, scene).json["id"]
    _, picture = next(scene.frames())
    show(shop, watch_id, jpeg(picture))
    with psycopg.connect(database_url, autocommit=True) as owner:
        worker._look_at_all(owner, as_shop(database_url), shop.eyes)
        assert shop.client.get(f"/runs/{run}/watches").json["watches"][0]["kept"][0][0] == 1
        assert set(shop.eyes._eyes) == {watch_id}
        ended = shop.client.call("POST", f"/watches/{watch_id}/end").json
        assert ended["why"].startswith("ended by")
        worker._look_at_all(owner, as_shop(database_url), shop.eyes)
        assert shop.eyes._eyes == {}


def keep(shop, picture) -> str:
    data = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 95])[1].tobytes()
    answer = shop.client.call(
        "POST", "/files?name=low.jpg", data=data, content_type="application/octet-stream"
    )
    return answer.json["sha256"]


def test_a_photo_in_low_side_light_is_counted_marked_and_kept_and_rings_nowhere(shop):
    face = Face(103)
    run = begin(shop.client, add_piece(shop.client))["id"]
    body = {
        "sha256": keep(shop, face.picture),
        "corners_px": face.corners_px.tolist(),
        "length_m": face.length_mm / 1000,
        "width_m": face.width_mm / 1000,
        "lamp": face.lamp,
        "when": "at the inspection",
    }
    answer = shop.client.call("POST", f"/runs/{run}/side-light", body).json
    assert answer["size"] == [1600, 1200] and abs(len(answer["flaws"]) - len(face.truth)) <= 2
    assert answer["words"].startswith(f"{len(answer['flaws'])} spots at the inspection: ")
    (event,) = saw(shop)
    assert event.words == answer["words"] and len(event.marks) == len(answer["flaws"]) and not event.rings
    alarms = shop.client.get("/runs").json["runs"][0]["alarms"]
    assert not [one for one in alarms if one["id"].startswith("saw/")]
    crossed = [body["corners_px"][place] for place in (1, 0, 2, 3)]
    refused = shop.client.call("POST", f"/runs/{run}/side-light", {**body, "corners_px": crossed})
    assert refused.status_code == 422 and refused.json["problems"][0]["code"] == "corners"
    record = shop.client.get(f"/runs/{run}/record").json
    assert [one["words"] for one in record["record"]["seen"]] == [answer["words"]]


def test_what_the_camera_saw_speaks_in_mend_until_somebody_looked_and_found_nothing(shop):
    run = begin(shop.client, add_piece(shop.client))["id"]
    scene = Scene(seed=3, kind="quiet", minutes=4.0)
    watch_id = marked(shop, run, scene).json["id"]
    row = watch.read(shop.connection, shop.id, watch_id)
    _, picture = next(scene.frames())
    frame = FrameRow(number=1, at=NOW, content=jpeg(picture))
    told = [
        Seen(kind="landed", at_s=0, place_m=(0.1, 0.05), size_m=0.006),
        Seen(kind="creep", at_s=0, side=1, size_m=0.0012, sure=False),
        Seen(kind="moved", at_s=0),
    ]
    with shop.connection.transaction():
        say(shop.connection, shop.id, row, frame, told, NOW)
        say(shop.connection, shop.id, row, frame, told[:2], NOW)  # told again: kept once
    assert [one.what for one in saw(shop)] == ["landed", "creep", "moved"]
    record = shop.client.get(f"/runs/{run}/record").json
    assert [one["what"] for one in record["record"]["seen"]] == ["landed", "creep"]  # of the piece alone
    assert [one["fact"] for one in record["shown"] if one["fact"].startswith("saw-")] == ["saw-landed"]
    (seen_row,) = [one for one in watch.seen(shop.connection, shop.id, [watch_id]) if one.kind == "landed"]
    before = shop.client.get("/runs").json["runs"][0]["alarms"]
    shop.client.call("POST", f"/seen/{seen_row.id}/wrong")
    shop.client.call("POST", f"/seen/{seen_row.id}/wrong")
    after = shop.client.get("/runs").json["runs"][0]["alarms"]
    assert len(before) - len(after) == 1
    again = shop.client.get(f"/runs/{run}/record").json
    assert not [one for one in again["shown"] if one["fact"].startswith("saw-")]
