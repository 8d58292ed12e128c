"""What measuring has to say: wood that drinks, things that float. Rules 2.2 and 2.6."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..piece import Piece
from ..say import Say
from ..verdict import Verdict
from .holddown import SAFETY_FACTOR, uplift_mass

if TYPE_CHECKING:
    from ..pours import Pour


def soak_verdicts(piece: Piece) -> list[Verdict]:
    """Bare wood without a soak allowance: said, never added silently."""
    return [
        Verdict(
            weight="care", stage="measure", code="soak-not-counted", rule="2.2", title="Wood drinks",
            text=f"{void.name} has wooden walls and no soak is counted. A first coat on open-pored wood takes 80 to 150 mL/m², "
                 "end grain or punky wood 200 to 500 (typical).",
            todo="Seal first and enter 0, or enter a soak.", where=f"/voids/{index}/soak_m3_m2",
        )
        for index, void in enumerate(piece.voids)
        if void.wall == "wood" and void.soak_m3_m2 is None
    ]


def floating_verdicts(pours: list[Pour], say: Say) -> list[Verdict]:
    """Each kind of inclusion against the resin of the first pour that reaches it."""
    found, done = [], set()
    for pour in pours:
        for fill in pour.fills:
            for thing in fill.void.inclusions:
                if thing.id in done or fill.layer.to_m <= thing.from_m.value:
                    continue
                done.add(thing.id)
                found += _floating(thing, fill, pour.number, say)
    return found


def _floating(thing, fill, number: int, say: Say) -> list[Verdict]:
    if thing.density_kg_m3 is None:
        return [_verdict("care", "float-unknown", f"Does {thing.name} float?",
                         f"No density is given for {thing.name}, so it cannot be told whether it rises in pour {number}.",
                         "Weigh one and measure its volume, or fix it before pouring.")]
    total = thing.count * fill.void.count * thing.volume_m3.value
    push = uplift_mass(fill.ratio.mixed_density, thing.density_kg_m3.value, total, total)
    if push <= 0:
        return []
    hold = say.mass(push * SAFETY_FACTOR)
    text = f"Fully under, {thing.count * fill.void.count} × {thing.name} push up with {say.mass(push)}."
    if thing.held_down:
        return [_verdict("good", "held-down", f"{thing.name.capitalize()}: held down", f"{text} The hold must take {hold}.", "")]
    return [_verdict("care", "floats", f"{thing.name.capitalize()}: will rise", f"{text} From pour {number} on they float.",
                     f"Fix them or weigh them down with {hold} (half as much again for safety), or set them when the "
                     "layer below is gummy.")]


def _verdict(weight, code: str, title: str, text: str, todo: str) -> Verdict:
    return Verdict(weight=weight, stage="layers", code=code, rule="2.6", title=title, text=text, todo=todo)
