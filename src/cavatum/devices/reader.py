"""Reads the workshop's instruments, real ports and stand-ins by the same code (pySerial's URLs), and keeps
what they say.

CAVATUM_LEVEL, CAVATUM_SCALE, CAVATUM_THERMOMETER, CAVATUM_PROBE  where they are: /dev/ttyUSB0, or
                                                                  socket://127.0.0.1:port; nothing set,
                                                                  nothing read
CAVATUM_ROOM                  the room sensor: mqtt://host:port/topic
CAVATUM_SCALE_BAUD            speed of the scale's port, 9600 unless said
"""

from __future__ import annotations

import os
import sys
import threading
import time
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from functools import partial

import psycopg
import serial

from ..services.runs import log_probe
from ..store import devices
from ..store.pool import connect_first
from .lines import parse_tilt
from .room import read_room
from .scale_lines import parse_scale
from .scale_said import fresh, with_line
from .thermo_lines import parse_thermo

PATIENCE_S = 5.0
PAUSE_S = 2.0
AT_LEAST_EVERY_S = 1.0  # a reading at rest is written this often, one that moves at once
LOG_EVERY_S = 60.0
COMMANDS = {"tare": "T"}


def open_port(url: str, baud: int = 9600) -> serial.SerialBase:
    return serial.serial_for_url(url, baudrate=baud, timeout=PATIENCE_S)


def lines_of(url: str) -> Iterator[str]:
    """Lines as they come; ends when the device goes quiet for PATIENCE_S or goes away."""
    with open_port(url) as port:
        while line := port.readline():
            yield line.decode("ascii", errors="replace").strip()


def read_level(database_url: str, url: str) -> None:
    name = "stand-in level" if os.environ.get("CAVATUM_STAND_IN_LEVEL_PORT") else "the workshop's level"
    connection, shop = connect_first(database_url)
    with connection:
        for line in lines_of(url):
            tilt = parse_tilt(line)
            if tilt is not None:
                devices.keep_reading(
                    connection, shop, "level", name, {"pitch_deg": tilt.pitch_deg, "roll_deg": tilt.roll_deg}
                )


def read_scale(database_url: str, url: str, clock: Callable[[], float] = time.time) -> None:
    """Every line that is a weight, with the newest before it, and the commands that wait. Ends when the scale
    goes quiet or away.
    """
    stand_in = bool(os.environ.get("CAVATUM_STAND_IN_SCALE_PORT"))
    name = "stand-in scale" if stand_in else "the workshop's scale"
    said, written_s = fresh(clock(), stand_in=stand_in), 0.0
    connection, shop = connect_first(database_url)
    with (
        connection,
        open_port(url, int(os.environ.get("CAVATUM_SCALE_BAUD", "9600"))) as port,
    ):
        devices.take_commands(connection, shop, "scale")
        while line := port.readline():
            for command in devices.take_commands(connection, shop, "scale"):
                port.write(f"{COMMANDS.get(command, command)}\r\n".encode("ascii"))
            found = parse_scale(line.decode("ascii", errors="replace"))
            if found is None:
                continue
            now = clock()
            said, changed = with_line(said, found, now)
            if changed or now - written_s >= AT_LEAST_EVERY_S:
                devices.keep_reading(connection, shop, "scale", name, said)
                written_s = now


def read_thermo(database_url: str, url: str, kind: str) -> None:
    """Thermometer or probe logger: the newest reading, and what cannot be said with it. A probe that lies in
    a run is logged there every minute.
    """
    stand_in = bool(os.environ.get("CAVATUM_STAND_IN_THERMOMETER_PORT"))
    name = f"stand-in {kind}" if stand_in else f"the workshop's {kind}"
    logged_s = -LOG_EVERY_S
    connection, shop = connect_first(database_url)
    with connection:
        for line in lines_of(url):
            found = parse_thermo(line)
            if found is None:
                continue
            devices.keep_reading(
                connection,
                shop,
                kind,
                name,
                {"value": found.celsius, "problem": found.words, "stand_in": stand_in},
            )
            if kind == "probe" and found.celsius is not None and time.monotonic() - logged_s >= LOG_EVERY_S:
                logged_s = time.monotonic()
                log_probe(connection, shop, found.celsius, name, datetime.now(UTC))


def read_room_sensor(database_url: str, url: str) -> None:
    name = "stand-in room sensor" if os.environ.get("CAVATUM_BROKER_PORT") else "the room sensor"
    connection, shop = connect_first(database_url)
    connection.close()
    read_room(database_url, url, shop, name)


def _again_and_again(what: str, read: Callable[[str, str], None], url: str) -> None:
    """For ever: an instrument that was unplugged comes back by itself."""
    while True:
        try:
            read(os.environ["CAVATUM_SHOP_URL"], url)
        except (serial.SerialException, psycopg.OperationalError, OSError) as error:
            print(f"devices: {what} at {url}: {error}", file=sys.stderr)
        time.sleep(PAUSE_S)


def main() -> int:
    """One thread an instrument; none set: the process waits, so that the manager does not end the others."""
    wanted = [
        ("level", read_level, os.environ.get("CAVATUM_LEVEL", "")),
        ("scale", read_scale, os.environ.get("CAVATUM_SCALE", "")),
        ("thermometer", partial(read_thermo, kind="thermometer"), os.environ.get("CAVATUM_THERMOMETER", "")),
        ("probe", partial(read_thermo, kind="probe"), os.environ.get("CAVATUM_PROBE", "")),
        ("room sensor", read_room_sensor, os.environ.get("CAVATUM_ROOM", "")),
    ]
    for what, read, url in wanted:
        if url:
            threading.Thread(target=_again_and_again, args=(what, read, url), daemon=True).start()
    while True:
        time.sleep(60.0)


if __name__ == "__main__":
    sys.exit(main())
