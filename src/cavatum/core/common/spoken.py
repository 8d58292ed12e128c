"""Times as sheets and people say them in words: "about three hours", "overnight", "half an hour"."""

from __future__ import annotations

import re

ABOUT = "20 %"  # own judgement: who says "about three hours" means two and a half to three and a half
NIGHT = "8 to 12 h"  # common practice, no source: poured in the evening, looked at in the morning

NUMBERS = {
    name: str(number)
    for number, name in enumerate(
        [
            "one",
            "two",
            "three",
            "four",
            "five",
            "six",
            "seven",
            "eight",
            "nine",
            "ten",
            "eleven",
            "twelve",
            "thirteen",
            "fourteen",
            "fifteen",
            "sixteen",
            "seventeen",
            "eighteen",
            "nineteen",
            "twenty",
        ],
        start=1,
    )
} | {
    "twenty-four": "24",
    "thirty": "30",
    "thirty-six": "36",
    "forty-five": "45",
    "forty-eight": "48",
    "sixty": "60",
    "seventy-two": "72",
}
PHRASES = (
    (r"\bover\s*night\b", NIGHT),
    (r"\bhalf an hour\b", "30 min"),
    (r"\bquarter of an hour\b", "15 min"),
    (r"\ban hour and a half\b", "90 min"),
    (r"\b(?:an?|one) and a half (hours|days)\b", r"1.5 \1"),
    (r"\ba (?:couple|pair) of\b", "2"),
    (r"\ban? (?=hour|day|week|minute)", "1 "),
)
_ABOUT = re.compile(r"^\s*(?:about|around|roughly|approx(?:imately)?\.?|ca\.?|circa|~|≈)\s*", re.I)
_BOUND = re.compile(r"^\s*(?:at least|at most|up to|no less than|no more than|within)\s+", re.I)
_NUMBER = re.compile(rf"\b({'|'.join(sorted(NUMBERS, key=len, reverse=True))})\b", re.I)


def duration_in_figures(text: str) -> str:
    """The same time in figures that units.parse reads; the text itself where nothing is said in words.

    text  as typed
    Raises nothing. Valid for English; a range stays one, "about" becomes a spread of ABOUT. Source: common
    practice, no source.
    """
    said = _BOUND.sub("", text)
    about = _ABOUT.match(said)
    if about:
        said = said[about.end() :]
    for pattern, figures in PHRASES:
        said = re.sub(pattern, figures, said, flags=re.I)
    said = _NUMBER.sub(lambda found: NUMBERS[found[1].lower()], said)
    if about and not re.search(r"±|\d\s*(?:-|–|to)\s*\d", said):
        return f"{said.strip()} ± {ABOUT}"
    return said if said != text else text
