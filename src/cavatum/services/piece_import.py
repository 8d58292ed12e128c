"""A piece file's sheets, recipes, colourants and materials put on this shelf: alike ones are used, others
added under a free id.
"""

from __future__ import annotations

from typing import Any

from psycopg import Connection

from ..core.piece.coats import Coat
from ..core.piece.document import Piece
from ..core.piece.lays import Lay
from ..core.piece.parts import Portion, Void
from ..core.piece.shelf_items import ShelfItems
from ..store import shelf_items, systems


def with_own_shelf(connection: Connection, shop: int, piece: Piece) -> Piece:
    """The piece as it names things here, without what travelled in its file."""
    renamed = _systems(connection, shop, piece)
    recipes, materials = _goods(connection, shop, piece.goods) if piece.goods else ({}, {})

    def named_here(part: Portion | Lay) -> Any:
        return part.model_copy(
            update={
                "system_id": renamed.get(part.system_id or "", part.system_id),
                "recipe_id": recipes.get(part.recipe_id or "", part.recipe_id),
            }
        )

    def with_portions(void: Void) -> Any:
        return void.model_copy(update={"portions": [named_here(one) for one in void.portions]})

    def with_lays(coat: Coat) -> Any:
        return coat.model_copy(update={"lays": [named_here(one) for one in coat.lays]})

    def with_material(void: Void) -> Any:
        around = void.around
        if around is None or around.material_id not in materials:
            return void
        return void.model_copy(
            update={"around": around.model_copy(update={"material_id": materials[around.material_id]})}
        )

    return piece.model_copy(
        update={
            "voids": [with_material(with_portions(void)) for void in piece.voids],
            "coats": [with_lays(coat) for coat in piece.coats],
            "system_id": renamed.get(piece.system_id or "", piece.system_id),
            "systems": [],
            "workshop": None,
            "goods": None,
        }
    )


def _systems(connection: Connection, shop: int, piece: Piece) -> dict[str, str]:
    shelf = systems.newest(connection, shop)
    renamed = {}
    for sheet in piece.systems:
        id_, number = _free_id(shelf, sheet)
        if id_ not in shelf:
            name = sheet.name if number == 1 else f"{sheet.name} (from a file)"
            shelf[id_] = systems.add_version(
                connection, shop, sheet.model_copy(update={"id": id_, "name": name})
            )
        renamed[sheet.id] = id_
    return renamed


def _goods(connection: Connection, shop: int, brought: ShelfItems) -> tuple[dict[str, str], dict[str, str]]:
    """New names of recipes and of materials. Colourants go first, since recipes name them."""
    here = shelf_items.newest(connection, shop)
    colourants = {
        one: _put(connection, shop, "colourant", dict(here.colourants), good)
        for one, good in brought.colourants.items()
    }
    recipes = {}
    for one, recipe in brought.recipes.items():
        parts = [
            part.model_copy(update={"colourant_id": colourants.get(part.colourant_id, part.colourant_id)})
            for part in recipe.parts
        ]
        recipes[one] = _put(
            connection, shop, "recipe", dict(here.recipes), recipe.model_copy(update={"parts": parts})
        )
    return recipes, {
        one: _put(connection, shop, "material", dict(here.materials), good)
        for one, good in brought.materials.items()
    }


def _put(connection: Connection, shop: int, kind: Any, shelf: dict[str, Any], good: Any) -> str:
    id_, number = _free_id(shelf, good)
    if id_ not in shelf:
        name = good.name if number == 1 else f"{good.name} (from a file)"
        shelf_items.add_version(connection, shop, kind, good.model_copy(update={"id": id_, "name": name}))
    return id_


def _free_id(shelf: dict[str, Any], one: Any) -> tuple[str, int]:
    id_, number = one.id, 1
    while id_ in shelf and not _same(shelf[id_], one):
        number += 1
        id_ = f"{one.id[:36]}-{number}"
    return id_, number


def _same(one: Any, other: Any) -> bool:
    skip = {"id", "version", "name"}
    return bool(one.model_dump(exclude=skip) == other.model_dump(exclude=skip))
