"""What of a pour is weighed as one clear mix: its colours, its need with every allowance, its batches.
Rules 2.2, 5.3 to 5.6.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..common.workshop import Workshop
from ..layers.pours import Fill, Pour
from ..piece.colour import Recipe
from ..resin.ratio import MixRatio
from ..resin.system import System
from .allowances import shrinkage_volume
from .batches import BatchWeights, batches_in_time, weigh


def allowances_of(fill: Fill) -> dict[str, float]:
    """Volume [m3] of each allowance but the cup's, for all cavities. Overfill is part of the layer and
    listed, not added.
    """
    rim, count, layer = fill.cavity.hollow.depth_m, fill.void.count, fill.layer
    over = fill.cavity.volume(layer.to_m) - fill.cavity.volume(min(max(layer.from_m, rim), layer.to_m))
    walls = fill.cavity.wetted(layer.to_m) - (fill.cavity.wetted(layer.from_m) if layer.from_m > 0 else 0)
    net = count * fill.volume_m3
    soak = count * fill.void.soaked(walls)
    shrink = 0.0 if fill.void.is_coat else shrinkage_volume(net, fill.system.shrinkage)
    drips = net * fill.void.drips.value if fill.void.drips else 0.0
    share = fill.reserve.value if fill.reserve else 0.0
    return {
        "overfill": count * over if layer.to_m > rim else 0.0,
        "soak": soak,
        "shrinkage": shrink,
        "runoff": drips,
        "reserve": (net + soak + shrink + drips) * share,
    }


def need_m3(fill: Fill) -> float:
    """What has to leave the cups for this layer [m3], all hollows together.

        count x layer + soak + shrinkage + drips + reserve

    fill  the layer [m3] with its allowances
    Raises nothing. Exact: overfill is in the layer, what stays in cups comes later. Source: volume
    balance.
    """
    extra = allowances_of(fill)
    return fill.void.count * fill.volume_m3 + sum(
        extra[code] for code in ("soak", "shrinkage", "runoff", "reserve")
    )


@dataclass(frozen=True, kw_only=True)
class ColourNeed:
    """One colour of a mix: what has to leave its cup [m3], and how deep it lies."""

    colour: str
    recipe: Recipe | None
    recipe_id: str | None
    need_m3: float
    depth_m: float


@dataclass(frozen=True, kw_only=True)
class Mix:
    """All of one pour that is weighed as one clear mix. hollows: how many are filled from it."""

    system: System
    ratio: MixRatio
    colours: tuple[ColourNeed, ...]
    hollows: int
    weighings: list[BatchWeights]
    by_time: bool

    @property
    def colour(self) -> str:
        return " + ".join(one.colour for one in self.colours if one.colour)

    @property
    def need_m3(self) -> float:
        return sum(one.need_m3 for one in self.colours)


def mixes_of(pour: Pour, workshop: Workshop) -> list[Mix]:
    """Fills of one system are one clear mix, parted for their colours after it is clear, or each colour by
    itself: a school.
    """
    groups: dict[tuple[str, ...], list[Fill]] = {}
    for fill in pour.fills:
        own = (
            () if workshop.colours == "one clear mix" else (fill.portion.colour, fill.portion.recipe_id or "")
        )
        groups.setdefault((fill.system.id, *own), []).append(fill)
    # What can be worked longest is mixed first: the quick one does not wait in its cup for the others.
    in_order = sorted(groups.values(), key=lambda fills: -fills[0].system.working_time.time_s.early)
    return [_mix(fills, workshop) for fills in in_order]


def closing_s(system: System, workshop: Workshop) -> float:
    """How long the lid and the pressure take, of a system that cures under pressure [s]; 0 for the others.

    system, workshop  as they are
    Raises nothing. Valid for this workshop. Source: its own time, typical until it is measured.
    """
    return workshop.chamber_close_s.value if system.needs_pressure else 0.0


def stirring(system: System, workshop: Workshop) -> float:
    """Time with the stick [s]: once, and once more in a clean cup where the sheet gives a time for it and the
    workshop does so. Rule 5.3.

    system  its stirring times [s];  workshop  whether it changes the cup
    Raises nothing. Exact: the sheet's own times. Source: the data sheet.
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
            colour=colour or (same[0].recipe.name if same[0].recipe else ""),
            recipe=same[0].recipe,
            recipe_id=same[0].portion.recipe_id,
            need_m3=sum(need_m3(fill) for fill in same),
            depth_m=max(fill.layer.depth_m for fill in same),
        )
        for (_, colour), same in by_colour.items()
    )
    hollows = sum(fill.void.count for fill in fills)
    needs = [one.need_m3 for one in colours]
    workshop = workshop.with_waste_of(system.id)
    before = stirring(system, workshop) + system.rest_s.value + closing_s(system, workshop)
    timed = batches_in_time(
        sum(needs), hollows, system.working_time.time_s.early, before, workshop.pour_rate_m3_s
    )
    weighings = weigh(needs, ratio, workshop, timed)
    return Mix(
        system=system,
        ratio=ratio,
        colours=colours,
        hollows=hollows,
        weighings=weighings,
        by_time=timed > 1 and timed >= len(weighings),
    )
