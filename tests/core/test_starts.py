"""Every start tried at once, against the days laid out one by one; and what is said where nobody is there."""

from datetime import timedelta

import pytest

from cavatum.core.clock.hours import is_attended
from cavatum.core.clock.starts import bands, best_start, latest_of_the_day, try_starts
from cavatum.core.clock.windows import whole_half_hour
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.starts import judged_by_hand, latest_by_hand, random_job

SAID = {"pour-outside-hours", "step-outside-hours"}


@pytest.mark.parametrize("seed", range(60))
def test_starts_tried_at_once_come_to_what_each_comes_to_by_itself(seed):
    job, shop = random_job(seed)
    starts = [NOW + timedelta(minutes=37 * number) for number in range(160)]
    tried = try_starts(job, shop, starts)
    found = list(zip(tried.possible.tolist(), tried.missed.tolist(), tried.alone.tolist(), strict=True))
    for start, one in zip(starts, found, strict=True):
        by_hand = judged_by_hand(job, shop, start)
        assert one[0] == by_hand[0], start
        if one[0]:
            assert one == by_hand, start


@pytest.mark.parametrize("seed", range(6))
def test_the_latest_start_of_a_day_is_that_of_trying_every_minute(seed):
    job, shop = random_job(1000 + seed)
    best = best_start(job, shop, whole_half_hour(job.ready))
    day = best.at if best else job.ready
    found, by_hand = latest_of_the_day(job, shop, day), latest_by_hand(job, shop, day)
    assert (found.at if found and found.missed + found.alone == 0 else None) == by_hand


def test_bands_tile_the_days_and_say_what_a_start_in_them_comes_to():
    job, shop = random_job(7)
    found = bands(job, shop, NOW)
    assert all(one.to_at == two.from_at for one, two in zip(found, found[1:], strict=False))
    for one in found:
        possible, missed, alone = judged_by_hand(job, shop, one.from_at)
        wanted = "impossible" if not possible else "good" if missed + alone == 0 else "misses"
        assert one.judged == wanted


def plan_at(hour, day=3, **changes):
    start = NOW.replace(day=day, hour=hour, minute=0)
    piece = box_piece(
        kind_of_work="deep pour", first_pour_at=start.isoformat(), voids=[box_void()], **changes
    )
    return make_plan(piece, SHEETS, workshop(), NOW, in_full=False)


def said(plan):
    return {one.code: one for one in plan.verdicts if one.code in SAID}


@pytest.mark.parametrize("hour", range(24))
def test_no_hands_on_moment_outside_hours_goes_without_a_verdict(hour):
    plan, shop = plan_at(hour), workshop()
    found = said(plan)
    mixing = [one for one in plan.clock.pins if one.kind == "pour"]
    assert any(not is_attended(shop, one.at, one.until) for one in mixing) == ("pour-outside-hours" in found)
    alone = [one for one in plan.steps if one.at is None and one.hands_s > 0]
    assert bool(alone) == ("step-outside-hours" in found)
    assert all(one.weight == "warning" and one.stage == "clock" and one.todo for one in found.values())


def test_a_start_at_two_at_night_says_by_when_and_when_next():
    plan = plan_at(2)
    words = said(plan)["pour-outside-hours"]
    assert "the one by Tue 3 Mar, " in words.todo and "misses least" in words.todo
    assert "next start: Wed 4 Mar, 07:30" in words.todo
    stage = next(one for one in plan.stages if one.stage == "clock")
    assert stage.state == "needs you" and "Nobody is here" in stage.reason


def test_a_start_so_late_that_rounds_fall_into_the_evening_says_by_when_and_who_else():
    words = said(plan_at(17, day=4))["step-outside-hours"]
    assert "last look of the first hour" in words.text and "Start by Wed 4 Mar, 0" in words.todo
    assert "Somebody else" in words.todo


def test_what_lies_behind_is_not_judged_any_more():
    """Poured on Sunday night at two: on Monday nobody is told to start by Sunday noon."""
    start = NOW.replace(day=1, hour=2, minute=0)
    piece = box_piece(
        kind_of_work="deep pour", first_pour_at=start.isoformat(), voids=[box_void(depth="30 mm")]
    )
    plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    assert "pour-outside-hours" not in said(plan)
    assert all("round" not in one.text for one in said(plan).values())
