"""A short bad day: the long one is ./cavatum speed web."""

from tests.scenes.faults import bad_day, own_home


def test_killed_processes_lose_and_double_nothing_and_need_no_hand(tmp_path):
    day = bad_day(own_home(tmp_path), 16, seed=4, pause_s=0.6)
    assert day.wrong == [] and sum(day.kills.values()) == 16 and len(day.kills) >= 4
    assert sum(len(one) for one in day.acknowledged.values()) > 40 and day.jobs_done == day.jobs_asked != set()
