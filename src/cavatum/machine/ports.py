"""Ports of this machine: one that is free, and whether one gets free."""

from __future__ import annotations

import secrets
import socket
import time

from .tell import SetupError


def free_port() -> int:
    """A port nobody listens on, below the range from which Linux takes ports for outgoing connections (32768
    and up).
    """
    for _ in range(100):
        port = 20_000 + secrets.randbelow(10_000)
        if _port_is_free(port):
            return port
    raise SetupError("No free port between 20000 and 30000 was found.", "End some servers on this machine.")


def _port_is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def is_free_soon(port: int, patience_s: float) -> bool:
    """A killed server's last processes hold its port for a moment: that is no reason to move."""
    until = time.monotonic() + patience_s
    while not _port_is_free(port):
        if time.monotonic() > until:
            return False
        time.sleep(0.1)
    return True
