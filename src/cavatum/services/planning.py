"""A piece's plan for the API: taken from the store while its inputs are the same, made anew when they
changed.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple, TypeVar

from psycopg import Connection

from .. import __version__, core
from ..core.common.workshop import Workshop
from ..core.learn.learned import LearnedUse, apply
from ..core.mix.model import PourPlan
from ..core.piece.document import Piece
from ..core.piece.shelf_items import ShelfItems
from ..core.plan import make_plan
from ..core.plan_model import Plan
from ..core.resin.system import System
from ..store import pieces, plans, shelf_items, systems, workshops
from ..store.pieces import StoredPiece
from ..store.pool import unless_busy
from .learning import learned_now


class Inputs(NamedTuple):
    """What every plan of a workshop rests on besides the piece. taken: what was learned and went into sheets
    and workshop.
    """

    sheets: dict[str, System]
    workshop: Workshop
    shelf_items: ShelfItems
    taken: tuple[LearnedUse, ...] = ()


def inputs_of(connection: Connection, workshop_id: int, *, learned: bool = True) -> Inputs:
    """learned: with what the runs taught, where nothing stronger is known."""
    sheets, workshop = systems.newest(connection, workshop_id), workshops.read(connection, workshop_id)
    taken: list[LearnedUse] = []
    if learned:
        sheets, workshop, taken = apply(learned_now(connection, workshop_id), sheets, workshop)
    return Inputs(sheets, workshop, shelf_items.newest(connection, workshop_id), tuple(taken))


Thing = TypeVar("Thing")


def _named(shelf: Mapping[str, Thing], ids: Iterable[str | None]) -> dict[str, Thing]:
    """Those of the shelf that are named, in the order of naming; what is not there is left out."""
    return {one: shelf[one] for one in ids if one is not None and one in shelf}


def named_goods(piece: Piece, shelf: ShelfItems) -> ShelfItems:
    """Those that the piece names, and the colourants that its recipes name."""
    parts = [part for filled in (*piece.voids, *piece.coats) for part in filled.filling]
    recipes = _named(shelf.recipes, [part.recipe_id for part in parts])
    colourants = {part.colourant_id for recipe in recipes.values() for part in recipe.parts}
    around = [void.around for void in piece.voids if void.around]
    return ShelfItems(
        recipes=recipes,
        colourants=_named(shelf.colourants, sorted(colourants)),
        materials=_named(shelf.materials, sorted(one.material_id or "" for one in around)),
    )


def named_systems(piece: Piece) -> set[str]:
    named = {part.system_id for filled in (*piece.voids, *piece.coats) for part in filled.filling}
    named |= {piece.system_id}
    return {one for one in named if one is not None}


def plan_of(
    connection: Connection, workshop_id: int, stored: StoredPiece, now: datetime, inputs: Inputs | None = None
) -> Plan:
    """The stored plan where nothing changed. A proposed start that has passed is no longer a proposal: then
    from now.
    """
    inputs = inputs or inputs_of(connection, workshop_id)
    record = _record(stored.piece, inputs)
    key = plans.hash_inputs(record)
    known = plans.newest(connection, workshop_id, stored.id, key)
    if known is not None and (known.start_is_chosen or known.start_at is None or known.start_at > now):
        return known
    plan = make_plan(stored.piece, inputs.sheets, inputs.workshop, now, shelf_items=inputs.shelf_items)
    with unless_busy(connection):
        plans.keep(connection, workshop_id, stored.id, stored.revision, key, record, now, plan)
        pieces.write_summary(connection, workshop_id, stored.id, summary_of(stored.piece, plan))
    return plan


def opened(
    connection: Connection, workshop_id: int, piece_id: int, now: datetime
) -> tuple[StoredPiece, Inputs, Plan]:
    """A piece with its plan and what the plan rests on."""
    stored, inputs = pieces.read(connection, workshop_id, piece_id), inputs_of(connection, workshop_id)
    return stored, inputs, plan_of(connection, workshop_id, stored, now, inputs)


@cache
def core_fingerprint() -> str:
    """Of the core's own code: a corrected rule makes new plans, an old plan keeps the rule it was made by."""
    files = sorted(Path(core.__file__).parent.rglob("*.py"))
    return hashlib.sha256(b"".join(file.read_bytes() for file in files)).hexdigest()[:16]


def _record(piece: Piece, inputs: Inputs) -> dict[str, Any]:
    named = named_systems(piece)
    return {
        "cavatum": __version__,
        "core": core_fingerprint(),
        "piece": piece.model_dump(mode="json", exclude={"systems", "workshop", "goods"}),
        "systems": [
            sheet.model_dump(mode="json") for id_, sheet in sorted(inputs.sheets.items()) if id_ in named
        ],
        "workshop": inputs.workshop.model_dump(mode="json"),
        "goods": named_goods(piece, inputs.shelf_items).model_dump(mode="json"),
    }


def job_inputs(piece: Piece, inputs: Inputs, made_at: datetime) -> dict[str, Any]:
    """What a worker needs to make this very plan again."""
    return {**_record(piece, inputs), "made_at": made_at.isoformat()}


def all_systems_inputs(piece: Piece, inputs: Inputs, made_at: datetime) -> dict[str, Any]:
    """What a worker needs to try every system of the shelf on this piece."""
    sheets = [sheet.model_dump(mode="json") for _, sheet in sorted(inputs.sheets.items())]
    return {**_record(piece, inputs), "systems": sheets, "made_at": made_at.isoformat()}


def summary_of(piece: Piece, plan: Plan) -> dict[str, Any]:
    """What the list shows of a piece; times only when its start is set."""
    rows = plan.clock.rows if plan.clock and plan.start_is_chosen else []
    totals = plan.totals
    worst = next((verdict for verdict in plan.verdicts if verdict.weight != "note"), None)
    return {
        "net_m3": totals.net.value if totals.net else None,
        "mass_kg": totals.mass.value if totals.mass else None,
        "pours": totals.pours,
        "says": worst.title if worst else "",
        "weight": worst.weight if worst else "note",
        "tint": piece.tint,
        "poured_at": [row.segments[0].to_at.isoformat() for row in rows if row.segments],
        "needs": [needs_of(pour) for pour in plan.pours],
    }


def _each(pour: PourPlan, system_id: str) -> list[dict[str, Any]]:
    """Of one system, each void with the share of it that one of its hollows takes: what a leftover can
    fill."""
    layers = [layer for layer in pour.layers if layer.system_id == system_id]
    whole = sum(layer.volume.value * layer.count for layer in layers) or 1.0
    return [
        {"void": layer.void_id, "count": layer.count, "share": layer.volume.value / whole} for layer in layers
    ]


def needs_of(pour: PourPlan) -> list[dict[str, Any]]:
    """What one pour takes of each system and colour: parts [kg], and what has to leave the cups [m3] into how
    many hollows. One to spare counts twice.
    """
    found, times = [], 2 if pour.spare else 1
    for first in {batch.mass.working: batch for batch in pour.batches}.values():
        alike = [batch for batch in pour.batches if batch.mass.working == first.mass.working]
        masses = {part.part: part.mass.value * len(alike) * times for part in first.parts}
        found.append(
            {
                "system_id": first.system_id,
                "a_kg": masses["A"],
                "b_kg": masses["B"],
                "colours": [
                    {"colour": one.colour, "need_m3": one.share * sum(batch.mixed.value for batch in alike)}
                    for one in first.colours
                ],
                "hollows": first.hollows,
                "each": _each(pour, first.system_id),
                "voids": sorted(
                    {layer.void_id for layer in pour.layers if layer.system_id == first.system_id}
                ),
            }
        )
    return found
