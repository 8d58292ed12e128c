"""What is done before mixing, as a table a maker can read and correct. Times are common practice without a
source
unless said. Rules 1.1 to 1.8.
"""

from __future__ import annotations

from dataclasses import dataclass

MIN, H, DAY = 60.0, 3600.0, 86400.0


@dataclass(frozen=True, kw_only=True)
class PrepRow:
    """One thing to do before mixing.

    wait_s   least and most from its end: least until what it holds may follow, most until mixing
    hands_s  how long hands take for it
    holds    what may not be begun before its wait is over, besides mixing; the rest goes on beside it
    """

    code: str
    title: str
    text: str
    why: str
    rule: str
    wait_s: tuple[float, float | None]
    hands_s: float = 15 * MIN
    holds: tuple[str, ...] = ()


TABLE: dict[str, PrepRow] = {
    row.code: row
    for row in (
        PrepRow(
            code="bark",
            title="Loose bark off",
            text="Take off all bark that moves, down to firm wood.",
            why="Bark that lets go later takes the resin with it.",
            rule="1.1",
            wait_s=(0, None),
            holds=(
                "crevices",
                "dry-after-water",
                "patch",
                "dam",
                "leak-test",
                "seal",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="crevices",
            title="Clean the crevices",
            text="Air, pick and brush, then look with a lamp along the grain.",
            why="What is left in shows through clear resin for good.",
            rule="1.1",
            wait_s=(0, None),
            holds=(
                "patch",
                "dam",
                "seal",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="vent",
            title="Vent or fill what is hollow",
            text="A hole into every closed hollow, or fill it, or leave it out.",
            why="Under pressure it collapses, and on release it erupts.",
            rule="1.4",
            wait_s=(0, None),
            holds=(
                "leak-test",
                "release",
                "warm-wood",
            ),
        ),
        PrepRow(
            code="back-canvas",
            title="Back the canvas",
            text="Board or stiff foam cut to the frame, pressed in from behind without denting the face.",
            why="A canvas sags under the resin, and all of it runs to the middle.",
            rule="1.1",
            wait_s=(0, None),
            holds=(
                "seal-print",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="paint-dry",
            title="Let the paint dry through",
            text="Thick acrylic takes about three weeks.",
            why="Paint that still gives off water or softener lifts or wrinkles.",
            rule="1.2",
            wait_s=(21 * DAY, None),
            hands_s=0,
            holds=(
                "ink-dry",
                "seal-print",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="dry-after-water",
            title="Dry after washing",
            text="Air on all sides.",
            why="Water in the pores turns resin milky and foams.",
            rule="1.2",
            wait_s=(24 * H, None),
            hands_s=5 * MIN,
            holds=(
                "patch",
                "dam",
                "warm-wood",
                "seal",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="ink-dry",
            title="Let the ink dry",
            text="One to two hours, longer in a cold room.",
            why="Wet ink bleeds into the coat.",
            rule="1.2",
            wait_s=(1 * H, None),
            hands_s=0,
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="dry-mineral",
            title="Dry the stone",
            text="Two days in the warm room; foil taped on it overnight shows no damp below.",
            why="Damp stone lifts a coat in blisters.",
            rule="1.3",
            wait_s=(48 * H, None),
            hands_s=5 * MIN,
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="patch",
            title="Close what goes through",
            text="Tape three to four times as wide as the hole in two or three layers, or board with glossy "
            "tape and a ring of sealant inside, a bead outside.",
            why="Resin finds every hole for hours.",
            rule="1.5",
            wait_s=(0, None),
            hands_s=20 * MIN,
            holds=(
                "leak-test",
                "seal",
                "release",
            ),
        ),
        PrepRow(
            code="dam",
            title="Set the dam",
            text="Above every void that is overfilled; sealant cured before the leak test.",
            why="Overfill needs something to stand against.",
            rule="1.5",
            wait_s=(1 * H, None),
            hands_s=30 * MIN,
            holds=("leak-test",),
        ),
        PrepRow(
            code="leak-test",
            title="Leak test with water",
            text="Fill, mark the level, wait half an hour, empty.",
            why="A leak found now costs water, not resin.",
            rule="2.8",
            wait_s=(30 * MIN, None),
            holds=("leak-dry",),
        ),
        PrepRow(
            code="leak-dry",
            title="Dry after the leak test",
            text="Wipe out, air on all sides, overnight for wood.",
            why="What stays wet turns milky.",
            rule="2.8",
            wait_s=(12 * H, None),
            hands_s=10 * MIN,
            holds=(
                "seal",
                "release",
                "warm-wood",
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="cool-wood",
            title="Let the wood cool",
            text="Back to the room's temperature before a slow resin.",
            why="Warm wood breathes out and blows bubbles for hours.",
            rule="1.3",
            wait_s=(4 * H, None),
            hands_s=2 * MIN,
            holds=(
                "seal",
                "wipe",
            ),
        ),
        PrepRow(
            code="release",
            title="Release tape or agent",
            text="All of the form that touches resin; wood that stays is left free.",
            why="Resin is a glue.",
            rule="2.8",
            wait_s=(0, None),
        ),
        PrepRow(
            code="warm-room",
            title="Bring the room to temperature",
            text="Room and piece the day before, ⟦22 to 24 °C⟧, and steady.",
            why="A cold piece cools the resin from below.",
            rule="1.6",
            wait_s=(24 * H, None),
            hands_s=5 * MIN,
        ),
        PrepRow(
            code="seal",
            title="Seal porous wood",
            text="A thin sealing coat on all that is porous and will be touched; again where it goes dull.",
            why="Open pores breathe bubbles into the pour.",
            rule="1.3",
            wait_s=(4.5 * H, 9 * H),
            hands_s=30 * MIN,
        ),
        PrepRow(
            code="seal-print",
            title="Seal the print",
            text="Two thin coats of a clear sealer that resin does not dissolve, face and edges; "
            "try it on a corner.",
            why="Resin that gets into paper turns it dark for good.",
            rule="1.3",
            wait_s=(2 * H, None),
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="seal-foam",
            title="Close the foam's edges",
            text="Glue or acrylic medium along the cut edges. No solvent, nothing hot.",
            why="Open foam drinks, and solvents eat it.",
            rule="1.3",
            wait_s=(4 * H, None),
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="scuff-metal",
            title="Degrease and scuff",
            text="Degrease, 220 to 320 grit all over, wipe with alcohol; bare hands off from here on.",
            why="Smooth or greasy, the coat peels off in one piece.",
            rule="1.2",
            wait_s=(15 * MIN, None),
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="scuff-resin",
            title="Dull the cured resin",
            text="120 to 320 grit until no shine is left, dust off, wipe with alcohol.",
            why="A cured film takes no coat by itself.",
            rule="8.3",
            wait_s=(15 * MIN, None),
            holds=(
                "wipe",
                "edge-tape",
                "underside-tape",
                "tape-lip",
            ),
        ),
        PrepRow(
            code="coat-dam",
            title="Build the dam round it",
            text="Higher than the film, sealed along its foot; look for gaps with a lamp.",
            why="Over what an edge holds, resin runs off for an hour.",
            rule="2.9",
            wait_s=(30 * MIN, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="raise",
            title="Raise it off the bench",
            text="At least ⟦5 cm⟧ on cones, pins or cups, level, a catch sheet below.",
            why="Drips that hang together with the bench tear the edge.",
            rule="1.8",
            wait_s=(0, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="press-vinyl",
            title="Press the decal down",
            text="From the middle outwards, edges last; a thin seal coat over the edges first.",
            why="An edge that lifts draws a bubble into the flood.",
            rule="1.3",
            wait_s=(0, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="tape-lip",
            title="Tape the lip and the seal's band",
            text="All round below the rim, pressed down; the seal goes on bare metal.",
            why="Resin under a seal leaks, and no lip wants it.",
            rule="8.6",
            wait_s=(0, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="edge-tape",
            title="Tape the edge",
            text="Round the face, pressed down all along, a little above the film that is wanted.",
            why="What is left bare stays clean, and the film has a straight end.",
            rule="1.8",
            wait_s=(0, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="underside-tape",
            title="Tape the underside",
            text="Along the lower edge where drips will hang.",
            why="Drips come off with the tape.",
            rule="1.8",
            wait_s=(0, None),
            holds=("wipe",),
        ),
        PrepRow(
            code="warm-wood",
            title="Warm the wood",
            text="⟦65 to 70 °C⟧ for half an hour, shortly before a fast casting under pressure.",
            why="Dries the wood: fast resin foams on damp wood.",
            rule="1.3",
            wait_s=(30 * MIN, 60 * MIN),
            hands_s=5 * MIN,
        ),
        PrepRow(
            code="wipe",
            title="Wipe and alcohol",
            text="Wipe dry, then alcohol with a clean cloth in both directions, edges too. No flame near it.",
            why="Silicone, skin grease and polish make craters (fish eyes).",
            rule="1.2",
            wait_s=(10 * MIN, 15 * MIN),
            hands_s=8 * MIN,
        ),
        PrepRow(
            code="warm-bottles",
            title="Warm the bottles",
            text="Closed, 10 to 15 min in warm water; dry them before you open them.",
            why="Cold resin holds its bubbles.",
            rule="1.6",
            wait_s=(10 * MIN, 15 * MIN),
            hands_s=3 * MIN,
        ),
    )
}
