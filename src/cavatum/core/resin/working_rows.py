"""A sheet that gives its working time for more than one batch or temperature: which of them can be computed
with, and what is wrong with them. Rules 3.1, 3.2.
"""

from __future__ import annotations

from ..common.plain_numbers import minutes_or_hours, plainly
from ..common.verdict import Verdict
from .system import System, WorkingTime
from .two_temperatures import LEAST_APART_K

LEAST_HEAVIER = 1.5  # own judgement: batches nearer in mass warm themselves alike
AS_LONG = 1.05  # own judgement: times are rounded


def more_rows(system: System) -> tuple[WorkingTime, ...]:
    """The working times beside the first that tell something of their own: another mass or temperature.

    Raises nothing; none where the first is a typical value that nobody confirmed. Exact. Source: the sheet.
    """
    first = system.working_time
    if first.time_s.origin == "typical":
        return ()
    return tuple(one for one in system.more_working or () if _is_other(one, first))


def _is_other(one: WorkingTime, first: WorkingTime) -> bool:
    apart = abs(one.temperature_c.value - first.temperature_c.value)
    return apart >= LEAST_APART_K or times_heavier(one.mass_kg.value, first.mass_kg.value) >= LEAST_HEAVIER


def times_heavier(one_kg: float, other_kg: float) -> float:
    """How many times the heavier batch weighs the lighter, a number of at least 1.

        max(m_1, m_2) / min(m_1, m_2)

    one_kg, other_kg  [kg], > 0
    Raises ZeroDivisionError for a batch of nothing. Exact. Source: definition.
    """
    low, high = sorted((one_kg, other_kg))
    return high / low


def check_rows(system: System) -> list[Verdict]:
    """Rows that tell nothing, and a warmer or larger batch that is said to take longer."""
    if not system.more_working:
        return []
    first = system.working_time
    if first.time_s.origin == "typical":
        return [
            _doubt(
                "More working times not used yet",
                "They are yours, the first one they would be compared with is still a typical value.",
                "Enter the first working time of your own sheet.",
            )
        ]
    told = [
        _doubt(
            "Tells nothing more",
            f"{_said(one)}: too near the first in warmth and weight. Not used.",
            f"Enter one that lies ⟦{plainly(LEAST_APART_K)} K⟧ or half as much again apart.",
        )
        for one in system.more_working
        if not _is_other(one, first)
    ]
    rows = [first, *more_rows(system)]
    crossed = [
        _doubt(
            "Slower when warmer or larger",
            f"{_said(slow)}, but {_said(quick)}. A warmer or a larger batch is quicker.",
            "Look both lines of the sheet up again.",
        )
        for slow in rows
        for quick in rows
        if _should_be_quicker(slow, quick) and slow.time_s.value > AS_LONG * quick.time_s.value
    ]
    return told + crossed


def _should_be_quicker(one: WorkingTime, other: WorkingTime) -> bool:
    """No colder and no lighter, and warmer or heavier, by the same sign."""
    warmer = one.temperature_c.value - other.temperature_c.value
    heavier = one.mass_kg.value / other.mass_kg.value
    return one.criterion == other.criterion and (
        (warmer >= LEAST_APART_K and heavier >= 0.999) or (warmer >= -0.01 and heavier >= LEAST_HEAVIER)
    )


def _said(one: WorkingTime) -> str:
    return (
        f"{minutes_or_hours(one.time_s.value)} for ⟦{plainly(one.mass_kg.value * 1000, 4)} g⟧ at "
        f"⟦{plainly(one.temperature_c.value)} °C⟧"
    )


def _doubt(title: str, text: str, todo: str) -> Verdict:
    return Verdict(
        weight="warning",
        stage="resin",
        code="working-rows",
        rule="3.2",
        title=title,
        text=text,
        todo=todo,
        where="/more_working",
    )
