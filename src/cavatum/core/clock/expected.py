"""When the model expects a gate's test to be passed. Rule 8.1."""

from __future__ import annotations

from ..practice.finishing import GateRow
from .model import PourWindow


def expected_after(row: GateRow, window: PourWindow) -> float:
    """Seconds after that pour: when its bond window opens, or a share of the way from demoulding to full
    cure.
    """
    if row.share is None:
        return window.opens_s
    return window.demould_s + row.share * (window.cured_s - window.demould_s)
