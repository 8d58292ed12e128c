"""The times that a sheet gives at a second temperature: what can be compared with the first, and what is
wrong with them. Rules 3.1, 3.2.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..common.plain_numbers import minutes_or_hours, plainly
from ..common.readings import Duration, Temperature
from ..common.verdict import Verdict
from .system import SHEET_ROOM_C, System

LEAST_APART_K = 4.0  # own judgement: nearer, rounding of the two times says more than the warmth does


@dataclass(frozen=True, kw_only=True)
class OtherTimes:
    """What a sheet gives at another temperature: the working time of the same batch, and after what time the
    sheet's own layer leaves the form. None: not said.
    """

    at_c: float
    working_s: float | None
    demould_s: float | None


def other_times(system: System) -> OtherTimes | None:
    """What a sheet gives at a second temperature, in so far as it can be compared with its first.

    Raises nothing; None without a time that can be, and where the working time at the first temperature is a
    typical value that nobody confirmed. Exact. Source: the data sheet.
    """
    at = system.other_at_c
    if at is None or system.working_time.time_s.origin == "typical":
        return None
    told = {
        name: other.value
        for name, _, other, first_c in _pairs(system)
        if abs(at.value - first_c) >= LEAST_APART_K
    }
    if not told:
        return None
    return OtherTimes(at_c=at.value, working_s=told.get("working time"), demould_s=told.get("demould"))


def _pairs(system: System) -> list[tuple[str, Duration, Duration, float]]:
    """Name, time at the first temperature, time at the second, and the first temperature [degC]."""
    work = system.working_time
    room_c = system.times_at_c.value if system.times_at_c else SHEET_ROOM_C
    pairs = [
        ("working time", work.time_s, system.other_working_s, work.temperature_c.value),
        ("demould", system.demould_s, system.other_demould_s, room_c),
    ]
    return [(name, first, other, at_c) for name, first, other, at_c in pairs if other is not None]


def check_two_temperatures(system: System) -> list[Verdict]:
    """Doubts about the times at the second temperature, and why they are not used where they are not."""
    pairs, at = _pairs(system), system.other_at_c
    if not pairs:
        return []
    if at is None:
        return [
            _doubt(
                "At which second temperature?",
                f"{_named(pairs)} at another temperature, but which one is not entered: not used.",
                "Enter the degrees.",
            )
        ]
    if system.working_time.time_s.origin == "typical":
        return [
            _doubt(
                "Second temperature not used yet",
                f"{_named(pairs)} at ⟦{plainly(at.value)} °C⟧ is yours, the working time it would be "
                "compared with is still a typical value.",
                "Enter the working time of your own sheet.",
            )
        ]
    return [one for pair in pairs if (one := _of_pair(*pair, at)) is not None]


def _of_pair(name: str, first: Duration, other: Duration, first_c: float, at: Temperature) -> Verdict | None:
    warmer = at.value - first_c
    if abs(warmer) < LEAST_APART_K:
        return _doubt(
            "The two temperatures are too near",
            f"{name.capitalize()} at ⟦{plainly(first_c)} °C⟧ and ⟦{plainly(at.value)} °C⟧: so near, the "
            "rounding of the two times says more than the warmth. Not used.",
            f"Enter times that lie at least ⟦{plainly(LEAST_APART_K)} K⟧ apart.",
        )
    if (other.value - first.value) * warmer < 0:
        return None
    return _doubt(
        "Slower when warmer",
        f"{name.capitalize()}: {minutes_or_hours(first.value)} at ⟦{plainly(first_c)} °C⟧ and "
        f"{minutes_or_hours(other.value)} at ⟦{plainly(at.value)} °C⟧. A warmer resin is quicker.",
        "The two temperatures, or the two times, may have been swapped.",
    )


def _named(pairs: list[tuple[str, Duration, Duration, float]]) -> str:
    names = " and ".join(name for name, *_ in pairs)
    return f"{names[0].upper()}{names[1:]}"


def _doubt(title: str, text: str, todo: str) -> Verdict:
    return Verdict(
        weight="warning",
        stage="resin",
        code="second-temperature",
        rule="3.2",
        title=title,
        text=text,
        todo=todo,
        where="/other_at_c",
    )
