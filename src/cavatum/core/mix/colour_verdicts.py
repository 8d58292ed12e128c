"""What a plan says of its colours: over a limit, water in polyurethane, too little for the scale, a recipe
that is gone. Rules 5.2, 5.6 and 5.9.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..piece.shelf_items import ShelfItems
from .mixes import ColourNeed, Mix, mixes_of
from .model import BatchPlan, ColourPlan, PourPlan
from .recipe import COARSE, least_batch

LIQUIDS = ("liquid dye",)


def colour_verdicts(
    pours: Sequence[Pour],
    plans: Sequence[PourPlan],
    shelf_items: ShelfItems,
    workshop: Workshop,
    wording: Wording,
) -> list[Verdict]:
    """Each doubt once, whichever pour meets it first."""
    found: list[Verdict] = []
    for pour, plan in zip(pours, plans, strict=True):
        for mix in mixes_of(pour, workshop):
            batch = next(
                one for one in plan.batches if one.system_id == mix.system.id and one.colour == mix.colour
            )
            for need, colour in zip(mix.colours, batch.colours, strict=True):
                found += _of_colour(mix, need, colour, batch, shelf_items, workshop, wording)
    return list({(one.code, one.title): one for one in reversed(found)}.values())[::-1]


def _of_colour(
    mix: Mix,
    need: ColourNeed,
    colour: ColourPlan,
    batch: BatchPlan,
    shelf_items: ShelfItems,
    workshop: Workshop,
    wording: Wording,
) -> list[Verdict]:
    if need.recipe is None:
        gone = Verdict(
            weight="warning",
            stage="mix",
            code="recipe-gone",
            rule="5.6",
            title=f"The recipe of {need.colour or 'a colour'} is not on the shelf",
            text="Its colourants cannot be weighed out.",
            todo="Choose another recipe in Measure, or put it back on the shelf.",
        )
        return [gone] if need.recipe_id else []
    return [
        *_limits(mix, need, shelf_items, wording),
        *_water(mix, need, shelf_items),
        *_too_little(mix, need, colour, workshop, wording),
    ]


def _limits(mix: Mix, need: ColourNeed, shelf_items: ShelfItems, wording: Wording) -> list[Verdict]:
    recipe, system = need.recipe, mix.system
    assert recipe is not None
    found = []
    most = system.colourant_most.value
    if recipe.total > most * (1 + 1e-9):
        found.append(
            Verdict(
                weight="blocker",
                stage="mix",
                code="colour-over-limit",
                rule="5.6",
                title=f"Too much colour: {recipe.name}",
                text=f"Its colourants are {recipe.total:.1%} of the mix; {system.name} takes {most:.1%}. "
                "Above this limit the resin may stay soft or sticky, "
                "and powders make it too thick to let go of its bubbles.",
                todo=f"Weaken the recipe to {most / recipe.total:.0%} of its strength, or use a stronger "
                "colourant.",
                where="/colourant_most",
            )
        )
    liquid = sum(
        part.share.value
        for part in recipe.parts
        if (one := shelf_items.colourants.get(part.colourant_id)) and one.kind in LIQUIDS
    )
    if system.liquid_most and liquid > system.liquid_most.value * (1 + 1e-9):
        found.append(
            Verdict(
                weight="blocker",
                stage="mix",
                code="liquid-over-limit",
                rule="5.6",
                title=f"Too much liquid colour: {recipe.name}",
                text=f"{liquid:.1%} of the mix is liquid dye; {system.name} takes "
                f"{system.liquid_most.value:.1%}. It softens what has cured.",
                todo="Use powder or paste for the rest of the strength.",
            )
        )
    for part in recipe.parts:
        one = shelf_items.colourants.get(part.colourant_id)
        if one is None:
            found.append(
                Verdict(
                    weight="warning",
                    stage="mix",
                    code="colourant-gone",
                    rule="5.6",
                    title=f"{part.colourant_id} is not on the shelf",
                    text=f"The recipe {recipe.name} asks for it.",
                    todo="Put it on the shelf, or change the recipe.",
                )
            )
        elif part.share.value > one.most.value * (1 + 1e-9):
            found.append(
                Verdict(
                    weight="warning",
                    stage="mix",
                    code="colourant-over-own",
                    rule="5.6",
                    title=f"More {one.name} than its own sheet allows",
                    text=f"{part.share.value:.1%} of the mix; its limit is {one.most.value:.1%} "
                    f"({'typical' if one.most.origin == 'typical' else 'its sheet'}).",
                    todo="Mix a swatch first and test it with a nail when it should be hard.",
                )
            )
    return found


def _water(mix: Mix, need: ColourNeed, shelf_items: ShelfItems) -> list[Verdict]:
    """Water foams polyurethane."""
    assert need.recipe is not None
    if mix.system.cures_like != "fast-casting-polyurethane":
        return []
    found = []
    for part in need.recipe.parts:
        one = shelf_items.colourants.get(part.colourant_id)
        if one is None or one.water == "water-free":
            continue
        based = one.water == "water-based"
        found.append(
            Verdict(
                weight="blocker" if based else "warning",
                stage="mix",
                code="water-in-polyurethane",
                rule="5.6",
                title=f"Water in {one.name}?",
                text=f"{one.name} is water-based: polyurethane foams with it."
                if based
                else f"Nobody said whether {one.name} is free of water. Polyurethane foams with any: dry "
                "powders and water-free pastes only.",
                todo="Use a water-free colourant." if based else "Look at its sheet and say so on the Shelf.",
            )
        )
    return found


def _too_little(
    mix: Mix, need: ColourNeed, colour: ColourPlan, workshop: Workshop, wording: Wording
) -> list[Verdict]:
    by_weight = [dose for dose in colour.doses if dose.share > 0 and abs(dose.off) > COARSE]
    bad = [dose for dose in by_weight if dose.drops_off is None or abs(dose.drops_off) > COARSE]
    if not bad or need.recipe is None:
        return []
    least = least_batch(need.recipe, workshop.scale.step_kg.value)
    return [
        Verdict(
            weight="warning",
            stage="mix",
            code="dose-too-small",
            rule="5.2",
            title=f"{bad[0].name} is too little for the scale",
            text=f"{plainly(bad[0].mass.value * 1000)} g on steps of "
            f"{plainly(workshop.scale.step_kg.value * 1000)} g "
            f"is {abs(bad[0].off):.0%} off the recipe of "
            f"{need.recipe.name}.",
            todo=f"Colour at least {wording.mass(least)} at once, weigh the drops of it, or stir it into a "
            "weighed spoon of part A first and dose that.",
        )
    ]
