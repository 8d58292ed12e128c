"""A logger's curve laid on one pour of a run: what lies within the run, and what is odd about it. Rules 7.4,
9.1.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data

LATE, EARLY = (
    timedelta(hours=2),
    timedelta(hours=12),
)  # own judgement: further off than this from the pour is worth a word


class Laid(Data):
    """readings: (moment, degC) within the run, in their order. says: what was left out or looks wrong."""

    readings: list[tuple[datetime, float]]
    says: list[str]


def lay_on(
    points: Sequence[tuple[float, float]],
    begins: datetime,
    run_from: datetime,
    run_to: datetime,
    poured: datetime,
) -> Laid:
    """points: (s after the first row, degC), whose first row is at `begins`.

    Raises DomainError "outside" when nothing of it lies between run_from and run_to.
    """
    moments = [(begins + timedelta(seconds=at), celsius) for at, celsius in points]
    inside = [one for one in moments if run_from <= one[0] <= run_to]
    if not inside:
        raise DomainError(
            argument="log",
            value=f"from {moments[0][0]:%Y-%m-%d %H:%M} to {moments[-1][0]:%Y-%m-%d %H:%M}",
            allowed="it lies within the run",
            way_out="Its clock may run in another zone or year: put it right by hours.",
            code="outside",
        )
    says = []
    if len(inside) < len(moments):
        says.append(f"{len(moments) - len(inside)} readings outside the run were left out")
    if inside[0][0] > poured + LATE:
        says.append(
            f"it begins {plainly((inside[0][0] - poured).total_seconds() / 3600, 3)} h after the pour: "
            "the rise "
            "may be missing"
        )
    if inside[0][0] < poured - EARLY:
        says.append("it begins long before the pour: look whether its clock is right")
    return Laid(readings=inside, says=says)
