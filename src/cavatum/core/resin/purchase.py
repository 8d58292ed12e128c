"""The cheapest set of kits that covers what is needed, exactly: whole kits, stock first, nothing kept open too long. Rule 3.4.

Needs of one system share its kits. A kit opened for one need serves all later ones until its opened life is over.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import DomainError, Infeasible

STEP_KG = 1e-4  # amounts are whole tenths of a gram inside, so that covering is exact
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


@dataclass(frozen=True)
class Purchase:
    """bought: (offer, how many, opened for which need in order of time); left_kg: of it and of the stock when all needs are met."""

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


def _steps(mass_kg: float, *, up: bool) -> int:
    """Whole tenths of a gram: needs round up, what is bought rounds down, so that a plan is never short."""
    exact = mass_kg / STEP_KG
    near = round(exact)
    if abs(exact - near) < 1e-6:
        return near
    return int(exact) + (1 if up else 0)


def useful(offers: Sequence[Offer]) -> list[Offer]:
    """Without those that another one beats: as much or more for less money. Of two at one price both stay: less may be left over."""
    kept: list[Offer] = []
    least = None
    for offer in sorted(offers, key=lambda one: (-one.mass_kg, one.price_minor)):
        if least is None or offer.price_minor <= least:
            kept.append(offer)
            least = offer.price_minor
    return kept[::-1]


def cheapest(offers: Sequence[Offer], needs: Sequence[Need], held: Sequence[Held] = (), opened_life_s: float = FOREVER_S) -> Purchase:
    """The least price; among equal prices the least left over. Integer, proven.

        min sum p_k n_kj   so that   sum_(j <= i, t_i - t_j <= life) y_ji + stock_i = need_i,   sum_i y_ji <= sum_k a_k n_kj,   n whole

    j counts the moments at which kits are opened, each that of a need. Solved by branch and bound (HiGHS, gap 0), then covered anew in whole
    tenths of a gram, so that no rounding of the solver can leave a need short.
    Raises Infeasible without offers where stock does not do, DomainError for an amount that is not positive.
    Source: integer programming; the cover problem of the unbounded knapsack.
    """
    for offer in offers:
        if not offer.mass_kg > 0 or offer.price_minor < 0:
            raise DomainError("kit", f"{offer.mass_kg * 1000:g} g at {offer.price_minor}", "it holds something and costs nothing or more", "Correct it.")
    order = sorted((need for need in needs if need.mass_kg > 0), key=lambda need: need.at_s)
    wanted = [_steps(need.mass_kg, up=True) for need in order]
    stock = [_steps(one.mass_kg, up=False) for one in held]
    supplies = [Supply(steps, frozenset(i for i, need in enumerate(order) if need.at_s <= one.until_s)) for one, steps in zip(held, stock, strict=True)]
    if not _covers(wanted, supplies) and not offers:
        raise Infeasible("kits", "none with a price", "what the shelf does not hold has to be bought", "Enter the sizes it is sold in.", "no-kits")
    bought: list[tuple[Offer, int, int]] = []
    if not _covers(wanted, supplies):
        opened = [frozenset(i for i, need in enumerate(order) if 0 <= need.at_s - first.at_s <= opened_life_s) for first in order]
        starts = [0] if opened and len(opened[0]) == len(order) else list(range(len(order)))
        found = _solve(useful(offers), wanted, supplies, [opened[j] for j in starts])
        bought = [(offer, count, j) for j, group in zip(starts, found, strict=True) for offer, count in group]
        new = [Supply(_steps(offer.mass_kg, up=False) * count, opened[j]) for offer, count, j in bought]
        if not _covers(wanted, supplies + new):
            raise Infeasible("purchase", "not found", "the solver ends with whole kits that cover", "Try with fewer kits.", "solver")
    amount = sum(_steps(offer.mass_kg, up=False) * count for offer, count, _ in bought)
    total, most = sum(wanted), sum(stock)
    used = total - _lacking(wanted, supplies)
    return Purchase(tuple(bought), sum(offer.price_minor * count for offer, count, _ in bought), total * STEP_KG, used * STEP_KG,
                    (most + amount - total) * STEP_KG)


@dataclass(frozen=True)
class Supply:
    """What a bottle, or the kits opened for one need, can give [steps] and to which needs."""

    steps: int
    serves: frozenset[int]


def _lacking(wanted: list[int], supplies: list[Supply]) -> int:
    """Steps that nothing covers. Each need in order of time from what goes off first: with spans of time that is the best there is."""
    left = sorted(([max(one.serves, default=-1), one.steps, one.serves] for one in supplies), key=lambda one: one[0])
    short = 0
    for i, need in enumerate(wanted):
        for one in left:
            if i in one[2] and need:
                taken = min(need, one[1])
                one[1] -= taken
                need -= taken
        short += need
    return short


def _covers(wanted: list[int], supplies: list[Supply]) -> bool:
    return _lacking(wanted, supplies) == 0


def _solve(offers: list[Offer], needs: list[int], stock: list[Supply], opened: list[frozenset[int]]) -> list[list[tuple[Offer, int]]]:
    """Price first, then, at that price, what is left over. Columns: how many of each size at each opening, then how much goes from where to which need."""
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import lil_matrix

    sizes, groups = len(offers), len(opened)
    amounts = [_steps(offer.mass_kg, up=False) for offer in offers]
    pairs = [(j, i) for j, serves in enumerate([*opened, *(one.serves for one in stock)]) for i in sorted(serves)]
    whole = groups * sizes
    columns, sources = whole + len(pairs), groups + len(stock)
    rows = lil_matrix((sources + len(needs), columns))
    for j in range(groups):
        rows[j, j * sizes:(j + 1) * sizes] = amounts
    for place, (j, i) in enumerate(pairs):
        rows[j, whole + place] = -1.0
        rows[sources + i, whole + place] = 1.0
    low = np.concatenate([np.zeros(groups), [-float(one.steps) for one in stock], needs])
    most = np.concatenate([np.full(sources, np.inf), np.asarray(needs, float)])
    reach = [sum(needs[i] for i in serves) for serves in opened]
    upper = np.concatenate([[-(-reach[j] // amount) for j in range(groups) for amount in amounts], [float(needs[i]) for _, i in pairs]])
    kind = np.concatenate([np.ones(whole), np.zeros(len(pairs))])
    prices = np.concatenate([np.tile([float(offer.price_minor) for offer in offers], groups), np.zeros(len(pairs))])
    volumes = np.concatenate([np.tile(np.asarray(amounts, float), groups), np.zeros(len(pairs))])

    def solved(cost, constraints):
        done = milp(cost, constraints=constraints, integrality=kind, bounds=Bounds(0, upper), options={"mip_rel_gap": 0.0})
        if done.x is None:  # enough of one kit meets every need, so only the solver can have failed
            raise Infeasible("purchase", "not found", "the solver ends", "Try with fewer kits.", "solver")
        return np.rint(done.x[:whole])

    base = LinearConstraint(rows.tocsr(), low, most)
    least = float(solved(prices, [base]) @ prices[:whole])
    counts = solved(volumes, [base, LinearConstraint(prices.reshape(1, -1), -np.inf, least + 0.5)])
    return [[(offers[k], int(counts[j * sizes + k])) for k in range(sizes) if counts[j * sizes + k]] for j in range(groups)]
