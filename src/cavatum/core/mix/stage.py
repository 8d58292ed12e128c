"""The stage: what is weighed, in how many batches, with which colours, until when it is poured. Rules 5.1
to 5.10.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..calibration.of_system import Cure
from ..common.answer import Answer
from ..common.errors import DomainError
from ..common.verdict import StageReport, counted, refused
from ..common.working import Workbook
from ..layers.pours import Pour
from ..piece.given import Given
from .colour_verdicts import colour_verdicts
from .mixes import mixes_of
from .model import PourPlan
from .pour_plan import pour_plan
from .verdicts import mix_verdicts


def mixable(given: Given, pours: list[Pour]) -> Answer[list[Pour]]:
    """The pours, if all of them fit cups and scale in a sensible number of batches; else none, and why."""
    try:
        for pour in pours:
            mixes_of(pour, given.workshop)
    except DomainError as error:
        return Answer([], [refused("mix", error)])
    return Answer(pours)


def mix(given: Given, pours: Sequence[Pour], cures: Mapping[str, Cure]) -> Answer[list[PourPlan]]:
    """cures: of the systems whose class is known; their batches get a pot clock."""
    book = Workbook()
    plans = [pour_plan(book, pour, given.workshop, cures, given.shelf_items) for pour in pours]
    said = mix_verdicts(pours, plans, given.workshop, given.wording)
    said += colour_verdicts(pours, plans, given.shelf_items, given.workshop, given.wording)
    return Answer(plans, said, book.workings)


def report(pours: Sequence[PourPlan]) -> StageReport:
    if not pours:
        return StageReport("mix", "Nothing to weigh yet.")
    return StageReport("mix", summary=counted(sum(len(pour.batches) for pour in pours), "batch", "batches"))
