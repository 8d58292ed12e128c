"""How the piece stands: the form under the liquid's weight, and the level with its shims. Rules 2.7 and
2.8.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..common.working import Figure, Input, Workbook
from ..piece.document import Level, Piece
from .cavity import Cavity
from .form import floor_pressure, wall_force
from .level import corner_shims, level_swing, rise, wedge_overflow
from .model import Corner, FormPlan, LevelPlan, VoidPlan

SPARE_DAM_M = 0.005  # own judgement: five millimetres for waves, bubbles and a hand that shakes


@dataclass(frozen=True)
class Liquid:
    """What presses on a form: the deepest layer that is liquid at once."""

    cavity: Cavity
    depth_m: float
    density_kg_m3: float


def with_forms(
    book: Workbook, voids: list[VoidPlan], liquids: Mapping[str, Liquid], level: Level | None
) -> list[VoidPlan]:
    """Each void with what the deepest of its layers does to the form. liquids: by the void's id."""
    return [
        void.model_copy(update={"form": _form(book, liquids[void.void_id], level)})
        if void.void_id in liquids
        else void
        for void in voids
    ]


def _form(book: Workbook, liquid: Liquid, level: Level | None) -> FormPlan:
    cavity, void, depth, density = liquid.cavity, liquid.cavity.void, liquid.depth_m, liquid.density_kg_m3
    key = f"void/{void.id}/form"
    inputs = [
        Input(name="density of the mix", value=density, quantity="density", origin="computed"),
        Input(name="deepest layer", value=depth, quantity="length", origin="computed"),
    ]
    pressure = book.figure(
        f"{key}/pressure",
        "Pressure at its foot",
        floor_pressure(density, depth),
        "pressure",
        "ρ g h",
        inputs,
        "hydrostatics",
        ["Only the layer that is still liquid presses; what has set below carries itself."],
    )
    forces = []
    for name, length in _walls(cavity):
        forces.append(
            book.figure(
                f"{key}/force/{name}",
                f"Push on the {name}",
                wall_force(density, length, depth),
                "force",
                "ρ g b h² / 2",
                [
                    *inputs,
                    Input(name="length b of the wall", value=length, quantity="length", origin="computed"),
                ],
                "hydrostatics; it acts a third of the layer's depth above its foot",
            )
        )
    freeboard = None
    if void.dam and void.dam.dam_m:
        over = cavity.fill_m - cavity.hollow.depth_m
        freeboard = book.figure(
            f"{key}/freeboard",
            "Freeboard",
            void.dam.dam_m.value - over,
            "length",
            "dam above the rim − overfill",
            [
                void.dam.dam_m.as_input("dam above the rim"),
                Input(name="overfill", value=over, quantity="length", origin="computed"),
            ],
            "by definition",
        )
    return FormPlan(
        pressure=pressure, forces=forces, freeboard=freeboard, dam_least=_dam(book, key, cavity, level)
    )


def _dam(book: Workbook, key: str, cavity: Cavity, level: Level | None) -> Figure:
    length, width = cavity.hollow.size_m
    over = cavity.fill_m - cavity.hollow.depth_m
    swing = level_swing(level.pitch_deg.value, level.roll_deg.value, length, width) if level else 0.0
    tilted = (
        [
            Input(
                name="higher at the low corner, as it stands",
                value=swing,
                quantity="length",
                origin="computed",
            )
        ]
        if level
        else []
    )
    return book.figure(
        f"{key}/dam",
        "Dam above the rim, at least",
        over + swing + SPARE_DAM_M,
        "length",
        "overfill + what the tilt lifts at the low corner + spare",
        [
            Input(name="overfill", value=over, quantity="length", origin="computed"),
            *tilted,
            Input(name="spare", value=SPARE_DAM_M, quantity="length", origin="typical"),
        ],
        "own judgement for the spare; the rest by definition",
        [] if level else ["Read the level: a tilt wants a higher dam."],
    )


def _walls(cavity: Cavity) -> list[tuple[str, float]]:
    length, width = cavity.hollow.size_m
    return [("long side", max(length, width)), ("short side", min(length, width))]


def level_plan(book: Workbook, piece: Piece, cavities: Mapping[str, Cavity]) -> LevelPlan | None:
    level = piece.level
    if level is None:
        return None
    along = _rise(book, level, "along", level.length_m.value, level.pitch_deg.value)
    across = _rise(book, level, "across", level.width_m.value, level.roll_deg.value)
    shims = corner_shims(
        level.pitch_deg.value, level.roll_deg.value, level.length_m.value, level.width_m.value
    )
    readings = [
        level.pitch_deg.as_input("pitch"),
        level.roll_deg.as_input("roll"),
        level.length_m.as_input("between supports, along"),
        level.width_m.as_input("between supports, across"),
    ]
    corners = [
        Corner(
            name=name,
            height=book.figure(
                f"level/{name}/height",
                f"{name}: above the lowest",
                shims.heights_m[name],
                "length",
                "y tan(pitch) + x tan(roll)",
                readings,
                "plane through both slopes",
            ),
            shim=book.figure(
                f"level/{name}/shim",
                f"Under {name}",
                shim,
                "length",
                "highest corner − this corner",
                readings,
                "plane through both slopes",
            ),
        )
        for name, shim in shims.shims_m.items()
    ]
    swing, freeboard, overflow = _worst(book, level, cavities)
    return LevelPlan(
        along=along, across=across, corners=corners, swing=swing, freeboard=freeboard, overflow=overflow
    )


def _rise(book: Workbook, level: Level, word: str, length_m: float, tilt_deg: float) -> Figure:
    tilt, over = (level.pitch_deg, level.length_m) if word == "along" else (level.roll_deg, level.width_m)
    return book.figure(
        f"level/{word}",
        f"Rise {word}",
        rise(length_m, tilt_deg),
        "length",
        "length × tan(tilt)",
        [over.as_input("length"), tilt.as_input("tilt")],
        "elementary geometry",
    )


def _worst(
    book: Workbook, level: Level, cavities: Mapping[str, Cavity]
) -> tuple[Figure | None, Figure | None, Figure | None]:
    """Of all voids the one with the least freeboard left: how far its level swings, what is left, what would
    run over.
    """
    worst = None
    for cavity in cavities.values():
        form = cavity.void.dam
        if cavity.hollow.cut == "coat":
            continue
        length, width = cavity.hollow.size_m
        swing = level_swing(level.pitch_deg.value, level.roll_deg.value, length, width)
        dam = (form.dam_m.value if form and form.dam_m else 0.0) - (cavity.fill_m - cavity.hollow.depth_m)
        if worst is None or dam - swing < worst[1] - worst[0]:
            worst = (swing, dam, length, width, cavity)
    if worst is None:
        return None, None, None
    swing, dam, length, width, cavity = worst
    name = cavity.void.name
    inputs = [
        level.pitch_deg.as_input("pitch"),
        level.roll_deg.as_input("roll"),
        *(
            Input(name=word, value=value, quantity="length", origin="computed")
            for word, value in (("length", length), ("width", width))
        ),
    ]
    figure = book.figure(
        "level/swing",
        f"{name}: higher at the low corner by",
        swing,
        "length",
        "(length × tan(pitch) + width × tan(roll)) / 2",
        inputs,
        "the liquid's face stays level",
    )
    left = book.figure(
        "level/freeboard",
        f"{name}: freeboard left",
        dam - swing,
        "length",
        "dam above the fill line − swing",
        [
            Input(name="dam above the fill line", value=dam, quantity="length", origin="computed"),
            book.computed("swing", figure),
        ],
        "by definition",
    )
    tilt, span, other = max(
        ((level.pitch_deg.value, length, width), (level.roll_deg.value, width, length)),
        key=lambda one: abs(rise(one[1], one[0])),
    )
    over = None
    if dam - swing < 0:
        over = book.figure(
            "level/overflow",
            f"{name}: would run over",
            wedge_overflow(span, other, tilt, max(dam, 0.0)) * cavity.void.count,
            "volume",
            "(rise / 2 − freeboard) × length × width of the opening",
            inputs,
            "wedge of a prism, about the steeper axis; an opening taken as its box",
        )
    return figure, left, over
