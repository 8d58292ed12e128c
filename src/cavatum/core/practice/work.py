"""Steps by kind of work round each pour, as a table a maker can read and correct. Common practice, no source, unless said. Rules 6.1, 6.4, 7.1, 7.2, 7.6.

What comes before mixing is in survey/preparation.py; the last walk round the bench in readiness.py.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

MIN, H = 60.0, 3600.0
Anchor = Literal["poured", "gelled", "peak", "bond opens", "demould", "cured"]
Which = Literal["every", "not the last", "last"]
StepKind = Literal["prepare", "pour", "defoam", "watch", "form", "test", "finish"]

POURED_OPEN = ("thin coat", "flood coat", "painted top", "deep pour", "crack or knot", "small castings", "carved pockets", "rotator", "block", "nested mould",
               "turned work", "other")
COATS = ("thin coat", "flood coat", "painted top")
FORMS = ("deep pour", "block", "small castings", "nested mould", "pressure casting", "turned work")
ALL = (*POURED_OPEN, "pressure casting")
FLAMES = ("flame", "heat gun")


@dataclass(frozen=True)
class WorkStep:
    """from_s, to_s: seconds from the anchor; to None: until the next step needs it, or as long as it takes.

    schools: "" for all, else those of the workshop under which it is done (defoaming, rounds, tape)
    """

    code: str
    kind: StepKind
    title: str
    text: str
    why: str
    rule: str
    kinds: tuple[str, ...]
    which: Which
    anchor: Anchor
    from_s: float
    to_s: float | None
    hands_s: float
    tools: str = ""
    schools: tuple[str, ...] = ()


TABLE: tuple[WorkStep, ...] = (
    WorkStep("round-1", "defoam", "First round against bubbles", "Short and moving, from far (about 15 cm), never on one spot; a heat gun on low. Nothing "
                                                                 "that burns near it, no alcohol or acetone used just now.",
             "Heat thins the skin and lets the bubbles out.", "7.1", POURED_OPEN, "every", "poured", 0, 5 * MIN, 2 * MIN, "flame or heat gun", FLAMES),
    WorkStep("round-2", "defoam", "Second round", "Short and moving, from far, lighter than the first; look along the light after it.", "Bubbles rise for a quarter of an hour.", "7.1", POURED_OPEN, "every", "poured",
             15 * MIN, 20 * MIN, 2 * MIN,
             "flame or heat gun", FLAMES),
    WorkStep("round-3", "defoam", "Last round", "Only while it is liquid; then hands off.", "What comes up later stays.", "7.1", POURED_OPEN, "every",
             "poured", 30 * MIN, 45 * MIN, 2 * MIN,
             "flame or heat gun", FLAMES),
    WorkStep("rounds", "defoam", "A round every 15 minutes", "For an hour, or two where wood breathes out.", "A school: many short rounds.", "6.1",
             POURED_OPEN, "every", "poured", 60 * MIN, 2 * H, 10 * MIN,
             "flame or heat gun", ("every 15 min",)),
    WorkStep("mist", "defoam", "A mist of alcohol", "One light mist from half a metre, no flame in the room then or after.",
             "A school: it breaks the bubbles without heat.", "7.1", POURED_OPEN, "every", "poured", 0,
             10 * MIN, 1 * MIN, "spray bottle", ("alcohol mist",)),
    WorkStep("look-1", "watch", "Look along the light", "Bubbles, craters, a leak below, a fly. Level: correct it by little, wait, look again.",
             "The hour after pouring ruins more pieces than the pour.", "7.2", ALL, "every", "poured", 8 * MIN, 14 * MIN, 3 * MIN, "lamp, level, shims"),
    WorkStep("look-2", "watch", "Look again: level, leaks, craters", "Underside and joints with a lamp; the level creeps for half an hour.",
             "What runs out now can still be pushed back and stirred in.", "7.2", ALL, "every", "poured", 24 * MIN, 30 * MIN, 3 * MIN, "lamp, level, shims"),
    WorkStep("look-3", "watch", "Last look of the first hour", "Along the light once more; then it is left alone.",
             "What shows now can still be put right.", "7.2", ALL, "every", "poured", 50 * MIN, 70 * MIN, 4 * MIN, "lamp"),
    WorkStep("lid", "pour", "Into the chamber, lid closed, pressure up", "Within the working time; never over the rating of the vessel, valve closed slowly.",
             "Pressure has to stand before it thickens.", "6.1",
             ("pressure casting",), "every", "poured", 0, 3 * MIN, 3 * MIN, "pressure vessel"),
    WorkStep("spin", "form", "Turn until it has gelled", "Spindle level at the rim; wipe the rim and the bare band while it is wet.",
             "A film on a cup runs to the low side.", "7.2", ("rotator",), "every", "poured", 0,
             30 * MIN, 5 * MIN, "rotator"),
    WorkStep("top-up", "pour", "Top up", "As it soaks in and sinks, a little at a time, while it is liquid.", "Cracks and bark drink for an hour.", "4.3",
             ("crack or knot",), "every", "poured", 30 * MIN, 90 * MIN,
             10 * MIN, "the resin kept back"),
    WorkStep("cover", "watch", "Cover it", "Clean inside, not touching; then leave it alone.", "Dust and hair come down for hours.", "7.2", POURED_OPEN,
             "every", "poured", 45 * MIN, 90 * MIN, 2 * MIN, "cover"),
    WorkStep("hands-off", "watch", "No more stirring or touching", "It strings now: what is moved stays moved.", "The gummy point.", "7.3", ALL, "every",
             "gelled", -15 * MIN, 0, 0),
    WorkStep("peel", "form", "Peel the tape", "Slowly, back over itself, while it is gummy.", "Cured, it tears the edge or stays under it.", "6.1", COATS,
             "last", "gelled", 0, 1 * H, 10 * MIN, "", ("while gummy",)),
    WorkStep("peel-cured", "form", "Peel the tape", "Cut along the edge first, then peel.", "A school: after cure the drips come off with it.", "6.1", COATS,
             "last", "demould", 0, 24 * H, 15 * MIN, "knife",
             ("after cure",)),
    WorkStep("heat-visit", "watch", "Look in when the heat comes",
             "Bubbles at walls and wood, a smell, a bulge: nothing may be too hot to hold a hand over. Infrared reading.",
             "Wood and corners let go of their air when it warms.", "6.4", ("deep pour", "block", "crack or knot", "nested mould", "turned work"), "every", "peak", -1 * H,
             2 * H, 5 * MIN, "infrared thermometer"),
    WorkStep("lay-in", "form", "Lay the inserts on", "On the gummy layer, pressed down a little; nothing may move when it is tilted.",
             "They neither sink nor float now.", "4.1", ("small castings",), "not the last",
             "gelled", 0, 3 * H, 15 * MIN),
    WorkStep("stick", "test", "Stick test before the next pour", "A clean stick comes away clean, or just tacky; warm ones cooled to about 30 °C.",
             "Readiness is a test, never only a time.", "8.1", ALL, "not the last",
             "bond opens", 0, None, 2 * MIN, "clean stick"),
    WorkStep("inspect", "test", "Inspect it along the light", "Flawless: it is the finish. Craters, dust, bare spots: it was the seal; sand all over and coat again.",
             "Whether one more coat is needed shows only now.", "6.3", COATS, "last", "demould", 0, 48 * H, 5 * MIN, "lamp"),
    WorkStep("harden", "test", "Harden test before the next cut", "A nail leaves no dent; a cutter throws chips, not strings.",
             "Soft resin drags and tears out.", "8.1", ("carved pockets",), "every", "demould", 0, 12 * H,
             5 * MIN, "nail"),
    WorkStep("release", "form", "Let the pressure off", "Slowly, over minutes; then the lid.", "Gas in a fast release tears the piece.", "1.4",
             ("pressure casting",), "last", "demould", 0, 12 * H, 15 * MIN),
    WorkStep("nail", "test", "Nail test before demoulding", "At the edge, read at once: a dent heals itself. Gloves stay on.",
             "Early demoulding marks and bends.", "8.1", FORMS, "last", "demould", 0, 24 * H, 5 * MIN, "nail"),
    WorkStep("square", "finish", "Rough-square, leave it long", "Sharp flash off first; trim to length last.", "What is cut too early moves.", "1.8",
             ("pressure casting", "nested mould", "turned work"), "last", "demould", 2 * H, 48 * H, 30 * MIN),
    WorkStep("move", "watch", "May be moved from here on", "Gelled: carried level to a quieter or warmer room if wanted, set level again, checked again.",
             "Liquid resin runs to the low side and wets what should stay dry.", "6.4", ("deep pour", "block", "nested mould", "turned work", "small castings"), "every",
             "gelled", 0, 12 * H, 0),
    WorkStep("turn", "finish", "Turn or carve it", "Hard enough to throw chips: light cuts, sharp tools; the foot last.", "Strings mean it is too soft: wait, test again.",
             "8.3", ("turned work",), "last", "demould", 12 * H, None, 90 * MIN, "lathe, sharp tools"),
    WorkStep("hand-over", "finish", "Fully cured", "Tested once more, cleaned, with its care note.", "Heat and load only from now on.", "6.1", ALL, "last",
             "cured", 0, None, 15 * MIN),
)


def steps_for(kind_of_work: str, schools: set[str]) -> list[WorkStep]:
    """The rows of this kind of work under the workshop's schools, in the table's order."""
    kind = kind_of_work if any(kind_of_work in row.kinds for row in TABLE) else "other"
    return [row for row in TABLE if kind in row.kinds and (not row.schools or schools & set(row.schools))]
