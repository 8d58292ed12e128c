"""Areas to coat, films, and what the rules of thumb would make of them. Rules 2.4, 2.5 and 2.10."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.unit_table import FOOT_M, INCH_M, US_FLUID_OUNCE_M3, US_GALLON_M3
from ..piece.coats import Coat, Notch
from .areas import check_soaks, covered
from .hollow import Hollow, Point, circle


@dataclass(frozen=True)
class FilmHollow(Hollow):
    """A film as a very flat hollow: its area times its thickness. Its height is the film."""

    area_m2: float
    depth_m: float
    cut = "coat"
    cut_note = "film drawn over a break line, not to scale"

    def area(self, height_m: float) -> float:
        return self.area_m2

    def volume(self, height_m: float) -> float:
        return self.area_m2 * height_m

    def wetted(self, height_m: float) -> float:
        return self.area_m2

    def width(self, height_m: float) -> float:
        return 2 * math.sqrt(self.area_m2 / math.pi)

    def rim(self) -> list[Point]:
        return circle(math.sqrt(self.area_m2 / math.pi))

    @property
    def boxed_m3(self) -> float | None:
        return None

    def formula(self) -> tuple[str, str]:
        return "area × film", "volume = area × thickness"


def film_hollow(coat: Coat) -> FilmHollow:
    """What is still to lay: all its coats together. Raises where the film of one is not known yet, or the
    surface
    cannot be.
    """
    area = covered(coat).area_m2
    check_soaks(coat, area)
    return FilmHollow(area, coat.to_lay_m)


@dataclass(frozen=True, kw_only=True)
class CoverageRule:
    """A rule of thumb as volume per area [m], or as mass per area [kg/m2] that needs the density. Common
    practice, no source. typed: as a coat takes it for its own, as a rule
    or as a film.
    """

    name: str
    typed: str
    is_film: bool = False
    volume_m: float | None = None
    mass_kg_m2: float | None = None
    called_m: float | None = None

    def film(self, density_kg_m3: float) -> float:
        if self.volume_m is not None:
            return self.volume_m
        assert self.mass_kg_m2 is not None
        return self.mass_kg_m2 / density_kg_m3


COVERAGE_RULES = (
    CoverageRule(name="30 g per 1000 cm²", typed="30 g per 1000 cm2", mass_kg_m2=0.030 / 0.1),
    CoverageRule(
        name="1 fl oz per ft²",
        typed="1 fl oz per ft2",
        volume_m=US_FLUID_OUNCE_M3 / FOOT_M**2,
        called_m=INCH_M / 32,
    ),
    CoverageRule(name="60 g per 1000 cm²", typed="60 g per 1000 cm2", mass_kg_m2=0.060 / 0.1),
    CoverageRule(
        name="square inches / 70 = fl oz",
        typed="1 fl oz per 70 in2",
        volume_m=US_FLUID_OUNCE_M3 / (70 * INCH_M**2),
    ),
    CoverageRule(name="3 fl oz per ft²", typed="3 fl oz per ft2", volume_m=3 * US_FLUID_OUNCE_M3 / FOOT_M**2),
    CoverageRule(
        name="32 ft² per US gallon", typed="32 ft2 per gal", volume_m=US_GALLON_M3 / (32 * FOOT_M**2)
    ),
    CoverageRule(name="self-levels at 1/8 in", typed="1/8 in", is_film=True, volume_m=INCH_M / 8),
)


def notch_film(notch: Notch) -> float:
    """Film [m] that a notched spreader leaves once the ridges have run together.

        film = area of one notch / pitch

    notch  its form, width, depth and pitch [m], each > 0
    Raises DomainError for a notch that is wider than its pitch. Exact when the notches are full and
    everything levels; valid as an upper bound for a worn or slanted spreader. Source: the volume that
    passes a notch, spread over its pitch.
    """
    if notch.pitch_m.value < notch.width_m.value:
        raise DomainError(
            argument="pitch",
            value=f"{plainly(notch.pitch_m.value * 1000)} mm",
            allowed=f"a notch alone is {plainly(notch.width_m.value * 1000)} mm wide",
            way_out="Measure from one notch to the next.",
            code="pitch",
        )
    return (
        notch.depth_m.value * notch.width_m.value * (0.5 if notch.form == "v" else 1.0) / notch.pitch_m.value
    )
