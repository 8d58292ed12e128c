"""Finish: gates by test, the plan of finishing, the care note as a page to print."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
from psycopg import Connection
from pydantic import BaseModel

from ..core.calibration.of_system import Cure, cure_of
from ..core.common.errors import DomainError
from ..core.common.wording import Say
from ..core.finish.plan import FinishPlan, finish_plan
from ..core.learn.known_cure import known_of, learned_of
from ..core.plan_model import Plan
from ..core.resin.system import System
from ..formats.pdf import care_pdf
from ..store import pieces, runs, workshops
from ..store.runs import Run
from . import planning
from .context import now, transaction, workshop_id
from .learning import learned_now
from .pieces import PiecePath
from .problems import Problem

blueprint = APIBlueprint("finish", __name__, url_prefix="/api/v1/pieces", abp_responses={"4XX": Problem})


class FinishAnswer(BaseModel):
    """run_id: the real run whose record the gates rest on, None while nothing was begun."""

    plan: FinishPlan
    run_id: int | None


@blueprint.get("/<int:piece_id>/finish", operation_id="readFinish", responses={200: FinishAnswer})
def read_finish(path: PiecePath):
    with transaction() as connection:
        plan, run = _finish(connection, workshop_id(connection), path.piece_id)
    return FinishAnswer(plan=plan, run_id=run.id if run else None).model_dump(mode="json")


@blueprint.get("/<int:piece_id>/care.pdf", operation_id="printCare")
def print_care(path: PiecePath):
    with transaction() as connection:
        shop = workshop_id(connection)
        plan, _ = _finish(connection, shop, path.piece_id)
        say = Say(workshops.read(connection, shop))
    return Response(
        care_pdf(plan.care, say),
        mimetype="application/pdf",
        headers={"Content-Disposition": f'inline; filename="care-{path.piece_id}.pdf"'},
    )


def _finish(connection: Connection, shop: int, piece_id: int) -> tuple[FinishPlan, Run | None]:
    """The plan of the newest real run if there is one: gates count from what was really poured."""
    moment = now()
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
        plan = runs.frozen_plan(connection, shop, run.id)
        known = known_of(
            plan, learned, run.script, runs.events(connection, shop, run.id), run.room_c, run.ended_at
        )
    cures = _cures(inputs.sheets, plan)
    return finish_plan(stored.piece, plan, inputs.sheets, cures, known, moment, Say(inputs.workshop)), run


def _cures(sheets: dict[str, System], plan: Plan) -> dict[str, Cure]:
    found = {}
    for id_ in {layer.system_id for pour in plan.pours for layer in pour.layers}:
        try:
            found[id_] = cure_of(sheets[id_])
        except (DomainError, KeyError):
            continue  # the oven's program then says that it is not known
    return found
