"""The workshop's schedule: against brute force, planted solutions and plain arithmetic; impossible wishes
named by a clash that cannot be thinned.
"""

import itertools

import pytest

from cavatum.core.clock.schedule import minimal_clash, solve
from cavatum.core.clock.schedule_check import broken
from cavatum.core.clock.schedule_cpsat import visits_of
from cavatum.core.clock.schedule_model import (
    STEP_S,
    Clash,
    Hold,
    Mode,
    PieceToPlace,
    Placed,
    Shop,
    Solution,
    Work,
)
from tests.scenes.workshops import planted

H = 3600.0
DAYS = Shop(((0.0, 4 * H), (24 * H, 28 * H)), people=1)


def two_pours(id_: str = "a", opens: float = 1.0, closes: float = 2.0, **more) -> PieceToPlace:
    works = (
        Work(id=f"{id_}/p1", words="pour 1", modes=(Mode(name="only", hands_s=1800.0),)),
        Work(
            id=f"{id_}/p2",
            words="pour 2",
            modes=(
                Mode(name="bond", hands_s=1800.0, from_s=opens * H, to_s=closes * H),
                Mode(name="sand", hands_s=3600.0, from_s=20 * H, to_s=None, misses=1, dust_s=1800.0),
            ),
        ),
    )
    return PieceToPlace(id=id_, name=f"piece {id_}", works=works, **more)


def brute(jobs: list[PieceToPlace], shop: Shop, grid: float = 1800.0) -> tuple[int, float]:
    """Fewest windows missed, then least lateness, over every start on a half-hour grid and every way: by
    trying all of them.
    """
    starts = [begin + grid * step for begin, end in shop.open for step in range(int((end - begin) / grid))]
    works = [(job, work) for job in jobs for work in job.works]
    best = None
    for modes in itertools.product(*(work.modes for _, work in works)):
        for chosen in itertools.product(starts, repeat=len(works)):
            placed = {
                work.id: Placed(at, at + mode.hands_s, mode)
                for (_, work), at, mode in zip(works, chosen, modes, strict=True)
            }
            if broken(jobs, shop, placed):
                continue
            late = sum(
                max(placed[job.ready_id].end_s + job.ready_s - job.due_s, 0.0)
                for job in jobs
                if job.due_s is not None
            )
            found = (sum(mode.misses for mode in modes), late)
            best = found if best is None or found < best else best
    return best


@pytest.mark.parametrize(
    "jobs",
    [
        [two_pours()],
        [two_pours(opens=6, closes=8)],  # its window falls into the night: it has to be sanded
        [two_pours(opens=6, closes=8, due_s=25 * H)],  # and then it is late
        [two_pours(due_s=2 * H, ready_s=1.5 * H)],
        [
            two_pours("a"),
            PieceToPlace(
                id="b",
                name="piece b",
                works=(Work(id="b/p1", words="pour 1", modes=(Mode(name="only", hands_s=3600.0),)),),
                due_s=H,
            ),
        ],
    ],
    ids=["fits", "sanded", "late", "due", "two"],
)
def test_small_cases_are_as_good_as_brute_force(jobs):
    answer = solve(jobs, DAYS, seconds=30.0)
    assert not broken(jobs, DAYS, answer.placed) and answer.proven
    assert (answer.missed, answer.late_s) <= brute(jobs, DAYS)
    assert answer.missed == brute(jobs, DAYS)[0]


@pytest.mark.long
@pytest.mark.slow
def test_windows_are_never_broken_in_200_random_workshops_with_a_planted_solution():
    for seed in range(200):
        jobs, shop, found = planted(5000 + seed, pieces=2 + seed % 3, days=12)
        assert not broken(jobs, shop, found)  # the planted one keeps every rule by plain arithmetic
        answer = solve(jobs, shop, seconds=20.0)
        assert isinstance(answer, Solution) and not broken(jobs, shop, answer.placed), seed
        assert (answer.missed, answer.late_s) == (0, 0.0) and answer.visits <= visits_of(found, shop), seed


@pytest.mark.slow
def test_forty_pieces_over_three_weeks_are_proven_best():
    jobs, shop, found = planted(3, pieces=40)
    answer = solve(jobs, shop, seconds=60.0)
    assert answer.proven and answer.missed == 0 and answer.late_s == 0
    assert answer.visits_bound <= answer.visits <= visits_of(found, shop)


def test_one_person_does_one_thing_at_a_time_and_two_do_two():
    jobs = [
        PieceToPlace(
            id=name,
            name=name,
            works=(Work(id=f"{name}/p1", words="pour 1", modes=(Mode(name="only", hands_s=4 * H),)),),
            must_due=True,
            due_s=4 * H,
        )
        for name in ("a", "b")
    ]
    assert isinstance(solve(jobs, Shop(((0.0, 4 * H),), people=1), seconds=20.0), Clash)
    assert solve(jobs, Shop(((0.0, 4 * H),), people=2), seconds=20.0).missed == 0


def test_one_chamber_holds_one_piece_from_its_pour_to_its_release():
    def cast(name: str) -> PieceToPlace:
        works = (
            Work(id=f"{name}/p1", words="pour", modes=(Mode(name="only", hands_s=1800.0),)),
            Work(id=f"{name}/out", words="out", modes=(Mode(name="only", hands_s=1800.0, from_s=20 * H),)),
        )
        return PieceToPlace(
            id=name, name=name, works=works, holds=(Hold("chamber", works[0].id, works[1].id),)
        )

    week = Shop(tuple((day * 24 * H, day * 24 * H + 8 * H) for day in range(4)), places={"chamber": 1})
    answer = solve([cast("a"), cast("b")], week, seconds=30.0)
    spans = sorted(
        (answer.placed[f"{name}/p1"].start_s, answer.placed[f"{name}/out"].end_s) for name in ("a", "b")
    )
    assert spans[0][1] <= spans[1][0]


def test_no_dust_while_a_coat_is_wet():
    coat = PieceToPlace(
        id="coat",
        name="counter",
        works=(Work(id="coat/p1", words="coat", modes=(Mode(name="only", hands_s=1800.0),), quiet_s=3 * H),),
        release_s=0.0,
        pins={"coat/p1": 0.0},
    )
    turning = PieceToPlace(
        id="turn",
        name="finial",
        works=(
            Work(id="turn/p1", words="turn it", modes=(Mode(name="only", hands_s=1800.0, dust_s=1800.0),)),
        ),
    )
    answer = solve([coat, turning], Shop(((0.0, 8 * H),), people=2), seconds=30.0)
    assert answer.placed["turn/p1"].start_s >= 0.5 * H + 3 * H


def test_an_impossible_wish_names_the_windows_that_clash_and_no_others():
    jobs = [
        two_pours("a", pins={"a/p1": 0.0, "a/p2": 24 * H}, must_bond=True),
        two_pours("b", opens=1, closes=3),
    ]
    clash = minimal_clash(jobs, DAYS)
    assert set(clash.wishes) == {
        ("pin", "a", "a/p2"),
        ("bond", "a", "a/p2"),
    }  # nobody is there an hour or two before
    # minimal: without any one of them there is a schedule
    for kind, _, work in clash.wishes:
        left = two_pours(
            "a",
            pins={key: at for key, at in jobs[0].pins.items() if not (kind == "pin" and key == work)},
            must_bond=kind != "bond",
        )
        assert isinstance(solve([left, jobs[1]], DAYS, seconds=20.0), Solution)


def test_where_nobody_is_ever_there_long_enough_the_clash_is_empty():
    assert solve([two_pours()], Shop(((0.0, 600.0),)), seconds=20.0) == Clash(())


def test_a_schedule_that_breaks_a_rule_is_caught_by_plain_arithmetic():
    job = two_pours()
    bond = job.works[1].modes[0]
    good = {"a/p1": Placed(0.0, 1800.0, job.works[0].modes[0]), "a/p2": Placed(1800.0 + H, 3600.0 + H, bond)}
    assert not broken([job], DAYS, good)
    assert broken(
        [job], DAYS, {**good, "a/p2": Placed(1800.0 + 2.5 * H, 3600.0 + 2.5 * H, bond)}
    )  # after its window
    assert broken([job], DAYS, {**good, "a/p2": Placed(3.9 * H, 4.4 * H, bond)})  # outside the hours
    assert broken([job], DAYS, {**good, "a/p2": Placed(0.0, 1800.0, bond)})  # two hands too few


def test_nothing_to_do_is_no_visit_and_an_end_is_an_end():
    assert solve([], DAYS).visits == 0
    assert solve([two_pours()], DAYS, tell=lambda share, words: False) is None


def test_starts_lie_on_the_grid_and_near_an_earlier_round():
    job = two_pours(near=("a/p1", 2 * H, 1800.0))
    answer = solve([job], DAYS, seconds=20.0)
    assert (
        answer.placed["a/p1"].start_s % STEP_S == 0 and abs(answer.placed["a/p1"].start_s - 2 * H) <= 1800.0
    )
