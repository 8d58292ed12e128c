"""What a layer has to say: deeper than the sheet allows, or thinner than it cures in. Rules 4.1 and 4.2."""

from __future__ import annotations

from ..common.verdict import Verdict
from ..common.wording import Wording
from .pours import Fill, Pour
from .rules import SLACK_M, allowed_depth


def layer_verdicts(pour: Pour, wording: Wording) -> list[Verdict]:
    found: list[Verdict] = []
    for fill in pour.fills:
        found += _too_deep(fill, pour.number, wording)
        found += _too_thin(fill, pour.number, wording)
    return found


def _too_deep(fill: Fill, number: int, wording: Wording) -> list[Verdict]:
    if fill.layer.allowed:
        return []
    allowed = allowed_depth(fill.system, fill.mass_kg)
    return [
        Verdict(
            weight="blocker",
            stage="layers",
            code="too-deep",
            rule="4.1",
            title=f"Layer {number} is too deep",
            text=f"{fill.void.name}: {wording.length(fill.layer.depth_m)} with "
            f"{wording.mass(fill.mass_kg)} in "
            "one body, where the sheet "
            f"allows {wording.length(allowed)}. Too deep it can heat up, yellow, crack, boil or smoke.",
            todo="Split it, or choose a system for deeper pours.",
        )
    ]


def _too_thin(fill: Fill, number: int, wording: Wording) -> list[Verdict]:
    least = fill.system.least_depth_m
    if least is None or fill.layer.depth_m >= least.value - SLACK_M:
        return []
    return [
        Verdict(
            weight="warning",
            stage="layers",
            code="too-thin",
            rule="4.1",
            title=f"Layer {number} is thin",
            text=f"{fill.void.name}: {wording.length(fill.layer.depth_m)} is below the least "
            f"{wording.length(least.value)} of "
            f"{fill.system.name}. It makes too little heat to set in the sheet's time and may stay soft "
            "for days.",
            todo="Make it deeper, or use a coating system for the thin part.",
        )
    ]
