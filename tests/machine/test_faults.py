"""A short bad day: the long one is ./cavatum speed web."""

import pytest

from tests.scenes.faults import bad_day, own_home, own_network


@pytest.mark.long
def test_kills_cuts_and_a_wrong_clock_lose_and_double_nothing_and_need_no_hand(tmp_path):
    with own_network():
        day = bad_day(own_home(tmp_path), 16, seed=4, pause_s=0.6, cuts=1, clock_jumps=3)
    assert day.wrong == [] and sum(day.kills.values()) == 16 and len(day.kills) >= 4
    assert day.cuts == 1 and day.clock_jumps == 3
    assert (
        sum(len(one) for one in day.acknowledged.values()) > 40 and day.jobs_done == day.jobs_asked != set()
    )
