"""The stage: is the piece fit to pour on, and what has to be done before mixing? Rules 1.1 to 1.9."""

from __future__ import annotations

from ..common.answer import Answer
from ..common.verdict import StageReport, Verdict
from ..common.working import Workbook
from ..piece.document import Piece
from ..piece.given import Given
from ..resin.system import System
from .air import room_verdicts
from .model import SurveyPlan
from .report import survey_plan, survey_verdicts
from .substrates import substrate_verdicts


def survey(given: Given, used: list[System]) -> Answer[SurveyPlan]:
    """The piece, its room against the sheets (each doubt once), and the steps before mixing."""
    book = Workbook()
    room: dict[str, Verdict] = {}
    for system in used:
        for verdict in room_verdicts(given.workshop, system, given.piece.accepted):
            room.setdefault(verdict.code, verdict)
    found = survey_plan(book, given.piece, used, given.workshop, given.now.date())
    return Answer(
        found,
        [
            *room.values(),
            *survey_verdicts(given.piece, found, used, given.wording),
            *substrate_verdicts(given.piece, given.workshop),
        ],
        book.workings,
    )


def report(piece: Piece) -> StageReport:
    if piece.survey is None:
        return StageReport("survey", "Not surveyed yet.")
    return StageReport("survey", summary=piece.survey.material if piece.survey.material != "not said" else "")
