"""What stands round the resin: conductivity, density, heat capacity of moulds and wood; how heat leaves to
the room.

Values of solids from memory, usual in handbooks, unchecked; film coefficients as in docs/references.md. All
are typical: a plan lists them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from ..common.errors import DomainError
from ..common.plain_numbers import plainly

WallKind = Literal["wood", "board", "silicone", "plastic", "metal", "glass", "other"]
StandsOn = Literal["bench", "raised", "foam", "metal top"]

LEADS_AT_MOST = 2.0  # W/(m K), of cells
TOP_W_M2K = 10.0  # about 6 of it radiation
SIDE_W_M2K = 8.0
WRAP_W_M2K = 1.75  # own judgement: 20 mm of blanket or foam at 0.035 W/(m K)
# Underside of the form, to the room. Bench and side: as in core values; the rest own judgement: raised as a
# side; 50 mm of foam; a metal or
# stone top that leads heat away.
# What covers the fill: top loss [W/(m2 K)] over that of an open one, and the share of the side's loss that a
# box leaves; own judgement from 10, 6 and 4 W/(m2 K) in still air, and 16 under a fan.
Covered = Literal["open", "under a cover", "in a box", "blanket on top"]
COVERED_TIMES: dict[Covered, float] = {
    "open": 1.0,
    "under a cover": 0.6,
    "in a box": 0.4,
    "blanket on top": 1.0,
}
BOX_SIDE_TIMES = 0.5
FAN_TIMES = 1.6
# Absorbed at the top [W/m2], as if it shone all day; own judgement: sun through a window, a lamp near by.
Shines = Literal["nothing", "sun", "lamp"]
SHINES_W_M2: dict[Shines, float] = {"nothing": 0.0, "sun": 250.0, "lamp": 100.0}
UNDERSIDE_W_M2K: dict[StandsOn, float] = {"bench": 5.0, "raised": 8.0, "foam": 0.65, "metal top": 15.0}


@dataclass(frozen=True, kw_only=True)
class Material:
    """conductivity [W/(m K)], density [kg/m3], heat capacity [J/(kg K)], thickness where none is said [m]."""

    name: str
    conductivity: float
    density: float
    heat_capacity: float
    typical_m: float


MATERIALS: dict[WallKind, Material] = {
    "wood": Material(
        name="wood, across the grain", conductivity=0.14, density=600, heat_capacity=2000, typical_m=0.040
    ),
    "board": Material(
        name="coated board", conductivity=0.13, density=680, heat_capacity=1700, typical_m=0.018
    ),
    "silicone": Material(
        name="silicone", conductivity=0.25, density=1150, heat_capacity=1300, typical_m=0.010
    ),
    "plastic": Material(
        name="plastic (polyethylene)", conductivity=0.45, density=950, heat_capacity=1900, typical_m=0.005
    ),
    "metal": Material(
        name="metal (aluminium)", conductivity=200.0, density=2700, heat_capacity=900, typical_m=0.003
    ),
    "glass": Material(name="glass", conductivity=1.0, density=2500, heat_capacity=800, typical_m=0.005),
    "other": Material(
        name="board, as nobody said", conductivity=0.13, density=680, heat_capacity=1700, typical_m=0.018
    ),
}


def _as_cells(material: Material) -> Material:
    """Metal leads so well that its cells could not be followed; through a wall that resists nothing either
    way, and along it what is left out is the hot side.
    """
    return replace(material, conductivity=min(material.conductivity, LEADS_AT_MOST))


@dataclass(frozen=True, kw_only=True)
class Surround:
    """Wall and floor of the form, what it stands on, wrapped or not. thickness 0: the resin meets the room's
    air coefficient directly.

    covered, fan  what is over it, and whether the air is driven over it
    shines       what shines on it;  under_off_k: how much warmer than the room what it stands on is [K]
    exposed      share of its girth that has air beside it; beside the rest stand cavities just as warm
    side_times, underside_times  factors on what leaves there: 1 unless it was measured, or is drawn
    air_is_measured  a curve taught what leaves at top and sides
    wall_own, floor_own  a material of the shelf in place of the kind's typical values
    """

    wall: WallKind = "board"
    wall_m: float = 0.018
    floor: WallKind = "board"
    floor_m: float = 0.018
    stands_on: StandsOn = "bench"
    wrapped: bool = False
    top_w_m2k: float = TOP_W_M2K
    covered: Covered = "open"
    fan: bool = False
    shines: Shines = "nothing"
    under_off_k: float = 0.0
    exposed: float = 1.0
    side_times: float = 1.0
    underside_times: float = 1.0
    air_is_measured: bool = False
    wall_own: Material | None = None
    floor_own: Material | None = None

    @cached_property
    def wall_material(self) -> Material:
        return _as_cells(self.wall_own or MATERIALS[self.wall])

    @cached_property
    def floor_material(self) -> Material:
        return _as_cells(self.floor_own or MATERIALS[self.floor])

    def __post_init__(self) -> None:
        for name, value in (("wall", self.wall_m), ("floor", self.floor_m)):
            if not 0 <= value <= 1.0:
                raise DomainError(
                    argument=f"{name} thickness",
                    value=f"{plainly(value * 1000)} mm",
                    allowed="it lies between 0 and 1000 mm",
                    way_out="Correct it.",
                    code="out-of-range",
                )

    @property
    def side_w_m2k(self) -> float:
        """Of the whole girth: nothing leaves where other cavities stand."""
        side = SIDE_W_M2K * self.side_times * self._still_air * (FAN_TIMES if self.fan else 1.0)
        return self.exposed * (1 / (1 / side + 1 / WRAP_W_M2K) if self.wrapped else side)

    @property
    def _still_air(self) -> float:
        return BOX_SIDE_TIMES if self.covered == "in a box" else 1.0

    @property
    def over_w_m2k(self) -> float:
        """From the fill's surface to the room, through what covers it."""
        open_ = self.top_w_m2k * COVERED_TIMES[self.covered] * (FAN_TIMES if self.fan else 1.0)
        return 1 / (1 / open_ + 1 / WRAP_W_M2K) if self.covered == "blanket on top" else open_

    @property
    def top_off_k(self) -> float:
        """How much warmer than the room the air over it seems, for what shines on it: q / h."""
        return SHINES_W_M2[self.shines] / self.over_w_m2k

    @property
    def underside_w_m2k(self) -> float:
        return UNDERSIDE_W_M2K[self.stands_on] * self.underside_times
