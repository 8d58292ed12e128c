"""The cheapest kits, against brute force over every set of kits on small cases, and by hand."""

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.purchase.solver import FOREVER_S, Held, Need, Offer, cheapest, useful

DAY = 86400.0
KITS = [
    Offer("1 kg", 1.0, 2400),
    Offer("4 kg", 4.0, 8200),
    Offer("8 kg", 8.0, 15000),
    Offer("20 kg", 20.0, 34500),
]


def test_a_larger_kit_wins_where_it_costs_less_than_two_smaller_ones():
    # hand-worked: 3.2 kg is 4 x 24.00 = 96.00 or 1 x 82.00
    found = cheapest(KITS, [Need("seat", 3.2)])
    assert found.counts == {KITS[1]: 1} and found.price_minor == 8200 and found.left_kg == pytest.approx(0.8)


def test_kits_are_mixed_when_that_is_cheapest():
    # hand-worked: 9 kg: 8 + 1 = 174.00; 3 x 4 = 246.00; 9 x 1 = 216.00; 20 = 345.00
    assert cheapest(KITS, [Need("block", 9.0)]).counts == {KITS[0]: 1, KITS[2]: 1}


def test_pieces_share_one_kit():
    alone = sum(cheapest(KITS, [Need(name, 1.9)]).price_minor for name in ("one", "two"))
    together = cheapest(KITS, [Need("one", 1.9), Need("two", 1.9)])
    assert together.price_minor == 8200 < alone


def test_the_shelf_is_used_first_and_nothing_is_bought_when_it_does():
    found = cheapest(KITS, [Need("one", 1.5)], [Held(2.0)])
    assert (
        found.price_minor == 0
        and found.from_stock_kg == pytest.approx(1.5)
        and found.left_kg == pytest.approx(0.5)
    )


def test_a_bottle_past_its_date_by_then_does_not_count():
    assert cheapest(KITS, [Need("one", 1.5, 40 * DAY)], [Held(2.0, 30 * DAY)]).price_minor == 4800


def test_what_is_opened_and_over_cannot_wait_for_a_pour_after_its_life():
    # 0.5 kg now and 0.5 kg in 100 days: one kit if it keeps, two if it keeps 90 days
    needs = [Need("now", 0.5), Need("later", 0.5, 100 * DAY)]
    assert cheapest(KITS, needs, opened_life_s=120 * DAY).price_minor == 2400
    found = cheapest(KITS, needs, opened_life_s=90 * DAY)
    assert found.price_minor == 4800 and [opened for _, _, opened in found.bought] == [0, 1]


def test_of_equal_prices_the_one_that_leaves_least_is_taken():
    offers = [Offer("small", 1.0, 1000), Offer("large", 2.0, 1000)]
    assert cheapest(offers, [Need("one", 0.9)]).counts == {offers[0]: 1}
    assert useful(offers) == offers


def test_no_kits_with_a_price_is_said():
    with pytest.raises(Infeasible, match="none with a price"):
        cheapest([], [Need("one", 1.0)])
    with pytest.raises(DomainError):
        cheapest([Offer("empty", 0.0, 100)], [Need("one", 1.0)])


def brute(offers: list[Offer], needs: list[Need], life_s: float) -> tuple[int, int]:
    """(price, grams) of the best set of openings, by trying every number of every kit at every need."""
    total = sum(round(need.mass_kg * 1000) for need in needs)
    most = [-(-total // round(offer.mass_kg * 1000)) for offer in offers]
    sets = [counts for counts in product(*(range(one + 1) for one in most))]
    best = None
    for plan in product(sets, repeat=len(needs)):
        price = sum(
            count * offer.price_minor for counts in plan for count, offer in zip(counts, offers, strict=True)
        )
        grams = sum(
            count * round(offer.mass_kg * 1000)
            for counts in plan
            for count, offer in zip(counts, offers, strict=True)
        )
        if (best is None or (price, grams) < best) and covers(plan, offers, needs, life_s):
            best = (price, grams)
    assert best is not None  # one kit in plenty covers everything
    return best


def covers(plan, offers, needs, life_s) -> bool:
    open_kits: list[list[float]] = []
    for need, counts in zip(needs, plan, strict=True):
        open_kits.append(
            [
                need.at_s + life_s,
                sum(count * round(offer.mass_kg * 1000) for count, offer in zip(counts, offers, strict=True)),
            ]
        )
        short = round(need.mass_kg * 1000)
        for kit in open_kits:
            if kit[0] >= need.at_s:
                taken = min(short, kit[1])
                kit[1] -= taken
                short -= taken
        if short:
            return False
    return True


SMALL = st.lists(
    st.tuples(st.integers(2, 9), st.integers(1, 9)), min_size=1, max_size=2, unique_by=lambda one: one[0]
)


@settings(max_examples=60)
@given(
    SMALL,
    st.lists(st.tuples(st.integers(1, 9), st.integers(0, 20)), min_size=1, max_size=3),
    st.sampled_from([3.0, 8.0, FOREVER_S]),
)
def test_it_is_as_cheap_as_the_best_of_all_sets(sizes, wants, life):
    offers = [Offer(f"{grams} g", grams / 1000, price) for grams, price in sizes]
    needs = sorted(
        (Need(f"need {i}", grams / 1000, float(at)) for i, (grams, at) in enumerate(wants)),
        key=lambda need: need.at_s,
    )
    found = cheapest(offers, needs, opened_life_s=life)
    bought = sum(round(offer.mass_kg * 1000) * count for offer, count, _ in found.bought)
    assert (found.price_minor, bought) == brute(offers, needs, life)


@settings(max_examples=60)
@given(
    SMALL,
    st.lists(st.tuples(st.integers(1, 9), st.integers(0, 20)), min_size=1, max_size=5),
    st.sampled_from([3.0, 8.0, FOREVER_S]),
)
def test_what_is_bought_covers_every_need_in_its_time(sizes, wants, life):
    offers = [Offer(f"{grams} g", grams / 1000, price) for grams, price in sizes]
    needs = sorted(
        (Need(f"need {i}", grams / 1000, float(at)) for i, (grams, at) in enumerate(wants)),
        key=lambda need: need.at_s,
    )
    found = cheapest(offers, needs, opened_life_s=life)
    plan = [
        [
            sum(count for one, count, opened in found.bought if one == offer and opened == i)
            for offer in offers
        ]
        for i in range(len(needs))
    ]
    assert covers(plan, offers, needs, life)
