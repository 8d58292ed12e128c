"""Outlines and templates to scale as SVG and DXF, in millimetres."""

from __future__ import annotations

import io
from dataclasses import dataclass, field
from xml.sax.saxutils import escape, quoteattr

Ring = list[tuple[float, float]]
MARGIN_MM = 10.0


@dataclass(frozen=True)
class Sheet:
    """Closed rings by layer [m], y upwards, and one line of words below the drawing."""

    layers: dict[str, list[Ring]] = field(default_factory=dict)
    words: str = ""

    @property
    def bounds_mm(self) -> tuple[float, float, float, float]:
        points = [(x * 1000, y * 1000) for rings in self.layers.values() for ring in rings for x, y in ring]
        xs, ys = zip(*points, strict=True)
        return min(xs), min(ys), max(xs), max(ys)


def write_svg(sheet: Sheet) -> bytes:
    """True size when printed at 100 %: the drawing's width and height are given in mm. A 50 mm bar to check
    the print by.
    """
    low_x, low_y, high_x, high_y = sheet.bounds_mm
    wide, high = max(high_x - low_x, 70) + 2 * MARGIN_MM, high_y - low_y + 2 * MARGIN_MM + 16
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{high:.3f}mm" viewBox="0 '
        f'0 {wide:.3f} {high:.3f}" '
        'fill="none" stroke="#20262B" stroke-width="0.25">'
    ]
    for name, rings in sheet.layers.items():
        out.append(f"<g id={quoteattr(name)}>")
        for ring in rings:
            places = " L".join(
                f"{x * 1000 - low_x + MARGIN_MM:.4f} {high_y - y * 1000 + MARGIN_MM:.4f}" for x, y in ring
            )
            out.append(f'<path d="M{places} Z"/>')
        out.append("</g>")
    foot = high - 9
    out.append(
        '<g id="scale bar" fill="#20262B" stroke="none" font-family="sans-serif" font-size="3.5">'
        f'<rect x="{MARGIN_MM}" y="{foot}" width="50" height="0.6"/>'
        f'<text x="{MARGIN_MM + 52}" y="{foot + 1.5}">50 mm</text><text x="{MARGIN_MM}" '
        f'y="{foot + 6}">{escape(sheet.words)}</text></g></svg>'
    )
    return "\n".join(out).encode()


def write_dxf(sheet: Sheet) -> bytes:
    """DXF R2010 in mm, closed polylines on a layer each."""
    import ezdxf
    from ezdxf import units

    document = ezdxf.new("R2010")
    document.units = units.MM
    space = document.modelspace()
    for name, rings in sheet.layers.items():
        layer = "".join(sign if sign.isalnum() or sign in "-_ " else "-" for sign in name)[:60] or "outline"
        if layer not in document.layers:
            document.layers.add(layer)
        for ring in rings:
            space.add_lwpolyline(
                [(x * 1000, y * 1000) for x, y in ring], close=True, dxfattribs={"layer": layer}
            )
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()
