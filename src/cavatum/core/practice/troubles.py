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


@dataclass(frozen=True, kw_only=True)
class Cause:
    """facts: of the record (or told) that speak for it; against: that speak against it; next_time: what to
    change.
    """

    title: str
    why: str
    next_time: str
    facts: tuple[str, ...] = ()
    against: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Link:
    """A cause of one trouble: expects {question: usual answers}; back: the way back; schools: other cures
    that makers swear by.
    """

    cause: str
    common: float
    back: str
    expects: dict[str, tuple[str, ...]] = field(default_factory=dict)
    schools: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
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
    "no-wood": "there is no wood in it or round it",
    "tested-hard": "its hardness was tested and passed",
    "wiped": "it was wiped before",
    "saw-landed": "the camera saw something land",
    "saw-bubbles": "the camera saw bubbles rise",
    "saw-leak": "the camera saw it run off",
    "saw-creep": "the camera saw the wet edge creep",
    "saw-float": "the camera saw something move or rise",
    "saw-bare": "the camera saw the film draw back from a spot",
}


def _q(code: str, ask: str, *answers: str) -> Question:
    return Question(code, ask, tuple((words.split(": ")[0], words.split(": ")[-1]) for words in answers))


CAUSES: dict[str, Cause] = {
    "off-ratio": Cause(
        title="Ratio off",
        why="One part has nothing left to react with.",
        next_time="Weigh both parts on a scale that reads to a tenth of a gram; look twice whether the "
        "ratio is by "
        "weight or by volume.",
        facts=("ratio-off", "ratio-unknown"),
    ),
    "unmixed": Cause(
        title="Not stirred through",
        why="What clings to wall and bottom of the cup never met the other part.",
        next_time="Stir for the sheet's time, scrape wall and bottom, change the cup; never scrape the "
        "last film out.",
        facts=("stir-short", "second-cup-left-out"),
    ),
    "cold": Cause(
        title="Too cold to cure",
        why="⟦10 K⟧ cooler takes about twice as long.",
        next_time="Warm room, resin and piece the day before, and keep them so.",
        facts=("room-cold",),
    ),
    "young": Cause(
        title="Too young",
        why="It is on its way and not there.",
        next_time="Go by the test, not by the clock: nail at the edge, read at once.",
        facts=("tested-early", "layer-thin"),
        against=("tested-hard",),
    ),
    "blush": Cause(
        title="Film from damp air",
        why="Damp air makes a waxy film on some resins while they cure.",
        next_time="Keep the surface ⟦3 K⟧ above the dew point; wash with warm water before the next coat.",
        facts=("humid",),
    ),
    "too-much-colour": Cause(
        title="Too much colour",
        why="Liquid dye does not cure and keeps the resin soft.",
        next_time="Stay under the sheet's limit; powders rather than liquids.",
        facts=("colour-much",),
    ),
    "old-resin": Cause(
        title="Old resin",
        why="The second part takes up air and water once opened.",
        next_time="Date the bottle when it is opened; try a few grams first.",
        facts=("resin-old",),
    ),
    "wood-air": Cause(
        title="Air out of the wood",
        why="Wood breathes out while it warms.",
        next_time="Seal first, pour on cooling wood, fill in thirds.",
        facts=("not-sealed", "wood-wet"),
        against=("no-wood",),
    ),
    "stirred-in": Cause(
        title="Air stirred in",
        why="A fast paddle folds air in.",
        next_time="Stir by hand or slowly, let it rest, pour a thin stream.",
        facts=("stirred-by-drill", "no-rest"),
    ),
    "cold-thick": Cause(
        title="Cold, thick resin",
        why="Thick resin lets nothing rise.",
        next_time="Warm the closed bottles in a bath for a quarter of an hour, and dry them.",
        facts=("room-cold", "stored-cold"),
    ),
    "too-deep-for-bubbles": Cause(
        title="Too deep for its bubbles",
        why="Bubbles rise a few millimetres before it thickens.",
        next_time="Thinner layers, or a thinner resin.",
        facts=("layer-deep-for-bubbles",),
    ),
    "trapped-air": Cause(
        title="Air under or in the things",
        why="Flat and hollow things carry their air with them.",
        next_time="Wet them with resin first, lay them on a base layer at a slant, vent what is hollow.",
        facts=("no-base-layer", "hollow-thing"),
    ),
    "moisture-foam": Cause(
        title="Water in fast resin",
        why="Water makes gas of one of its parts.",
        next_time="Oven-dry the wood, dry colours only, close the bottles at once.",
        facts=("resin-polyurethane", "wood-wet"),
    ),
    "boiled": Cause(
        title="It boiled",
        why="Past about ⟦100 °C⟧ what is in it turns to gas.",
        next_time="Thinner layers, a cooler room, less insulation.",
        facts=("peak-over", "layer-deep"),
    ),
    "skin-early": Cause(
        title="Rounds left out or too late",
        why="A skin holds what still rises.",
        next_time="A short, moving pass at once, at a quarter and at half an hour.",
        facts=("rounds-left-out",),
    ),
    "pressure-lost": Cause(
        title="Pressure late, or off too soon",
        why="Bubbles that were pressed small grow again.",
        next_time="Lid closed within the working time, and left until it has set.",
        facts=("pressure-late",),
    ),
    "wet-wood": Cause(
        title="Wet wood",
        why="Water goes into the resin and clouds it.",
        next_time="Below about 10 to 12 % before a pour, and sealed.",
        facts=("wood-wet",),
        against=("no-wood",),
    ),
    "fine-air": Cause(
        title="Fog of fine air",
        why="Beads too small to see one by one.",
        next_time="Stir slowly, let it rest, warm it a little.",
        facts=("stirred-by-drill",),
    ),
    "crystals": Cause(
        title="Crystals in part A",
        why="Cold storage lets it crystallise.",
        next_time="Warm the closed bottle to about ⟦50 °C⟧ until it is clear, let it cool, stir.",
        facts=("stored-cold",),
    ),
    "scratches": Cause(
        title="Fine scratches",
        why="A sanded face scatters light.",
        next_time="Go on along the grit ladder, then polish; spirit shows how it will look.",
        facts=("sanded",),
    ),
    "silicone": Cause(
        title="Silicone, wax or polish",
        why="Resin draws back from it.",
        next_time="Sand, then wipe with alcohol both ways, edges too; try one drop first.",
        facts=("not-wiped",),
        against=("wiped",),
    ),
    "grease": Cause(
        title="Grease of skin",
        why="A finger mark is enough.",
        next_time="Clean gloves from the last wipe on.",
        facts=("not-wiped",),
        against=("wiped",),
    ),
    "thin-film": Cause(
        title="Film too thin",
        why="Under a few tenths of a millimetre it draws together.",
        next_time="Plan the film, weigh what goes on.",
        facts=("film-thin",),
    ),
    "too-deep": Cause(
        title="Poured too deep",
        why="Heat cannot get out of the middle.",
        next_time="Split the pour; look at the predicted peak before.",
        facts=("layer-deep", "peak-over", "batch-large"),
    ),
    "early-recoat": Cause(
        title="Poured again too early",
        why="The layer below still had its heat to give.",
        next_time="Wait for the window: past gel, and cooled.",
        facts=("recoat-early",),
    ),
    "warm-room": Cause(
        title="Too warm a room",
        why="Each ⟦10 K⟧ warmer makes heat about twice as fast.",
        next_time="Pour in the cool of the day; see how warm the room may get.",
        facts=("room-warm",),
    ),
    "left-in-cup": Cause(
        title="Left in the cup",
        why="A full cup keeps its heat in.",
        next_time="Smaller batches; pour or spread out at once.",
        facts=("batch-large",),
    ),
    "sunlight": Cause(
        title="Sunlight",
        why="Light yellows resins.",
        next_time="Keep it out of the sun; say so in the care note.",
        facts=(),
    ),
    "late-recoat": Cause(
        title="Poured again too late",
        why="Cured resin takes no new layer by itself.",
        next_time="Into the bond window, or sand dull all over and wipe.",
        facts=("recoat-late", "not-sanded"),
    ),
    "dirty-between": Cause(
        title="Dust or grease between layers",
        why="What lies on the layer is what the next one sticks to.",
        next_time="Dust off and wipe, clean gloves, cover in between.",
        facts=("not-wiped", "dusty-work"),
        against=("wiped",),
    ),
    "other-tint": Cause(
        title="Another tint",
        why="Colour mixed by eye cannot be matched.",
        next_time="Weigh colours, mix enough at once.",
        facts=("colour-by-eye",),
    ),
    "hot-shrink": Cause(
        title="Got hot and shrank",
        why="What sets hot shrinks as it cools.",
        next_time="Thinner layers, cooler room; roughen and seal walls that should hold.",
        facts=("peak-over", "layer-deep"),
    ),
    "wood-moved": Cause(
        title="The wood moved",
        why="Wood that dries after the pour shrinks away.",
        next_time="Dry it to the room it will live in.",
        facts=("wood-wet",),
        against=("no-wood",),
    ),
    "release-on-wall": Cause(
        title="Wax or release on the wood",
        why="Resin does not bond to it.",
        next_time="Release on the form only, gloves changed after.",
        facts=("release-on-piece",),
    ),
    "not-held": Cause(
        title="Not held down",
        why="Lighter than resin.",
        next_time="Base layer first, then pins, glue or weights as computed.",
        facts=("not-held", "no-base-layer", "saw-float"),
    ),
    "air-below": Cause(
        title="Air below it lifted it",
        why="A bubble under a flat thing is a float.",
        next_time="Wet both sides, lay it on at a slant.",
        facts=("hollow-thing",),
    ),
    "joint-leak": Cause(
        title="A joint leaks",
        why="Thin resin finds a way where water takes hours.",
        next_time="Seal inside and outside; leak test with water, and dry it.",
        facts=("leak-test-left-out", "saw-leak"),
    ),
    "porous": Cause(
        title="Through the grain",
        why="End grain and worm holes are pipes.",
        next_time="Seal all faces that touch resin, underside too.",
        facts=("not-sealed",),
    ),
    "tilt": Cause(
        title="Not level",
        why="Free liquid goes to the low side.",
        next_time="Level on both axes, wait, look again.",
        facts=("level-off", "saw-creep"),
    ),
    "overfull": Cause(
        title="Overfilled",
        why="More went in than the hollow takes.",
        next_time="Stop at the fill line; know where the rest goes before pouring.",
        facts=("overfilled",),
    ),
    "poured-too-cool": Cause(
        title="Poured too cool to stay apart",
        why="Thin and cool, colours run into each other.",
        next_time="Pour at the sheet's temperature; split the cups ⟦3 K⟧ early.",
        facts=("poured-cool",),
    ),
    "too-thin": Cause(
        title="Too thin when poured",
        why="In thin resin all moves for hours.",
        next_time="Let it thicken in the cup first: 10 to 15 min for a coating resin, hours for a slow one.",
        facts=("no-rest",),
    ),
    "lumps": Cause(
        title="Dry lumps of powder",
        why="Dry powder keeps air inside.",
        next_time="Wet it with a little of part A, crush, then the rest.",
        facts=("colour-dry",),
    ),
    "settled": Cause(
        title="Powder sank",
        why="Heavy powder in slow resin keeps sinking for days.",
        next_time="Finer or less powder, thicker when poured, thinner layers.",
        facts=("no-rest",),
    ),
    "soak": Cause(
        title="Soaked in",
        why="Bark and end grain drink for an hour.",
        next_time="Seal, or plan the soak and keep some back for topping up.",
        facts=("soak-unknown", "not-sealed"),
    ),
    "short-mix": Cause(
        title="Too little mixed",
        why="A volume in fluid ounces weighed as ounces is an eighth short.",
        next_time="Let the plan give grams; say which ounce.",
        facts=("short-mix",),
    ),
    "shrinkage": Cause(
        title="Shrank as it cured",
        why="Two or three in a hundred.",
        next_time="Overfill and sand off, or top up.",
        facts=(),
    ),
    "burst-bubbles": Cause(
        title="Bubbles burst late",
        why="The film had no flow left to close.",
        next_time="Rounds to the end, a last look at one hour.",
        facts=("rounds-left-out", "saw-bubbles"),
    ),
    "uncovered": Cause(
        title="Not covered",
        why="Dust and hair come down for hours.",
        next_time="Lid cleaned inside and at hand before mixing.",
        facts=("cover-left-out", "saw-landed"),
    ),
    "dusty-work": Cause(
        title="Dusty work nearby",
        why="What flies now lands in an hour.",
        next_time="No sanding three hours before and after.",
        facts=("dusty-work",),
    ),
    "loose-bristles": Cause(
        title="Loose bristles",
        why="New brushes lose hair.",
        next_time="Pull them out over tape first.",
        facts=("loose-bristles",),
    ),
    "no-tape": Cause(
        title="Nothing to catch drips",
        why="Resin runs under and hangs.",
        next_time="Tape the underside, or wipe every ten minutes while they run.",
        facts=("tape-left-out",),
    ),
    "peeled-late": Cause(
        title="Tape peeled late",
        why="Cured resin holds it.",
        next_time="Peel while gummy, or cut along it first.",
        facts=("peel-late",),
    ),
    "flame-close": Cause(
        title="Flame too near or too long",
        why="It burns within a second on one spot.",
        next_time="Short and moving, from far.",
        facts=("solvent-near",),
    ),
    "cover-touched": Cause(
        title="Something touched it",
        why="Tacky for hours.",
        next_time="Blocks under the cover; a note on the door.",
        facts=("cover-touched",),
    ),
    "early-demould": Cause(
        title="Out of the form too early",
        why="It bends and marks.",
        next_time="Nail test at the edge before.",
        facts=("tested-early",),
        against=("tested-hard",),
    ),
    "turned-slowly": Cause(
        title="Turned too slowly, or stopped",
        why="The film runs to the low side, and takes all with it.",
        next_time="Turn steadily until it has gelled.",
        facts=("turned-slowly",),
    ),
    "carried-up": Cause(
        title="Carried up by air",
        why="Air clings to flakes.",
        next_time="Wet the glitter first, let it rest, thin layers.",
        facts=("no-rest",),
    ),
}

TROUBLES: tuple[Trouble, ...] = (
    Trouble(
        code="soft",
        title="Sticky or soft",
        look="It will not get hard.",
        questions=(
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
                "Warm one corner to ⟦35 to 40 °C⟧ for two hours. Then?",
                "harder: it got harder",
                "same: no change",
            ),
        ),
        links=(
            Link(
                cause="off-ratio",
                common=3,
                back="take-out",
                expects={"where": ("all over",), "feel": ("sticky", "rubbery"), "warm": ("same",)},
                schools=("scrape-recoat",),
            ),
            Link(
                cause="unmixed",
                common=3,
                back="scrape-recoat",
                expects={"where": ("patches",), "feel": ("sticky",), "warm": ("same",)},
                schools=("coat-over",),
            ),
            Link(
                cause="cold",
                common=3,
                back="warm-wait",
                expects={"where": ("all over",), "feel": ("sticky", "rubbery"), "warm": ("harder",)},
                schools=("coat-over",),
            ),
            Link(
                cause="young",
                common=2,
                back="warm-wait",
                expects={"where": ("all over",), "feel": ("dents warm", "rubbery"), "warm": ("harder",)},
            ),
            Link(
                cause="blush",
                common=1,
                back="wash",
                expects={"where": ("surface",), "feel": ("greasy",), "warm": ("same",)},
            ),
            Link(
                cause="too-much-colour",
                common=1,
                back="take-out",
                expects={"where": ("all over",), "feel": ("rubbery",), "warm": ("same",)},
            ),
            Link(
                cause="old-resin",
                common=0.7,
                back="take-out",
                expects={"where": ("all over",), "feel": ("sticky",), "warm": ("same",)},
            ),
        ),
    ),
    Trouble(
        code="bubbles",
        title="Bubbles in it or on it",
        look="Beads, foam, pinholes.",
        questions=(
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
        links=(
            Link(
                cause="wood-air",
                common=3,
                back="drill-seal-fill",
                expects={
                    "where": ("at wood",),
                    "size": ("strings", "few large"),
                    "came": ("when it warmed", "first hour"),
                },
                schools=("sand-recoat",),
            ),
            Link(
                cause="stirred-in",
                common=3,
                back="drill-fill",
                expects={"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                cause="cold-thick",
                common=2,
                back="drill-fill",
                expects={"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                cause="too-deep-for-bubbles",
                common=1.5,
                back="drill-fill",
                expects={"where": ("all through",), "size": ("fine",), "came": ("first hour",)},
            ),
            Link(
                cause="trapped-air",
                common=1.5,
                back="drill-fill",
                expects={"where": ("under things",), "size": ("few large", "strings")},
            ),
            Link(
                cause="moisture-foam",
                common=1,
                back="take-out",
                expects={"where": ("all through", "at wood"), "size": ("foam",), "came": ("first hour",)},
            ),
            Link(
                cause="boiled",
                common=1,
                back="cut-out",
                expects={"where": ("all through",), "size": ("foam",), "came": ("when it warmed",)},
            ),
            Link(
                cause="skin-early",
                common=1.5,
                back="sand-recoat",
                expects={"where": ("at surface",), "size": ("fine",), "came": ("first hour",)},
                schools=("drill-fill",),
            ),
            Link(
                cause="pressure-lost",
                common=0.7,
                back="none",
                expects={"where": ("all through",), "came": ("after release",)},
            ),
        ),
        mishap="bubbles",
    ),
    Trouble(
        code="milky",
        title="Milky or dull",
        look="It should be clear.",
        questions=(
            _q("where", "Where?", "near wood", "surface: on the surface", "all through"),
            _q("wipe", "Wipe it with warm water. Then?", "goes: it goes", "stays: it stays"),
            _q("spirit", "Wet it with white spirit. Then?", "clears: it looks clear", "stays: it stays dull"),
        ),
        links=(
            Link(
                cause="wet-wood",
                common=3,
                back="seal-dry-recoat",
                expects={"where": ("near wood",), "wipe": ("stays",), "spirit": ("stays",)},
            ),
            Link(
                cause="blush",
                common=2,
                back="wash",
                expects={"where": ("surface",), "wipe": ("goes",), "spirit": ("clears",)},
            ),
            Link(
                cause="fine-air",
                common=2,
                back="none",
                expects={"where": ("all through",), "wipe": ("stays",), "spirit": ("stays",)},
                schools=("sand-recoat",),
            ),
            Link(
                cause="crystals",
                common=0.7,
                back="none",
                expects={"where": ("all through",), "wipe": ("stays",), "spirit": ("stays",)},
            ),
            Link(
                cause="scratches",
                common=2,
                back="polish",
                expects={"where": ("surface",), "wipe": ("stays",), "spirit": ("clears",)},
            ),
        ),
    ),
    Trouble(
        code="fisheyes",
        title="Craters, fish eyes",
        look="Round bare spots.",
        questions=(
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
        links=(
            Link(
                cause="silicone",
                common=3,
                back="sand-wipe-recoat",
                expects={
                    "pattern": ("same places",),
                    "again": ("came back",),
                    "before": ("paint or polish",),
                },
            ),
            Link(
                cause="grease",
                common=2,
                back="sand-wipe-recoat",
                expects={"pattern": ("same places",), "again": ("came back",), "before": ("hands",)},
            ),
            Link(
                cause="thin-film",
                common=2,
                back="sand-recoat",
                expects={"pattern": ("pulled together",), "again": ("closed",), "before": ("nothing",)},
                schools=("spread-again",),
            ),
            Link(
                cause="blush",
                common=1,
                back="wash-recoat",
                expects={"pattern": ("all over",), "again": ("came back",), "before": ("coat on coat",)},
            ),
        ),
        mishap="fisheyes",
    ),
    Trouble(
        code="boiled",
        title="Boiled, cracked or yellowed",
        look="Foam, smoke, cracks, amber.",
        questions=(
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
        links=(
            Link(
                cause="too-deep",
                common=3,
                back="cut-out",
                expects={
                    "what": ("foam or smoke", "cracks"),
                    "came": ("within hours",),
                    "where": ("middle",),
                },
            ),
            Link(
                cause="early-recoat",
                common=2,
                back="cut-out",
                expects={
                    "what": ("cracks", "foam or smoke"),
                    "came": ("within hours",),
                    "where": ("under the next layer",),
                },
            ),
            Link(
                cause="warm-room",
                common=1.5,
                back="cut-out",
                expects={"what": ("foam or smoke",), "came": ("within hours",), "where": ("middle",)},
            ),
            Link(
                cause="left-in-cup",
                common=2,
                back="cup",
                expects={"what": ("foam or smoke",), "came": ("within hours",), "where": ("cup",)},
            ),
            Link(
                cause="sunlight",
                common=1,
                back="sand-recoat",
                expects={"what": ("yellow",), "came": ("months later",), "where": ("window side",)},
            ),
        ),
        mishap="smoke",
    ),
    Trouble(
        code="line",
        title="A line, or layers parting",
        look="One layer shows on the other.",
        questions=(
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
        links=(
            Link(
                cause="late-recoat",
                common=3,
                back="part-rebond",
                expects={"bond": ("parted",), "look": ("bright line",)},
                schools=("none",),
            ),
            Link(
                cause="dirty-between",
                common=2,
                back="part-rebond",
                expects={"bond": ("chips off", "parted"), "look": ("dusty line",)},
            ),
            Link(
                cause="other-tint",
                common=1,
                back="none",
                expects={"bond": ("sound",), "look": ("colour step",)},
            ),
        ),
    ),
    Trouble(
        code="pulled",
        title="Pulled from the wall",
        look="A gap between resin and wall.",
        questions=(
            _q("side", "Where is the gap?", "all round", "at wood", "one wall: at one wall"),
            _q("came", "When did it come?", "when it cooled", "weeks later"),
        ),
        links=(
            Link(
                cause="hot-shrink",
                common=3,
                back="fill-gap",
                expects={"side": ("all round",), "came": ("when it cooled",)},
            ),
            Link(
                cause="wood-moved",
                common=2,
                back="fill-gap",
                expects={"side": ("at wood",), "came": ("weeks later",)},
            ),
            Link(
                cause="release-on-wall",
                common=1,
                back="fill-gap",
                expects={"side": ("one wall",), "came": ("when it cooled",)},
            ),
        ),
    ),
    Trouble(
        code="floated",
        title="Something floated up",
        look="It is not where it was laid.",
        questions=(
            _q("when", "When did it rise?", "during the pour", "later: an hour or more later"),
            _q(
                "thing",
                "What is it?",
                "light: light, like cork or a dry plant",
                "flat: a leaf or something flat",
                "heavy: something heavy",
            ),
        ),
        links=(
            Link(
                cause="not-held",
                common=3,
                back="refill",
                expects={"when": ("during the pour", "later"), "thing": ("light",)},
            ),
            Link(
                cause="air-below", common=1.5, back="refill", expects={"when": ("later",), "thing": ("flat",)}
            ),
        ),
        mishap="float",
    ),
    Trouble(
        code="ran",
        title="Run over or leaked",
        look="It is where it should not be.",
        questions=(
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
        links=(
            Link(
                cause="joint-leak",
                common=3,
                back="stop-refill",
                expects={"where": ("joint",), "came": ("slowly",)},
            ),
            Link(
                cause="porous",
                common=1.5,
                back="stop-refill",
                expects={"where": ("through grain",), "came": ("slowly",)},
            ),
            Link(
                cause="tilt",
                common=2,
                back="level-refill",
                expects={"where": ("low side",), "came": ("at once", "slowly")},
            ),
            Link(
                cause="overfull",
                common=1,
                back="scrape-edge",
                expects={"where": ("over the dam",), "came": ("at once",)},
            ),
        ),
        mishap="leak",
    ),
    Trouble(
        code="colours",
        title="Colours blended, lumps, a band",
        look="Colours came out wrong.",
        questions=(
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
        links=(
            Link(
                cause="poured-too-cool",
                common=2,
                back="none",
                expects={"look": ("blended",), "resin": ("fast",)},
            ),
            Link(cause="too-thin", common=2, back="none", expects={"look": ("blended",), "resin": ("slow",)}),
            Link(cause="lumps", common=2, back="sand-recoat", expects={"look": ("specks",)}),
            Link(cause="other-tint", common=2, back="none", expects={"look": ("step",)}),
            Link(
                cause="settled",
                common=1.5,
                back="none",
                expects={"look": ("darker below",), "resin": ("slow",)},
            ),
        ),
    ),
    Trouble(
        code="low",
        title="Too low, dimples",
        look="It does not reach the rim.",
        questions=(
            _q("shape", "Where is it low?", "near wood", "all over", "one side", "dimples: small round pits"),
            _q("came", "When?", "at once: at once", "while liquid", "after cure"),
        ),
        links=(
            Link(
                cause="soak",
                common=3,
                back="top-up",
                expects={"shape": ("near wood",), "came": ("while liquid",)},
            ),
            Link(
                cause="short-mix",
                common=2,
                back="top-up",
                expects={"shape": ("all over",), "came": ("at once",)},
            ),
            Link(
                cause="shrinkage",
                common=2,
                back="top-up",
                expects={"shape": ("all over", "near wood"), "came": ("after cure",)},
                schools=("sand-down",),
            ),
            Link(cause="tilt", common=2, back="top-up", expects={"shape": ("one side",)}),
            Link(
                cause="burst-bubbles",
                common=1.5,
                back="drill-fill",
                expects={"shape": ("dimples",), "came": ("after cure", "while liquid")},
                schools=("sand-recoat",),
            ),
        ),
    ),
    Trouble(
        code="dust",
        title="Dust, hair, a fly",
        look="Something landed in it.",
        questions=(_q("what", "What is it?", "fine grit", "hairs: lint or hair", "bristles", "fly"),),
        links=(
            Link(
                cause="uncovered",
                common=3,
                back="sand-recoat",
                expects={"what": ("fine grit", "hairs", "fly")},
                schools=("cut-polish",),
            ),
            Link(
                cause="dusty-work",
                common=2,
                back="sand-recoat",
                expects={"what": ("fine grit",)},
                schools=("cut-polish",),
            ),
            Link(cause="loose-bristles", common=1, back="sand-recoat", expects={"what": ("bristles",)}),
        ),
        mishap="fly",
    ),
    Trouble(
        code="drips",
        title="Drips and runs",
        look="Beads under the edge.",
        questions=(_q("where", "Where?", "underside: under the edge", "edge with tape: in torn tape"),),
        links=(
            Link(cause="no-tape", common=3, back="cut-drips", expects={"where": ("underside",)}),
            Link(cause="peeled-late", common=1, back="cut-drips", expects={"where": ("edge with tape",)}),
        ),
    ),
    Trouble(
        code="scorch",
        title="Scorched",
        look="Brown or wrinkled spot.",
        questions=(_q("look", "What is seen?", "brown spot", "wrinkled: wrinkled skin"),),
        links=(
            Link(
                cause="flame-close",
                common=3,
                back="sand-recoat",
                expects={"look": ("brown spot", "wrinkled")},
            ),
        ),
    ),
    Trouble(
        code="dents",
        title="Dents and prints",
        look="Marks in the surface.",
        questions=(
            _q(
                "what",
                "What made it?",
                "stick or nail: a test",
                "print of the cover",
                "tool marks: a tool when it came out",
            ),
        ),
        links=(
            Link(cause="young", common=3, back="heal", expects={"what": ("stick or nail",)}),
            Link(
                cause="cover-touched",
                common=2,
                back="sand-recoat",
                expects={"what": ("print of the cover",)},
                schools=("cut-polish",),
            ),
            Link(cause="early-demould", common=2, back="heal", expects={"what": ("tool marks",)}),
        ),
    ),
    Trouble(
        code="glitter",
        title="Glitter risen or sunk",
        look="It is not where it was.",
        questions=(
            _q(
                "where", "Where is it now?", "top: at the top", "bottom: at the bottom", "stripe: in a stripe"
            ),
        ),
        links=(
            Link(cause="too-thin", common=3, back="sand-recoat", expects={"where": ("bottom",)}),
            Link(cause="turned-slowly", common=2, back="sand-recoat", expects={"where": ("stripe",)}),
            Link(cause="carried-up", common=2, back="sand-recoat", expects={"where": ("top",)}),
        ),
    ),
)
