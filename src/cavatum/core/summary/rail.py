"""The state of each stage for the rail: settled, needs you, or stops the job, with the reason in one
sentence.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Stage, StageReport, Verdict
from ..piece.document import Piece
from ..practice.work import COATS, MOULDS
from .model import StageState


def title_of(stage: Stage, piece: Piece) -> str:
    """What this piece's kind of work calls a stage: what is only coated has coats and no layers, what is cast
    in a mould has the mould looked over.
    """
    is_coated = bool(piece.coats) or piece.kind_of_work in (*COATS, "rotator")
    if stage == "layers" and is_coated and not piece.voids:
        return "Coats"
    if stage == "survey" and piece.kind_of_work in MOULDS:
        return "Mould"
    return stage.capitalize()


def rail_of(reports: Sequence[StageReport], verdicts: Sequence[Verdict], piece: Piece) -> list[StageState]:
    """In the order of the reports. What is still missing comes before what is doubted; of what is missing
    only the survey and the first other stage ask for the person, the rest comes later.
    """
    first_missing = next((one.stage for one in reports if one.missing and one.stage != "survey"), None)
    return [
        _state(one, title_of(one.stage, piece), one.stage in ("survey", first_missing), verdicts)
        for one in reports
    ]


def _state(report: StageReport, title: str, is_next: bool, verdicts: Sequence[Verdict]) -> StageState:
    own = [one for one in verdicts if one.stage == report.stage]
    summary = "" if report.missing else report.summary
    for weight, state in (("blocker", "stops"), ("warning", "needs you")):
        worst = next((one for one in own if one.weight == weight), None)
        if worst is not None:
            return StageState.model_validate(
                {
                    "stage": report.stage,
                    "title": title,
                    "state": state,
                    "summary": summary,
                    "reason": worst.title,
                }
            )
    if report.missing:
        state = "needs you" if is_next else "later"
        return StageState.model_validate(
            {"stage": report.stage, "title": title, "state": state, "summary": "", "reason": report.missing}
        )
    return StageState(stage=report.stage, title=title, state="settled", summary=summary, reason="")


NO_RESIN = "no resin"


def without_resin(piece: Piece, reports: Sequence[StageReport]) -> list[StageReport]:
    """A piece that is only oiled or varnished has nothing to pour: what is about resin is settled by that."""
    if piece.kind_of_work != "oil or varnish" or piece.voids or piece.coats:
        return list(reports)
    kept = {"survey", "finish", "log"}
    return [one if one.stage in kept else StageReport(one.stage, summary=NO_RESIN) for one in reports]


def after_planning(piece: Piece, *, has_pours: bool) -> list[StageReport]:
    """Pour, finish and log as far as a plan can speak of them; what is done there is in the run's record."""
    if not has_pours:
        ends = piece.finish is not None and piece.finish.surface in ("oil", "varnish")
        return [
            StageReport("pour", "Nothing to pour yet."),
            StageReport("finish", summary=piece.finish.surface)
            if ends and piece.finish
            else StageReport("finish", "Choose an oil or a varnish.")
            if piece.kind_of_work == "oil or varnish"
            else StageReport("finish", "Nothing to finish yet."),
            StageReport("log", "Nothing happened yet."),
        ]
    surface = piece.finish.surface if piece.finish else "not said"
    return [
        StageReport("pour"),
        StageReport("finish", summary="" if surface == "not said" else surface),
        StageReport("log"),
    ]
