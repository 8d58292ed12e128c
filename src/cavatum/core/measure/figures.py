"""A measured void as figures with their workings."""

from __future__ import annotations

from ..common.working import Figure, Input, Workbook
from ..piece.parts import Void
from .bodies import body_inputs
from .cavity import Cavity, cavity_of
from .model import SpreadShare, VoidPlan
from .shape_hollow import shape_inputs
from .spread import BETWEEN, Share, joined, shares_of, traced_share

ROUNDING = 1e-9  # of a volume: less is left over by the machine, not by the shape
GUM = "law of propagation of uncertainty, JCGM 100:2008 (GUM) 5.1.2, by differences"


def void_plan(book: Workbook, cavity: Cavity) -> VoidPlan:
    void, hollow = cavity.void, cavity.hollow
    assert isinstance(void, Void)
    formula, source = hollow.formula()
    volume = book.figure(
        f"void/{void.id}/volume",
        f"Hollow of {void.name}, to its rim",
        hollow.volume(hollow.depth_m),
        "volume",
        formula,
        shape_inputs(void.shape),
        source,
    )
    displaced = None
    if void.inclusions:
        displaced = book.figure(
            f"void/{void.id}/displaced",
            "Displaced by what is embedded",
            cavity.displaced(cavity.fill_m),
            "volume",
            "sum of count × volume, as far as it lies below the fill line",
            [one for thing in void.inclusions for one in body_inputs(thing)],
            "Archimedes: a body displaces its own volume",
        )
    net = book.figure(
        f"void/{void.id}/net",
        f"Resin in {void.name}",
        void.count * cavity.volume(cavity.fill_m),
        "volume",
        "number × (hollow + overfill above the rim − displaced)",
        [
            Input(name="number of equal hollows", value=void.count, quantity="count", origin="measured"),
            book.computed("hollow to its rim", volume),
            Input(
                name="overfill above the rim",
                value=cavity.hollow_volume(cavity.fill_m) - hollow.volume(hollow.depth_m),
                quantity="volume",
                origin="computed",
            ),
            *([book.computed("displaced", displaced)] if displaced else []),
        ],
        "volumes added and deducted; the opening carried straight up to the dam's fill line",
    )
    shares = void_shares(void, cavity)
    band, spread = band_of(book, f"void/{void.id}", void.name, shares)
    return VoidPlan(
        void_id=void.id,
        name=void.name,
        count=void.count,
        volume=volume,
        net=net,
        displaced=displaced,
        boxed=_boxed(book, cavity, volume),
        band=band,
        shares=spread,
    )


def _boxed(book: Workbook, cavity: Cavity, volume: Figure) -> Figure | None:
    """What a bounding box would have given: a carved pocket is overstated by it. Rule 2.1."""
    hollow = cavity.hollow
    boxed = hollow.boxed_m3
    if boxed is None or boxed <= volume.value * (1 + 1e-6):
        return None
    length, width = hollow.size_m
    return book.figure(
        f"void/{cavity.void.id}/boxed",
        "The box round it would hold",
        boxed,
        "volume",
        "length × width × depth of the box round it",
        [
            Input(name=name, value=value, quantity="length", origin="computed")
            for name, value in (("length", length), ("width", width), ("depth", hollow.depth_m))
        ]
        + [book.computed("the hollow itself", volume)],
        "elementary geometry",
        [f"Reckoned as a box it would be {boxed / volume.value - 1:.0%} too much."],
    )


def void_shares(void: Void, cavity: Cavity) -> list[Share]:
    """Every given spread of this void, what lies between its stations, and a traced outline's own band;
    largest first.
    """
    middle = void.count * cavity.volume(cavity.fill_m)
    counted = void.model_copy(
        update={
            "form": None,
            "soak_m3_m2": None,
            "portions": [void.portions[0].model_copy(update={"to_m": None})],
        }
    )

    def volume(part: Void) -> float:
        changed = cavity_of(part)
        return part.count * changed.volume(changed.fill_m)

    shares = shares_of(counted, volume) + traced_share(void.shape, middle)
    between = void.count * cavity.hollow.between_m3
    if shares and between > ROUNDING * middle:
        shares.append(Share(BETWEEN, between))
    return sorted(shares, key=lambda one: -one.half_m3)


def band_of(
    book: Workbook, key: str, name: str, shares: list[Share]
) -> tuple[Figure | None, list[SpreadShare]]:
    """The half width as a figure and its shares; none where nobody gave a spread."""
    if not shares:
        return None, []
    half = joined(shares)
    figures = [
        book.figure(
            f"{key}/spread/{number}",
            f"{name}: {one.name}",
            one.half_m3,
            "volume",
            "(volume with the reading high − volume with it low) / 2",
            [],
            GUM,
        )
        for number, one in enumerate(shares, start=1)
    ]
    band = book.figure(
        f"{key}/band",
        f"{name}: off by up to",
        half,
        "volume",
        "root of the sum of the squares, each reading by itself",
        [book.computed(one.name, figure) for one, figure in zip(shares[:12], figures, strict=False)],
        GUM,
        ["Readings without a spread count as exact. The spreads are taken as independent of each other."],
    )
    return band, [
        SpreadShare(reading=one.name, half=figure, share=(one.half_m3 / half) ** 2 if half else 0.0)
        for one, figure in zip(shares, figures, strict=True)
    ][:12]
