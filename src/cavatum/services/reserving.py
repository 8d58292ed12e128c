"""What plans take from the shelf: of one plan, and of all pieces whose start is set."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import datetime, timedelta
from typing import Any

from psycopg import Connection

from ..core.mix.leftover import Waiting
from ..core.plan_model import Plan
from ..core.pour.state import fold, poured_at
from ..core.purchase.stock import PartNeed
from ..store import pieces, runs, weighings
from .planning import inputs_of, needs_of, plan_of, summary_of

MOST_PIECES = 200
BEFORE_IT = timedelta(
    days=7
)  # own judgement: a batch weighed longer before the first pour was another piece's
Taken = Mapping[tuple[int, str], tuple[float, float]]


def needs_of_plan(who: str, plan: Plan) -> list[PartNeed]:
    """One need a pour and system, at the pour's own hour where the plan has hours."""
    rows = plan.clock.rows if plan.clock else []
    moments = [row.segments[0].to_at for row in rows if row.segments]
    found = []
    for index, pour in enumerate(plan.pours):
        at = moments[index] if index < len(moments) else None
        found += [
            PartNeed(who=who, system_id=one["system_id"], a_kg=one["a_kg"], b_kg=one["b_kg"], at=at)
            for one in needs_of(pour)
        ]
    return found


def together(needs: list[PartNeed], system_id: str) -> PartNeed:
    mine = [one for one in needs if one.system_id == system_id]
    return PartNeed(
        who=mine[0].who,
        system_id=system_id,
        a_kg=sum(one.a_kg for one in mine),
        b_kg=sum(one.b_kg for one in mine),
        at=mine[0].at,
    )


def reserved(
    connection: Connection, shop: int, moment: datetime, without: Collection[int] = ()
) -> list[PartNeed]:
    """Pours still to come of all pieces whose start somebody set, by the plan made last of each; one that has
    none yet is planned now. What a batch has taken at the scale is no longer reserved; a pour of a running
    piece
    stays so until it is made, however late.
    """
    found, inputs = [], None
    running = _still_to_pour(connection, shop)
    for row in pieces.with_a_start(connection, shop):
        if row.id in without:
            continue
        summary = row.summary
        if "needs" not in summary:
            inputs = inputs or inputs_of(connection, shop)
            stored = pieces.read(connection, shop, row.id)
            summary = summary_of(stored.piece, plan_of(connection, shop, stored, moment, inputs))
        moments = [datetime.fromisoformat(one) for one in summary["poured_at"]]
        since = min(moments) - BEFORE_IT if moments else moment
        taken = weighings.mixed_of(connection, shop, row.id, since)
        for number, (at, needs) in enumerate(zip(moments, summary["needs"], strict=False), start=1):
            comes = number in running[row.id] if row.id in running else at > moment
            if comes:
                found += _left_of(row.name, number, needs, at, taken)
    return found


def _still_to_pour(connection: Connection, shop: int) -> dict[int, set[int]]:
    """By piece that is being poured: the pours that are not made yet."""
    found: dict[int, set[int]] = {}
    for run in runs.listed(connection, shop, is_open=True):
        if run.rehearsal is None and run.piece_id is not None:
            state = fold(run.script, runs.events(connection, shop, run.id))
            pours = {step.pour for step in run.script.steps if step.pour is not None}
            found[run.piece_id] = {one for one in pours if poured_at(run.script, state, one) is None}
    return found


def _left_of(who: str, pour: int, needs: list[dict[str, Any]], at: datetime, taken: Taken) -> list[PartNeed]:
    """What a pour still needs, what was mixed for it taken off."""
    found = []
    for one in needs:
        a, b = taken.get((pour, one["system_id"]), (0.0, 0.0))
        left = max(one["a_kg"] - a, 0.0), max(one["b_kg"] - b, 0.0)
        if max(left) > 0:
            found.append(PartNeed(who=who, system_id=one["system_id"], a_kg=left[0], b_kg=left[1], at=at))
    return found


def _hollows(need: dict[str, Any]) -> list[tuple[str, float, int]]:
    """(void, its share of the need, how many equal hollows): each void by itself where one colour fills them,
    all together where nobody can tell.
    """
    each = need.get("each", [])
    if len(need["colours"]) != 1 or not each:
        return [(" and ".join(need["voids"]), 1.0, 1)]
    return [(one["void"], one["share"] * one["count"], one["count"]) for one in each]


def waiting(connection: Connection, shop: int, moment: datetime, without: int | None = None) -> list[Waiting]:
    """First pours that nobody has made yet, of pieces that were planned: what a leftover can go into without
    waiting for a layer below.
    """
    found = []
    for row in pieces.listed(connection, shop, "", MOST_PIECES, 0)[0]:
        id_, name, summary = row.id, row.name, row.summary
        moments = [datetime.fromisoformat(one) for one in summary.get("poured_at", [])]
        if id_ == without or (moments and moments[0] <= moment) or not summary.get("needs"):
            continue
        for one in summary["needs"][0]:
            found += [
                Waiting(
                    piece_id=id_,
                    piece=name,
                    void=void,
                    pour=1,
                    system_id=one["system_id"],
                    colour=colour["colour"],
                    need_m3=colour["need_m3"] * share,
                    count=count,
                )
                for colour in one["colours"]
                for void, share, count in _hollows(one)
            ]
    return found
