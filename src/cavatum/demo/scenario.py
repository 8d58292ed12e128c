"""Quillstone Yard's workshop, shelf and pieces, and laying them out around a day."""

from __future__ import annotations

from datetime import datetime

from psycopg import Connection

from ..core.common.errors import DomainError
from ..core.common.workshop import Workshop
from ..core.piece.document import Piece
from ..core.resin.typical import typical_systems
from ..store import files, logbook, pieces, runs, shelf_items, systems, workshops
from . import recorded, running, stocked
from .commissions import ZONE, documents
from .measured import file_of

SHIPPED = {"waymark.svg": "svg", "waymark.dxf": "dxf", "fern-tray.stl": "stl"}
WEEKDAY = [{"from_min": 450, "to_min": 1140}]
SATURDAY = [{"from_min": 540, "to_min": 780}]


def workshop() -> Workshop:
    return Workshop.model_validate(
        {
            "name": "Quillstone Yard",
            "zone": ZONE,
            "currency": "GBP",
            "units": "metric",
            "room_c": "21.4 C",
            "room_humidity": "52 %",
            "week": [WEEKDAY] * 5 + [SATURDAY, []],
            "scale": {"most_kg": "3 kg", "step_kg": "0.1 g"},
            "cup_m3": "2.5 L",
            "people": 2,
            "chambers": 1,
            "chamber_m3": "10 L",
            "rotator_places": 2,
            "shelves": 3,
            "residue_fraction": {"value": 0.02, "origin": "typical"},
            "residue_m3": {"value": 4e-6, "origin": "typical"},
        }
    )


def demo_pieces(today: datetime) -> list[Piece]:
    """One curing with its window to come, one due for its second colour, many in planning, two done; each
    measured in its own way.
    """
    return [Piece.model_validate(document) for document in documents(today)]


def ensure(connection: Connection, shop: int, now: datetime) -> str:
    """Fill an empty workshop, move an untouched demo to today, leave everything else alone. Returns what was
    done.
    """
    if not pieces.has_any(connection, shop) and not systems.newest(connection, shop):
        _fill(connection, shop, now)
        return "laid out around today"
    if not workshops.is_demo(connection, shop):
        return "left out, your own work is here"
    if not pieces.all_untouched_demo(connection, shop) or not runs.only_demo(connection, shop):
        return "left as you changed it"
    stored, wanted = pieces.demo_ids(connection, shop), demo_pieces(now)
    if len(stored) != len(wanted) or not shelf_items.newest(connection, shop).recipes:
        lay_out_anew(connection, shop, now)
        return "laid out anew, as this version ships it"
    _keep_files(connection, shop)
    for one, piece in zip(stored, wanted, strict=True):
        pieces.move_demo(connection, shop, one, piece)
    runs.remove_all(connection, shop)
    _run(connection, shop, now)
    return "moved to today"


def _keep_files(connection: Connection, shop: int) -> None:
    for name, kind in SHIPPED.items():
        files.keep(connection, shop, kind, name, file_of(name)[1])


def lay_out_anew(connection: Connection, shop: int, now: datetime) -> None:
    """Raises DomainError in a workshop that is not the demo's."""
    if not workshops.is_demo(connection, shop) and pieces.has_any(connection, shop):
        raise DomainError(
            argument="workshop",
            value="your own",
            allowed="only the demo is laid out anew",
            way_out="Start ./cavatum demo in a checkout of its own.",
            code="not-demo",
        )
    workshops.lock(connection, shop)
    runs.remove_all(connection, shop)
    logbook.remove_all(connection, shop)
    stocked.remove_all(connection, shop)
    pieces.remove_every_row(connection, shop)
    systems.remove_all(connection, shop)
    _fill(connection, shop, now)


def _fill(connection: Connection, shop: int, now: datetime) -> None:
    workshops.write(connection, shop, workshop(), is_demo=True)
    _keep_files(connection, shop)
    for sheet in typical_systems():
        systems.add_version(connection, shop, sheet)
    stocked.fill(connection, shop, now)
    for piece in demo_pieces(now):
        pieces.create(connection, shop, piece, "demo", is_demo=True)
    _run(connection, shop, now)


def _run(connection: Connection, shop: int, now: datetime) -> None:
    """The bench seat is on the bench: its first pour was made yesterday. Behind it lie the runs of five
    weeks, with what they taught.
    """
    recorded.lay_out(connection, shop, now)
    for id_ in pieces.demo_ids(connection, shop):
        stored = pieces.read(connection, shop, id_)
        if stored.piece.name == "Entrance bench seat":
            running.begin(connection, shop, stored, now)
