"""Thermometers, probe and room sensor: lines told apart, the stand-ins through the real reader, the room over
Debian's own MQTT broker.
"""

import contextlib
import subprocess
import threading
import time
from datetime import UTC, datetime, timedelta

import psycopg
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.pour.script_model import PourCurve
from cavatum.devices import reader
from cavatum.devices.room import parse_room, read_room
from cavatum.devices.stand_in_heat import SURFACE_SHARE, Server, Warmth, newest_pour, tell_room
from cavatum.devices.thermo_lines import parse_thermo
from cavatum.machine.packages import find_broker
from cavatum.machine.ports import free_port
from cavatum.store import devices, workshops
from tests.conftest import as_shop

CURVE = PourCurve(
    pour=1,
    called="pour 1",
    curve=[(0.0, 21.0), (36_000.0, 45.0), (72_000.0, 22.0)],
    peak_c=45.0,
    never_c=80.0,
)


@pytest.mark.parametrize(
    ("line", "celsius"),
    [
        ("OBJ 23.4 C AMB 21.0 C", 23.4),
        ("T=+074.1F", 23.39),
        ("2026-11-25 10:15;CH1;23,41 °C", 23.41),
        ("CH1 -4.5 degC", -4.5),
        ("296.15 K", 23.0),
        ("\x0223.4C\x03", 23.4),
    ],
)
def test_the_common_forms_are_read(line, celsius):
    assert parse_thermo(line).celsius == pytest.approx(celsius, abs=0.01)


@pytest.mark.parametrize(
    ("line", "problem"),
    [
        ("23.4", "no-unit"),
        ("OL", "fault"),
        ("ERR 2", "fault"),
        ("----", "fault"),
        ("900.0 C", "absurd"),
        ("-99 F", "absurd"),
    ],
)
def test_what_cannot_be_is_said_and_not_guessed(line, problem):
    found = parse_thermo(line)
    assert found.celsius is None and found.problem == problem and found.words


@given(st.text(max_size=200))
def test_any_line_is_a_temperature_a_problem_or_nothing(line):
    found = parse_thermo(line)
    assert found is None or (found.celsius is None) == bool(found.problem)


@pytest.mark.parametrize(
    ("topic", "payload", "found"),
    [
        ("shop/room", b'{"temperature": 21.4, "humidity": 52}', {"temperature_c": 21.4, "humidity": 0.52}),
        ("shop/room/temperature", b"21.4", {"temperature_c": 21.4}),
        ("shop/room/humidity", b"0.5", {"humidity": 0.5}),
        ("shop/room", b"not json", {}),
        ("shop/room", b'{"temperature": 900}', {}),
        ("shop/room", b'{"temperature": true}', {}),
        ("shop/room", b"[1, 2]", {}),
        ("shop/room", b"\xff\xfe", {}),
    ],
)
def test_a_rooms_words_are_taken_only_where_they_are_sound(topic, payload, found):
    assert parse_room(topic, payload) == pytest.approx(found)


def test_the_stand_ins_follow_the_curve_at_their_pace_and_can_fail():
    warmth, poured = Warmth(), datetime(2026, 3, 2, 8, tzinfo=UTC)
    warmth.curve, warmth.poured_at = CURVE, poured
    peak = poured + timedelta(seconds=36_000)
    assert warmth.probe_c(peak) == pytest.approx(45.0)
    surface = parse_thermo(warmth.line("thermometer", peak, 0.0)).celsius
    assert surface == pytest.approx(
        warmth.room_c(peak) + SURFACE_SHARE * (45.0 - warmth.room_c(peak)), abs=1.5
    )
    warmth.take(["PACE", "0.5"], 0.0)
    assert warmth.probe_c(poured + timedelta(seconds=18_000)) == pytest.approx(45.0)
    warmth.take(["ABSURD", "5"], 10.0)
    assert (
        parse_thermo(warmth.line("probe", peak, 12.0)).problem == "absurd"
        and parse_thermo(warmth.line("probe", peak, 16.0)).celsius is not None
    )
    warmth.take(["SILENT", "5"], 20.0)
    assert warmth.line("probe", peak, 22.0) is None and warmth.line("probe", peak, 26.0)


@pytest.fixture
def shop(database_url):
    with psycopg.connect(database_url, autocommit=True) as connection:
        with connection.transaction():
            id_ = workshops.implied_workshop(connection)
        yield connection, id_
        connection.execute("truncate workshop cascade")


def until(what, patience_s: float = 10.0):
    end = time.monotonic() + patience_s
    while time.monotonic() < end:
        found = what()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it never came")


def test_a_thermometer_is_read_through_its_port_and_its_lies_are_told(database_url, shop, monkeypatch):
    connection, id_ = shop
    monkeypatch.setattr(reader, "PATIENCE_S", 3.0)
    warmth = Warmth()
    server = Server(0, "thermometer", warmth)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    url = f"socket://127.0.0.1:{server.server_address[1]}"

    def reading() -> None:
        with contextlib.suppress(OSError, psycopg.Error):
            reader.read_thermo(as_shop(database_url), url, "thermometer")

    thread = threading.Thread(target=reading, daemon=True)
    thread.start()
    name, said, *_ = until(lambda: devices.newest(connection, id_, "thermometer"))
    assert (
        said["value"] == pytest.approx(warmth.room_c(datetime.now(UTC)), abs=2)
        and not said["problem"]
        and "thermometer" in name
    )
    warmth.take(["ABSURD", "30"], time.monotonic())
    said = until(
        lambda: (found := devices.newest(connection, id_, "thermometer")) and found[1]["problem"] and found[1]
    )
    assert said["value"] is None and "900" in said["problem"]
    warmth.silent_to_s = time.monotonic() + 60
    server.shutdown()
    server.server_close()
    thread.join(15)
    assert not thread.is_alive()


def test_without_a_pour_the_stand_ins_are_as_warm_as_the_room(shop):
    connection, _ = shop
    assert newest_pour(connection) is None


@pytest.fixture(scope="module")
def broker(tmp_path_factory):
    """Debian's mosquitto on a loopback port."""
    port, folder = free_port(), tmp_path_factory.mktemp("broker")
    folder.chmod(0o755)
    (folder / "broker.conf").write_text(
        f"listener {port} 127.0.0.1\nallow_anonymous true\npersistence false\nlog_dest none\n"
    )
    process = subprocess.Popen([find_broker(), "-c", str(folder / "broker.conf")], stderr=subprocess.DEVNULL)
    yield port
    process.terminate()
    process.wait(90)


def test_the_room_is_heard_over_mqtt(database_url, shop, broker):
    connection, id_ = shop
    over = threading.Event()
    threading.Thread(target=tell_room, args=(Warmth(), broker, "yard/room"), daemon=True).start()

    def listening() -> None:
        while not over.is_set():
            with contextlib.suppress(OSError, psycopg.Error):
                read_room(
                    as_shop(database_url), f"mqtt://127.0.0.1:{broker}/yard/room", id_, "room sensor", over
                )
            over.wait(0.2)

    thread = threading.Thread(target=listening, daemon=True)
    thread.start()
    name, said, *_ = until(lambda: devices.newest(connection, id_, "room"), 20.0)
    over.set()
    thread.join(10)
    assert name == "room sensor" and 15 < said["temperature_c"] < 27 and 0.4 < said["humidity"] < 0.6
