"""The branch at the inspection of a last coat: flawless, then it was the flood; else it was the seal, and
the coat is
made once more. Both are in the script from the start, so that a bench out of reach can take either. Rule 6.3.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ..piece.coats import Coat
from ..piece.document import Piece
from ..plan_model import Plan
from .script_model import Script, ScriptStep
from .state import RunState

MOST_AGAIN = 2  # a coat that fails three times has another cause: see Mend
INSPECTION, ONLY_IF_DONE = "inspect", ("hand-over",)
SUFFIX = "-again"


def coats_to_inspect(plan: Plan) -> set[str]:
    """The surfaces whose coat is the last pour; none where the last pour is no coat."""
    if not plan.pours or not plan.pours[-1].called.startswith("coat"):
        return set()
    return {layer.void_id for layer in plan.pours[-1].layers}


def with_one_more(piece: Piece, surfaces: Iterable[str], times: int = 1) -> Piece:
    """The piece with the last coat of these surfaces made once more, on the one that was sanded."""
    wanted = set(surfaces)
    return piece.model_copy(
        update={"coats": [_once_more(one, times) if one.id in wanted else one for one in piece.coats]}
    )


def _once_more(coat: Coat, times: int) -> Coat:
    lays = [one for one in coat.lays if not one.again]
    stem = lays[-1]
    again = [
        stem.model_copy(
            update={"id": f"{stem.id[:30]}{SUFFIX}-{number}", "times": 1, "join": "sanded", "again": True}
        )
        for number in range(1, times + 1)
    ]
    return coat.model_copy(update={"lays": [*lays, *again]})


def taken(script: Script, state: RunState) -> int:
    """How many times a coat was found to want another, one after the other."""
    return sum(
        1
        for step in script.steps
        if step.decides and (mark := state.marks.get(step.id)) and _fails(mark.status, mark.result)
    )


def _fails(status: str, result: str) -> bool:
    return status == "done" and result == "not passed"


def as_taken(piece: Piece, script: Script, state: RunState) -> Piece:
    """The piece as its run has it by now: so many coats made again as inspections asked for, and no more."""
    surfaces = set(script.may_be_again)
    wanted = taken(script, state)
    made = max(
        (sum(lay.again for lay in coat.lays) for coat in piece.coats if coat.id in surfaces), default=0
    )
    return piece if made == wanted else with_one_more(piece, surfaces, wanted)


def with_branches(
    piece: Piece, plan: Plan, planned: Callable[[Piece], Plan], compiled: Callable[[Piece, Plan], Script]
) -> tuple[Plan, Script]:
    """A plan and its script with every branch that an inspection may take.

    planned, compiled  make a plan of a piece, and its script
    """
    script, surfaces = compiled(piece, plan), coats_to_inspect(plan)
    if not surfaces:
        return plan, script
    steps, curves, pours, windows = (
        list(script.steps),
        list(script.curves),
        list(plan.pours),
        list(plan.windows),
    )
    for times in range(1, MOST_AGAIN + 1):
        last = pours[-1].number
        decider = f"p{last}/{INSPECTION}"
        if not any(one.id == decider for one in steps):
            break
        again_piece = with_one_more(piece, surfaces, times)
        again = planned(again_piece)
        if len(again.pours) != len(pours) + 1 or len(again.windows) != len(again.pours):
            break  # the layer below never lets another on it in this room
        found = compiled(again_piece, again)
        steps = [_decided(one, decider) for one in steps]
        steps += [one.model_copy(update={"branch": decider}) for one in found.steps if one.pour == last + 1]
        curves += [one for one in found.curves if one.pour == last + 1]
        pours.append(again.pours[-1].model_copy(update={"branch": decider}))
        windows.append(again.windows[-1])
    made = script.model_copy(update={"steps": steps, "curves": curves, "may_be_again": sorted(surfaces)})
    return plan.model_copy(update={"pours": pours, "windows": windows}), made


def _decided(step: ScriptStep, decider: str) -> ScriptStep:
    """The inspection decides now; what is done once it was flawless waits for it."""
    if step.id == decider:
        return step.model_copy(update={"decides": True})
    if step.id.split("/")[0] == decider.split("/")[0] and step.code in ONLY_IF_DONE:
        return step.model_copy(update={"unless": decider})
    return step


def plan_as_taken(plan: Plan, state: RunState) -> Plan:
    """A frozen plan with the branches that were taken, and without the others."""
    gone = {one.number for one in plan.pours if one.branch and not _was_taken(one.branch, state)}
    if not gone:
        return plan
    return plan.model_copy(
        update={
            "pours": [one for one in plan.pours if one.number not in gone],
            "windows": [one for one in plan.windows if one.pour not in gone],
        }
    )


def _was_taken(decider: str, state: RunState) -> bool:
    mark = state.marks.get(decider)
    return mark is not None and _fails(mark.status, mark.result)
