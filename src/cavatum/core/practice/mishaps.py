"""What can go wrong in the hour after pouring: first what to do now, then what to write down. Common
practice, no source. Rules 7.2, 7.5, 10.
"""

from __future__ import annotations

from ..common.working import Data


class Mishap(Data):
    """first: in this order, now. then: once it is quiet. grave: people before the piece. while_it_flows:
    what comes
    before all of that as long as the resin flows. trouble: of practice/troubles.py, what it leaves behind.
    """

    code: str
    key: str
    grave: bool
    first: list[str]
    then: list[str]
    while_it_flows: str = ""
    trouble: str = ""


MISHAPS: tuple[Mishap, ...] = (
    Mishap(
        code="smoke",
        key="Cup or piece smokes",
        grave=True,
        first=[
            "Do not breathe it. Everyone out of the fumes, air moving.",
            "Carry it outside only if safe. Set it on stone or metal, away from anything that burns. "
            "Never with bare hands.",
            "Spread it thin on metal or stone; never pour water into hot resin.",
            "If it burns or cannot be carried: leave, close the door, call the fire brigade.",
        ],
        then=[
            "How much was in the cup, and how long.",
            "Infrared reading once it is safe.",
            "Photo when it is cold.",
        ],
        trouble="boiled",
    ),
    Mishap(
        code="leak",
        key="It leaks",
        grave=False,
        first=[
            "Hold a gloved hand or a putty knife on the place.",
            "Sealant, hot glue or tape from outside; press, wait.",
            "Catch what runs; clean resin may go back while it flows.",
            "Look at the level, then at the underside again in ten minutes.",
        ],
        then=[
            "Where it ran out.",
            "How much was lost: weigh the catch sheet.",
            "Top up while it is liquid, from the same mix if there is some.",
        ],
        trouble="ran",
    ),
    Mishap(
        code="over",
        key="It runs over",
        grave=False,
        first=[
            "Stop pouring. Paper towel along the edge, not across.",
            "Take off by spoon or syringe to the fill line.",
            "Raise the low corner a little, wait, look again.",
        ],
        then=["How much was taken off.", "Level reading of both axes."],
        while_it_flows="Push it back with a gloved hand or a scraper, and stir it in where it stands",
        trouble="drips",
    ),
    Mishap(
        code="fly",
        key="Fly, hair, dust",
        grave=False,
        first=[
            "Tweezers or a toothpick, straight up, once.",
            "If liquid, one quick flame pass closes the mark. Gummy already: leave it, it is sanded "
            "out later.",
        ],
        then=["Photo of the place.", "Cover it now."],
        trouble="dust",
    ),
    Mishap(
        code="fisheyes",
        key="Craters, fish eyes",
        grave=False,
        first=[
            "Do not flame them: they open again.",
            "Spread resin into the crater with a gloved finger or brush, twice.",
            "If they keep opening: it is grease or silicone. Let it cure, sand all, wipe, coat again.",
        ],
        then=["Photo.", "What touched the surface before."],
        trouble="fisheyes",
    ),
    Mishap(
        code="dimples",
        key="Dimples, pits",
        grave=False,
        first=[
            "While it flows: a little more resin into each, let it level, one short warm pass from far.",
            "Gummy already: hands off. They are sanded and coated over, not filled now.",
            "All over and round: it is grease, silicone or a cold room; see craters.",
        ],
        then=["Photo along the light.", "How many, and where.", "The room's temperature."],
        trouble="low",
    ),
    Mishap(
        code="bubbles",
        key="Bubbles keep coming",
        grave=False,
        first=[
            "Short warm pass, far and moving; wait five minutes, look again.",
            "From wood: it breathes out while it warms. Cool the room a little, no more flame on it.",
            "Pull large ones up with a toothpick.",
        ],
        then=["Where they come from.", "Was the wood sealed?"],
        trouble="bubbles",
    ),
    Mishap(
        code="float",
        key="Something floats up",
        grave=False,
        first=[
            "Press it down with a clean stick, weight or clamp on it.",
            "If it will not stay: take it out now while it is liquid.",
        ],
        then=["What it was and what held it.", "Photo."],
        trouble="floated",
    ),
    Mishap(
        code="heating",
        key="Power or heating is off",
        grave=False,
        first=[
            "Cover the piece with a box or blanket that does not touch it.",
            "No open heater, no flame to warm the room.",
            "Note the room's temperature now and when it is back.",
        ],
        then=[
            "How long it was off, and the lowest temperature.",
            "Test before every next step. The cure runs slower now: each step comes later than planned.",
        ],
        trouble="soft",
    ),
    Mishap(
        code="skin",
        key="Resin on skin or in the eye",
        grave=True,
        first=[
            "Eye: rinse with water at once, lids open, ten minutes and more; get medical help; take the "
            "safety data sheet along.",
            "Skin: wipe off, soap and water. No solvent.",
            "Follow section 4 of the safety data sheet.",
        ],
        then=["What and how much.", "Who was told."],
    ),
)
