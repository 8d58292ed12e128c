"""Stations of a river as CSV, in and out: place, width, width at the bottom, in one unit that the header
names.
"""

from __future__ import annotations

import csv
import io
import re
from typing import Any

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.common.unit_table import UNITS
from ..core.piece.shapes import MOST_STATIONS, River

ASKED = ("mm", "cm", "m", "in")
HEADER = ("place", "width", "width at the bottom", "near edge")


def _rows(data: bytes) -> list[list[str]]:
    """Rows with something in them."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise DomainError(
            argument="csv file",
            value="not text in UTF-8",
            allowed="it is plain text",
            way_out="Save it as CSV in UTF-8.",
            code="broken",
        ) from error
    divider = next((one for one in (";", "\t") if one in text), ",")
    try:
        rows = [
            row
            for row in csv.reader(io.StringIO(text, newline=None), delimiter=divider)
            if any(cell.strip() for cell in row)
        ]
    except csv.Error as error:
        raise DomainError(
            argument="csv file",
            value=f"broken ({error})",
            allowed="it is plain CSV",
            way_out="Save it again.",
            code="broken",
        ) from error
    return rows


def read_stations(data: bytes, unit: str | None) -> list[dict[str, Any]]:
    """Stations as the document holds them. unit: said by the person, else from a header like "width [mm]";
    never guessed.

    Comma, semicolon or tab between the columns; decimal commas where the columns are not divided by commas.
    Raises DomainError with the line that cannot be read.
    """
    rows = _rows(data)
    named = re.search(r"[\[(]\s*(mm|cm|m|in)\s*[\])]", " ".join(rows[0])) if rows else None
    unit = unit or (named.group(1) if named else None)
    if unit is None:
        raise DomainError(
            argument="unit of the stations",
            value="not said",
            allowed="mm, cm, m or in",
            way_out="Say the unit, or name it in the header like width [mm].",
            code="no-unit",
            choices=list(ASKED),
        )
    body = rows[1:] if rows and not _is_number(rows[0][0]) else rows
    if not 2 <= len(body) <= MOST_STATIONS:
        raise DomainError(
            argument="stations",
            value=f"{len(body)} of them",
            allowed=f"2 to {MOST_STATIONS} are read",
            way_out="One station a line: place, width.",
            code="count",
        )
    return [_station(row, number, unit) for number, row in enumerate(body, start=1)]


def _is_number(cell: str) -> bool:
    return re.fullmatch(r"\s*-?\d+(?:[.,]\d+)?(?:e-?\d+)?\s*", cell, re.I) is not None


def _station(row: list[str], number: int, unit: str) -> dict[str, Any]:
    cells = [cell.strip() for cell in row]
    if len(cells) < 2 or not all(_is_number(cell) for cell in cells[:4] if cell):
        raise DomainError(
            argument="stations",
            value=f'"{" ".join(cells)[:40]}" in line {number}',
            allowed="each line holds numbers: place, width, width at the bottom",
            way_out="Write it like: 115; 118; 110",
            code="not-a-number",
        )

    def reading(cell: str) -> dict[str, Any]:
        value = float(cell.replace(",", "."))
        return {"value": value * UNITS["length"][unit][0], "as_typed": f"{plainly(value)} {unit}"}

    names = ("at_m", "width_m", "bottom_width_m", "edge_m")
    return {name: reading(cell) for name, cell in zip(names, cells, strict=False) if cell}


def write_stations(river: River) -> bytes:
    """In mm, with a header that names the unit."""
    out = io.StringIO()
    table = csv.writer(out, delimiter=";", lineterminator="\n")
    table.writerow([f"{name} [mm]" for name in HEADER])
    for station in river.stations:
        cells = (station.at_m, station.width_m, station.bottom_width_m, station.edge_m)
        table.writerow([f"{plainly(cell.value * 1000, 6)}" if cell else "" for cell in cells])
    return out.getvalue().encode()
