"""What is done after the last pour, by the surface wanted and the kind of work, as a table a maker can read
and correct. Rules 8.1 to 8.7.

Common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .mixing import DUST, SHARP

H, DAY = 3600.0, 86400.0
OVEN = "Never use an oven meant for food. Ventilate and stay nearby. Nothing that burns inside."
RAGS = "Oily rags can set themselves alight: spread them out to dry outside, or into water in a closed tin."
LATHE = (
    "Face shield, dust extraction, no gloves and no loose sleeves at turning work; stand beside its "
    "plane when it starts."
)
SOLVENT = "Solvent: air moving, gloves that resist this solvent; no flame until the vapour has cleared."


@dataclass(frozen=True, kw_only=True)
class FinishRow:
    """gate: what has to be passed before. wait_s: after it, until the next; hands_s: at the bench."""

    code: str
    title: str
    text: str
    why: str
    rule: str
    gate: str
    wait_s: float
    hands_s: float
    caution: str = ""


@dataclass(frozen=True, kw_only=True)
class GateRow:
    """test: how it is tried, and how a pass looks. by: what the model expects it by: the bond window, dry
    to the touch,
    light use, or a share of the way from demoulding (0) to full cure (1).
    """

    code: str
    title: str
    test: str
    passes: str
    share: float | None = None
    by: Literal["share", "bond window", "touch", "light use"] = "share"


GATES: dict[str, GateRow] = {
    one.code: one
    for one in (
        GateRow(
            code="recoat",
            title="Next pour",
            test="Clean stick on the surface; infrared",
            passes="the stick comes away clean or just tacky, and it has cooled to about ⟦30 °C⟧",
            by="bond window",
        ),
        GateRow(
            code="touch",
            title="Dry to the touch",
            test="Back of a gloved finger on a hidden place",
            passes="no print, nothing pulls",
            by="touch",
        ),
        GateRow(
            code="handle",
            title="Handling",
            test="Nail at the edge, read at once: a dent heals itself",
            passes="no dent; carried level, gloves on",
            share=0.0,
        ),
        GateRow(
            code="demould",
            title="Out of the form",
            test="Nail at the edge, read at once; infrared",
            passes="no dent, and no warmer than the room",
            share=0.0,
        ),
        GateRow(
            code="cut",
            title="Next cut",
            test="Nail, then one cut in the waste",
            passes="chips, not strings",
            share=0.0,
        ),
        GateRow(
            code="sand",
            title="Sanding",
            test="Rub 120 grit on a hidden place, ten strokes",
            passes="dry white dust; nothing clogs or balls up",
            share=0.25,
        ),
        GateRow(
            code="post-cure",
            title="Into the oven",
            test="Nail in the middle of the thickest place",
            passes="no dent; it holds its shape by itself",
            share=0.0,
        ),
        GateRow(
            code="use",
            title="Light use",
            test="Edge of a coin on a hidden place, read at once",
            passes="no mark; set down what is light and cold",
            by="light use",
        ),
        GateRow(
            code="hard",
            title="Hard",
            test="Nail pressed hard in the middle, read at once",
            passes="no mark; loads, water and warm cups from here on",
            share=1.0,
        ),
        GateRow(
            code="pack",
            title="Packing",
            test="Nail in the middle; a sheet of foil under a kilogram overnight",
            passes="no dent, and no print of the foil",
            share=1.0,
        ),
    )
}


ROWS: tuple[FinishRow, ...] = (
    FinishRow(
        code="demould",
        title="Out of the form",
        text="Ease it off all round before you pull; wedge of wood or plastic; gloves stay on.",
        why="Early it marks and bends.",
        rule="8.2",
        gate="demould",
        wait_s=0,
        hands_s=20 * 60,
        caution=SHARP,
    ),
    FinishRow(
        code="flash",
        title="Trim the sharp flash",
        text="Before any turning or handling: scraper or file along the edges.",
        why="Cured flash cuts, and it catches in the lathe.",
        rule="8.6",
        gate="demould",
        wait_s=0,
        hands_s=15 * 60,
        caution=SHARP,
    ),
    FinishRow(
        code="drips",
        title="Drips off",
        text="Chisel or scraper, then paper; careful not to lift the film.",
        why="What hangs shows.",
        rule="8.6",
        gate="sand",
        wait_s=0,
        hands_s=20 * 60,
        caution=SHARP,
    ),
    FinishRow(
        code="oven",
        title="Post-cure in the oven",
        text="By the program; lying flat or in its mould, slowly up, slowly down.",
        why="It raises how hot it may get in use.",
        rule="8.5",
        gate="post-cure",
        wait_s=0,
        hands_s=20 * 60,
        caution=OVEN,
    ),
    FinishRow(
        code="machine",
        title="Flatten or cut",
        text="Sharp tools, light cuts, from the edge inwards; stop when it gets warm or strings.",
        why="Warm resin smears and tears out.",
        rule="8.3",
        gate="sand",
        wait_s=0,
        hands_s=60 * 60,
        caution="Blades and router: eyes, ears, dust; the piece held fast.",
    ),
    FinishRow(
        code="turn",
        title="Turn it",
        text="Light cuts, sharp tools; measure the wall before the last cut; the foot last.",
        why="A catch throws it.",
        rule="8.7",
        gate="sand",
        wait_s=0,
        hands_s=90 * 60,
        caution=LATHE,
    ),
    FinishRow(
        code="wall",
        title="Measure the wall",
        text="Callipers at rim, belly and foot.",
        why="Resin has no grain to hold a thin place.",
        rule="8.6",
        gate="sand",
        wait_s=0,
        hands_s=10 * 60,
    ),
    FinishRow(
        code="ladder",
        title="Sand along the ladder",
        text="Next grit when the last one's scratches are gone, across the last direction; dust off between.",
        why="A scratch left behind shows under the polish.",
        rule="8.4",
        gate="sand",
        wait_s=0,
        hands_s=60 * 60,
        caution=DUST,
    ),
    FinishRow(
        code="preview",
        title="Look ahead with mineral spirit",
        text="Wipe it wet: that is how it will look with oil or gloss. Let it dry.",
        why="Scratches show now, not after the oil.",
        rule="8.3",
        gate="sand",
        wait_s=30 * 60,
        hands_s=10 * 60,
        caution=SOLVENT,
    ),
    FinishRow(
        code="scuff",
        title="Dull it for the next coat",
        text="120 to 320 grit all over, coarser where there are pits; careful at the edges. Dust off, wipe, "
        "let it flash off a quarter of an hour.",
        why="A cured film takes no coat by itself.",
        rule="8.3",
        gate="sand",
        wait_s=15 * 60,
        hands_s=40 * 60,
        caution=DUST,
    ),
    FinishRow(
        code="paint-edges",
        title="Paint the edges",
        text="Mask the face, scuff the edge, two thin coats; the tape off while the last is wet.",
        why="A painted edge hides runs and the line of the coats.",
        rule="8.7",
        gate="sand",
        wait_s=4 * H,
        hands_s=30 * 60,
        caution=SOLVENT,
    ),
    FinishRow(
        code="polish",
        title="Polish",
        text="Soft wheel or pad, little pressure, keep moving, cool to the hand.",
        why="Gloss is traded for scratches that show.",
        rule="8.4",
        gate="sand",
        wait_s=0,
        hands_s=40 * 60,
        caution="Eyes covered; the wheel runs away from the edge, so nothing is caught.",
    ),
    FinishRow(
        code="brace",
        title="Lift it off its rests",
        text="Marks of racks and blocks: turn it, or rest it on soft points.",
        why="It is soft to a point for days.",
        rule="8.6",
        gate="sand",
        wait_s=0,
        hands_s=5 * 60,
    ),
    FinishRow(
        code="hand-over",
        title="Clean, test once more, hand over",
        text="Soft cloth, the care note beside it.",
        why="Keep loads and heat off it before this date.",
        rule="8.6",
        gate="pack",
        wait_s=0,
        hands_s=15 * 60,
    ),
)


@dataclass(frozen=True, kw_only=True)
class Ending:
    """An oil or a varnish: how many coats, how long each stands before it is wiped off (0: it stays), from
    one to
    the next [s], least and most, and the finest grit of the wood before it. Common practice, no source.
    """

    coats: int
    stand_s: float
    between_s: float
    between_most_s: float | None = None
    finest_um: float
    on: str
    off: str
    why: str


OIL_HANDS_S, WIPE_S, BUFF_S = 20 * 60.0, 15 * 60.0, 15 * 60.0
ENDINGS: dict[str, Ending] = {
    "oil": Ending(
        coats=2,
        stand_s=15 * 60.0,
        between_s=8 * H,
        between_most_s=12 * H,
        finest_um=66.0,
        on="Thin and even over all the wood, with the grain; off the resin at once.",
        off="All of it, with clean dry cloths; what is left on top stays sticky.",
        why="Oil that stands too long skins over and cannot be wiped any more.",
    ),
    "varnish": Ending(
        coats=3,
        stand_s=0.0,
        between_s=DAY,
        finest_um=53.0,
        on="A thin coat wiped on along the grain, no puddles; dust-free until it is dry.",
        off="",
        why="Thin coats hide what a thick one shows.",
    ),
}
