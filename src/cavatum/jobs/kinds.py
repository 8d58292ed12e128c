"""The kinds of long work. Each takes the job's inputs and tells how far it is; None means it was ended."""

from __future__ import annotations

import base64
from collections.abc import Callable
from datetime import datetime
from typing import Any

import numpy as np
import psycopg

from ..core.common.errors import DomainError
from ..core.common.workshop import Workshop
from ..core.layers.course import Course
from ..core.layers.three import in_three
from ..core.measure.cavity import cavity_of
from ..core.measure.mesh_shape import placed_mesh
from ..core.measure.triangles import Solid
from ..core.piece.document import Piece
from ..core.piece.shapes import Mesh
from ..core.piece.shelf_items import ShelfItems
from ..core.plan import courses_of, make_plan
from ..core.resin.system import System
from ..core.schedule.plan_together import plan_together
from ..core.schedule.together import Planned
from ..formats import sandbox
from ..store import files
from ..store.jobs import LongWork
from ..store.pool import NotFound

Tell = Callable[[float], bool]


def _courses(inputs: dict[str, Any]) -> tuple[Piece, dict[str, System], dict[str, Course]]:
    piece = Piece.model_validate(inputs["piece"])
    systems = {one["id"]: System.model_validate(one) for one in inputs["systems"]}
    workshop = Workshop.model_validate(inputs["workshop"])
    shelf_items = ShelfItems.model_validate(
        inputs.get("goods", {})
    )  # jobs asked for by an older version have none
    plan = make_plan(
        piece,
        systems,
        workshop,
        datetime.fromisoformat(inputs["made_at"]),
        in_full=False,
        chances=False,
        shelf_items=shelf_items,
    )
    return piece, systems, courses_of(piece, systems, workshop, plan, shelf_items)


def work_three(connection: psycopg.Connection, job: LongWork, tell: Tell) -> dict[str, Any] | None:
    """One void in three dimensions."""
    piece, _, courses = _courses(job.inputs)
    void = next((one for one in piece.voids if one.id == job.inputs["void_id"]), None)
    if void is None or void.id not in courses:
        raise DomainError(
            argument="void",
            value=job.inputs["void_id"],
            allowed="its heat can be computed",
            way_out="Choose a system whose class is known.",
            code="no-heat",
        )
    solid = _solid(connection, job.workshop_id, void.shape) if isinstance(void.shape, Mesh) else None
    made = in_three(void.shape, solid, courses[void.id], cavity_of(void).fill_m, tell)
    return None if made is None else made.model_dump(mode="json")


def _solid(connection: psycopg.Connection, workshop_id: int, shape: Mesh) -> Solid:
    """The mesh of the file that the shape was read from, parsed in the child process as any foreign file."""
    if shape.source.file is None:
        raise NotFound("file of the mesh")
    data = files.content(connection, workshop_id, shape.source.file)
    found = sandbox.ask("mesh source", data, {"kind": shape.source.format})
    corners = np.frombuffer(base64.b64decode(found["corners"]), "<f8").reshape(-1, 3)
    triangles = np.frombuffer(base64.b64decode(found["triangles"]), "<i8").reshape(-1, 3)
    return placed_mesh(Solid(corners.copy(), triangles.copy()), shape.unit, shape.up)


# Tried one after the other where the time was too short to know: a busy computer needs longer.
SCHEDULE_S = (6.0, 30.0, 120.0)


def work_schedule(connection: psycopg.Connection, job: LongWork, tell: Tell) -> dict[str, Any] | None:
    """All pieces on one clock."""
    inputs = job.inputs
    systems = {one["id"]: System.model_validate(one) for one in inputs["systems"]}
    workshop, shelf_items = (
        Workshop.model_validate(inputs["workshop"]),
        ShelfItems.model_validate(inputs["goods"]),
    )
    made_at = datetime.fromisoformat(inputs["made_at"])
    planned = []
    for place, one in enumerate(inputs["pieces"]):
        piece = Piece.model_validate(one["piece"])
        plan = make_plan(piece, systems, workshop, made_at, in_full=False, shelf_items=shelf_items)
        planned.append(
            Planned(
                id=one["id"],
                piece=piece,
                plan=plan,
                is_free=one["is_free"],
                must_bond=one["must_bond"],
                must_due=one["must_due"],
            )
        )
        if not tell(0.3 * (place + 1) / len(inputs["pieces"])):
            return None

    def goes_on(share: float, _: str) -> bool:
        return tell(0.3 + 0.7 * share)

    made = None
    for seconds in SCHEDULE_S:
        made = plan_together(planned, systems, workshop, shelf_items, made_at, goes_on, seconds=seconds)
        if made is None or made.feasible or made.is_proof:
            break
    return None if made is None else made.model_dump(mode="json")


KINDS: dict[str, Callable[[psycopg.Connection, LongWork, Tell], dict[str, Any] | None]] = {
    "three": work_three,
    "schedule": work_schedule,
}
