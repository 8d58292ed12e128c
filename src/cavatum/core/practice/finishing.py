"""What is done after the last pour, by the surface wanted and the kind of work, as a table a maker can read
and correct. Rules 8.1 to 8.7.

Common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass

from .mixing import DUST, SHARP

H, DAY = 3600.0, 86400.0
OVEN = "Not the oven for food, ever; air it, stay near, nothing that burns in it."
RAGS = "Oily rags can set themselves alight: spread them out to dry outside, or into water in a closed tin."
LATHE = (
    "Face shield, dust extraction, no gloves and no loose sleeves at turning work; stand beside its "
    "plane when it starts."
)
SOLVENT = "Solvent: air moving, gloves it does not eat, no flame in the room then or after."


@dataclass(frozen=True)
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


@dataclass(frozen=True)
class GateRow:
    """test: how it is tried, and how a pass looks. share: where between demoulding (0) and full cure (1) the
    model expects it; None: the bond window.
    """

    code: str
    title: str
    test: str
    passes: str
    share: float | None


GATES: dict[str, GateRow] = {
    one.code: one
    for one in (
        GateRow(
            "recoat",
            "Next pour",
            "Clean stick on the surface; infrared",
            "the stick comes away clean or just tacky, and it has cooled to about 30 °C",
            None,
        ),
        GateRow(
            "demould",
            "Out of the form",
            "Nail at the edge, read at once; infrared",
            "no dent, and no warmer than the room",
            0.0,
        ),
        GateRow("cut", "Next cut", "Nail, then one cut in the waste", "chips, not strings", 0.0),
        GateRow(
            "sand",
            "Sanding",
            "Rub 120 grit on a hidden place, ten strokes",
            "dry white dust; nothing clogs or balls up",
            0.25,
        ),
        GateRow(
            "post-cure",
            "Into the oven",
            "Nail in the middle of the thickest place",
            "no dent; it holds its shape by itself",
            0.0,
        ),
        GateRow(
            "pack",
            "Packing",
            "Nail in the middle; a sheet of foil under a kilogram overnight",
            "no dent, and no print of the foil",
            1.0,
        ),
    )
}


ROWS: tuple[FinishRow, ...] = (
    FinishRow(
        "demould",
        "Out of the form",
        "Ease it off all round before you pull; wedge of wood or plastic; gloves stay on.",
        "Early it marks and bends.",
        "8.2",
        "demould",
        0,
        20 * 60,
        SHARP,
    ),
    FinishRow(
        "flash",
        "Sharp flash off",
        "Before any turning or handling: scraper or file along the edges.",
        "Cured flash cuts, and it catches in the lathe.",
        "8.6",
        "demould",
        0,
        15 * 60,
        SHARP,
    ),
    FinishRow(
        "drips",
        "Drips off",
        "Chisel or scraper, then paper; careful not to lift the film.",
        "What hangs shows.",
        "8.6",
        "sand",
        0,
        20 * 60,
        SHARP,
    ),
    FinishRow(
        "oven",
        "Post-cure in the oven",
        "By the program; lying flat or in its mould, slowly up, slowly down.",
        "It raises how hot it may get in use.",
        "8.5",
        "post-cure",
        0,
        20 * 60,
        OVEN,
    ),
    FinishRow(
        "machine",
        "Flatten or cut",
        "Sharp tools, light cuts, from the edge inwards; stop when it gets warm or strings.",
        "Warm resin smears and tears out.",
        "8.3",
        "sand",
        0,
        60 * 60,
        "Blades and router: eyes, ears, dust; the piece held fast.",
    ),
    FinishRow(
        "turn",
        "Turn it",
        "Light cuts, sharp tools; measure the wall before the last cut; the foot last.",
        "A catch throws it.",
        "8.7",
        "sand",
        0,
        90 * 60,
        LATHE,
    ),
    FinishRow(
        "wall",
        "Measure the wall",
        "Callipers at rim, belly and foot.",
        "Resin has no grain to hold a thin place.",
        "8.6",
        "sand",
        0,
        10 * 60,
    ),
    FinishRow(
        "ladder",
        "Sand along the ladder",
        "Next grit when the last one's scratches are gone, across the last direction; dust off between.",
        "A scratch left behind shows under the polish.",
        "8.4",
        "sand",
        0,
        60 * 60,
        DUST,
    ),
    FinishRow(
        "preview",
        "Look ahead with mineral spirit",
        "Wipe it wet: that is how it will look with oil or gloss. Let it dry.",
        "Scratches show now, not after the oil.",
        "8.3",
        "sand",
        30 * 60,
        10 * 60,
        SOLVENT,
    ),
    FinishRow(
        "scuff",
        "Dull it for the next coat",
        "120 to 320 grit all over, coarser where there are pits; careful at the edges. Dust off, wipe, "
        "let it flash off a quarter of an hour.",
        "A cured film takes no coat by itself.",
        "8.3",
        "sand",
        15 * 60,
        40 * 60,
        DUST,
    ),
    FinishRow(
        "oil",
        "Oil the wood",
        "Thin, let it stand 15 minutes, wipe all off; again next day. Off the resin at once.",
        "What is left on top stays sticky.",
        "8.4",
        "sand",
        1 * DAY,
        30 * 60,
        RAGS,
    ),
    FinishRow(
        "varnish",
        "Wiping varnish",
        "Two or three thin coats, a day between, buffed with a grey pad.",
        "Thin coats hide what a thick one shows.",
        "8.7",
        "sand",
        1 * DAY,
        30 * 60,
        RAGS,
    ),
    FinishRow(
        "polish",
        "Polish",
        "Soft wheel or pad, little pressure, keep moving, cool to the hand.",
        "Gloss is traded for scratches that show.",
        "8.4",
        "sand",
        0,
        40 * 60,
        "Eyes covered; the wheel runs away from the edge, so nothing is caught.",
    ),
    FinishRow(
        "brace",
        "Lift it off its rests",
        "Marks of racks and blocks: turn it, or rest it on soft points.",
        "It is soft to a point for days.",
        "8.6",
        "sand",
        0,
        5 * 60,
    ),
    FinishRow(
        "hand-over",
        "Clean, test once more, hand over",
        "Soft cloth, the care note beside it.",
        "Heat and load only from now on.",
        "8.6",
        "pack",
        0,
        15 * 60,
    ),
)
