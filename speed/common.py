"""Lines of the benchmarks: name, value, unit, wanted bound, held or short. Medians, measured in this run."""

from __future__ import annotations

import gc
import os
import secrets
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from flask import Flask

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "src"))
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from cavatum.core.common.remembered import forget_everything  # noqa: E402

UNITS_S = {"us": 1e-6, "ms": 1e-3, "s": 1.0, "min": 60.0}
# What a bound given in seconds was set for: a machine on which the reference takes so long (0.05 s while the
# collector walks what the benchmarks hold).
REFERENCE_S = 0.032
REFERENCE_HOLDS_S = 60.0


class Reference:
    """The reference of every time: SciPy's BDF on a bare slab of 60 cells over 72 h, measured in the same run
    and
    again every minute, so that a slow or busy machine fails nothing.
    """

    def __init__(self) -> None:
        self.seconds, self.measured_at = 0.0, -REFERENCE_HOLDS_S

    def now_s(self) -> float:
        if time.monotonic() - self.measured_at >= REFERENCE_HOLDS_S:
            gc.disable()  # how much the benchmarks hold by then is nothing to it
            self.seconds, self.measured_at = timed(_slab, 5), time.monotonic()
            gc.enable()
        return self.seconds


def _slab() -> object:
    from cavatum.core.cure.parameters import CLASSES
    from tests.core.test_heat import bdf_slab

    return bdf_slab(CLASSES["slow-casting-epoxy"], 0.04, 60, 296.15, 72)


class Board:
    """Prints each figure as it is measured and remembers whether all held."""

    def __init__(self) -> None:
        self.short = 0
        self.reference = Reference()

    def line(
        self, name: str, value: float, unit: str, most: float | None = None, least: float | None = None
    ) -> None:
        """A bound on a time is one on its ratio to the reference of this run; the time stands beside it."""
        beside = ""
        if unit in UNITS_S and most is not None:
            beside = f"  {value:.3g} {unit}" if value < 1000 else f"  {value:.0f} {unit}"
            value = value * UNITS_S[unit] / self.reference.now_s()
            unit, most = "slabs", most * UNITS_S[unit] / REFERENCE_S
        held = (most is None or value <= most) and (least is None or value >= least)
        wanted = f"<= {most:g}" if most is not None else f">= {least:g}" if least is not None else "-"
        self.short += not held
        shown = f"{value:.3f}" if value == 0 or abs(value) >= 1e-3 else f"{value:.1e}"
        said = "held" if held else "short"
        print(f"{name:<62} {shown:>10} {unit:<7} {wanted:>10}  {said}{beside}", flush=True)

    def leave(self) -> None:
        print(f"(one slab, SciPy's BDF: {self.reference.now_s() * 1000:.1f} ms)", flush=True)
        sys.exit(1 if self.short else 0)


@contextmanager
def own_database() -> Iterator[str]:
    """The address of a new, empty database on the checkout's cluster, dropped in the end."""
    import psycopg
    from psycopg import sql

    from cavatum.machine import cluster

    running, started = cluster.ensure_running()
    name = sql.Identifier(f"speed_{os.getpid()}")
    with psycopg.connect(running.url(), autocommit=True) as admin:
        admin.execute(sql.SQL("create database {}").format(name))
    try:
        yield running.url(f"speed_{os.getpid()}")
    finally:
        cluster.drop_database(running, f"speed_{os.getpid()}")
        if started:
            cluster.stop(running)


def own_app(url: str, **more: Any) -> Flask:
    """The application at a database of the checkout's cluster, in this process."""
    from cavatum.api.app import create_app
    from cavatum.machine import cluster

    running, name = cluster.read_record(), url.rpartition("/")[2]
    assert running is not None  # own_database() has just started it
    return create_app(
        running.shop_url(name), running.door_url(name), secret_key=secrets.token_hex(16), **more
    )


@contextmanager
def served(url: str) -> Iterator[str]:
    """Server and worker as the start command starts them; the address they answer at."""
    with serving(url) as (address, _):
        yield address


@contextmanager
def serving(url: str) -> Iterator[tuple[str, int]]:
    """The same, with the number of the process that manages them."""
    from cavatum.machine import cluster, ports, server

    port, running = ports.free_port(), cluster.read_record()
    assert running is not None  # own_database() has just started it
    process = server.launch(running.addresses(url.rpartition("/")[2]), port)
    try:
        server.wait_until_it_answers(process, port)
        yield f"http://127.0.0.1:{port}", process.pid
    finally:
        server.end(process)


def timed(work: Callable[[], object], times: int = 20) -> float:
    """Median seconds of `times` runs, after one to warm up; nothing is remembered from one to the next."""
    work()
    seconds = []
    for _ in range(times):
        forget_everything()
        begun = time.perf_counter()
        work()
        seconds.append(time.perf_counter() - begun)
    return median(seconds)
