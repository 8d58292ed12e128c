"""A two-axis level that is not there: sends a line a second to whoever listens, drifting a little and with
noise, as a real one does.
"""

from __future__ import annotations

import math
import os
import random
import socketserver
import sys
import time

PERIOD_S = 0.5
PITCH_DEG, ROLL_DEG = 0.35, -0.20
NOISE_DEG = 0.01


def tilt_at(seconds: float, noise: random.Random) -> tuple[float, float]:
    """A bench that leans and settles: a slow swing of 0.03 degrees over ten minutes, and noise."""
    swing = 0.03 * math.sin(2 * math.pi * seconds / 600)
    return PITCH_DEG + swing + noise.gauss(0, NOISE_DEG), ROLL_DEG - swing / 2 + noise.gauss(0, NOISE_DEG)


class _Listener(socketserver.BaseRequestHandler):
    def handle(self) -> None:
        noise = random.Random(7)
        begun = time.monotonic()
        try:
            while True:
                pitch, roll = tilt_at(time.monotonic() - begun, noise)
                self.request.sendall(f"PITCH {pitch:+.2f} ROLL {roll:+.2f} DEG\r\n".encode())
                time.sleep(PERIOD_S)
        except OSError:
            return  # the listener went away


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def main() -> int:
    port = int(os.environ["CAVATUM_STAND_IN_LEVEL_PORT"])
    with _Server(("127.0.0.1", port), _Listener) as server:
        server.serve_forever()
    return 0


if __name__ == "__main__":
    sys.exit(main())
