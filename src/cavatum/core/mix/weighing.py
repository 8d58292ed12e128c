"""One batch on the scale: what was taken so far and what comes next, as a pure fold over its events. Rules
5.1, 5.2 and 5.6.

First part, second part from the first as it really is, an overshoot answered, then each colour from the mix
as it really is. Events are
never changed: an undo is an event too.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Label
from ..common.verdict import Verdict
from ..common.wording import Say
from ..common.working import Data
from ..resin.ratio import Ratio
from .batches import to_step
from .overshoot import BRIM, put_right, ratio_off

# own judgement: half of what shows in the cure (RATIO_ERROR_CARE), or one step of the scale where that is
# coarser
RATIO_CLOSE = 0.01
COLOUR_CLOSE = 0.02  # own judgement: no eye tells a colourant 2 % apart
MOST_EVENTS = 400


class Dose(Data):
    """share: of the clear mix in its cup, by mass; drop_kg: one drop, where it was calibrated."""

    id: str
    name: str
    share: float = Field(gt=0, le=0.5)
    drop_kg: float | None = None


class ColourCup(Data):
    """share: of the batch that goes into this cup."""

    colour: str
    share: float = Field(gt=0, le=1)
    colourants: list[Dose] = []


class WeighTask(Data):
    """What this batch should be, frozen when weighing begins. order: the part that goes in first."""

    piece_id: int
    piece: str
    pour: str
    batch: int
    batches: int
    system_id: str
    system: str
    order: Literal["AB", "BA"]
    by_weight: float
    density_a: float
    density_b: float
    target_a_kg: float
    target_b_kg: float
    step_kg: float
    most_kg: float
    cup_m3: float
    cups: list[ColourCup]
    stir_s: float
    stir_again_s: float | None = None
    rest_s: float
    pour_within_s: float

    @property
    def ratio(self) -> Ratio:
        return Ratio(self.by_weight, self.density_a, self.density_b)

    @property
    def wanted_kg(self) -> float:
        return self.target_a_kg + self.target_b_kg


class Taken(Data):
    """A settled amount of one step. gross_kg: what the scale showed, None by hand. Negative: taken out again
    with a clean stick.
    """

    kind: Literal["taken"] = "taken"
    step: str = Field(max_length=90)
    mass_kg: float = Field(ge=-1e4, le=1e4)
    by: Literal["scale", "hand"]
    gross_kg: float | None = None
    as_typed: Label = ""


class Zero(Data):
    """From here on the scale counts: cup on, tared or not."""

    kind: Literal["zero"] = "zero"
    gross_kg: float = Field(ge=-1e4, le=1e4)


class Undo(Data):
    """The last amount or choice is taken back."""

    kind: Literal["undo"] = "undo"


class FromBottle(Data):
    """The bottle a part comes from, so that its lot is in the record and its rest on the shelf."""

    kind: Literal["bottle"] = "bottle"
    step: str = Field(max_length=90)
    bottle_id: int
    lot: Label = ""


class LargerCup(Data):
    kind: Literal["cup"] = "cup"
    cup_m3: float = Field(gt=0, le=10)


class Accept(Data):
    """Left as it is, off or not: the person's own decision."""

    kind: Literal["accept"] = "accept"


class EndWeighing(Data):
    kind: Literal["end"] = "end"
    how: Literal["mixed", "given up"]


WeighEvent = Annotated[
    Taken | Zero | Undo | FromBottle | LargerCup | Accept | EndWeighing, Field(discriminator="kind")
]


class WeighStep(Data):
    """key: A, B or cup/colourant. target and remaining change with what was really taken before."""

    key: str
    name: str
    cup: str = ""
    kind: Literal["part", "colourant"]
    target_kg: float
    taken_kg: float
    remaining_kg: float
    close_kg: float
    drops: int | None = None
    done: bool
    bottle_id: int | None = None
    lot: str = ""


class WeighState(Data):
    """version: number of events it was made from. off: A:B against the ratio, as a share, once both are in.

    over_kg, over_m3: more than was planned, 0 where it is not; too_full: what is due does not go into this
    cup any more.
    """

    version: int
    steps: list[WeighStep]
    current: int | None
    zero_kg: float | None
    mass_a_kg: float
    mass_b_kg: float
    off: float | None
    cup_m3: float
    cup_fill: float
    over_kg: float
    over_m3: float
    too_full: bool
    taken: list[Taken]
    verdicts: list[Verdict]
    can_undo: bool
    ended: Literal["", "mixed", "given up"]

    @property
    def total_kg(self) -> float:
        return self.mass_a_kg + self.mass_b_kg


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


def reduce(task: WeighTask, events: list[WeighEvent], say: Say | None = None) -> WeighState:
    """The state after these events in their order. say: words for the verdicts; without it there are none."""
    standing = _standing(events)
    taken = [one for one in standing if isinstance(one, Taken)]
    sums: dict[str, float] = {}
    for one in taken:
        sums[one.step] = sums.get(one.step, 0.0) + one.mass_kg
    a, b = sums.get("A", 0.0), sums.get("B", 0.0)
    cup_m3 = next((one.cup_m3 for one in reversed(standing) if isinstance(one, LargerCup)), task.cup_m3)
    accepted = any(isinstance(one, Accept) for one in standing)
    bottles = {one.step: one for one in standing if isinstance(one, FromBottle)}
    parts = _parts(task, a, b, accepted)
    base_kg = (
        a + b if all(step.done for step in parts) else task.wanted_kg
    )  # before both are in, the colour is shown for the batch as planned
    steps = [_with_bottle(step, bottles) for step in [*parts, *_colours(task, base_kg, sums)]]
    current = next((index for index, step in enumerate(steps) if not step.done), None)
    ended = next((one.how for one in standing if isinstance(one, EndWeighing)), "")
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
        off=ratio_off(a, b, task.ratio) if b > 0 and a > 0 else None,
        cup_m3=cup_m3,
        cup_fill=(a / task.density_a + b / task.density_b) / cup_m3,
        taken=taken,
        verdicts=[],
        can_undo=any(not isinstance(one, (Zero, EndWeighing)) for one in standing) and not ended,
        ended=ended,
    )
    return state if say is None else state.model_copy(update={"verdicts": _verdicts(task, state, say)})


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
    return step if one is None else step.model_copy(update={"bottle_id": one.bottle_id, "lot": one.lot})


def _close(task: WeighTask, target_kg: float) -> float:
    return max(task.step_kg, RATIO_CLOSE * target_kg)


def _parts(task: WeighTask, a: float, b: float, accepted: bool) -> list[WeighStep]:
    """The first part by the plan, the second by the first as it is; with too much of the second, the first by
    the second.
    """
    first, second = task.order
    have = {"A": a, "B": b}
    per = {"A": task.by_weight, "B": 1 / task.by_weight}  # of this part to one of the other
    planned = {"A": task.target_a_kg, "B": task.target_b_kg}
    close1 = _close(task, planned[first])
    enough = have[first] >= planned[first] - close1
    target2 = to_step(have[first] * per[second], task.step_kg) if enough else planned[second]
    close2 = _close(task, target2)
    target1 = max(planned[first], have[first])
    if enough and have[second] > target2 + close2:
        target1 = to_step(have[second] * per[first], task.step_kg)
        target2 = have[second]
    done1 = have[first] >= target1 - _close(task, target1)
    done2 = done1 and have[second] >= target2 - close2

    def step(key: str, target: float, done: bool) -> WeighStep:
        return WeighStep(
            key=key,
            name=f"part {key}",
            kind="part",
            target_kg=target,
            taken_kg=have[key],
            remaining_kg=target - have[key],
            close_kg=_close(task, target),
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


def _verdicts(task: WeighTask, state: WeighState, say: Say) -> list[Verdict]:
    found = []
    first, second = state.steps[0], state.steps[1]
    if state.total_kg > 0 and (
        second.taken_kg > 0
        or first.taken_kg > first.close_kg + (task.target_a_kg if first.key == "A" else task.target_b_kg)
    ):
        found += _overshot(task, state, say)
    if state.off is not None and abs(state.off) > 2 * RATIO_CLOSE and state.current is None:
        found.append(
            Verdict(
                weight="care",
                stage="mix",
                code="off-ratio",
                rule="5.2",
                title="Off its ratio, and left so",
                text=f"Part A is {abs(state.off):.1%} too {'much' if state.off > 0 else 'little'} for "
                "part B. Off-ratio resin stays sticky for "
                f"good.",
                todo="Put it right before it is stirred, or keep it for something that does not matter.",
            )
        )
    found += [
        _too_much_colour(step, say)
        for step in state.steps
        if step.kind == "colourant" and step.taken_kg > step.target_kg + step.close_kg
    ]
    return found


def _overshot(task: WeighTask, state: WeighState, say: Say) -> list[Verdict]:
    planned = task.target_a_kg if state.steps[0].key == "A" else task.target_b_kg
    first_over = state.steps[0].taken_kg > planned + _close(task, planned)
    second_over = state.steps[1].taken_kg > 0 and state.current == 0
    if not (first_over or second_over):
        return []
    answer = put_right(
        state.mass_a_kg, state.mass_b_kg, task.ratio, task.wanted_kg, state.cup_m3, task.step_kg, task.most_kg
    )
    if state.steps[0].done and state.steps[1].done and answer.fits:
        return (
            [
                Verdict(
                    weight="good",
                    stage="mix",
                    code="over-need",
                    rule="5.1",
                    title="More than was planned",
                    text=f"{say.mass(state.over_kg)} ({say.volume(state.over_m3)}) will be left over.",
                    todo="Have somewhere to pour it: another void that waits, or a thin sheet.",
                )
            ]
            if state.over_kg > RATIO_CLOSE * task.wanted_kg
            else []
        )
    part, over = (state.steps[1] if second_over else state.steps[0]), answer.over_kg
    text = (
        f"Add {say.mass(answer.add_kg)} of part {answer.add_part}: the ratio is right again and the batch is "
        f"{say.mass(answer.total_kg)}, {say.mass(over)} ({say.volume(answer.over_m3)}) more than planned."
    )
    if not answer.fits:
        where = (
            f"the cup ({answer.cup_fill:.0%} of it; it can be stirred to {BRIM:.0%})"
            if not answer.fits_cup
            else f"the scale ({say.mass(task.most_kg)})"
        )
        out = (
            "Take some out again with a clean stick: nothing else is in yet."
            if not second_over and state.steps[1].taken_kg == 0
            else (
                "Tip all of it into a larger cup, scrape this one clean, and go on there; or give this "
                "batch up and weigh a new one."
            )
        )
        return [
            Verdict(
                weight="stops",
                stage="mix",
                code="overshoot-too-large",
                rule="5.1",
                title="Too much for the cup or the scale",
                text=f"{text} That is too much for {where}.",
                todo=out,
            )
        ]
    return [
        Verdict(
            weight="care",
            stage="mix",
            code="overshoot",
            rule="5.1",
            title=f"Too much of {part.name}",
            text=text,
            todo="Nothing is lost: add it, or take the surplus out while nothing else is in the cup."
            if not second_over
            else "Add it before you stir.",
        )
    ]


def _too_much_colour(step: WeighStep, say: Say) -> Verdict:
    over = step.taken_kg - step.target_kg
    return Verdict(
        weight="care",
        stage="mix",
        code="colour-over",
        rule="5.6",
        title=f"Too much {step.name}",
        text=f"{say.mass(over)} more than the recipe asks for. Colour cannot be taken out.",
        todo=f"To get the recipe's colour back the cup would need {over / step.target_kg:.0%} more clear "
        "mix; otherwise leave it: the record "
        f"holds what went in."
        if step.target_kg > 0
        else "The record holds what went in.",
    )
