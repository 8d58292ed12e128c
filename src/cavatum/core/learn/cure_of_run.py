"""What a run and the runs before it tell of a cure, for its gates. Rules 8.1, 9.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from ..finish.cure_record import CureRecord, GateTest
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


def learned_of(plan: Plan, learned: Sequence[Learned]) -> CureRecord:
    """Before anything was poured: only what earlier runs taught of the resin of the last pour."""
    last = plan.pours[-1].layers[-1].system_id if plan.pours else ""
    pace = next((one for one in learned if (one.code, one.key) == ("pace", last) and one.used), None)
    if pace is None:
        return CureRecord()
    return CureRecord(
        learned=pace.value / plan.learned_pace.get(last, 1.0), runs=len(pace.runs), spread=pace.spread
    )


def _test_of(one: Kept, script: Script, poured: dict[int, datetime]) -> GateTest | None:
    """A test of a gate, said as such or as a step of the script; None for all else, or for what was never
    poured.
    """
    event = one.event
    if isinstance(event, GateTested):
        gate, pour = event.gate, event.pour
    elif isinstance(event, Tested):
        step = next(step for step in script.steps if step.id == event.step)
        gate, pour = OF_TEST.get(step.code, ""), step.pour or 0
    else:
        return None
    if not gate or pour not in poured:
        return None
    at_s = (one.at - poured[pour]).total_seconds()
    return GateTest(gate=gate, pour=pour, at_s=at_s, result=event.result)


def cure_record_of(
    plan: Plan,
    learned: Sequence[Learned],
    script: Script,
    kept: Sequence[Kept],
    room_c: float,
    over_at: datetime | None,
) -> CureRecord:
    """Of a run, from its own events in their order; what was taken back does not count.

    room_c  what the plan took the room for [degC], until a reading says otherwise
    """
    state = fold(script, kept)
    times = {pour.number: poured_at(script, state, pour.number) for pour in plan.pours}
    poured = {number: at for number, at in times.items() if at is not None}
    standing = [one for one in kept if str(one.event_id) not in state.undone]
    tests = [test for one in standing if (test := _test_of(one, script, poured)) is not None]
    read = {one.event.what: (one.event.value, one.at) for one in standing if isinstance(one.event, ReadOff)}
    surface = read.get("surface_c", (None, None))
    return learned_of(plan, learned).model_copy(
        update={
            "poured_at": poured,
            "tests": tests,
            "paces": {int(pour): times for pour, times in state.pace.items()},
            "over_at": over_at,
            "surface_c": surface[0],
            "surface_at": surface[1],
            "room_c": read.get("room_c", (room_c, None))[0],
        }
    )
