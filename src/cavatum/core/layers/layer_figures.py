"""One layer of one void as figures: depth, volume, mass of one body, and the deepest that the sheet
allows.
"""

from __future__ import annotations

from ..common.plain_numbers import plainly
from ..common.working import Input, Workbook
from ..resin.system import System
from .model import LayerPlan
from .pours import Fill
from .rules import allowed_depth


def layer_plan(book: Workbook, fill: Fill, number: int) -> LayerPlan:
    key, layer = f"layer/{fill.void.id}/{number}", fill.layer
    heights = [
        Input(name="from", value=layer.from_m, quantity="length", origin="computed"),
        Input(name="to", value=layer.to_m, quantity="length", origin="computed"),
    ]
    name = f"Layer {number} of {fill.void.name}"
    depth = book.figure(
        f"{key}/depth", f"{name}: depth", layer.depth_m, "length", "to − from", heights, layer.limited_by
    )
    volume = book.figure(
        f"{key}/volume",
        f"{name}: resin in one hollow",
        fill.volume_m3,
        "volume",
        "V(to) − V(from), inclusions deducted",
        heights,
        fill.cavity.hollow.formula()[1],
    )
    density = Input(
        name="density of the mix", value=fill.ratio.mixed_density, quantity="density", origin="computed"
    )
    sheet = [
        fill.system.ratio.as_input(f"ratio A:B by {fill.system.basis}"),
        fill.system.density_a_kg_m3.as_input("density of A"),
        fill.system.density_b_kg_m3.as_input("density of B"),
    ]
    mass = book.figure(
        f"{key}/mass",
        f"{name}: mass of one body",
        fill.mass_kg,
        "mass",
        "volume × density of the mix",
        [book.computed("volume", volume), density, *sheet],
        "mass = density × volume; additive volumes of the parts",
    )
    allowed = book.figure(
        f"{key}/allowed",
        f"{name}: deepest the sheet allows",
        allowed_depth(fill.system, fill.mass_kg),
        "length",
        "the greatest depth among the rules that cover this mass",
        [book.computed("mass of one body", mass), *_rule_inputs(fill.system)],
        f"depth rules of {fill.system.name}",
        [
            "The mass counts all that is poured into one hollow within one pot life; splitting it over "
            "cups unlocks nothing."
        ],
    )
    return LayerPlan(
        void_id=fill.void.id,
        count=fill.void.count,
        portion_id=fill.portion.id,
        system_id=fill.system.id,
        colour=fill.portion.colour,
        number=number,
        from_m=layer.from_m,
        to_m=layer.to_m,
        depth=depth,
        volume=volume,
        mass=mass,
        allowed=allowed,
        limited_by=layer.limited_by,
        is_allowed=layer.allowed,
    )


def _rule_inputs(system: System) -> list[Input]:
    inputs = []
    for rule in system.depth_rules:
        words = f"up to ⟦{plainly(rule.up_to_kg.value)} kg⟧" if rule.up_to_kg else "any mass"
        inputs.append(rule.most_depth_m.as_input(f"depth rule, {words}"))
    return inputs
