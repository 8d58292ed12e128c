"""Every system of the shelf tried on one piece, with what there is to buy. Rules 3.4, 4.4."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from psycopg import Connection
from pydantic import BaseModel

from ..core.calibration.of_system import cure_of
from ..core.clock.model import Clock
from ..core.clock.windows import whole_half_hour
from ..core.coats.fit import films_of, why_no_film
from ..core.coats.laid import settle_coats
from ..core.common.errors import DomainError
from ..core.common.wording import Wording
from ..core.options import hottest_of, option_from
from ..core.piece.document import Piece
from ..core.piece.given import Given
from ..core.plan import make_plan
from ..core.plan_model import Option, Plan
from ..core.purchase.buying import ToBuy, to_buy
from ..core.purchase.stock import OnShelf, unpromised
from ..core.resin.checks import check_system
from ..core.resin.ratio import MixRatio, ratio_of
from ..core.resin.system import System, typical_fields
from ..core.summary.compare import Facts, Reasons, reasons
from ..store import pieces, stock
from ..store.pieces import StoredPiece
from ..store.plans import hash_inputs
from . import planning, reserving
from .planning import Inputs

MOST_REMEMBERED = 64


_COMPARED: dict[str, list[Candidate]] = {}


class Candidate(BaseModel):
    """used_minor: what is used at the best kit price; buy: whole kits beyond what the shelf holds, one answer
    a system; clock: its days, for one axis of all.
    """

    option: Option
    clock: Clock | None
    facts: Facts
    reasons: Reasons
    used_minor: float | None
    mass_kg: float | None
    buy: list[ToBuy]


def remembered(
    stored: StoredPiece, inputs: Inputs, there: list[OnShelf], moment: datetime, *, chances: bool
) -> list[Candidate]:
    """The comparison is a pure function of all it rests on; a page opened again within the half hour need not
    wait for it.
    """
    key = hash_inputs(
        {
            **planning.all_systems_inputs(stored.piece, inputs, moment),
            "stock": [one.model_dump(mode="json") for one in there],
            "chances": chances,
        }
    )
    if key not in _COMPARED:
        while len(_COMPARED) >= MOST_REMEMBERED:
            _COMPARED.pop(next(iter(_COMPARED)))
        _COMPARED[key] = compared(stored, inputs, there, moment, chances=chances)
    return _COMPARED[key]


def compared(
    stored: StoredPiece, inputs: Inputs, there: list[OnShelf], moment: datetime, *, chances: bool
) -> list[Candidate]:
    """Every system on the shelf, as if mixing began no sooner than `moment`. Without their chances of getting
    too hot, which take most of the time, nothing is said for or against them.
    """
    found: list[Candidate] = []
    for sheet in inputs.sheets.values():
        piece = stored.piece.model_copy(update={"system_id": sheet.id, "layering": "fewest"})
        plan = make_plan(
            piece,
            inputs.sheets,
            inputs.workshop,
            moment,
            in_full=False,
            chances=chances,
            provisional=True,
            shelf_items=inputs.shelf_items,
        )
        option = _judged_as_film(option_from(piece, plan), sheet, plan, stored.piece, inputs)
        needs = reserving.needs_of_plan(stored.piece.name, plan)
        buy = [
            to_buy(inputs.sheets[one], needs, there, moment)
            for one in sorted({need.system_id for need in needs})
        ]
        found.append(
            Candidate(
                option=option,
                clock=plan.clock if option.offered else None,
                facts=_facts(sheet.id, inputs, plan, option, buy, moment),
                reasons=Reasons(for_it="", against=""),
                buy=buy,
                used_minor=plan.totals.cost.value if plan.totals.cost else None,
                mass_kg=plan.totals.mass.value if plan.totals.mass else None,
            )
        )
    if not chances:
        return found
    said = reasons([one.facts for one in found], Wording(inputs.workshop))
    return [one.model_copy(update={"reasons": said[one.facts.system_id]}) for one in found]


def _judged_as_film(option: Option, sheet: System, plan: Plan, piece: Piece, inputs: Inputs) -> Option:
    """A coat is a film, not a shallow casting: a resin that does not make one is not offered for it."""
    if not piece.coats or piece.voids or not option.offered:
        return option
    settled_for = piece.model_copy(update={"system_id": sheet.id})
    given = Given(piece=settled_for, systems=inputs.sheets, workshop=inputs.workshop, now=plan.made_at)
    settled = settle_coats(given, _ratios(sheet)).value
    try:
        cure = cure_of(sheet)
    except DomainError:
        cure = None
    room_c = inputs.workshop.room_c.value
    for film_m in sorted(films_of(settled)):
        why = why_no_film(sheet, cure, film_m, room_c, Wording(inputs.workshop))
        if why:
            return option.model_copy(update={"offered": False, "reason": f"{why[:1].upper()}{why[1:]}."})
    return option


def _ratios(sheet: System) -> dict[str, MixRatio]:
    return {sheet.id: ratio_of(sheet)} if sheet.basis is not None else {}


def _days(begun: datetime, over: datetime | None) -> float | None:
    return None if over is None else (over - begun).total_seconds() / 86400


def _is_priced(buy: list[ToBuy]) -> bool:
    return bool(buy) and all(not one.problem for one in buy)


def _facts(
    system_id: str, inputs: Inputs, plan: Plan, option: Option, buy: list[ToBuy], moment: datetime
) -> Facts:
    sheet = inputs.sheets[system_id]
    hottest = hottest_of(plan)
    priced = option.offered and _is_priced(buy)
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
        days=_days(moment, out),
        out_of_form_at=out,
        peak_c=option.peak_c,
        wanted_c=hottest.wanted_c if hottest else None,
        runs_away=option.runs_away,
        chance=option.chance,
        buy_minor=sum(one.price_minor for one in buy) if priced else None,
        left_kg=sum(one.left_kg for one in buy) if priced else None,
        in_stock=priced and all(not one.lines for one in buy),
        doubts=len(check_system(sheet)),
        typical=len(typical_fields(sheet)),
        stops=[one.weight for one in plan.verdicts].count("blocker"),
        pressure=sheet.needs_pressure,
        is_coat=bool(plan.coats) and not plan.voids,
    )


def candidates_of(
    connection: Connection, shop: int, piece_id: int, moment: datetime, *, chances: bool
) -> Callable[[], list[Candidate]]:
    """What to compare is read now; the comparison itself takes long and needs no connection any more."""
    stored, inputs = pieces.read(connection, shop, piece_id), planning.inputs_of(connection, shop)
    promised = reserving.reserved(connection, shop, moment, without=(stored.id,))
    there = unpromised(stock.listed(connection, shop), promised, inputs.sheets, moment.date())
    return lambda: remembered(stored, inputs, there, whole_half_hour(moment), chances=chances)
