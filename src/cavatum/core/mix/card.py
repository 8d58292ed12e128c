"""A batch as a card: what to weigh in which order, with its workings; cup, colour, pot clock, pump strokes.
Rules 5.1 to 5.8.
"""

from __future__ import annotations

from ..calibration.at_pouring import CUP_FILL
from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Figure, Input, Workbook
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..piece.colour import Recipe
from ..piece.shelf_items import ShelfItems
from ..resin.ratio import ratio_error
from .batches import BatchWeights, mixed_for
from .mixes import ColourNeed, Mix
from .model import BatchPlan, ColourPlan, DosePlan, PartPlan, PumpPlan
from .opacity import lets_through, words
from .pot import pot_plan, within_figure
from .pump import strokes
from .recipe import Scaled, scaled


def batch_cards(
    book: Workbook, mix: Mix, pour: Pour, workshop: Workshop, shelf_items: ShelfItems, cure: Cure | None
) -> list[BatchPlan]:
    """All batches of a mix weigh the same, so they share their workings."""
    one = mix.weighings[0]
    key = f"pour/{pour.number}/{mix.system.id}/{mix.colour or 'clear'}"
    again = mix.system.stir_again_s if workshop.second_cup else None
    parts = _parts(book, key, mix, one, workshop)
    mass = book.figure(
        f"{key}/batch",
        "One batch",
        one.mass_kg,
        "mass",
        "A + B as they stand on the scale",
        [book.computed(f"part {part.part}", part.mass) for part in parts],
        "masses added",
    )
    fill = book.figure(
        f"{key}/cup",
        "Cup filled",
        one.mixed_m3 / workshop.cup_m3.value,
        "fraction",
        "batch / cup",
        [
            Input(name="batch", value=one.mixed_m3, quantity="volume", origin="computed"),
            workshop.cup_m3.as_input("cup"),
            Input(name="filled at most", value=CUP_FILL, quantity="fraction", origin="typical"),
        ],
        "common practice: two thirds at most",
    )
    error = book.figure(
        f"{key}/error",
        "Ratio off by at most",
        ratio_error(one.mass_a_kg, one.mass_b_kg, workshop.scale.step_kg.value, mix.ratio.by_weight)
        if one.mass_b_kg > workshop.scale.step_kg.value
        else 1.0,
        "fraction",
        "(A + s/2) / (B − s/2) or (A − s/2) / (B + s/2), against the sheet's r",
        [
            workshop.scale.step_kg.as_input("scale step s"),
            *(book.computed(f"part {part.part}", part.mass) for part in parts),
            Input(name="r, by weight", value=mix.ratio.by_weight, quantity="ratio", origin="computed"),
        ],
        "both readings half a step off, the wrong way, on targets rounded to the step",
    )
    depth = max(fill.layer.depth_m for fill in pour.fills if fill.system.id == mix.system.id)
    pot = pot_plan(book, key, mix, one.mass_kg, depth, workshop, cure) if cure else None
    colourant = book.figure(
        f"{key}/colourant",
        "Colourant at most",
        one.mass_kg * mix.system.colourant_most.value,
        "mass",
        "share × batch",
        [mix.system.colourant_most.as_input("most colourant by weight"), book.computed("batch", mass)],
        "the sheet's limit",
    )
    plan = BatchPlan(
        number=1,
        system_id=mix.system.id,
        system_name=mix.system.name,
        colour=mix.colour,
        parts=parts,
        mass=mass,
        cup_fill=fill,
        ratio_error=error,
        stir_s=mix.system.stir_s.value,
        rest_s=mix.system.rest_s.value,
        pour_within=within_figure(book, key, mix.system, pot, again.value if again else 0.0, workshop),
        colourant_most=colourant,
        pot=pot,
        stir_again_s=again.value if again else None,
        hollows=mix.hollows,
        colours=_colours(book, key, mix, one, mass, workshop, shelf_items),
        line_error=_line_error(book, key, mix, one, workshop),
        pump=_pump(mix, one),
        first_part=parts[0].part,
        mixed=book.figure(
            f"{key}/mixed",
            "One batch by volume",
            one.mixed_m3,
            "volume",
            "A / density of A + B / density of B",
            [book.computed(f"part {part.part}", part.volume) for part in parts],
            "additive volumes of the parts",
        ),
    )
    return [plan] * len(mix.weighings)


def _parts(book: Workbook, key: str, mix: Mix, one: BatchWeights, workshop: Workshop) -> list[PartPlan]:
    system, ratio = mix.system, mix.ratio
    sheet_ratio = system.ratio.as_input(f"ratio A:B by {system.basis}")
    densities = [
        system.density_a_kg_m3.as_input("density of A"),
        system.density_b_kg_m3.as_input("density of B"),
    ]
    step = workshop.scale.step_kg.as_input("scale step")
    by_weight = Input(name="ratio A:B by weight", value=ratio.by_weight, quantity="ratio", origin="computed")
    a = book.figure(
        f"{key}/A",
        "Part A by weight",
        one.mass_a_kg,
        "mass",
        "batch × r / (1 + r), rounded to the scale's step",
        [
            Input(name="batch", value=one.mixed_m3 * ratio.mixed_density, quantity="mass", origin="computed"),
            by_weight,
            sheet_ratio,
            *densities,
            step,
        ],
        "ratio by weight = ratio by volume × density of A / density of B",
    )
    b = book.figure(
        f"{key}/B",
        "Part B by weight",
        one.mass_b_kg,
        "mass",
        "rounded A / r, to the scale's step",
        [book.computed("part A on the scale", a), by_weight, sheet_ratio, *densities, step],
        "ratio by weight = ratio by volume × density of A / density of B",
    )
    amounts: dict[str, tuple[Figure, float]] = {"A": (a, ratio.density_a), "B": (b, ratio.density_b)}
    order = ("A", "B") if (system.first_part or workshop.first_part) == "A" else ("B", "A")
    parts, standing = [], 0.0
    for part in order:
        mass, density = amounts[part]
        standing += mass.value
        volume = book.figure(
            f"{key}/{part}-volume",
            f"Part {part} by volume",
            mass.value / density,
            "volume",
            "mass / density",
            [book.computed(f"part {part}", mass), densities["AB".index(part)]],
            "volume = mass / density",
        )
        total = book.figure(
            f"{key}/{part}-total",
            f"Scale shows after part {part}, not tared",
            standing,
            "mass",
            "sum so far",
            [book.computed(f"part {one}", amounts[one][0]) for one in order[: order.index(part) + 1]],
            "masses added",
        )
        parts.append(PartPlan(part=part, mass=mass, volume=volume, cumulative=total))
    return parts


def _line_error(book: Workbook, key: str, mix: Mix, one: BatchWeights, workshop: Workshop) -> Figure | None:
    """By volume: what the cup's lines alone can put the ratio off. Rule 5.2."""
    if workshop.cup_line_m3 is None:
        return None
    a, b, line = (
        one.mass_a_kg / mix.ratio.density_a,
        one.mass_b_kg / mix.ratio.density_b,
        workshop.cup_line_m3,
    )
    off = ratio_error(a, b, line.value) if b > line.value else 1.0
    return book.figure(
        f"{key}/line-error",
        "Ratio off by at most, measured in the cup",
        off,
        "fraction",
        "(A + l/2) / (B − l/2) against A / B",
        [
            line.as_input("lines of the cup l"),
            Input(name="part A", value=a, quantity="volume", origin="computed"),
            Input(name="part B", value=b, quantity="volume", origin="computed"),
        ],
        "both readings half a line off, the wrong way",
    )


def _pump(mix: Mix, one: BatchWeights) -> PumpPlan | None:
    a, b = mix.system.pump_a_kg, mix.system.pump_b_kg
    if a is None or b is None:
        return None
    found = strokes(one.mass_a_kg, one.mass_b_kg, a.value, b.value, mix.ratio.by_weight)
    return PumpPlan(
        strokes_a=found.a,
        strokes_b=found.b,
        mass_kg=found.mass_kg,
        ratio_off=found.ratio_off,
        too_few=found.too_few,
    )


def _colours(
    book: Workbook,
    key: str,
    mix: Mix,
    one: BatchWeights,
    mass: Figure,
    workshop: Workshop,
    shelf_items: ShelfItems,
) -> list[ColourPlan]:
    """Each colour's share of the clear mix with what stays in its cup, and its colourants for that."""
    count = len(mix.weighings)
    needs = [need.need_m3 / count for need in mix.colours]
    workshop = workshop.with_waste_of(mix.system.id)
    cups = [mixed_for([need], workshop) for need in needs] if len(needs) > 1 else [1.0]
    total = sum(cups)
    return [
        _colour(book, f"{key}/colour-{place}", need, cup / total, one, mass, workshop, shelf_items)
        for place, (need, cup) in enumerate(zip(mix.colours, cups, strict=True))
    ]


def _dose(
    book: Workbook,
    key: str,
    need: ColourNeed,
    recipe: Recipe,
    dose: Scaled,
    clear: Figure,
    workshop: Workshop,
    shelf_items: ShelfItems,
) -> DosePlan:
    part = next(part for part in recipe.parts if part.colourant_id == dose.colourant_id)
    told = shelf_items.colourants.get(dose.colourant_id)
    name = told.name if told else dose.colourant_id
    figure = book.figure(
        f"{key}/{dose.colourant_id}",
        f"{name} for {need.colour or 'this cup'}",
        dose.mass_kg,
        "mass",
        "share × clear mix, to the scale's step",
        [
            part.share.as_input("share of the clear mix"),
            book.computed("clear mix", clear),
            workshop.scale.step_kg.as_input("scale step"),
        ],
        f"recipe {recipe.name}, version {recipe.version}",
        [_off(dose)] if dose.off else [],
    )
    return DosePlan(
        colourant_id=dose.colourant_id,
        name=name,
        share=part.share.value,
        mass=figure,
        off=dose.off,
        drops=dose.drops,
        drops_off=dose.drops_off,
        drop_kg=told.drop_kg.value if told and told.drop_kg else None,
        kind=told.kind if told else "",
    )


def _colour(
    book: Workbook,
    key: str,
    need: ColourNeed,
    share: float,
    one: BatchWeights,
    mass: Figure,
    workshop: Workshop,
    shelf_items: ShelfItems,
) -> ColourPlan:
    clear = book.figure(
        f"{key}/clear",
        f"Clear mix for {need.colour or 'this cup'}",
        one.mass_kg * share,
        "mass",
        "batch × share of this colour",
        [
            book.computed("batch", mass),
            Input(
                name="share of this colour, its cup's rest included",
                value=share,
                quantity="fraction",
                origin="computed",
            ),
        ],
        "shares by volume needed; several colours come out of one clear mix",
    )
    doses = []
    if need.recipe is not None:
        weighed = scaled(need.recipe, clear.value, workshop.scale.step_kg.value, shelf_items.colourants)
        doses = [_dose(book, key, need, need.recipe, dose, clear, workshop, shelf_items) for dose in weighed]
    through = _through(book, key, need)
    return ColourPlan(
        colour=need.colour,
        recipe_id=need.recipe_id,
        share=share,
        clear=clear,
        doses=doses,
        through=through,
        looks=words(through.value) if through else "",
    )


def _off(dose: Scaled) -> str:
    return (
        f"Exactly {plainly(dose.exact_kg * 1000, 4)} g; the step makes it {abs(dose.off):.1%} "
        f"{'more' if dose.off > 0 else 'less'}."
    )


def _through(book: Workbook, key: str, need: ColourNeed) -> Figure | None:
    """How much light this layer lets through, from the recipe's swatch. Rule 5.6."""
    recipe = need.recipe
    if recipe is None or recipe.swatch is None or recipe.swatch.lets_through is None:
        return None
    swatch, through = recipe.swatch, recipe.swatch.lets_through
    assert through is not None  # asked for above
    try:
        value = lets_through(swatch.depth_m.value, recipe.total, through.value, need.depth_m, recipe.total)
    except DomainError:
        return None
    return book.figure(
        f"{key}/through",
        f"Light through {need.colour or recipe.name}",
        value,
        "fraction",
        "T₀ ^ (depth / depth of the swatch)",
        [
            through.as_input("through the swatch T₀"),
            swatch.depth_m.as_input("depth of the swatch"),
            Input(name="depth of the layer", value=need.depth_m, quantity="length", origin="computed"),
        ],
        "Beer–Lambert law",
        ["An estimate: powders scatter and lie flat, and let through less than it says."],
    )
