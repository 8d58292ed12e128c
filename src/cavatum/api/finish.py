"""Finish: gates by test, the plan of finishing, the care note as a page to print."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from ..core.common.wording import Wording
from ..core.finish.model import FinishPlan
from ..formats.pdf import care_pdf
from ..services.finish import finish_of
from ..store import workshops
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("finish", "/api/v1/pieces")


class FinishAnswer(BaseModel):
    """run_id: the real run whose record the gates rest on, None while nothing was begun."""

    plan: FinishPlan
    run_id: int | None


@blueprint.get("/<int:piece_id>/finish", operation_id="readFinish", responses={200: FinishAnswer})
def read_finish(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        plan, run = finish_of(connection, workshop_id(connection), path.piece_id, now())
    return FinishAnswer(plan=plan, run_id=run.id if run else None).model_dump(mode="json")


@blueprint.get("/<int:piece_id>/care.pdf", operation_id="printCare")
def print_care(path: PiecePath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        plan, _ = finish_of(connection, shop, path.piece_id, now())
        wording = Wording(workshops.read(connection, shop))
    return Response(
        care_pdf(plan.care, wording),
        mimetype="application/pdf",
        headers={"Content-Disposition": f'inline; filename="care-{path.piece_id}.pdf"'},
    )
