"""The ways to split one piece, each worked out in full through plan.py and laid side by side. Rule 4.4."""

from __future__ import annotations

from datetime import datetime

from .piece import LayerChoice, Piece
from .plan import make_plan
from .plan_parts import Option
from .resin.system import System
from .verdict import Verdict
from .workshop import Workshop

TITLES: dict[LayerChoice, str] = {
    "fewest": "Fewest pours", "even": "Even layers", "thirds": "In thirds", "own": "As you drew it",
}


def compare(piece: Piece, systems: dict[str, System], workshop: Workshop, now: datetime) -> list[Option]:
    """Fewest (deepest first), even (equal layers that fit), thirds (for knots and cracks), and the person's own if drawn."""
    drawn = any(portion.boundaries_m is not None for void in piece.voids for portion in void.portions)
    choices: list[LayerChoice] = ["fewest", "even", "thirds", *(["own"] if drawn else [])]
    return [_option(piece.model_copy(update={"layering": choice}), systems, workshop, now) for choice in choices]


def _option(piece: Piece, systems: dict[str, System], workshop: Workshop, now: datetime) -> Option:
    plan = make_plan(piece, systems, workshop, now)
    stop = next((verdict for verdict in plan.verdicts if verdict.weight == "stops" and verdict.stage in ("layers", "mix")), None)
    totals = plan.totals
    return Option(
        choice=piece.layering, title=TITLES[piece.layering], offered=bool(plan.pours) and stop is None,
        reason=_why_not(stop) if stop else "" if plan.pours else "Measure and choose a system first.",
        pours=totals.pours, depths_m=totals.depths_m, visits=totals.visits,
        hands_on_s=totals.hands_on.value if totals.hands_on else 0.0, out_of_form_at=totals.out_of_form_at,
        sanded=sum(1 for verdict in plan.verdicts if verdict.code == "window-missed"),
    )


def _why_not(stop: Verdict) -> str:
    """Short, beside the others: the drawing shows the rest once it is chosen."""
    return f"{stop.title} for the sheet's rule." if stop.code == "too-deep" else stop.text
