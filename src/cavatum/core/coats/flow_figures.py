"""How a coat creeps as the piece stands, what an upright edge keeps and what an edge holds. Rule 2.9."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.working import Figure, Input, Workbook
from ..cure.parameters import Kinetics
from ..cure.particles import mobility
from ..measure.areas import extent_of, thickness_of
from ..measure.coat_figures import thickest_m
from ..measure.model import CoatPlan
from ..piece.coats import Coat, Cup, Skin
from ..piece.document import Level
from ..resin.ratio import MixRatio
from ..resin.system import System
from .figures import density_input
from .flow import (
    CONTACT_DEG,
    DRAIN_S,
    SURFACE_TENSION_N_M,
    creep_speed,
    crept,
    drained_film,
    edge_holds,
    thin_strip,
)

SAID_TILT_DEG = 1.0


@dataclass(frozen=True, kw_only=True)
class Wet:
    """The resin of one coat as a liquid: its sheet, ratio and, where its class is known, its cure in a
    room [K]."""

    system: System
    ratio: MixRatio
    kinetics: Kinetics | None
    room_k: float


def with_flow(book: Workbook, plan: CoatPlan, coat: Coat, wet: Wet, level: Level | None) -> CoatPlan:
    """How the thickest coat creeps as the piece stands, what an upright edge keeps and what an edge holds."""
    if wet.system.viscosity_pa_s is None:
        return plan
    key, film_m = f"coat/{coat.id}", thickest_m(coat)
    tilt = math.hypot(level.pitch_deg.value, level.roll_deg.value) if level else SAID_TILT_DEG
    tilted = (
        [level.pitch_deg.as_input("pitch"), level.roll_deg.as_input("roll")]
        if level
        else [Input(name="tilt, for comparison", value=SAID_TILT_DEG, quantity="angle", origin="typical")]
    )
    density = wet.ratio.mixed_density
    of_film = Input(name="film", value=film_m, quantity="length", origin="computed")
    thick = wet.system.viscosity_pa_s
    speed = book.figure(
        f"{key}/creep",
        "The film creeps",
        creep_speed(film_m, math.radians(tilt), thick.value, density),
        "speed",
        "ρ g sin(tilt) film² / (3 η)",
        [*tilted, thick.as_input("viscosity of the mix"), of_film, density_input(wet.ratio)],
        "Nusselt 1916",
        ["Until it thickens; laid in several films it creeps far less."],
    )
    plan = plan.model_copy(update={"creep": speed, **_edge(book, key, coat, wet, film_m)})
    if isinstance(coat.surface, Cup) or level is None or wet.kinetics is None:
        return plan
    return plan.model_copy(update=_until_gel(book, key, coat, wet, film_m, level, tilted))


def _until_gel(
    book: Workbook, key: str, coat: Coat, wet: Wet, film_m: float, level: Level, tilted: list[Input]
) -> dict[str, Figure]:
    assert wet.kinetics is not None
    tilt = math.radians(math.hypot(level.pitch_deg.value, level.roll_deg.value))
    phi = mobility(wet.kinetics, wet.room_k, wet.system.stir_s.value + wet.system.rest_s.value)
    along = _along(coat, level)
    density = wet.ratio.mixed_density
    goes = crept(film_m, tilt, phi, density, along) if tilt else 0.0
    strip = thin_strip(goes, film_m, tilt, along) if tilt else 0.0
    of_film = Input(name="film", value=film_m, quantity="length", origin="computed")
    told = [
        *tilted,
        of_film,
        Input(name="down the tilt", value=along, quantity="length", origin="computed"),
        density_input(wet.ratio),
        Input(name="Φ, flow left until gel, 1/Pa", value=phi, quantity="count", origin="computed"),
    ]
    creeps = book.figure(
        f"{key}/creeps",
        f"{coat.name}: it creeps until it gels",
        goes,
        "length",
        "smaller of ρ g sin(tilt) film² Φ / 3 and length² tan(tilt) / (8 film)",
        told,
        "Nusselt 1916, with the viscosity of the cure; volume balance of a wedge",
    )
    thin = book.figure(
        f"{key}/thin",
        f"{coat.name}: strip at the high side under four fifths of its film",
        strip,
        "length",
        "3 × 0.8² × creep, nothing where the tilt lifts it less than a fifth of the film",
        [book.computed("creep", creeps), of_film],
        "Huppert 1982; an upper bound",
    )
    return {"creeps": creeps, "thin": thin}


def _along(coat: Coat, level: Level) -> float:
    """How long the piece is down its tilt [m]: its sides by their part in the tilt, else the root of its
    face."""
    pitch, roll = abs(level.pitch_deg.value), abs(level.roll_deg.value)
    length, width = level.length_m.value, level.width_m.value
    sides = [getattr(coat.surface, name, None) for name in ("length_m", "width_m")]
    if all(sides):
        length, width = sides[0].value, sides[1].value  # type: ignore[union-attr]
    tilt = math.hypot(pitch, roll)
    return math.sqrt(extent_of(coat.surface).face_m2) if not tilt else (pitch * length + roll * width) / tilt


def _edge(book: Workbook, key: str, coat: Coat, wet: Wet, film_m: float) -> dict[str, Figure]:
    """What an edge keeps where it is coated, and what it holds where the film stands at it."""
    found: dict[str, Figure] = {}
    density = wet.ratio.mixed_density
    if not isinstance(coat.surface, (Cup, Skin)):
        found["edge_holds"] = book.figure(
            f"{key}/edge-holds",
            "A sharp edge holds",
            edge_holds(density),
            "length",
            "2 √(σ / (ρ g)) sin((θ + 90°) / 2)",
            [
                density_input(wet.ratio),
                Input(
                    name="θ, where it meets a clean edge",
                    value=CONTACT_DEG,
                    quantity="angle",
                    origin="typical",
                ),
            ],
            f"puddle thickness (de Gennes 2004); σ {SURFACE_TENSION_N_M} N/m of epoxies, from memory",
            ["A rounded, dusty or scratched edge holds less."],
        )
    thickness, thick = thickness_of(coat), wet.system.viscosity_pa_s
    if coat.edges == "none" or thickness is None or thick is None:
        return found
    found["edge_film"] = book.figure(
        f"{key}/edge-film",
        "An edge keeps, at its foot",
        drained_film(thickness, DRAIN_S, thick.value, density),
        "length",
        "√(η z / (ρ g t))",
        [
            Input(name="z, thickness", value=thickness, quantity="length", origin="measured"),
            Input(name="t, draining", value=DRAIN_S, quantity="duration", origin="typical"),
            thick.as_input("viscosity of the mix"),
            density_input(wet.ratio),
        ],
        "Jeffreys 1930",
        ["The rest drips off: count it as drips from the edges, or coat the edges several times."],
    )
    return found
