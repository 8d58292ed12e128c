"""A coat as figures: area, film, what rules of thumb would lay, what runs off an edge and creeps at a
tilt.
"""

from __future__ import annotations

import math

from ..common.working import Figure, Input, Workbook
from ..piece.coats import Coat
from ..piece.document import Level
from ..resin.ratio import MixRatio
from ..resin.system import System
from .cavity import Cavity, coat_cavity
from .figures import band_of
from .films import COVERAGE_RULES, DRAIN_S, creep_speed, drained_film, extent_of, notch_film
from .model import CoatPlan, FilmSchool
from .shape_hollow import readings_of, words_of
from .spread import shares_of

SAID_TILT_DEG = 1.0


def coat_plan(
    book: Workbook, cavity: Cavity, system: System | None, ratio: MixRatio | None, level: Level | None
) -> CoatPlan:
    coat = cavity.void
    assert isinstance(coat, Coat)
    key = f"coat/{coat.id}"
    extent = extent_of(coat.surface)
    sizes = [reading.as_input(words_of(path)) for path, reading in readings_of(coat.surface)]
    faces = book.figure(
        f"{key}/faces",
        f"{coat.name}: faces",
        coat.faces * extent.face_m2,
        "area",
        extent.words,
        sizes,
        "elementary geometry",
    )
    edges = None
    if coat.edges == "all" and extent.edge_m2 > 0:
        edges = book.figure(
            f"{key}/edges",
            f"{coat.name}: edges",
            extent.edge_m2,
            "area",
            "girth × thickness",
            sizes,
            "elementary geometry",
        )
    area = book.figure(
        f"{key}/area",
        f"{coat.name}: to cover",
        cavity.hollow.area(0.0),
        "area",
        "faces + edges",
        [book.computed("faces", faces), *([book.computed("edges", edges)] if edges else [])],
        "areas added",
    )
    wanted = [
        coat.film_m.as_input("film wanted in all"),
        *([coat.existing_m.as_input("there already")] if coat.existing_m else []),
    ]
    film = book.figure(
        f"{key}/film",
        f"{coat.name}: film to lay",
        cavity.fill_m,
        "length",
        "wanted − there already",
        wanted,
        "by definition",
    )
    net = book.figure(
        f"{key}/net",
        f"Resin on {coat.name}",
        coat.count * cavity.volume(cavity.fill_m),
        "volume",
        "number × area × film",
        [
            Input(name="number", value=coat.count, quantity="count", origin="measured"),
            book.computed("area", area),
            book.computed("film", film),
        ],
        "volume = area × thickness",
    )
    shares = shares_of(coat.model_copy(update={"notch": None, "portions": coat.portions[:1]}), _volume)
    band, spread = band_of(book, key, coat.name, shares)
    return CoatPlan(
        coat_id=coat.id,
        name=coat.name,
        count=coat.count,
        area=area,
        faces=faces,
        edges=edges,
        film=film,
        net=net,
        schools=_schools(book, key, coat, cavity, ratio),
        notch=_notch(book, key, coat),
        band=band,
        shares=spread,
        creep=_creep(book, key, coat, cavity, system, ratio, level),
        edge_film=_edge_film(book, key, coat, system, ratio),
    )


def _volume(coat: Coat) -> float:
    cavity = coat_cavity(coat)
    return coat.count * cavity.volume(cavity.fill_m)


def _schools(
    book: Workbook, key: str, coat: Coat, cavity: Cavity, ratio: MixRatio | None
) -> list[FilmSchool]:
    """Every coverage rule as a film and an amount on this area. Rules by mass need the density of the mix."""
    found = []
    for number, rule in enumerate(COVERAGE_RULES):
        if rule.volume_m is None and ratio is None:
            continue
        density = ratio.mixed_density if ratio else 1000.0
        inputs = (
            []
            if rule.volume_m is not None
            else [Input(name="density of the mix", value=density, quantity="density", origin="computed")]
        )
        film = rule.film(density)
        thick = book.figure(
            f"{key}/rule/{number}",
            f"{rule.name}, as a film",
            film,
            "length",
            "volume / area" if rule.volume_m is not None else "mass / (area × density)",
            inputs,
            "common practice, no source",
        )
        amount = book.figure(
            f"{key}/rule/{number}/volume",
            f"{rule.name}, on this area",
            coat.count * film * cavity.hollow.area(0.0),
            "volume",
            "area × film",
            [book.computed("film", thick)],
            "volume = area × thickness",
        )
        called = None
        if rule.called_m is not None:
            called = book.figure(
                f"{key}/rule/{number}/called",
                f"{rule.name}: often called",
                rule.called_m,
                "length",
                "as claimed",
                [],
                "common practice, no source",
                ["The two do not fit each other: the amount decides, not the name."],
            )
        found.append(
            FilmSchool(rule=rule.name, film=thick, volume=amount, times=film / cavity.fill_m, called=called)
        )
    return found


def _notch(book: Workbook, key: str, coat: Coat) -> Figure | None:
    if coat.notch is None:
        return None
    inputs = [
        getattr(coat.notch, f"{name}_m").as_input(f"notch {name}") for name in ("depth", "width", "pitch")
    ]
    return book.figure(
        f"{key}/notch",
        "The spreader lays",
        notch_film(coat.notch),
        "length",
        "depth × width / pitch" + (" / 2" if coat.notch.form == "v" else ""),
        inputs,
        "area of a notch over its pitch; ridges levelled out",
    )


def _creep(
    book: Workbook,
    key: str,
    coat: Coat,
    cavity: Cavity,
    system: System | None,
    ratio: MixRatio | None,
    level: Level | None,
) -> Figure | None:
    if system is None or ratio is None or system.viscosity_pa_s is None:
        return None
    tilt = math.hypot(level.pitch_deg.value, level.roll_deg.value) if level else SAID_TILT_DEG
    tilted = (
        [level.pitch_deg.as_input("pitch"), level.roll_deg.as_input("roll")]
        if level
        else [Input(name="tilt, for comparison", value=SAID_TILT_DEG, quantity="angle", origin="typical")]
    )
    speed = creep_speed(cavity.fill_m, math.radians(tilt), system.viscosity_pa_s.value, ratio.mixed_density)
    return book.figure(
        f"{key}/creep",
        "The film creeps",
        speed,
        "speed",
        "ρ g sin(tilt) film² / (3 η)",
        [
            *tilted,
            system.viscosity_pa_s.as_input("viscosity of the mix"),
            Input(name="film", value=cavity.fill_m, quantity="length", origin="computed"),
            Input(name="density", value=ratio.mixed_density, quantity="density", origin="computed"),
        ],
        "Nusselt 1916",
        ["Until it thickens; laid in several films it creeps far less."],
    )


def _edge_film(
    book: Workbook, key: str, coat: Coat, system: System | None, ratio: MixRatio | None
) -> Figure | None:
    thickness = getattr(coat.surface, "thickness_m", None)
    if (
        coat.edges == "none"
        or thickness is None
        or system is None
        or ratio is None
        or system.viscosity_pa_s is None
    ):
        return None
    film = drained_film(thickness.value, DRAIN_S, system.viscosity_pa_s.value, ratio.mixed_density)
    return book.figure(
        f"{key}/edge-film",
        "An edge keeps, at its foot",
        film,
        "length",
        "√(η z / (ρ g t))",
        [
            thickness.as_input("z, thickness"),
            Input(name="t, draining", value=DRAIN_S, quantity="duration", origin="typical"),
            system.viscosity_pa_s.as_input("viscosity of the mix"),
            Input(name="density", value=ratio.mixed_density, quantity="density", origin="computed"),
        ],
        "Jeffreys 1930",
        ["The rest drips off: count it as drips from the edges, or coat the edges several times."],
    )
