"""Pieces as the schedule's jobs, planned together with the heat run again; clashes and ways out in words;
when to begin.
"""

from dataclasses import replace
from datetime import timedelta

import pytest

from cavatum.core.clock.hours import open_spans
from cavatum.core.clock.schedule import minimal_clash, solve
from cavatum.core.clock.schedule_check import broken
from cavatum.core.clock.schedule_greedy import greedy
from cavatum.core.clock.schedule_model import Mode, PieceToPlace, Shop, Solution, Work
from cavatum.core.common.wording import Wording
from cavatum.core.piece.shelf_items import NONE
from cavatum.core.plan import make_plan
from cavatum.core.schedule.plan_together import other_ways, plan_together, start_advice
from cavatum.core.schedule.together import Planned, job_of, roomy, shop_of
from cavatum.core.schedule.ways_out import clash_words, ways_out
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop

TWO = workshop(people=2, shelves=2)


def silent(share: float, words: str) -> bool:
    return True


def planned(id_: int, name: str, depth: str, is_free: bool = True, shop=TWO, **more) -> Planned:
    wishes = {key: more.pop(key) for key in ("must_bond", "must_due") if key in more}
    piece = box_piece(name=name, voids=[box_void(depth=depth)], kind_of_work="deep pour", **more)
    return Planned(
        id=id_,
        piece=piece,
        plan=make_plan(piece, SHEETS, shop, NOW, in_full=False),
        is_free=is_free,
        **wishes,
    )


@pytest.fixture(scope="module")
def together():
    pieces = [
        planned(1, "One", "30 mm"),
        planned(2, "Two", "70 mm"),
        planned(3, "Three", "25 mm", False, first_pour_at=NOW + timedelta(days=1, hours=2)),
    ]
    return pieces, plan_together(pieces, SHEETS, TWO, NONE, NOW, silent, seconds=30.0)


@pytest.mark.slow
def test_pieces_planned_together_keep_every_rule_and_agree_with_the_heat(together):
    pieces, result = together
    assert result.feasible and result.proven and result.agrees and result.missed == 0
    for proposal in result.proposals:
        for _, begin, end in proposal.works:
            assert any(
                a <= begin and end <= b
                for a, b in open_spans(TWO, begin - timedelta(hours=1), end + timedelta(hours=1))
            )


def test_what_is_fixed_stays(together):
    _, result = together
    third = next(one for one in result.proposals if one.piece_id == 3)
    assert not third.is_free and abs(third.start_at - (NOW + timedelta(days=1, hours=2))) <= timedelta(
        minutes=5
    )


def test_a_plan_at_the_proposed_moments_pours_in_the_windows_that_were_proposed(together):
    pieces, result = together
    two = next(one for one in result.proposals if one.piece_id == 2)
    plan = make_plan(
        pieces[1].piece.model_copy(update={"first_pour_at": two.start_at, "later_mixes": two.later_mixes}),
        SHEETS,
        TWO,
        NOW,
        in_full=False,
    )
    assert [window.bonded for window in plan.windows] == [True] * len(plan.windows)
    assert [
        abs((window.mix_at - one.at).total_seconds())
        for window, one in zip(plan.windows[1:], two.later_mixes, strict=True)
    ] == [0.0] * len(two.later_mixes)


def test_the_jobs_windows_are_those_of_the_plan():
    one = planned(2, "Two", "70 mm")
    job, plan = job_of(one, TWO, NOW), one.plan
    bond = job.works[1].modes[0]
    hands = plan.windows[1].mix_s + plan.windows[1].pour_s
    assert (bond.from_s, bond.to_s) == (
        plan.windows[0].opens_s - plan.windows[1].mix_s,
        plan.windows[0].closes_s - hands,
    )
    assert job.works[-1].modes[0].from_s == plan.windows[-1].demould_s and job.ready_work == job.works[-2].id


def test_two_fixed_at_once_for_one_person_clash_and_the_ways_out_say_what_each_costs():
    shop = workshop(people=1)
    at = NOW.replace(hour=14, minute=0) + timedelta(days=1)
    pieces = [
        planned(number, name, "30 mm", False, shop, first_pour_at=at)
        for number, name in ((1, "One"), (2, "Two"))
    ]
    jobs = {str(one.id): job_of(one, shop, NOW) for one in pieces}
    clash = minimal_clash(list(jobs.values()), shop_of(shop, NOW))
    words = clash_words(clash, jobs, NOW, Wording(shop))
    assert len(words) == 2 and all("fixed at Tue 3 Mar" in one for one in words)
    ways = ways_out(clash, list(jobs.values()), shop_of(shop, NOW), NOW, Wording(shop))
    assert len(ways) == 2 and all("instead" in way.words and way.missed == 0 for way in ways)
    result = plan_together(pieces, SHEETS, shop, NONE, NOW, silent, seconds=20.0)
    assert not result.feasible and result.clash == words


def test_a_due_date_that_cannot_be_is_offered_as_the_day_it_is_ready():
    """By hand: hands from 10:07 to 11:07, ready a day after that, wanted within the hour."""
    work = Work(id="a", words="pour", modes=(Mode(name="only", hands_s=3600.0),))
    job = PieceToPlace(id="1", name="One", works=(work,), due_s=3600.0, ready_s=86400.0, must_due=True)
    shop = Shop(open=((7200.0, 43200.0),))
    clash = minimal_clash([job], shop)
    assert [kind for kind, *_ in clash.wishes] == ["due"]
    (way,) = ways_out(clash, [job], shop, NOW, Wording(TWO))
    begun = solve([replace(job, must_due=False)], shop, 3.0).placed["a"].start_s
    assert 7200.0 <= begun <= 7500.0
    ready = NOW + timedelta(seconds=begun + 3600.0 + 86400.0)
    assert way.words == f"One: ready {Wording(TWO).moment(ready)}, after it is due"
    assert way.late_days == pytest.approx((begun + 86400.0) / 86400.0)


@pytest.mark.long
@pytest.mark.slow
def test_a_window_at_night_offers_another_split_or_another_room():
    shop = workshop(
        week=[[{"from_min": 540, "to_min": 660}]] * 7
    )  # two hours a day; a coat takes the next the same evening
    piece = box_piece(
        voids=[box_void(depth="70 mm")],
        first_pour_at=NOW.replace(hour=9, minute=0) + timedelta(days=1),
        system_id="coating-epoxy",
    )
    plan = make_plan(piece, SHEETS, shop, NOW, in_full=False)
    missed = sum(1 for one in plan.verdicts if one.code == "window-missed")
    ways = other_ways(piece, SHEETS, shop, NONE, NOW)
    assert missed > 0 and all(way.missed < missed for way in ways)


def test_nothing_still_to_come_is_left_out_and_named():
    done = planned(9, "Done", "20 mm", False, first_pour_at=NOW - timedelta(days=60))
    assert job_of(done, TWO, NOW) is None
    result = plan_together([done, planned(1, "One", "30 mm")], SHEETS, TWO, NONE, NOW, silent, seconds=20.0)
    assert result.left_out == ["Done"]


def test_pours_that_lie_behind_are_left_out_and_the_rest_stands():
    at = make_plan(
        box_piece(voids=[box_void(depth="70 mm")], first_pour_at=NOW - timedelta(days=1, hours=4)),
        SHEETS,
        TWO,
        NOW,
        in_full=False,
    )
    one = planned(4, "Under way", "70 mm", False, first_pour_at=NOW - timedelta(days=1, hours=4))
    job = job_of(one, TWO, NOW)
    assert [work.id for work in job.works][0] == "4/p2" and len(job.works) == len(at.windows)
    answer = solve([job], shop_of(TWO, NOW), seconds=20.0)
    assert isinstance(answer, Solution) and not broken([job], shop_of(TWO, NOW), answer.placed)


def test_told_to_end_it_ends():
    assert (
        plan_together([planned(1, "One", "30 mm")], SHEETS, TWO, NONE, NOW, lambda share, words: False)
        is None
    )


def test_start_advice_says_when_the_window_opens_and_keeps_to_the_hours():
    found = start_advice(box_piece(voids=[box_void(depth="70 mm")]), SHEETS, TWO, NOW)
    assert len(found) >= 4
    for one in found:
        assert any(
            begin <= one.start_at < end
            for begin, end in open_spans(TWO, one.start_at, one.start_at + timedelta(hours=1))
        )
        assert one.opens_at < one.closes_at and "the bond window opens" in one.words
    again = make_plan(
        box_piece(voids=[box_void(depth="70 mm")], first_pour_at=found[0].start_at),
        SHEETS,
        TWO,
        NOW,
        in_full=False,
    )
    assert found[0].ready_at == again.totals.ready_at


def test_a_later_pour_fixed_too_early_is_said_and_one_fixed_past_the_window_is_sanded():
    free = make_plan(
        box_piece(voids=[box_void(depth="70 mm")], first_pour_at=NOW + timedelta(hours=3)),
        SHEETS,
        TWO,
        NOW,
        in_full=False,
    )
    early = free.windows[1].mix_at - timedelta(hours=20)
    piece = box_piece(
        voids=[box_void(depth="70 mm")],
        first_pour_at=NOW + timedelta(hours=3),
        later_mixes=[{"pour": 2, "at": early.isoformat()}],
    )
    said = {one.code: one.title for one in make_plan(piece, SHEETS, TWO, NOW, in_full=False).verdicts}
    assert said["wish-too-early"] == "Pour 2 is fixed too early"
    late = free.windows[0].mix_at + timedelta(days=9)
    moved = make_plan(
        piece.model_copy(update={"later_mixes": [{"pour": 2, "at": late}]}).model_validate(
            {**piece.model_dump(), "later_mixes": [{"pour": 2, "at": late.isoformat()}]}
        ),
        SHEETS,
        TWO,
        NOW,
        in_full=False,
    )
    assert moved.windows[1].mix_at == late and not moved.windows[1].bonded


def many(count: int, shop, **more):
    """So many pieces of three kinds, each with a name of its own."""
    kinds = [planned(1, "a", depth, shop=shop, **more) for depth in ("30 mm", "70 mm", "25 mm")]
    return [
        replace(
            kinds[number % 3],
            id=number + 1,
            piece=kinds[number % 3].piece.model_copy(update={"name": f"Piece {number + 1}"}),
        )
        for number in range(count)
    ]


@pytest.mark.parametrize("count", [27, 60])
def test_many_open_pieces_find_places_that_keep_every_rule(count):
    shop = workshop(people=1, shelves=4)
    jobs = [job_of(one, shop, NOW) for one in many(count, shop)]
    hours = shop_of(shop, NOW, count)
    found = greedy(jobs, hours)
    assert found.unplaced == () and broken(jobs, hours, found.placed) == []


@pytest.mark.long
@pytest.mark.slow
def test_thirty_open_pieces_get_the_best_found_with_its_bound():
    """Release 0.7 ended without a reason from 27 on."""
    shop = workshop(people=1, shelves=4)
    result = plan_together(many(30, shop), SHEETS, shop, NONE, NOW, silent, seconds=1.0)
    assert result.feasible and len(result.proposals) == 30
    assert result.missed_bound <= result.missed and result.late_bound_days <= result.late_days


def test_where_the_time_is_too_short_it_is_said_what_was_lacking():
    """Two pieces that must both be ready at once, fixed at the same hour: no time at all to find out."""
    shop = workshop(people=1)
    at = NOW.replace(hour=14, minute=0) + timedelta(days=1)
    pair = [planned(k, f"{k}", "30 mm", False, shop, first_pour_at=at) for k in (1, 2)]
    hours = shop_of(shop, NOW)
    jobs = [job_of(one, shop, NOW) for one in pair]
    assert greedy(jobs, hours).unplaced == ("2",)
    result = plan_together(pair, SHEETS, shop, NONE, NOW, silent, seconds=1e-3)
    assert not result.feasible and result.clash and result.ways_out


@pytest.mark.slow
def test_eight_blanks_due_on_one_day_get_ways_out_with_dates():
    """One wish given up gives no room: the earliest date for the others is said."""
    shop = workshop(people=1, shelves=2)
    eight = [
        replace(
            one, must_due=True, piece=one.piece.model_copy(update={"due": (NOW + timedelta(days=4)).date()})
        )
        for one in many(8, shop)
    ]
    result = plan_together(eight, SHEETS, shop, NONE, NOW, silent, seconds=4.0)
    assert not result.feasible and result.clash and result.ways_out
    words = result.ways_out[0].words
    assert "ready" in words and "earliest date" in words or "more by" in words or "after it is due" in words


def test_with_few_shelves_the_schedule_looks_as_far_as_its_pieces_need():
    shop = workshop(people=1, shelves=2)
    jobs = [job_of(one, shop, NOW) for one in many(20, shop)]
    assert greedy(jobs, shop_of(shop, NOW, 20)).unplaced  # the usual span holds not all of them
    assert greedy(jobs, roomy(jobs, shop, NOW)).unplaced == ()
    few = jobs[:3]
    assert roomy(few, shop, NOW) == shop_of(shop, NOW, 3)


def test_hours_that_are_too_short_for_a_work_are_named_with_both_lengths():
    work = Work(id="a", words="pour", modes=(Mode(name="only", hands_s=3 * 3600.0),))
    job = PieceToPlace(id="1", name="One", works=(work,))
    shop = Shop(open=((0.0, 7200.0),))
    clash = minimal_clash([job], shop)
    assert clash.wishes == ()
    (way,) = ways_out(clash, [job], shop, NOW, Wording(TWO))
    assert "3.0 h in one go" in way.words and "2.0 h" in way.words
