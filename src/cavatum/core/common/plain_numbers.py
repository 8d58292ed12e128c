"""Numbers as a person writes them: so many digits as the figure is good for, never an exponent."""

from __future__ import annotations

import math


def plainly(value: float, digits: int = 6) -> str:
    """`value` rounded to so many significant digits, without an exponent and without a trailing zero.

    120 mil and not 1.2e+02, 1000 and not 1e+03; what is no number is said as Python says it.
    """
    if not math.isfinite(value) or value == 0:
        return f"{value:g}"
    places = digits - 1 - math.floor(math.log10(abs(value)))
    text = f"{round(value, places):.{max(places, 0)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def minutes_or_hours(seconds: float) -> str:
    """A time as data sheets print it: minutes below two hours, hours from there on.

    seconds  [s], >= 0
    Raises nothing. Exact to plainly's digits. Source: common practice, no source.
    """
    return f"{plainly(seconds / 60)} min" if seconds < 7200 else f"{plainly(seconds / 3600)} h"
