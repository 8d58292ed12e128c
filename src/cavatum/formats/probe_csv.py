"""A temperature log from a probe as CSV: two columns are looked for, a time and a temperature. What is left
out is said.
"""

from __future__ import annotations

import csv
import io
import math
import re
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from pydantic import BaseModel

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly

MOST_BYTES = 2 * 1024 * 1024
MOST_ROWS = 50_000
_UNITS = {"s": 1.0, "sec": 1.0, "seconds": 1.0, "min": 60.0, "minutes": 60.0, "h": 3600.0, "hours": 3600.0}
_CLOCK = re.compile(r"^(\d{1,3}):(\d{2})(?::(\d{2}))?$")
_DATE = re.compile(r"^(\d{4}-\d{2}-\d{2}|\d{1,2}\.\d{1,2}\.\d{4})[T ]\d")
_DOTTED = re.compile(r"^(\d{1,2})\.(\d{1,2})\.(\d{4})")
GAP = 5.0
COLDEST_C, HOTTEST_C = -40.0, 400.0


class ProbeLog(BaseModel):
    """points: (s since the first row, degC). left_out: what was not taken, and what is missing between, in
    sentences.

    begins_at: the moment of the first row, where the log has dates; has_zone: whether it says in which zone
    they are
    """

    points: list[tuple[float, float]]
    left_out: list[str]
    begins_at: datetime | None = None
    has_zone: bool = False


def _at(row: list[str], column: int) -> str:
    return row[column] if column < len(row) else ""


def _cells(text: str) -> tuple[list[list[str]], str]:
    """Rows that are not empty, at most one more than are read, and what stands between their columns."""
    if len(text) > MOST_BYTES:
        raise DomainError(
            argument="log",
            value=f"{len(text) / 1e6:.1f} MB",
            allowed="at most 2 MB are read",
            way_out="Cut it down to the pour.",
            code="too-large",
        )
    separator = next((one for one in (";", "\t", ",") if one in text), None)
    if separator is None:
        raise DomainError(
            argument="log",
            value="one column",
            allowed="it needs a time and a temperature in each row",
            way_out="Export it as CSV with both.",
            code="no-columns",
        )
    try:
        lines = list(csv.reader(io.StringIO(text, newline=None), delimiter=separator))
    except csv.Error as error:
        raise DomainError(
            argument="log",
            value=f"broken ({error})",
            allowed="it is plain CSV",
            way_out="Export it again.",
            code="broken",
        ) from error
    rows = [[cell.strip() for cell in row] for row in lines]
    return [row for row in rows if any(row)][: MOST_ROWS + 1], separator


def _heading(rows: list[list[str]], separator: str) -> list[str]:
    """The first row, taken out, where it does not end in a number; else none."""
    return rows.pop(0) if rows and _number(rows[0][-1], separator) is None else []


def read_probe_csv(text: str, zone: str = "UTC") -> ProbeLog:
    """zone: of dates that name none (the workshop's).

    Times as a date and hour, as h:mm:ss, or as numbers whose unit the heading names; degC, or degF where the
    heading says so.

    Semicolons with decimal commas are understood. Rows out of order are sorted, doubled times and impossible
    temperatures left out.
    Raises DomainError when nothing can be read, or when plain numbers carry no unit: that is asked, never
    guessed.
    """
    rows, separator = _cells(text)
    heading = _heading(rows, separator)
    times, unit = _time_column(rows, heading)
    column = _temperature_column(rows, heading, separator)
    called = _at(heading, column)
    fahrenheit = re.search(r"(°\s*f\b|\bf\b|fahrenheit|degf)", called, re.I) is not None
    points, bad, odd = [], 0, 0
    for row in rows[:MOST_ROWS]:
        at, value = _moment(_at(row, times), unit, zone), _number(_at(row, column), separator)
        celsius = (value - 32) / 1.8 if fahrenheit and value is not None else value
        if at is None or celsius is None:
            bad += 1
        elif not COLDEST_C <= celsius <= HOTTEST_C:
            odd += 1
        else:
            points.append((at, celsius))
    log = _ordered(points, bad, odd, len(rows) > MOST_ROWS)
    dates = [] if unit is not None else list(filter(_DATE.match, (_at(row, times) for row in rows)))
    if not dates:
        return log
    has_zone = re.search(r"(Z|[+-]\d{2}:?\d{2})$", dates[0]) is not None
    return log.model_copy(
        update={"begins_at": datetime.fromtimestamp(min(at for at, _ in points), UTC), "has_zone": has_zone}
    )


def _ordered(points: list[tuple[float, float]], bad: int, odd: int, cut: bool) -> ProbeLog:
    if len({at for at, _ in points}) < 2:
        raise DomainError(
            argument="log",
            value="nothing to read",
            allowed="rows hold a time and a temperature",
            way_out="Look at the file: time first, then degrees.",
            code="empty",
        )
    seen: dict[float, float] = {}
    for at, celsius in sorted(points):
        seen.setdefault(at, celsius)
    said = [
        (bad, "without a time or a number"),
        (odd, "with an impossible temperature"),
        (len(points) - len(seen), "at a time that was there already"),
    ]
    left = [f"{count} {'row' if count == 1 else 'rows'} {why}" for count, why in said if count]
    if points != sorted(points):
        left.append("rows out of order were sorted")
    if cut:
        left.append(f"everything after row {MOST_ROWS}")
    first = min(seen)
    left += _gaps(sorted(seen))
    return ProbeLog(points=[(at - first, round(celsius, 3)) for at, celsius in seen.items()], left_out=left)


def _gaps(times: list[float]) -> list[str]:
    """Where nothing was logged for GAP times the usual step."""
    steps = sorted(later - sooner for sooner, later in zip(times, times[1:], strict=False))
    usual = steps[len(steps) // 2]
    wide = [one for one in steps if one > GAP * usual]
    return (
        [
            f"{len(wide)} {'gap' if len(wide) == 1 else 'gaps'} in it, the longest "
            f"{plainly(max(wide) / 3600, 3)} h; nothing was put in between"
        ]
        if wide
        else []
    )


def _number(cell: str, separator: str) -> float | None:
    try:
        value = float(cell.replace(",", ".") if separator != "," else cell)
    except ValueError:
        return None
    return value if math.isfinite(value) else None


def _time_column(rows: list[list[str]], heading: list[str]) -> tuple[int, float | None]:
    """Which column, and the seconds of its unit; None for dates and h:mm:ss."""
    first = rows[0] if rows else []
    for index, cell in enumerate(first):
        if _moment(cell, None) is not None:
            return index, None
    for index, name in enumerate(heading):
        found = re.search(r"time|elapsed|zeit|t\b", name, re.I)
        unit = re.search(
            r"\b(seconds|sec|s|minutes|min|hours|h)\b",
            re.sub(r"time|elapsed", " ", name, flags=re.I).replace("_", " "),
            re.I,
        )
        if unit and (found or index == 0):
            return index, _UNITS[unit.group(1).lower()]
    raise DomainError(
        argument="time",
        value=f'"{first[0]}"' if first else "missing",
        allowed="numbers need their unit in the heading",
        way_out='Head the column "time min" or "time h".',
        code="no-unit",
    )


def _temperature_column(rows: list[list[str]], heading: list[str], separator: str) -> int:
    for index, name in enumerate(heading):
        if re.search(r"temp|°|deg|probe|celsius|fahrenheit", name, re.I):
            return index
    for index in range(1, max((len(row) for row in rows), default=0)):
        if any(index < len(row) and _number(row[index], separator) is not None for row in rows):
            return index
    raise DomainError(
        argument="temperature",
        value="missing",
        allowed="a second column holds degrees",
        way_out="Export both columns.",
        code="no-columns",
    )


def _moment(cell: str, unit: float | None, zone: str = "UTC") -> float | None:
    if unit is not None:
        value = _number(cell, ";" if "," in cell else ",")
        return None if value is None else value * unit
    clock = _CLOCK.match(cell)
    if clock:
        return int(clock.group(1)) * 3600.0 + int(clock.group(2)) * 60 + int(clock.group(3) or 0)
    if not _DATE.match(cell):
        return None
    day = _DOTTED.match(cell)
    try:
        moment = datetime.fromisoformat(
            f"{day.group(3)}-{day.group(2):0>2}-{day.group(1):0>2}{cell[day.end() :]}"
            if day
            else cell.replace("Z", "+00:00")
        )
    except ValueError:
        return None
    return (moment if moment.tzinfo else moment.replace(tzinfo=ZoneInfo(zone))).timestamp()
