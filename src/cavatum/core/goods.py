"""What stands on the shelf besides resin: colourants, recipes, moulds and form materials, by id."""

from __future__ import annotations

from .form_material import FormMaterial
from .colour import Colourant, Recipe
from ..common.working import Data


class Goods(Data):
    colourants: dict[str, Colourant] = {}
    recipes: dict[str, Recipe] = {}
    materials: dict[str, FormMaterial] = {}


NONE = Goods()
