"""A pour turned into amounts and batches with their workings: each allowance a line of its own. Rules 2.2,
5.1.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..calibration.of_system import Cure
from ..common.working import Figure, Input, Workbook
from ..common.workshop import Workshop
from ..layers.layer_figures import layer_plan
from ..layers.pours import Pour
from ..piece.shelf_items import NONE, ShelfItems
from .card import batch_cards
from .mixes import Mix, allowances_of, mixes_of
from .model import Allowance, AllowanceCode, PourPlan

ALLOWANCE_NAMES = {
    "overfill": "overfill, to be sanded off",
    "soak": "soaks into the walls",
    "shrinkage": "shrinks while it cures",
    "runoff": "drips from the edges",
    "reserve": "reserve",
    "residue": "stays in cups and on sticks",
}


def _need(book: Workbook, key: str, pour: Pour, net: Figure, lines: list[Allowance]) -> Figure:
    """What is mixed for the pour [m3]: what stays in the hollow and every allowance that is not in it."""
    added = [line for line in lines if line.code != "overfill"]
    return book.figure(
        f"{key}/need",
        f"To mix for pour {pour.number}",
        net.value + sum(line.volume.value for line in added),
        "volume",
        "layer + soak + shrinkage + drips + reserve + what stays in cups",
        [
            book.computed("layer in the hollow", net),
            *(book.computed(line.name, line.volume) for line in added),
        ],
        "each allowance a line of its own; overfill is already in the layer",
    )


def pour_plan(
    book: Workbook,
    pour: Pour,
    workshop: Workshop,
    cures: Mapping[str, Cure] | None = None,
    shelf_items: ShelfItems = NONE,
) -> PourPlan:
    """cures: of the systems whose class is known; their batches get a pot clock."""
    layers = [layer_plan(book, fill, pour.number) for fill in pour.fills]
    key = f"pour/{pour.number}"
    net_m3 = sum(fill.void.count * fill.volume_m3 for fill in pour.fills)
    net = book.figure(
        f"{key}/net",
        f"Pour {pour.number}, as it stands in the hollow",
        net_m3,
        "volume",
        "sum of number × layer",
        [
            book.computed(f"{fill.void.count} × {fill.void.name}", layer.volume)
            for fill, layer in zip(pour.fills, layers, strict=True)
        ],
        "volumes added",
    )
    mixes = mixes_of(pour, workshop)
    batches = [
        batch
        for mix in mixes
        for batch in batch_cards(book, mix, pour, workshop, shelf_items, (cures or {}).get(mix.system.id))
    ]
    batches = [batch.model_copy(update={"number": number}) for number, batch in enumerate(batches, start=1)]
    lines = _allowances(book, key, pour, mixes, net_m3, workshop)
    need = _need(book, key, pour, net, lines)
    mass = book.figure(
        f"{key}/mass",
        f"On the scale for pour {pour.number}",
        sum(one.mass_kg for mix in mixes for one in mix.weighings),
        "mass",
        "sum of the batches, each rounded to the scale's step",
        [book.computed(f"batch {batch.number}", batch.mass) for batch in batches],
        "masses added",
    )
    return PourPlan(
        number=pour.number,
        called=pour.called,
        layers=layers,
        net=net,
        need=need,
        mass=mass,
        allowances=lines,
        batches=batches,
        grit=pour.grit,
        wiped=pour.is_wiped,
        after_cut=pour.after_cut,
        new_pocket=pour.is_new_pocket,
    )


def _formulas(pour: Pour, workshop: Workshop) -> dict[AllowanceCode, tuple[str, list[Input]]]:
    """By allowance: how it is worked out, and the readings it is worked out from."""
    stays = workshop.with_waste_of(pour.fills[0].system.id)
    return {
        "overfill": (
            "area at the rim × height above it",
            [
                f.void.overfill.as_input(f"{f.void.name}: above the rim")
                for f in pour.fills
                if f.void.overfill
            ],
        ),
        "soak": (
            "soak × floor and walls touched by this layer",
            [
                reading.as_input(f"{f.void.name}: {name}")
                for f in pour.fills
                for name, reading in f.void.soak_readings
            ],
        ),
        "shrinkage": (
            "layer × s / (1 − s)",
            [f.system.shrinkage.as_input(f"shrinkage of {f.system.name}") for f in pour.fills],
        ),
        "runoff": (
            "share × film on faces and edges",
            [f.void.drips.as_input(f"{f.void.name}: drips") for f in pour.fills if f.void.drips],
        ),
        "reserve": (
            "share × (layer + soak + shrinkage + drips)",
            [f.reserve.as_input("reserve") for f in pour.fills[:1] if f.reserve],
        ),
        "residue": (
            "mixed − poured, mixed = (poured + fixed) / (1 − share), for each batch",
            [stays.residue_fraction.as_input("share"), stays.residue_m3.as_input("fixed, each batch")],
        ),
    }


def _allowances(
    book: Workbook, key: str, pour: Pour, mixes: list[Mix], net_m3: float, workshop: Workshop
) -> list[Allowance]:
    totals = {
        code: sum(allowances_of(fill)[code] for fill in pour.fills)
        for code in ("overfill", "soak", "shrinkage", "runoff", "reserve")
    }
    totals["residue"] = sum(one.mixed_m3 - one.poured_m3 for mix in mixes for one in mix.weighings)
    formulas = _formulas(pour, workshop)
    return [
        Allowance(
            code=code,
            name=ALLOWANCE_NAMES[code],
            share=totals[code] / net_m3,
            volume=book.figure(
                f"{key}/{code}",
                f"Pour {pour.number}: {ALLOWANCE_NAMES[code]}",
                totals[code],
                "volume",
                formulas[code][0],
                formulas[code][1],
                "common practice, no source" if code == "residue" else "by definition",
            ),
        )
        for code in ("overfill", "soak", "shrinkage", "runoff", "reserve", "residue")
        if totals[code] > 0
    ]
