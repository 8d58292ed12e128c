"""Long work on a piece's heat: a run in three dimensions. Asked for (202), looked at, ended."""

from __future__ import annotations

import contextlib
from typing import Any, Literal

from flask import current_app
from procrastinate.exceptions import ProcrastinateException
from pydantic import BaseModel, Field

from ..core.common.readings import Id
from ..core.common.workshop import LearnedAir
from ..core.layers.refit import Refit, Teaches
from ..core.layers.three import Three
from ..core.resin.system import CureFit
from ..jobs import queue
from ..services import planning
from ..services.heat import ProbeOver, heat_inputs, refit_to
from ..store import jobs
from ..store.jobs import LongWork
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("heat")


class JobPath(BaseModel):
    job_id: int = Field(ge=1, le=2**62)


class WorkBody(BaseModel):
    """three: one void in three dimensions."""

    kind: Literal["three"]
    void_id: Id


class JobAnswer(BaseModel):
    """state: waiting, running, done, failed (says why) or ended."""

    id: int
    kind: str
    state: str
    progress: float
    says: str
    three: Three | None = None


def _answer(job: LongWork) -> dict[str, Any]:
    found = job.result or {}
    return JobAnswer(
        id=job.id,
        kind=job.kind,
        state=job.state,
        progress=job.progress,
        says=job.says,
        three=found if job.kind == "three" and found else None,
    ).model_dump(mode="json")


def queue_word(job_id: int) -> None:
    """Word to the workers. It may get lost with this process: the worker's rounds find the row."""
    if "cavatum-queue" not in current_app.extensions:
        current_app.extensions["cavatum-queue"] = queue.open_sync(current_app.config["DOOR_URL"])
    with contextlib.suppress(ProcrastinateException):
        queue.queue(current_app.extensions["cavatum-queue"], job_id)


@blueprint.post(
    "/pieces/<int:piece_id>/work", operation_id="askForWork", responses={200: JobAnswer, 202: JobAnswer}
)
def ask_for_work(path: PiecePath, body: WorkBody) -> RouteAnswer:
    """200 with the result where it is known already."""
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = heat_inputs(connection, shop, path.piece_id, now())[2]
        job, is_new = jobs.ask(connection, shop, body.kind, {**inputs, "void_id": body.void_id})
    if is_new:
        queue_word(job.id)
    return _answer(job), 200 if job.is_over else 202


class ProbeBody(BaseModel):
    """A probe's log as CSV, of one layer (0 the lowest) of one void; its first row is the moment it was
    poured, unless begun_s says otherwise.

    stand_in  True: take the stand-in's log instead (invented, for trying it out)
    teaches   the resin's rate and heat, what leaves at top and sides of this workshop, or both
    """

    void_id: Id
    layer: int = Field(ge=0, le=60)
    text: str = Field(default="", max_length=1_900_000)
    begun_s: float = Field(default=0.0, ge=-30 * 86400, le=30 * 86400)
    stand_in: bool = False
    teaches: Teaches = "both"


class ProbeAnswer(BaseModel):
    """What refitting to the log would change; nothing is kept. system and fit: to be kept as a new version of
    that sheet, air: in the workshop, if wanted.
    """

    refit: Refit
    left_out: list[str]
    system_id: str
    fit: CureFit | None
    air: LearnedAir | None


@blueprint.post("/pieces/<int:piece_id>/probe", operation_id="layProbeOver", responses={200: ProbeAnswer})
def lay_probe_over(path: PiecePath, body: ProbeBody) -> RouteAnswer:
    log = ProbeOver(
        void_id=body.void_id,
        layer=body.layer,
        text=body.text,
        begun_s=body.begun_s,
        stand_in=body.stand_in,
        teaches=body.teaches,
    )
    with transaction() as connection:
        opened = planning.opened(connection, workshop_id(connection), path.piece_id, now())
    found = refit_to(*opened, log)
    return ProbeAnswer(
        refit=found.refit,
        left_out=found.left_out,
        system_id=found.system_id,
        fit=found.fit,
        air=found.air,
    ).model_dump(mode="json")


@blueprint.get("/jobs/<int:job_id>", operation_id="readJob", responses={200: JobAnswer})
def read_job(path: JobPath) -> RouteAnswer:
    with transaction() as connection:
        return _answer(jobs.read(connection, workshop_id(connection), path.job_id))


@blueprint.delete("/jobs/<int:job_id>", operation_id="endJob", responses={200: JobAnswer})
def end_job(path: JobPath) -> RouteAnswer:
    with transaction() as connection:
        return _answer(jobs.end(connection, workshop_id(connection), path.job_id))
