"""The scale over the batch, this moment: how far to the target, at rest on it or over it, and what is odd.
Rules 5.1 and 5.2.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Data
from .scale import QUIET_S, ScaleReading, at_rest, doubts, drift_of
from .weigh_events import WeighState, WeighStep, WeighTask

SLOW_FROM = 0.85  # own judgement: from here on pour in a thread
LIFTED_STEPS, ZERO_STEPS = 5, 2

Tone = Literal[
    "quiet", "no zero", "pour", "slowly", "on it", "too much", "lifted", "taken out", "tared", "nothing due"
]


class Live(Data):
    """net_kg: poured since this step began; share: of what is still wanted; ready: at rest within the
    tolerance, moves on by itself.

    can_take: at rest with something on it, so that it may be taken as it is; taken_out: the part that some
    was taken out of, with a clean stick.
    """

    connected: bool
    device: str = ""
    stand_in: bool = False
    tone: Tone
    says: str
    gross_kg: float | None = None
    net_kg: float | None = None
    share: float = 0.0
    at_rest: bool = False
    ready: bool = False
    can_take: bool = False
    taken_out: str = ""
    unit: str = ""
    verdicts: list[Verdict] = []


def no_scale(says: str = "No scale is connected. Type what it shows.") -> Live:
    return Live(connected=False, tone="quiet", says=says)


PROBLEMS = {
    "no-unit": "The scale sends numbers without a unit. Set it to send grams; until then type what it shows.",
    "fault": "The scale reports a fault. Look at its display; until then type what it shows.",
    "not-a-weight": "The scale counts something else than weight. Switch it to grams; until then type "
    "what it shows.",
}


def live(
    task: WeighTask,
    state: WeighState,
    readings: Sequence[ScaleReading],
    age_s: float,
    unchanged_s: float,
    problem: str,
    step_kg: float | None,
    device: str,
    wording: Wording,
    *,
    stand_in: bool = False,
    trail: Sequence[tuple[float, float]] = (),
) -> Live:
    """One picture of the moment. Older than QUIET_S: the scale is quiet, and the batch goes on by hand.

    step_kg  the last digit of what the scale sends; coarser than the workshop's scale is said
    """
    if age_s > QUIET_S or not readings or problem in PROBLEMS:
        quiet = (
            f"The scale has been quiet for {age_s:.0f} s. Nothing is lost: type what it shows, or plug "
            "it in again."
        )
        says = PROBLEMS.get(problem, quiet if readings else "No scale is connected. Type what it shows.")
        return Live(connected=False, device=device, stand_in=stand_in, tone="quiet", says=says)
    last = readings[-1]
    rest = at_rest(readings, task.step_kg)
    step = None if state.current is None else state.steps[state.current]
    found = doubts(
        readings,
        task.most_kg,
        wording,
        unchanged_s if step is not None and state.zero_kg is not None else 0.0,
    ) + _coarse(task, step_kg, wording)
    if step is not None and (drifts := drift_of(trail, task.step_kg)) is not None:
        found.append(drifts)
    base = Live(
        connected=True,
        device=device,
        stand_in=stand_in,
        tone="pour",
        says="",
        gross_kg=last.mass_kg,
        at_rest=rest,
        unit=last.unit,
        verdicts=found,
    )
    if step is None:
        return base.model_copy(update={"tone": "nothing due", "says": "All of it is in."})
    if state.zero_kg is None:
        return base.model_copy(
            update={
                "tone": "no zero",
                "says": "Put the cup on the scale, then tap Cup is on. Counting starts there.",
            }
        )
    return _over_the_step(base, task, state, last.mass_kg, rest)


def _is_tared(task: WeighTask, gross: float, zero: float) -> bool:
    return abs(gross) <= ZERO_STEPS * task.step_kg and abs(zero) > 10 * task.step_kg


def _while_pouring(with_net: Live, step: WeighStep, net: float, rest: bool) -> Live:
    """What is in the cup against what is wanted: too much, close enough, nearly there, or go on."""
    if net > step.remaining_kg + step.close_kg:
        return with_net.model_copy(
            update={
                "tone": "too much",
                "says": "Stop pouring."
                if not rest
                else "Too much. Tap Record this weight; the next amount is corrected.",
                "ready": False,
            }
        )
    if abs(net - step.remaining_kg) <= step.close_kg:
        return with_net.model_copy(
            update={"tone": "on it", "says": "On it." if rest else "Stop, let it settle.", "ready": rest}
        )
    if (with_net.share or 0.0) >= SLOW_FROM:
        return with_net.model_copy(update={"tone": "slowly", "says": "Slow down to a thin stream."})
    return with_net.model_copy(update={"tone": "pour", "says": f"Pour {step.name}."})


def _over_the_step(base: Live, task: WeighTask, state: WeighState, gross: float, rest: bool) -> Live:
    assert state.current is not None and state.zero_kg is not None  # asked before
    step, zero = state.steps[state.current], state.zero_kg
    lifted = -LIFTED_STEPS * task.step_kg
    net = gross - zero
    share = net / step.remaining_kg if step.remaining_kg > 0 else 0.0
    with_net = base.model_copy(
        update={"net_kg": net, "share": share, "can_take": rest and net > task.step_kg}
    )
    if rest and _is_tared(task, gross, zero):
        return with_net.model_copy(
            update={
                "tone": "tared",
                "can_take": False,
                "says": "The scale reads zero. Tared? Then count from here. Cup lifted? Put it back.",
            }
        )
    if net < lifted and _may_be_taken_out(state, -net):
        return with_net.model_copy(
            update={
                "tone": "taken out",
                "taken_out": state.steps[0].key,
                "can_take": rest,
                "says": f"The weight went down. Did you take some {state.steps[0].name} out?",
            }
        )
    if net < lifted:
        return with_net.model_copy(
            update={"tone": "lifted", "says": "The weight went down. Is the cup off the scale? Put it back."}
        )
    return _while_pouring(with_net, step, net, rest)


def _may_be_taken_out(state: WeighState, kg: float) -> bool:
    """Only the first part is in, pure, and less is missing than went in. A lifted cup takes more with it than
    that.
    """
    first, second = state.steps[0], state.steps[1]
    return state.current == 1 and second.taken_kg == 0 and kg < first.taken_kg


def _coarse(task: WeighTask, step_kg: float | None, wording: Wording) -> list[Verdict]:
    if step_kg is None or step_kg <= task.step_kg * 1.01:
        return []
    return [
        Verdict(
            weight="warning",
            stage="mix",
            code="scale-coarser",
            rule="5.2",
            title="The scale is coarser than the workshop's settings say",
            text=f"It sends steps of {plainly(step_kg * 1000, 3)} g; the plan was made for "
            f"{plainly(task.step_kg * 1000, 3)} g.",
            todo="Switch it to its finer range, or change the scale step in workshop settings.",
        )
    ]
