"""The shelf's resin systems: sheets and their versions, each with its doubts."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ..core.calibration.of_system import fitted_rows
from ..core.coats.any_amount import OnThePiece
from ..core.common.amounts import read_amount
from ..core.common.errors import DomainError
from ..core.common.readings import Id
from ..core.common.verdict import Verdict
from ..core.layers.claimed import claimed_layers
from ..core.mix.amount import WeighOut, weigh_out
from ..core.resin.checks import check_system
from ..core.resin.system import System, confirmed, typical_fields
from ..core.resin.typical import typical_systems
from ..services import amounts, planning
from ..store import pieces, systems
from ..store.pool import NotFound
from .answers import MadeOn, RouteAnswer
from .context import now, transaction, workshop_id
from .operations import Blueprint

blueprint = Blueprint("systems", "/api/v1/systems")


class SystemPath(BaseModel):
    system_id: Id


class FittedRow(BaseModel):
    """One working time of the sheet beside what is computed for the same batch."""

    at_c: float
    mass_kg: float
    said_s: float
    computed_s: float


class Sheet(BaseModel):
    """A sheet with what is doubtful and what nobody has confirmed. rows: the working times that its cure was
    fitted to together; none where it gives one.
    """

    system: System
    verdicts: list[Verdict]
    typical: list[str]
    rows: list[FittedRow]


class Shelf(BaseModel):
    sheets: list[Sheet]


class Versions(BaseModel):
    versions: list[System]


def as_sheet(system: System) -> Sheet:
    return Sheet(
        system=system,
        verdicts=[*check_system(system), *claimed_layers(system)],
        typical=typical_fields(system),
        rows=[
            FittedRow(
                at_c=one.pot.temperature_c,
                mass_kg=one.pot.mass_kg,
                said_s=one.pot.time_s,
                computed_s=one.computed_s,
            )
            for one in fitted_rows(system)
        ],
    )


@blueprint.get("", operation_id="readShelf", responses={200: Shelf})
def read_shelf() -> RouteAnswer:
    with transaction() as connection:
        sheets = systems.newest(connection, workshop_id(connection)).values()
    return Shelf(sheets=[as_sheet(one) for one in sheets]).model_dump(mode="json")


@blueprint.get("/classes", operation_id="readClasses", responses={200: Shelf})
def read_classes() -> RouteAnswer:
    """The typical classes to start a sheet from."""
    return Shelf(sheets=[as_sheet(one) for one in typical_systems()]).model_dump(mode="json")


@blueprint.post("", operation_id="addSystem", responses={201: Sheet})
def add_system(body: System) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        if body.id in systems.newest(connection, shop):
            raise DomainError(
                argument="resin system id",
                value=body.id,
                allowed="it stands on the shelf already",
                way_out="Choose another name.",
                code="twice",
            )
        stored = systems.add_version(connection, shop, body)
    return as_sheet(stored).model_dump(mode="json"), 201


@blueprint.put("/<string:system_id>", operation_id="changeSystem", responses={200: Sheet})
def change_system(path: SystemPath, body: System) -> RouteAnswer:
    """A change makes a new version. `version` in the body is the one it was made on; what was changed since
    is joined with it, and 409 is said where both changed the same value.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = systems.change(connection, shop, body.model_copy(update={"id": path.system_id}))
    return as_sheet(stored).model_dump(mode="json")


@blueprint.post("/<string:system_id>/confirm", operation_id="confirmSystem", responses={200: Sheet})
def confirm_system(path: SystemPath, query: MadeOn) -> RouteAnswer:
    """The person has compared every typical value with the own sheet: they become the sheet's. made_on: the
    version they compared; with a newer one there is something they have not seen.
    """
    with transaction() as connection:
        shop = workshop_id(connection)
        newest = systems.versions(connection, shop, path.system_id)[0]
        if newest.version != query.made_on:
            raise DomainError(
                argument="sheet",
                value=f"compared as version {query.made_on}",
                allowed=f"the newest is version {newest.version}",
                way_out="Look at what changed, and confirm it then.",
                code="newer-version",
            )
        stored = systems.add_version(connection, shop, confirmed(newest))
    return as_sheet(stored).model_dump(mode="json")


class AmountBody(BaseModel):
    """As it is said: "300 g in all", "8 fl oz of each part"."""

    text: str = Field(max_length=80)
    piece_id: int | None = None
    default_unit: str | None = Field(default=None, max_length=20)


class AmountAnswer(BaseModel):
    """Both parts; and, where a piece was named, what the amount would be on it."""

    weigh: WeighOut
    on_piece: OnThePiece | None


@blueprint.post("/<string:system_id>/amount", operation_id="weighOut", responses={200: AmountAnswer})
def weigh_out_amount(path: SystemPath, body: AmountBody) -> RouteAnswer:
    """Both parts for any amount, by a sheet of the shelf or a typical class. Nothing is stored; what was not
    said is asked.
    """
    said = read_amount(body.text, body.default_unit)
    with transaction() as connection:
        shop = workshop_id(connection)
        inputs = planning.inputs_of(connection, shop)
        stored = pieces.read(connection, shop, body.piece_id) if body.piece_id is not None else None
    shelf = inputs.sheets
    # What is not on the shelf may be a typical class: a newcomer weighs out before the shelf is filled.
    classes = {one.id: one for one in typical_systems()}
    sheet = shelf.get(path.system_id) or classes.get(path.system_id)
    if sheet is None:
        raise NotFound(f"system {path.system_id}")
    on_piece = None
    if stored is not None and stored.piece.coats:
        on_piece = amounts.on_piece(said, sheet, stored.piece, inputs, now())
    answer = AmountAnswer(weigh=weigh_out(said, sheet), on_piece=on_piece)
    return answer.model_dump(mode="json")


@blueprint.delete("/<string:system_id>", operation_id="retireSystem", responses={204: None})
def retire_system(path: SystemPath) -> RouteAnswer:
    """Off the shelf; its versions stay, so that old plans still explain themselves."""
    with transaction() as connection:
        shop = workshop_id(connection)
        newest = systems.versions(connection, shop, path.system_id)[0]
        systems.add_version(connection, shop, newest, retired=True)
    return "", 204


@blueprint.get("/<string:system_id>/versions", operation_id="readVersions", responses={200: Versions})
def read_versions(path: SystemPath) -> RouteAnswer:
    with transaction() as connection:
        found = systems.versions(connection, workshop_id(connection), path.system_id)
    return Versions(versions=found).model_dump(mode="json")
