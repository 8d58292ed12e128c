"""Bottles and what pieces need of them. Rule 3.4."""

from __future__ import annotations

from ..core.common.errors import DomainError
from ..core.purchase.stock import Bottle
from . import planning


def check_bottle(bottle: Bottle, inputs: planning.Inputs) -> None:
    known = bottle.goods_id in (inputs.sheets if bottle.goods == "system" else inputs.goods.colourants)
    if not known:
        raise DomainError(
            "bottle",
            f"of {bottle.goods_id}",
            "it is of something on the shelf",
            "Put its sheet on the shelf first.",
            "not-on-shelf",
        )
    if (bottle.goods == "system") != bool(bottle.part):
        raise DomainError(
            "part",
            bottle.part or "not said",
            "a system's bottle is part A or part B",
            "Look at its label.",
            "no-part",
        )
