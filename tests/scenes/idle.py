"""Somebody who connects and says nothing, half a word, or one letter a second: from one address or fifty."""

from __future__ import annotations

import socket
import ssl
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

KINDS = ("silent", "half a handshake", "half a head", "a slow head", "a slow body")
HONEST = "127.0.0.200"  # whoever comes in meanwhile, from an address of their own


def trusting_anybody() -> ssl.SSLContext:
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    return context


class Idle:
    def __init__(self, port: int, count: int, addresses: int) -> None:
        self.port, self.count, self.addresses = port, count, addresses
        self.held: list[socket.socket] = []
        self._slow: list[socket.socket] = []
        self._over, self._lock = threading.Event(), threading.Lock()

    def begin(self) -> None:
        threads = [threading.Thread(target=self._one, args=(number,)) for number in range(self.count)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        threading.Thread(target=self._drip, daemon=True).start()

    def _one(self, number: int) -> None:
        kind = KINDS[number % len(KINDS)]
        line = socket.socket()
        line.settimeout(20)
        try:
            line.bind((f"127.0.0.{2 + number % self.addresses}", 0))
            line.connect(("127.0.0.1", self.port))
            if kind == "half a handshake":
                line.send(b"\x16\x03\x01")
            elif kind != "silent":
                line = trusting_anybody().wrap_socket(line, server_hostname="localhost")
                line.send(
                    b"GET /api/v1/hea"
                    if kind != "a slow body"
                    else b"POST /api/v1/door/login HTTP/1.1\r\nHost: localhost\r\n"
                    b"Content-Type: application/json\r\nContent-Length: 100000\r\n\r\n{"
                )
        except OSError:
            line.close()
            return
        with self._lock:
            self.held.append(line)
            if kind.startswith("a slow"):
                self._slow.append(line)

    def _drip(self) -> None:
        while not self._over.wait(1.0):
            for line in self._slow:
                try:
                    line.send(b"x")
                except OSError:
                    continue

    def still_open(self) -> int:
        """How many the server has not closed."""
        count = 0
        for line in self.held:
            line.setblocking(False)
            try:
                count += line.recv(1) != b""
            except (BlockingIOError, ssl.SSLWantReadError):
                count += 1
            except OSError:
                continue
        return count

    def end(self) -> None:
        self._over.set()
        for line in self.held:
            line.close()


@contextmanager
def holding(port: int, count: int, addresses: int) -> Iterator[Idle]:
    """While the block lasts so many connections of every kind are held open."""
    idle = Idle(port, count, addresses)
    try:
        idle.begin()
        yield idle
    finally:
        idle.end()


def asked(port: int, path: str = "/api/v1/health", patience_s: float = 30.0) -> tuple[int, float]:
    """(status, seconds) of an honest request on a connection of its own; status 0: not answered in time."""
    began = time.perf_counter()
    line = socket.socket()
    line.settimeout(patience_s)
    try:
        line.bind((HONEST, 0))
        line.connect(("127.0.0.1", port))
        with trusting_anybody().wrap_socket(line, server_hostname="localhost") as safe:
            safe.send(f"GET {path} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n".encode())
            words = safe.recv(200).split()
            return int(words[1]) if len(words) > 1 else 0, time.perf_counter() - began
    except OSError:
        return 0, time.perf_counter() - began
    finally:
        line.close()
