"""What plans take from the shelf: of one plan, and of all pieces whose start is set."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from typing import Any

from psycopg import Connection

from ..core.mix.leftover import Waiting
from ..core.plan_model import Plan
from ..core.purchase.stock import PartNeed
from ..store import pieces
from .planning import inputs_of, needs_of, plan_of, summary_of

MOST_PIECES = 200


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
    none yet is planned now.
    """
    found, inputs = [], None
    for row in pieces.with_a_start(connection, shop):
        if row.id in without:
            continue
        summary = row.summary
        if "needs" not in summary:
            inputs = inputs or inputs_of(connection, shop)
            stored = pieces.read(connection, shop, row.id)
            summary = summary_of(stored.piece, plan_of(connection, shop, stored, moment, inputs))
        moments = [datetime.fromisoformat(one) for one in summary["poured_at"]]
        for at, needs in zip(moments, summary["needs"], strict=False):
            if at > moment:
                found += [
                    PartNeed(
                        who=row.name, system_id=one["system_id"], a_kg=one["a_kg"], b_kg=one["b_kg"], at=at
                    )
                    for one in needs
                ]
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
