"""The shape of a batch as it leaves the core: what is weighed in which order, its colours, its pot clock."""

from __future__ import annotations

from typing import Literal

from ..common.working import Data, Figure
from ..layers.model import LayerPlan


class PartPlan(Data):
    """One part of a batch in the order of weighing: by itself (tared) and standing in the cup together with
    the first.
    """

    part: Literal["A", "B"]
    mass: Figure
    volume: Figure
    cumulative: Figure


class PotClock(Data):
    """The batch in its cup from the first stir [s]. split: when to part the colours; pour_from, pour_to: the
    sheet's pour temperatures.

    curve    (s, degC of the stirred batch, Pa s) until the middle gels
    drift    how far 1 mm glitter sinks in a still film when added at once; left: (rest s, share of that)
    settles  further than the layer is deep, after the longest rest too
    """

    pour_by: Figure
    why: str
    thickens_s: float | None
    gel_s: float | None
    hottest_c: float
    split_s: float | None
    pour_from_s: float | None
    pour_to_s: float | None
    curve: list[tuple[float, float, float]]
    drift: Figure
    left: list[tuple[float, float]]
    settles: bool
    smallest_bubble: Figure | None
    split_c: float | None = None
    pour_from_c: float | None = None
    pour_to_c: float | None = None


class DosePlan(Data):
    """One colourant of one cup. off: what the scale's step makes of it, as a share; drops where one drop was
    weighed.
    """

    colourant_id: str
    name: str
    kind: str
    share: float
    mass: Figure
    off: float
    drops: int | None
    drops_off: float | None
    drop_kg: float | None


class ColourPlan(Data):
    """One colour of a batch: share of the clear mix, its colourants, how much light the layer lets
    through.
    """

    colour: str
    recipe_id: str | None
    share: float
    clear: Figure
    doses: list[DosePlan]
    through: Figure | None
    looks: str = ""


class PumpPlan(Data):
    strokes_a: int
    strokes_b: int
    mass_kg: float
    ratio_off: float
    too_few: bool


class BatchPlan(Data):
    """colours: more than one when several come out of this clear mix. hollows: how many are filled from all
    batches of this mix.
    """

    number: int
    system_id: str
    system_name: str
    colour: str
    parts: list[PartPlan]
    mass: Figure
    cup_fill: Figure
    ratio_error: Figure
    stir_s: float
    rest_s: float
    pour_within: Figure
    colourant_most: Figure
    pot: PotClock | None = None
    first_part: Literal["A", "B"]
    mixed: Figure
    stir_again_s: float | None = None
    hollows: int = 1
    colours: list[ColourPlan] = []
    line_error: Figure | None = None
    pump: PumpPlan | None = None


AllowanceCode = Literal["soak", "shrinkage", "overfill", "runoff", "residue", "reserve"]


class Allowance(Data):
    """One line of what goes missing: its volume and its share of the net volume."""

    code: AllowanceCode
    name: str
    volume: Figure
    share: float


class PourPlan(Data):
    """called: "pour 2" or "coat 1", as a person would. spare: stock for making it once more is reserved.
    grit, wiped: how what is below is sanded before, where it bonds no more; after_cut: what was cast is
    cut flush
    before. branch: in a run, the
    inspection that has to fail for it to be made.
    """

    number: int
    called: str
    layers: list[LayerPlan]
    net: Figure
    need: Figure
    mass: Figure
    allowances: list[Allowance]
    batches: list[BatchPlan]
    spare: bool = False
    grit: int | None = None
    wiped: bool = True
    after_cut: bool = False
    new_pocket: bool = False
    branch: str = ""
