"""What was learned and what is tried: values with their bands, before and after on a piece, small trials side
by side.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.working import Figure, Working
from ..core.learn.factors import factor_of
from ..core.learn.learned import Advice, Compared, Learned, LearnedUse, advice, compared
from ..core.learn.progress import Progress, progress
from ..core.learn.trials import TABLE, Trial, TrialRow, plan_trial, row_of
from ..core.plan import make_plan
from ..core.resin.ratio import ratio_of
from ..services import learning, planning
from ..store import logbook
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("learned")


class LearnedAnswer(BaseModel):
    learned: list[Learned]
    progress: Progress
    runs: int


class AsideBody(BaseModel):
    code: str = Field(max_length=20)
    key: str = Field(max_length=120)
    set_aside: bool


class LearnedForPiece(BaseModel):
    taken: list[LearnedUse]
    compared: list[Compared]
    advice: list[Advice] = []


class TrialPath(BaseModel):
    trial_id: int = Field(ge=1, le=2**62)


class StoredTrial(BaseModel):
    """each, in_all: None when its resin stands on the shelf no more."""

    id: int
    trial: Trial
    row: TrialRow
    each: Figure | None = None
    in_all: Figure | None = None
    workings: dict[str, Working] = {}
    made_at: datetime


class TrialList(BaseModel):
    table: list[TrialRow]
    trials: list[StoredTrial]


class NewTrialBody(BaseModel):
    what: str = Field(max_length=40)
    system_id: str = Field(max_length=40)


@blueprint.get("/learned", operation_id="readLearned", responses={200: LearnedAnswer})
def read_learned() -> RouteAnswer:
    """What the finished runs taught, with its band and the runs it rests on, and whether it made the next
    ones better foretold.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        learning.refresh(connection, shop)
        seen = logbook.observations(connection, shop)
        return LearnedAnswer(
            learned=learning.learned_now(connection, shop),
            progress=progress(seen),
            runs=len({one.run_id for one in seen}),
        ).model_dump(mode="json")


@blueprint.put("/learned", operation_id="setAside", responses={200: LearnedAnswer})
def set_aside(body: AsideBody) -> RouteAnswer:
    """Not used any more, or used again; the runs stay."""
    factor_of(body.code)
    with transaction() as connection:
        shop = workshop_id(connection)
        logbook.put_aside(connection, shop, body.code, body.key, body.set_aside)
        seen = logbook.observations(connection, shop)
        return LearnedAnswer(
            learned=learning.learned_now(connection, shop),
            progress=progress(seen),
            runs=len({one.run_id for one in seen}),
        ).model_dump(mode="json")


@blueprint.get(
    "/pieces/<int:piece_id>/learned", operation_id="learnedForPiece", responses={200: LearnedForPiece}
)
def learned_for(path: PiecePath) -> RouteAnswer:
    """This piece's plan with typical values and with learned ones, side by side."""
    with transaction() as connection:
        shop, moment = workshop_id(connection), now()
        stored, inputs, plan = planning.opened(connection, shop, path.piece_id, moment)
        offered = advice(learning.learned_now(connection, shop), stored.piece)
        if not inputs.taken:
            return LearnedForPiece(taken=[], compared=[], advice=offered).model_dump(mode="json")
        plain = planning.inputs_of(connection, shop, learned=False)
    other = make_plan(
        stored.piece, plain.sheets, plain.workshop, plan.made_at, in_full=False, shelf_items=plain.shelf_items
    )
    return LearnedForPiece(
        taken=list(inputs.taken), compared=compared(other, plan), advice=offered
    ).model_dump(mode="json")


@blueprint.get("/trials", operation_id="listTrials", responses={200: TrialList})
def list_trials() -> RouteAnswer:
    return _trials()


def _trials() -> dict[str, Any]:
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        return TrialList(
            table=list(TABLE), trials=[_trial(inputs, *one) for one in logbook.trials(connection, shop)]
        ).model_dump(mode="json")


def _trial(inputs: planning.Inputs, id_: int, trial: Trial, made_at: datetime) -> StoredTrial:
    system = inputs.sheets.get(trial.system_id)
    if system is None:
        return StoredTrial(id=id_, trial=trial, row=row_of(trial.what), made_at=made_at)
    ratio = ratio_of(system)
    row, each, in_all, book = plan_trial(trial.what, ratio.by_weight, ratio.mixed_density, inputs.workshop)
    return StoredTrial(
        id=id_, trial=trial, row=row, each=each, in_all=in_all, workings=book.workings, made_at=made_at
    )


@blueprint.post("/trials", operation_id="planTrial", responses={201: TrialList})
def add_trial(body: NewTrialBody) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        row = row_of(body.what)
        if body.system_id not in planning.inputs_of(connection, shop).sheets:
            raise DomainError(
                argument="resin system",
                value=body.system_id,
                allowed="it stands on the shelf",
                way_out="Choose another.",
                code="system-gone",
            )
        trial = Trial(
            what=row.code,
            question=row.question,
            system_id=body.system_id,
            sample=row.sample,
            variants=[{"called": one} for one in row.variants],
        )
        logbook.add_trial(connection, shop, trial)
    return _trials(), 201


@blueprint.put("/trials/<int:trial_id>", operation_id="judgeTrial", responses={200: TrialList})
def judge_trial(path: TrialPath, body: Trial) -> RouteAnswer:
    """Stars and what was seen, and which of them is kept as the workshop's own rule."""
    row_of(body.what)
    if body.kept is not None and body.kept >= len(body.variants):
        raise DomainError(
            argument="kept",
            value=str(body.kept),
            allowed="it is one of the trial",
            way_out="Choose one.",
            code="no-variant",
        )
    with transaction() as connection:
        logbook.change_trial(connection, workshop_id(connection), path.trial_id, body)
    return _trials()


@blueprint.delete("/trials/<int:trial_id>", operation_id="removeTrial", responses={200: TrialList})
def remove_trial(path: TrialPath) -> RouteAnswer:
    with transaction() as connection:
        logbook.remove_trial(connection, workshop_id(connection), path.trial_id)
    return _trials()
