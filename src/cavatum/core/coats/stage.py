"""The stage: every coat as amount, film and rule, how it lies, and what it needs. Rules 2.5, 2.9, 2.10,
4.2."""

from __future__ import annotations

from collections.abc import Mapping

from ..calibration.of_system import Cure
from ..common.answer import Answer
from ..common.working import Workbook
from ..cure.parameters import ZERO_C_K
from ..measure.model import CoatPlan
from ..piece.given import Given
from ..resin.ratio import MixRatio
from .figures import lays_of
from .flow_figures import Wet, with_flow
from .verdicts import coat_verdicts


def coats(
    given: Given, plans: list[CoatPlan], ratios: Mapping[str, MixRatio], cures: Mapping[str, Cure]
) -> Answer[list[CoatPlan]]:
    """The measured coats, coat by coat and as liquids. cures: of the systems whose class is known."""
    book = Workbook()
    documents = {coat.id: coat for coat in given.piece.coats}
    made: list[CoatPlan] = []
    for plan in plans:
        coat = documents[plan.coat_id]
        plan = plan.model_copy(update={"lays": lays_of(book, given, coat, ratios)})
        thick = max(coat.lays, key=lambda one: one.film_m.value if one.film_m else 0.0)
        system = given.system_of(thick)
        if system is not None and system.id in ratios:
            cure = cures.get(system.id)
            wet = Wet(
                system=system,
                ratio=ratios[system.id],
                kinetics=cure.kinetics if cure else None,
                room_k=given.workshop.room_c.value + ZERO_C_K,
            )
            plan = with_flow(book, plan, coat, wet, given.piece.level)
        made.append(plan)
    return Answer(made, coat_verdicts(given, made), book.workings)
