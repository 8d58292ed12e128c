"""What a batch at the scale has to say: too much of a part, too much colour, the way back. Rule 5.1."""

from __future__ import annotations

from ..common.verdict import Verdict
from ..common.wording import Wording
from .overshoot import BRIM, Answer, put_right
from .weigh_events import (
    RATIO_CLOSE,
    WeighState,
    WeighStep,
    WeighTask,
    close_enough,
)


def weigh_verdicts(task: WeighTask, state: WeighState, wording: Wording) -> list[Verdict]:
    found = _overshot(task, state, wording) if _may_be_over(task, state) else []
    if state.off is not None and abs(state.off) > 2 * RATIO_CLOSE and state.current is None:
        found.append(_off_ratio(state.off))
    found += [_past(step) for step in state.steps if step.past is not None]
    found += [
        _too_much_colour(step, wording)
        for step in state.steps
        if step.kind == "colourant" and step.taken_kg > step.target_kg + step.close_kg
    ]
    return found


def _may_be_over(task: WeighTask, state: WeighState) -> bool:
    first, second = state.steps[0], state.steps[1]
    planned = task.target_a_kg if first.key == "A" else task.target_b_kg
    return state.total_kg > 0 and (second.taken_kg > 0 or first.taken_kg > first.close_kg + planned)


def _off_ratio(off: float) -> Verdict:
    return Verdict(
        weight="warning",
        stage="mix",
        code="off-ratio",
        rule="5.2",
        title="Ratio still wrong",
        text=f"Part A is {abs(off):.1%} too {'much' if off > 0 else 'little'} for "
        "part B. Off-ratio resin stays sticky for good.",
        todo="Put it right before it is stirred, or keep it for something that does not matter.",
    )


def _past(step: WeighStep) -> Verdict:
    return Verdict(
        weight="warning",
        stage="mix",
        code=f"bottle-past-{step.key}",
        rule="3.4",
        title=f"The bottle of {step.name} is past its date",
        text=f"It was good until {step.past:%d %b %Y}. Old hardener goes dark and slow, old resin "
        "crystallises; either can stay sticky.",
        todo="Take another bottle, or try a spoonful before a piece depends on it.",
    )


def _left_over(task: WeighTask, state: WeighState, wording: Wording) -> list[Verdict]:
    if state.over_kg <= RATIO_CLOSE * task.wanted_kg:
        return []
    return [
        Verdict(
            weight="note",
            stage="mix",
            code="over-need",
            rule="5.1",
            title="More than was planned",
            text=f"{wording.mass(state.over_kg)} ({wording.volume(state.over_m3)}) will be left over.",
            todo="Have somewhere to pour it: another void that waits, or a thin sheet.",
        )
    ]


def _too_large(task: WeighTask, answer: Answer, nothing_else: bool, wording: Wording) -> tuple[str, str]:
    """What the corrected batch is too much for, and the way out."""
    where = (
        f"the scale ({wording.mass(task.most_kg)})"
        if answer.fits_cup
        else f"the cup ({answer.cup_fill:.0%} of it; it can be stirred to {BRIM:.0%})"
    )
    if nothing_else:
        return where, "Take some out again with a clean stick: nothing else is in yet."
    return where, (
        "Tip all of it into a larger cup, scrape this one clean, and go on there; or give this "
        "batch up and weigh a new one."
    )


def _overshot(task: WeighTask, state: WeighState, wording: Wording) -> list[Verdict]:
    planned = task.target_a_kg if state.steps[0].key == "A" else task.target_b_kg
    first_over = state.steps[0].taken_kg > planned + close_enough(task, planned)
    second_over = state.steps[1].taken_kg > 0 and state.current == 0
    if not (first_over or second_over):
        return []
    answer = put_right(
        state.mass_a_kg, state.mass_b_kg, task.ratio, task.wanted_kg, state.cup_m3, task.step_kg, task.most_kg
    )
    if state.steps[0].done and state.steps[1].done and answer.fits:
        return _left_over(task, state, wording)
    part, over = (state.steps[1] if second_over else state.steps[0]), answer.over_kg
    text = (
        f"Add {wording.mass(answer.add_kg)} of part {answer.add_part}: the ratio is right again and "
        "the batch is "
        f"{wording.mass(answer.total_kg)}, {wording.mass(over)} ({wording.volume(answer.over_m3)}) "
        "more than planned."
    )
    if not answer.fits:
        nothing_else = not second_over and state.steps[1].taken_kg == 0
        where, out = _too_large(task, answer, nothing_else, wording)
        return [
            Verdict(
                weight="blocker",
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
            weight="warning",
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


def _too_much_colour(step: WeighStep, wording: Wording) -> Verdict:
    over = step.taken_kg - step.target_kg
    return Verdict(
        weight="warning",
        stage="mix",
        code="colour-over",
        rule="5.6",
        title=f"Too much {step.name}",
        text=f"{wording.mass(over)} more than the recipe asks for. Colour cannot be taken out.",
        todo=f"To match the recipe, add {over / step.target_kg:.0%} more clear mix; or keep the new colour: "
        "the record holds what went in."
        if step.target_kg > 0
        else "The record holds what went in.",
    )
