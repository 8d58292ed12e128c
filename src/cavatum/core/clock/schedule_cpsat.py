"""The schedule as a CP-SAT model: hands, places, dust, windows and wishes on a grid of STEP_S. Rules 6.1
and 6.2."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any

from .schedule_greedy import Greedy
from .schedule_model import RESOURCES, STEP_S, Hold, PieceToPlace, Placed, Shop, Solution, Work, slots_up


class CpModel:
    """The CP-SAT model. Slots are STEP_S long; wishes (pins, musts) may hang on literals, so that a clash can
    be named.
    """

    def __init__(self, jobs: Sequence[PieceToPlace], shop: Shop, *, with_wishes: bool = False) -> None:
        from ortools.sat.python import cp_model

        self.cp = cp_model
        self.jobs, self.shop, self.with_wishes = jobs, shop, with_wishes
        self.model = cp_model.CpModel()
        self.wishes: dict[tuple[str, str, str], Any] = {}
        self.starts: dict[str, Any] = {}
        self.ends: dict[str, Any] = {}
        self.chosen: dict[tuple[str, str], Any] = {}
        self.hands: list[Any] = []
        self.dust: list[tuple[Any, int]] = []
        self.kept: dict[str, int] = {}
        self._hands_before: list[float] = []
        self.found: dict[str, int] = {}
        self.horizon = slots_up(max((end for _, end in shop.open), default=0.0)) + 1
        for job in jobs:
            self._job(job)
        self._share_hands()
        self._share_places()
        # Each is built when it is its turn: without the many literals of the visits the first two are found
        # in half the time.
        self.objectives: dict[str, Callable[[], Any]] = {
            "windows": self._windows,
            "lateness": self._lateness,
            "visits": self._visits,
            "tidy": lambda: sum(self.ends.values()),
        }

    def _wish(self, kind: str, job: str, work: str = "") -> list[Any]:
        """What a wish is enforced by: nothing where it is simply a must."""
        if not self.with_wishes:
            return []
        key = (kind, job, work)
        if key not in self.wishes:
            self.wishes[key] = self.model.new_bool_var("/".join(key))
        return [self.wishes[key]]

    def _job(self, job: PieceToPlace) -> None:
        before = None
        for work in job.works:
            self._work(job, work, before)
            before = work.id
        if job.due_s is not None and job.must_due:
            self.model.add(
                self.ends[job.ready_id] + slots_up(job.ready_s or 0.0) <= int(job.due_s // STEP_S)
            ).only_enforce_if(*self._wish("due", job.id))

    def _work(self, job: PieceToPlace, work: Work, before: str | None) -> None:
        model, cp = self.model, self.cp
        start = model.new_int_var(slots_up(job.release_s), self.horizon, f"{work.id}/start")
        end = model.new_int_var(0, self.horizon, f"{work.id}/end")
        literals = []
        for mode in work.modes:
            size = max(slots_up(mode.hands_s), 1)
            chosen = model.new_bool_var(f"{work.id}/{mode.name}")
            literals.append(chosen)
            self.chosen[work.id, mode.name] = chosen
            self.hands.append(
                model.new_optional_interval_var(start, size, end, chosen, f"{work.id}/{mode.name}/hands")
            )
            model.add_linear_expression_in_domain(
                start, cp.Domain.from_intervals(_fits(self.shop, size))
            ).only_enforce_if(chosen)
            model.add(end == start + size).only_enforce_if(chosen)
            if before is not None:
                model.add(start >= self.ends[before] + slots_up(mode.from_s)).only_enforce_if(chosen)
                if mode.to_s is not None:
                    model.add(start <= self.ends[before] + int(mode.to_s // STEP_S)).only_enforce_if(chosen)
            if mode.misses and job.must_bond:
                model.add(chosen == 0).only_enforce_if(*self._wish("bond", job.id, work.id))
            if mode.dust_s:
                dust = slots_up(mode.dust_s)
                self.dust.append(
                    (
                        model.new_optional_interval_var(
                            start, dust, start + dust, chosen, f"{work.id}/{mode.name}/dust"
                        ),
                        len(self.jobs) + 1,
                    )
                )
        model.add_exactly_one(literals)
        if work.id in job.pins:
            model.add(start == round(job.pins[work.id] / STEP_S)).only_enforce_if(
                *self._wish("pin", job.id, work.id)
            )
        if job.near and job.near[0] == work.id:
            model.add_linear_constraint(
                start, slots_up(job.near[1] - job.near[2]), int((job.near[1] + job.near[2]) // STEP_S)
            )
        if work.quiet_s:
            wet = min(slots_up(mode.hands_s) - slots_up(mode.dust_s) for mode in work.modes)
            size = slots_up(work.quiet_s) + wet
            self.dust.append((model.new_fixed_size_interval_var(end - wet, size, f"{work.id}/quiet"), 1))
        self.starts[work.id], self.ends[work.id] = start, end

    def _share_hands(self) -> None:
        if self.shop.people == 1:
            self.model.add_no_overlap(self.hands)
        else:
            self.model.add_cumulative(self.hands, [1] * len(self.hands), self.shop.people)
        if self.dust:
            self.model.add_cumulative(
                [one for one, _ in self.dust], [demand for _, demand in self.dust], len(self.jobs) + 1
            )

    def _share_places(self) -> None:
        for resource in RESOURCES:
            held = [
                self._held(job, hold) for job in self.jobs for hold in job.holds if hold.resource == resource
            ]
            if held and resource in self.shop.places:
                self.model.add_cumulative(held, [1] * len(held), self.shop.places[resource])

    def _held(self, job: PieceToPlace, hold: Hold) -> Any:
        size = self.model.new_int_var(0, self.horizon, f"{job.id}/{hold.resource}/size")
        return self.model.new_interval_var(
            self.starts[hold.first], size, self.ends[hold.last], f"{job.id}/{hold.resource}"
        )

    def _windows(self) -> Any:
        return sum(
            mode.misses * self.chosen[work.id, mode.name]
            for job in self.jobs
            for work in job.works
            for mode in work.modes
        )

    def _lateness(self) -> Any:
        late = []
        for job in self.jobs:
            if job.due_s is None:
                continue
            one = self.model.new_int_var(0, self.horizon * 3, f"{job.id}/late")
            self.model.add(
                one >= self.ends[job.ready_id] + slots_up(job.ready_s or 0.0) - int(job.due_s // STEP_S)
            )
            late.append(one)
        return sum(late)

    def _visits(self) -> Any:
        """A block of hours is visited when a work begins in it. Each work's block narrows the next one's: the
        relaxation is weak without that.
        """
        model, blocks = self.model, self.shop.blocks
        used = [model.new_bool_var(f"visit {number}") for number in range(len(blocks))]
        for job in self.jobs:
            before: dict[int, Any] = {}
            for work in job.works:
                inside = {}
                for number, (begin, end) in enumerate(blocks):
                    if end <= job.release_s:
                        continue
                    here = model.new_bool_var("")
                    domain = self.cp.Domain(slots_up(begin), max(slots_up(end) - 1, slots_up(begin)))
                    model.add_linear_expression_in_domain(self.starts[work.id], domain).only_enforce_if(here)
                    model.add_implication(here, used[number])
                    inside[number] = here
                model.add_exactly_one(inside.values())
                for number, here in before.items():
                    model.add_bool_or(
                        [
                            there
                            for other, there in inside.items()
                            if _can_follow(blocks[number], blocks[other], self._hands_before, work)
                        ]
                    ).only_enforce_if(here)
                before = inside
                self._hands_before = [mode.hands_s for mode in work.modes]
        return sum(used)

    def begin_at(self, first: Greedy) -> None:
        """The schedule to start from: it is what was found, until something better is."""
        for id_, one in first.placed.items():
            self.found[f"{id_}/start"] = int(one.start_s // STEP_S)
            self.found[f"{id_}/end"] = int(one.end_s // STEP_S)
        for (id_, name), literal in self.chosen.items():
            self.found[literal.name] = int(first.placed[id_].mode.name == name)
        for variable in self._variables():
            self.model.add_hint(variable, self.found[variable.name])

    def minimise(self, name: str, seconds: float, workers: int) -> tuple[str, int, float]:
        """(optimal, feasible, infeasible or unknown; the lower bound; seconds it took). What was reached is
        kept for the wishes after it.
        """
        cp, solver = self.cp, self.cp.CpSolver()
        objective = self.objectives[name]()
        if isinstance(objective, int):  # nothing in it: nobody has a due date, or no window can be missed
            self.model.clear_objective()  # type: ignore[no-untyped-call]
        else:
            self.model.minimize(objective)
        solver.parameters.max_time_in_seconds = seconds
        solver.parameters.num_workers = workers
        solver.parameters.random_seed = 1
        if (
            name == "visits"
            # the full relaxation and a search from below: these two prove the fewest visits, the default does
            # not
        ):
            solver.parameters.linearization_level = 2
            solver.parameters.subsolvers.extend(["max_lp", "objective_lb_search"])
        status = solver.solve(self.model)
        if status == cp.INFEASIBLE:
            return "infeasible", 0, solver.wall_time
        if status not in (cp.OPTIMAL, cp.FEASIBLE):
            return "unknown", 0, solver.wall_time
        self.found = {one.name: solver.value(one) for one in self._variables()}
        self.model.clear_hints()  # type: ignore[no-untyped-call]
        for one in self._variables():
            self.model.add_hint(one, solver.value(one))
        reached = 0 if isinstance(objective, int) else round(solver.objective_value)
        self.kept[name] = reached
        if not isinstance(objective, int):
            self.model.add(objective <= reached)
        low = 0 if isinstance(objective, int) else math.ceil(solver.best_objective_bound - 1e-6)
        return "optimal" if status == cp.OPTIMAL else "feasible", low, solver.wall_time

    def _variables(self) -> list[Any]:
        return [*self.starts.values(), *self.ends.values(), *self.chosen.values()]

    def answer(self, proven: bool, bounds: dict[str, int]) -> Solution:
        placed = {}
        for job in self.jobs:
            for work in job.works:
                mode = next(one for one in work.modes if self.found[f"{work.id}/{one.name}"])
                placed[work.id] = Placed(
                    self.found[f"{work.id}/start"] * STEP_S, self.found[f"{work.id}/end"] * STEP_S, mode
                )
        missed = sum(one.mode.misses for one in placed.values())
        late = sum(
            max(placed[job.ready_id].end_s + (job.ready_s or 0.0) - job.due_s, 0.0)
            for job in self.jobs
            if job.due_s is not None
        )
        return Solution(
            placed=placed,
            missed=missed,
            late_s=late,
            visits=visits_of(placed, self.shop),
            visits_bound=bounds.get("visits", 0),
            proven=proven,
            missed_bound=min(bounds.get("windows", 0), missed),
            late_bound_s=min(bounds.get("lateness", 0) * STEP_S, late),
        )


def _can_follow(
    before: tuple[float, float], after: tuple[float, float], hands: Sequence[float], work: Work
) -> bool:
    """Whether a work in one block can be followed by the next in another, by any of its ways; generous by a
    slot.
    """
    earliest, latest = before[0] + min(hands) - STEP_S, before[1] + max(hands) + STEP_S
    return any(
        after[1] > earliest + mode.from_s and (mode.to_s is None or after[0] < latest + mode.to_s)
        for mode in work.modes
    )


def _fits(shop: Shop, size: int) -> list[list[int]]:
    """Slots at which work of this size may begin; a start that no span takes leaves an empty domain, which is
    no schedule.
    """
    found = [
        [slots_up(begin), int(end // STEP_S) - size]
        for begin, end in shop.open
        if int(end // STEP_S) - size >= slots_up(begin)
    ]
    return found or [[-2, -2]]


def visits_of(placed: dict[str, Placed], shop: Shop) -> int:
    """Number of blocks of hours in which some work begins.

    placed  works with their starts [s];  shop  its blocks of hours [s]
    Raises nothing. Exact. Source: by definition.
    """
    return sum(1 for begin, end in shop.blocks if any(begin <= one.start_s < end for one in placed.values()))
