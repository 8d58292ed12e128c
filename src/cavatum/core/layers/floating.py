"""What floats: each kind of embedded thing, and the inner shape of a nested mould, against the resin that
reaches it. Rule 2.6.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Verdict, Weight
from ..common.wording import Wording
from ..measure.bodies import each_volume
from ..measure.holddown import SAFETY_FACTOR, uplift_mass
from ..measure.nested import NestedHollow
from ..piece.parts import Inclusion, Void
from ..piece.shapes import Nested
from .pours import Fill, Pour


def floating_verdicts(pours: Sequence[Pour], wording: Wording) -> list[Verdict]:
    """Each kind of inclusion against the resin of the first pour that reaches it."""
    found, done = [], set()
    for pour in pours:
        for fill in pour.fills:
            if isinstance(fill.cavity.hollow, NestedHollow) and fill.void.id not in done:
                done.add(fill.void.id)
                found += _inner_floats(fill, fill.cavity.hollow, wording)
            for thing in fill.void.embedded:
                if thing.id in done or fill.layer.to_m <= thing.from_m.value:
                    continue
                done.add(thing.id)
                found += _floating(thing, fill, pour.number, wording)
    return found


def _floating(thing: Inclusion, fill: Fill, number: int, wording: Wording) -> list[Verdict]:
    if thing.density_kg_m3 is None:
        return [
            _verdict(
                "warning",
                "float-unknown",
                f"Does {thing.name} float?",
                f"No density is given for {thing.name}, so it cannot be told whether it rises in pour "
                f"{number}.",
                "Weigh one and measure its volume, or fix it before pouring.",
            )
        ]
    total = thing.count * fill.void.count * each_volume(thing)
    push = uplift_mass(fill.ratio.mixed_density, thing.density_kg_m3.value, total, total)
    if push <= 0:
        return []
    hold = wording.mass(push * SAFETY_FACTOR)
    text = f"Fully under, {thing.count * fill.void.count} × {thing.name} push up with {wording.mass(push)}."
    if thing.held_down:
        return [
            _verdict(
                "note",
                "held-down",
                f"{thing.name.capitalize()}: held down",
                f"{text} The hold must take {hold}.",
                "",
            )
        ]
    return [
        _verdict(
            "warning",
            "floats",
            f"{thing.name.capitalize()}: will rise",
            f"{text} From pour {number} on they float.",
            f"Fix them, or hold them down with {hold} of weight or clamping (half as much again for "
            "safety), or set them when the "
            "layer below is gummy.",
        )
    ]


def _inner_floats(fill: Fill, hollow: NestedHollow, wording: Wording) -> list[Verdict]:
    """The inner shape of a nested mould is pushed up by all it displaces up to the fill line."""
    void = fill.void
    if not isinstance(void, Void) or not isinstance(void.shape, Nested):
        return []
    shape = void.shape
    if shape.inner_mass_kg is None:
        return [
            _verdict(
                "warning",
                "inner-unknown",
                f"Does the inner shape of {fill.void.name} float?",
                "Its mass is not given.",
                "Weigh it, or hold it down anyway.",
            )
        ]
    push = fill.ratio.mixed_density * hollow.submerged(hollow.depth_m) - shape.inner_mass_kg.value
    if push <= 0:
        return []
    hold = wording.mass(push * SAFETY_FACTOR)
    text = f"Filled to the rim, the resin pushes it up with {wording.mass(push)}, each of {fill.void.count}."
    if shape.held_down:
        return [
            _verdict(
                "note",
                "inner-held",
                f"Inner shape of {fill.void.name}: held down",
                f"{text} The hold must take {hold}.",
                "",
            )
        ]
    return [
        _verdict(
            "warning",
            "inner-floats",
            f"The inner shape of {fill.void.name} will rise",
            text,
            f"Weigh it down or clamp it with {hold} (half as much again for safety).",
        )
    ]


def _verdict(weight: Weight, code: str, title: str, text: str, todo: str) -> Verdict:
    return Verdict(weight=weight, stage="layers", code=code, rule="2.6", title=title, text=text, todo=todo)
