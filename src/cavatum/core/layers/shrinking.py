"""What becomes of a layer's size: how far its level falls, how hard it pulls once it has gelled, and the gap
where a wall lets go. Rules 2.3, 4.2.
"""

from __future__ import annotations

import numpy as np

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Input, Workbook
from ..cure.kinetics import glass_transition
from ..cure.parameters import ZERO_C_K
from ..cure.shrinkage import cooling_strain, cure_strain, drop_share
from ..heat import kernel
from ..piece.parts import Filled
from .course import Course
from .model import LayerHeat, Shrinks
from .pours import Fill

# Own judgement: resin that cures cool strains by 0.3 %, at 60 degC by 0.7, at 75 by 1; makers see it let go
# of walls and crack from about 70 degC on.
HOLDS = {"wood": 0.009, "metal": 0.007, "glass": 0.007}
STIFF = ("stone", "metal", "glass")
STIFF_HOLDS = 0.007
SOURCE = (
    "volume falls in proportion to the conversion; 65 ppm/K as a glass, 180 ppm/K as a rubber, "
    "5.5 × 10⁻⁴ /K as a liquid (from memory)"
)


def holding_wall(filled: Filled) -> float | None:
    """The strain [-] that what the resin sticks to bears: the least of wall and stiff embedded things.

    filled  with its wall, its form's release and what is in it
    Raises nothing; None where it lets go of the form by design. Valid as a warning only. Source: HOLDS, own
    judgement.
    """
    stiff = any(one.made_of in STIFF for one in filled.embedded)
    released = filled.dam is not None and filled.dam.release != "not said"
    wall = None if released and filled.wall != "wood" else HOLDS.get(filled.wall)
    held = [one for one in (wall, STIFF_HOLDS if stiff else None) if one is not None]
    return min(held, default=None)


def shrinks_of(
    book: Workbook, course: Course, index: int, fill: Fill, name: str, pointer: str
) -> Shrinks | None:
    """None where the layer never gels."""
    layer, room_k = course.layers[index], course.stack.room.by_step_k[0]
    kinetics = layer.cure.kinetics
    gelled_s = course.first(index, kernel.LEAST_CURED, kinetics.gel)
    if gelled_s is None:
        return None
    times, hottest = course.curve(index)
    hot_k = float(hottest[times >= min(gelled_s, times[-1])].max()) + ZERO_C_K
    reached = max(
        float(np.max(done.watched[:, index, kernel.MOST_CURED]))
        for done, layers in course.marches
        if layers > index
    )
    tg_k = glass_transition(kinetics, reached)
    # The sheet's figure is of its own full cure.
    sheet = fill.system.shrinkage
    whole = sheet.value / layer.cure.gates.full_cure
    strain = cure_strain(whole, kinetics.gel, reached) + cooling_strain(hot_k, tg_k, room_k)
    depth = layer.to_m - layer.from_m
    falls = drop_share(whole, reached, layer.began.celsius + ZERO_C_K, room_k)
    inputs = [
        sheet.as_input(f"shrinkage of {fill.system.name}, by volume, at its full cure"),
        Input(name="cured to", value=reached, quantity="fraction", origin="computed"),
        Input(name="depth", value=depth, quantity="length", origin="computed"),
    ]
    pulls = [
        *inputs,
        Input(name="gels at", value=kinetics.gel, quantity="fraction", origin="typical"),
        Input(name="hottest once gelled", value=hot_k - ZERO_C_K, quantity="temperature", origin="computed"),
        Input(
            name="its glass transition then", value=tg_k - ZERO_C_K, quantity="temperature", origin="computed"
        ),
        Input(name="room", value=room_k - ZERO_C_K, quantity="temperature", origin="measured"),
    ]
    poured = Input(name="poured at", value=layer.began.celsius, quantity="temperature", origin="computed")
    strained = book.figure(
        f"{pointer}/strain",
        f"{name}: shrinks once gelled, along each edge",
        strain,
        "fraction",
        "1 − ((1 − s a)/(1 − s a gel))^⅓ + αr (T − Tg) + αg (Tg − T room)",
        pulls,
        SOURCE,
        ["A free body; a wall that holds it is strained by so much."],
    )
    drop = book.figure(
        f"{pointer}/drop",
        f"{name}: level falls, where its walls hold",
        depth * falls,
        "length",
        "depth × (1 − (1 − s a)(1 − β (T poured − T room)))",
        [*inputs, poured],
        SOURCE,
    )
    # A film is a wet film, as every rule of thumb for it is.
    on_top, added = (depth, "depth") if fill.void.is_coat else (depth / (1 - sheet.value), "depth / (1 − s)")
    level = book.figure(
        f"{pointer}/level",
        f"{name}: its level once cold, over its line",
        on_top * (1 - falls) - depth,
        "length",
        f"{added} × (1 − drop / depth) − depth",
        [*inputs, poured, book.computed("drop", drop)],
        SOURCE,
        [
            "A film gets nothing on top for its shrinkage; below 0 it ends low."
            if fill.void.is_coat
            else "The batch has the sheet's shrinkage s added; below 0 it ends low."
        ],
    )
    across = float(course.stack.body.width((layer.from_m + layer.to_m) / 2))
    gap = None
    if not course.stack.body.is_wide:
        gap = book.figure(
            f"{pointer}/gap",
            f"{name}: gap at each side, where the wall lets go",
            strain * across / 2,
            "length",
            "strain × width / 2",
            [
                book.computed("strain", strained),
                Input(name="least width", value=across, quantity="length", origin="computed"),
            ],
            SOURCE,
        )
    return Shrinks(strain=strained, drop=drop, level=level, gap=gap, borne=holding_wall(fill.void))


def shrinking_verdict(called: str, void_name: str, heat: LayerHeat, wording: Wording) -> list[Verdict]:
    """Where it pulls harder than what it sticks to bears; not beside a verdict that it gets too hot, which
    says so too.
    """
    found = heat.shrinks
    if found is None or found.borne is None or heat.peak.value > heat.wanted_c:
        return []
    if found.strain.value <= found.borne:
        return []
    return [
        Verdict(
            weight="warning",
            stage="layers",
            code="pulls-or-cracks",
            rule="4.2",
            title=f"{called.capitalize()} may pull from what it sticks to, or crack",
            text=f"{void_name}: once it has gelled it shrinks by {found.strain.value:.2%} along each edge; "
            f"what it sticks to bears about {found.borne:.1%}. Sharp edges of embedded things crack first.",
            todo="Keep it cooler: pour thinner, or take a slower system; let it cool slowly; round sharp "
            "edges.",
        )
    ]
