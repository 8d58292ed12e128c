"""The cheapest set of kits that covers what is needed, exactly: whole kits, stock first, nothing kept open
too long. Rule 3.4.

Needs of one system share its kits. A kit opened for one need serves all later ones until its opened life is
over.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from .openings import best_openings

GRAM_KG = 1e-3
FOREVER_S = float("inf")


@dataclass(frozen=True)
class Offer:
    """One size on sale: mass of A and B together [kg], price in minor units."""

    name: str
    mass_kg: float
    price_minor: int


@dataclass(frozen=True)
class Need:
    """What has to be there at a moment [s from any common zero], in kg of mix."""

    name: str
    mass_kg: float
    at_s: float = 0.0


@dataclass(frozen=True)
class Held:
    """Usable mix on the shelf already [kg], good until a moment."""

    mass_kg: float
    until_s: float = FOREVER_S


@dataclass(frozen=True, kw_only=True)
class Purchase:
    """bought: (offer, how many, opened for which need in order of time); left_kg: of it and of the stock when
    all needs are met.
    """

    bought: tuple[tuple[Offer, int, int], ...]
    price_minor: int
    need_kg: float
    from_stock_kg: float
    left_kg: float

    @property
    def counts(self) -> dict[Offer, int]:
        found: dict[Offer, int] = {}
        for offer, count, _ in self.bought:
            found[offer] = found.get(offer, 0) + count
        return found


def _grams(mass_kg: float, *, up: bool) -> int:
    """Whole grams: needs round up, kits and bottles down, so that a plan is never short."""
    exact = mass_kg / GRAM_KG
    near = round(exact)
    if abs(exact - near) < 1e-6:
        return near
    return int(exact) + (1 if up else 0)


def useful(offers: Sequence[Offer]) -> list[Offer]:
    """Without those that another one beats: as much or more for less money. Of two at one price both stay:
    less may be left over.
    """
    kept: list[Offer] = []
    least = None
    for offer in sorted(offers, key=lambda one: (-one.mass_kg, one.price_minor)):
        if least is None or offer.price_minor <= least:
            kept.append(offer)
            least = offer.price_minor
    return kept[::-1]


def _check_offers(offers: Sequence[Offer]) -> None:
    for offer in offers:
        if not offer.mass_kg > 0 or offer.price_minor < 0:
            raise DomainError(
                argument="kit",
                value=f"{plainly(offer.mass_kg * 1000)} g at {offer.price_minor}",
                allowed="it holds something and costs nothing or more",
                way_out="Correct it.",
            )


def cheapest(
    offers: Sequence[Offer],
    needs: Sequence[Need],
    held: Sequence[Held] = (),
    opened_life_s: float = FOREVER_S,
) -> Purchase:
    """The least price; among equal prices the least bought. Exact in whole grams (needs up, kits down).

    The shelf's bottles are used first, what goes off first before the rest; kits are bought for what is then
    short, and only when it is short:
    a kit opened later keeps longer, so opening early never pays, and when one is opened all older ones are
    empty. So

        V_j(r) = min_y  G(y) + W_j(y - r)      r grams of need j are short, y are opened for it
        W_j(z) = V_i(C_i - z) for the need i at which z runs out within the opened life, V_m+1(d_m+1) when it
        outlasts it
        G(y)   = min_k  p_k + G(y - a_k)       unbounded knapsack

    Raises Infeasible without offers where stock does not do, DomainError for an offer that is not positive.
    Source: dynamic programming (Bellman); the cover problem of the unbounded knapsack.
    """
    _check_offers(offers)
    order = sorted((need for need in needs if need.mass_kg > 0), key=lambda need: need.at_s)
    total = sum(_grams(need.mass_kg, up=True) for need in order)
    most = sum(_grams(one.mass_kg, up=False) for one in held)
    short = _after_stock(order, held)
    bought = _bought(offers, order, short, opened_life_s) if any(short) else ()
    used = total - sum(short)
    amount = sum(_grams(offer.mass_kg, up=False) * count for offer, count, _ in bought)
    return Purchase(
        bought=bought,
        price_minor=sum(offer.price_minor * count for offer, count, _ in bought),
        need_kg=total * GRAM_KG,
        from_stock_kg=used * GRAM_KG,
        left_kg=(most + amount - total) * GRAM_KG,
    )


def _bought(
    offers: Sequence[Offer], order: Sequence[Need], short: Sequence[int], opened_life_s: float
) -> tuple[tuple[Offer, int, int], ...]:
    """What is bought for what is short: the offer, how many, and the index of the need it is opened for."""
    open_needs = [
        (index, need.at_s, grams)
        for index, (need, grams) in enumerate(zip(order, short, strict=True))
        if grams
    ]
    choice = [offer for offer in useful(offers) if _grams(offer.mass_kg, up=False) > 0]
    if not choice:
        raise Infeasible(
            argument="kits",
            value="none with a price",
            allowed=f"{sum(short) * GRAM_KG:.2f} kg have to be bought",
            way_out="Enter the sizes it is sold in.",
            code="no-kits",
        )
    opened = best_openings(
        [(_grams(offer.mass_kg, up=False), offer.price_minor) for offer in choice],
        [(at, grams) for _, at, grams in open_needs],
        opened_life_s,
    )
    return tuple(
        (choice[kit], count, open_needs[place][0])
        for place, kits in opened
        for kit, count in sorted(kits.items())
    )


def _after_stock(order: list[Need], held: Sequence[Held]) -> list[int]:
    """What each need is short of [g], earliest need first, from the bottle that goes off first."""
    bottles = sorted([one.until_s, float(_grams(one.mass_kg, up=False))] for one in held)
    short = []
    for need in order:
        grams = _grams(need.mass_kg, up=True)
        for bottle in bottles:
            if bottle[0] >= need.at_s:
                taken = min(grams, int(bottle[1]))
                bottle[1] -= taken
                grams -= taken
        short.append(grams)
    return short
