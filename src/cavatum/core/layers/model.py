"""What layers answer: depth, heat over time and what of it is drawn, for each layer of each void."""

from __future__ import annotations

from typing import Literal

from ..common.working import Data, Figure


class Chance(Data):
    """Of a hundred such pours: 80 have their peak [degC] between low and high; over_wanted and over_never are
    the shares that pass what is wanted and what must never be; is_risky: more of the latter than goes without
    a warning.
    """

    low_c: float
    high_c: float
    over_wanted: float
    over_never: float
    is_risky: bool


class Early(Data):
    """Had the next layer been poured so long after this one: how hot it would have become [degC]."""

    after_s: float
    peak_c: float
    too_hot: bool
    runs_away: bool


class WarmUp(Data):
    """What would bring a state within reach that this room does not: so warm [degC], for so long [s]."""

    to: Literal["pour on", "demould", "full cure"]
    room_c: float
    for_s: float


class Shrinks(Data):
    """strain: along each edge, once gelled; drop: of the level, where walls hold; level: once cold, over the
    layer's line, with the sheet's shrinkage poured on top; gap: at each side, where they let go, none for a
    wide layer. borne: the strain that what it sticks to bears; None: it is meant to let go.
    """

    strain: Figure
    drop: Figure
    level: Figure
    gap: Figure | None
    borne: float | None


class LayerHeat(Data):
    """What is to become of one layer. Times count from its own pouring; None: not in this room.

    runs_away  past 100 degC: a class, no number to trust
    curve      (seconds after the first pour, hottest degC)
    early      what pouring the next one sooner would do
    room_to_c  of the layer that fails first: how warm the room may get before it passes what is wanted; None:
               another layer, or over 15 K more
    warm_up    for each time that is None, what would reach it; none where no warmth would
    began_c, began_cured, stood_s, batch_kg  what it began with, out of its cup; no batch: it began fresh
    chance     None: not worked out yet
    shrinks    None: it never gels
    wood_rise  by how much the wood next to it warms before it gels; None: hardly, or no wood
    """

    peak: Figure
    runs_away: bool
    peak_s: float
    poured_s: float
    below_c: float | None
    gel_first_s: float | None
    gel_last_s: float | None
    opens_s: float | None
    closes_s: float | None
    demould_s: float | None
    cured_s: float | None = None
    wanted_c: float
    never_c: float
    curve: list[tuple[float, float]]
    early: list[Early] = []
    room_to_c: float | None = None
    warm_up: list[WarmUp] = []
    began_c: float | None = None
    began_cured: float = 0.0
    stood_s: float = 0.0
    batch_kg: float | None = None
    chance: Chance | None = None
    wood_rise: Figure | None = None
    shrinks: Shrinks | None = None


class HeatMap(Data):
    """State over height and time for drawing: times [s from the first pour], heights [m], degC and cure (0 to
    100) by time then height.
    """

    void_id: str
    times_s: list[float]
    heights_m: list[float]
    temperature_c: list[list[float]]
    cure: list[list[int]]


class LayerPlan(Data):
    """One layer of one void. volume and mass: of one cavity; count: how many equal ones."""

    void_id: str
    portion_id: str
    system_id: str
    colour: str
    number: int
    from_m: float
    to_m: float
    depth: Figure
    volume: Figure
    mass: Figure
    allowed: Figure
    limited_by: str
    is_allowed: bool
    heat: LayerHeat | None = None
    count: int = 1
