"""Reads the workshop's instruments, real ports and stand-ins by the same code (pySerial's URLs), and keeps what they say.

CAVATUM_LEVEL  where the level is: /dev/ttyUSB0, or socket://127.0.0.1:port; nothing set, nothing read
"""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator

import psycopg
import serial

from ..store import devices, workshops
from .lines import parse_tilt

PATIENCE_S = 5.0
PAUSE_S = 2.0


def lines_of(url: str) -> Iterator[str]:
    """Lines as they come; ends when the device goes quiet for PATIENCE_S or goes away."""
    with serial.serial_for_url(url, baudrate=9600, timeout=PATIENCE_S) as port:
        while line := port.readline():
            yield line.decode("ascii", errors="replace").strip()


def read_level(database_url: str, url: str) -> None:
    name = "stand-in level" if os.environ.get("CAVATUM_STAND_IN_LEVEL_PORT") else "the workshop's level"
    with psycopg.connect(database_url, autocommit=True) as connection:
        with connection.transaction():
            shop = workshops.implied_workshop(connection)
        for line in lines_of(url):
            tilt = parse_tilt(line)
            if tilt is not None:
                devices.keep_reading(connection, shop, "level", name, {"pitch_deg": tilt.pitch_deg, "roll_deg": tilt.roll_deg})


def main() -> int:
    """Tries again for ever: an instrument that was unplugged comes back by itself."""
    url = os.environ.get("CAVATUM_LEVEL", "")
    while True:
        try:
            if url:
                read_level(os.environ["CAVATUM_DATABASE_URL"], url)
        except (serial.SerialException, psycopg.OperationalError, OSError) as error:
            print(f"devices: {url}: {error}", file=sys.stderr)
        time.sleep(PAUSE_S if url else 60.0)


if __name__ == "__main__":
    sys.exit(main())
