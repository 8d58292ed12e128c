"""The ways to split one piece, each worked out in full through plan.py and laid side by side. Rule 4.4."""

from __future__ import annotations

from datetime import datetime

from .common.verdict import Verdict
from .common.workshop import Workshop
from .layers.model import Chance, LayerHeat
from .piece.document import LayerChoice, Piece
from .piece.shelf_items import NONE, ShelfItems
from .plan import make_plan
from .plan_model import Option, Plan
from .resin.system import System

TITLES: dict[LayerChoice, str] = {
    "fewest": "Fewest pours",
    "coolest": "Coolest",
    "soonest": "Soonest",
    "even": "Even layers",
    "thirds": "In thirds",
    "volumes": "Equal volumes",
    "whole": "The whole mould in one",
    "own": "As you drew it",
}


def compare(
    piece: Piece,
    systems: dict[str, System],
    workshop: Workshop,
    now: datetime,
    shelf_items: ShelfItems = NONE,
) -> list[Option]:
    """Fewest, coolest (of at most one more), soonest, thirds (for knots and cracks), the person's own if
    drawn; even only where it was chosen.
    """
    drawn = any(portion.boundaries_m is not None for void in piece.voids for portion in void.portions)
    choices: list[LayerChoice] = ["fewest", "coolest", "soonest", "thirds"]
    choices += [one for one in ("even", "volumes", "whole") if one == piece.layering]
    if drawn:
        choices.append("own")
    return [
        option_of(piece.model_copy(update={"layering": choice}), systems, workshop, now, shelf_items)
        for choice in choices
    ]


def option_of(
    piece: Piece,
    systems: dict[str, System],
    workshop: Workshop,
    now: datetime,
    shelf_items: ShelfItems = NONE,
) -> Option:
    """One way to split, the piece's own choice."""
    return option_from(
        piece, make_plan(piece, systems, workshop, now, in_full=False, shelf_items=shelf_items)
    )


def hottest_of(plan: Plan) -> LayerHeat | None:
    """The layer that is nearest to its wanted peak, or furthest above it."""
    heats = heats_of(plan)
    return max(heats, key=lambda heat: heat.peak.value - heat.wanted_c, default=None)


def heats_of(plan: Plan) -> list[LayerHeat]:
    return [layer.heat for pour in plan.pours for layer in pour.layers if layer.heat]


def worst_chance(plan: Plan) -> Chance | None:
    """Of the layer that is likeliest to pass what must never be; among equals of the one that may get
    hottest.
    """
    chances = [heat.chance for heat in heats_of(plan) if heat.chance]
    return max(chances, key=lambda one: (one.over_never, one.high_c), default=None)


def _reason(stop: Verdict | None, has_pours: bool) -> str:
    if stop is not None:
        return _why_not(stop)
    return "" if has_pours else "Measure and choose a system first."


def option_from(piece: Piece, plan: Plan) -> Option:
    """A plan made for this choice, as one line beside others."""
    stops = [one for one in plan.verdicts if one.weight == "blocker" and one.stage in ("layers", "mix")]
    stop = stops[0] if stops else None
    totals, hottest = plan.totals, hottest_of(plan)
    return Option(
        choice=piece.layering,
        title=TITLES[piece.layering],
        offered=bool(plan.pours) and stop is None,
        reason=_reason(stop, bool(plan.pours)),
        pours=totals.pours,
        depths_m=totals.depths_m,
        visits=totals.visits,
        hands_on_s=totals.hands_on.value if totals.hands_on else 0.0,
        out_of_form_at=totals.out_of_form_at,
        sanded=sum(1 for verdict in plan.verdicts if verdict.code == "window-missed"),
        peak_c=hottest.peak.value if hottest else None,
        too_hot=hottest is not None and hottest.peak.value > hottest.wanted_c,
        runs_away=hottest is not None and hottest.runs_away,
        chance=worst_chance(plan),
    )


def _why_not(stop: Verdict) -> str:
    """Short, beside the others: the drawing shows the rest once it is chosen."""
    return f"{stop.title} for the sheet's rule." if stop.code == "too-deep" else f"{stop.title}."
