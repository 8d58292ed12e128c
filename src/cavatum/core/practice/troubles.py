"""What goes wrong, how it looks, and what it comes from, as a table a maker can read and correct. Rule 10.

Common practice, no source; `common` is how often a cause is behind a trouble compared with the others of the
same trouble (own judgement), and
`expects` what is usually seen then. How these become a ranking: core/mend/diagnose.py. The ways back:
ways_back.py.
"""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Question:
    """code, what is asked, and the answers: (code, words)."""

    code: str
    ask: str
    answers: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Cause:
    """facts: of the record (or told) that speak for it; next_time: what to change."""

    title: str
    why: str
    next_time: str
    facts: tuple[str, ...] = ()


@dataclass(frozen=True)
class Link:
    """A cause of one trouble: expects {question: usual answers}; back: the way back; schools: other cures
    that makers swear by.
    """

    cause: str
    common: float
    back: str
    expects: dict[str, tuple[str, ...]] = field(default_factory=dict)
    schools: tuple[str, ...] = ()


@dataclass(frozen=True)
class Trouble:
    """mishap: the key of a running pour whose first steps help now, if there is one."""

    code: str
    title: str
    look: str
    questions: tuple[Question, ...]
    links: tuple[Link, ...]
    mishap: str = ""


# What the record can show, or a person can tell, in words.
FACTS: dict[str, str] = {
    "ratio-off": "the ratio on the scale was off by more than 2 %",
    "ratio-unknown": "no weighing is in the record",
    "room-cold": "the room was below what the sheet wants",
    "room-warm": "the room was above what the sheet wants",
    "stir-short": "it was stirred shorter than the sheet wants",
    "second-cup-left-out": "the second cup was left out",
    "tested-early": "it was handled before its test was passed",
    "layer-thin": "the layer is thinner than the sheet's least",
    "humid": "the air was damp, or the dew point near",
    "colour-much": "more colourant than the sheet takes",
    "resin-old": "the bottle was past its date",
    "not-sealed": "the wood was not sealed",
    "rounds-left-out": "rounds against bubbles were left out",
    "wood-wet": "the wood was wet",
    "stirred-by-drill": "it was stirred with a drill",
    "layer-deep-for-bubbles": "the layer was deeper than bubbles rise through",
    "no-base-layer": "things were laid in without a base layer",
    "hollow-thing": "something in it is hollow",
    "resin-polyurethane": "a polyurethane was used",
    "peak-over": "it got hotter than wanted",
    "pressure-late": "the pressure stood late or was let off early",
    "stored-cold": "the bottles stood in the cold",
    "sanded": "it was sanded and not polished",
    "not-wiped": "it was not wiped before",
    "film-thin": "the film is thinner than planned",
    "layer-deep": "a layer was deeper than the sheet allows",
    "recoat-early": "the next pour came before its window",
    "recoat-late": "the next pour came after its window",
    "not-sanded": "it was not sanded between",
    "batch-large": "the batch was larger than the pot life takes",
    "colour-by-eye": "the colour was not weighed",
    "release-on-piece": "release agent or wax was about",
    "not-held": "light things were not held down",
    "leak-test-left-out": "the leak test was left out",
    "level-off": "it did not stand level",
    "overfilled": "more was poured than planned",
    "poured-cool": "it was poured cooler than colours that stay apart need",
    "no-rest": "it did not rest before pouring",
    "colour-dry": "powder went in dry",
    "soak-unknown": "soaking was not planned",
    "short-mix": "less was mixed than planned",
    "cover-left-out": "the cover was left out",
    "dusty-work": "sanding or sawing went on nearby",
    "loose-bristles": "a brush or roller was used",
    "tape-left-out": "the underside was not taped",
    "peel-late": "the tape was peeled late",
    "solvent-near": "a solvent was used just before the flame",
    "cover-touched": "a cover or hand touched it",
    "turned-slowly": "the rotator stood or turned slowly",
}


def _q(code: str, ask: str, *answers: str) -> Question:
    return Question(code, ask, tuple((words.split(": ")[0], words.split(": ")[-1]) for words in answers))


CAUSES: dict[str, Cause] = {
    "off-ratio": Cause(
        "Ratio off",
        "One part has nothing left to react with.",
        "Weigh both parts on a scale that reads to a tenth of a gram; look twice whether the ratio is by "
        "weight or by volume.",
        ("ratio-off", "ratio-unknown"),
    ),
    "unmixed": Cause(
        "Not stirred through",
        "What clings to wall and bottom of the cup never met the other part.",
        "Stir for the sheet's time, scrape wall and bottom, change the cup; never scrape the last film out.",
        ("stir-short", "second-cup-left-out"),
    ),
    "cold": Cause(
        "Too cold to cure",
        "Ten degrees less take about twice as long.",
        "Warm room, resin and piece the day before, and keep them so.",
        ("room-cold",),
    ),
    "young": Cause(
        "Too young",
        "It is on its way and not there.",
        "Go by the test, not by the clock: nail at the edge, read at once.",
        ("tested-early", "layer-thin"),
    ),
    "blush": Cause(
        "Film from damp air",
        "Damp air makes a waxy film on some resins while they cure.",
        "Keep the surface 3 °C above the dew point; wash with warm water before the next coat.",
        ("humid",),
    ),
    "too-much-colour": Cause(
        "Too much colour",
        "Liquids that take no part in the cure keep it soft.",
        "Stay under the sheet's limit; powders rather than liquids.",
        ("colour-much",),
    ),
    "old-resin": Cause(
        "Old resin",
        "The second part takes up air and water once opened.",
        "Date the bottle when it is opened; try a few grams first.",
        ("resin-old",),
    ),
    "wood-air": Cause(
        "Air out of the wood",
        "Wood breathes out while it warms.",
        "Seal first, pour on cooling wood, fill in thirds.",
        ("not-sealed", "wood-wet"),
    ),
    "stirred-in": Cause(
        "Air stirred in",
        "A fast paddle folds air in.",
        "Stir by hand or slowly, let it rest, pour a thin stream.",
        ("stirred-by-drill", "no-rest"),
    ),
    "cold-thick": Cause(
        "Cold, thick resin",
        "Thick resin lets nothing rise.",
        "Warm the closed bottles in a bath for a quarter of an hour, and dry them.",
        ("room-cold", "stored-cold"),
    ),
    "too-deep-for-bubbles": Cause(
        "Too deep for its bubbles",
        "Bubbles rise a few millimetres before it thickens.",
        "Thinner layers, or a thinner resin.",
        ("layer-deep-for-bubbles",),
    ),
    "trapped-air": Cause(
        "Air under or in the things",
        "Flat and hollow things carry their air with them.",
        "Wet them with resin first, lay them on a base layer at a slant, vent what is hollow.",
        ("no-base-layer", "hollow-thing"),
    ),
    "moisture-foam": Cause(
        "Water in fast resin",
        "Water makes gas of one of its parts.",
        "Oven-dry the wood, dry colours only, close the bottles at once.",
        ("resin-polyurethane", "wood-wet"),
    ),
    "boiled": Cause(
        "It boiled",
        "Past about 100 °C what is in it turns to gas.",
        "Thinner layers, a cooler room, less insulation.",
        ("peak-over", "layer-deep"),
    ),
    "skin-early": Cause(
        "Rounds left out or too late",
        "A skin holds what still rises.",
        "A short, moving pass at once, at a quarter and at half an hour.",
        ("rounds-left-out",),
    ),
    "pressure-lost": Cause(
        "Pressure late, or off too soon",
        "Bubbles that were pressed small grow again.",
        "Lid closed within the working time, and left until it has set.",
        ("pressure-late",),
    ),
    "wet-wood": Cause(
        "Wet wood",
        "Water goes into the resin and clouds it.",
        "Below about 10 to 12 % before a pour, and sealed.",
        ("wood-wet",),
    ),
    "fine-air": Cause(
        "Fog of fine air",
        "Beads too small to see one by one.",
        "Stir slowly, let it rest, warm it a little.",
        ("stirred-by-drill",),
    ),
    "crystals": Cause(
        "Crystals in part A",
        "Cold storage lets it crystallise.",
        "Warm the closed bottle to about 50 °C until it is clear, let it cool, stir.",
        ("stored-cold",),
    ),
    "scratches": Cause(
        "Fine scratches",
        "A sanded face scatters light.",
        "Go on along the grit ladder, then polish; spirit shows how it will look.",
        ("sanded",),
    ),
    "silicone": Cause(
        "Silicone, wax or polish",
        "Resin draws back from it.",
        "Sand, then wipe with alcohol both ways, edges too; try one drop first.",
        ("not-wiped",),
    ),
    "grease": Cause(
        "Grease of skin", "A finger mark is enough.", "Clean gloves from the last wipe on.", ("not-wiped",)
    ),
    "thin-film": Cause(
        "Film too thin",
        "Under a few tenths of a millimetre it draws together.",
        "Plan the film, weigh what goes on.",
        ("film-thin",),
    ),
    "too-deep": Cause(
        "Poured too deep",
        "Heat cannot get out of the middle.",
        "Split the pour; look at the predicted peak before.",
        ("layer-deep", "peak-over", "batch-large"),
    ),
    "early-recoat": Cause(
        "Poured again too early",
        "The layer below still had its heat to give.",
        "Wait for the window: past gel, and cooled.",
        ("recoat-early",),
    ),
    "warm-room": Cause(
        "Too warm a room",
        "Every ten degrees double the speed of the heat.",
        "Pour in the cool of the day; see how warm the room may get.",
        ("room-warm",),
    ),
    "left-in-cup": Cause(
        "Left in the cup",
        "A full cup keeps its heat in.",
        "Smaller batches; pour or spread out at once.",
        ("batch-large",),
    ),
    "sunlight": Cause(
        "Sunlight", "Light yellows resins.", "Keep it out of the sun; say so in the care note.", ()
    ),
    "late-recoat": Cause(
        "Poured again too late",
        "Cured resin takes no new layer by itself.",
        "Into the bond window, or sand dull all over and wipe.",
        ("recoat-late", "not-sanded"),
    ),
    "dirty-between": Cause(
        "Dust or grease between layers",
        "What lies on the layer is what the next one sticks to.",
        "Dust off and wipe, clean gloves, cover in between.",
        ("not-wiped", "dusty-work"),
    ),
    "other-tint": Cause(
        "Another tint",
        "Colour by eye is never met twice.",
        "Weigh colours, mix enough at once.",
        ("colour-by-eye",),
    ),
    "hot-shrink": Cause(
        "Got hot and shrank",
        "What sets hot shrinks as it cools.",
        "Thinner layers, cooler room; roughen and seal walls that should hold.",
        ("peak-over", "layer-deep"),
    ),
    "wood-moved": Cause(
        "The wood moved",
        "Wood that dries after the pour shrinks away.",
        "Dry it to the room it will live in.",
        ("wood-wet",),
    ),
    "release-on-wall": Cause(
        "Wax or release on the wood",
        "Resin does not bond to it.",
        "Release on the form only, gloves changed after.",
        ("release-on-piece",),
    ),
    "not-held": Cause(
        "Not held down",
        "Lighter than resin.",
        "Base layer first, then pins, glue or weights as computed.",
        ("not-held", "no-base-layer"),
    ),
    "air-below": Cause(
        "Air below it lifted it",
        "A bubble under a flat thing is a float.",
        "Wet both sides, lay it on at a slant.",
        ("hollow-thing",),
    ),
    "joint-leak": Cause(
        "A joint leaks",
        "Thin resin finds a way where water takes hours.",
        "Seal inside and outside; leak test with water, and dry it.",
        ("leak-test-left-out",),
    ),
    "porous": Cause(
        "Through the grain",
        "End grain and worm holes are pipes.",
        "Seal all faces that touch resin, underside too.",
        ("not-sealed",),
    ),
    "tilt": Cause(
        "Not level",
        "Free liquid goes to the low side.",
        "Level on both axes, wait, look again.",
        ("level-off",),
    ),
    "overfull": Cause(
        "Overfilled",
        "More went in than the hollow takes.",
        "Stop at the fill line; know where the rest goes before pouring.",
        ("overfilled",),
    ),
    "poured-too-cool": Cause(
        "Poured too cool to stay apart",
        "Thin and cool, colours run into each other.",
        "Pour at the sheet's temperature; split the cups 3 °C early.",
        ("poured-cool",),
    ),
    "too-thin": Cause(
        "Too thin when poured",
        "In thin resin all moves for hours.",
        "Let it thicken in the cup first: 10 to 15 min for a coating resin, hours for a slow one.",
        ("no-rest",),
    ),
    "lumps": Cause(
        "Dry lumps of powder",
        "Dry powder keeps air inside.",
        "Wet it with a little of part A, crush, then the rest.",
        ("colour-dry",),
    ),
    "settled": Cause(
        "Powder sank",
        "Heavy and slow resin: it has days to sink.",
        "Finer or less powder, thicker when poured, thinner layers.",
        ("no-rest",),
    ),
    "soak": Cause(
        "Soaked in",
        "Bark and end grain drink for an hour.",
        "Seal, or plan the soak and keep some back for topping up.",
        ("soak-unknown", "not-sealed"),
    ),
    "short-mix": Cause(
        "Too little mixed",
        "A volume in fluid ounces weighed as ounces is an eighth short.",
        "Let the plan give grams; say which ounce.",
        ("short-mix",),
    ),
    "shrinkage": Cause(
        "Shrank as it cured", "Two or three in a hundred.", "Overfill and sand off, or top up.", ()
    ),
    "burst-bubbles": Cause(
        "Bubbles burst late",
        "The film had no flow left to close.",
        "Rounds to the end, a last look at one hour.",
        ("rounds-left-out",),
    ),
    "uncovered": Cause(
        "Not covered",
        "Dust and hair come down for hours.",
        "Lid cleaned inside and at hand before mixing.",
        ("cover-left-out",),
    ),
    "dusty-work": Cause(
        "Dusty work nearby",
        "What flies now lands in an hour.",
        "No sanding three hours before and after.",
        ("dusty-work",),
    ),
    "loose-bristles": Cause(
        "Loose bristles", "New brushes lose hair.", "Pull them out over tape first.", ("loose-bristles",)
    ),
    "no-tape": Cause(
        "Nothing to catch drips",
        "Resin runs under and hangs.",
        "Tape the underside, or wipe every ten minutes while they run.",
        ("tape-left-out",),
    ),
    "peeled-late": Cause(
        "Tape peeled late",
        "Cured resin holds it.",
        "Peel while gummy, or cut along it first.",
        ("peel-late",),
    ),
    "flame-close": Cause(
        "Flame too near or too long",
        "It burns within a second on one spot.",
        "Short and moving, from far.",
        ("solvent-near",),
    ),
    "cover-touched": Cause(
        "Something touched it",
        "Tacky for hours.",
        "Blocks under the cover; a note on the door.",
        ("cover-touched",),
    ),
    "early-demould": Cause(
        "Out of the form too early", "It bends and marks.", "Nail test at the edge before.", ("tested-early",)
    ),
    "turned-slowly": Cause(
        "Turned too slowly, or stopped",
        "The film runs to the low side, and takes all with it.",
        "Turn steadily until it has gelled.",
        ("turned-slowly",),
    ),
    "carried-up": Cause(
        "Carried up by air",
        "Air clings to flakes.",
        "Wet the glitter first, let it rest, thin layers.",
        ("no-rest",),
    ),
}

TROUBLES: tuple[Trouble, ...] = (
    Trouble(
        "soft",
        "Sticky or soft",
        "It will not get hard.",
        (
            _q("where", "Where is it soft?", "all over", "patches", "surface: only on the surface"),
            _q(
                "feel",
                "How does it feel?",
                "sticky: sticky or wet",
                "rubbery: bends like rubber",
                "greasy: hard below a greasy film",
                "dents warm: takes a nail",
            ),
            _q(
                "warm",
                "Warm one corner to 35 to 40 °C for two hours. Then?",
                "harder: it got harder",
                "same: no change",
            ),
        ),
        (
            Link(
                "off-ratio",
                3,
                "take-out",
                {"where": ("all over",), "feel": ("sticky", "rubbery"), "warm": ("same",)},
                schools=("scrape-recoat",),
            ),
            Link(
                "unmixed",
                3,
                "scrape-recoat",
                {"where": ("patches",), "feel": ("sticky",), "warm": ("same",)},
                schools=("coat-over",),
            ),
            Link(
                "cold",
                3,
                "warm-wait",
                {"where": ("all over",), "feel": ("sticky", "rubbery"), "warm": ("harder",)},
                schools=("coat-over",),
            ),
            Link(
                "young",
                2,
                "warm-wait",
                {"where": ("all over",), "feel": ("dents warm", "rubbery"), "warm": ("harder",)},
            ),
            Link("blush", 1, "wash", {"where": ("surface",), "feel": ("greasy",), "warm": ("same",)}),
            Link(
                "too-much-colour",
                1,
                "take-out",
                {"where": ("all over",), "feel": ("rubbery",), "warm": ("same",)},
            ),
            Link(
                "old-resin", 0.7, "take-out", {"where": ("all over",), "feel": ("sticky",), "warm": ("same",)}
            ),
        ),
    ),
    Trouble(
        "bubbles",
        "Bubbles in it or on it",
        "Beads, foam, pinholes.",
        (
            _q(
                "where",
                "Where are they?",
                "at wood: along wood or bark",
                "all through",
                "under things: under or round things in it",
                "at surface: in the surface",
            ),
            _q(
                "size",
                "What do they look like?",
                "fine: many fine ones",
                "few large",
                "strings: strings that keep rising",
                "foam",
            ),
            _q(
                "came",
                "When did they come?",
                "first hour: within the first hour",
                "when it warmed",
                "after release: after the pressure was let off",
            ),
        ),
        (
            Link(
                "wood-air",
                3,
                "drill-fill",
                {
                    "where": ("at wood",),
                    "size": ("strings", "few large"),
                    "came": ("when it warmed", "first hour"),
                },
                schools=("sand-recoat",),
            ),
            Link(
                "stirred-in",
                3,
                "drill-fill",
                {"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                "cold-thick",
                2,
                "drill-fill",
                {"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                "too-deep-for-bubbles",
                1.5,
                "drill-fill",
                {"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                "trapped-air",
                1.5,
                "drill-fill",
                {"where": ("under things",), "size": ("few large", "strings")},
            ),
            Link(
                "moisture-foam",
                1,
                "take-out",
                {"where": ("all through", "at wood"), "size": ("foam",), "came": ("first hour",)},
            ),
            Link(
                "boiled",
                1,
                "cut-out",
                {"where": ("all through",), "size": ("foam",), "came": ("when it warmed",)},
            ),
            Link(
                "skin-early",
                1.5,
                "sand-recoat",
                {"where": ("at surface",), "size": ("fine",), "came": ("first hour",)},
                schools=("drill-fill",),
            ),
            Link("pressure-lost", 0.7, "none", {"where": ("all through",), "came": ("after release",)}),
        ),
        "bubbles",
    ),
    Trouble(
        "milky",
        "Milky or dull",
        "It should be clear.",
        (
            _q("where", "Where?", "near wood", "surface: on the surface", "all through"),
            _q("wipe", "Wipe it with warm water. Then?", "goes: it goes", "stays: it stays"),
            _q("spirit", "Wet it with white spirit. Then?", "clears: it looks clear", "stays: it stays dull"),
        ),
        (
            Link(
                "wet-wood",
                3,
                "seal-dry-recoat",
                {"where": ("near wood",), "wipe": ("stays",), "spirit": ("stays",)},
            ),
            Link("blush", 2, "wash", {"where": ("surface",), "wipe": ("goes",), "spirit": ("clears",)}),
            Link(
                "fine-air",
                2,
                "none",
                {"where": ("all through",), "wipe": ("stays",), "spirit": ("stays",)},
                schools=("sand-recoat",),
            ),
            Link(
                "crystals", 0.7, "none", {"where": ("all through",), "wipe": ("stays",), "spirit": ("stays",)}
            ),
            Link(
                "scratches", 2, "polish", {"where": ("surface",), "wipe": ("stays",), "spirit": ("clears",)}
            ),
        ),
    ),
    Trouble(
        "fisheyes",
        "Craters, fish eyes",
        "Round bare spots.",
        (
            _q(
                "pattern",
                "Which pattern?",
                "same places: round, at the same places",
                "pulled together: drawn back from edges",
                "all over: small, all over",
            ),
            _q(
                "again",
                "Spread it back with a gloved finger. Then?",
                "came back: it opens again",
                "closed: it stays closed",
            ),
            _q(
                "before",
                "What touched it before?",
                "paint or polish",
                "hands: bare hands",
                "coat on coat: an unwashed coat",
                "nothing",
            ),
        ),
        (
            Link(
                "silicone",
                3,
                "sand-wipe-recoat",
                {"pattern": ("same places",), "again": ("came back",), "before": ("paint or polish",)},
            ),
            Link(
                "grease",
                2,
                "sand-wipe-recoat",
                {"pattern": ("same places",), "again": ("came back",), "before": ("hands",)},
            ),
            Link(
                "thin-film",
                2,
                "sand-recoat",
                {"pattern": ("pulled together",), "again": ("closed",), "before": ("nothing",)},
                schools=("spread-again",),
            ),
            Link(
                "blush",
                1,
                "wash-recoat",
                {"pattern": ("all over",), "again": ("came back",), "before": ("coat on coat",)},
            ),
        ),
        "fisheyes",
    ),
    Trouble(
        "boiled",
        "Boiled, cracked or yellowed",
        "Foam, smoke, cracks, amber.",
        (
            _q("what", "What is it?", "foam or smoke", "cracks", "yellow: yellow or brown"),
            _q("came", "When did it come?", "within hours", "days later", "months later"),
            _q(
                "where",
                "Where is it worst?",
                "middle: in the middle",
                "cup: in the cup",
                "under the next layer",
                "window side: on the side of the window",
            ),
        ),
        (
            Link(
                "too-deep",
                3,
                "cut-out",
                {"what": ("foam or smoke", "cracks"), "came": ("within hours",), "where": ("middle",)},
            ),
            Link(
                "early-recoat",
                2,
                "cut-out",
                {
                    "what": ("cracks", "foam or smoke"),
                    "came": ("within hours",),
                    "where": ("under the next layer",),
                },
            ),
            Link(
                "warm-room",
                1.5,
                "cut-out",
                {"what": ("foam or smoke",), "came": ("within hours",), "where": ("middle",)},
            ),
            Link(
                "left-in-cup",
                2,
                "cup",
                {"what": ("foam or smoke",), "came": ("within hours",), "where": ("cup",)},
            ),
            Link(
                "sunlight",
                1,
                "sand-recoat",
                {"what": ("yellow",), "came": ("months later",), "where": ("window side",)},
            ),
        ),
        "smoke",
    ),
    Trouble(
        "line",
        "A line, or layers parting",
        "One layer shows on the other.",
        (
            _q(
                "bond",
                "Try a knife at the edge.",
                "parted: it lifts",
                "chips off: chips come off",
                "sound: nothing moves",
            ),
            _q(
                "look",
                "How does the line look?",
                "bright line: a bright line",
                "dusty line: a dusty line",
                "colour step: a step in colour",
            ),
        ),
        (
            Link(
                "late-recoat",
                3,
                "part-rebond",
                {"bond": ("parted",), "look": ("bright line",)},
                schools=("none",),
            ),
            Link(
                "dirty-between", 2, "part-rebond", {"bond": ("chips off", "parted"), "look": ("dusty line",)}
            ),
            Link("other-tint", 1, "none", {"bond": ("sound",), "look": ("colour step",)}),
        ),
    ),
    Trouble(
        "pulled",
        "Pulled from the wall",
        "A gap between resin and wall.",
        (
            _q("side", "Where is the gap?", "all round", "at wood", "one wall: at one wall"),
            _q("came", "When did it come?", "when it cooled", "weeks later"),
        ),
        (
            Link("hot-shrink", 3, "fill-gap", {"side": ("all round",), "came": ("when it cooled",)}),
            Link("wood-moved", 2, "fill-gap", {"side": ("at wood",), "came": ("weeks later",)}),
            Link("release-on-wall", 1, "fill-gap", {"side": ("one wall",), "came": ("when it cooled",)}),
        ),
    ),
    Trouble(
        "floated",
        "Something floated up",
        "It is not where it was laid.",
        (
            _q("when", "When did it rise?", "during the pour", "later: an hour or more later"),
            _q(
                "thing",
                "What is it?",
                "light: light, like cork or a dry plant",
                "flat: a leaf or something flat",
                "heavy: something heavy",
            ),
        ),
        (
            Link("not-held", 3, "refill", {"when": ("during the pour", "later"), "thing": ("light",)}),
            Link("air-below", 1.5, "refill", {"when": ("later",), "thing": ("flat",)}),
        ),
        "float",
    ),
    Trouble(
        "ran",
        "Run over or leaked",
        "It is where it should not be.",
        (
            _q(
                "where",
                "Where did it go?",
                "joint: through a joint",
                "through grain: through the wood",
                "low side: over the low side",
                "over the dam: over the dam all round",
            ),
            _q("came", "How?", "at once", "slowly"),
        ),
        (
            Link("joint-leak", 3, "stop-refill", {"where": ("joint",), "came": ("slowly",)}),
            Link("porous", 1.5, "stop-refill", {"where": ("through grain",), "came": ("slowly",)}),
            Link("tilt", 2, "level-refill", {"where": ("low side",), "came": ("at once", "slowly")}),
            Link("overfull", 1, "scrape-edge", {"where": ("over the dam",), "came": ("at once",)}),
        ),
        "leak",
    ),
    Trouble(
        "colours",
        "Colours blended, lumps, a band",
        "Not the picture that was meant.",
        (
            _q(
                "look",
                "What is seen?",
                "blended: all one colour",
                "specks: specks or lumps",
                "step: a step between batches",
                "darker below",
            ),
            _q("resin", "Which resin?", "fast", "slow: slow or coating"),
        ),
        (
            Link("poured-too-cool", 2, "none", {"look": ("blended",), "resin": ("fast",)}),
            Link("too-thin", 2, "none", {"look": ("blended",), "resin": ("slow",)}),
            Link("lumps", 2, "sand-recoat", {"look": ("specks",)}),
            Link("other-tint", 2, "none", {"look": ("step",)}),
            Link("settled", 1.5, "none", {"look": ("darker below",), "resin": ("slow",)}),
        ),
    ),
    Trouble(
        "low",
        "Too low, dimples",
        "It does not reach the rim.",
        (
            _q("shape", "Where is it low?", "near wood", "all over", "one side", "dimples: small round pits"),
            _q("came", "When?", "at once: at once", "while liquid", "after cure"),
        ),
        (
            Link("soak", 3, "top-up", {"shape": ("near wood",), "came": ("while liquid",)}),
            Link("short-mix", 2, "top-up", {"shape": ("all over",), "came": ("at once",)}),
            Link(
                "shrinkage",
                2,
                "top-up",
                {"shape": ("all over", "near wood"), "came": ("after cure",)},
                schools=("sand-down",),
            ),
            Link("tilt", 2, "top-up", {"shape": ("one side",)}),
            Link(
                "burst-bubbles",
                1.5,
                "drill-fill",
                {"shape": ("dimples",), "came": ("after cure", "while liquid")},
                schools=("sand-recoat",),
            ),
        ),
    ),
    Trouble(
        "dust",
        "Dust, hair, a fly",
        "Something landed in it.",
        (_q("what", "What is it?", "fine grit", "hairs: lint or hair", "bristles", "fly"),),
        (
            Link(
                "uncovered",
                3,
                "sand-recoat",
                {"what": ("fine grit", "hairs", "fly")},
                schools=("cut-polish",),
            ),
            Link("dusty-work", 2, "sand-recoat", {"what": ("fine grit",)}, schools=("cut-polish",)),
            Link("loose-bristles", 1, "sand-recoat", {"what": ("bristles",)}),
        ),
        "fly",
    ),
    Trouble(
        "drips",
        "Drips and runs",
        "Beads under the edge.",
        (_q("where", "Where?", "underside: under the edge", "edge with tape: in torn tape"),),
        (
            Link("no-tape", 3, "cut-drips", {"where": ("underside",)}),
            Link("peeled-late", 1, "cut-drips", {"where": ("edge with tape",)}),
        ),
    ),
    Trouble(
        "scorch",
        "Scorched",
        "Brown or wrinkled spot.",
        (_q("look", "What is seen?", "brown spot", "wrinkled: wrinkled skin"),),
        (Link("flame-close", 3, "sand-recoat", {"look": ("brown spot", "wrinkled")}),),
    ),
    Trouble(
        "dents",
        "Dents and prints",
        "Marks in the surface.",
        (
            _q(
                "what",
                "What made it?",
                "stick or nail: a test",
                "print of the cover",
                "tool marks: a tool when it came out",
            ),
        ),
        (
            Link("young", 3, "heal", {"what": ("stick or nail",)}),
            Link(
                "cover-touched", 2, "sand-recoat", {"what": ("print of the cover",)}, schools=("cut-polish",)
            ),
            Link("early-demould", 2, "heal", {"what": ("tool marks",)}),
        ),
    ),
    Trouble(
        "glitter",
        "Glitter risen or sunk",
        "It is not where it was.",
        (_q("where", "Where is it now?", "top: at the top", "bottom: at the bottom", "stripe: in a stripe"),),
        (
            Link("too-thin", 3, "sand-recoat", {"where": ("bottom",)}),
            Link("turned-slowly", 2, "sand-recoat", {"where": ("stripe",)}),
            Link("carried-up", 2, "sand-recoat", {"where": ("top",)}),
        ),
    ),
)
