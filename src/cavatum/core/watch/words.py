"""What was seen, in words that say what to do."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.wording import Wording
from .seen import SIDES, Flaw, Kind, Seen

URGENT: frozenset[Kind] = frozenset({"smoke", "leak"})
QUIET: frozenset[Kind] = frozenset({"flows", "still"})  # how it goes: nobody has to come


def words_of(seen: Seen, wording: Wording) -> str:
    """One sentence to be told by.

    Raises nothing. Valid for what a Watcher tells. Source: common practice for what to do; own words.
    """
    said = _PLAIN.get(seen.kind) or _placed(seen, wording)
    return said if seen.sure else f"Perhaps: {said[0].lower()}{said[1:]}"


_PLAIN: dict[Kind, str] = {
    "smoke": "The picture turns hazy: smoke or fumes. Look at once",
    "covered": "Something lies over the piece: the camera sees too little of it",
    "moved": "The camera was moved: mark the piece again",
    "still": "The colour stands still: it has levelled or begins to gel. It is not hard yet",
    "blind": "The camera sees nothing: too dark, or its lens is covered",
}


def _placed(seen: Seen, wording: Wording) -> str:
    where = _where(seen, wording)
    size = wording.length(seen.size_m)
    if seen.kind == "bubbles":
        many = f"{seen.count} new bubbles" if seen.count > 1 else "A new bubble"
        return f"{many}, {where}: time for a flame round"
    if seen.kind == "creep":
        return f"The wet edge creeps out {size} {where}: this side is low. Lay the level on and shim it"
    if seen.kind == "leak" and seen.side is not None:
        return f"The wet edge draws back {size} {where}: it runs off somewhere. Look below at once"
    if seen.kind == "leak":
        return f"Resin beside the piece, {where}: it leaks"
    if seen.kind == "bare":
        return f"A crater or bare spot, {where}, about {size}: spread the film over it while it is liquid"
    if seen.kind == "flows":
        return f"The colour still moves, about {size} a minute: it still flows"
    if seen.kind == "landed":
        return f"Something landed, {where}, about {size}: take it out with tweezers while it is liquid"
    return f"Something in it moved or rises, {where}: push it down and hold it"


def _where(seen: Seen, wording: Wording) -> str:
    if seen.side is not None:
        return f"on the {SIDES[seen.side]} side"
    if seen.place_m is None:
        return "on the piece"
    right, near = (wording.length(abs(value)) for value in seen.place_m)
    return f"{right} from the left and {near} from the far side"


_FLAWS = {
    "raised": ("raised (dust, grit)", "raised (dust, grit)"),
    "dip": ("dip (crater, pit)", "dips (craters, pits)"),
    "hair": ("hair or scratch", "hairs or scratches"),
}


def flaw_words(flaws: Sequence[Flaw], when: str) -> str:
    """What a photo in low side light shows, counted. Raises nothing. Exact. Source: own words."""
    if not flaws:
        return f"Nothing stands out {when}"
    counts = [(kind, sum(one.kind == kind for one in flaws)) for kind in _FLAWS]
    told = ", ".join(f"{many} {_FLAWS[kind][many > 1]}" for kind, many in counts if many)
    return f"{len(flaws)} {'spot' if len(flaws) == 1 else 'spots'} {when}: {told}"
