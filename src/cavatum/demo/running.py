"""A pour of the demo that is under way: begun at its plan's start, done step by step as the plan has it, with
readings. Invented.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import UUID, uuid5

from psycopg import Connection

from ..core.plan import make_plan
from ..core.pour.events import DoneStep, ReadOff, RunEvent, Sent
from ..core.pour.pace import expected_c
from ..core.pour.script import compile_script
from ..core.pour.script_model import Script
from ..store import pieces, runs, shelf_items, systems, workshops

DEVICE = UUID(int=0xCA7A << 64 | 6)
EVERY = timedelta(hours=2)
WOBBLE_K = (0.3, -0.4, 0.1, 0.5, -0.2, -0.1, 0.2, -0.5)


def begin(connection: Connection, shop: int, stored: pieces.StoredPiece, now: datetime) -> None:
    workshop = workshops.read(connection, shop)
    plan = make_plan(
        stored.piece,
        systems.newest(connection, shop),
        workshop,
        now,
        in_full=False,
        chances=False,
        shelf_items=shelf_items.newest(connection, shop),
    )
    if not plan.pours:
        return
    script = compile_script(stored.id, stored.piece, plan, workshop)
    begun = min(step.planned_at for step in script.steps)
    if begun >= now:
        return
    run, _ = runs.begin(
        connection,
        shop,
        stored.id,
        stored.revision,
        plan,
        script,
        begun,
        workshop.room_c.value,
        None,
        is_demo=True,
    )
    said = _done(script, now) + _read(script, now)
    sent = [
        Sent(
            event_id=uuid5(DEVICE, f"{run.id}/{number}"),
            device=DEVICE,
            seq=number + 1,
            at=at,
            device_at=at,
            who="demo",
            event=event,
        )
        for number, (at, event) in enumerate(sorted(said, key=lambda one: one[0]))
    ]
    runs.append(connection, shop, run, sent, now)


def _done(script: Script, now: datetime) -> list[tuple[datetime, RunEvent]]:
    """Every step of preparation and of the first pour's day that lies behind."""
    found: list[tuple[datetime, RunEvent]] = []
    for step in script.steps:
        at = step.planned_at + timedelta(seconds=min(step.hands_s, 120.0))
        if at <= now and (
            step.pour is None
            or (
                step.pour == 1
                and step.kind in ("ready", "weigh", "stir", "rest", "part", "pour", "defoam", "watch")
            )
        ):
            found.append((at, DoneStep(step=step.id)))
    return found


def _read(script: Script, now: datetime) -> list[tuple[datetime, RunEvent]]:
    """A surface reading every two hours of people's day, a little off the plan."""
    last = [
        step for step in script.steps if step.pour == 1 and step.kind == "pour" and step.batch is not None
    ]
    curve = next((one for one in script.curves if one.pour == 1), None)
    if not last or curve is None:
        return []
    poured = last[-1].planned_at + timedelta(seconds=60)
    found: list[tuple[datetime, RunEvent]] = []
    at = poured + EVERY
    while at < now:
        if 7 <= at.hour < 19:
            value = (
                expected_c(curve.curve, (at - poured).total_seconds()) + WOBBLE_K[len(found) % len(WOBBLE_K)]
            )
            found.append((at, ReadOff(what="surface_c", value=round(value, 1), pour=1, by="stand-in")))
        at += EVERY
    return found
