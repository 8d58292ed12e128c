"""All that the core writes about a piece, from the plan's verdicts to what its run taught, as one document.

A change of any of it shows as a difference to the kept documents, which a person then reads. The cases are
those of `as_before`; each is run once on paper: steps done a little late, tests that fail once, warm and
absurd readings, a mishap, amounts read off at the end.

`python -m tests.as_written keep` writes the documents that today's code gives. Read the difference first.
"""

from __future__ import annotations

import gzip
import json
import sys
from datetime import timedelta
from functools import cache
from pathlib import Path
from typing import Any
from uuid import UUID, uuid5

from tests import as_before

KEPT = Path(__file__).parent / "examples" / "documents.json.gz"
DEVICE = UUID(int=15)
DRAWN = {"heat_maps", "workings", "sections"}  # their figures are kept by as_before


def document_of(made: as_before.Made) -> dict[str, Any]:
    from cavatum.core.calibration.of_system import cure_of
    from cavatum.core.common.wording import Wording
    from cavatum.core.finish.plan import finish_plan
    from cavatum.core.learn.cure_of_run import cure_record_of, learned_of
    from cavatum.core.learn.learned import advice, apply, learn
    from cavatum.core.learn.observe import observe
    from cavatum.core.learn.record import run_record
    from cavatum.core.mend.diagnose import diagnose
    from cavatum.core.mend.evidence import shown_by
    from cavatum.core.pour.debrief import debrief
    from cavatum.core.pour.script import compile_script
    from cavatum.core.practice.troubles import TROUBLES

    piece, workshop, systems, plan = made.piece, made.workshop, made.systems, made.plan
    wording = Wording(workshop)
    found: dict[str, Any] = {
        "plan": plan.model_dump(mode="json", exclude=DRAWN),
        "from": {key: (one.formula, one.source, one.notes) for key, one in plan.workings.items()},
        "options": [one.model_dump(mode="json") for one in made.options],
    }
    if not plan.pours:
        return _plain(found)
    script = compile_script(1, piece, plan, workshop)
    kept = _kept(script)
    begun, over = kept[0].at, kept[-1].at
    record = run_record(1, 1, script, plan, kept, [], begun, workshop.room_c.value, {1: 41.5})
    seen = observe(record)
    taught = learn([one.model_copy(update={"run_id": run}) for run in range(1, 6) for one in seen])
    used = sorted({layer.system_id for pour in plan.pours for layer in pour.layers} & set(systems))
    cures = {one: cure_of(systems[one]) for one in used}
    middle = begun + (over - begun) / 2
    during = [one for one in kept if one.at <= middle]
    shown = shown_by(record, piece, systems, wording)
    facts = {one.fact for one in shown}
    sheets, changed, uses = apply(taught, systems, workshop)
    found |= {
        "script": script.model_dump(mode="json"),
        "debrief": debrief(script, kept, wording).model_dump(mode="json"),
        "record": record.model_dump(mode="json"),
        "observed": [one.model_dump(mode="json") for one in seen],
        "learned": [one.model_dump(mode="json") for one in taught],
        "used": [one.model_dump(mode="json") for one in uses],
        "sheets": {one: sheets[one].model_dump(mode="json") for one in used},
        "residue": changed.residue_fraction.model_dump(mode="json"),
        "advice": [one.model_dump(mode="json") for one in advice(taught, piece)],
        "evidence": [one.model_dump(mode="json") for one in shown],
        "causes": {
            one.code: [ranked.model_dump(mode="json") for ranked in diagnose(one.code, {}, facts)]
            for one in TROUBLES
        },
        "finish before": finish_plan(
            piece, plan, systems, cures, learned_of(plan, taught), as_before.NOW, wording
        ).model_dump(mode="json"),
        "finish during": finish_plan(
            piece,
            plan,
            systems,
            cures,
            cure_record_of(plan, taught, script, during, workshop.room_c.value, None),
            middle,
            wording,
        ).model_dump(mode="json"),
    }
    return _plain(found)


def _kept(script: Any) -> list[Any]:
    """A run on paper. Nothing in it is drawn by chance: what is late or warm goes by the step's number."""
    from cavatum.core.pour import events as e

    said: list[tuple[Any, Any]] = []
    for number, step in enumerate(script.steps):
        at = step.planned_at + timedelta(minutes=number % 7, hours=5 if number % 11 == 10 else 0)
        if step.timer_s:
            said.append((at - timedelta(seconds=0.9 * step.timer_s), e.BeginStep(step=step.id)))
        if step.kind == "test":
            said.append((at - timedelta(hours=2), e.Tested(step=step.id, result="not passed")))
            said.append((at, e.Tested(step=step.id, result="passed")))
        elif number % 13 == 12:
            said.append((at, e.SkipStep(step=step.id, why="in a hurry")))
        else:
            said.append((at, e.DoneStep(step=step.id)))
    first, last = min(at for at, _ in said), max(at for at, _ in said)
    for curve in script.curves:
        for hour, celsius in ((2, 27.5), (5, 38.25), (6, 400.0), (11, 33.0)):
            event = e.ReadOff(what="surface_c", value=celsius, pour=curve.pour, by="hand")
            said.append((first + timedelta(hours=hour), event))
    said.append((first + timedelta(hours=3), e.ReadOff(what="room_c", value=17.5, by="hand")))
    said.append((first + timedelta(hours=4), e.MishapBegun(code="leak")))
    for what, value, of in (
        ("leftover_kg", 0.042, ""),
        ("hours_s", 9000.0, ""),
        ("scale_ratio", 1.004, ""),
        ("soak_m3_m2", 9e-5, "open"),
        ("residue_kg", 0.021, "p1/b1"),
        ("film_m", 0.0011, "p1"),
    ):
        said.append((last + timedelta(minutes=5), e.Amount(what=what, value=value, of=of)))
    said.append((last + timedelta(minutes=6), e.Noted(text="One corner was cold.")))
    said.append((last + timedelta(minutes=7), e.Troubled(code="soft", cause="off-ratio", back="take-out")))
    said.append((last + timedelta(minutes=8), e.Rated(stars=3, text="Good enough.")))
    said.append((last + timedelta(minutes=9), e.EndRun(how="finished")))
    ordered = sorted(said, key=lambda one: one[0])
    return [
        e.Kept(
            number=number,
            event_id=uuid5(DEVICE, str(number)),
            device=DEVICE,
            seq=number,
            at=at,
            received_at=at,
            who="",
            doubted=False,
            event=event,
        )
        for number, (at, event) in enumerate(ordered, start=1)
    ]


def _plain(value: Any) -> Any:
    """As JSON gives it back: seven digits, curves summed up."""
    if isinstance(value, dict):
        return {str(key): _plain(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        if len(value) > 20 and all(_is_curve(one) for one in value):
            return ["in all", _plain(_total(value))]
        return [_plain(one) for one in value]
    if isinstance(value, float):
        return float(f"{value:.7g}")
    return value


def _is_curve(value: Any) -> bool:
    """A number, or a row of numbers; spans of time are no curve."""
    if isinstance(value, list | tuple):
        return all(one is None or isinstance(one, int | float | list | tuple) for one in value)
    return isinstance(value, float)


def _total(values: Any) -> float:
    return sum(one if isinstance(one, int | float) else _total(one) for one in values if one is not None)


@cache
def read() -> dict[str, Any]:
    return json.loads(gzip.decompress(KEPT.read_bytes()))


def keep() -> None:
    found = {case["name"]: document_of(as_before.Made(case)) for case in as_before.read()}
    text = json.dumps(found, sort_keys=True, ensure_ascii=False)
    KEPT.write_bytes(gzip.compress(text.encode(), 9, mtime=0))


if __name__ == "__main__" and sys.argv[1:] == ["keep"]:
    keep()
