"""One batch on the scale: what was taken so far and what comes next, as a pure fold over its events. Rules
5.1, 5.2 and 5.6.

First part, second part from the first as it really is, an overshoot answered, then each colour from the mix
as it really is. Events are
never changed: an undo is an event too.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.wording import Wording
from .batches import to_step
from .overshoot import put_right, ratio_off
from .portions import portions
from .weigh_events import (
    Accept,
    EndWeighing,
    FromBottle,
    LargerCup,
    Taken,
    Undo,
    WeighEvent,
    WeighState,
    WeighStep,
    WeighTask,
    Zero,
    close_enough,
)
from .weigh_verdicts import weigh_verdicts

# own judgement: half of what shows in the cure (RATIO_ERROR_CARE), or one step of the scale where that is
# coarser
COLOUR_CLOSE = 0.02  # own judgement: no eye tells a colourant 2 % apart
MOST_EVENTS = 400


def _check_step(state: WeighState, new: Taken | FromBottle) -> None:
    step = next((one for one in state.steps if one.key == new.step), None)
    if step is None:
        raise DomainError(
            argument="step",
            value=new.step,
            allowed="it is one of this batch",
            way_out="Choose a part or a colourant.",
            code="no-step",
        )
    if isinstance(new, Taken) and step.taken_kg + new.mass_kg < -1e-9:
        raise DomainError(
            argument="amount",
            value=f"{plainly(new.mass_kg * 1000)} g",
            allowed=f"at most {plainly(step.taken_kg * 1000)} g can be taken out again",
            way_out="Read the scale again.",
            code="negative",
        )
    if isinstance(new, Taken) and new.mass_kg == 0:
        raise DomainError(
            argument="amount",
            value="0 g",
            allowed="something was weighed",
            way_out="Pour first, then take the reading.",
            code="zero",
        )


def check(task: WeighTask, events: list[WeighEvent], new: WeighEvent) -> None:
    """Raises DomainError for an event that cannot follow: after the end, a step that is not there, out of
    what is not in, too many.
    """
    state = reduce(task, events)
    if state.ended:
        raise DomainError(
            argument="batch",
            value=state.ended,
            allowed="nothing is weighed after that",
            way_out="Start the batch again.",
            code="ended",
        )
    if len(events) >= MOST_EVENTS:
        raise DomainError(
            argument="batch",
            value=f"{len(events)} entries long",
            allowed=f"{MOST_EVENTS} are kept",
            way_out="EndWeighing it and start another.",
            code="too-many",
        )
    if isinstance(new, (Taken, FromBottle)):
        _check_step(state, new)
    if isinstance(new, Undo) and not state.can_undo:
        raise DomainError(
            argument="undo",
            value="nothing",
            allowed="there is something to take back",
            way_out="Go on weighing.",
            code="nothing-there",
        )
    if isinstance(new, EndWeighing) and new.how == "mixed" and state.current is not None:
        raise DomainError(
            argument="batch",
            value=f"at {state.steps[state.current].name}",
            allowed="all of it is in before it is stirred",
            way_out="Weigh what is missing, or give the batch up.",
            code="not-complete",
        )


def _ended(standing: list[WeighEvent]) -> str:
    """How it ended; empty while it has not."""
    return next((one.how for one in standing if isinstance(one, EndWeighing)), "")


def _has_undoable(standing: list[WeighEvent]) -> bool:
    return any(not isinstance(one, (Zero, EndWeighing)) for one in standing)


def _sums(taken: list[Taken]) -> dict[str, float]:
    """What is in by step [kg]; parts A and B are always named."""
    sums = {"A": 0.0, "B": 0.0}
    for one in taken:
        sums[one.step] = sums.get(one.step, 0.0) + one.mass_kg
    return sums


def _steps(task: WeighTask, standing: list[WeighEvent], sums: dict[str, float]) -> list[WeighStep]:
    """Both parts, then the colours; before both are in, a colour is shown for the batch as planned."""
    accepted = any(isinstance(one, Accept) for one in standing)
    bottles = {one.step: one for one in standing if isinstance(one, FromBottle)}
    parts = _parts(task, sums["A"], sums["B"], accepted)
    base_kg = sums["A"] + sums["B"] if all(step.done for step in parts) else task.wanted_kg
    steps = [_with_bottle(step, bottles) for step in [*parts, *_colours(task, base_kg, sums)]]
    return [step.model_copy(update={"portions": portions(step.key, standing)}) for step in steps]


def reduce(task: WeighTask, events: list[WeighEvent], wording: Wording | None = None) -> WeighState:
    """The state after these events in their order. say: words for the verdicts; without it there are none."""
    standing = _standing(events)
    taken = [one for one in standing if isinstance(one, Taken)]
    sums = _sums(taken)
    a, b = sums["A"], sums["B"]
    cup_m3 = [task.cup_m3, *(one.cup_m3 for one in standing if isinstance(one, LargerCup))][-1]
    steps = _steps(task, standing, sums)
    current = next((index for index, step in enumerate(steps) if not step.done), None)
    ended = _ended(standing)
    extra = max(a + b - task.wanted_kg, 0.0)
    state = WeighState(
        over_kg=extra,
        over_m3=extra / task.ratio.mixed_density,
        too_full=_too_full(task, a, b, cup_m3),
        version=len(events),
        steps=steps,
        current=None if ended else current,
        zero_kg=_zero(standing, steps, current),
        mass_a_kg=a,
        mass_b_kg=b,
        off=ratio_off(a, b, task.ratio) if min(a, b) > 0 else None,
        cup_m3=cup_m3,
        cup_fill=(a / task.density_a + b / task.density_b) / cup_m3,
        taken=taken,
        verdicts=[],
        can_undo=not ended and _has_undoable(standing),
        ended=ended,
    )
    return (
        state
        if wording is None
        else state.model_copy(update={"verdicts": weigh_verdicts(task, state, wording)})
    )


def _too_full(task: WeighTask, a: float, b: float, cup_m3: float) -> bool:
    return (
        a + b > 0
        and not put_right(a, b, task.ratio, task.wanted_kg, cup_m3, task.step_kg, task.most_kg).fits_cup
    )


def _standing(events: list[WeighEvent]) -> list[WeighEvent]:
    """Without what was taken back. A zero set after an amount that was taken back goes with it."""
    kept: list[WeighEvent] = []
    for event in events:
        if not isinstance(event, Undo):
            kept.append(event)
            continue
        while kept and isinstance(kept[-1], Zero):
            kept.pop()
        if kept:
            kept.pop()
    return kept


def _zero(standing: list[WeighEvent], steps: list[WeighStep], current: int | None) -> float | None:
    """What the scale showed when the present step began: the last settled reading, or what it was set to.
    Another cup counts anew.
    """
    cups = {step.key: step.cup for step in steps}
    for one in reversed(standing):
        if isinstance(one, Taken) and current is not None and cups.get(one.step) != steps[current].cup:
            return None
        if isinstance(one, Zero) or (isinstance(one, Taken) and one.gross_kg is not None):
            return one.gross_kg
        if isinstance(one, Taken):
            return None  # by hand: nobody knows where the scale stands now
    return None


def _with_bottle(step: WeighStep, bottles: dict[str, FromBottle]) -> WeighStep:
    one = bottles.get(step.key)
    if one is None:
        return step
    return step.model_copy(update={"bottle_id": one.bottle_id, "lot": one.lot, "past": one.past})


def _parts(task: WeighTask, a: float, b: float, accepted: bool) -> list[WeighStep]:
    """The first part by the plan, the second by the first as it is; with too much of the second, the first by
    the second.
    """
    first, second = task.order
    have = {"A": a, "B": b}
    per = {"A": task.by_weight, "B": 1 / task.by_weight}  # of this part to one of the other
    planned = {"A": task.target_a_kg, "B": task.target_b_kg}
    close1 = close_enough(task, planned[first])
    enough = have[first] >= planned[first] - close1
    target2 = to_step(have[first] * per[second], task.step_kg) if enough else planned[second]
    close2 = close_enough(task, target2)
    target1 = max(planned[first], have[first])
    if enough and have[second] > target2 + close2:
        target1 = to_step(have[second] * per[first], task.step_kg)
        target2 = have[second]
    done1 = have[first] >= target1 - close_enough(task, target1)
    done2 = done1 and have[second] >= target2 - close2

    def step(key: str, target: float, done: bool) -> WeighStep:
        return WeighStep(
            key=key,
            name=_called(task, key),
            kind="part",
            target_kg=target,
            taken_kg=have[key],
            remaining_kg=target - have[key],
            close_kg=close_enough(task, target),
            done=done or (accepted and have[key] > 0),
        )

    return [step(first, target1, done1), step(second, target2, done2)]


def _colours(task: WeighTask, mix_kg: float, sums: dict[str, float]) -> list[WeighStep]:
    """Each colourant as a share of the clear mix that is really there, in its cup's share of it; half a step
    goes up.
    """
    steps = []
    for place, cup in enumerate(task.cups):
        for one in cup.colourants:
            key = f"{place}/{one.id}"
            exact = one.share * cup.share * mix_kg
            target = to_step(exact, task.step_kg)
            have = sums.get(key, 0.0)
            close = max(task.step_kg, COLOUR_CLOSE * exact)
            steps.append(
                WeighStep(
                    key=key,
                    name=one.name,
                    cup=cup.colour if len(task.cups) > 1 else "",
                    kind="colourant",
                    target_kg=target,
                    taken_kg=have,
                    remaining_kg=target - have,
                    close_kg=close,
                    drops=round(exact / one.drop_kg) if one.drop_kg else None,
                    done=target <= 0 or (have > 0 and have >= target - close),
                )
            )
    return steps


def _called(task: WeighTask, key: str) -> str:
    own = task.name_a if key == "A" else task.name_b
    return f"part {key}, {own}" if own else f"part {key}"
