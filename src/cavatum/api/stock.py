"""Bottles on the shelf, what is reserved of them, what to buy, and where a leftover can go."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Id, Label, Mass
from ..core.common.verdict import Verdict
from ..core.common.wording import Wording
from ..core.mix.leftover import Offer, offers
from ..core.purchase.buying import ToBuy, part_bottles
from ..core.purchase.stock import Bottle, OnShelf, PartNeed, bottle_verdicts, check_sound, good_until
from ..services import planning, reserving
from ..services.stock import check_bottle, purchase_for
from ..store import stock
from .answers import MadeOn, RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint

blueprint = Blueprint("stock")


class BottlePath(BaseModel):
    bottle_id: int = Field(ge=1, le=2**62)


class BottleRow(BaseModel):
    """A bottle as it stands. good_until: date, None where nothing is known; reserved_kg: of its kind, by all
    plans together.
    """

    standing: OnShelf
    good_until: str | None
    verdicts: list[Verdict]


class StockList(BaseModel):
    bottles: list[BottleRow]
    reserved: list[PartNeed]


class AddBottleBody(BaseModel):
    """left: None for a full one."""

    bottle: Bottle
    left: Mass | None = None


class AddKitBody(BaseModel):
    """A kit of the sheet brought home: a bottle of each part."""

    system_id: Id
    kit: int = Field(ge=0, le=40)
    lot: Label = ""
    price_minor: int | None = Field(default=None, ge=0, le=100_000_000)
    count: int = Field(default=1, ge=1, le=100)


class TakeBody(BaseModel):
    """Taken for something that was not weighed here."""

    mass: Mass
    why: Label = "taken"


class WeighBody(BaseModel):
    """What is really left, weighed, empty bottle taken off. nothing: True when it is empty."""

    left: Mass | None = None
    nothing: bool = False


class MoveRow(BaseModel):
    kg: float
    why: str
    made_at: datetime


class MoveList(BaseModel):
    moves: list[MoveRow]


class BuyBody(BaseModel):
    piece_ids: list[int] = Field(max_length=200)


class BuyAnswer(BaseModel):
    """One answer a system, kits shared by all pieces; price_minor in all."""

    buy: list[ToBuy]
    price_minor: int
    unplanned: list[str]


class LeftoverQuery(BaseModel):
    volume_m3: float = Field(gt=0, le=10)
    system_id: Id
    colour: str = Field(default="", max_length=120)
    piece_id: int | None = None


class LeftoverAnswer(BaseModel):
    offers: list[Offer]


def _row(one: OnShelf, inputs: planning.Inputs, moment: datetime) -> BottleRow:
    system = inputs.sheets.get(one.bottle.goods_id) if one.bottle.goods == "system" else None
    until = good_until(one.bottle, system)
    return BottleRow(
        standing=one,
        good_until=until.isoformat() if until else None,
        verdicts=bottle_verdicts(one, system, moment.date(), Wording(inputs.workshop)),
    )


@blueprint.get("/stock", operation_id="readStock", responses={200: StockList})
def read_stock() -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        found = [_row(one, inputs, now()) for one in stock.listed(connection, shop)]
        reserved = reserving.reserved(connection, shop, now())
    return StockList(bottles=found, reserved=reserved).model_dump(mode="json")


@blueprint.post("/stock", operation_id="addBottle", responses={201: BottleRow})
def add_bottle(body: AddBottleBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        left = body.left.value if body.left else body.bottle.full_kg.value
        check_bottle(body.bottle, inputs, left, now().date())
        return _row(stock.add(connection, shop, body.bottle, left), inputs, now()).model_dump(
            mode="json"
        ), 201


@blueprint.post("/stock/kits", operation_id="addKit", responses={201: StockList})
def add_kit(body: AddKitBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        system = inputs.sheets.get(body.system_id)
        if system is None or body.kit >= len(system.kits):
            raise DomainError(
                argument="kit",
                value=f"{body.kit + 1} of {body.system_id}",
                allowed="its sheet has it",
                way_out="Enter the sizes it is sold in.",
                code="no-kit",
            )
        kit = system.kits[body.kit]
        price = kit.price_minor if body.price_minor is None else body.price_minor
        bottles = part_bottles(system, kit, body.lot, price)
        for bottle, kg in bottles:
            check_bottle(bottle, inputs, kg, now().date())
        added = [stock.add(connection, shop, bottle, kg) for _ in range(body.count) for bottle, kg in bottles]
        return StockList(bottles=[_row(one, inputs, now()) for one in added], reserved=[]).model_dump(
            mode="json"
        ), 201


@blueprint.put("/stock/<int:bottle_id>", operation_id="changeBottle", responses={200: BottleRow})
def change_bottle(path: BottlePath, body: Bottle, query: MadeOn) -> RouteAnswer:
    """Changed on a revision, joined with what was changed since; 409 where both changed the same value."""
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        there = stock.read(connection, shop, path.bottle_id)
        check_bottle(body, inputs, there.left_kg, now().date())
        return _row(
            stock.change(connection, shop, path.bottle_id, body, query.made_on), inputs, now()
        ).model_dump(mode="json")


@blueprint.post("/stock/<int:bottle_id>/take", operation_id="takeFromBottle", responses={200: BottleRow})
def take(path: BottlePath, body: TakeBody) -> RouteAnswer:
    """Refused below zero: the bottle's figure is wrong then, and has to be weighed."""
    with transaction() as connection:
        shop = workshop_id(connection)
        return _row(
            stock.take(connection, shop, path.bottle_id, body.mass.value, body.why),
            planning.inputs_of(connection, shop),
            now(),
        ).model_dump(mode="json")


@blueprint.post("/stock/<int:bottle_id>/weigh", operation_id="weighBottle", responses={200: BottleRow})
def weigh(path: BottlePath, body: WeighBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        if body.left is None and not body.nothing:
            raise DomainError(
                argument="left in it",
                value="not said",
                allowed="its weight, or that it is empty",
                way_out="Weigh the bottle and take off its empty weight.",
                code="nothing-said",
            )
        left = body.left.value if body.left and not body.nothing else 0.0
        check_sound(stock.read(connection, shop, path.bottle_id).bottle, left, now().date())
        return _row(
            stock.weigh_anew(connection, shop, path.bottle_id, left, "weighed anew"),
            planning.inputs_of(connection, shop),
            now(),
        ).model_dump(mode="json")


@blueprint.get("/stock/<int:bottle_id>/moves", operation_id="readMoves", responses={200: MoveList})
def read_moves(path: BottlePath) -> RouteAnswer:
    with transaction() as connection:
        found = stock.moves(connection, workshop_id(connection), path.bottle_id)
    return MoveList(moves=[MoveRow(kg=one.kg, why=one.why, made_at=one.made_at) for one in found]).model_dump(
        mode="json"
    )


@blueprint.delete("/stock/<int:bottle_id>", operation_id="removeBottle", responses={204: None})
def remove(path: BottlePath) -> RouteAnswer:
    with transaction() as connection:
        stock.remove(connection, workshop_id(connection), path.bottle_id)
    return "", 204


@blueprint.post(
    "/stock/<int:bottle_id>/bring-back", operation_id="bringBackBottle", responses={200: BottleRow}
)
def bring_back(path: BottlePath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        return _row(
            stock.bring_back(connection, shop, path.bottle_id), planning.inputs_of(connection, shop), now()
        ).model_dump(mode="json")


@blueprint.post("/purchase", operation_id="planPurchase", responses={200: BuyAnswer})
def plan_purchase(body: BuyBody) -> RouteAnswer:
    """The cheapest kits for these pieces together, each system's needs sharing its kits. Nothing is
    stored.
    """
    with transaction() as connection:
        found = purchase_for(connection, workshop_id(connection), body.piece_ids, now())
    price = sum(one.price_minor for one in found.buy)
    return BuyAnswer(buy=found.buy, price_minor=price, unplanned=found.unplanned).model_dump(mode="json")


@blueprint.get("/leftovers", operation_id="placeLeftover", responses={200: LeftoverAnswer})
def place_leftover(query: LeftoverQuery) -> RouteAnswer:
    """Voids of other pieces that wait for this very resin and colour and take whole hollows of it."""
    with transaction() as connection:
        found = reserving.waiting(connection, workshop_id(connection), now(), query.piece_id)
    return LeftoverAnswer(offers=offers(query.volume_m3, query.system_id, query.colour, found)).model_dump(
        mode="json"
    )
