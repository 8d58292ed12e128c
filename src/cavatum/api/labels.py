"""The photographed label of a bottle at the scale: read in the child, and compared with what is due."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ..core.common.verdict import Verdict
from ..core.mix.label_check import label_verdicts, labelled_bottle
from ..core.sheet.container import Label, borne_out, label_of
from ..core.sheet.page import Page
from ..formats.sheet_words import words_of_labels
from ..store import stock, systems, weighings
from ..store.pool import NotFound
from .answers import RouteAnswer
from .context import now, transaction, workshop_id
from .files import read_once
from .operations import Blueprint
from .weighing import WeighingPath

blueprint = Blueprint("labels")


class LabelBody(BaseModel):
    """file: the picture, kept before; step: the part that is due."""

    file: str = Field(pattern=r"^[0-9a-f]{64}$")
    step: str = Field(pattern="^[AB]$")


class LabelAnswer(BaseModel):
    """bottle_id: the bottle of the shelf that has this part and lot; None where there is none, or several."""

    label: Label
    verdicts: list[Verdict]
    bottle_id: int | None


@blueprint.post("/weighings/<int:weighing_id>/label", operation_id="readLabel", responses={200: LabelAnswer})
def read_label(path: WeighingPath, body: LabelBody) -> RouteAnswer:
    """What the label says, and whether it is the bottle that is due. Nothing is stored."""
    read = read_once(body.file, "label", ("photo",), {})["pages"]
    label = borne_out(*(label_of([Page.model_validate(one)], words_of_labels()) for one in read))
    with transaction() as connection:
        shop = workshop_id(connection)
        task = weighings.read(connection, shop, path.weighing_id).task
        shelf = systems.newest(connection, shop)
        bottles = stock.listed(connection, shop)
    wanted = shelf.get(task.system_id)
    if wanted is None:
        raise NotFound(f"resin system {task.system_id}")
    told = label_verdicts(label, body.step, wanted, list(shelf.values()), now().date())
    found = labelled_bottle(label, body.step, wanted, bottles, told)
    return LabelAnswer(label=label, verdicts=told, bottle_id=found).model_dump(mode="json")
