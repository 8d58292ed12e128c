"""The level: its lines, the stand-in that ships, and the process that reads both alike."""

import os
import random
import socket
import subprocess
import sys
import threading
from pathlib import Path

import psycopg
import pytest

from cavatum.devices import reader
from cavatum.devices.lines import Tilt, parse_tilt
from cavatum.devices.stand_in_level import tilt_at
from cavatum.machine import ports
from cavatum.store import devices, workshops
from tests.conftest import as_shop

SOURCE = Path(__file__).resolve().parents[2] / "src"


@pytest.mark.parametrize(
    ("line", "tilt"),
    [
        ("PITCH +0.32 ROLL -0.11 DEG", Tilt(0.32, -0.11)),
        ("x=0.5 y=-1.25", Tilt(0.5, -1.25)),
        ("roll: 2 pitch: 1", Tilt(1.0, 2.0)),
        ("P 0.00 R 0.00", Tilt(0.0, 0.0)),
        ("", None),
        ("PITCH 0.3", None),
        ("temperature 21.4 C", None),
        ("PITCH 80 ROLL 0", None),
        ("x" * 500, None),
    ],
)
def test_lines_of_common_forms_are_read_and_others_left(line, tilt):
    assert parse_tilt(line) == tilt


def test_the_stand_in_drifts_a_little_and_never_jumps():
    chance = random.Random(1)
    readings = [tilt_at(second, chance) for second in range(600)]
    assert max(abs(pitch - 0.35) for pitch, _ in readings) < 0.1
    assert max(abs(a[0] - b[0]) for a, b in zip(readings, readings[1:], strict=False)) < 0.08


@pytest.fixture
def stand_in():
    port = ports.free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "cavatum.devices.stand_in_level"],
        env={**os.environ, "PYTHONPATH": str(SOURCE), "CAVATUM_STAND_IN_LEVEL_PORT": str(port)},
    )
    for _ in range(200):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                break
        threading.Event().wait(0.05)
    yield f"socket://127.0.0.1:{port}"
    process.terminate()
    process.wait()


def test_the_reader_keeps_what_the_stand_in_says(stand_in, database_url, monkeypatch):
    lines = reader.lines_of(stand_in)
    monkeypatch.setattr(reader, "lines_of", lambda url: (next(lines) for _ in range(2)))
    monkeypatch.setenv("CAVATUM_STAND_IN_LEVEL_PORT", "1")
    with psycopg.connect(database_url) as connection:
        workshops.implied_workshop(connection)
    reader.read_level(as_shop(database_url), stand_in)
    with psycopg.connect(database_url) as connection:
        name, reading, _, age = devices.newest(connection, workshops.implied_workshop(connection), "level")
    assert name == "stand-in level" and reading["pitch_deg"] == pytest.approx(0.35, abs=0.1) and age < 5
    lines.close()


def test_a_level_that_goes_away_ends_the_lines(monkeypatch):
    monkeypatch.setattr(reader, "PATIENCE_S", 0.3)
    with socket.create_server(("127.0.0.1", 0)) as server:
        lines = reader.lines_of(f"socket://127.0.0.1:{server.getsockname()[1]}")
        heard = threading.Event()
        spoken = threading.Thread(target=lambda: _say_until(server, heard))
        spoken.start()
        assert parse_tilt(next(lines)) == Tilt(0.5, 0.1)
        heard.set()
        spoken.join()
        with pytest.raises((StopIteration, OSError)):  # quiet for too long, or the line was closed
            for _ in range(1000):  # what was still on its way
                next(lines)


def _say_until(server, heard):
    """Says its line again until it was heard: what comes while the port opens is thrown away by pySerial."""
    listener, _ = server.accept()
    while not heard.wait(0.02):
        listener.sendall(b"PITCH 0.50 ROLL 0.10 DEG\r\n")
    listener.close()
