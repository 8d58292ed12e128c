"""What to buy for plans: their needs by system, the shelf's bottles, the sheet's kits, one exact answer each.
Rule 3.4.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..common.errors import DomainError
from ..common.working import Data
from ..resin.ratio import MixRatio, ratio_of
from ..resin.system import Kit, System
from .solver import FOREVER_S, Need, Offer, Purchase, cheapest
from .stock import Bottle, OnShelf, PartNeed, held


class Line(Data):
    """So many of one kit. opened_for: the need it is opened for first."""

    kit: Kit
    count: int
    price_minor: int
    opened_for: str


class ToBuy(Data):
    """One system's answer. problem: why there is none."""

    system_id: str
    name: str
    need_kg: float
    from_stock_kg: float
    left_kg: float
    lines: list[Line]
    price_minor: int
    needs: list[PartNeed]
    problem: str = ""
    opened_life_days: float | None = None


def offers_of(system: System, ratio: MixRatio) -> dict[Offer, Kit]:
    """The sheet's kits as masses of A and B together. A kit by volume is its volume times the density of the
    mix.
    """
    found: dict[Offer, Kit] = {}
    for number, kit in enumerate(system.kits):
        mass = kit.amount if kit.by == "mass_kg" else kit.amount * ratio.mixed_density
        found[Offer(f"{number}", mass, kit.price_minor)] = kit
    return found


def to_buy(system: System, needs: Sequence[PartNeed], stock: Sequence[OnShelf], now: datetime) -> ToBuy:
    """The cheapest kits for all needs of one system together, bottles first; a need without a moment counts
    as now.

    Raises nothing: what cannot be answered is said in `problem`.
    """
    mine = [one for one in needs if one.system_id == system.id]
    total = sum(one.a_kg + one.b_kg for one in mine)
    life = system.shelf_life_s.value if system.shelf_life_s else FOREVER_S
    base = ToBuy(
        system_id=system.id,
        name=system.name,
        need_kg=total,
        from_stock_kg=0.0,
        left_kg=0.0,
        lines=[],
        price_minor=0,
        needs=mine,
        opened_life_days=None if life == FOREVER_S else life / 86400,
    )
    try:
        ratio = ratio_of(system)
        kits = offers_of(system, ratio)
        wanted = [
            Need(one.who, one.a_kg + one.b_kg, max((one.at - now).total_seconds(), 0.0) if one.at else 0.0)
            for one in mine
        ]
        found: Purchase = cheapest(list(kits), wanted, held(stock, system, ratio, now), life)
    except DomainError as error:
        return base.model_copy(
            update={
                "problem": f"{error.argument.capitalize()}: {error.value}; {error.allowed}. {error.way_out}"
            }
        )
    order = sorted((one for one in wanted if one.mass_kg > 0), key=lambda one: one.at_s)
    lines = [
        Line(
            kit=kits[offer], count=count, price_minor=offer.price_minor * count, opened_for=order[opened].name
        )
        for offer, count, opened in found.bought
    ]
    # Needs are rounded up to whole grams one by one, so that their sum may be a gram or two over what is
    # really needed.
    return base.model_copy(
        update={
            "from_stock_kg": min(found.from_stock_kg, total),
            "left_kg": found.left_kg,
            "lines": lines,
            "price_minor": found.price_minor,
        }
    )


def part_bottles(system: System, kit: Kit, lot: str, price_minor: int | None) -> list[tuple[Bottle, float]]:
    """A kit as it comes home: a bottle of each part, full, its price shared by weight."""
    ratio = ratio_of(system)
    mass = kit.amount if kit.by == "mass_kg" else kit.amount * ratio.mixed_density
    a = ratio.part_a(mass)
    found = []
    for part, kg in (("A", a), ("B", mass - a)):
        price = None if price_minor is None else round(price_minor * kg / mass)
        found.append(
            (
                Bottle.model_validate(
                    {
                        "goods": "system",
                        "goods_id": system.id,
                        "part": part,
                        "lot": lot,
                        "full_kg": {"value": kg, "origin": kit.origin},
                        "price_minor": price,
                    }
                ),
                kg,
            )
        )
    return found
