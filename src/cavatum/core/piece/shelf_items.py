"""What stands on the shelf besides resin: colourants, recipes, moulds and form materials, by id."""

from __future__ import annotations

from ..common.working import Data
from .colour import Colourant, Recipe
from .form_material import FormMaterial


class ShelfItems(Data):
    colourants: dict[str, Colourant] = {}
    recipes: dict[str, Recipe] = {}
    materials: dict[str, FormMaterial] = {}


NONE = ShelfItems()
