"""Quillstone Yard's shelf besides resin: colourants, recipes, moulds, bottles, and one weighed batch that a
colour can be repeated from. Invented.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from psycopg import Connection

from ..core.heat.form_materials import typical_materials
from ..core.mix.weigh_events import (
    ColourCup,
    Dose,
    EndWeighing,
    FromBottle,
    Taken,
    WeighEvent,
    WeighTask,
    Zero,
)
from ..core.piece.colour import Colourant, Recipe
from ..core.piece.form_material import FormMaterial
from ..core.purchase.stock import Bottle
from ..core.resin.ratio import ratio_of
from ..core.resin.typical import typical_systems
from ..store import shelf_items, stock, weighings

TYPICAL = {"origin": "typical"}


def colourants() -> list[Colourant]:
    def one(
        id_: str, name: str, kind: str, density: float, most: float, water: str, **more: Any
    ) -> Colourant:
        return Colourant.model_validate(
            {
                "id": id_,
                "name": name,
                "kind": kind,
                "density_kg_m3": {"value": density, **TYPICAL},
                "most": {"value": most, **TYPICAL},
                "water": water,
                **more,
            }
        )

    return [
        one(
            "rust-mica",
            "Rust mica",
            "mica powder",
            2800,
            0.05,
            "water-free",
            size_m={"value": 20e-6, **TYPICAL},
            thick_m={"value": 0.5e-6, **TYPICAL},
        ),
        one(
            "slate-mica",
            "Slate mica",
            "mica powder",
            2800,
            0.05,
            "water-free",
            size_m={"value": 20e-6, **TYPICAL},
            thick_m={"value": 0.5e-6, **TYPICAL},
        ),
        one("white-paste", "White paste", "pigment paste", 1300, 0.06, "water-free"),
        one("ochre-paste", "Ochre paste", "pigment paste", 1200, 0.06, "not said"),
        one("moss-paste", "Moss paste", "pigment paste", 1200, 0.06, "water-free"),
        one(
            "amber-dye",
            "Amber dye",
            "liquid dye",
            1000,
            0.02,
            "water-free",
            drop_kg={"as_typed": "38 mg", "origin": "measured"},
        ),
        one(
            "glitter-1",
            "Silver glitter, 1 mm",
            "glitter",
            1380,
            0.10,
            "water-free",
            size_m={"value": 1e-3, **TYPICAL},
            thick_m={"value": 25e-6, **TYPICAL},
        ),
        one("larch-dust", "Larch dust", "wood dust", 1500, 0.30, "not said"),
    ]


def recipes() -> list[Recipe]:
    def one(id_: str, name: str, tint: str, parts: dict[str, str], **more: Any) -> Recipe:
        return Recipe.model_validate(
            {
                "id": id_,
                "name": name,
                "tint": tint,
                **more,
                "parts": [
                    {"colourant_id": colourant, "share": {"as_typed": share, "origin": "measured"}}
                    for colourant, share in parts.items()
                ],
            }
        )

    def swatch(depth: str, through: str) -> dict[str, Any]:
        return {"depth_m": depth, "lets_through": {"as_typed": through, "origin": "measured"}}

    return [
        one(
            "rust",
            "Rust",
            "#B4532A",
            {"rust-mica": "2.4 %", "ochre-paste": "0.3 %"},
            swatch=swatch("3 mm", "4 %"),
        ),
        one(
            "cream",
            "Cream",
            "#E6D5AE",
            {"white-paste": "2.2 %", "ochre-paste": "0.25 %"},
            swatch=swatch("3 mm", "1.5 %"),
        ),
        one("moss", "Moss", "#5E7F4E", {"moss-paste": "1.2 %"}, swatch=swatch("3 mm", "12 %")),
        one(
            "pale-green",
            "Pale green",
            "#B7CFA0",
            {"moss-paste": "0.3 %", "white-paste": "0.4 %"},
            swatch=swatch("3 mm", "30 %"),
        ),
        one("amber", "Amber", "#D39A3C", {"amber-dye": "0.15 %"}, swatch=swatch("5 mm", "45 %")),
        one("starlight", "Starlight", "#C9CBD3", {"glitter-1": "4 %"}),
        one("slate", "Slate", "#4F6273", {"slate-mica": "1.8 %"}, swatch=swatch("3 mm", "6 %")),
    ]


def materials() -> list[FormMaterial]:
    own = FormMaterial.model_validate(
        {
            "id": "tray-mould",
            "name": "Silicone tray mould",
            "like": "silicone",
            "conductivity_w_m_k": {"value": 0.25, **TYPICAL},
            "is_mould": True,
            "density_kg_m3": {"value": 1150, **TYPICAL},
            "heat_capacity_j_kg_k": {"value": 1300, **TYPICAL},
            "thickness_m": "9 mm",
            "holds_m3": "610 mL",
            "note": "Twelve castings so far; the corners have gone dull.",
        }
    )
    return [*typical_materials(), own]


def _bottles(today: datetime) -> list[tuple[Bottle, float]]:
    def day(days: int) -> str:
        return (today.date() + timedelta(days=days)).isoformat()

    def pair(
        system: str, lot: str, a: str, b: str, left_a: float, left_b: float, opened: int | None, price: int
    ) -> list[tuple[Bottle, float]]:
        found = []
        for part, full, left in (("A", a, left_a), ("B", b, left_b)):
            found.append(
                (
                    Bottle.model_validate(
                        {
                            "goods": "system",
                            "goods_id": system,
                            "part": part,
                            "lot": f"{lot}{part}",
                            "full_kg": {"as_typed": full, "origin": "sheet"},
                            "opened_on": day(opened) if opened is not None else None,
                            "best_before": day(300),
                            "price_minor": price,
                        }
                    ),
                    left,
                )
            )
        return found

    def colour(colourant: str, lot: str, full: str, left: float) -> tuple[Bottle, float]:
        return Bottle.model_validate(
            {
                "goods": "colourant",
                "goods_id": colourant,
                "lot": lot,
                "full_kg": {"as_typed": full, "origin": "sheet"},
            }
        ), left

    return [
        *pair("slow-casting-epoxy", "S-0931", "6.19 kg", "1.81 kg", 4.9, 1.42, -40, 7500),
        *pair("craft-casting-epoxy", "C-1107", "1.14 kg", "1.02 kg", 0.86, 0.74, -60, 2900),
        *pair("coating-epoxy", "T-0420", "2.2 kg", "1.94 kg", 2.2, 1.94, None, 4200),
        *pair("thin-sealing-epoxy", "V-0075", "0.55 kg", "0.24 kg", 0.31, 0.14, -200, 1450),
        *pair("fast-casting-polyurethane", "F-0288", "0.9 kg", "0.9 kg", 0.42, 0.45, -110, 2600),
        colour("rust-mica", "RM-12", "50 g", 0.031),
        colour("slate-mica", "SM-04", "50 g", 0.047),
        colour("white-paste", "WP-2", "100 g", 0.082),
        colour("ochre-paste", "OP-7", "100 g", 0.064),
        colour("moss-paste", "MP-9", "100 g", 0.021),
        colour("amber-dye", "AD-1", "20 g", 0.012),
    ]


def fill(connection: Connection, shop: int, now: datetime) -> None:
    for one in colourants():
        shelf_items.add_version(connection, shop, "colourant", one)
    for recipe in recipes():
        shelf_items.add_version(connection, shop, "recipe", recipe)
    for material in materials():
        shelf_items.add_version(connection, shop, "material", material)
    for bottle, left in _bottles(now):
        stock.add(connection, shop, bottle, left)


def weighed(connection: Connection, shop: int, piece_id: int, at: datetime) -> None:
    """The door plaque's batch, as it was weighed three weeks ago: part B a little over, put right with A;
    moss from a lot that is gone.
    """
    sheet = next(one for one in typical_systems() if one.id == "casting-epoxy-25")
    ratio = ratio_of(sheet)
    task = WeighTask(
        piece_id=piece_id,
        piece="Door plaque",
        pour="pour 1",
        batch=1,
        batches=1,
        system_id=sheet.id,
        system=sheet.name,
        order="AB",
        by_weight=ratio.by_weight,
        density_a=ratio.density_a,
        density_b=ratio.density_b,
        target_a_kg=0.5142,
        target_b_kg=0.2207,
        step_kg=1e-4,
        most_kg=3.0,
        cup_m3=2.5e-3,
        cups=[
            ColourCup(
                colour="Moss", share=1.0, colourants=[Dose(id="moss-paste", name="Moss paste", share=0.012)]
            )
        ],
        stir_s=300,
        stir_again_s=240,
        rest_s=600,
        pour_within_s=4 * 3600,
    )
    weighings.remove_of_piece(connection, shop, piece_id)
    one = weighings.start(connection, shop, piece_id, 1, 1, task, at)
    entries: list[WeighEvent] = [
        Zero(gross_kg=0.0),
        Taken(step="A", mass_kg=0.5142, by="scale", gross_kg=0.5142),
        Taken(step="B", mass_kg=0.2262, by="scale", gross_kg=0.7404),
        Taken(step="A", mass_kg=0.0128, by="scale", gross_kg=0.7532),
        FromBottle(step="0/moss-paste", bottle_id=1, lot="MP-8"),
        Taken(step="0/moss-paste", mass_kg=0.0091, by="scale", gross_kg=0.7623),
        EndWeighing(how="mixed"),
    ]
    for number, entry in enumerate(entries):
        weighings.append(
            connection, shop, one.id, UUID(int=0xCA7A << 64 | one.id << 16 | number), entry, number
        )


def remove_all(connection: Connection, shop: int) -> None:
    weighings.remove_all(connection, shop)
    stock.remove_all(connection, shop)
    shelf_items.remove_all(connection, shop)
