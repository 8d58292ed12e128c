"""What mixing has to say: scale too coarse, batch gone before it is poured, colour after the fact. Rules 5.2
and 5.5.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..layers.pours import Pour
from ..resin.ratio import ratio_error
from .batches import PER_HOLLOW_S, batches_in_time
from .mixes import Mix, closing_s, mixes_of
from .model import BatchPlan, PourPlan

THIN_PA_S = 1.0  # own judgement: as water-like as thin sealers and slow casting resins


RATIO_ERROR_CARE = (
    0.02  # common practice, no source: off by more than about 2 % shows in the cure of most systems
)


SHORT = 0.01  # own judgement: less is inside the reserve


def mix_verdicts(
    pours: Sequence[Pour], plans: Sequence[PourPlan], workshop: Workshop, wording: Wording
) -> list[Verdict]:
    found: list[Verdict] = []
    for pour, plan in zip(pours, plans, strict=True):
        for mix in mixes_of(pour, workshop):
            batch = next(
                one for one in plan.batches if one.system_id == mix.system.id and one.colour == mix.colour
            )
            found += _too_coarse(mix, pour.number, workshop, wording)
            found += _too_slow(mix, pour.number, batch, workshop, wording)
            found += _cup_lines(pour.number, batch) + _pump(batch) + _drill(mix, workshop)
    return list({(verdict.code, verdict.weight): verdict for verdict in reversed(found)}.values())[::-1]


def _too_coarse(mix: Mix, number: int, workshop: Workshop, wording: Wording) -> list[Verdict]:
    one = mix.weighings[0]
    error = (
        ratio_error(one.mass_a_kg, one.mass_b_kg, workshop.scale.step_kg.value, mix.ratio.by_weight)
        if one.mass_b_kg > 0
        else float("inf")
    )
    wanted_kg = one.mixed_m3 * mix.ratio.mixed_density
    off = abs(one.mass_a_kg / one.mass_b_kg / mix.ratio.by_weight - 1) if one.mass_b_kg > 0 else 1.0
    short = (
        f" Rounded to the step it is {wording.mass(wanted_kg - one.mass_kg)} less than wanted."
        if wanted_kg - one.mass_kg > SHORT * wanted_kg
        else ""
    )
    if error <= RATIO_ERROR_CARE:
        return []
    return [
        Verdict(
            weight="warning",
            stage="mix",
            code="scale-too-coarse",
            rule="5.2",
            title=f"Pour {number} is small for the scale",
            text=f"With steps of {wording.mass(workshop.scale.step_kg.value)} the ratio of a batch of "
            f"{wording.mass(one.mass_kg)} can be off by "
            f"{min(error, 1):.1%}, the rounded targets alone {off:.1%}. Off-ratio resin stays sticky for "
            f"good.{short}",
            todo="Use a finer scale, or mix for several pieces at once.",
        )
    ]


def _cup_lines(number: int, batch: BatchPlan) -> list[Verdict]:
    """By volume the lines of the cup may put the ratio too far off."""
    if batch.line_error is None or batch.line_error.value <= RATIO_ERROR_CARE:
        return []
    return [
        Verdict(
            weight="warning",
            stage="mix",
            code="cup-lines-too-coarse",
            rule="5.2",
            title=f"Pour {number} is small for the lines of the cup",
            text=f"Measured in the cup its ratio can be off by {min(batch.line_error.value, 1):.1%}, half a "
            "line each way.",
            todo="Weigh it, or measure in a narrower cup with finer lines.",
        )
    ]


def _too_slow(mix: Mix, number: int, batch: BatchPlan, workshop: Workshop, wording: Wording) -> list[Verdict]:
    """Against the sheet's working time, and against the pot clock of this very batch in its cup."""
    work, mass, count = mix.system.working_time, mix.weighings[0].mass_kg, len(mix.weighings)
    before = batch.stir_s + (batch.stir_again_s or 0.0) + batch.rest_s
    pouring = mix.weighings[0].poured_m3 / workshop.pour_rate_m3_s + (
        mix.hollows / count * PER_HOLLOW_S if mix.hollows > 1 else 0.0
    )
    closing, pot = closing_s(mix.system, workshop), batch.pot
    # What goes into a chamber is closed in together: the first batch waits for the others and for the lid.
    others = (count - 1) * (batch.stir_s + pouring) if closing else 0.0
    needed = before + pouring + others + closing
    found = []
    if needed > work.time_s.early:
        found.append(
            Verdict(
                weight="blocker",
                stage="mix",
                code="gone-before-poured",
                rule="5.5",
                title=f"Pour {number} sets in the cup",
                text=f"Stirring, resting and pouring{_and_closing(mix, workshop)} take "
                f"{wording.duration(needed)}; it can be worked for {wording.duration(work.time_s.early)}.",
                todo="Use a smaller cup, so that each batch is smaller; or a slower system.",
            )
        )
    elif pot is not None and needed > pot.pour_by.value:
        fitting = batches_in_time(
            mix.need_m3, mix.hollows, pot.pour_by.value, before, workshop.pour_rate_m3_s
        )
        found.append(
            Verdict(
                weight="warning",
                stage="mix",
                code="thickens-first",
                rule="5.5",
                title=f"Pour {number} thickens before it is poured",
                text=f"{wording.mass(mass)} in one cup have to be poured by "
                f"{wording.duration(pot.pour_by.value)} "
                f"({pot.why}); stirring, resting and pouring take "
                f"{wording.duration(needed)}.",
                todo=f"Mix it as {max(fitting, count + 1)} batches one after the other, or pour it out "
                "flat at once."
                if before < pot.pour_by.value
                else "Cool the room or choose a slower system.",
            )
        )
    elif mass > work.mass_kg.value and work.time_s.value < 4 * 3600:
        found.append(
            Verdict(
                weight="warning",
                stage="mix",
                code="larger-than-sheet",
                rule="5.5",
                title="It sets sooner than the label says",
                text=f"From pour {number} on: a batch of {wording.mass(mass)} heats itself more than "
                "the sheet's "
                f"{wording.mass(work.mass_kg.value)}, for which it gives "
                f"{wording.duration(work.time_s.value)}.",
                todo="Pour each batch at once after its rest.",
            )
        )
    if mix.by_time:
        found.append(
            Verdict(
                weight="note",
                stage="mix",
                code="batches-by-time",
                rule="5.5",
                title=f"Pour {number} in {count} batches, for time",
                text=f"They would fit fewer cups, but {mix.hollows} hollows cannot be filled within the "
                "working time from one."
                if mix.hollows > 1
                else "Fewer cups would hold it, but one batch would set before you could pour it.",
                todo="Mix the next batch when the last one is poured.",
            )
        )
    return found


def _and_closing(mix: Mix, workshop: Workshop) -> str:
    if not closing_s(mix.system, workshop):
        return " one batch"
    return (
        ", all batches, and closing the chamber" if len(mix.weighings) > 1 else ", and closing the chamber,"
    )


def _pump(batch: BatchPlan) -> list[Verdict]:
    if batch.pump is None or not (batch.pump.too_few or abs(batch.pump.ratio_off) > RATIO_ERROR_CARE):
        return []
    return [
        Verdict(
            weight="warning",
            stage="mix",
            code="pump-too-coarse",
            rule="5.8",
            title="Too little for the pumps",
            text=f"{batch.pump.strokes_a} strokes of A and {batch.pump.strokes_b} of B put the ratio "
            f"{abs(batch.pump.ratio_off):.1%} off"
            + ("; one short stroke among so few spoils it." if batch.pump.too_few else "."),
            todo="Weigh this batch.",
        )
    ]


def _drill(mix: Mix, workshop: Workshop) -> list[Verdict]:
    thin = mix.system.viscosity_pa_s is not None and mix.system.viscosity_pa_s.value < THIN_PA_S
    return (
        [
            Verdict(
                weight="note",
                stage="mix",
                code="drill-and-thin",
                rule="5.10",
                title="Thin resin and a drill",
                text=f"{mix.system.name} is thin: a drill can throw the cup over and stir in air.",
                todo="Hold or clamp the cup, low speed, the mixer under the surface.",
            )
        ]
        if thin and workshop.stir_with == "drill"
        else []
    )
