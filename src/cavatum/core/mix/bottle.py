"""Which bottle was it? A known volume on the scale tells by its density. Rule 3.2 and 5.1."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..resin.ratio import MixRatio

Found = Literal["A", "B", "either", "neither"]


@dataclass(frozen=True, kw_only=True)
class Test:
    """density_kg_m3 with low and high: what cup line and scale step leave open."""

    found: Found
    density_kg_m3: float
    low_kg_m3: float
    high_kg_m3: float


def which_part(mass_kg: float, volume_m3: float, line_m3: float, step_kg: float, ratio: MixRatio) -> Test:
    """Density of what was poured, with half a cup line and half a scale step either way, against the sheet's
    two densities.

        rho = m / V,   low = (m - s/2) / (V + l/2),   high = (m + s/2) / (V - l/2)

    Raises DomainError where the cup's line is coarser than the volume.
    Source: mass = density x volume; interval arithmetic.
    """
    if mass_kg <= 0 or volume_m3 <= line_m3 / 2:
        raise DomainError(
            argument="test volume",
            value=f"{plainly(volume_m3 * 1e6)} mL, {plainly(mass_kg * 1000)} g",
            allowed="both are more than nothing and than half a line of the cup",
            way_out="Pour at least 50 mL and weigh it.",
            code="too-little",
        )
    low, high = (
        (mass_kg - step_kg / 2) / (volume_m3 + line_m3 / 2),
        (mass_kg + step_kg / 2) / (volume_m3 - line_m3 / 2),
    )
    is_a, is_b = low <= ratio.density_a <= high, low <= ratio.density_b <= high
    found: Found = "either" if is_a and is_b else "A" if is_a else "B" if is_b else "neither"
    return Test(found=found, density_kg_m3=mass_kg / volume_m3, low_kg_m3=low, high_kg_m3=high)


def bottle_verdict(test: Test, part: str, ratio: MixRatio, wording: Wording) -> Verdict:
    """In words, for the part that should have been poured."""
    dense = (
        f"{test.density_kg_m3 / 1000:.3f} g/mL ({test.low_kg_m3 / 1000:.2f} to "
        f"{test.high_kg_m3 / 1000:.2f} by cup line and scale)"
    )
    sheet = f"the sheet has A at {ratio.density_a / 1000:.3f} and B at {ratio.density_b / 1000:.3f}"
    if test.found == part:
        return Verdict(
            weight="note",
            stage="mix",
            code="bottle-fits",
            rule="5.1",
            title=f"It weighs like part {part}",
            text=f"{dense}; {sheet}.",
        )
    if test.found == "either":
        return Verdict(
            weight="note",
            stage="mix",
            code="bottle-open",
            rule="5.1",
            title="It could be either part",
            text=f"{dense}; {sheet}.",
            todo="Measure more of it, in a narrower cup, to tell them apart; look at the label.",
        )
    if test.found == "neither":
        return Verdict(
            weight="warning",
            stage="mix",
            code="bottle-neither",
            rule="3.2",
            title="It weighs like neither part",
            text=f"{dense}; {sheet}.",
            todo="Wrong bottle, a volume misread, or a density that is not yours: find out before you mix.",
        )
    return Verdict(
        weight="blocker",
        stage="mix",
        code="bottle-other",
        rule="5.1",
        title=f"This weighs like part {test.found}",
        text=f"Part {part} was due: {dense}; {sheet}.",
        todo="Look at the bottle's label before anything is mixed; pour it back only into its own bottle.",
    )
