"""The Resin stage: every system on the shelf tried on this very piece, with what there is to buy and what
speaks for and against it.
"""

from __future__ import annotations

from pydantic import BaseModel

from ..core.common.verdict import Verdict
from ..core.purchase.buying import ToBuy
from ..core.purchase.stock import PartNeed
from ..services.resin import Candidate, candidates_of
from ..services.stock import stock_of_piece
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("resin", "/api/v1/pieces")


class CandidatesAnswer(BaseModel):
    """What each system on the shelf would make of this piece. is_pending: their chances of getting too hot,
    and what speaks for and against them, are still to be asked for.
    """

    candidates: list[Candidate]
    is_pending: bool


class CandidatesQuery(BaseModel):
    """chances  False: at once, without how often each would get too hot"""

    chances: bool = True


class StockAnswer(BaseModel):
    """What this piece takes, what there is to buy for it, and what the shelf says to that."""

    needs: list[PartNeed]
    buy: list[ToBuy]
    verdicts: list[Verdict]


@blueprint.get("/<int:piece_id>/candidates", operation_id="readCandidates", responses={200: CandidatesAnswer})
def read_candidates(path: PiecePath, query: CandidatesQuery) -> RouteAnswer:
    """Every system on the shelf tried on this piece, with its fewest pours."""
    with transaction() as connection:
        found = candidates_of(
            connection, workshop_id(connection), path.piece_id, now(), chances=query.chances
        )
    return CandidatesAnswer(candidates=found(), is_pending=not query.chances).model_dump(mode="json")


@blueprint.get("/<int:piece_id>/stock", operation_id="readPieceStock", responses={200: StockAnswer})
def read_stock(path: PiecePath) -> RouteAnswer:
    """The plan's needs against bottles, other plans' reservations and kits."""
    with transaction() as connection:
        found = stock_of_piece(connection, workshop_id(connection), path.piece_id, now())
    return StockAnswer(needs=found.needs, buy=found.buy, verdicts=found.verdicts).model_dump(mode="json")
