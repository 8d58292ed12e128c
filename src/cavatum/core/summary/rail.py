"""The state of each stage for the rail: settled, needs you, or stops the job, with the reason in one
sentence.
"""

from __future__ import annotations

from ..clock.windows import Days
from ..common.verdict import Verdict
from ..mix.model import PourPlan
from ..piece.document import Piece
from ..resin.system import System
from .model import StageState

BUILT = ("survey", "measure", "resin", "layers", "mix", "clock", "pour", "finish", "log")


def stages_of(
    piece: Piece,
    voids: int,
    coats: int,
    used: list[System],
    pours: list[PourPlan],
    days: Days,
    verdicts: list[Verdict],
) -> list[StageState]:
    """Only stages that exist are listed. What is still missing comes before what is doubted."""
    missing = {
        "survey": "" if piece.survey else "Not surveyed yet.",
        "measure": "" if piece.voids or piece.coats else "Add the first void or coat.",
        "resin": "" if used else "Choose a resin system." if piece.voids or piece.coats else "Measure first.",
        "layers": "" if pours else "Measure and choose a system first.",
        "mix": "" if pours else "Nothing to weigh yet.",
        "clock": "" if days.pours else "Nothing to pour yet.",
        "pour": "" if days.pours else "Nothing to pour yet.",
        "finish": "" if days.pours else "Nothing to finish yet.",
        "log": "" if days.pours else "Nothing happened yet.",
    }
    summaries = {
        "survey": piece.survey.material if piece.survey and piece.survey.material != "not said" else "",
        "measure": ", ".join(one for one in (_count(voids, "void"), _count(coats, "coat")) if one),
        "resin": used[0].name if len(used) == 1 else _count(len(used), "system"),
        "layers": _count(len(pours), "pour"),
        "mix": _count(sum(len(pour.batches) for pour in pours), "batch", "batches"),
        "clock": _count(len(days.pours) + (1 if days.demould_at else 0), "visit") if days.pours else "",
        "pour": "",
        "finish": piece.finish.surface if piece.finish and piece.finish.surface != "not said" else "",
        "log": "",
    }
    first_missing = next((stage for stage in BUILT if missing[stage] and stage != "survey"), None)
    states = []
    for stage in BUILT:
        worst = next(
            (v for w in ("stops", "care") for v in verdicts if v.stage == stage and v.weight == w), None
        )
        if worst is not None:
            state, reason = ("stops" if worst.weight == "stops" else "needs you"), worst.title
        elif missing[stage]:
            state, reason = ("needs you" if stage in ("survey", first_missing) else "later"), missing[stage]
        else:
            state, reason = "settled", ""
        states.append(
            StageState(
                stage=stage, state=state, summary="" if missing[stage] else summaries[stage], reason=reason
            )
        )
    return states


def _count(number: int, one: str, many: str = "") -> str:
    return f"{number} {one if number == 1 else many or one + 's'}" if number else ""
