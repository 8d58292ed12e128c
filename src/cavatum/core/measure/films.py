"""Areas to coat, films, and what the rules of thumb would make of them. Rules 2.4, 2.5, 2.9 and 2.10."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.unit_table import FOOT_M, INCH_M, STANDARD_GRAVITY, US_FLUID_OUNCE_M3, US_GALLON_M3
from ..piece.coats import Board, Coat, Cup, Disc, Drawn, Notch, Surface
from .hollow import Hollow, Point, circle

DRAIN_S = 1800.0  # common practice: half an hour until most coats hardly run any more


@dataclass(frozen=True)
class Extent:
    """Area of one face and of the edges round it [m2], and the words of how they come about."""

    face_m2: float
    edge_m2: float
    words: str


def extent_of(surface: Surface) -> Extent:
    """Face and edge area of one coated surface.

        board    L W less W^2 (1 - pi/4) / 2 for each round end; edges: girth x thickness
        cup      pi (R + r) s of the developed side, s the slant, less the bare band, and pi r^2 of the base
    Raises Infeasible where round ends are longer than the board, or the bare band higher than the cup.
    Source: elementary geometry.
    """
    if isinstance(surface, Board):
        return _board(surface)
    if isinstance(surface, Disc):
        radius = surface.diameter_m.value / 2
        return Extent(
            math.pi * radius**2,
            2 * math.pi * radius * surface.thickness_m.value,
            "π (diameter / 2)²; edge π × diameter × thickness",
        )
    if isinstance(surface, Drawn):
        from .outline import checked_polygon

        polygon = checked_polygon(surface.points_m, [])
        return Extent(
            polygon.area,
            polygon.length * surface.thickness_m.value,
            "area of the outline; edge its length × thickness",
        )
    if isinstance(surface, Cup):
        return _cup(surface)
    return Extent(surface.area_m2.value, 0.0, "as stated")


def _board(board: Board) -> Extent:
    length, width, ends = board.length_m.value, board.width_m.value, board.round_ends
    if length < ends * width / 2:
        raise Infeasible(
            argument="round ends",
            value=f"{ends} of {plainly(width * 500)} mm radius",
            allowed=f"the board is only {plainly(length * 1000)} mm long",
            way_out="Check length and width.",
            code="no-room",
        )
    face = length * width - ends * width**2 * (1 - math.pi / 4) / 2
    girth = 2 * (length + width) - ends * width * (2 - math.pi / 2)
    words = "length × width" + (", round ends taken exactly" if ends else "") + "; edge girth × thickness"
    return Extent(face, girth * board.thickness_m.value, words)


def _cup(cup: Cup) -> Extent:
    rim, foot, height = cup.top_diameter_m.value / 2, cup.bottom_diameter_m.value / 2, cup.height_m.value
    slant = math.hypot(height, rim - foot)
    band = cup.bare_band_m.value if cup.bare_band_m else 0.0
    if band >= slant:
        raise Infeasible(
            argument="bare band",
            value=f"{plainly(band * 1000)} mm",
            allowed=f"the side is {plainly(slant * 1000, 4)} mm high",
            way_out="Check the band.",
            code="no-room",
        )
    at_band = rim + (foot - rim) * band / slant
    side = math.pi * (at_band + foot) * (slant - band)
    base = math.pi * foot**2 if cup.with_base else 0.0
    return Extent(
        side + base,
        0.0,
        "π (R + r) × slant of the developed side"
        + (", less the bare band" if band else "")
        + (", and π r² of the base" if base else ""),
    )


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
    """What is still to lay: the wanted film less the one that is there. Raises where nothing is left to
    lay.
    """
    extent = extent_of(coat.surface)
    there = coat.existing_m.value if coat.existing_m else 0.0
    if there >= coat.film_m.value:
        raise DomainError(
            argument="film",
            value=f"{plainly(coat.film_m.value * 1000)} mm in all, {plainly(there * 1000)} mm of it "
            "there already",
            allowed="more is wanted than there is",
            way_out="Raise the film or correct what is there.",
            code="nothing-to-lay",
        )
    area = coat.faces * extent.face_m2 + (extent.edge_m2 if coat.edges == "all" else 0.0)
    return FilmHollow(area, coat.film_m.value - there)


@dataclass(frozen=True, kw_only=True)
class CoverageRule:
    """A rule of thumb as volume per area [m], or as mass per area [kg/m2] that needs the density. Common
    practice, no source.
    """

    name: str
    volume_m: float | None = None
    mass_kg_m2: float | None = None
    called_m: float | None = None

    def film(self, density_kg_m3: float) -> float:
        if self.volume_m is not None:
            return self.volume_m
        assert self.mass_kg_m2 is not None
        return self.mass_kg_m2 / density_kg_m3


COVERAGE_RULES = (
    CoverageRule(name="30 g per 1000 cm²", mass_kg_m2=0.030 / 0.1),
    CoverageRule(name="1 fl oz per ft²", volume_m=US_FLUID_OUNCE_M3 / FOOT_M**2, called_m=INCH_M / 32),
    CoverageRule(name="60 g per 1000 cm²", mass_kg_m2=0.060 / 0.1),
    CoverageRule(name="square inches / 70 = fl oz", volume_m=US_FLUID_OUNCE_M3 / (70 * INCH_M**2)),
    CoverageRule(name="3 fl oz per ft²", volume_m=3 * US_FLUID_OUNCE_M3 / FOOT_M**2),
    CoverageRule(name="32 ft² per US gallon", volume_m=US_GALLON_M3 / (32 * FOOT_M**2)),
    CoverageRule(name="self-levels at 1/8 in", volume_m=INCH_M / 8),
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


def creep_speed(film_m: float, tilt_rad: float, viscosity_pa_s: float, density_kg_m3: float) -> float:
    """Mean speed [m/s] of a film down a tilt.

        u = rho g sin(theta) film^2 / (3 eta)

    film_m  wet film [m], > 0;  tilt_rad  0 to pi/2;  density_kg_m3  > 0
    viscosity_pa_s  of the mix, before it thickens, > 0
    Raises nothing. Valid for a steady laminar film. Source: Nusselt 1916 (falling film).
    """
    return density_kg_m3 * STANDARD_GRAVITY * math.sin(tilt_rad) * film_m**2 / (3 * viscosity_pa_s)


def drained_film(down_m: float, after_s: float, viscosity_pa_s: float, density_kg_m3: float) -> float:
    """Film [m] left on an upright edge, `down_m` below its top, `after_s` after it was laid.

        film = sqrt(eta z / (rho g t))

    down_m  [m], >= 0;  after_s  [s], > 0;  viscosity_pa_s  > 0;  density_kg_m3  > 0
    Raises nothing. Valid while the mix is thin and the film started thicker than this.
    Source: Jeffreys, Math. Proc. Camb. Phil. Soc. 26 (1930) 204, drainage of a vertical plate.
    """
    return math.sqrt(viscosity_pa_s * down_m / (density_kg_m3 * STANDARD_GRAVITY * after_s))
