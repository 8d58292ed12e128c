"""The ladder of grits from here to the wanted surface; P and US grades told apart by their grain size. Rule
8.4.

Grain sizes [micrometre]: P grades after ISO 6344 (from memory; P3000 is not in the standard), US grades
(CAMI) from memory.
A next grit has 0.5 to 0.8 of the last one's grain: coarser jumps leave scratches behind, finer ones waste
paper.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data

P_UM = {
    40: 425.0,
    60: 269.0,
    80: 201.0,
    100: 162.0,
    120: 125.0,
    150: 100.0,
    180: 82.0,
    220: 68.0,
    240: 58.5,
    320: 46.2,
    400: 35.0,
    600: 25.8,
    800: 21.8,
    1000: 18.3,
    1200: 15.3,
    1500: 12.6,
    2000: 10.3,
    2500: 8.4,
    3000: 6.0,
}
US_UM = {
    60: 268.0,
    80: 190.0,
    100: 140.0,
    120: 115.0,
    150: 92.0,
    180: 80.0,
    220: 66.0,
    240: 53.0,
    320: 36.0,
    400: 23.0,
    600: 16.0,
    800: 12.0,
}
Series = Literal["P", "US"]
COARSEST_STEP, FINEST_STEP = 0.5, 0.8

# What each surface ends at, as a grain size [um], and why. Common practice.
ENDS: dict[str, tuple[float, str]] = {
    "next coat": (82.0, "Dull all over is enough for the next coat to hold; finer gives it nothing to grip."),
    "oil": (68.0, "Stop at 180 to 220: finer closes the pores and the oil stays on top."),
    "varnish": (58.5, "Fine enough that thin coats hide the scratches."),
    "satin": (21.8, "An even satin that hides scratches of use."),
    "polish": (6.0, "Then polish: gloss is traded for scratches that show."),
}
# Where one starts from, as the grain that takes the marks off. Common practice.
STARTS: dict[str, tuple[float, str]] = {
    "as poured": (82.0, "nothing but dust and a few runs"),
    "drips and flash": (201.0, "runs, drips, flash"),
    "sawn": (201.0, "marks of the saw"),
    "planed or milled": (125.0, "marks of the cutter"),
    "turned": (100.0, "marks of the tool"),
    "pits": (269.0, "pits and craters that have to go"),
}


class Rung(Data):
    """grade as printed on the paper; ratio: its grain over the last one's, None for the first. skipped: finer
    jump than needed is fine at the end.
    """

    series: Series
    grade: int
    grain_um: float
    ratio: float | None
    is_long: bool


def grain_um(series: Series, grade: int) -> float:
    """Raises DomainError for a grade that the table does not hold."""
    table = P_UM if series == "P" else US_UM
    if grade not in table:
        raise DomainError(
            argument="grit",
            value=f"{series}{grade}",
            allowed=f"one of {', '.join(str(one) for one in table)}",
            way_out="Choose one of them.",
            code="no-grit",
        )
    return table[grade]


def nearest(series: Series, micrometre: float, papers: Sequence[int] | None = None) -> int:
    """The grade whose grain is nearest by ratio, of the papers there are."""
    table = P_UM if series == "P" else US_UM
    return min(
        (one for one in table if papers is None or one in papers),
        key=lambda one: max(table[one] / micrometre, micrometre / table[one]),
    )


def _papers(series: Series, papers: Sequence[int] | None) -> dict[int, float]:
    """Grain [µm] by grade, of those there are."""
    every = P_UM if series == "P" else US_UM
    table = {grade: size for grade, size in every.items() if papers is None or grade in papers}
    if not table:
        raise DomainError(
            argument="papers",
            value="none",
            allowed="at least one",
            way_out="Say which papers there are.",
            code="no-papers",
        )
    return table


def _next_size(table: dict[int, float], now: float) -> float:
    """The finest grain within one step; where there is none, the next finer one."""
    finer = [size for size in table.values() if size < now]
    within = [size for size in finer if size >= COARSEST_STEP * now - 1e-9]
    return min(within) if within else max(finer)


def ladder(series: Series, from_um: float, to_um: float, papers: Sequence[int] | None = None) -> list[Rung]:
    """Fewest rungs whose grain falls to 0.5 or more of the last; where the papers there are leave a longer
    jump it is taken and said (is_long).

    Raises DomainError when no paper of the series is fine enough for the end, or there is none at all.
    """
    table = _papers(series, papers)
    first, last = nearest(series, from_um, list(table)), nearest(series, to_um, list(table))
    if table[last] > to_um / COARSEST_STEP:
        raise DomainError(
            argument="papers",
            value=f"finest {series}{max(table)}",
            allowed=f"the surface wants about {plainly(to_um)} µm",
            way_out="Get finer papers, or choose a duller surface.",
            code="too-coarse",
        )
    if table[last] >= FINEST_STEP * table[first]:
        first = last
    rungs = [Rung(series=series, grade=first, grain_um=table[first], ratio=None, is_long=False)]
    while rungs[-1].grain_um > table[last]:
        now = rungs[-1].grain_um
        size = max(_next_size(table, now), table[last])
        grade = next(one for one, grain in table.items() if grain == size)
        rungs.append(
            Rung(
                series=series,
                grade=grade,
                grain_um=size,
                ratio=size / now,
                is_long=size < COARSEST_STEP * now - 1e-9,
            )
        )
    return rungs
