"""Quantities as they are spoken in the workshop, to SI and back. The only parser of them in Cavatum.

Factors: NIST SP 811 (2008), appendix B; exact by definition except where marked.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field, replace
from fractions import Fraction

from .errors import DomainError
from .spoken import duration_in_figures
from .unit_table import (
    EXAMPLES,
    FOLLOWS,
    KINDS,
    OUNCE_KG,
    UNITS,
)

# kind -> {unit as spoken: (factor to SI, full name)}

# What may follow without a unit of its own: "2 ft 3" is inches, "1 lb 4 oz" weight ounces, "1 h 30" minutes.
_VULGAR = {
    "¼": "1/4",
    "½": "1/2",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
}
_NUMBER = re.compile(
    r"\s*([+-]?)(?:(\d+)[\s-]+(\d+)\s*/\s*(\d+)|(\d+)\s*/\s*(\d+)|(\d+(?:[.,]\d+)?|[.,]\d+)(e[+-]?\d{1,2})?)",
    re.I,
)
_UNIT = re.compile(r"\s*([^\d+\-,.]*(?:\.\s?oz)?(?:(?<=m)[23]|(?<=in)[23]|(?<=ft)[23])?)", re.I)
_SPREAD = re.compile(r"\s*(?:±|\+/-|\+-)\s*")
_PLAIN = r"\d+(?:[.,]\d+)?(?:\s+\d+/\d+|/\d+)?"
_RANGE = re.compile(
    rf"\s*({_PLAIN})\s*([^\d\s,.+/-][^\d+-]*?)?\s*(?:-|–|—|\bto\b|\bbis\b)\s*({_PLAIN}.*)", re.I | re.S
)
_RATIO_RANGE = re.compile(r"(.+?:.+?)\s*(?:-|–|—|\bto\b)\s*(.+:.+)", re.I)
_BARE = re.compile(r"[\d\s.,/+-]+")
_UNIT_AT_END = re.compile(r"([^\d\s.,/+-][^\d+-]*[23]?)\s*$")
LONGEST_TEXT = 60


@dataclass(frozen=True, kw_only=True)
class Understood:
    """What a spoken quantity was taken to mean. `as_typed` carries its unit even where the person left it
    out.

    spread  how far off it may be either way, in SI, when the person said so ("127 ± 1 mm")
    """

    kind: str
    value: float
    as_typed: str
    words: str
    notes: list[str] = field(default_factory=list)
    spread: float | None = None


def parse(text: str, kind: str, default_unit: str | None = None) -> Understood:
    """Read a spoken quantity into SI (kg, m, m3, s, kg/m3, fraction of one, degrees, degC).

    text          as typed: "3/16 in", "1 1/2\\"", "2 ft 3", "12,5 cm", "1 qt", "70 F", "3:1"
    kind          one of KINDS
    default_unit  the unit a bare number is read in; said in `notes` when used. Without it a bare number is
                  refused.
    Raises DomainError: nothing typed, not a number, a zero denominator, an unknown unit, a unit of another
    kind, a
    bare "oz", a comma that may be a decimal or a thousands mark.
    Source of the factors: NIST SP 811, appendix B.
    """
    if kind not in KINDS:
        raise DomainError(
            argument="kind of quantity",
            value=kind,
            allowed=f"it is one of {', '.join(KINDS)}",
            way_out="Name one of these.",
            code="unknown-kind",
        )
    if kind == "duration" and (said := duration_in_figures(text)) != text:
        found = parse(said, kind, default_unit)
        return replace(found, as_typed=text.strip() if _ends_with_unit(text) else found.as_typed)
    cleaned = _clean(text, kind)
    if kind == "ratio":
        ends = _RATIO_RANGE.fullmatch(cleaned)
        if ends:
            sides = sorted((_parse_ratio(one, one) for one in ends.groups()), key=lambda one: one.value)
            return _between(kind, text.strip(), *sides)
        return _parse_ratio(cleaned, text)
    if kind == "count":
        return _parse_count(cleaned, text)
    if _SPREAD.search(cleaned):
        return _parse_with_spread(text.strip(), kind, default_unit)
    both = range_ends(text.strip())
    if both:
        return _parse_range(text.strip(), both, kind, default_unit)
    return _parse_sum(cleaned, text.strip(), kind, default_unit)


def _ends_with_unit(text: str) -> bool:
    return re.search(r"[a-z]\s*$", text, re.I) is not None


def has_spread(text: str) -> bool:
    """Whether a text says how far off its value may be: a spread, or a range."""
    text = duration_in_figures(text)
    return (
        _SPREAD.search(text) is not None or range_ends(text) is not None or bool(_RATIO_RANGE.fullmatch(text))
    )


def range_ends(typed: str) -> tuple[str, str] | None:
    """Both ends of a range as sheets print it: "6 to 8 h", "6-8 h", "1-1.5 mm"; None where it is none.

    "1-1/2 in" is one and a half inches, and a fraction behind a whole number is no end of a range.
    """
    found = _RANGE.fullmatch(typed)
    if found is None:
        return None
    low, unit, high = found.groups()
    if unit and unit.strip().lower() == "e":
        return None  # 1e-3 is a number
    if re.search(r"\s-\d", typed):
        return None  # "2 ft -3 in" has a sign where none can be
    if (
        re.match(r"\d+\s*/\s*\d+", high)
        and re.fullmatch(r"\d+", low)
        and not re.search(r"\bto\b", typed, re.I)
    ):
        return None
    return (f"{low} {unit}" if unit else low), high


def _parse_range(typed: str, ends: tuple[str, str], kind: str, default_unit: str | None) -> Understood:
    """The middle of a range, and half its width as how far off it may be. The unit behind the second end
    is that of
    both.
    """
    high = _parse_sum(_clean(ends[1], kind), ends[1], kind, default_unit)
    unit = _UNIT_AT_END.search(high.as_typed)
    low = ends[0] if not _BARE.fullmatch(ends[0]) or unit is None else f"{ends[0]} {unit.group(1)}"
    return _between(kind, typed, _parse_sum(_clean(low, kind), low, kind, default_unit), high)


def _between(kind: str, typed: str, low: Understood, high: Understood) -> Understood:
    if low.value > high.value:
        raise _refuse(kind, f'"{typed}"', "a range goes from the smaller to the larger", "backwards")
    if low.value == high.value:
        return high
    return Understood(
        kind=kind,
        value=(low.value + high.value) / 2,
        as_typed=typed
        if kind == "ratio" or high.as_typed.endswith(typed[-1])
        else f"{typed} {high.as_typed.split()[-1]}",
        words=f"between {low.words} and {high.words}; the middle counts",
        notes=high.notes,
        spread=(high.value - low.value) / 2,
    )


def _parse_with_spread(typed: str, kind: str, default_unit: str | None) -> Understood:
    """ "127 ± 1 mm", "127 mm +/- 1", "1.2 L ± 2 %": a value and how far off it may be either way."""
    sides = _SPREAD.split(typed)
    if len(sides) != 2 or not all(side.strip() for side in sides):
        raise _refuse(kind, f'"{typed}"', "one spread follows the value", "not-a-number")
    middle, wide = (side.strip() for side in sides)
    tail = _BARE.sub("", wide).strip()
    if _BARE.fullmatch(middle) and tail and tail != "%":
        middle = f"{middle} {tail}"
    found = _parse_sum(_clean(middle, kind), middle, kind, default_unit)
    if tail == "%" and kind != "fraction":
        spread = abs(found.value) * _parse_sum(_clean(wide, "fraction"), wide, "fraction", None).value
        said = wide
    else:
        spread, said = _own_spread(wide, kind, found, default_unit)
    if spread <= 0:
        raise _refuse(kind, f'"{typed}"', "a spread is more than 0", "out-of-range")
    return Understood(
        kind=kind,
        value=found.value,
        as_typed=f"{found.as_typed} ± {said}",
        words=f"{found.words}, up to {said} off either way",
        notes=found.notes,
        spread=spread,
    )


def _clean(text: str, kind: str) -> str:
    cleaned = text.strip()
    if not cleaned:
        raise _refuse(kind, "nothing", "a value is needed", "empty")
    if len(cleaned) > LONGEST_TEXT:
        raise _refuse(kind, f"{len(cleaned)} characters long", f"{LONGEST_TEXT} are read at most", "too-long")
    for sign, plain in _VULGAR.items():
        cleaned = cleaned.replace(sign, f" {plain}")
    return cleaned.replace("\u2212", "-").replace("\u00a0", " ").lower().replace("pa.s", "pa s")


def _refuse(kind: str, value: str, allowed: str, code: str, choices: list[str] | None = None) -> DomainError:
    way_out = f"Type it like: {EXAMPLES[kind]}." if not choices else f"Did you mean {' or '.join(choices)}?"
    return DomainError(
        argument=kind.replace("_", " "),
        value=value,
        allowed=allowed,
        way_out=way_out,
        code=code,
        choices=choices or [],
    )


def _check_sum(kind: str, typed: str, parts: int, total: float) -> None:
    if kind == "temperature" and parts > 1:
        raise _refuse(kind, f'"{typed}"', "one temperature is read", "not-a-number")
    if not math.isfinite(total):
        raise _refuse(kind, f'"{typed}"', "it must be a finite number", "not-a-number")


def _own_spread(wide: str, kind: str, found: Understood, default_unit: str | None) -> tuple[float, str]:
    """A spread in units, its own or those of the value; of temperatures it is a difference."""
    unit = _UNIT_AT_END.search(found.as_typed)
    own = _parse_sum(_clean(wide, kind), wide, kind, unit.group(1) if unit else default_unit)
    is_fahrenheit = kind == "temperature" and "f" in own.as_typed.lower()
    return own.value - (_to_celsius(0.0, "°F") if is_fahrenheit else 0.0), own.as_typed


def _parse_sum(cleaned: str, typed: str, kind: str, default_unit: str | None) -> Understood:
    parts: list[tuple[float, float, str]] = []
    last_name: str | None = None
    total, position = 0.0, 0
    notes: list[str] = []
    while position < len(cleaned):
        number, position = _read_number(cleaned, position, kind, typed)
        if parts and number < 0:
            raise _refuse(kind, f'"{typed}"', "the sign stands in front only", "not-a-number")
        unit, position = _read_unit(cleaned, position)
        if not unit:
            unit, typed = _unit_of_bare_number(kind, last_name, default_unit, typed, notes, bool(parts))
        factor, name = _look_up(unit, kind, typed, number, last_name)
        if parts and factor >= parts[-1][0]:
            raise _refuse(kind, f'"{typed}"', "smaller units follow larger ones", "not-a-number")
        value = _to_celsius(number, name) if kind == "temperature" else number * factor
        total = total - value if total < 0 else total + value
        parts.append((factor, number, name))
        last_name = name
    _check_sum(kind, typed, len(parts), total)
    words = " ".join(f"{number:g} {name}" for _, number, name in parts)
    return Understood(kind=kind, value=total, as_typed=typed, words=words, notes=notes)


def _read_number(cleaned: str, position: int, kind: str, typed: str) -> tuple[float, int]:
    found = _NUMBER.match(cleaned, position)
    if not found:
        raise _refuse(kind, f'"{typed}"', "no number was found where one is needed", "not-a-number")
    sign, whole, over, under, top, bottom, plain, power = found.groups()
    if (under or bottom) and int(under or bottom) == 0:
        raise _refuse(kind, f'"{typed}"', "nothing is divided by 0", "zero-denominator")
    if whole:
        value = float(int(whole) + Fraction(int(over), int(under)))
    elif top:
        value = float(Fraction(int(top), int(bottom)))
    else:
        value = _decimal(plain, kind, typed) * 10.0 ** int((power or "e0")[1:])
    return (-value if sign == "-" else value), found.end()


def _decimal(plain: str, kind: str, typed: str) -> float:
    """12,5 is twelve and a half; 1,250 could be either, so it is asked about."""
    whole, comma, behind = plain.partition(",")
    if comma and len(behind) == 3 and whole.strip("0"):
        choices = [typed.replace(plain, number) for number in (f"{whole}{behind}", f"{whole}.{behind}")]
        raise _refuse(
            kind, f'"{typed}"', "the comma could mean thousands or decimals", "ambiguous-comma", choices
        )
    return float(plain.replace(",", "."))


def _read_unit(cleaned: str, position: int) -> tuple[str, int]:
    found = _UNIT.match(cleaned, position)
    assert found is not None  # every part of the pattern may be empty
    return re.sub(r"\s+", " ", found.group(1)).strip(" -."), found.end()


def _unit_of_bare_number(
    kind: str, last_name: str | None, default_unit: str | None, typed: str, notes: list[str], is_later: bool
) -> tuple[str, str]:
    if is_later and last_name in FOLLOWS:
        return FOLLOWS[last_name][0], typed
    if is_later or default_unit is None:
        choices = [f"{typed} °C", f"{typed} °F"] if kind == "temperature" and not is_later else None
        raise _refuse(kind, f'"{typed}"', "a unit is needed", "no-unit", choices)
    if default_unit.lower() not in UNITS[kind]:
        raise _refuse(kind, default_unit, "this unit measures something else", "unknown-unit")
    notes.append(f"read in {default_unit}, the workshop's unit")
    return default_unit.lower(), f"{typed} {default_unit}"


def _look_up(unit: str, kind: str, typed: str, number: float, last_name: str | None) -> tuple[float, str]:
    if unit in ("oz", "oz.", "ounce", "ounces"):
        if kind == "mass" and last_name == "pound":
            return OUNCE_KG, "weight ounce"
        if kind not in ("mass", "volume"):
            raise _refuse(kind, f'"{typed}"', "an ounce measures volume or weight", "other-kind")
        choices = [
            f"{number:g} {'oz wt' if kind == 'mass' else 'fl oz'}"
        ]  # never what the field would refuse
        raise _refuse(
            kind, f'"{typed}"', "an ounce is a fluid ounce or a weight ounce", "bare-ounce", choices
        )
    if last_name in FOLLOWS and unit == FOLLOWS[last_name][0]:
        return FOLLOWS[last_name][1], unit
    if unit in UNITS[kind]:
        return UNITS[kind][unit]
    other = next((name for name, units in UNITS.items() if unit in units), None)
    if other:
        raise _refuse(kind, f'"{typed}"', f"that is a {other.replace('_', ' ')}", "other-kind")
    raise _refuse(kind, f'"{typed}"', f'the unit "{unit}" is not known here', "unknown-unit")


def _to_celsius(number: float, name: str) -> float:
    return (number - 32) / 1.8 if name == "°F" else number


def _parse_ratio(cleaned: str, typed: str) -> Understood:
    """A:B as one number, parts of A to one part of B."""
    sides = re.split(r"\s*(?::|\bto\b|/)\s*", cleaned)
    if len(sides) == 1:
        sides.append("1")
    if len(sides) != 2:
        raise _refuse("ratio", f'"{typed.strip()}"', "two parts are read, A to B", "not-a-number")
    numbers = []
    for side in sides:
        found = re.fullmatch(r"\d+(?:[.,]\d+)?", side.strip())
        if not found:
            raise _refuse("ratio", f'"{typed.strip()}"', "two numbers are read, A to B", "not-a-number")
        numbers.append(_decimal(found.group(0), "ratio", typed))
    if min(numbers) <= 0:
        raise _refuse("ratio", f'"{typed.strip()}"', "neither part may be 0", "out-of-range")
    return Understood(
        kind="ratio",
        value=numbers[0] / numbers[1],
        as_typed=typed.strip(),
        words=f"{numbers[0]:g} of A to {numbers[1]:g} of B",
    )


def _parse_count(cleaned: str, typed: str) -> Understood:
    if not re.fullmatch(r"\d{1,6}", cleaned):
        raise _refuse("count", f'"{typed.strip()}"', "a whole number is read", "not-a-number")
    return Understood(kind="count", value=float(int(cleaned)), as_typed=typed.strip(), words=cleaned)


MOST_POINTS = 2000


def parse_points(text: str, unit: str) -> list[tuple[float, float]]:
    """Read an outline typed as one point a line, "x y" or "x; y", in one unit of length -> points [m].

    Raises DomainError with the number of the line that cannot be read, an unknown unit, fewer than 3 points
    or too many.
    """
    if unit.lower() not in UNITS["length"]:
        raise _refuse("length", f'"{unit}"', "a unit of length is needed", "unknown-unit")
    factor = UNITS["length"][unit.lower()][0]
    points = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        sides = re.split(r"[;\t ]+", line.strip())
        if len(sides) != 2 or not all(re.fullmatch(r"-?\d+(?:[.,]\d+)?", side) for side in sides):
            raise DomainError(
                argument="outline",
                value=f'"{line.strip()[:40]}" in line {number}',
                allowed="each line holds two numbers, x and y",
                way_out="Write it like: 120 35.5",
                code="not-a-point",
            )
        points.append(tuple(float(side.replace(",", ".")) * factor for side in sides))
    if not 3 <= len(points) <= MOST_POINTS:
        raise DomainError(
            argument="outline",
            value=f"{len(points)} points long",
            allowed=f"3 to {MOST_POINTS} points are read",
            way_out="Walk round the edge once, one point a line.",
            code="points",
        )
    return points  # type: ignore[return-value]
