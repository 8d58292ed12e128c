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
SOLVENT = "Solvent: air moving, gloves that resist this solvent; no flame until the vapour has cleared."
GLOVES = "Uncured resin: gloves stay on, eyes covered."
SHARP = "Cured edges cut: gloves that resist cuts, eyes covered."


@dataclass(frozen=True, kw_only=True)
class BackStep:
    """wait_s: least time before the next; hands_s: at the bench."""

    code: str
    title: str
    text: str
    why: str
    wait_s: float = 0.0
    hands_s: float = 15 * MIN
    caution: str = ""


@dataclass(frozen=True, kw_only=True)
class Back:
    """honest: what it can and cannot do."""

    code: str
    title: str
    honest: str
    steps: tuple[BackStep, ...]
    resin: Literal["", "coat", "fill"] = ""


CURE = BackStep(
    code="let-cure",
    title="Let it cure first",
    text="Do not sand or scrape what is gummy: it smears. Hard by the nail test.",
    why="Half-cured resin clogs and tears.",
    wait_s=24 * H,
    hands_s=5 * MIN,
)
SAND = BackStep(
    code="sand-all",
    title="Sand the whole surface",
    text="80 to 120 grit all over, not the spot alone; no shine left, careful at the edges.",
    why="A spot shows as a spot for good.",
    wait_s=0,
    hands_s=45 * MIN,
    caution=DUST,
)
DUST_OFF = BackStep(
    code="dust-off",
    title="Dust off, wipe",
    text="Vacuum, then a clean cloth with alcohol, both ways; let it flash off.",
    why="What lies there is what the new film sticks to.",
    wait_s=15 * MIN,
    hands_s=15 * MIN,
    caution=SOLVENT,
)
WASH = BackStep(
    code="wash",
    title="Wash with warm water",
    text="Warm water, a drop of soap, clean cloth; rinse, dry.",
    why="The film from damp air is soluble in water, not in solvent.",
    wait_s=2 * H,
    hands_s=20 * MIN,
    caution=GLOVES,
)
SCRAPE = BackStep(
    code="scrape",
    title="Scrape off what is soft",
    text="A scraper down to what is hard; wipe the rest with alcohol and change the cloth often.",
    why="New resin over soft resin stays soft below.",
    wait_s=2 * H,
    hands_s=60 * MIN,
    caution=GLOVES,
)
WARM = BackStep(
    code="warm",
    title="Warm the room",
    text="⟦26 to 28 °C⟧ round the whole piece for a day or two, dust-free, within what the sheet allows.",
    why="⟦10 K⟧ warmer halves the time.",
    wait_s=24 * H,
    hands_s=10 * MIN,
)
TEST = BackStep(
    code="test",
    title="Test it",
    text="Nail at the edge, read at once: a dent heals itself.",
    why="Readiness is a test.",
    wait_s=0,
    hands_s=5 * MIN,
    caution=GLOVES,
)
OPEN = BackStep(
    code="open",
    title="Open the bubbles",
    text="Drill or cut each one open to its full width, blow it out.",
    why="Resin does not run into a closed bubble.",
    wait_s=0,
    hands_s=40 * MIN,
    caution=SHARP,
)
CUT = BackStep(
    code="cut-out",
    title="Cut out what is spoilt",
    text="Down to sound resin, with sloped edges; cold, never while it still heats.",
    why="Cracks and foam go on under a new layer.",
    wait_s=0,
    hands_s=90 * MIN,
    caution=DUST,
)
CLOSE = BackStep(
    code="close",
    title="Close the leak",
    text="Outside: tape or hot glue over a dry place. Inside: a bead of sealant. Test with water only if it "
    "can dry.",
    why="Resin finds what water takes hours for.",
    wait_s=1 * H,
    hands_s=30 * MIN,
    caution=GLOVES,
)
SEAL_HOLES = BackStep(
    code="seal-holes",
    title="Seal the wood in each hole",
    text="Brush thin resin into every hole, down to the wood; again where it drinks. Go on when it is tacky.",
    why="Wood that gave off air once gives it off again, into the new filling.",
    wait_s=3 * H,
    hands_s=30 * MIN,
    caution=GLOVES,
)
LEVEL = BackStep(
    code="level",
    title="Level it",
    text="Both axes, by little, wait, look again.",
    why="Free liquid goes to the low side.",
    wait_s=10 * MIN,
    hands_s=10 * MIN,
)

WAYS: dict[str, Back] = {
    one.code: one
    for one in (
        Back(
            code="warm-wait",
            title="Warm it and wait",
            honest="Nothing is lost; it only needs time and warmth.",
            steps=(WARM, TEST),
        ),
        Back(
            code="take-out",
            title="Take it out and pour anew",
            honest="Off-ratio or spoilt resin never sets. A thin film scrapes off; a deep casting is lost.",
            steps=(SCRAPE, SAND, DUST_OFF),
            resin="fill",
        ),
        Back(
            code="scrape-recoat",
            title="Scrape the soft places, coat all",
            honest="The new film holds on hard ground only.",
            steps=(SCRAPE, SAND, DUST_OFF),
            resin="coat",
        ),
        Back(code="wash", title="Wash it off", honest="The resin below is sound.", steps=(CURE, WASH)),
        Back(
            code="wash-recoat",
            title="Wash, sand, coat again",
            honest="Washing first: sanding rubs the film in.",
            steps=(CURE, WASH, SAND, DUST_OFF),
            resin="coat",
        ),
        Back(
            code="sand-recoat",
            title="Sand all, coat again",
            honest="Looks new when the whole surface is done.",
            steps=(CURE, SAND, DUST_OFF),
            resin="coat",
        ),
        Back(
            code="sand-wipe-recoat",
            title="Sand, wipe twice, try a drop, coat again",
            honest="If the drop draws back, wipe again: it is still there.",
            steps=(
                CURE,
                SAND,
                DUST_OFF,
                BackStep(
                    code="try-drop",
                    title="Try one drop",
                    text="One drop of mixed resin at a bad place, half an hour.",
                    why="Better one drop than a coat.",
                    wait_s=30 * MIN,
                    hands_s=10 * MIN,
                    caution=GLOVES,
                ),
            ),
            resin="coat",
        ),
        Back(
            code="seal-dry-recoat",
            title="Dry it, seal it, coat again",
            honest="A veil in deep resin stays; on a thin coat it sands off.",
            steps=(
                CURE,
                BackStep(
                    code="dry",
                    title="Dry it",
                    text="In the room it will live in, until the meter says 10 % or less.",
                    why="Water clouds the next layer too.",
                    wait_s=72 * H,
                    hands_s=10 * MIN,
                ),
                SAND,
                DUST_OFF,
            ),
            resin="coat",
        ),
        Back(
            code="drill-fill",
            title="Open them, fill, sand, coat",
            honest="What lies deep stays; what reaches the surface can be filled.",
            steps=(CURE, OPEN, DUST_OFF),
            resin="fill",
        ),
        Back(
            code="drill-seal-fill",
            title="Open them, seal the wood, fill, sand, coat",
            honest="What lies deep stays; what reaches the surface can be filled once the wood is sealed.",
            steps=(CURE, OPEN, DUST_OFF, SEAL_HOLES),
            resin="fill",
        ),
        Back(
            code="cut-out",
            title="Cut out, fill in thinner layers",
            honest="If cracks run through, the piece is lost: look at it in strong light first.",
            steps=(
                BackStep(
                    code="cool",
                    title="Let it cool, outside if it smokes",
                    text="Do not breathe the smoke; off anything that burns; hands off until it is cold.",
                    why="People first.",
                    wait_s=12 * H,
                    hands_s=5 * MIN,
                    caution="Hot: infrared first, hands later.",
                ),
                CUT,
                DUST_OFF,
            ),
            resin="fill",
        ),
        Back(
            code="cup",
            title="The cup is lost",
            honest="Never pour what has begun to smoke.",
            steps=(
                BackStep(
                    code="cup-out",
                    title="Cup outside, on stone",
                    text="If it can be carried safely; else spread it thin on foil. Do not breathe "
                    "the smoke.",
                    why="A full cup can burn.",
                    wait_s=2 * H,
                    hands_s=5 * MIN,
                    caution="Smoke: out of the room.",
                ),
                BackStep(
                    code="cup-cold",
                    title="Into the waste when it is cold",
                    text="Cured and cold into the bin, liquid parts to hazardous collection.",
                    why="Local rules go before this.",
                    wait_s=0,
                    hands_s=5 * MIN,
                ),
            ),
        ),
        Back(
            code="part-rebond",
            title="Part them, dull both, bond anew",
            honest="Where it is sound, leave it; a line in the depth stays visible.",
            steps=(
                BackStep(
                    code="part",
                    title="Part what lifts",
                    text="Wedge or saw along the line, only as far as it lifts by itself.",
                    why="Sound bond is better than a new one.",
                    wait_s=0,
                    hands_s=45 * MIN,
                    caution=SHARP,
                ),
                SAND,
                DUST_OFF,
            ),
            resin="fill",
        ),
        Back(
            code="fill-gap",
            title="Fill the gap with thin resin",
            honest="It holds as long as the wood keeps still.",
            steps=(
                CURE,
                BackStep(
                    code="clean-gap",
                    title="Clean the gap",
                    text="Blow it out, pull a strip of 80 grit through, alcohol, dry.",
                    why="Wax or dust in it keeps the new resin off.",
                    wait_s=1 * H,
                    hands_s=30 * MIN,
                    caution=SOLVENT,
                ),
            ),
            resin="fill",
        ),
        Back(
            code="refill",
            title="Press down or take out, fill the rest",
            honest="While it is liquid: press it down, weight or clamp. Set: carve free, lay anew.",
            steps=(CURE, CUT, DUST_OFF),
            resin="fill",
        ),
        Back(
            code="stop-refill",
            title="Close the leak, top up",
            honest="In the bond window nothing needs sanding.",
            steps=(CLOSE,),
            resin="fill",
        ),
        Back(
            code="level-refill",
            title="Level it, top up",
            honest="What ran out is pushed back and stirred in while it flows.",
            steps=(LEVEL,),
            resin="fill",
        ),
        Back(
            code="scrape-edge",
            title="Scrape the edge while gummy",
            honest="Cured drips sand off as well, slower.",
            steps=(
                BackStep(
                    code="edge",
                    title="Scrape the edge",
                    text="Gummy: a sharp scraper; cured: 80 grit.",
                    why="Before it is hard it comes off in strings.",
                    wait_s=0,
                    hands_s=20 * MIN,
                    caution=GLOVES,
                ),
            ),
        ),
        Back(
            code="top-up",
            title="Top up",
            honest="In the bond window straight on; later sand dull first.",
            steps=(SAND, DUST_OFF),
            resin="fill",
        ),
        Back(
            code="cut-drips",
            title="Cut and sand the drips",
            honest="Nothing is lost but time.",
            steps=(
                CURE,
                BackStep(
                    code="cut-drips",
                    title="Cut and sand the drips",
                    text="Chisel or scraper first, then 80 to 120 grit.",
                    why="Whole drips pull the film off.",
                    wait_s=0,
                    hands_s=30 * MIN,
                    caution=SHARP,
                ),
            ),
        ),
        Back(
            code="coat-over",
            title="A fresh coat over it",
            honest="Some makers recoat: a thin, correctly mixed coat can cure a tacky film below. Only "
            "on a thin "
            "film that "
            "is merely tacky; over wet resin it stays wet below.",
            steps=(
                BackStep(
                    code="wipe-tacky",
                    title="Wipe it with alcohol",
                    text="Clean cloth, no pressure, let it flash off.",
                    why="What is loose on top keeps the new coat off.",
                    wait_s=15 * MIN,
                    hands_s=15 * MIN,
                    caution=SOLVENT,
                ),
            ),
            resin="coat",
        ),
        Back(
            code="spread-again",
            title="Push it back while it is wet",
            honest="Only within the first half hour.",
            steps=(
                BackStep(
                    code="push",
                    title="Spread resin into it",
                    text="Gloved finger or brush, twice, then leave it.",
                    why="A film that is thick enough closes by itself.",
                    wait_s=10 * MIN,
                    hands_s=5 * MIN,
                    caution=GLOVES,
                ),
            ),
        ),
        Back(
            code="cut-polish",
            title="Cut the specks out and polish",
            honest="A school: for a few specks in a thick film; a dull spot shows where the film is thin.",
            steps=(
                CURE,
                BackStep(
                    code="denib",
                    title="Cut the specks level",
                    text="Razor blade flat, or 800 grit on a hard block, the speck alone.",
                    why="What stands up is cut before the rest is touched.",
                    wait_s=0,
                    hands_s=20 * MIN,
                    caution=SHARP,
                ),
                BackStep(
                    code="ladder",
                    title="Up the ladder, then polish",
                    text="1500, 2000, 3000, then polish; keep it cool.",
                    why="Fine scratches scatter light.",
                    wait_s=0,
                    hands_s=60 * MIN,
                    caution=DUST,
                ),
            ),
        ),
        Back(
            code="sand-down",
            title="Sand the rest down to it",
            honest="Where the overfill allows it: no new resin, no line.",
            steps=(
                CURE,
                BackStep(
                    code="flatten",
                    title="Flatten all to the lowest place",
                    text="Light cuts or 80 grit, look along the light.",
                    why="One level everywhere.",
                    wait_s=0,
                    hands_s=60 * MIN,
                    caution=DUST,
                ),
            ),
        ),
        Back(
            code="polish",
            title="Go on along the ladder",
            honest="Wet it with spirit: that is how it will look.",
            steps=(
                BackStep(
                    code="ladder",
                    title="The rest of the grits",
                    text="Next grit when the last scratches are gone, then polish.",
                    why="Fine scratches scatter light.",
                    wait_s=0,
                    hands_s=60 * MIN,
                    caution=DUST,
                ),
            ),
        ),
        Back(
            code="heal",
            title="Wait, then look again",
            honest="A small dent in half-cured resin closes by itself.",
            steps=(WARM, TEST),
        ),
        Back(
            code="none",
            title="No way back",
            honest="This cannot be repaired: keep it or start over. A coat over it changes nothing in "
            "the depth.",
            steps=(),
        ),
    )
}
