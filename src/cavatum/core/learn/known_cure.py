"""What a run and the runs before it tell of a cure, for its gates. Rules 8.1, 9.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..finish.cure_record import GateTest, Known
from ..plan_model import Plan
from ..pour.events import GateTested, Kept, ReadOff, Tested
from ..pour.script_model import Script
from ..pour.state import fold, poured_at
from .learned import Learned

OF_TEST = {
    "stick": "recoat",
    "nail": "demould",
    "harden": "cut",
    "inspect": "sand",
}  # which gate a test of the script speaks for


def learned_of(plan: Plan, learned: Sequence[Learned]) -> Known:
    """Before anything was poured: only what earlier runs taught of the resin of the last pour."""
    last = plan.pours[-1].layers[-1].system_id if plan.pours else ""
    pace = next((one for one in learned if (one.code, one.key) == ("pace", last) and one.used), None)
    if pace is None:
        return Known()
    return Known(
        learned=pace.value / plan.learned_pace.get(last, 1.0), runs=len(pace.runs), spread=pace.spread
    )


def known_of(
    plan: Plan,
    learned: Sequence[Learned],
    script: Script,
    kept: Sequence[Kept],
    room_c: float,
    over_at: datetime | None,
) -> Known:
    """Of a run, from its own events in their order; what was taken back does not count.

    room_c  what the plan took the room for [degC], until a reading says otherwise
    """
    state = fold(script, kept)
    steps = {step.id: step for step in script.steps}
    poured = {
        pour.number: at for pour in plan.pours if (at := poured_at(script, state, pour.number)) is not None
    }
    tests: list[GateTest] = []
    read: dict[str, tuple[float, datetime]] = {}
    for one in kept:
        event = one.event
        if str(one.event_id) in state.undone:
            continue
        if isinstance(event, ReadOff):
            read[event.what] = (event.value, one.at)
        elif isinstance(event, (GateTested, Tested)):
            gate, pour = (
                (event.gate, event.pour)
                if isinstance(event, GateTested)
                else (OF_TEST.get(steps[event.step].code, ""), steps[event.step].pour)
            )
            if gate and pour in poured:
                tests.append(
                    GateTest(
                        gate=gate,
                        pour=pour,
                        at_s=(one.at - poured[pour]).total_seconds(),
                        result=event.result,
                    )
                )
    surface = read.get("surface_c")
    return learned_of(plan, learned).model_copy(
        update={
            "poured_at": poured,
            "tests": tests,
            "paces": {int(pour): times for pour, times in state.pace.items()},
            "over_at": over_at,
            "surface_c": surface[0] if surface else None,
            "surface_at": surface[1] if surface else None,
            "room_c": read["room_c"][0] if "room_c" in read else room_c,
        }
    )
