"""A measured void as figures with their workings."""

from __future__ import annotations

from ..plan_parts import VoidPlan
from ..working import Input, Workbook
from .cavity import Cavity
from .hollow import shape_inputs


def void_plan(book: Workbook, cavity: Cavity) -> VoidPlan:
    void, hollow = cavity.void, cavity.hollow
    formula, source = hollow.formula()
    volume = book.figure(
        f"void/{void.id}/volume", f"Hollow of {void.name}, to its rim", hollow.volume(hollow.depth_m), "volume", formula,
        shape_inputs(void.shape), source,
    )
    displaced = None
    if void.inclusions:
        displaced = book.figure(
            f"void/{void.id}/displaced", "Displaced by what is embedded", cavity.displaced(cavity.fill_m), "volume",
            "sum of count × volume, as far as it lies below the fill line",
            [thing.volume_m3.as_input(f"{thing.count} × {thing.name}, each") for thing in void.inclusions],
            "Archimedes: a body displaces its own volume",
        )
    net = book.figure(
        f"void/{void.id}/net", f"Resin in {void.name}", void.count * cavity.volume(cavity.fill_m), "volume",
        "number × (hollow + overfill above the rim − displaced)",
        [
            Input(name="number of equal hollows", value=void.count, quantity="count", origin="measured"),
            book.computed("hollow to its rim", volume),
            Input(name="overfill above the rim", value=cavity.hollow_volume(cavity.fill_m) - hollow.volume(hollow.depth_m),
                  quantity="volume", origin="computed"),
            *([book.computed("displaced", displaced)] if displaced else []),
        ],
        "volumes added and deducted; the opening carried straight up to the dam's fill line",
    )
    return VoidPlan(void_id=void.id, name=void.name, count=void.count, volume=volume, net=net, displaced=displaced)
