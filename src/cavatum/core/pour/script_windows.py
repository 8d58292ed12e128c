"""The steps round each pour, and the windows they and the next mixing stand in, anchored to the moment it
was really
poured. Rules 6.1, 8.1.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from ..clock.model import ClockStep, Row
from ..clock.steps import SANDING
from ..mix.model import PourPlan
from ..plan_model import Plan
from .script_model import ScriptStep

AGAIN_SHARE = 0.25  # common practice: hardening may take a quarter longer than expected
AGAIN_LEAST_S = 1800.0
SAND_LEAD_S = 1800.0
GATED = ("square", "turn", "cut-flush", "cut-next")  # what a passed nail test opens


def last_pour_id(pour: PourPlan) -> str:
    return f"p{pour.number}/b{pour.batches[-1].number}/pour"


def span_of(row: Row, state: str) -> tuple[datetime, datetime] | None:
    found = next((one for one in row.segments if one.state == state), None)
    return (found.from_at, found.to_at) if found else None


def _poured_at(row: Row) -> datetime:
    span = span_of(row, "mix")
    return span[1] if span else row.segments[0].from_at


def is_bonded(rows: list[Row], place: int) -> bool:
    """Whether the layer below was left for this one in its bond window."""
    return not any(one.state == "closed" for one in rows[place - 1].segments)


def window_of_mixing(plan: Plan, rows: list[Row], place: int, mix_at: datetime) -> dict[str, Any]:
    """The window of mixing: none for the first pour, the layer below's bond window for the others, or from
    when it can be sanded.
    """
    if place == 0:
        return {}
    below, row = plan.pours[place - 1], rows[place - 1]
    poured = _poured_at(row)
    bond = span_of(row, "bond")
    take = _poured_at(rows[place]) - mix_at
    if bond and is_bonded(rows, place):
        opens, closes = (
            bond[0] - timedelta(seconds=plan.windows[place].mix_s) - poured,
            bond[1] - take - poured,
        )
        return {
            "anchor": last_pour_id(below),
            "from_s": max(opens.total_seconds(), 0.0),
            "to_s": closes.total_seconds(),
            "with_cure": True,
            "gate": f"p{below.number}/stick",
            "planned_to": bond[1] - take,
        }
    return {
        "anchor": last_pour_id(below),
        "from_s": (mix_at - poured).total_seconds(),
        "with_cure": True,
        "gate": f"p{below.number}/stick",
    }


def after_pours(plan: Plan, rows: list[Row]) -> list[ScriptStep]:
    """The table's steps round each pour, anchored to the moment it was really poured."""
    by_number = {pour.number: (pour, row) for pour, row in zip(plan.pours, rows, strict=False)}
    found = []
    for step in plan.steps:
        if step.pour is None or step.pour not in by_number or step.code == SANDING:
            continue  # before its mixing the script sands by itself
        pour, row = by_number[step.pour]
        poured = _poured_at(row)
        from_s = (step.earliest - poured).total_seconds()
        to_s = None if step.latest is None else (step.latest - poured).total_seconds()
        if step.kind == "test" and step.code == "stick" and plan.pours.index(pour) + 1 < len(rows):
            found.append(_before_the_next(step, pour, plan, rows))
            continue
        found.append(
            ScriptStep(
                id=f"p{pour.number}/{step.code}",
                code=step.code,
                kind=step.kind,
                title=step.title,
                text=step.text,
                why=step.why,
                rule=step.rule,
                tools=step.tools,
                pour=pour.number,
                anchor=last_pour_id(pour),
                from_s=from_s,
                to_s=to_s,
                with_cure=step.with_cure,
                planned_at=step.earliest,
                planned_to=step.latest,
                hands_s=step.hands_s,
                passes=step.hands_s == 0,
                again_s=max(AGAIN_LEAST_S, AGAIN_SHARE * from_s) if step.kind == "test" else None,
            )
        )
    return _gated(found)


def _gated(steps: list[ScriptStep]) -> list[ScriptStep]:
    """What a nail test opens waits for it, and comes earlier when that is passed early."""
    nails = {one.pour: one for one in steps if one.code in ("nail", "harden")}
    return [
        one.model_copy(
            update={"gate": nails[one.pour].id, "gate_lag_s": max(one.from_s - nails[one.pour].from_s, 0.0)}
        )
        if one.code in GATED and one.pour in nails
        else one
        for one in steps
    ]


def _before_the_next(step: ClockStep, pour: PourPlan, plan: Plan, rows: list[Row]) -> ScriptStep:
    """The test stands before the next pour's mixing, which begins a little before the window opens so that
    the pour falls into it.
    """
    place = plan.pours.index(pour) + 1
    mix_at = (span_of(rows[place], "mix") or (step.earliest, step.earliest))[0]
    window = window_of_mixing(plan, rows, place, mix_at)
    at = mix_at - timedelta(seconds=step.hands_s + (0.0 if is_bonded(rows, place) else SAND_LEAD_S))
    from_s = window["from_s"] - step.hands_s
    return ScriptStep(
        id=f"p{pour.number}/{step.code}",
        code=step.code,
        kind="test",
        title=step.title,
        text=step.text,
        why=step.why,
        rule=step.rule,
        tools=step.tools,
        pour=pour.number,
        anchor=last_pour_id(pour),
        from_s=from_s,
        to_s=window.get("to_s"),
        with_cure=True,
        planned_at=at,
        planned_to=window.get("planned_to"),
        hands_s=step.hands_s,
        again_s=max(AGAIN_LEAST_S, AGAIN_SHARE * from_s),
    )
