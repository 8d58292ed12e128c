"""An infrared thermometer, a probe logger and a room sensor that are not there: they follow the newest open
run's own curve with noise, a believable
day in the room, and can be made to fail (SILENT 30, ABSURD 20, PACE 0.9, sent to either port).
"""

from __future__ import annotations

import json
import math
import os
import random
import socketserver
import sys
import threading
import time
from datetime import UTC, datetime

import numpy as np
import paho.mqtt.client as mqtt
import psycopg

from ..core.pour.script_model import PourCurve, Script
from ..core.pour.state import fold
from ..store import runs, workshops
from ..store.pool import connect_first

PERIOD_S = 1.0
NOISE_K = 0.25
SURFACE_SHARE = 0.85  # a surface is a little nearer to the room than the hottest cell
LOOK_EVERY_S = 5.0


class Warmth:
    """What the piece is like now. Moments are handed in, so that a test needs no waiting."""

    def __init__(self, seed: int = 11) -> None:
        self.noise = random.Random(seed)
        self.curve: PourCurve | None = None
        self.poured_at: datetime | None = None
        self.pace, self.silent_to_s, self.absurd_to_s = 1.0, -1.0, -1.0

    def take(self, words: list[str], now_s: float) -> None:
        word, amount = (
            words[0].upper(),
            float(words[1]) if len(words) > 1 and words[1].replace(".", "", 1).isdigit() else 0.0,
        )
        if word == "SILENT":
            self.silent_to_s = now_s + amount
        elif word == "ABSURD":
            self.absurd_to_s = now_s + amount
        elif word == "PACE" and 0.3 <= amount <= 3:
            self.pace = amount

    def room_c(self, moment: datetime) -> float:
        """Warmest in the afternoon, coolest before dawn."""
        hour = moment.hour + moment.minute / 60
        return 21.0 + 1.4 * math.cos((hour - 15) / 24 * 2 * math.pi)

    def probe_c(self, moment: datetime) -> float:
        if self.curve is None or self.poured_at is None:
            return self.room_c(moment)
        after = (moment - self.poured_at).total_seconds()
        times = [at * self.pace for at, _ in self.curve.curve]
        return float(np.interp(after, times, [celsius for _, celsius in self.curve.curve]))

    def line(self, kind: str, moment: datetime, now_s: float) -> str | None:
        if now_s < self.silent_to_s:
            return None
        room, probe = self.room_c(moment), self.probe_c(moment)
        shown = probe if kind == "probe" else room + SURFACE_SHARE * (probe - room)
        shown = 900.0 if now_s < self.absurd_to_s else shown + self.noise.gauss(0, NOISE_K)
        return f"CH1 {shown:.2f} C" if kind == "probe" else f"OBJ {shown:.1f} C AMB {room:.1f} C"


class _Listener(socketserver.BaseRequestHandler):
    def handle(self) -> None:
        self.request.settimeout(PERIOD_S)
        heard = b""
        try:
            while True:
                try:
                    more = self.request.recv(200)
                    if not more:
                        return
                    heard = (heard + more)[-1000:]
                except TimeoutError:
                    pass
                *lines, heard = heard.replace(b"\r", b"\n").split(b"\n")
                for line in lines:
                    words = line.decode("ascii", errors="replace").split()
                    if words:
                        self.server.warmth.take(words, time.monotonic())  # type: ignore[attr-defined]
                said = self.server.warmth.line(self.server.kind, datetime.now(UTC), time.monotonic())  # type: ignore[attr-defined]
                if said:
                    self.request.sendall(f"{said}\r\n".encode())
        except OSError:
            return


class Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, kind: str, warmth: Warmth) -> None:
        super().__init__(("127.0.0.1", port), _Listener)
        self.kind, self.warmth = kind, warmth


def _last_cup(script: Script, pour: int) -> str:
    """The step that empties the last cup of a pour; empty where it has none."""
    poured = [one for one in script.steps if one.pour == pour and one.kind == "pour"]
    steps = [one.id for one in poured if one.batch is not None]
    return steps[-1] if steps else ""


def newest_pour(connection: psycopg.Connection) -> tuple[PourCurve, datetime] | None:
    """The last thing that was poured in an open run that is no rehearsal."""
    with connection.transaction():
        shop = workshops.implied_workshop(connection)
    found = []
    for run in runs.listed(connection, shop, is_open=True):
        if run.rehearsal is not None:
            continue
        marks = fold(run.script, runs.events(connection, shop, run.id)).marks
        for curve in run.script.curves:
            mark = marks.get(_last_cup(run.script, curve.pour))
            if mark and mark.status == "done" and mark.ended_at:
                found.append((mark.ended_at, curve))
    return max(((curve, at) for at, curve in found), key=lambda one: one[1], default=None)


def follow(warmth: Warmth, database_url: str) -> None:
    while True:
        try:
            connection, _ = connect_first(database_url)
            with connection:
                found = newest_pour(connection)
            warmth.curve, warmth.poured_at = found if found else (None, None)
        except psycopg.Error as error:
            print(f"stand-in: {error}", file=sys.stderr)
        time.sleep(LOOK_EVERY_S)


def tell_room(warmth: Warmth, port: int, topic: str = "cavatum/room") -> None:
    """Publishes the room every few seconds, for ever; waits for the broker where it is not up, or not any
    more.
    """
    while True:
        client = mqtt.Client(mqtt.CallbackAPIVersion.VERSION2)
        there = threading.Event()
        client.on_connect = lambda *_, up=there: up.set()
        try:
            client.connect("127.0.0.1", port, keepalive=20)
            client.loop_start()
            there.wait(5.0)
            while client.is_connected():
                moment = datetime.now(UTC)
                said = {
                    "temperature": round(warmth.room_c(moment) + warmth.noise.gauss(0, 0.05), 2),
                    "humidity": round(51 + warmth.noise.gauss(0, 0.3), 1),
                }
                client.publish(topic, json.dumps(said))
                time.sleep(LOOK_EVERY_S)
            client.loop_stop()
        except OSError:
            pass
        time.sleep(1.0)


def main() -> int:
    warmth = Warmth()
    threading.Thread(target=follow, args=(warmth, os.environ["CAVATUM_SHOP_URL"]), daemon=True).start()
    threading.Thread(
        target=tell_room, args=(warmth, int(os.environ["CAVATUM_BROKER_PORT"])), daemon=True
    ).start()
    probe = Server(int(os.environ["CAVATUM_STAND_IN_PROBE_PORT"]), "probe", warmth)
    threading.Thread(target=probe.serve_forever, daemon=True).start()
    with Server(int(os.environ["CAVATUM_STAND_IN_THERMOMETER_PORT"]), "thermometer", warmth) as server:
        server.serve_forever()
    return 0


if __name__ == "__main__":
    sys.exit(main())
