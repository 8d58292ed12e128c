"""What a piece needs of the shop besides hands: room in the chamber, and stock for a coat that may have to be
made again. Rules 5.5, 6.2, 6.3.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..measure.model import VoidPlan
from ..mix.model import PourPlan
from ..piece.document import Piece
from ..resin.system import System
from .model import ClockStep

# own judgement: a mould is about twice as large as its hollow, so that from here on it has to be measured
TIGHT = 0.5


def chamber_verdicts(
    piece: Piece, voids: Sequence[VoidPlan], used: Sequence[System], workshop: Workshop, wording: Wording
) -> list[Verdict]:
    """All hollows at once against the chamber's usable volume: more than it holds stops, more than half needs
    a tape measure.

    Only for what is cast under pressure. Nothing is said where the chamber's size is not known, but that it
    is not.
    """
    pressed = piece.kind_of_work == "pressure casting" or any(system.needs_pressure for system in used)
    if not pressed or not voids:
        return []
    if workshop.chamber_m3 is None:
        return [
            Verdict(
                weight="note",
                stage="clock",
                code="chamber-unknown",
                rule="6.2",
                title="The chamber's size is not known",
                text="Whether the mould fits is not checked.",
                todo="Enter its usable volume in the workshop's settings, and try the lid with the "
                "mould inside.",
            )
        ]
    hollows, room = sum(one.volume.value * one.count for one in voids), workshop.chamber_m3.value
    if hollows > room:
        return [
            Verdict(
                weight="blocker",
                stage="clock",
                code="chamber-small",
                rule="6.2",
                title="More than the chamber holds",
                text=f"The hollows alone are {wording.volume(hollows)}, the chamber {wording.volume(room)}.",
                todo="Cast fewer at once: a piece for each filling of the chamber.",
            )
        ]
    if hollows > TIGHT * room:
        return [
            Verdict(
                weight="warning",
                stage="clock",
                code="chamber-tight",
                rule="6.2",
                title="Does the mould fit the chamber?",
                text=f"The hollows are {wording.volume(hollows)} of the chamber's "
                f"{wording.volume(room)}; their "
                "walls come on top.",
                todo="Measure by diameter and height, and close the lid once with the mould inside, "
                "before anything is mixed.",
            )
        ]
    return []


def chamber_openings(steps: Sequence[ClockStep]) -> list[Verdict]:
    """What is cast in several pours under pressure has its chamber opened for each."""
    closed = sum(step.code == "lid" for step in steps)
    if closed < 2:
        return []
    return [
        Verdict(
            weight="note",
            stage="clock",
            code="chamber-opens",
            rule="6.2",
            title=f"The chamber is opened {closed} times",
            text=f"It is cast in {closed} pours, and each cures under pressure: the pressure is released "
            "before the next, and stands again before that thickens.",
            todo="Fewer, deeper pours open it less often, where heat and the sheet's depth allow it.",
        )
    ]


def spare_verdicts(plans: Sequence[PourPlan], wording: Wording) -> list[Verdict]:
    """A coat that may branch: flawless it was the last, else it was the seal."""
    return [
        Verdict(
            weight="note",
            stage="clock",
            code="coat-may-branch",
            rule="6.3",
            title=f"{pour.called.capitalize()} may be made again",
            text="Flawless at the inspection, it is the finish; if not, it was the seal and one more "
            "follows. "
            f"{wording.mass(pour.mass.value)} more are reserved for it.",
            todo="Decide along the light, once it can be handled: sand all over and coat again, or leave it.",
        )
        for pour in plans
        if pour.spare
    ]
