"""Colourants, recipes and form materials kept as versions, and a weighed batch's colour as a recipe. Rule
5.6.
"""

from __future__ import annotations

from dataclasses import dataclass

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.mix.recipe import from_record, lot_differences, parts_of
from ..core.mix.weigh_events import WeighState
from ..core.mix.weighing import reduce
from ..core.piece.colour import RecipePart
from ..core.purchase.stock import OnShelf
from ..store import shelf_items as shelf
from ..store import stock, weighings


def keep_version(
    connection: Connection, shop: int, kind: shelf.Kind, good_id: str, body: shelf.Good
) -> shelf.Good:
    """A new one, or the next version of one. `version` in the body is the one it was made on; what was
    changed
    since is joined with it.

    Raises revisions.Changed where both changed the same value.
    """
    return shelf.change(connection, shop, kind, body.model_copy(update={"id": good_id}))


@dataclass(frozen=True, kw_only=True)
class Repeated:
    """parts: shares of the clear mix. lots: then; said: which of them are others now."""

    parts: list[RecipePart]
    lots: dict[str, str]
    said: list[str]


def _colourants_in(state: WeighState) -> tuple[dict[str, float], dict[str, str]]:
    """What was taken of each colourant [kg], and of which lot last."""
    grams: dict[str, float] = {}
    lots: dict[str, str] = {}
    for step in state.steps:
        id_ = step.key.partition("/")[2]
        if step.kind == "colourant" and step.taken_kg > 0:
            grams[id_] = grams.get(id_, 0.0) + step.taken_kg
            lots[id_] = ", ".join(step.lots)
    return grams, lots


def _lots_now(bottles: list[OnShelf]) -> dict[str, str]:
    """The lots of colourants that are not used up."""
    open_ = [one.bottle for one in bottles if one.bottle.goods == "colourant" and one.left_kg > 0]
    return {one.goods_id: one.lot for one in open_}


def colour_of_weighing(connection: Connection, shop: int, weighing_id: int) -> Repeated:
    """The colour of a weighed batch as a recipe, with what its lots are now.

    Raises DomainError for a batch of several colours.
    """
    one = weighings.read(connection, shop, weighing_id)
    shelf_items, bottles = shelf.newest(connection, shop), stock.listed(connection, shop)
    state = reduce(one.task, one.plain)
    grams, then = _colourants_in(state)
    coloured = {
        number for number, cup in enumerate(one.task.cups) for dose in cup.colourants if dose.id in grams
    }
    if len(coloured) > 1:
        raise DomainError(
            argument="batch",
            value="of several colours",
            allowed="one colour is repeated at a time",
            way_out="Choose a batch of one colour, or its recipe.",
            code="several",
        )
    share = one.task.cups[next(iter(coloured))].share if coloured else 1.0
    lots = _lots_now(bottles)
    names = {id_: shelf_items.colourants[id_].name if id_ in shelf_items.colourants else id_ for id_ in grams}
    return Repeated(
        parts=parts_of(from_record(grams, state.total_kg * share)),
        lots={id_: lot for id_, lot in then.items() if lot},
        said=lot_differences(then, lots, names),
    )
