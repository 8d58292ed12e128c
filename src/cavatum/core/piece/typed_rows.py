"""Rows of readings typed in one go, one a line in one unit: stations of a river, heights and diameters of a
profile.
"""

from __future__ import annotations

import re
from typing import Any

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.unit_table import UNITS
from .shapes import MOST_STATIONS

COLUMNS = {"stations": ("at_m", "width_m", "bottom_width_m", "edge_m"), "profile": ("height_m", "diameter_m")}
LIKE = {"stations": "115 118", "profile": "20 64"}
NUMBER = re.compile(r"\d+(?:[.,]\d+)?")


def parse_rows(text: str, unit: str, kind: str) -> list[dict[str, Any]]:
    """Rows of the document from typed lines: numbers divided by blanks, tabs or semicolons, in one unit of
    length.

    kind  "stations": place, width, and where wanted width at the bottom and where the near edge runs;
          "profile": height, diameter
    Raises DomainError with the line that cannot be read, for an unknown unit, fewer than 2 rows or more than
    MOST_STATIONS.
    """
    names = COLUMNS[kind]
    if unit.lower() not in UNITS["length"]:
        raise DomainError(
            argument="unit",
            value=f'"{unit}"',
            allowed="a unit of length is needed",
            way_out="Choose mm or in.",
            code="unknown-unit",
        )
    factor = UNITS["length"][unit.lower()][0]
    rows = []
    for number, line in enumerate((one for one in text.splitlines() if one.strip()), start=1):
        cells = re.split(r"[;\t ]+", line.strip())
        if not 2 <= len(cells) <= len(names) or not all(NUMBER.fullmatch(cell) for cell in cells):
            raise DomainError(
                argument=kind,
                value=f'"{line.strip()[:40]}" in line {number}',
                allowed=f"each line holds 2 to {len(names)} numbers, none below 0",
                way_out=f"Write it like: {LIKE[kind]}",
                code="not-a-number",
            )
        values = [float(cell.replace(",", ".")) for cell in cells]
        rows.append(
            {
                name: {"value": value * factor, "as_typed": f"{plainly(value)} {unit}"}
                for name, value in zip(names, values, strict=False)
            }
        )
    if not 2 <= len(rows) <= MOST_STATIONS:
        raise DomainError(
            argument=kind,
            value=f"{len(rows)} rows long",
            allowed=f"2 to {MOST_STATIONS} are read",
            way_out="One reading a line.",
            code="count",
        )
    return rows
