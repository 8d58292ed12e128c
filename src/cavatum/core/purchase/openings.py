"""The dynamic programme of purchase.py: which kits to open for which need, in whole grams and whole prices,
proven least. Rule 3.4.
"""

from __future__ import annotations

import numpy as np

NEVER = np.int64(2**62)
Kits = list[tuple[int, int]]  # (grams, price)
Needs = list[tuple[float, int]]  # (moment [s], grams), in order of time


def best_openings(kits: Kits, needs: Needs, life_s: float) -> list[tuple[int, dict[int, int]]]:
    """(need it is opened for, {kit: how many}) of the least price, and of those the least bought.

    kits, needs  amounts > 0; the moments do not fall
    Price and amount are one whole number, price first: exact.
    """
    total = sum(grams for _, grams in needs)
    weight = total + len(needs) * max(grams for grams, _ in kits) + 1  # more than can ever sensibly be bought
    costs = [(grams, price * weight + grams) for grams, price in kits]
    last = _last_in_life(needs, life_s)
    exact = _knapsack(
        costs, max(sum(grams for _, grams in needs[j : last[j] + 1]) for j in range(len(needs)))
    )
    if last[0] == len(needs) - 1:
        amount = total + int(np.argmin(exact[total:]))
        return [(0, _which(costs, exact, amount))]
    amounts = _worth_opening(exact, _gap(costs, exact, needs, last))
    values = _values(exact, amounts, needs, last)
    return _read_back(costs, exact, amounts, values, needs, last)


def _last_in_life(needs: Needs, life_s: float) -> list[int]:
    """The last need that what is opened for need j still serves."""
    return [
        max(i for i in range(j, len(needs)) if needs[i][0] - needs[j][0] <= life_s) for j in range(len(needs))
    ]


def _knapsack(costs: Kits, most: int) -> np.ndarray:
    """G(y) for y = 0 to most + the largest kit: the least cost of exactly y grams."""
    size = most + max(grams for grams, _ in costs) + 1
    exact = np.full(size, NEVER)
    exact[0] = 0
    for grams, cost in costs:
        for low in range(grams, size, grams):  # a block of `grams` rests on the one before it only
            high = min(low + grams, size)
            np.minimum(exact[low:high], exact[low - grams : high - grams] + cost, out=exact[low:high])
    return exact


def _gap(costs: Kits, exact: np.ndarray, needs: Needs, last: list[int]) -> float:
    """How much dearer than by the cheapest gram a plain plan is (each opening for all of its life): nothing
    wasteful beyond that can be best.
    """
    cover = np.minimum.accumulate(exact[::-1])[::-1]
    plain, j = 0, 0
    while j < len(needs):
        plain += int(cover[sum(grams for _, grams in needs[j : last[j] + 1])])
        j = last[j] + 1
    return plain - min(cost / grams for grams, cost in costs) * sum(grams for _, grams in needs)


def _worth_opening(exact: np.ndarray, gap: float) -> np.ndarray:
    """Amounts y that no larger one beats and that waste no more than the gap."""
    reached = np.flatnonzero(exact < NEVER)[1:]
    cheapest_gram = float(np.min(exact[reached] / reached))
    beaten = np.minimum.accumulate(exact[::-1])[::-1][reached] < exact[reached]
    waste = exact[reached] - cheapest_gram * reached
    return np.asarray(reached[~beaten & (waste <= gap * (1 + 1e-9) + 1)])


def _after(j: int, last: list[int], needs: Needs, values: list[np.ndarray], size: int) -> np.ndarray:
    """W_j(z) for z = 0 to size - 1, from the values of later needs."""
    count = len(needs)

    def whole(i: int) -> np.int64:
        return np.int64(0) if i >= count else values[i][needs[i][1]]

    result = np.full(size, whole(last[j] + 1))
    begin = 0
    for i in range(j + 1, last[j] + 1):
        grams = needs[i][1]
        stop = min(begin + grams, size)
        if begin >= size:
            break
        result[begin:stop] = values[i][grams : grams - (stop - begin) : -1]
        begin += grams
    return result


def _values(exact: np.ndarray, amounts: np.ndarray, needs: Needs, last: list[int]) -> list[np.ndarray]:
    """V_j(r) for r = 0 to the need, last need first."""
    values: list[np.ndarray] = [np.empty(0, np.int64)] * len(needs)
    for j in range(len(needs) - 1, -1, -1):
        grams = needs[j][1]
        after = _after(j, last, needs, values, len(exact))
        best = np.full(grams + 1, NEVER)
        best[0] = 0
        for y in amounts:
            top = min(int(y), grams)
            # r = 1 .. top leaves y - 1 .. y - top
            np.minimum(best[1 : top + 1], after[y - top : y][::-1] + exact[y], out=best[1 : top + 1])
        values[j] = best
    return values


def _read_back(
    costs: Kits,
    exact: np.ndarray,
    amounts: np.ndarray,
    values: list[np.ndarray],
    needs: Needs,
    last: list[int],
) -> list[tuple[int, dict[int, int]]]:
    """The choices along the best way."""
    opened, j, short = [], 0, needs[0][1]
    while j < len(needs):
        after = _after(j, last, needs, values, len(exact))
        enough = amounts[amounts >= short]
        y = int(enough[np.argmin(exact[enough] + after[enough - short])])
        opened.append((j, _which(costs, exact, y)))
        left, i = y - short, j + 1
        while i <= last[j] and left >= needs[i][1]:
            left -= needs[i][1]
            i += 1
        short = 0 if i >= len(needs) else needs[i][1] - (left if i <= last[j] else 0)
        j = i
    return opened


def _which(costs: Kits, exact: np.ndarray, amount: int) -> dict[int, int]:
    """Which kits make up an amount, by walking G back."""
    found: dict[int, int] = {}
    while amount:
        kit = next(
            k
            for k, (grams, cost) in enumerate(costs)
            if grams <= amount and exact[amount - grams] + cost == exact[amount]
        )
        found[kit] = found.get(kit, 0) + 1
        amount -= costs[kit][0]
    return found
