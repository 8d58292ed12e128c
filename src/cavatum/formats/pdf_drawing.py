"""Outlines and templates to scale on the workshop's own paper: over as many sheets as they need, with
marks to lay
them together by and a bar to check the print. Rule 1.5.
"""

from __future__ import annotations

import io
import math
from typing import Any

from .drawings_out import Sheet
from .pdf import INK, SLATE, Paper, _fonts, page_mm

EDGE_MM = 12.0  # what a home printer leaves bare, and a little
FOOT_MM = 16.0  # for words and the bar
LAP_MM = 10.0  # by which sheets lie over each other
BAR_MM = 50.0
MOST_SHEETS = 60


def tiles(wide_mm: float, high_mm: float, paper: Paper) -> tuple[int, int, float, float]:
    """Sheets across and down, and what each shows of the drawing, laps included [mm].

    The paper is turned where that takes fewer sheets. Exact. Source: own.
    """
    found = []
    for turned in (False, True):
        page = page_mm(paper)[::-1] if turned else page_mm(paper)
        shows = page[0] - 2 * EDGE_MM, page[1] - 2 * EDGE_MM - FOOT_MM
        across, down = (
            1 if size <= one else math.ceil((size - LAP_MM) / (one - LAP_MM))
            for size, one in zip((wide_mm, high_mm), shows, strict=True)
        )
        found.append((across * down, turned, across, down, *shows))
    _, _, across, down, shown_wide, shown_high = min(found)
    return across, down, shown_wide, shown_high


def write_pdf(sheet: Sheet, title: str, paper: Paper) -> bytes:
    """The drawing at its true size.

    sheet  rings in metres, y upwards;  paper  of the workshop
    Each sheet says which it is, carries the bar, and crosses where its neighbours' crosses come to lie.
    Raises
    DomainError for over MOST_SHEETS.
    """
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    from ..core.common.errors import DomainError

    _fonts()
    low_x, low_y, high_x, high_y = sheet.bounds_mm
    across, down, wide, high = tiles(high_x - low_x, high_y - low_y, paper)
    if across * down > MOST_SHEETS:
        raise DomainError(
            argument="drawing",
            value=f"{across * down} sheets of {paper}",
            allowed=f"at most {MOST_SHEETS} are printed",
            way_out="Save it as SVG or DXF and have it plotted.",
            code="too-large",
        )
    page = wide + 2 * EDGE_MM, high + 2 * EDGE_MM + FOOT_MM
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(page[0] * mm, page[1] * mm), invariant=1)
    canvas.setTitle(title)
    for row in range(down):
        for column in range(across):
            left = low_x + column * (wide - LAP_MM)
            top = high_y - row * (high - LAP_MM)
            _window(canvas, sheet, left, top - high, wide, high)
            _marks(canvas, wide, high, column, row, across, down)
            name = (
                f"sheet {chr(65 + row)}{column + 1} of {chr(64 + down)}{across}" if across * down > 1 else ""
            )
            _foot(canvas, " · ".join(one for one in (title, name) if one), page[0])
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _window(canvas: Any, sheet: Sheet, left: float, bottom: float, wide: float, high: float) -> None:
    """What one sheet shows, clipped to its frame."""
    from reportlab.lib.units import mm

    canvas.saveState()
    frame = canvas.beginPath()
    frame.rect(EDGE_MM * mm, (EDGE_MM + FOOT_MM) * mm, wide * mm, high * mm)
    canvas.clipPath(frame, stroke=0)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.7)
    for rings in sheet.layers.values():
        for ring in rings:
            path = canvas.beginPath()
            for place, (x, y) in enumerate(ring):
                at = (EDGE_MM + x * 1000 - left) * mm, (EDGE_MM + FOOT_MM + y * 1000 - bottom) * mm
                (path.lineTo if place else path.moveTo)(*at)
            path.close()
            canvas.drawPath(path)
    canvas.restoreState()


def _marks(canvas: Any, wide: float, high: float, column: int, row: int, across: int, down: int) -> None:
    """A cross in the middle of each lap: laid on the neighbour's cross, both sheets fit."""
    from reportlab.lib.units import mm

    canvas.setStrokeColor(SLATE)
    canvas.setLineWidth(0.4)
    xs = [LAP_MM / 2] * (column > 0) + [wide - LAP_MM / 2] * (column < across - 1)
    ys = [LAP_MM / 2] * (row < down - 1) + [high - LAP_MM / 2] * (row > 0)
    spots = [(x, share * high) for x in xs for share in (0.1, 0.9)] + [
        (share * wide, y) for y in ys for share in (0.1, 0.9)
    ]
    for x, y in spots:
        x, y = EDGE_MM + x, EDGE_MM + FOOT_MM + y
        canvas.line((x - 4) * mm, y * mm, (x + 4) * mm, y * mm)
        canvas.line(x * mm, (y - 4) * mm, x * mm, (y + 4) * mm)


def _foot(canvas: Any, words: str, page_wide: float) -> None:
    from reportlab.lib.units import mm

    canvas.setFillColor(INK)
    canvas.rect(EDGE_MM * mm, (EDGE_MM + 2) * mm, BAR_MM * mm, 0.8 * mm, stroke=0, fill=1)
    canvas.setFont("Public Sans", 8)
    canvas.drawString(
        (EDGE_MM + BAR_MM + 3) * mm,
        (EDGE_MM + 1.5) * mm,
        "50 mm. To scale: print at 100 % and measure this bar.",
    )
    canvas.setFillColor(SLATE)
    canvas.drawString(EDGE_MM * mm, (EDGE_MM - 3) * mm, words)
