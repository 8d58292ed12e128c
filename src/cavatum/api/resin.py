"""The Resin stage: every system on the shelf tried on this very piece, with what there is to buy and what
speaks for and against it.
"""

from __future__ import annotations

from datetime import datetime

from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from ..core.clock.windows import whole_half_hour
from ..core.common.verdict import Verdict
from ..core.common.wording import Say
from ..core.options import option_from
from ..core.plan import make_plan
from ..core.plan_model import Option, Plan
from ..core.purchase.buying import ToBuy, to_buy
from ..core.purchase.stock import OnShelf, PartNeed, need_verdicts, unpromised
from ..core.resin.checks import check_system
from ..core.resin.system import typical_fields
from ..core.summary.compare import Facts, Reasons, reasons
from ..store import pieces, stock
from ..store.pieces import StoredPiece
from ..store.plans import hash_inputs
from . import planning, reserving
from .context import now, transaction, workshop_id
from .pieces import PiecePath
from .planning import Inputs
from .problems import Problem

blueprint = APIBlueprint("resin", __name__, url_prefix="/api/v1/pieces", abp_responses={"4XX": Problem})


MOST_REMEMBERED = 64
_COMPARED: dict[str, list[Candidate]] = {}


class Candidate(BaseModel):
    """used_minor: what is used at the best kit price; buy: whole kits beyond what the shelf holds, one answer
    a system.
    """

    option: Option
    facts: Facts
    reasons: Reasons
    used_minor: float | None
    mass_kg: float | None
    buy: list[ToBuy]


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
    return CandidatesAnswer(candidates=_remembered(stored, inputs, there, whole_half_hour(now()))).model_dump(
        mode="json"
    )


def _remembered(
    stored: StoredPiece, inputs: Inputs, there: list[OnShelf], moment: datetime
) -> list[Candidate]:
    """The comparison is a pure function of all it rests on; a page opened again within the half hour need not
    wait for it.
    """
    key = hash_inputs(
        {
            **planning.all_systems_inputs(stored.piece, inputs, moment),
            "stock": [one.model_dump(mode="json") for one in there],
        }
    )
    if key not in _COMPARED:
        while len(_COMPARED) >= MOST_REMEMBERED:
            _COMPARED.pop(next(iter(_COMPARED)))
        _COMPARED[key] = compared(stored, inputs, there, moment)
    return _COMPARED[key]


def compared(stored: StoredPiece, inputs: Inputs, there: list[OnShelf], moment: datetime) -> list[Candidate]:
    """Every system on the shelf, as if mixing began no sooner than `moment`."""
    found: list[Candidate] = []
    for sheet in inputs.sheets.values():
        piece = stored.piece.model_copy(update={"system_id": sheet.id, "layering": "fewest"})
        plan = make_plan(
            piece, inputs.sheets, inputs.workshop, moment, in_full=False, provisional=True, goods=inputs.goods
        )
        option = option_from(piece, plan)
        needs = reserving.needs_of_plan(stored.piece.name, plan)
        buy = [
            to_buy(inputs.sheets[one], needs, there, moment)
            for one in sorted({need.system_id for need in needs})
        ]
        found.append(
            Candidate(
                option=option,
                facts=_facts(sheet.id, inputs, plan, option, buy, moment),
                reasons=Reasons(for_it="", against=""),
                buy=buy,
                used_minor=plan.totals.cost.value if plan.totals.cost else None,
                mass_kg=plan.totals.mass.value if plan.totals.mass else None,
            )
        )
    said = reasons([one.facts for one in found], Say(inputs.workshop))
    return [one.model_copy(update={"reasons": said[one.facts.system_id]}) for one in found]


def _facts(
    system_id: str, inputs: Inputs, plan: Plan, option: Option, buy: list[ToBuy], moment: datetime
) -> Facts:
    sheet = inputs.sheets[system_id]
    heats = [layer.heat for pour in plan.pours for layer in pour.layers if layer.heat]
    hottest = max(heats, key=lambda heat: heat.peak.value - heat.wanted_c, default=None)
    priced = option.offered and bool(buy) and all(not one.problem for one in buy)
    out = option.out_of_form_at or plan.totals.ready_at
    return Facts(
        system_id=sheet.id,
        name=sheet.name,
        offered=option.offered,
        why_not=option.reason,
        pours=option.pours,
        visits=option.visits,
        sanded=option.sanded,
        hands_on_s=option.hands_on_s,
        days=(out - moment).total_seconds() / 86400 if out else None,
        out_of_form_at=out,
        peak_c=option.peak_c,
        wanted_c=hottest.wanted_c if hottest else None,
        runs_away=option.runs_away,
        buy_minor=sum(one.price_minor for one in buy) if priced else None,
        left_kg=sum(one.left_kg for one in buy) if priced else None,
        in_stock=priced and all(not one.lines for one in buy),
        doubts=len(check_system(sheet)),
        typical=len(typical_fields(sheet)),
        stops=sum(1 for one in plan.verdicts if one.weight == "stops"),
        pressure=sheet.needs_pressure,
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
