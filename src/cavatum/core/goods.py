"""What stands on the shelf besides resin: colourants, recipes, moulds and form materials, by id."""

from __future__ import annotations

from .heat.form_material import FormMaterial
from .mix.colour import Colourant, Recipe
from .working import Data


class Goods(Data):
    colourants: dict[str, Colourant] = {}
    recipes: dict[str, Recipe] = {}
    materials: dict[str, FormMaterial] = {}


NONE = Goods()
