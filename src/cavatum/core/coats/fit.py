"""Whether a resin makes the film that is wanted: thin enough to level, thick enough to stay, within its
own limits.
Rules 2.5, 3.4, 4.1.
"""

from __future__ import annotations

from ..calibration.of_system import Cure
from ..common.wording import Wording
from ..cure.kinetics import conversion_rate
from ..cure.parameters import ZERO_C_K, Kinetics
from ..cure.particles import mobility
from ..piece.document import Piece
from ..practice.coats import CLOSES_M
from ..resin.system import System
from .flow import levels_in

LIQUID_MOST_S = 10 * 3600.0  # own judgement: a film that is liquid longer gathers dust and runs off its edges
WAVE_M = 15e-3  # own judgement: from ridge to ridge of a spreader or a hand
STEP = 2e-3


def gel_time(kinetics: Kinetics, temperature_k: float) -> float:
    """How long a film that keeps the temperature of the room stays liquid [s].

        integral of da / rate(a) from 0 to gel

    temperature_k  [K], 233 to 573
    Raises DomainError outside (of the rate law). Valid for a film, which does not warm itself; midpoint
    rule in steps
    of STEP of conversion. Source: the rate law.
    """
    a, seconds = 0.0, 0.0
    while a < kinetics.gel:
        step = min(STEP, kinetics.gel - a)
        seconds += step / conversion_rate(kinetics, a + step / 2, temperature_k)
        a += step
    return seconds


def films_of(piece: Piece) -> list[float]:
    """The films [m] that are left to the piece's own resin; those with a resin of their own are no
    question."""
    return [
        lay.film_m.value
        for coat in piece.coats
        for lay in coat.lays
        if lay.system_id is None and lay.film_m is not None
    ]


def why_no_film(system: System, cure: Cure | None, film_m: float, room_c: float, wording: Wording) -> str:
    """Why this resin does not make such a film, in one sentence; empty where it does.

    film_m  [m], > 0;  room_c  [degC]
    """
    if system.least_depth_m is not None and film_m < system.least_depth_m.value:
        return (
            f"its sheet wants layers of {wording.length(system.least_depth_m.value)} or more: a film of "
            f"{wording.length(film_m)} makes no heat to set by"
        )
    if system.needs_pressure:
        return "it is cast under pressure, and no film stands in a chamber"
    if cure is None:
        return ""
    room_k = room_c + ZERO_C_K
    liquid = gel_time(cure.kinetics, room_k)
    if liquid > LIQUID_MOST_S:
        hours = wording.duration(liquid)
        return f"a film of it stays liquid for {hours}: it runs off the edges and gathers dust"
    phi = mobility(cure.kinetics, room_k, system.stir_s.value + system.rest_s.value)
    if film_m >= CLOSES_M and phi < levels_in(film_m, WAVE_M, cure.kinetics.density_kg_m3):
        return f"{wording.film(film_m)} of it does not level before it thickens"
    return ""
