"""Bottles and what pieces need of them. Rule 3.4."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.common.verdict import Verdict
from ..core.common.wording import Wording
from ..core.mix.weigh_events import FromBottle
from ..core.purchase.buying import ToBuy, to_buy
from ..core.purchase.stock import (
    Bottle,
    PartNeed,
    check_fits,
    check_sound,
    good_until,
    need_verdicts,
    unpromised,
)
from ..store import pieces, stock
from . import planning, reserving


def check_bottle(bottle: Bottle, inputs: planning.Inputs, left_kg: float, today: date) -> None:
    """Raises DomainError for a bottle of nothing that is on the shelf, and one that cannot be
    (check_sound)."""
    check_sound(bottle, left_kg, today)
    known = bottle.goods_id in (inputs.sheets if bottle.goods == "system" else inputs.shelf_items.colourants)
    if not known:
        raise DomainError(
            argument="bottle",
            value=f"of {bottle.goods_id}",
            allowed="it is of something on the shelf",
            way_out="Put its sheet on the shelf first.",
            code="not-on-shelf",
        )
    if (bottle.goods == "system") != bool(bottle.part):
        raise DomainError(
            argument="part",
            value=bottle.part or "not said",
            allowed="a system's bottle is part A or part B",
            way_out="Look at its label.",
            code="no-part",
        )


def chosen_bottle(
    connection: Connection, shop: int, event: FromBottle, system_id: str, today: date
) -> FromBottle:
    """The choice of a bottle as it is kept: with its own lot, and the date it is past, if it is.

    Raises NotFound for a bottle that is not on the shelf, DomainError for one of something else.
    """
    bottle = stock.read(connection, shop, event.bottle_id).bottle
    check_fits(bottle, event.step, system_id)
    inputs = planning.inputs_of(connection, shop)
    until = good_until(bottle, inputs.sheets.get(bottle.goods_id) if bottle.part else None)
    past = until if until is not None and until < today else None
    return event.model_copy(update={"lot": bottle.lot, "past": past})


@dataclass(frozen=True)
class PurchasePlan:
    """buy: one answer a system, kits shared by all pieces. unplanned: names of pieces that have no pour
    yet.
    """

    buy: list[ToBuy]
    unplanned: list[str]


def purchase_for(
    connection: Connection, shop: int, piece_ids: Sequence[int], moment: datetime
) -> PurchasePlan:
    """The cheapest kits for these pieces together, beyond what the shelf holds and others have not
    reserved.
    """
    inputs, needs, unplanned = planning.inputs_of(connection, shop), list[PartNeed](), list[str]()
    there = stock.listed(connection, shop)
    for id_ in dict.fromkeys(piece_ids):
        stored = pieces.read(connection, shop, id_)
        plan = planning.plan_of(connection, shop, stored, moment, inputs)
        needs += [
            one
            for one in reserving.needs_of_plan(stored.piece.name, plan)
            if not (plan.start_is_chosen and one.at and one.at <= moment)
        ]
        if not plan.pours:
            unplanned.append(stored.piece.name)
    promised = reserving.reserved(connection, shop, moment, without=piece_ids)
    free = unpromised(there, promised, inputs.sheets, moment.date())
    systems = sorted({need.system_id for need in needs})
    return PurchasePlan([to_buy(inputs.sheets[one], needs, free, moment) for one in systems], unplanned)


@dataclass(frozen=True)
class PieceStock:
    needs: list[PartNeed]
    buy: list[ToBuy]
    verdicts: list[Verdict]


def stock_of_piece(connection: Connection, shop: int, piece_id: int, moment: datetime) -> PieceStock:
    """The plan's needs against bottles, other plans' reservations and kits."""
    stored, inputs, plan = planning.opened(connection, shop, piece_id, moment)
    there = stock.listed(connection, shop)
    reserved = reserving.reserved(connection, shop, moment, without=(stored.id,))
    needs, wording = reserving.needs_of_plan(stored.piece.name, plan), Wording(inputs.workshop)
    systems = sorted({need.system_id for need in needs})
    said = [
        verdict
        for one in systems
        for verdict in need_verdicts(
            reserving.together(needs, one), reserved, there, inputs.sheets[one], moment, wording
        )
    ]
    free = unpromised(there, reserved, inputs.sheets, moment.date())
    buy = [to_buy(inputs.sheets[one], needs, free, moment) for one in systems]
    return PieceStock(needs, buy, said)
