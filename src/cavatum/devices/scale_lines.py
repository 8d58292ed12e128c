"""Lines that scales send, as weights. Tolerant of the common forms; what cannot be a weight is said, never
guessed.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..core.common.unit_table import OUNCE_KG, POUND_KG

TROY_OUNCE_KG = 0.0311034768  # exact by definition; NIST SP 811, appendix B
UNITS = {
    "kg": 1.0,
    "g": 1e-3,
    "gr": 1e-3,
    "mg": 1e-6,
    "lb": POUND_KG,
    "lbs": POUND_KG,
    "oz": OUNCE_KG,
    "ozt": TROY_OUNCE_KG,
    "t.oz": TROY_OUNCE_KG,
}
NOT_WEIGHTS = {"ml", "l", "pcs", "pc", "%", "ct", "gn", "fl"}
LONGEST = 120

_NUMBER = r"([+-]?)\s*(\d{1,7}(?:[.,]\d{1,4})?)"
_WEIGHT = re.compile(rf"{_NUMBER}\s*(kg|mg|gr|g|lbs|lb|ozt|t\.oz|oz|ml|l|pcs|pc|ct|gn|%)(?![a-z0-9])", re.I)
_POUNDS = re.compile(
    rf"{_NUMBER}\s*(?:lbs|lb)\s*[:,]?\s*(\d{{1,2}}(?:[.,]\d{{1,3}})?)\s*oz(?![a-z0-9])", re.I
)
_BARE = re.compile(rf"^[^\d]*{_NUMBER}\s*$")
_OVER = re.compile(
    r"(?<![a-z])(ol|over|overload|e-?over|err-?o)(?![a-z])|-{4,}|\^{3,}|={4,}|^\s*s\s*\+\s*$", re.I
)
_UNDER = re.compile(r"(?<![a-z])(ul|under|underload)(?![a-z])|_{4,}|^\s*s\s*-\s*$", re.I)
_MOVES = re.compile(r"(?<![a-z])(us|sd|unstable|motion|dynamic)(?![a-z])|^\s*s\s+d(?![a-z])|\?|~", re.I)
_RESTS = re.compile(r"(?<![a-z])(st|stable)(?![a-z])|^\s*s\s+s(?![a-z])|^\s*s\s+(?=[+-]?\s*\d)", re.I)


@dataclass(frozen=True, kw_only=True)
class ScaleLine:
    """mass_kg None with a problem: no-unit, not-a-weight, overload, underload. stable None: the line does not
    say. step_kg: its last digit.
    """

    mass_kg: float | None
    unit: str = ""
    stable: bool | None = None
    step_kg: float | None = None
    problem: str = ""


def _weight(text: str, stable: bool | None) -> ScaleLine | None:
    """The weight in a line, pounds and ounces first."""
    both = _POUNDS.search(text)
    if both:
        sign, pounds, ounces = both.groups()
        mass = _number(pounds) * POUND_KG + _number(ounces) * OUNCE_KG
        return ScaleLine(
            mass_kg=-mass if sign == "-" else mass,
            unit="lb oz",
            stable=stable,
            step_kg=OUNCE_KG * 10.0 ** -_digits(ounces),
        )
    found = _WEIGHT.search(text)
    if found:
        sign, number, unit = found.groups()
        unit = unit.lower()
        if unit in NOT_WEIGHTS:
            return ScaleLine(mass_kg=None, unit=unit, stable=stable, problem="not-a-weight")
        mass = _number(number) * UNITS[unit]
        return ScaleLine(
            mass_kg=-mass if sign == "-" else mass,
            unit=unit,
            stable=stable,
            step_kg=UNITS[unit] * 10.0 ** -_digits(number),
        )
    return None


def parse_scale(line: str) -> ScaleLine | None:
    """A line such as "ST,GS,+  100.0 g", "US NT -0.5g", "S S 100.00 g", "1 lb 4.50 oz", "12,5 kg ?", "OL".
    None: nothing of a scale in it.

    Units: g, kg, mg, lb, oz (weight), ozt (troy). Millilitres, pieces, carats and percent are refused as no
    weight.
    """
    text = line.strip().strip("\x02\x03\x00")
    if not text or len(text) > LONGEST:
        return None
    if _OVER.search(text):
        return ScaleLine(mass_kg=None, problem="overload")
    if _UNDER.search(text):
        return ScaleLine(mass_kg=None, problem="underload")
    stable = False if _MOVES.search(text) else True if _RESTS.search(text) else None
    if weight := _weight(text, stable):
        return weight
    if _BARE.match(text):
        return ScaleLine(mass_kg=None, stable=stable, problem="no-unit")
    return None


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _digits(text: str) -> int:
    return len(re.split(r"[.,]", text)[1]) if re.search(r"[.,]", text) else 0
