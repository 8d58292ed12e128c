"""Runs of the demo that are over: the door plaque and two trial plaques before it, the bookends that stayed
sticky. Invented, each with its wobble.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID, uuid5

from psycopg import Connection

from ..core.plan import make_plan
from ..core.pour.events import (
    Amount,
    DoneStep,
    EndRun,
    GateTested,
    Noted,
    Rated,
    ReadOff,
    RunEvent,
    Sent,
    SkipStep,
    Tested,
    Troubled,
)
from ..core.pour.pace import expected_c
from ..core.pour.script import compile_script
from ..core.pour.script_model import PourCurve, Script, ScriptStep
from ..services.learning import make_entry
from ..store import pieces, runs, shelf_items, systems, workshops
from . import stocked

DEVICE = UUID(int=0xCA7A << 64 | 9)


@dataclass(frozen=True, kw_only=True)
class Past:
    """One run: so many days ago; pace: times as long as predicted; residue_kg in each cup; stars and words;
    sticky: went wrong.
    """

    piece: str
    days_ago: int
    pace: float
    residue_kg: float
    stars: int
    words: str
    sticky: bool = False


PAST = (
    Past(
        piece="Door plaque",
        days_ago=41,
        pace=1.22,
        residue_kg=0.0312,
        stars=3,
        words="Edges chipped when it was sawn: leave it a day longer.",
    ),
    Past(
        piece="Bookend pair",
        days_ago=34,
        pace=1.12,
        residue_kg=0.0281,
        stars=1,
        words="Weighed it by the volume ratio. Never again.",
        sticky=True,
    ),
    Past(
        piece="Door plaque",
        days_ago=28,
        pace=1.17,
        residue_kg=0.0295,
        stars=4,
        words="Good. Rest the colour five minutes more.",
    ),
    Past(piece="Door plaque", days_ago=20, pace=1.19, residue_kg=0.0267, stars=5, words="As it should be."),
)


def lay_out(connection: Connection, shop: int, now: datetime) -> None:
    by_name = {}
    for id_ in pieces.demo_ids(connection, shop):
        stored = pieces.read(connection, shop, id_)
        by_name[stored.piece.name] = stored
    for past in PAST:
        if past.piece in by_name:
            _one(connection, shop, by_name[past.piece], past, now)


def _one(connection: Connection, shop: int, stored: pieces.StoredPiece, past: Past, now: datetime) -> None:
    workshop = workshops.read(connection, shop)
    start = (now - timedelta(days=past.days_ago)).replace(hour=9, minute=0, second=0, microsecond=0)
    piece = stored.piece.model_copy(update={"first_pour_at": start})
    plan = make_plan(
        piece,
        systems.newest(connection, shop),
        workshop,
        start - timedelta(days=1),
        in_full=False,
        chances=False,
        shelf_items=shelf_items.newest(connection, shop),
    )
    if not plan.pours:
        return
    script = compile_script(stored.id, piece, plan, workshop)
    begun = min(step.planned_at for step in script.steps)
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
    said = sorted(_said(script, past), key=lambda one: one[0])
    last = said[-1][0]
    said += [
        (last + timedelta(minutes=5), Rated(stars=past.stars, text=past.words)),
        (last + timedelta(minutes=6), EndRun(how="finished")),
    ]
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
        for number, (at, event) in enumerate(said)
    ]
    runs.append(connection, shop, run, sent, now)
    if past.days_ago == 20:
        stocked.weighed(connection, shop, stored.id, begun + timedelta(minutes=20))
    runs.note(connection, shop, run.id, sent[-1].at, None)
    make_entry(connection, shop, run.id)


Said = tuple[datetime, RunEvent]


def _said(script: Script, past: Past) -> list[Said]:
    pours = {
        step.pour: step.planned_at + timedelta(seconds=60)
        for step in script.steps
        if step.kind == "pour" and step.batch is not None
    }
    steps = [said for step in script.steps for said in _of_step(step, pours, past)]
    read = [said for curve in script.curves for said in _of_curve(curve, pours[curve.pour], past)]
    return [*steps, *read, *_afterwards(script, max(pours.values()), past)]


def _of_step(step: ScriptStep, pours: dict[int | None, datetime], past: Past) -> list[Said]:
    poured = pours.get(step.pour, min(pours.values()))
    at = step.planned_at + timedelta(seconds=min(step.hands_s, 300.0))
    if past.sticky and step.code in ("stir-again", "round-2"):
        return [(at, SkipStep(step=step.id, why="in a hurry"))]
    if step.kind == "test":
        tried = poured + timedelta(seconds=step.from_s)
        early = tried + timedelta(seconds=(past.pace - 0.06 - 1) * step.from_s)
        late = tried + timedelta(seconds=(past.pace + 0.06 - 1) * step.from_s)
        return [
            (early, Tested(step=step.id, result="not passed")),
            (late, Tested(step=step.id, result="passed")),
        ]
    if step.code == "hand-over" and past.sticky:
        return []
    return [(max(at, poured) if step.pour and step.kind == "finish" else at, DoneStep(step=step.id))]


OFF_K = (0.3, -0.4, 0.1, -0.2, 0.4, -0.1)


def _of_curve(curve: PourCurve, poured: datetime, past: Past) -> list[Said]:
    found: list[Said] = []
    for hour in range(2, 20, 3):
        celsius = expected_c(curve.curve, hour * 3600.0 / past.pace) + OFF_K[hour % 6]
        event = ReadOff(what="surface_c", value=round(celsius, 1), pour=curve.pour, by="hand")
        found.append((poured + timedelta(hours=hour), event))
    return found


def _afterwards(script: Script, poured: datetime, past: Past) -> list[Said]:
    found: list[Said] = []
    batches = [step.id.rsplit("/", 1)[0] for step in script.steps if step.kind == "weigh"]
    for index, base in enumerate(batches):
        typed = f"{past.residue_kg * 1000:.1f} g"
        stayed = Amount(what="residue_kg", value=past.residue_kg, of=base, as_typed=typed)
        found.append((poured + timedelta(minutes=12 + index), stayed))
    if past.sticky:
        seen = Noted(text="One side still takes a thumb print after six days.")
        found.append((poured + timedelta(days=6), seen))
        trouble = Troubled(code="soft", cause="off-ratio", back="take-out")
        found.append((poured + timedelta(days=6, minutes=5), trouble))
        return found
    pour = script.curves[-1].pour if script.curves else 1
    return [*found, (poured + timedelta(days=7), GateTested(gate="pack", pour=pour, result="passed"))]
