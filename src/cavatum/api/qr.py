"""QR codes as the path of an SVG: the page draws them in its own ink."""

from __future__ import annotations

import segno


def qr_of(text: str) -> tuple[str, int]:
    """(path, size) of a QR code as SVG."""
    qr = segno.make(text, error="m", micro=False)
    return "".join(
        f"M{x} {y}h1v1h-1z" for y, row in enumerate(qr.matrix) for x, dark in enumerate(row) if dark
    ), len(qr.matrix)
