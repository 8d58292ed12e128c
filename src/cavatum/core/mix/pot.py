"""The pot clock of a batch and its particle windows, as figures. Rules 5.4, 5.5, 5.7, 5.9."""

from __future__ import annotations

from ..calibration.of_system import Cure
from ..calibration.pot_clock import glitter_drift, pot_clock
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Figure, Input, Workbook
from ..common.workshop import Workshop
from ..cure.particles import mobility, smallest_bubble_out
from ..heat.cup import LEAST_KG, MOST_KG
from ..resin.system import System
from .mixes import Mix, closing_s
from .model import PotClock

SPLIT_EARLY_K = 3.0  # common practice, no source: part the colours a few degrees early, small cups lag
SOURCE = (
    "heat and cure in a cup as high as wide, 8 × 12 rings; WLF 1955 with the gel term for viscosity; "
    "Stokes for what sinks or rises"
)


def pot_plan(
    book: Workbook, key: str, mix: Mix, mass_kg: float, depth_m: float, workshop: Workshop, cure: Cure
) -> PotClock | None:
    """None where the batch is too small or too large for a cup."""
    if not LEAST_KG <= mass_kg <= MOST_KG:
        return None
    room_c, system = workshop.room_c.value, mix.system
    try:
        run = pot_clock(cure.kinetics, round(mass_kg, 3), room_c)
    except DomainError:
        return None
    batch = Input(name="batch", value=mass_kg, quantity="mass", origin="computed")
    room = workshop.room_c.as_input("room, and the parts in it")
    by = book.figure(
        f"{key}/pot",
        "Pour by, from the first stir",
        run.pour_by_s,
        "duration",
        "the earliest of: twice its thinnest, 50 °C warm through, 80 % of the time to gel",
        [batch, room, *cure.told],
        SOURCE,
        [f"Here: {run.why}. Cure speed worked out from {cure.fitted_to}."],
    )
    drift = glitter_drift(cure.kinetics, room_c, mix.ratio.mixed_density)
    fall = book.figure(
        f"{key}/glitter",
        "1 mm glitter sinks, added at once",
        drift.at_once_m,
        "length",
        "∫ dt/η × π Δρ g D h / 24",
        [
            room,
            Input(
                name="density of the mix",
                value=mix.ratio.mixed_density,
                quantity="density",
                origin="computed",
            ),
            *cure.told,
        ],
        SOURCE,
        [
            "In a still, level film at the room's temperature. How it climbs on a turning cup goes with "
            "the film and with trapped air: resting cuts "
            "that by well over half (common practice, no source)."
        ],
    )
    phi = mobility(cure.kinetics, room_c + 273.15)
    bubble = book.figure(
        f"{key}/bubble",
        "Smallest bubble that gets out of the layer",
        smallest_bubble_out(phi, mix.ratio.mixed_density, depth_m),
        "length",
        "√(18 L / (ρ g ∫ dt/η))",
        [Input(name="layer", value=depth_m, quantity="length", origin="computed"), room, *cure.told],
        SOURCE,
    )
    low, high = system.pour_from_c, system.pour_to_c
    return PotClock(
        pour_by=by,
        why=run.why,
        thickens_s=run.thickens_s,
        gel_s=run.gel_s,
        hottest_c=run.hottest_c,
        curve=list(run.curve),
        drift=fall,
        left=list(drift.left),
        settles=drift.at_once_m * drift.left[-1][1] > depth_m,
        split_s=run.when(low.value - SPLIT_EARLY_K) if low else None,
        pour_from_s=run.when(low.value) if low else None,
        pour_to_s=run.when(high.value) if high else None,
        smallest_bubble=bubble,
        split_c=low.value - SPLIT_EARLY_K if low else None,
        pour_from_c=low.value if low else None,
        pour_to_c=high.value if high else None,
    )


def within_figure(
    book: Workbook, key: str, system: System, pot: PotClock | None, again_s: float, workshop: Workshop
) -> Figure:
    """Time left for pouring after stirring: the sooner of the sheet's working time and the pot clock of this
    batch, less what it takes to close the chamber. The rest is inside it. again_s: in a second cup.
    """
    closing = closing_s(system, workshop)
    work, stir = system.working_time, system.stir_s
    inputs = [work.time_s.as_input("working time of the sheet"), stir.as_input("stirring")]
    if again_s and system.stir_again_s:
        inputs.append(system.stir_again_s.as_input("stirring again in a second cup"))
    sheet = (
        f"the sheet's figure for {plainly(work.mass_kg.value * 1000)} g at "
        f"{plainly(work.temperature_c.value)} °C "
        f"({work.criterion})"
    )
    stirred = stir.value + again_s + closing
    less = "stirring − closing the chamber" if closing else "stirring"
    if closing:
        inputs.append(workshop.chamber_close_s.as_input("lid down and pressure up"))
    rest = (
        [f"The rest of {plainly(system.rest_s.value / 60, 3)} min is inside it."]
        if system.rest_s.value
        else []
    )
    if pot is None:
        return book.figure(
            f"{key}/within",
            "Pour within",
            max(work.time_s.early - stirred, 0.0),
            "duration",
            f"working time − {less}",
            inputs,
            sheet,
            ["A larger batch or a warmer room shortens it; that is not computed for this system.", *rest],
        )
    return book.figure(
        f"{key}/within",
        "Pour within",
        max(min(work.time_s.early, pot.pour_by.value) - stirred, 0.0),
        "duration",
        f"the sooner of working time and pot clock − {less}",
        [*inputs, book.computed("pour by, in this cup and room", pot.pour_by)],
        f"{sheet}; pot clock of this batch",
        rest,
    )
