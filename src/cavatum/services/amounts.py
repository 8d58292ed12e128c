"""Any amount on a stored piece: what it would lay on each of its coats. Rules 2.5, 5.1."""

from __future__ import annotations

from datetime import datetime

from ..core.coats.any_amount import OnThePiece, on_the_piece
from ..core.coats.laid import settle_coats
from ..core.common.amounts import Said
from ..core.piece.document import Piece
from ..core.piece.given import Given
from ..core.resin.ratio import ratio_of
from ..core.resin.system import System
from .planning import Inputs, named_systems


def on_piece(said: Said, sheet: System, piece: Piece, inputs: Inputs, moment: datetime) -> OnThePiece:
    """Raises DomainError where the sheet says no ratio's basis, or the amount is off its ratio."""
    named = [inputs.sheets[one] for one in sorted(named_systems(piece) & set(inputs.sheets))]
    ratios = {one.id: ratio_of(one) for one in named if one.basis is not None}
    given = Given(
        piece=piece,
        systems=inputs.sheets,
        workshop=inputs.workshop,
        now=moment,
        shelf_items=inputs.shelf_items,
    )
    settled = Given(
        piece=settle_coats(given, ratios).value,
        systems=inputs.sheets,
        workshop=inputs.workshop,
        now=moment,
        shelf_items=inputs.shelf_items,
    )
    return on_the_piece(said, sheet, ratio_of(sheet), settled)
