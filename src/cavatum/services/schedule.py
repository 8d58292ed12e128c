"""What a schedule of all pieces is asked with, and the hands-on moments of pieces and runs. Rule 6.2."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.clock.windows import whole_half_hour
from ..core.common.workshop import Workshop
from ..core.plan_model import Plan
from ..core.pour.agenda import agenda
from ..core.pour.state import fold
from ..core.pour.view import look
from ..formats.calendar import Moment
from ..store import pieces, runs
from . import planning

MOST_PIECES = 60


class Wish(BaseModel):
    """How a piece may be placed. is_free: its start may be chosen anew; must_bond: no sanding; must_due: not
    a day later.
    """

    piece_id: int = Field(ge=1, le=2**62)
    is_free: bool
    must_bond: bool = False
    must_due: bool = False


def schedule_inputs(
    connection: Connection, shop: int, wishes: Sequence[Wish], now: datetime
) -> dict[str, Any]:
    inputs, by_piece = planning.inputs_of(connection, shop), {one.piece_id: one for one in wishes}
    moment = whole_half_hour(now)
    found = []
    for row in pieces.listed(connection, shop, "", MOST_PIECES, 0)[0]:
        stored = pieces.read(connection, shop, row.id)
        wish = by_piece.get(row.id)
        is_free = wish.is_free if wish else stored.piece.first_pour_at is None
        if any(run.rehearsal is None for run in runs.listed(connection, shop, is_open=True, piece_id=row.id)):
            is_free = False  # it is being poured: nobody moves it
        piece = (
            stored.piece.model_copy(update={"first_pour_at": None, "later_mixes": []})
            if is_free
            else stored.piece
        )
        found.append(
            {
                "id": row.id,
                "piece": piece.model_dump(mode="json", exclude={"systems", "workshop", "goods"}),
                "is_free": is_free,
                "must_bond": bool(wish and wish.must_bond),
                "must_due": bool(wish and wish.must_due),
            }
        )
    return {
        "made_at": moment.isoformat(),
        "core": planning.core_fingerprint(),
        "pieces": sorted(found, key=lambda one: one["id"]),
        "systems": [sheet.model_dump(mode="json") for _, sheet in sorted(inputs.sheets.items())],
        "workshop": inputs.workshop.model_dump(mode="json"),
        "goods": inputs.shelf_items.model_dump(mode="json"),
    }


def moments_of(piece_id: int, name: str, plan: Plan) -> list[Moment]:
    """The steps of a piece with a set start that want hands, as far as somebody is there; mixing from its
    pins.
    """
    if not plan.start_is_chosen or plan.clock is None:
        return []
    found = [
        Moment(
            uid=f"piece-{piece_id}-{step.pour or 0}-{step.code}",
            from_at=step.at,
            to_at=step.at + timedelta(seconds=step.hands_s),
            summary=f"{step.title}, {name}",
            text=f"{step.text} {step.why}".strip(),
        )
        for step in plan.steps
        if step.at is not None and step.hands_s > 0
    ]
    found += [
        Moment(
            uid=f"piece-{piece_id}-{number}-{pin.kind}",
            from_at=pin.at,
            to_at=pin.until or pin.at + timedelta(minutes=30),
            summary=f"{pin.label}, {name}",
            text=pin.why,
            alarm_min=30,
        )
        for number, pin in enumerate(plan.clock.pins)
    ]
    return found


def run_moments(
    connection: Connection, shop: int, run: runs.Run, workshop: Workshop, real: datetime
) -> list[Moment]:
    """What is still to come of a run, in people's hours and in the order it can be done."""
    state = fold(run.script, runs.events(connection, shop, run.id))
    return [
        Moment(
            uid=f"run-{run.id}-{due.step.id.replace('/', '-')}",
            from_at=due.from_at,
            to_at=due.to_at,
            summary=f"{due.step.title}, {run.script.piece}",
            text=f"{due.step.text} {due.step.why}".strip(),
            alarm_min=5,
        )
        for due in agenda(run.script, look(run.script, state, real), workshop, real)
    ]


def calendar_of(connection: Connection, shop: int, moment: datetime) -> tuple[str, list[Moment]]:
    """The workshop's name, and every moment that wants hands: by the run where one is on, else by the
    plan.
    """
    inputs = planning.inputs_of(connection, shop)
    found: list[Moment] = []
    running = {
        run.piece_id: run
        for run in runs.listed(connection, shop, is_open=True)
        if run.rehearsal is None and run.piece_id is not None
    }
    for row in pieces.with_a_start(connection, shop):
        if row.id in running:
            continue
        stored = pieces.read(connection, shop, row.id)
        plan = planning.plan_of(connection, shop, stored, moment, inputs)
        found += [one for one in moments_of(row.id, stored.piece.name, plan) if one.to_at >= moment]
    for run in running.values():
        found += run_moments(connection, shop, run, inputs.workshop, moment)
    return inputs.workshop.name, found
