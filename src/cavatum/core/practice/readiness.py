"""Ready before mixing: what is at hand, per kind of work. Common practice, no source. Rules 1.4, 1.7, 1.8,
1.9.
"""

from __future__ import annotations

ALWAYS = (
    ("gloves", "Gloves on, spare pair open; eyes covered"),
    ("cover", "Cover to hand, clean inside"),
    ("sticks", "Stirring sticks, one more than batches; loose bristles pulled from brushes"),
    ("cups", "Clean second cup for every batch"),
    ("shims", "Shims beside the piece, level checked"),
    ("phone", "Phone out of the way, or hands-free"),
    ("children", "Children and animals out"),
    ("rags", "Rags, catch sheet below, waste tin away from anything that burns"),
    ("plan", "Amounts of the first batch read aloud once"),
)
STILL_AIR = (
    "air",
    "Fans off over the piece, extraction away from it; leave the room as soon as you have poured",
)
FAN = ("air", "Extraction on, piece covered against its dust")
FLAME = ("flame", "Flame or heat gun to hand; alcohol and solvents closed and out of the room")
OFF_THE_BENCH = ("raised", "Raised at least ⟦5 cm⟧ on cones, pins or cups")
LEAKS = ("leak", "Form leak-tested, dry again, sealant at hand for a leak")
HELD = ("held", "Everything that floats is held down")
VESSEL = ("vessel", "Vessel inspected, lid tried with the mould inside, pressure within its rating")

BY_KIND: dict[str, tuple[tuple[str, str], ...]] = {
    "thin coat": (
        OFF_THE_BENCH,
        FLAME,
        ("spreader", "Spreader or brush beside the cup"),
        ("dust", "Surface looked at along the light; tack cloth last"),
    ),
    "flood coat": (
        OFF_THE_BENCH,
        FLAME,
        ("nicks", "Nicks and pores filled in the seal coat"),
        ("dust", "Surface looked at along the light; tack cloth last"),
    ),
    "painted top": (
        OFF_THE_BENCH,
        FLAME,
        ("ink", "Ink and paint dry, tape edges pressed down"),
        ("scale", "Small scale ready, ⟦0.1 g⟧ or finer"),
    ),
    "deep pour": (LEAKS, HELD, FLAME, ("clamps", "Clamps checked, none across the fill line")),
    "block": (LEAKS, HELD, FLAME),
    "crack or knot": (
        ("below", "Tape below, dam above"),
        FLAME,
        ("topup", "A little resin kept for topping up"),
    ),
    "small castings": (
        ("level", "Every mould level in itself"),
        ("inserts", "Inserts counted and laid out in order"),
        FLAME,
    ),
    "carved pockets": (
        ("precoat", "Pockets pre-coated and tacky or cured"),
        ("syringe", "Syringe or fine spout for each colour"),
        FLAME,
    ),
    "rotator": (
        ("spindle", "Spindle level at the rim, runs true"),
        ("band", "Bare band at the lip taped"),
        ("smallscale", "Small scale: ⟦0.5 mL⟧ matters"),
    ),
    "pressure casting": (
        VESSEL,
        ("fit", "Mould fits by diameter and height, lid closes"),
        ("clockhand", "Closing time known: from pour to lid within the working time"),
    ),
    "nested mould": (LEAKS, ("inner", "Inner mould centred and held down"), FLAME),
    "turned work": (LEAKS, HELD, FLAME, ("grip", "Enough length left to grip and turn away")),
    "oil or varnish": (
        ("oily-rags", "Clean cloths laid out; a closed tin with water for oily rags"),
        ("grit", "Wood sanded to 180 or 220, dust off"),
    ),
    "other": (FLAME,),
}


def ready_list(kind_of_work: str, air_school: str, *, pressed: bool = False) -> list[tuple[str, str]]:
    """(code, what to see to) in the order of a last walk round the bench. Unknown kinds get what holds for
    all. pressed: it goes into a chamber, whatever its kind is called: no flame, and the vessel is looked
    over.
    """
    own = [*BY_KIND.get(kind_of_work, ())]
    if pressed and kind_of_work != "pressure casting":
        own = [*(one for one in own if one != FLAME), *BY_KIND["pressure casting"]]
    return [*ALWAYS, *own, FAN if air_school == "fan" else STILL_AIR]
