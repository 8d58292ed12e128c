"""Quillstone Yard's workshop, shelf and pieces, and laying them out around a day."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from psycopg import Connection

from ..core.errors import DomainError
from ..core.piece import Piece
from ..core.resin.typical import typical_systems
from ..core.workshop import Workshop
from ..store import pieces, systems, workshops

ZONE = "Europe/London"
WEEKDAY = [{"from_min": 450, "to_min": 1140}]
SATURDAY = [{"from_min": 540, "to_min": 780}]

# Widths of the natural-edge inlet every 115 mm along the 1380 mm seat, and where its near edge runs [mm].
INLET_WIDTHS_MM = [104, 118, 131, 127, 139, 152, 148, 136, 129, 141, 133, 117, 98]
INLET_NEAR_EDGE_MM = [152, 147, 139, 143, 136, 128, 131, 138, 144, 137, 141, 150, 158]


def workshop() -> Workshop:
    return Workshop.model_validate({
        "name": "Quillstone Yard", "zone": ZONE, "currency": "GBP", "units": "metric",
        "room_c": "21.4 C", "room_humidity": "52 %", "week": [WEEKDAY] * 5 + [SATURDAY, []],
        "scale": {"most_kg": "3 kg", "step_kg": "0.1 g"}, "cup_m3": "2.5 L",
        "residue_fraction": {"value": 0.02, "origin": "typical"}, "residue_m3": {"value": 4e-6, "origin": "typical"},
    })


def _inlet() -> dict[str, Any]:
    step = 0.115
    near = [(i * step, y / 1000) for i, y in enumerate(INLET_NEAR_EDGE_MM)]
    far = [(i * step, (y + w) / 1000) for i, (y, w) in enumerate(zip(INLET_NEAR_EDGE_MM, INLET_WIDTHS_MM, strict=True))]
    return {"kind": "outline", "points_m": near + far[::-1], "depth_m": "42 mm"}


def _box(length: str, width: str, depth: str) -> dict[str, Any]:
    return {"kind": "box", "length_m": length, "width_m": width, "depth_m": depth}


def _at(today: datetime, days: int, hour: int, minute: int = 0) -> str:
    zone = ZoneInfo(ZONE)
    day = today.astimezone(zone).date() + timedelta(days=days)
    return datetime.combine(day, time(hour, minute), zone).isoformat()


def _due(today: datetime, days: int) -> str:
    return (today.astimezone(ZoneInfo(ZONE)).date() + timedelta(days=days)).isoformat()


def demo_pieces(today: datetime) -> list[Piece]:
    """One curing with its window to come, one due for its second colour, two in planning, two done."""
    return [Piece.model_validate(document) for document in (*_in_planning(today), *_under_way(today), *_done(today))]


def _in_planning(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Newel post", "for_whom": "Fernhollow Arboretum", "kind_of_work": "crack or knot", "tint": "#8B6B3E",
            "system_id": "craft-casting-epoxy", "layering": "even", "due": _due(today, 16),
            "note": "Drying shake in chestnut, taped below, dammed above.",
            "voids": [{
                "id": "shake", "name": "Drying shake", "wall": "wood", "soak_m3_m2": {"as_typed": "120 mL/m2", "origin": "typical"},
                "shape": {"kind": "outline", "depth_m": "48 mm", "draft_deg": "2 deg", "points_m": [
                    (0, 0), (0.16, -0.004), (0.36, -0.007), (0.52, -0.005), (0.64, -0.003), (0.64, 0.001), (0.52, 0.006),
                    (0.36, 0.007), (0.16, 0.005), (0, 0.004)]},
                "overfill_m": "1 mm", "portions": [{"id": "shake-1"}],
            }],
        },
        {
            "name": "Seed-head block", "for_whom": "Fernhollow Arboretum", "kind_of_work": "block", "tint": "#D9A441",
            "system_id": "slow-casting-epoxy", "layering": "even", "due": _due(today, 12), "reserve": "3 %",
            "note": "Acrylic-lined form. Eleven dried seed heads, wired to the base.",
            "voids": [{
                "id": "block", "name": "Block", "wall": "plastic", "shape": _box("230 mm", "170 mm", "95 mm"),
                "overfill_m": "2 mm", "portions": [{"id": "block-1", "colour": "clear"}],
                "inclusions": [{"id": "heads", "name": "seed head", "count": 11, "volume_m3": "9 mL", "density_kg_m3": "250 kg/m3",
                                "from_m": "20 mm", "to_m": "88 mm"}],
            }],
        },
    ]


def _under_way(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Drawer pulls", "for_whom": "private commission", "kind_of_work": "small castings", "tint": "#4E7F83",
            "system_id": "craft-casting-epoxy", "due": _due(today, 9), "first_pour_at": _at(today, 0, 12, 30),
            "note": "Twelve and two spares. Moss base, clear above, a brass insert in each.",
            "voids": [{
                "id": "pull", "name": "Pull", "count": 14, "wall": "silicone", "shape": _box("86 mm", "25 mm", "10 mm"),
                "portions": [{"id": "base", "colour": "moss", "to_m": "4 mm"}, {"id": "top", "colour": "clear"}],
                "inclusions": [{"id": "brass", "name": "brass insert", "volume_m3": "0.9 mL", "density_kg_m3": "8500 kg/m3",
                                "from_m": "4 mm", "to_m": "9 mm"}],
            }],
        },
        {
            "name": "Entrance bench seat", "for_whom": "Fernhollow Arboretum", "kind_of_work": "deep pour", "tint": "#D39A3C",
            "system_id": "slow-casting-epoxy", "due": _due(today, 15), "first_pour_at": _at(today, -1, 13), "reserve": "2 %",
            "note": "Ash, natural-edge inlet. Faces sealed the week before, so little soaks in.",
            "voids": [{
                "id": "inlet", "name": "Inlet", "wall": "wood", "shape": _inlet(), "overfill_m": "2 mm", "soak_m3_m2": "20 mL/m2",
                "portions": [{"id": "inlet-1", "colour": "amber"}],
            }],
        },
    ]


def _done(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Bookend pair", "for_whom": "private commission", "kind_of_work": "block", "tint": "#7A5A8C",
            "system_id": "casting-epoxy-25", "first_pour_at": _at(today, -34, 9), "note": "Sticky on one side: off the ratio.",
            "voids": [{
                "id": "bookend", "name": "Bookend", "count": 2, "wall": "silicone", "shape": _box("140 mm", "90 mm", "40 mm"),
                "portions": [{"id": "bookend-1"}],
            }],
        },
        {
            "name": "Door plaque", "for_whom": "Fernhollow Arboretum", "kind_of_work": "block", "tint": "#5B7A55",
            "system_id": "casting-epoxy-25", "first_pour_at": _at(today, -20, 9), "note": "Handed over.",
            "voids": [{
                "id": "plaque", "name": "Plaque", "wall": "board", "shape": _box("300 mm", "180 mm", "12 mm"),
                "portions": [{"id": "plaque-1"}],
            }],
        },
    ]


def ensure(connection: Connection, shop: int, now: datetime) -> str:
    """Fill an empty workshop, move an untouched demo to today, leave everything else alone. Returns what was done."""
    if not pieces.has_any(connection, shop) and not systems.newest(connection, shop):
        _fill(connection, shop, now)
        return "laid out around today"
    if not workshops.is_demo(connection, shop):
        return "left out, your own work is here"
    if not pieces.all_untouched_demo(connection, shop):
        return "left as you changed it"
    for stored, piece in zip(pieces.demo_ids(connection, shop), demo_pieces(now), strict=True):
        pieces.move_demo(connection, shop, stored, piece)
    return "moved to today"


def lay_out_anew(connection: Connection, shop: int, now: datetime) -> None:
    """Raises DomainError in a workshop that is not the demo's."""
    if not workshops.is_demo(connection, shop) and pieces.has_any(connection, shop):
        raise DomainError("workshop", "your own", "only the demo is laid out anew",
                          "Start ./cavatum demo in a checkout of its own.", "not-demo")
    pieces.remove_every_row(connection, shop)
    systems.remove_all(connection, shop)
    _fill(connection, shop, now)


def _fill(connection: Connection, shop: int, now: datetime) -> None:
    workshops.write(connection, shop, workshop(), is_demo=True)
    for sheet in typical_systems():
        systems.add_version(connection, shop, sheet)
    for piece in demo_pieces(now):
        pieces.create(connection, shop, piece, "demo", is_demo=True)
