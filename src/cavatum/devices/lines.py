"""Lines of text that instruments send, as values. Tolerant of blanks, case and the order of the parts; never
of nonsense.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

_PART = re.compile(r"\b(p(?:itch)?|x|r(?:oll)?|y)\s*[=:]?\s*([+-]?\d{1,3}(?:\.\d{1,4})?)", re.I)
STEEPEST_DEG = 45.0


@dataclass(frozen=True)
class Tilt:
    """Pitch: far end high positive; roll: right side high positive [degrees]."""

    pitch_deg: float
    roll_deg: float


def parse_tilt(line: str) -> Tilt | None:
    """The tilt in a line like "PITCH +0.32 ROLL -0.11 DEG" or "x=0.32 y=-0.11"; None for any other line."""
    if len(line) > 200:
        return None
    found = {
        name[0].lower().replace("x", "p").replace("y", "r"): float(value)
        for name, value in _PART.findall(line)
    }
    if set(found) != {"p", "r"} or max(abs(one) for one in found.values()) > STEEPEST_DEG:
        return None
    return Tilt(found["p"], found["r"])
