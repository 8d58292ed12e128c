"""Ways back from what went wrong, as a table a maker can read and correct. Rule 10 and the hazards. Common
practice, no source.

A spot is rarely fixable: sand the whole surface and coat again. resin: "coat" a film over all, "fill" a
hollow, "" none.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

MIN, H = 60.0, 3600.0
DUST = "Dust of resin and wood: mask as the data sheets say, extraction on."
SOLVENT = "Solvent: air moving, gloves it does not eat, no flame in the room then or after."
GLOVES = "Uncured resin: gloves stay on, eyes covered."
SHARP = "Cured edges cut: gloves that resist cuts, eyes covered."


@dataclass(frozen=True)
class BackStep:
    """wait_s: least time before the next; hands_s: at the bench."""

    code: str
    title: str
    text: str
    why: str
    wait_s: float = 0.0
    hands_s: float = 15 * MIN
    caution: str = ""


@dataclass(frozen=True)
class Back:
    """honest: what it can and cannot do."""

    code: str
    title: str
    honest: str
    steps: tuple[BackStep, ...]
    resin: Literal["", "coat", "fill"] = ""


CURE = BackStep(
    "let-cure",
    "Let it cure first",
    "Do not sand or scrape what is gummy: it smears. Hard by the nail test.",
    "Half-cured resin clogs and tears.",
    24 * H,
    5 * MIN,
)
SAND = BackStep(
    "sand-all",
    "Sand the whole surface",
    "80 to 120 grit all over, not the spot alone; no shine left, careful at the edges.",
    "A spot shows as a spot for good.",
    0,
    45 * MIN,
    DUST,
)
DUST_OFF = BackStep(
    "dust-off",
    "Dust off, wipe",
    "Vacuum, then a clean cloth with alcohol, both ways; let it flash off.",
    "What lies there is what the new film sticks to.",
    15 * MIN,
    15 * MIN,
    SOLVENT,
)
WASH = BackStep(
    "wash",
    "Wash with warm water",
    "Warm water, a drop of soap, clean cloth; rinse, dry.",
    "The film from damp air is soluble in water, not in solvent.",
    2 * H,
    20 * MIN,
    GLOVES,
)
SCRAPE = BackStep(
    "scrape",
    "Scrape off what is soft",
    "A scraper down to what is hard; wipe the rest with alcohol and change the cloth often.",
    "New resin over soft resin stays soft below.",
    2 * H,
    60 * MIN,
    GLOVES,
)
WARM = BackStep(
    "warm",
    "Warm the room",
    "26 to 28 °C round the whole piece for a day or two, dust-free, within what the sheet allows.",
    "Ten degrees halve the time.",
    24 * H,
    10 * MIN,
)
TEST = BackStep(
    "test",
    "Test it",
    "Nail at the edge, read at once: a dent heals itself.",
    "Readiness is a test.",
    0,
    5 * MIN,
    GLOVES,
)
OPEN = BackStep(
    "open",
    "Open the bubbles",
    "Drill or cut each one open to its full width, blow it out.",
    "Resin does not run into a closed bubble.",
    0,
    40 * MIN,
    SHARP,
)
CUT = BackStep(
    "cut-out",
    "Cut out what is spoilt",
    "Down to sound resin, with sloped edges; cold, never while it still heats.",
    "Cracks and foam go on under a new layer.",
    0,
    90 * MIN,
    DUST,
)
CLOSE = BackStep(
    "close",
    "Close the leak",
    "Outside: tape or hot glue over a dry place. Inside: a bead of sealant. Test with water only if it "
    "can dry.",
    "Resin finds what water takes hours for.",
    1 * H,
    30 * MIN,
    GLOVES,
)
LEVEL = BackStep(
    "level",
    "Level it",
    "Both axes, by little, wait, look again.",
    "Free liquid goes to the low side.",
    10 * MIN,
    10 * MIN,
)

WAYS: dict[str, Back] = {
    one.code: one
    for one in (
        Back(
            "warm-wait", "Warm it and wait", "Nothing is lost; it only needs time and warmth.", (WARM, TEST)
        ),
        Back(
            "take-out",
            "Take it out and pour anew",
            "Off-ratio or spoilt resin never sets. A thin film scrapes off; a deep casting is lost.",
            (SCRAPE, SAND, DUST_OFF),
            "fill",
        ),
        Back(
            "scrape-recoat",
            "Scrape the soft places, coat all",
            "The new film holds on hard ground only.",
            (SCRAPE, SAND, DUST_OFF),
            "coat",
        ),
        Back("wash", "Wash it off", "The resin below is sound.", (CURE, WASH)),
        Back(
            "wash-recoat",
            "Wash, sand, coat again",
            "Washing first: sanding rubs the film in.",
            (CURE, WASH, SAND, DUST_OFF),
            "coat",
        ),
        Back(
            "sand-recoat",
            "Sand all, coat again",
            "Looks new when the whole surface is done.",
            (CURE, SAND, DUST_OFF),
            "coat",
        ),
        Back(
            "sand-wipe-recoat",
            "Sand, wipe twice, try a drop, coat again",
            "If the drop draws back, wipe again: it is still there.",
            (
                CURE,
                SAND,
                DUST_OFF,
                BackStep(
                    "try-drop",
                    "Try one drop",
                    "One drop of mixed resin at a bad place, half an hour.",
                    "Better one drop than a coat.",
                    30 * MIN,
                    10 * MIN,
                    GLOVES,
                ),
            ),
            "coat",
        ),
        Back(
            "seal-dry-recoat",
            "Dry it, seal it, coat again",
            "A veil in deep resin stays; on a thin coat it sands off.",
            (
                CURE,
                BackStep(
                    "dry",
                    "Dry it",
                    "In the room it will live in, until the meter says 10 % or less.",
                    "Water clouds the next layer too.",
                    72 * H,
                    10 * MIN,
                ),
                SAND,
                DUST_OFF,
            ),
            "coat",
        ),
        Back(
            "drill-fill",
            "Open them, fill, sand, coat",
            "What lies deep stays; what reaches the surface can be filled.",
            (CURE, OPEN, DUST_OFF),
            "fill",
        ),
        Back(
            "cut-out",
            "Cut out, fill in thinner layers",
            "If cracks run through, the piece is lost: look at it in strong light first.",
            (
                BackStep(
                    "cool",
                    "Let it cool, outside if it smokes",
                    "Do not breathe the smoke; off anything that burns; hands off until it is cold.",
                    "People first.",
                    12 * H,
                    5 * MIN,
                    "Hot: infrared first, hands later.",
                ),
                CUT,
                DUST_OFF,
            ),
            "fill",
        ),
        Back(
            "cup",
            "The cup is lost",
            "Never pour what has begun to smoke.",
            (
                BackStep(
                    "cup-out",
                    "Cup outside, on stone",
                    "If it can be carried safely; else spread it thin on foil. Do not breathe the smoke.",
                    "A full cup can burn.",
                    2 * H,
                    5 * MIN,
                    "Smoke: out of the room.",
                ),
                BackStep(
                    "cup-cold",
                    "Into the waste when it is cold",
                    "Cured and cold into the bin, liquid parts to hazardous collection.",
                    "Local rules go before this.",
                    0,
                    5 * MIN,
                ),
            ),
        ),
        Back(
            "part-rebond",
            "Part them, dull both, bond anew",
            "Where it is sound, leave it; a line in the depth stays visible.",
            (
                BackStep(
                    "part",
                    "Part what lifts",
                    "Wedge or saw along the line, only as far as it lifts by itself.",
                    "Sound bond is better than a new one.",
                    0,
                    45 * MIN,
                    SHARP,
                ),
                SAND,
                DUST_OFF,
            ),
            "fill",
        ),
        Back(
            "fill-gap",
            "Fill the gap with thin resin",
            "It holds as long as the wood keeps still.",
            (
                CURE,
                BackStep(
                    "clean-gap",
                    "Clean the gap",
                    "Blow it out, pull a strip of 80 grit through, alcohol, dry.",
                    "Wax or dust in it keeps the new resin off.",
                    1 * H,
                    30 * MIN,
                    SOLVENT,
                ),
            ),
            "fill",
        ),
        Back(
            "refill",
            "Press down or take out, fill the rest",
            "While it is liquid: press it down, weight or clamp. Set: carve free, lay anew.",
            (CURE, CUT, DUST_OFF),
            "fill",
        ),
        Back(
            "stop-refill",
            "Close the leak, top up",
            "In the bond window nothing needs sanding.",
            (CLOSE,),
            "fill",
        ),
        Back(
            "level-refill",
            "Level it, top up",
            "What ran out is pushed back and stirred in while it flows.",
            (LEVEL,),
            "fill",
        ),
        Back(
            "scrape-edge",
            "Scrape the edge while gummy",
            "Cured drips sand off as well, slower.",
            (
                BackStep(
                    "edge",
                    "Scrape the edge",
                    "Gummy: a sharp scraper; cured: 80 grit.",
                    "Before it is hard it comes off in strings.",
                    0,
                    20 * MIN,
                    GLOVES,
                ),
            ),
        ),
        Back(
            "top-up",
            "Top up",
            "In the bond window straight on; later sand dull first.",
            (SAND, DUST_OFF),
            "fill",
        ),
        Back(
            "cut-drips",
            "Cut and sand the drips",
            "Nothing is lost but time.",
            (
                CURE,
                BackStep(
                    "cut-drips",
                    "Cut and sand the drips",
                    "Chisel or scraper first, then 80 to 120 grit.",
                    "Whole drips pull the film off.",
                    0,
                    30 * MIN,
                    SHARP,
                ),
            ),
        ),
        Back(
            "coat-over",
            "A fresh coat over it",
            "A school: a thin coat that is right can cure what lies under it. Only on a thin film that "
            "is merely tacky; over wet resin it stays wet below.",
            (
                BackStep(
                    "wipe-tacky",
                    "Wipe it with alcohol",
                    "Clean cloth, no pressure, let it flash off.",
                    "What is loose on top keeps the new coat off.",
                    15 * MIN,
                    15 * MIN,
                    SOLVENT,
                ),
            ),
            "coat",
        ),
        Back(
            "spread-again",
            "Push it back while it is wet",
            "Only within the first half hour.",
            (
                BackStep(
                    "push",
                    "Spread resin into it",
                    "Gloved finger or brush, twice, then leave it.",
                    "A film that is thick enough closes by itself.",
                    10 * MIN,
                    5 * MIN,
                    GLOVES,
                ),
            ),
        ),
        Back(
            "cut-polish",
            "Cut the specks out and polish",
            "A school: for a few specks in a thick film; a dull spot shows where the film is thin.",
            (
                CURE,
                BackStep(
                    "denib",
                    "Cut the specks level",
                    "Razor blade flat, or 800 grit on a hard block, the speck alone.",
                    "What stands up is cut before the rest is touched.",
                    0,
                    20 * MIN,
                    SHARP,
                ),
                BackStep(
                    "ladder",
                    "Up the ladder, then polish",
                    "1500, 2000, 3000, then polish; keep it cool.",
                    "Fine scratches scatter light.",
                    0,
                    60 * MIN,
                    DUST,
                ),
            ),
        ),
        Back(
            "sand-down",
            "Sand the rest down to it",
            "Where the overfill allows it: no new resin, no line.",
            (
                CURE,
                BackStep(
                    "flatten",
                    "Flatten all to the lowest place",
                    "Light cuts or 80 grit, look along the light.",
                    "One level everywhere.",
                    0,
                    60 * MIN,
                    DUST,
                ),
            ),
        ),
        Back(
            "polish",
            "Go on along the ladder",
            "Wet it with spirit: that is how it will look.",
            (
                BackStep(
                    "ladder",
                    "The rest of the grits",
                    "Next grit when the last scratches are gone, then polish.",
                    "Fine scratches scatter light.",
                    0,
                    60 * MIN,
                    DUST,
                ),
            ),
        ),
        Back(
            "heal",
            "Wait, then look again",
            "A small dent in half-cured resin closes by itself.",
            (WARM, TEST),
        ),
        Back(
            "none",
            "No way back",
            "It stays as it is: keep it as it is, or make it anew. A coat over it changes nothing in "
            "the depth.",
            (),
        ),
    )
}
