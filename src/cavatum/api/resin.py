"""The Resin stage: every system on the shelf tried on this very piece, with what there is to buy and what
speaks for and against it.
"""

from __future__ import annotations

from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from ..core.clock.windows import whole_half_hour
from ..core.common.verdict import Verdict
from ..core.common.wording import Say
from ..core.purchase.buying import ToBuy, to_buy
from ..core.purchase.stock import PartNeed, need_verdicts, unpromised
from ..services import planning, reserving
from ..services.resin import Candidate, remembered
from ..store import pieces, stock
from .context import now, transaction, workshop_id
from .pieces import PiecePath
from .problems import Problem

blueprint = APIBlueprint("resin", __name__, url_prefix="/api/v1/pieces", abp_responses={"4XX": Problem})


class CandidatesAnswer(BaseModel):
    """What each system on the shelf would make of this piece."""

    candidates: list[Candidate]


class StockAnswer(BaseModel):
    """What this piece takes, what there is to buy for it, and what the shelf says to that."""

    needs: list[PartNeed]
    buy: list[ToBuy]
    verdicts: list[Verdict]


@blueprint.get("/<int:piece_id>/candidates", operation_id="readCandidates", responses={200: CandidatesAnswer})
def read_candidates(path: PiecePath):
    """Every system on the shelf tried on this piece, with its fewest pours."""
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        inputs = planning.inputs_of(connection, shop)
        promised = reserving.reserved(connection, shop, now(), without=(stored.id,))
        there = unpromised(stock.listed(connection, shop), promised, inputs.sheets, now().date())
    return CandidatesAnswer(candidates=remembered(stored, inputs, there, whole_half_hour(now()))).model_dump(
        mode="json"
    )


@blueprint.get("/<int:piece_id>/stock", operation_id="readPieceStock", responses={200: StockAnswer})
def read_stock(path: PiecePath):
    """The plan's needs against bottles, other plans' reservations and kits."""
    moment = now()
    with transaction() as connection:
        shop = workshop_id(connection)
        stored, inputs, plan = planning.opened(connection, shop, path.piece_id, moment)
        there = stock.listed(connection, shop)
        reserved = reserving.reserved(connection, shop, moment, without=(stored.id,))
    needs = reserving.needs_of_plan(stored.piece.name, plan)
    systems = sorted({need.system_id for need in needs})
    say = Say(inputs.workshop)
    said = [
        verdict
        for one in systems
        for verdict in need_verdicts(
            reserving.together(needs, one), reserved, there, inputs.sheets[one], moment, say
        )
    ]
    free = unpromised(there, reserved, inputs.sheets, moment.date())
    return StockAnswer(
        needs=needs, buy=[to_buy(inputs.sheets[one], needs, free, moment) for one in systems], verdicts=said
    ).model_dump(mode="json")
