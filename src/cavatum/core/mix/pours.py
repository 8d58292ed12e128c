"""Layers of several voids joined into pours, and a pour turned into amounts and batches with their
workings.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import zip_longest

from ..calibration.of_system import Cure
from ..clock.windows import PourTask
from ..common.readings import Fraction
from ..common.working import Input, Workbook
from ..common.workshop import Workshop
from ..layers.course import Window
from ..layers.model import LayerPlan
from ..layers.rules import allowed_depth
from ..layers.split import Layer
from ..measure.cavity import Cavity
from ..piece.coats import Coat
from ..piece.colour import Recipe
from ..piece.parts import Portion, Void
from ..piece.shelf_items import NONE, Goods
from ..resin.ratio import Ratio
from ..resin.system import System
from .allowances import shrinkage_volume, soak_volume
from .batches import WEIGHING_S, Weighing, batches_in_time, weigh
from .card import batch_cards
from .model import Allowance, PourPlan

ALLOWANCE_NAMES = {
    "overfill": "overfill, to be sanded off",
    "soak": "soaks into the walls",
    "shrinkage": "shrinks while it cures",
    "runoff": "drips from the edges",
    "reserve": "reserve",
    "residue": "stays in cups and on sticks",
}


@dataclass(frozen=True)
class Fill:
    """One layer of one void (of all its equal cavities) with what it is filled with."""

    void: Void | Coat
    portion: Portion
    cavity: Cavity
    system: System
    ratio: Ratio
    layer: Layer
    reserve: Fraction | None
    recipe: Recipe | None = None

    @cached_property
    def volume_m3(self) -> float:
        """Resin in one cavity's layer, net."""
        return self.cavity.volume(self.layer.to_m) - self.cavity.volume(self.layer.from_m)

    @property
    def mass_kg(self) -> float:
        """Mass of one connected body: what the depth rules ask for."""
        return self.volume_m3 * self.ratio.mixed_density

    @cached_property
    def allowances_m3(self) -> dict[str, float]:
        """Volume of each allowance but the cup's, for all cavities. Overfill is part of the layer and listed,
        not added.
        """
        rim, count = self.cavity.hollow.depth_m, self.void.count
        over = self.cavity.volume(self.layer.to_m) - self.cavity.volume(
            min(max(self.layer.from_m, rim), self.layer.to_m)
        )
        walls = self.cavity.wetted(self.layer.to_m) - (
            self.cavity.wetted(self.layer.from_m) if self.layer.from_m > 0 else 0
        )
        net = count * self.volume_m3
        soak = count * soak_volume(self.void.soak_m3_m2, walls)
        shrink = 0.0 if isinstance(self.void, Coat) else shrinkage_volume(net, self.system.shrinkage)
        drips = net * self.void.run_off.value if isinstance(self.void, Coat) and self.void.run_off else 0.0
        return {
            "overfill": count * over if self.layer.to_m > rim else 0.0,
            "soak": soak,
            "shrinkage": shrink,
            "runoff": drips,
            "reserve": (net + soak + shrink + drips) * (self.reserve.value if self.reserve else 0.0),
        }

    @property
    def need_m3(self) -> float:
        """What has to leave the cups for this layer, all cavities."""
        extra = self.allowances_m3
        return (
            self.void.count * self.volume_m3
            + extra["soak"]
            + extra["shrinkage"]
            + extra["runoff"]
            + extra["reserve"]
        )


@dataclass(frozen=True)
class ColourNeed:
    """One colour of a mix: what has to leave its cup [m3], and how deep it lies."""

    colour: str
    recipe: Recipe | None
    recipe_id: str | None
    need_m3: float
    depth_m: float


@dataclass(frozen=True)
class Mix:
    """All of one pour that is weighed as one clear mix. hollows: how many are filled from it."""

    system: System
    ratio: Ratio
    colours: tuple[ColourNeed, ...]
    hollows: int
    weighings: list[Weighing]
    by_time: bool

    @property
    def colour(self) -> str:
        return " + ".join(one.colour for one in self.colours if one.colour)

    @property
    def need_m3(self) -> float:
        return sum(one.need_m3 for one in self.colours)


@dataclass(frozen=True)
class Pour:
    """The n-th layers of all voids, poured in one go; coat: 0, or which coat it is."""

    number: int
    fills: list[Fill]
    coat: int = 0

    @property
    def called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"pour {self.number}"

    @property
    def heats(self) -> list[tuple[str, float, float, str]]:
        """(void, from, to, system) of each layer, as the heat run takes it."""
        return [(fill.void.id, fill.layer.from_m, fill.layer.to_m, fill.system.id) for fill in self.fills]

    @property
    def layer_called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"layer {self.number}"

    def mixes(self, workshop: Workshop) -> list[Mix]:
        """Fills of one system are one clear mix, parted for their colours after it is clear, or each colour
        by itself: a school.
        """
        groups: dict[tuple[str, ...], list[Fill]] = {}
        for fill in self.fills:
            own = (
                ()
                if workshop.colours == "one clear mix"
                else (fill.portion.colour, fill.portion.recipe_id or "")
            )
            groups.setdefault((fill.system.id, *own), []).append(fill)
        return [_mix(fills, workshop) for fills in groups.values()]

    def task(self, workshop: Workshop, window: Window | None = None) -> PourTask:
        """Hands on: weighing and stirring every batch, the longest rest once, and pouring all of it."""
        mixes = self.mixes(workshop)
        mixing = sum(len(mix.weighings) * (WEIGHING_S + stirring(mix.system, workshop)) for mix in mixes)
        rest = max(mix.system.rest_s.value for mix in mixes)
        pouring = sum(mix.need_m3 for mix in mixes) / workshop.pour_rate_m3_s
        return PourTask(
            tuple({mix.system.id: mix.system for mix in mixes}.values()), mixing + rest, pouring, window
        )


def stirring(system: System, workshop: Workshop) -> float:
    """Seconds with the stick: once, and once more in a clean cup where the sheet gives a time for it and the
    workshop does so. Rule 5.3.
    """
    again = system.stir_again_s.value if system.stir_again_s and workshop.second_cup else 0.0
    return system.stir_s.value + again


def _mix(fills: list[Fill], workshop: Workshop) -> Mix:
    system, ratio = fills[0].system, fills[0].ratio
    by_colour: dict[tuple[str, str], list[Fill]] = {}
    for fill in fills:
        by_colour.setdefault((fill.portion.recipe_id or "", fill.portion.colour), []).append(fill)
    colours = tuple(
        ColourNeed(
            colour or (same[0].recipe.name if same[0].recipe else ""),
            same[0].recipe,
            same[0].portion.recipe_id,
            sum(fill.need_m3 for fill in same),
            max(fill.layer.depth_m for fill in same),
        )
        for (_, colour), same in by_colour.items()
    )
    hollows = sum(fill.void.count for fill in fills)
    needs = [one.need_m3 for one in colours]
    before = stirring(system, workshop) + system.rest_s.value
    timed = batches_in_time(
        sum(needs), hollows, system.working_time.time_s.value, before, workshop.pour_rate_m3_s
    )
    weighings = weigh(needs, ratio, workshop, timed)
    return Mix(system, ratio, colours, hollows, weighings, timed > 1 and timed >= len(weighings))


def pours_of(voids: list[list[Fill]], coats: list[list[Fill]]) -> list[Pour]:
    """The first layers of all voids are the first pour, the second ones the second, and so on; coats follow
    the last of them.
    """
    poured = [
        Pour(number, [fill for fill in row if fill is not None])
        for number, row in enumerate(zip_longest(*voids), start=1)
    ]
    laid = zip_longest(*coats)
    return poured + [
        Pour(len(poured) + number, [fill for fill in row if fill is not None], number)
        for number, row in enumerate(laid, start=1)
    ]


def pour_plan(
    book: Workbook, pour: Pour, workshop: Workshop, cures: dict[str, Cure] | None = None, goods: Goods = NONE
) -> PourPlan:
    """cures: of the systems whose class is known; their batches get a pot clock."""
    layers = [_layer_plan(book, fill, pour.number) for fill in pour.fills]
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
    mixes = pour.mixes(workshop)
    batches = [
        batch
        for mix in mixes
        for batch in batch_cards(book, mix, pour, workshop, goods, (cures or {}).get(mix.system.id))
    ]
    batches = [batch.model_copy(update={"number": number}) for number, batch in enumerate(batches, start=1)]
    lines = _allowances(book, key, pour, mixes, net_m3, workshop)
    added = [line for line in lines if line.code != "overfill"]
    need = book.figure(
        f"{key}/need",
        f"To mix for pour {pour.number}",
        net_m3 + sum(line.volume.value for line in added),
        "volume",
        "layer + soak + shrinkage + drips + reserve + what stays in cups",
        [
            book.computed("layer in the hollow", net),
            *(book.computed(line.name, line.volume) for line in added),
        ],
        "each allowance a line of its own; overfill is already in the layer",
    )
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
    )


def _layer_plan(book: Workbook, fill: Fill, number: int) -> LayerPlan:
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
        words = f"up to {rule.up_to_kg.value:g} kg" if rule.up_to_kg else "any mass"
        inputs.append(rule.most_depth_m.as_input(f"depth rule, {words}"))
    return inputs


def _allowances(
    book: Workbook, key: str, pour: Pour, mixes: list[Mix], net_m3: float, workshop: Workshop
) -> list[Allowance]:
    totals = {
        code: sum(fill.allowances_m3[code] for fill in pour.fills)
        for code in ("overfill", "soak", "shrinkage", "runoff", "reserve")
    }
    totals["residue"] = sum(one.mixed_m3 - one.poured_m3 for mix in mixes for one in mix.weighings)
    formulas = {
        "overfill": (
            "area at the rim × height above it",
            [
                f.void.overfill_m.as_input(f"{f.void.name}: above the rim")
                for f in pour.fills
                if f.void.overfill_m
            ],
        ),
        "soak": (
            "soak × floor and walls touched by this layer",
            [f.void.soak_m3_m2.as_input(f"{f.void.name}: soak") for f in pour.fills if f.void.soak_m3_m2],
        ),
        "shrinkage": (
            "layer × s / (1 − s)",
            [f.system.shrinkage.as_input(f"shrinkage of {f.system.name}") for f in pour.fills],
        ),
        "runoff": (
            "share × film on faces and edges",
            [
                f.void.run_off.as_input(f"{f.void.name}: drips")
                for f in pour.fills
                if isinstance(f.void, Coat) and f.void.run_off
            ],
        ),
        "reserve": (
            "share × (layer + soak + shrinkage + drips)",
            [f.reserve.as_input("reserve") for f in pour.fills[:1] if f.reserve],
        ),
        "residue": (
            "mixed − poured, mixed = (poured + fixed) / (1 − share), for each batch",
            [workshop.residue_fraction.as_input("share"), workshop.residue_m3.as_input("fixed, each batch")],
        ),
    }
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
