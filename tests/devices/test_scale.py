"""The scale: lines of common forms, the stand-in that ships, and the process that reads real ports and
stand-ins alike.
"""

import contextlib
import os
import random
import socket
import threading

import psycopg
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.unit_table import OUNCE_KG, POUND_KG
from cavatum.devices import reader
from cavatum.devices.scale_lines import parse_scale
from cavatum.devices.stand_in_scale import MOST_KG, Pan, Server
from cavatum.store import devices, workshops
from tests.conftest import as_shop


@pytest.mark.parametrize(
    ("line", "kg", "stable"),
    [
        ("ST,GS,+  100.0 g", 0.1, True),
        ("US,NT,-   0.5g", -0.0005, False),
        ("S S     1234.56 g", 1.23456, True),
        ("S D       12.3 g", 0.0123, False),
        ("+   100.00 g", 0.1, None),
        ("  12,5 kg ?", 12.5, False),
        ("ST,NT,+00012.34kg", 12.34, True),
        ("2.5 lb", 2.5 * POUND_KG, None),
        ("N 4.50 oz", 4.5 * OUNCE_KG, None),
        ("1 lb 4.50 oz", POUND_KG + 4.5 * OUNCE_KG, None),
        ("GROSS   100.0g", 0.1, None),
        ("1.000 ozt", 0.0311034768, None),
        ("\x02ST,+0100.0 g\x03", 0.1, True),
    ],
)
def test_lines_of_common_forms_are_weights(line, kg, stable):
    found = parse_scale(line)
    assert found.mass_kg == pytest.approx(kg, abs=1e-9) and found.stable is stable and found.problem == ""


@pytest.mark.parametrize(
    ("line", "problem"),
    [
        ("OL", "overload"),
        ("ST,OL,", "overload"),
        ("--------", "overload"),
        ("S +", "overload"),
        ("UL", "underload"),
        ("   100.0", "no-unit"),
        ("+ 100.0", "no-unit"),
        ("100 mL", "not-a-weight"),
        ("12 pcs", "not-a-weight"),
        ("45.0 %", "not-a-weight"),
    ],
)
def test_what_is_no_weight_is_said_and_never_guessed(line, problem):
    found = parse_scale(line)
    assert found.mass_kg is None and found.problem == problem


@pytest.mark.parametrize("line", ["", "READY", "v1.2 scale", "x" * 500])
def test_other_lines_are_left(line):
    found = parse_scale(line)
    assert found is None or found.mass_kg is None


@given(
    st.floats(-3, 3),
    st.sampled_from([("g", 1e-3, 1), ("kg", 1.0, 4), ("oz", OUNCE_KG, 3), ("lb", POUND_KG, 4)]),
    st.sampled_from(["{} {}", "ST,GS,{:>10} {}", "  {}{}"]),
)
def test_a_weight_comes_back_to_its_last_digit(kg, unit, form):
    name, per, digits = unit
    found = parse_scale(form.format(f"{kg / per:.{digits}f}", name))
    assert found.mass_kg == pytest.approx(kg, abs=per * 10**-digits) and found.step_kg == pytest.approx(
        per * 10**-digits
    )


@given(st.text(max_size=150))
def test_no_line_breaks_the_parser(text):
    found = parse_scale(text)
    assert found is None or found.mass_kg is None or abs(found.mass_kg) < 1e8


def test_the_stand_in_pours_like_a_hand_drifts_and_settles():
    pan = Pan()
    pan.take(["CUP", "180"], 0.0)
    pan.take(["T"], 1.0)
    pan.take(["POUR", "50"], 2.0)
    half = parse_scale(pan.line(2.6))
    pan.line(3.5)
    done = parse_scale(pan.line(6.0))
    assert half.stable is False and 0.01 < half.mass_kg < 0.04
    assert done.stable is True and done.mass_kg == pytest.approx(0.05, abs=3e-4)


def test_the_stand_in_overloads_freezes_changes_its_unit_and_goes_away():
    pan = Pan()
    pan.take(["ADD", str(int(MOST_KG * 1000) + 10)], 0.0)
    assert parse_scale(pan.line(2.0)).problem == "overload"
    pan.take(["LIFT"], 3.0)
    pan.take(["UNIT", "oz"], 4.0)
    pan.take(["ADD", "100"], 4.0)
    assert parse_scale(pan.line(6.0)).unit == "oz" and parse_scale(pan.line(6.0)).mass_kg == pytest.approx(
        0.1, abs=3e-4
    )
    pan.take(["FREEZE", "10"], 6.0)
    pan.take(["ADD", "50"], 7.0)
    assert parse_scale(pan.line(8.0)).mass_kg == pytest.approx(0.1, abs=3e-4) and parse_scale(
        pan.line(20.0)
    ).mass_kg == pytest.approx(0.15, abs=3e-4)
    pan.take(["AWAY", "5"], 20.0)
    assert pan.away_until_s == 25.0


def test_commands_it_does_not_know_are_left_alone():
    pan = Pan()
    for words in (["DANCE"], ["POUR", "much"], ["UNIT", "stone"]):
        pan.take(words, 1.0)
    assert parse_scale(pan.line(3.0)).mass_kg == pytest.approx(0, abs=2e-4)


@pytest.fixture
def stand_in(monkeypatch):
    """The stand-in as a server in this process; the reader takes it for the workshop's."""
    server = Server(("127.0.0.1", 0))
    server.pan.noise = random.Random(1)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    monkeypatch.setenv("CAVATUM_STAND_IN_SCALE_PORT", str(server.server_address[1]))
    yield server
    server.shutdown()
    server.server_close()


def until(connection, wanted, tries: int = 400):
    """The newest reading once it is as wanted."""
    shop = workshops.implied_workshop(connection)
    for _ in range(tries):
        found = devices.newest(connection, shop, "scale")
        connection.commit()
        if found and found[1]["readings"] and wanted(found[1]["readings"][-1]):
            return found
        threading.Event().wait(0.05)
    raise AssertionError(found)


def test_the_reader_keeps_readings_hands_on_commands_and_ends_when_the_plug_is_pulled(stand_in, database_url):
    ended = threading.Event()

    def read() -> None:
        with contextlib.suppress(OSError, psycopg.Error):  # pySerial's exception is an OSError
            reader.read_scale(as_shop(database_url), f"socket://127.0.0.1:{stand_in.server_address[1]}")
        ended.set()

    thread = threading.Thread(target=read, daemon=True)
    with psycopg.connect(database_url) as connection:
        shop = workshops.implied_workshop(connection)
        connection.commit()
        thread.start()
        name, reading, _, _ = until(connection, lambda one: True)
        assert name == "stand-in scale" and reading["stand_in"] and reading["step_kg"] == pytest.approx(1e-4)
        for command in ("CUP 180", "tare", "ADD 25"):
            devices.ask(connection, shop, "scale", command)
            connection.commit()
            until(
                connection,
                {
                    "CUP 180": lambda one: one["mass_kg"] > 0.17,
                    "tare": lambda one: abs(one["mass_kg"]) < 0.01,
                    "ADD 25": lambda one: one["mass_kg"] > 0.02,
                }[command],
            )
        devices.ask(connection, shop, "scale", "AWAY 60")
        connection.commit()
        assert ended.wait(90)
        connection.execute("truncate workshop cascade")
        connection.commit()


def test_a_stale_command_is_thrown_away(connection):
    shop = workshops.implied_workshop(connection)
    devices.ask(connection, shop, "scale", "tare")
    connection.execute("update device_command set made_at = now() - interval '1 minute'")
    devices.ask(connection, shop, "scale", "LIFT")
    assert (
        devices.take_commands(connection, shop, "scale") == ["LIFT"]
        and devices.take_commands(connection, shop, "scale") == []
    )


def test_a_port_that_is_not_there_is_an_error_the_process_outlives():
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = taken.getsockname()[1]
    with pytest.raises(OSError):
        next(reader.lines_of(f"socket://127.0.0.1:{port}"))
    assert os.environ.get("CAVATUM_SCALE", "") == ""
