"""All pieces on one clock: when each is poured so that windows meet people, chamber, rotator and shelves.
Rules 6.1 and 6.2.

Solved exactly by OR-Tools CP-SAT, one wish after the other and each kept for the next: fewest windows missed,
then least lateness, then fewest visits,
then the earliest finish. It starts from a schedule made one piece after the other, which stands where the
time is too
short for a better one. All times are seconds from the schedule's own beginning, laid on a grid of STEP_S:
windows are narrowed to it, never widened.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from .schedule_check import broken
from .schedule_cpsat import CpModel
from .schedule_greedy import greedy
from .schedule_model import Clash, PieceToPlace, Shop, Solution, TooShort

# Each kept for the next, with its share of the time that is left.
WISHES = (("windows", 0.5), ("lateness", 0.5), ("visits", 0.85), ("tidy", 1.0))
MOST_COUNTED = 24  # pieces; of more the visits are not made fewest: that model alone takes minutes to build
TIDY_S = 2.0  # earliest finish is no promise: the best that is found in so long


Tell = Callable[[float, str], bool]


def _silent(share: float, words: str) -> bool:
    return True


def solve(
    jobs: Sequence[PieceToPlace], shop: Shop, seconds: float = 8.0, workers: int = 2, tell: Tell = _silent
) -> Solution | Clash | TooShort | None:
    """The best schedule that was found in time, with how much better any other could be; a minimal clash
    where
    the musts and pins leave none; where the time was too short for either, what found no place (TooShort).
    None
    where `tell` says to end.

    seconds  for all wishes together; workers: threads
    """
    if not jobs:
        return Solution(placed={}, missed=0, late_s=0.0, visits=0, visits_bound=0, proven=True)
    first = greedy(jobs, shop)
    model = CpModel(jobs, shop)
    if not first.unplaced and not broken(jobs, shop, first.placed):
        model.begin_at(first)
    reached = _reach(model, len(jobs), seconds, workers, tell)
    if reached is None:
        return None
    if reached.get("windows", ("", 0))[0] == "infeasible":
        return minimal_clash(jobs, shop, workers) or TooShort(first.unplaced)
    if not model.found:
        return TooShort(first.unplaced)
    tell(1.0, "done")
    proven = all(reached.get(name, ("", 0))[0] == "optimal" for name in ("windows", "lateness"))
    return model.answer(proven, {name: low for name, (_, low) in reached.items()})


def _reach(
    model: CpModel, count: int, seconds: float, workers: int, tell: Tell
) -> dict[str, tuple[str, int]] | None:
    """Each wish as far as it was reached, with its bound; ends at the first that is unknown: what stands
    may be
    worse than a later wish would be held to, and is left as it is. None: told to end.
    """
    wishes = [one for one in WISHES if one[0] != "visits" or count <= MOST_COUNTED]
    reached, left = dict[str, tuple[str, int]](), seconds
    for number, (name, part) in enumerate(wishes):
        if not tell(number / len(wishes), name):
            return None
        allowed = min(left * part, TIDY_S) if name == "tidy" else left * part
        status, low, took = model.minimise(name, allowed, workers)
        left = max(left - took, 1.0)
        if status != "unknown":
            reached[name] = status, low
        if status in ("unknown", "infeasible"):
            break
    return reached


def minimal_clash(
    jobs: Sequence[PieceToPlace], shop: Shop, workers: int = 2, seconds: float = 10.0
) -> Clash | None:
    """A set of wishes that cannot all be met and of which none can be left out: found by the solver's own
    proof, then thinned one by one.

    An empty clash: without any wish there is no schedule either (nobody is ever there long enough). None: the
    time was too short to know.
    """
    model = CpModel(jobs, shop, with_wishes=True)
    wishes = dict(model.wishes)

    def fails(subset: Sequence[tuple[str, str, str]]) -> bool | None:
        solver = model.cp.CpSolver()
        solver.parameters.max_time_in_seconds = seconds
        solver.parameters.num_workers = workers
        model.model.clear_assumptions()
        model.model.add_assumptions([wishes[one] for one in subset])
        status = solver.solve(model.model)
        if status == model.cp.INFEASIBLE:
            return True
        return False if status in (model.cp.OPTIMAL, model.cp.FEASIBLE) else None

    bare = fails([])
    if bare is not False:
        return Clash(()) if bare else None
    left = list(wishes)
    if fails(left) is not True:
        return None
    for one in list(left):
        without = [other for other in left if other != one]
        if fails(without) is True:
            left = without
    return Clash(tuple(left))
