"""How a laid film moves until it gels: creeping down a tilt, draining from an edge, standing at an edge.
Rules 2.9,
7.2.
"""

from __future__ import annotations

import math

from ..common.unit_table import STANDARD_GRAVITY

DRAIN_S = 1800.0  # common practice: half an hour until most coats hardly run any more
SURFACE_TENSION_N_M = 0.043  # of epoxies, from memory
CONTACT_DEG = 30.0  # own judgement: how steep a resin meets a clean edge before it runs over
THIN_SHARE = 0.8  # own judgement: a film under four fifths of what is wanted is thin


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


def crept(film_m: float, tilt_rad: float, phi_1_pa: float, density_kg_m3: float, along_m: float) -> float:
    """How far [m] a film's mean creeps down a tilt until it gels.

        min(rho g sin(tilt) h^2 Phi / 3,  L^2 tan(tilt) / (8 h))

    film_m  h [m], > 0;  tilt_rad  0 to pi/2;  phi_1_pa  Phi, the integral of dt / eta until gel [1/Pa];
    density_kg_m3  > 0;  along_m  L, how long the piece is down the tilt [m], > 0
    Raises nothing. The first is Nusselt's film with a viscosity that grows; the second is what has moved
    past the
    middle when the surface lies level between edges that hold. Source: Nusselt 1916; volume balance of a
    wedge.
    """
    runs = density_kg_m3 * STANDARD_GRAVITY * math.sin(tilt_rad) * film_m**2 * phi_1_pa / 3
    return min(runs, along_m**2 * math.tan(tilt_rad) / (8 * film_m))


def thin_strip(crept_m: float, film_m: float, tilt_rad: float, along_m: float) -> float:
    """How wide [m] the strip at the high side is that keeps less than THIN_SHARE of its film.

        3 s^2 D,   s = THIN_SHARE, D the creep;  0 where the tilt lifts that side by less than (1 - s) h

    crept_m  D, of the film's mean [m];  film_m  h [m], > 0;  tilt_rad  0 to pi/2;  along_m  down the tilt [m]
    Raises nothing. Behind the high edge the film is h(x) = sqrt(x / (3 M)), M the creep over h^2; valid
    where the
    tilt lifts the high side by much more than the film, an upper bound else. Source: similarity solution
    of the
    thin-film equation h_t + (K h^3)_x = 0 (Huppert, Nature 300 (1982) 427).
    """
    if along_m * math.tan(tilt_rad) / 2 <= (1 - THIN_SHARE) * film_m:
        return 0.0
    return min(3 * THIN_SHARE**2 * crept_m, along_m)


def edge_holds(density_kg_m3: float, edge_deg: float = 90.0) -> float:
    """The thickest film [m] that stands at an edge without running over.

        2 sqrt(sigma / (rho g)) sin((theta + turn) / 2),   theta + turn at most 180 degrees

    density_kg_m3  of the mix, > 0;  edge_deg  turn: by how much the face turns down at the edge, 0 to 180
    Raises nothing. Valid for a clean sharp edge and a film far wider than it is thick; a rounded edge
    holds less.
    Source: puddle thickness (de Gennes, Brochard-Wyart, Quere, Capillarity and Wetting Phenomena, 2004,
    ch. 2)
    with the pinning of Gibbs at an edge; sigma and theta: see the constants.
    """
    angle = math.radians(min(CONTACT_DEG + edge_deg, 180.0))
    return 2 * math.sqrt(SURFACE_TENSION_N_M / (density_kg_m3 * STANDARD_GRAVITY)) * math.sin(angle / 2)


def levels_in(film_m: float, wave_m: float, density_kg_m3: float) -> float:
    """The mobility [1/Pa] that a film needs for waves of a spreader to fall to a twentieth.

        Phi = ln 20 / (h^3 k^2 (rho g + sigma k^2) / 3),   k = 2 pi / wave

    film_m  h [m], > 0;  wave_m  from crest to crest [m], > 0;  density_kg_m3  > 0
    Raises nothing. Valid for waves lower than the film and longer than it is thick. Source: Orchard, Appl.
    Sci. Res.
    A11 (1962) 451.
    """
    k = 2 * math.pi / wave_m
    pull = density_kg_m3 * STANDARD_GRAVITY + SURFACE_TENSION_N_M * k**2
    return math.log(20) / (film_m**3 * k**2 * pull / 3)
