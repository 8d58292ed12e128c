"""A batch as a task for the scale, and what happens there, as events. Rule 5.1."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..common.readings import Label
from ..common.verdict import Verdict
from ..common.working import Data
from ..resin.ratio import MixRatio


class Dose(Data):
    """share: of the clear mix in its cup, by mass; drop_kg: one drop, where it was calibrated."""

    id: str
    name: str
    share: float = Field(gt=0, le=0.5)
    drop_kg: float | None = None


class ColourCup(Data):
    """share: of the batch that goes into this cup."""

    colour: str
    share: float = Field(gt=0, le=1)
    colourants: list[Dose] = []


class WeighTask(Data):
    """What this batch should be, frozen when weighing begins. order: the part that goes in first. name_a,
    name_b: what the bottles say, where the sheet told it.
    """

    piece_id: int
    piece: str
    pour: str
    batch: int
    batches: int
    system_id: str
    system: str
    order: Literal["AB", "BA"]
    by_weight: float
    density_a: float
    density_b: float
    target_a_kg: float
    target_b_kg: float
    step_kg: float
    most_kg: float
    cup_m3: float
    cups: list[ColourCup]
    stir_s: float
    stir_again_s: float | None = None
    rest_s: float
    pour_within_s: float
    name_a: str = ""
    name_b: str = ""

    @property
    def ratio(self) -> MixRatio:
        return MixRatio(self.by_weight, self.density_a, self.density_b)

    @property
    def wanted_kg(self) -> float:
        return self.target_a_kg + self.target_b_kg


class Taken(Data):
    """A settled amount of one step. gross_kg: what the scale showed, None by hand. Negative: taken out again
    with a clean stick.
    """

    kind: Literal["taken"] = "taken"
    step: str = Field(max_length=90)
    mass_kg: float = Field(ge=-1e4, le=1e4)
    by: Literal["scale", "hand"]
    gross_kg: float | None = None
    as_typed: Label = ""


class Zero(Data):
    """From here on the scale counts: cup on, tared or not."""

    kind: Literal["zero"] = "zero"
    gross_kg: float = Field(ge=-1e4, le=1e4)


class Undo(Data):
    """The last amount or choice is taken back."""

    kind: Literal["undo"] = "undo"


class FromBottle(Data):
    """The bottle a part comes from, so that its lot is in the record and its rest on the shelf.

    so_far_kg  of this part in the cup when the bottle was taken: what came from the one before it; None:
    nothing
               was weighed since the last amount
    past       the date it was good until, where that was over when it was chosen
    """

    kind: Literal["bottle"] = "bottle"
    step: str = Field(max_length=90)
    bottle_id: int
    lot: Label = ""
    so_far_kg: float | None = Field(default=None, ge=0, le=1e4)
    past: date | None = None


class LargerCup(Data):
    kind: Literal["cup"] = "cup"
    cup_m3: float = Field(gt=0, le=10)


class Accept(Data):
    """Left as it is, off or not: the person's own decision."""

    kind: Literal["accept"] = "accept"


class EndWeighing(Data):
    kind: Literal["end"] = "end"
    how: Literal["mixed", "given up"]


WeighEvent = Annotated[
    Taken | Zero | Undo | FromBottle | LargerCup | Accept | EndWeighing, Field(discriminator="kind")
]


class OfBottle(Data):
    """What of a step came from one bottle [kg]; no bottle: none was named."""

    bottle_id: int | None
    lot: str
    kg: float


class WeighStep(Data):
    """key: A, B or cup/colourant. target and remaining change with what was really taken before.
    bottle_id, lot:
    of the bottle chosen last; portions: what came from each.
    """

    key: str
    name: str
    cup: str = ""
    kind: Literal["part", "colourant"]
    target_kg: float
    taken_kg: float
    remaining_kg: float
    close_kg: float
    drops: int | None = None
    done: bool
    bottle_id: int | None = None
    lot: str = ""
    past: date | None = None
    portions: list[OfBottle] = []

    @property
    def lots(self) -> list[str]:
        """Of every bottle that something came from, in the order they were opened."""
        return list(dict.fromkeys(one.lot for one in self.portions if one.lot and one.kg > 0))


class WeighState(Data):
    """version: number of events it was made from. off: A:B against the ratio, as a share, once both are in.

    over_kg, over_m3: more than was planned, 0 where it is not; too_full: what is due does not go into this
    cup any more.
    """

    version: int
    steps: list[WeighStep]
    current: int | None
    zero_kg: float | None
    mass_a_kg: float
    mass_b_kg: float
    off: float | None
    cup_m3: float
    cup_fill: float
    over_kg: float
    over_m3: float
    too_full: bool
    taken: list[Taken]
    verdicts: list[Verdict]
    can_undo: bool
    ended: Literal["", "mixed", "given up"]

    @property
    def total_kg(self) -> float:
        return self.mass_a_kg + self.mass_b_kg


RATIO_CLOSE = 0.01


def close_enough(task: WeighTask, target_kg: float) -> float:
    """How far [kg] a weight may be off and is still taken.

        max(step, RATIO_CLOSE x target)

    task  the scale's step [kg];  target_kg  [kg], >= 0
    Raises nothing. Exact. Source: common practice, no source: 1 % of a part.
    """
    return max(task.step_kg, RATIO_CLOSE * target_kg)
