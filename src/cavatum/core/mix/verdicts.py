"""What mixing has to say: scale too coarse, batch gone before it is poured, colour after the fact. Rules 5.2 and 5.5."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..say import Say
from ..verdict import Verdict
from ..workshop import Workshop
from .ratio import ratio_error

if TYPE_CHECKING:
    from ..pours import Mix, Pour

RATIO_ERROR_CARE = 0.02  # common practice, no source: off by more than about 2 % shows in the cure of most systems


def mix_verdicts(pours: list[Pour], workshop: Workshop, say: Say) -> list[Verdict]:
    found: list[Verdict] = []
    for pour in pours:
        for mix in pour.mixes(workshop):
            found += _too_coarse(mix, pour.number, workshop, say)
            found += _too_slow(mix, pour.number, workshop, say)
    return list({(verdict.code, verdict.weight): verdict for verdict in reversed(found)}.values())[::-1]


def _too_coarse(mix: Mix, number: int, workshop: Workshop, say: Say) -> list[Verdict]:
    one = mix.weighings[0]
    error = ratio_error(one.mass_a_kg, one.mass_b_kg, workshop.scale.step_kg.value) if one.mass_b_kg > 0 else float("inf")
    if error <= RATIO_ERROR_CARE:
        return []
    return [Verdict(
        weight="care", stage="mix", code="scale-too-coarse", rule="5.2", title=f"Pour {number} is small for the scale",
        text=f"With steps of {say.mass(workshop.scale.step_kg.value)} the ratio of a batch of {say.mass(one.mass_kg)} can be off by "
             f"{min(error, 1):.0%}. Off-ratio resin stays sticky for good.",
        todo="Use a finer scale, or mix for several pieces at once.",
    )]


def _too_slow(mix: Mix, number: int, workshop: Workshop, say: Say) -> list[Verdict]:
    work = mix.system.working_time
    needed = mix.system.stir_s.value + mix.system.rest_s.value + mix.weighings[0].poured_m3 / workshop.pour_rate_m3_s
    mass = mix.weighings[0].mass_kg
    found = []
    if needed > work.time_s.value:
        found.append(Verdict(
            weight="stops", stage="mix", code="gone-before-poured", rule="5.5", title=f"Pour {number} sets in the cup",
            text=f"Stirring, resting and pouring one batch take {say.duration(needed)}; it can be worked for "
                 f"{say.duration(work.time_s.value)}.", todo="Use a smaller cup, so that each batch is smaller.",
        ))
    elif mass > work.mass_kg.value and work.time_s.value < 4 * 3600:
        found.append(Verdict(
            weight="care", stage="mix", code="larger-than-sheet", rule="5.5", title="It goes off sooner than the label says",
            text=f"From pour {number} on: a batch of {say.mass(mass)} heats itself more than the sheet's "
                 f"{say.mass(work.mass_kg.value)}, for which it gives {say.duration(work.time_s.value)}.",
            todo="Pour each batch at once after its rest.",
        ))
    return found
