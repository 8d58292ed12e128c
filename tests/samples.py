"""Small sample pieces for tests. Invented data."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from cavatum.core.common.workshop import Workshop, typical_workshop
from cavatum.core.piece.document import Piece
from cavatum.core.resin.typical import typical_systems

NOW = datetime(2026, 3, 2, 12, 7, tzinfo=UTC)  # a Monday
SHEETS = {sheet.id: sheet for sheet in typical_systems()}


def box_piece(**changes: Any) -> Piece:
    """A 600 x 250 x 90 mm box of slow casting epoxy."""
    document: dict[str, Any] = {
        "name": "Sample block",
        "system_id": "slow-casting-epoxy",
        "voids": [box_void()],
    }
    return Piece.model_validate({**document, **changes})


def box_void(
    length: str = "600 mm", width: str = "250 mm", depth: str = "90 mm", **changes: Any
) -> dict[str, Any]:
    return {
        "id": "box",
        "name": "Box",
        "wall": "board",
        "portions": [{"id": "p1"}],
        "shape": {"kind": "box", "length_m": length, "width_m": width, "depth_m": depth},
        **changes,
    }


def workshop(**changes: Any) -> Workshop:
    return Workshop.model_validate({**typical_workshop().model_dump(), **changes})


def system(id_: str = "slow-casting-epoxy", **changes: Any):
    return type(SHEETS[id_]).model_validate({**SHEETS[id_].model_dump(), **changes})
