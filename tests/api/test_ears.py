"""Instruments at a browser: lines and bytes handed on by a page, read as those of the server's own ports;
what is odd in the middle of a batch is said, and the batch goes on by hand.
"""

import struct
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.wording import Wording
from cavatum.core.mix.scale import drift_of
from cavatum.devices import binary
from cavatum.devices.scale_lines import parse_scale
from cavatum.devices.scale_said import KEPT, TRAIL, fresh, with_line
from tests.api.test_runs import add_piece
from tests.conftest import Client, _empty
from tests.samples import NOW, workshop

POUND_KG, OUNCE_KG = 0.45359237, 0.028349523125  # exact by definition; NIST SP 811, appendix B


@pytest.fixture
def shop(make_app, database_url):
    moment = [NOW]
    client = Client(make_app(now=lambda: moment[0]))
    client.moment = moment
    yield client
    _empty(database_url)


def say(client, kind, form, *heard, device="the bench scale", **more):
    lines = [one if isinstance(one, dict) else {"text": one} for one in heard]
    body = {"kind": kind, "form": form, "device": device, "heard": lines, **more}
    return client.call("POST", "/instruments/said", body)


def shown(client, kind):
    return next(one for one in client.get("/instruments").json["instruments"] if one["kind"] == kind)


# Bytes, each case worked out by hand from the layout


@pytest.mark.parametrize(
    ("data", "kg", "unit", "step_kg"),
    [
        (bytes([0]) + struct.pack("<H", 2469), 12.345, "kg", 0.005),  # 2469 x 5 g
        (bytes([1]) + struct.pack("<H", 100), 1.00 * POUND_KG, "lb", 0.01 * POUND_KG),
        (bytes([0x0F]) + struct.pack("<H", 1) + bytes(12), 0.01 * POUND_KG, "lb", 0.01 * POUND_KG),
    ],
)
def test_a_weight_measurement_is_read_by_its_flags(data, kg, unit, step_kg):
    found = binary.parse_weight(data)
    assert found.mass_kg == pytest.approx(kg) and found.unit == unit
    assert found.step_kg == pytest.approx(step_kg)


@pytest.mark.parametrize(
    ("data", "kg", "stable", "problem"),
    [
        (bytes([4, 2, 0xFF]) + struct.pack("<H", 1234), 0.1234, True, ""),  # 1234 x 10^-1 g
        (bytes([3, 11, 0xFF]) + struct.pack("<H", 40), 4 * OUNCE_KG, False, ""),
        (bytes([2, 2, 0]) + struct.pack("<H", 0), 0.0, True, ""),
        (bytes([6, 2, 0]) + struct.pack("<H", 0), None, None, "overload"),
        (bytes([5, 2, 0]) + struct.pack("<H", 0), None, None, "underload"),
        (bytes([1, 2, 0]) + struct.pack("<H", 7), None, None, "fault"),
        (bytes([4, 99, 0]) + struct.pack("<H", 7), None, None, "no-unit"),
        (bytes([4, 2, 100]) + struct.pack("<H", 7), None, None, "no-unit"),
    ],
)
def test_a_usb_scales_report_is_read_or_refused(data, kg, stable, problem):
    found = binary.parse_hid_scale(data)
    assert found.problem == problem
    assert found.mass_kg == (None if kg is None else pytest.approx(kg))
    assert found.stable is stable or kg is None


@pytest.mark.parametrize(
    ("data", "celsius", "problem"),
    [
        (bytes([0, 0x6E, 0x01, 0x00, 0xFF]), 36.6, ""),  # 366 x 10^-1 degC, the supplement's own example
        (bytes([1, 0xD0, 0x03, 0x00, 0xFF]), (97.6 - 32) / 1.8, ""),  # 976 x 10^-1 degF
        (bytes([0, 0xCE, 0xFF, 0xFF, 0xFF]), -5.0, ""),
        (bytes([0, 0xFF, 0xFF, 0x7F, 0x00]), None, "fault"),  # not a number
        (bytes([0, 0x00, 0x00, 0x80, 0x00]), None, "fault"),  # not at this resolution
        (bytes([0, 0x10, 0x27, 0x00, 0x00]), None, "absurd"),  # 10 000 degC
    ],
)
def test_a_temperature_measurement_is_read_by_its_flags(data, celsius, problem):
    found = binary.parse_temperature(data)
    assert found.problem == problem
    assert found.celsius == (None if celsius is None else pytest.approx(celsius))


def test_the_air_of_the_room_in_hundredths():
    assert binary.parse_air_temperature(struct.pack("<h", 2137)).celsius == pytest.approx(21.37)
    assert binary.parse_air_temperature(struct.pack("<h", -512)).celsius == pytest.approx(-5.12)
    assert binary.parse_air_temperature(struct.pack("<h", -0x8000)).problem == "fault"
    assert binary.parse_humidity(struct.pack("<H", 5230)) == pytest.approx(0.523)
    assert binary.parse_humidity(struct.pack("<H", 65535)) is None


@given(st.binary(max_size=40))
def test_no_bytes_break_a_parser_or_make_a_weight_that_cannot_be(data):
    for read in (binary.parse_weight, binary.parse_hid_scale):
        found = read(data)
        assert found is None or found.mass_kg is None or 0 <= found.mass_kg < 1e8
    for read in (binary.parse_temperature, binary.parse_air_temperature):
        found = read(data)
        assert found is None or found.celsius is None or -30 <= found.celsius <= 400
    share = binary.parse_humidity(data)
    assert share is None or 0 <= share <= 1


# Handed on by a page


def test_lines_bytes_and_reports_stand_in_one_list_with_what_each_last_said(shop):
    assert say(shop, "scale", "line", "ST,GS,+ 123.4 g").json == {"understood": 1, "commands": []}
    assert say(shop, "thermometer", "temperature", "006e0100ff", device="Probe X").json["understood"] == 1
    assert say(shop, "room", "air-temperature", "5908", device="Room").json["understood"] == 1
    assert say(shop, "room", "humidity", "6e14", device="Room").json["understood"] == 1
    assert say(shop, "level", "line", "PITCH +0.32 ROLL -0.11 DEG", device="Level").json["understood"] == 1
    assert shown(shop, "scale")["mass_kg"] == pytest.approx(0.1234) and shown(shop, "scale")["here"]
    assert shown(shop, "thermometer")["value"] == pytest.approx(36.6)
    room = shown(shop, "room")
    assert room["value"] == pytest.approx(21.37) and room["humidity"] == pytest.approx(0.523)
    assert shown(shop, "level")["pitch_deg"] == 0.32
    assert say(shop, "scale", "line", "hello", "12.5 potatoes").json["understood"] == 0
    assert say(shop, "scale", "hid-scale", "zz", "04").json["understood"] == 0
    assert shown(shop, "scale")["mass_kg"] == pytest.approx(0.1234)


def test_two_scales_do_not_speak_at_once_and_a_tare_goes_to_the_one_that_does(shop):
    assert say(shop, "scale", "line", "10.0 g").status_code == 200
    other = say(shop, "scale", "line", "500.0 g", device="another")
    assert other.status_code == 422 and other.json["problems"][0]["code"] == "taken"
    assert shop.call("POST", "/scale/commands", {"command": "tare"}).status_code == 204
    assert say(shop, "scale", "line", "10.0 g").json["commands"] == ["T"]
    assert say(shop, "scale", "line", "0.0 g").json["commands"] == []


def weighing(client):
    piece = add_piece(client)
    return client.call("POST", f"/pieces/{piece}/weighings", {"pour": 1, "batch": 1}).json


def live(client, one):
    return client.get(f"/weighings/{one['id']}").json["live"]


def test_a_batch_goes_on_by_hand_whatever_its_scale_does(shop, database_url):
    import psycopg

    one = weighing(shop)
    assert "No scale is connected" in live(shop, one)["says"]
    say(shop, "scale", "line", "180.0 g")
    assert live(shop, one)["connected"] and live(shop, one)["gross_kg"] == pytest.approx(0.18)
    for line, code in (("OL", "overload"), ("6.35 oz", "unit-changed"), ("900.0 g", "jump")):
        shop.moment[0] += timedelta(seconds=0.5)
        say(shop, "scale", "line", line)
        assert code in {verdict["code"] for verdict in live(shop, one)["verdicts"]}, line
    say(shop, "scale", "line", "180")
    assert "without a unit" in live(shop, one)["says"] and not live(shop, one)["connected"]
    say(shop, "scale", "hid-scale", "0102000700")
    assert "fault" in live(shop, one)["says"]
    with psycopg.connect(database_url, autocommit=True) as owner:  # the link is lost: nothing more comes
        owner.execute("update device_reading set read_at = now() - interval '9 seconds'")
    say_nothing = live(shop, one)
    assert not say_nothing["connected"]
    say(shop, "scale", "line", "180.0 g")
    with psycopg.connect(database_url, autocommit=True) as owner:
        owner.execute("update device_reading set read_at = now() - interval '9 seconds'")
    assert "type what it shows" in live(shop, one)["says"]
    # By hand, in the middle of it
    entry = {
        "event_id": "00000000-0000-4000-8000-00000000000a",
        "after": 0,
        "event": {"kind": "zero", "gross_kg": 0.18},
    }
    answer = shop.call("POST", f"/weighings/{one['id']}/entries", entry)
    assert answer.status_code in (200, 201), answer.json


# Drift


def trail(*grams, every=5.0):
    return [(place * every, gram / 1000) for place, gram in enumerate(grams)]


def test_a_scale_that_creeps_while_nobody_pours_is_said_to_drift():
    creeping = trail(*[100 + 0.05 * place for place in range(12)])  # 0.05 g in 5 s, steps of 0.1 g
    assert drift_of(creeping, 1e-4).code == "drift" and "up" in drift_of(creeping, 1e-4).text
    sinking = trail(*[100 - 0.05 * place for place in range(12)])
    assert "down" in drift_of(sinking, 1e-4).text


@pytest.mark.parametrize(
    "grams",
    [
        [100.0] * 12,
        [100, 100.1, 100, 100.1, 100, 99.9, 100, 100.1, 100, 100.1, 100, 100],  # trembles
        [100 + 4 * place for place in range(12)],  # poured in a thread
        [100 + 0.05 * place for place in range(5)],  # too short to say
        [100] * 8 + [100.3] * 4,  # a drop fell in
    ],
)
def test_what_is_no_drift_is_not_called_so(grams):
    assert drift_of(trail(*grams), 1e-4) is None
    assert Wording(workshop()) is not None


def test_what_a_scale_said_stays_short():
    said = fresh(0.0)
    for place in range(2000):
        said, _ = with_line(said, parse_scale(f"{100 + place % 3}.0 g"), place * 0.125)
    assert len(said["readings"]) == KEPT and len(said["trail"]) == TRAIL
    assert said["trail"][-1][0] - said["trail"][0][0] == pytest.approx(115.0, abs=3)
