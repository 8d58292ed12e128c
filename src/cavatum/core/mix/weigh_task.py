"""A batch of a plan as a task for the scale: frozen, so that what is weighed can be told apart from what was
planned. Rule 5.1.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..common.errors import DomainError
from ..common.workshop import Workshop
from ..resin.ratio import ratio_of
from ..resin.system import System
from .model import BatchPlan, PourPlan
from .weigh_events import ColourCup, Dose, WeighTask


def task_of(
    piece_id: int,
    piece: str,
    pours: Sequence[PourPlan],
    pour_number: int,
    batch_number: int,
    systems: Mapping[str, System],
    workshop: Workshop,
) -> WeighTask:
    """Raises DomainError for a pour or batch that the plan does not have."""
    pour = next((one for one in pours if one.number == pour_number), None)
    batch = next((one for one in pour.batches if one.number == batch_number), None) if pour else None
    if pour is None or batch is None:
        raise DomainError(
            argument="batch",
            value=f"{batch_number} of pour {pour_number}",
            allowed="the plan has it",
            way_out="Open the plan as it is now.",
            code="no-batch",
        )
    system = systems[batch.system_id]
    ratio = ratio_of(system)
    masses = {part.part: part.mass.value for part in batch.parts}
    return WeighTask(
        piece_id=piece_id,
        piece=piece,
        pour=pour.called,
        batch=batch_number,
        batches=len(pour.batches),
        system_id=system.id,
        system=system.name,
        order="AB" if batch.first_part == "A" else "BA",
        by_weight=ratio.by_weight,
        density_a=ratio.density_a,
        density_b=ratio.density_b,
        target_a_kg=masses["A"],
        target_b_kg=masses["B"],
        step_kg=workshop.scale.step_kg.value,
        most_kg=workshop.scale_carries_kg,
        cup_m3=workshop.cup_m3.value,
        cups=_cups(batch),
        stir_s=batch.stir_s,
        stir_again_s=batch.stir_again_s,
        rest_s=batch.rest_s,
        pour_within_s=batch.pour_within.value,
        name_a=system.name_a or "",
        name_b=system.name_b or "",
    )


def _cups(batch: BatchPlan) -> list[ColourCup]:
    return [
        ColourCup(
            colour=one.colour,
            share=one.share,
            colourants=[
                Dose(id=dose.colourant_id, name=dose.name, share=dose.share, drop_kg=dose.drop_kg)
                for dose in one.doses
                if dose.share > 0
            ],
        )
        for one in batch.colours
    ]
