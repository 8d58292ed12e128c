"""What stands round the resin: conductivity, density, heat capacity of moulds and wood; how heat leaves to
the room.

Values of solids from memory, usual in handbooks, unchecked; film coefficients as in docs/references.md. All
are typical: a plan lists them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..common.errors import DomainError
from ..common.plain_numbers import plainly

WallKind = Literal["wood", "board", "silicone", "plastic", "metal", "glass", "other"]
StandsOn = Literal["bench", "raised", "foam", "metal top"]

TOP_W_M2K = 10.0  # about 6 of it radiation
SIDE_W_M2K = 8.0
WRAP_W_M2K = 1.75  # own judgement: 20 mm of blanket or foam at 0.035 W/(m K)
# Underside of the form, to the room. Bench and side: as in core values; the rest own judgement: raised as a
# side; 50 mm of foam; a metal or
# stone top that leads heat away.
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


@dataclass(frozen=True, kw_only=True)
class Surround:
    """Wall and floor of the form, what it stands on, wrapped or not. thickness 0: the resin meets the room's
    air coefficient directly.

    wall_own, floor_own  a material of the shelf in place of the kind's typical values
    """

    wall: WallKind = "board"
    wall_m: float = 0.018
    floor: WallKind = "board"
    floor_m: float = 0.018
    stands_on: StandsOn = "bench"
    wrapped: bool = False
    top_w_m2k: float = TOP_W_M2K
    wall_own: Material | None = None
    floor_own: Material | None = None

    @property
    def wall_material(self) -> Material:
        return self.wall_own or MATERIALS[self.wall]

    @property
    def floor_material(self) -> Material:
        return self.floor_own or MATERIALS[self.floor]

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
        return 1 / (1 / SIDE_W_M2K + 1 / WRAP_W_M2K) if self.wrapped else SIDE_W_M2K

    @property
    def underside_w_m2k(self) -> float:
        return UNDERSIDE_W_M2K[self.stands_on]
