"""What is done at the bench from weighing to pouring, and the usual cautions beside each, as a table a maker
can read and correct.

Common practice, no source, unless said. Rules 1.7, 5.1 to 5.10, 7.1 to 7.3 and the hazards.
"""

from __future__ import annotations

from dataclasses import dataclass

GLOVES = (
    "Gloves and eyes covered; air moving out of the room; breathing protection as the safety data sheet says."
)
FLAME = (
    "No alcohol, acetone or open solvent in the room. Nothing that burns near the flame. Never leave it lit."
)
CUP_HEAT = "A full cup left standing can heat up, smoke and burn: pour it out or spread it."
VESSEL = "Only within the vessel's rating, inspected; close and release slowly."
SHARP = "Flash is sharp: gloves that resist cuts, eyes covered."
DUST = "Dust of resin and wood: mask as the data sheets say, extraction on."
HOT = "It may be hot enough to burn: infrared first, hands later. Carry nothing that smokes."

SKIN = "Gloves stay on until it is fully cured: skin contact before that sensitises."
SOLVENT = "Solvent: air moving, gloves that resist this solvent; no flame until the vapour has cleared."
OVEN = "Not the oven for food, ever; stay near; nothing that burns in it."
WASTE = "Liquid rests to hazardous collection, cured rests cold into the bin; local rules first."
AROUND = "Children and animals out; eye rinse at hand; extraction or air moving out."

CAUTIONS = {
    "ready": AROUND,
    "wipe": SOLVENT,
    "warm-wood": OVEN,
    "seal": GLOVES,
    "stick": SKIN,
    "nail": SKIN,
    "harden": SKIN,
    "inspect": SKIN,
    "peel": SKIN,
    "hand-over": WASTE,
    "top-up": GLOVES,
    "lay-in": SKIN,
    "spin": GLOVES,
    "weigh": GLOVES,
    "stir": GLOVES,
    "stir-again": GLOVES,
    "rest": CUP_HEAT,
    "part": GLOVES,
    "pour": GLOVES,
    "round-1": FLAME,
    "round-2": FLAME,
    "round-3": FLAME,
    "rounds": FLAME,
    "mist": "Alcohol mist burns: no flame in the room then or after, air moving.",
    "breath": "Breathe in away from it: breathing protection as the data sheets say.",
    "lid": VESSEL,
    "release": VESSEL,
    "heat-visit": HOT,
    "square": SHARP,
    "sand": DUST,
    "turn": "Lathe: no gloves at the turning work, face shield, dust extraction.",
    "peel-cured": SHARP,
    "cut-flush": SHARP,
    "lip": SOLVENT,
    "drips-first": GLOVES,
    "drips-last": GLOVES,
    "spin-stop": GLOVES,
}


@dataclass(frozen=True, kw_only=True)
class BenchStep:
    """code, title, text. {values} are filled in by the script; nothing else is."""

    code: str
    title: str
    text: str
    why: str
    rule: str


READY = BenchStep(
    code="ready",
    title="Ready before mixing",
    text="Once round the bench. Tap what is there.",
    why="Nothing can be fetched with sticky gloves.",
    rule="1.7",
)
SAND = BenchStep(
    code="sand",
    title="Sand, dust off{wipe_title}",
    text="{grit} all over, until no shine is left; careful at the edges. Dust off{wipe}.",
    why="The layer below bonds no more by itself.",
    rule="8.3",
)
WEIGH = BenchStep(
    code="weigh",
    title="Weigh {batch}",
    text="Part {first} first, then {second}.",
    why="Off-ratio resin stays sticky for good.",
    rule="5.1",
)
STIR = BenchStep(
    code="stir",
    title="Stir {batch}",
    text="Scrape walls, bottom and stick, until the mix is clear, with no streaks.{drill}",
    why="What is not mixed never sets.",
    rule="5.3",
)
STIR_AGAIN = BenchStep(
    code="stir-again",
    title="Into a clean cup, stir again",
    text="Clean cup, clean stick; leave what clings to the first cup.",
    why="The film on the first cup's wall is unmixed.",
    rule="5.3",
)
PART = BenchStep(
    code="part",
    title="Part it into colours",
    text="{colours}",
    why="Several colours come from one clear mix.",
    rule="5.6",
)
REST = BenchStep(
    code="rest",
    title="Let {batch} rest",
    text="Bubbles rise; do not stir again.",
    why="Bubbles come up, glitter thickens.",
    rule="5.4",
)
POUR = BenchStep(
    code="pour",
    title="Pour {batch}",
    text="{what}",
    why="Poured out it stays cool; in the cup it overheats.",
    rule="5.5",
)

# What lateness means, by the kind of step: rule 7.5.
LATE = {
    "pour": "Check the cup. Stringy, lumpy or warm: do not pour it. Spread it thin, away from what burns.",
    "defoam": "It has set too far for a flame: leave it.",
    "weigh": "The layer below bonds no more by itself: test it, sand it all over, then pour.",
    "ready": "The layer below bonds no more by itself: test it, sand it all over, then pour.",
    "test": "Look at it before you decide: do it now if it still gives, else leave it out.",
    "form": "Look at it before you decide: do it now if it still gives, else leave it out.",
    "watch": "Look at it before you decide: do it now if it still gives, else leave it out.",
}

CLEAN_HAND = {
    "left": "Left hand stays clean, for this screen.",
    "right": "Right hand stays clean, for this screen.",
}
STICKY = {
    "weigh",
    "stir",
    "stir-again",
    "rest",
    "part",
    "pour",
    "round-1",
    "round-2",
    "round-3",
    "spin",
    "top-up",
    "lid",
    "lay-in",
}
