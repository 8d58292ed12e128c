"""When the model expects a gate's test to be passed. Rule 8.1."""

from __future__ import annotations

from ..practice.finishing import GateRow
from .model import PourWindow


def expected_after(row: GateRow, window: PourWindow) -> float | None:
    """When the model expects a gate's test to be passed [s after that pour]; None: not in this room.

        the bond window's opening, dry to the touch, light use, or demould + share (cured - demould)

    row  the gate, with its share 0..1 or none;  window  of the pour, times [s]
    Raises nothing. Valid as far as the window is; a test decides, not this. Source: own choice of the
    shares.
    """
    if row.share is None:
        return {"touch": window.touch_s, "light use": window.light_s}.get(row.by, window.opens_s)
    if window.demould_s is None or row.share == 0:
        return window.demould_s
    if window.cured_s is None:
        return None
    return window.demould_s + row.share * (window.cured_s - window.demould_s)
