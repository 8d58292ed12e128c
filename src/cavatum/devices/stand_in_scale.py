"""A bench scale that is not there: sends lines as a real one does, with drift, noise, tare and overload, and
can be made to fail.

It takes lines too: T tares; CUP 180, LIFT, POUR 50 (at a hand's speed), ADD 3, SPOON 2, UNIT oz, FREEZE 10,
JUMP 300, AWAY 5 move what is on it.
"""

from __future__ import annotations

import os
import random
import select
import socketserver
import sys
import threading
import time
from typing import Any

PERIOD_S = 0.12
POUR_KG_S = 0.040  # about 2 L a minute
MOST_KG, STEP_KG = 3.0, 1e-4
DRIFT_KG_S = 2e-8  # 0.07 g an hour
NOISE_KG = 2e-5
SETTLE_S = 0.6  # the pan swings for so long after something was poured
UNITS = {"g": (1e-3, 1), "kg": (1.0, 4), "oz": (0.028349523125, 3), "lb": (0.45359237, 4)}


class Pan:
    """What lies on the scale. All times are handed in, so that a test needs no waiting."""

    def __init__(self, seed: int = 7) -> None:
        self.noise = random.Random(seed)
        self.load_kg = self.pouring_kg = self.tare_kg = 0.0
        self.unit, self.now_s, self.moved_s = "g", 0.0, -9.0
        self.frozen_until_s = self.away_until_s = -1.0
        self.frozen_line = ""

    def take(self, words: list[str], now_s: float) -> None:
        """One command. What it does not know it leaves alone, as instruments do."""
        self.pass_time(now_s)
        word, amount = words[0].upper(), _grams(words)
        moved = True
        if word == "T":
            self.tare_kg, moved = self.load_kg, False
        elif word == "CUP":
            self.load_kg += amount
        elif word == "LIFT":
            self.load_kg = self.pouring_kg = 0.0
        elif word == "POUR":
            self.pouring_kg += amount
        elif word in ("ADD", "JUMP"):
            self.load_kg += amount
        elif word == "SPOON":
            self.load_kg = max(self.load_kg - amount, 0.0)
        elif word == "UNIT" and words[1:] and words[1] in UNITS:
            self.unit, moved = words[1], False
        else:
            self._fail(word, amount, now_s)
        if moved:
            self.moved_s = now_s

    def _fail(self, word: str, amount: float, now_s: float) -> None:
        """FREEZE and AWAY: what instruments do at the worst moment."""
        if word == "FREEZE":
            self.frozen_line, self.frozen_until_s = self.line(now_s), now_s + amount * 1000
        elif word == "AWAY":
            self.away_until_s = now_s + amount * 1000

    def pass_time(self, now_s: float) -> None:
        poured = min(self.pouring_kg, POUR_KG_S * max(now_s - self.now_s, 0.0))
        if poured > 0:
            self.load_kg += poured
            self.pouring_kg -= poured
            self.moved_s = now_s
        self.load_kg += DRIFT_KG_S * max(now_s - self.now_s, 0.0)
        self.now_s = now_s

    def line(self, now_s: float) -> str:
        """What it sends at this moment."""
        self.pass_time(now_s)
        if now_s < self.frozen_until_s:
            return self.frozen_line
        if self.load_kg > MOST_KG + 9 * STEP_KG:
            return "OL"
        moving = now_s - self.moved_s < SETTLE_S
        shown = self.load_kg - self.tare_kg + self.noise.gauss(0, NOISE_KG * (10 if moving else 0.5))
        shown = round(shown / STEP_KG) * STEP_KG
        per, digits = UNITS[self.unit]
        return f"{'US' if moving else 'ST'},NT,{shown / per:+11.{digits}f} {self.unit}"


def _grams(words: list[str]) -> float:
    try:
        return min(max(float(words[1]), 0.0), 20_000.0) / 1000 if len(words) > 1 else 0.0
    except ValueError:
        return 0.0


class _Listener(socketserver.BaseRequestHandler):
    def handle(self) -> None:
        pan, lock = self.server.pan, self.server.lock  # type: ignore[attr-defined]
        heard = b""
        try:
            while True:
                ready, _, _ = select.select([self.request], [], [], PERIOD_S)
                if ready:
                    more = self.request.recv(400)
                    if not more:
                        return
                    heard = (heard + more)[-2000:]
                *lines, heard = heard.replace(b"\r", b"\n").split(b"\n")
                with lock:
                    now = time.monotonic()
                    for line in lines:
                        words = line.decode("ascii", errors="replace").split()
                        if words:
                            pan.take(words, now)
                    if now < pan.away_until_s:
                        return  # the plug is pulled
                    said = pan.line(now)
                self.request.sendall(f"{said}\r\n".encode())
        except OSError:
            return  # the listener went away


class Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, address: tuple[str, int]) -> None:
        super().__init__(address, _Listener)
        self.pan, self.lock = Pan(), threading.Lock()
        self.pan.now_s = time.monotonic()

    def verify_request(self, request: Any, client_address: Any) -> bool:
        return time.monotonic() >= self.pan.away_until_s


def main() -> int:
    with Server(("127.0.0.1", int(os.environ["CAVATUM_STAND_IN_SCALE_PORT"]))) as server:
        server.serve_forever()
    return 0


if __name__ == "__main__":
    sys.exit(main())
