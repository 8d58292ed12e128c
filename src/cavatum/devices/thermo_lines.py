"""Lines of infrared thermometers and probe loggers as degrees Celsius. Tolerant of the common forms; what
cannot be is said, never guessed.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

LONGEST = 160
LEAST_C, MOST_C = -30.0, 400.0  # what such instruments are made for; the resin's own bounds are the core's

_VALUE = re.compile(r"([+-]?\s*\d{1,4}(?:[.,]\d{1,3})?)\s*(?:°|deg\s*|º)?\s*([CFK])(?![A-Za-z])", re.I)
_FAULT = re.compile(r"(?<![A-Za-z])(OL|ERR|E\d{1,2}|OPEN|FAULT|NAN|HI|LO)(?![A-Za-z])|-{3,}", re.I)
_NUMBER = re.compile(r"\d")


@dataclass(frozen=True)
class ThermoLine:
    """celsius None with a problem: fault, no-unit, absurd (the number is kept in the words)."""

    celsius: float | None
    problem: str = ""
    words: str = ""


def parse_thermo(line: str) -> ThermoLine | None:
    """The first temperature of a line such as "OBJ 23.4 C AMB 21.0 C", "T=+074.1F", "2026-11-25
    10:15;CH1;23,41 °C". None: nothing of a thermometer.

    A number without its unit is refused: 74 may be either.
    """
    text = line.strip().strip("\x02\x03\x00")
    if not text or len(text) > LONGEST:
        return None
    found = _VALUE.search(text)
    if found:
        number, unit = float(found.group(1).replace(" ", "").replace(",", ".")), found.group(2).upper()
        celsius = {"C": number, "F": (number - 32) / 1.8, "K": number - 273.15}[unit]
        if not LEAST_C <= celsius <= MOST_C:
            return ThermoLine(
                None, "absurd", f"{celsius:.0f} °C cannot be: look at where it points, and at its batteries."
            )
        return ThermoLine(celsius)
    if _FAULT.search(text):
        return ThermoLine(None, "fault", "It reports a fault.")
    if _NUMBER.search(text):
        return ThermoLine(None, "no-unit", "It sends a number without its unit: set it to send °C or °F.")
    return None
