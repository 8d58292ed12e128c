"""A small script and logs of events for both folds. Invented. `python -m tests.scenes.runs` writes
tests/examples/runs.json anew.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

from cavatum.core.cure.belief import worth_again
from cavatum.core.pour.events import Kept
from cavatum.core.pour.script_model import Script, ScriptStep
from cavatum.core.pour.state import fold
from cavatum.core.pour.view import look

EXAMPLES = Path(__file__).resolve().parents[1] / "examples" / "runs.json"
T0 = datetime(2026, 3, 2, 12, 0, tzinfo=UTC)
H = 3600.0


def _step(id_: str, kind: str, at_min: float, **more: Any) -> ScriptStep:
    return ScriptStep.model_validate(
        {
            "id": id_,
            "code": id_.rpartition("/")[2],
            "kind": kind,
            "title": id_,
            "text": "",
            "why": "",
            "rule": "7.1",
            "hands_s": 120.0,
            "pour": int(id_[1]) if id_[0] == "p" and id_[1].isdigit() else None,
            "planned_at": T0 + timedelta(minutes=at_min),
            **more,
        }
    )


def script() -> Script:
    steps = [
        _step("prep/wipe", "prepare", -60, planned_to=T0, least_s=600.0, most_s=900.0),
        _step("p1/ready", "ready", 0, waits=[("prep/wipe", 600.0)]),
        _step(
            "p1/b1/weigh",
            "weigh",
            2,
            rings=False,
            batch=1,
            step_kg=1e-4,
            parts=[
                {"part": "A", "target_kg": 0.012, "per_other": 1.125},
                {"part": "B", "target_kg": 0.0106667, "per_other": 1 / 1.125},
            ],
        ),
        _step("p1/b1/stir", "stir", 5, timer_s=360.0, anchor="p1/b1/weigh", batch=1),
        _step(
            "p1/b1/pour",
            "pour",
            11,
            anchor="p1/b1/stir",
            on="begun",
            to_s=1800.0,
            batch=1,
            cup={
                "curve": [(0, 22.0), (600, 26.0), (1200, 33.0), (1500, 40.0)],
                "split_c": 32.0,
                "pour_c": 35.0,
            },
        ),
        _step("p1/round-1", "defoam", 12, anchor="p1/b1/pour", from_s=0.0, to_s=300.0),
        _step("p1/round-2", "defoam", 27, anchor="p1/b1/pour", from_s=900.0, to_s=1200.0),
        _step(
            "p1/hands-off",
            "watch",
            1900,
            anchor="p1/b1/pour",
            from_s=31 * H,
            to_s=31.25 * H,
            with_cure=True,
            hands_s=0.0,
            passes=True,
        ),
        _step(
            "p1/stick",
            "test",
            2000,
            anchor="p1/b1/pour",
            from_s=33.3333 * H,
            to_s=60 * H,
            with_cure=True,
            again_s=H,
        ),
        _step(
            "p2/ready",
            "ready",
            2010,
            anchor="p1/b1/pour",
            from_s=33.5 * H,
            to_s=60 * H,
            with_cure=True,
            gate="p1/stick",
        ),
        _step("p2/b1/pour", "pour", 2030, anchor="p2/ready", batch=1),
        _step("p1/inspect", "test", 2200, anchor="p1/b1/pour", from_s=36 * H, decides=True, again_s=H),
        _step("p1/hand-over", "finish", 6000, anchor="p1/b1/pour", from_s=100 * H, unless="p1/inspect"),
        _step("p3/sand", "sand", 2300, anchor="p1/b1/pour", from_s=38 * H, branch="p1/inspect"),
    ]
    return Script(
        piece_id=1,
        piece="Sample",
        tint="#D39A3C",
        kind_of_work="deep pour",
        zone="UTC",
        steps=steps,
        curves=[],
        depth_share=[0.5, 0.5],
        again=list(worth_again()),
        here=[(T0 + timedelta(days=day, hours=-4), T0 + timedelta(days=day, hours=7)) for day in range(12)],
    )


def kept(number: int, minutes: float, event: dict[str, Any], device: int = 1, id_: int | None = None) -> Kept:
    at = T0 + timedelta(minutes=minutes)
    return Kept.model_validate(
        {
            "number": number,
            "event_id": UUID(int=id_ or 1000 + number),
            "device": UUID(int=device),
            "seq": number,
            "at": at,
            "received_at": at,
            "who": "Wren",
            "doubted": False,
            "event": event,
        }
    )


def log(*said: tuple[float, dict[str, Any]]) -> list[Kept]:
    return [kept(number, minutes, event) for number, (minutes, event) in enumerate(said, 1)]


def carried_out(script_: Script, more: Sequence[Any] = ()) -> list[Kept]:
    """Every step done at its planned moment, tests passed at once; then the run ends.

    more  events to add at the end, and (code, share of the expected time, result) for tests made otherwise,
          each in its order
    """
    said: list[tuple[datetime, dict[str, Any]]] = []
    poured = {
        step.pour: step.planned_at for step in script_.steps if step.kind == "pour" and step.batch is not None
    }
    tried = [one for one in more if isinstance(one, tuple)]
    for step in script_.steps:
        own = [(share, result) for code, share, result in tried if code == step.code and step.kind == "test"]
        if own:
            said += [
                (
                    poured[step.pour] + timedelta(seconds=share * step.from_s),
                    {"kind": "test", "step": step.id, "result": result},
                )
                for share, result in own
            ]
        elif step.kind == "test":
            said.append((step.planned_at, {"kind": "test", "step": step.id, "result": "passed"}))
        else:
            said.append((step.planned_at, done(step.id)))
    said.sort(key=lambda one: one[0])
    last = said[-1][0]
    said += [
        (last + timedelta(minutes=1 + number), one)
        for number, one in enumerate(one for one in more if isinstance(one, dict))
    ]
    said.append((last + timedelta(hours=1), {"kind": "end", "how": "finished"}))
    return [
        Kept.model_validate(
            {
                "number": number,
                "event_id": UUID(int=5000 + number),
                "device": UUID(int=1),
                "seq": number,
                "at": at,
                "received_at": at,
                "who": "Wren",
                "doubted": False,
                "event": event,
            }
        )
        for number, (at, event) in enumerate(said, 1)
    ]


def done(step: str) -> dict[str, Any]:
    return {"kind": "done", "step": step}


POURED = (
    (0, done("prep/wipe")),
    (1, done("p1/ready")),
    (4, done("p1/b1/weigh")),
    (5, {"kind": "begin", "step": "p1/b1/stir"}),
    (11, done("p1/b1/stir")),
    (13, done("p1/b1/pour")),
)

LOGS: dict[str, list[Kept]] = {
    "nothing yet": [],
    "stirring": log(*POURED[:4]),
    "poured": log(*POURED),
    "done twice, and a step that is not there": log(
        *POURED, (14, done("p1/b1/pour")), (15, done("p1/nowhere")), (16, done("p1/round-1"))
    ),
    "taken back": log(*POURED, (14, {"kind": "undo", "event_id": str(UUID(int=1006))})),
    "a taking back of a taking back changes nothing": log(
        *POURED,
        (14, {"kind": "undo", "event_id": str(UUID(int=1006))}),
        (15, {"kind": "undo", "event_id": str(UUID(int=1007))}),
    ),
    "later, then heard": log(
        *POURED,
        (13.5, done("p1/round-1")),
        (14, {"kind": "later", "step": "p1/round-2", "seconds": 300.0}),
        (20, {"kind": "heard", "alarm": f"p1/round-2/later-{int((T0 + timedelta(minutes=19)).timestamp())}"}),
    ),
    "left out of order": log(
        *POURED, (14, done("p1/round-2")), (15, {"kind": "skip", "step": "p1/round-1", "why": ""})
    ),
    "slower cure": log(*POURED, (1500, {"kind": "pace", "pour": 1, "times": 1.2345, "why": "six readings"})),
    "test not passed, then passed": log(
        *POURED,
        (2010, {"kind": "test", "step": "p1/stick", "result": "not passed"}),
        (2080, {"kind": "test", "step": "p1/stick", "result": "passed"}),
    ),
    "test not sure": log(*POURED, (2010, {"kind": "test", "step": "p1/stick", "result": "not sure"})),
    "flawless": log(*POURED, (2210, {"kind": "test", "step": "p1/inspect", "result": "passed"})),
    "dimples: made again": log(
        *POURED,
        (2205, {"kind": "test", "step": "p1/inspect", "result": "not sure"}),
        (2270, {"kind": "test", "step": "p1/inspect", "result": "not passed", "found": ["dimples"]}),
    ),
    "a leak, over again": log(
        *POURED,
        (14, {"kind": "mishap", "code": "leak"}),
        (19, {"kind": "mishap-over", "event_id": str(UUID(int=1007))}),
        (20, {"kind": "mishap-over", "event_id": str(UUID(int=1007))}),
    ),
    "a camera saw two things, one was heard": log(
        *POURED,
        (14, {"kind": "saw", "what": "bubbles", "words": "12 new bubbles"}),
        (15, {"kind": "saw", "what": "leak", "words": "Resin beside it", "urgent": True}),
        (16, {"kind": "heard", "alarm": f"saw/{UUID(int=1007)}"}),
        (17, {"kind": "saw", "what": "photo", "words": "3 spots", "rings": False}),
    ),
    "weighed by hand": log(
        *POURED[:2],
        (3, {"kind": "weighed", "step": "p1/b1/weigh", "part": "A", "kg": 0.013}),
        (3.5, {"kind": "weighed", "step": "p1/b1/weigh", "part": "B", "kg": 0.0121}),
        (4, done("p1/b1/weigh")),
        (5, {"kind": "begin", "step": "p1/b1/stir"}),
        (12, {"kind": "reading", "what": "cup_c", "value": 29.5, "pour": 1, "step": "p1/b1/pour"}),
    ),
    "pour left out": log(*POURED[:5], (12, {"kind": "skip", "step": "p1/b1/pour", "why": "spilt"})),
    "ended": log(
        *POURED,
        (14, {"kind": "attach", "pour": 1}),
        (15, {"kind": "reading", "what": "surface_c", "value": 24.5, "pour": 1, "by": "hand"}),
        (16, {"kind": "end", "how": "given up"}),
        (17, done("p1/round-1")),
    ),
}
MOMENTS = (0.5, 6.0, 12.0, 14.0, 28.5, 36.0, 2003.0, 2020.0, 2075.0, 4000.0)


def examples() -> dict[str, Any]:
    """Every log at every moment as the core sees it."""
    made = script()
    cases = []
    for name, events in LOGS.items():
        state = fold(made, events)
        for minutes in MOMENTS:
            now = T0 + timedelta(minutes=minutes)
            cases.append(
                {"name": name, "now": now.isoformat(), "view": look(made, state, now).model_dump(mode="json")}
            )
    return {
        "script": made.model_dump(mode="json"),
        "logs": {name: [one.model_dump(mode="json") for one in events] for name, events in LOGS.items()},
        "states": {name: fold(made, events).model_dump(mode="json") for name, events in LOGS.items()},
        "cases": cases,
    }


if __name__ == "__main__":
    EXAMPLES.write_text(json.dumps(examples(), separators=(",", ":"), sort_keys=True) + "\n")
