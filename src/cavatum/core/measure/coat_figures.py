"""A coat as figures: area, film, what rules of thumb would lay."""

from __future__ import annotations

from ..common.working import Figure, Input, Workbook
from ..piece.coats import Coat, Drawn
from ..resin.ratio import MixRatio
from .areas import covered, extent_of
from .cavity import Cavity, coat_cavity
from .figures import band_of
from .films import COVERAGE_RULES, notch_film
from .model import CoatPlan, FilmSchool
from .shape_hollow import readings_of, words_of
from .spread import Share, shares_of

MOST_INPUTS = 24
OFF_BY = 0.01


def coat_plan(book: Workbook, cavity: Cavity, ratio: MixRatio | None) -> CoatPlan:
    coat = cavity.void
    assert isinstance(coat, Coat)
    key = f"coat/{coat.id}"
    extent, cover = extent_of(coat.surface), covered(coat)
    sizes = [reading.as_input(words_of(path)) for path, reading in readings_of(coat.surface)][:MOST_INPUTS]
    faces = book.figure(
        f"{key}/faces",
        f"{coat.name}: faces",
        cover.faces_m2,
        "area",
        extent.words,
        sizes,
        "elementary geometry",
    )
    edges = None
    if cover.edge_m2 > 0:
        edges = book.figure(
            f"{key}/edges",
            f"{coat.name}: edges",
            cover.edge_m2,
            "area",
            cover.edge_words,
            [*sizes, *([coat.bevel_m.as_input("bevel")] if coat.bevel_m else [])],
            "elementary geometry; parallel curves",
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
    film = book.figure(
        f"{key}/film",
        f"{coat.name}: film to lay",
        cavity.fill_m,
        "length",
        "all coats together",
        [
            one.film_m.as_input(f"coat {number}" + (f", {one.times} ×" if one.times > 1 else ""))
            for number, one in enumerate(coat.lays, start=1)
            if one.film_m is not None
        ],
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
    shares = shares_of(coat.model_copy(update={"notch": None, "soaks": []}), _volume)
    if isinstance(coat.surface, Drawn) and coat.surface.area_spread is not None:
        shares = [*shares, Share("traced outline", net.value * coat.surface.area_spread.value)]
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
        boxed=_boxed(book, key, coat, extent.face_m2, extent.boxed_m2),
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
            FilmSchool(
                rule=rule.name,
                typed=rule.typed,
                is_film=rule.is_film,
                film=thick,
                volume=amount,
                times=film / thickest_m(coat),
                called=called,
            )
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


def thickest_m(coat: Coat) -> float:
    """Of its coats [m]: what a rule of thumb is meant for.

    Raises nothing where all films are known. Exact. Source: by definition.
    """
    return max(one.film_m.value for one in coat.lays if one.film_m is not None)


def _boxed(book: Workbook, key: str, coat: Coat, face_m2: float, boxed_m2: float | None) -> Figure | None:
    """The usual shortcut, where it is off by more than OFF_BY."""
    if boxed_m2 is None or boxed_m2 / face_m2 - 1 <= OFF_BY:
        return None
    return book.figure(
        f"{key}/boxed",
        f"{coat.name}: as the rectangle round it",
        boxed_m2,
        "area",
        "length × width round the face",
        [],
        "elementary geometry",
        [f"The usual shortcut: {boxed_m2 / face_m2 - 1:+.0%} of one face."],
    )
