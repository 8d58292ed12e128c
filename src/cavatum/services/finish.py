"""The plan of finishing, from the newest real run of a piece where there is one. Rules 8.1 to 8.7."""

from __future__ import annotations

from datetime import datetime

from psycopg import Connection

from ..core.calibration.of_system import Cure, cure_of
from ..core.common.errors import DomainError
from ..core.common.wording import Wording
from ..core.finish.model import FinishPlan
from ..core.finish.plan import finish_plan
from ..core.learn.cure_of_run import cure_record_of, learned_of
from ..core.plan_model import Plan
from ..core.pour.branches import plan_as_taken
from ..core.pour.state import fold
from ..core.resin.system import System
from ..store import pieces, runs
from ..store.runs import Run
from . import planning
from .learning import learned_now


def finish_of(
    connection: Connection, shop: int, piece_id: int, moment: datetime
) -> tuple[FinishPlan, Run | None]:
    """The plan of the newest real run if there is one: gates count from what was really poured."""
    run = next(
        (
            one
            for one in runs.listed(connection, shop, is_open=False, piece_id=piece_id)
            if one.rehearsal is None
        ),
        None,
    )
    learned = learned_now(connection, shop)
    if run is None:
        stored, inputs, plan = planning.opened(connection, shop, piece_id, moment)
        known = learned_of(plan, learned)
    else:
        stored, inputs = pieces.read(connection, shop, piece_id), planning.inputs_of(connection, shop)
        kept = runs.events(connection, shop, run.id)
        plan = plan_as_taken(runs.frozen_plan(connection, shop, run.id), fold(run.script, kept))
        known = cure_record_of(plan, learned, run.script, kept, run.room_c, run.ended_at)
    cures = _cures(inputs.sheets, plan)
    return finish_plan(stored.piece, plan, inputs.sheets, cures, known, moment, Wording(inputs.workshop)), run


def _cures(sheets: dict[str, System], plan: Plan) -> dict[str, Cure]:
    found = {}
    for id_ in {layer.system_id for pour in plan.pours for layer in pour.layers}:
        try:
            found[id_] = cure_of(sheets[id_])
        except (DomainError, KeyError):
            continue  # the oven's program then says that it is not known
    return found
