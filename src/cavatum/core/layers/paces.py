"""How long a layer takes at other rates of its resin, through the model: what a time that was seen says of
the rate.
Rule 9.2.

A resin that cures more slowly also warms itself less, so its times grow by more than its rate falls: a
test passed
after 1.38 times the foretold time may speak of a rate 1.28 times as slow.
"""

from __future__ import annotations

import numpy as np

from .course import Course
from .refit import Times, again_as

SLOWER = (0.4, 0.55, 0.75, 1.0, 1.35, 1.8, 2.4)  # times as slow as the course has it
GATES = ("recoat", "demould", "peak")
Table = list[tuple[float, float]]


def slowness_by_time(course: Course, layer: int) -> dict[str, Table]:
    """By gate, rows of (times as long until it opens, times as slow the resin is), growing.

    course  a void with its layers;  layer  0 the lowest
    recoat and demould are the layer's window and the moment it may leave its form, peak its hottest. A
    rate at
    which a gate is not reached has no row.
    Raises DomainError as the course does. Valid for the layer as poured, nothing on it. Source: the same
    march
    with k1 and k2 divided by the slowness.
    """
    rows: dict[str, Table] = {name: [] for name in GATES}
    base: dict[str, float | None] = {}
    for slower in (1.0, *SLOWER):
        again = again_as(course, layer, Times(rate=1 / slower), course.layers[layer].at_s)
        window = again.window()
        found = {"recoat": window.opens_s, "demould": window.demould_s, "peak": window.peak_s}
        if not base:
            base = found
            continue
        for name, at in found.items():
            start = base[name]
            if at is not None and start is not None and start > 0:
                rows[name].append((at / start, slower))
    return {name: _growing(table) for name, table in rows.items() if len(table) > 1}


def _growing(table: Table) -> Table:
    """Without rows at which time does not grow: a peak that moves by the grid's own step says nothing."""
    kept: Table = []
    for times, slower in sorted(table, key=lambda row: row[1]):
        if not kept or times > kept[-1][0] * 1.001:
            kept.append((round(times, 5), slower))
    return kept


def slowness(table: Table, times: float) -> float:
    """How many times as slow the resin is whose layer takes so many times as long; outside the table in
    proportion
    to its end.

    table  of slowness_by_time, at least two rows;  times  > 0, without a unit
    Raises nothing. Valid within 1 % between rows, in the logarithms. Source: own.
    """
    at, slower = (np.log(np.array(column)) for column in zip(*table, strict=True))
    x = float(np.log(times))
    inside = float(np.interp(x, at, slower))
    return float(np.exp(inside + min(x - at[0], 0.0) + max(x - at[-1], 0.0)))
