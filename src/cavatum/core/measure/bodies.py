"""How much one embedded thing displaces, by whichever way it was measured. Rule 2.2."""

from __future__ import annotations

import math

from ..common.working import Input
from ..piece.parts import Inclusion, Size


def size_volume(size: Size) -> float:
    """Volume [m3] of one thing by its three sides.

        block l w h,   egg pi l w h / 6 (ellipsoid),   rod lying along its length pi w h l / 4 (elliptic
        cylinder)

    size  length, width and height [m], each > 0, and the form
    Raises nothing. Exact for the three forms. Source: solid geometry, in any handbook.
    """
    box = size.length_m.value * size.width_m.value * size.height_m.value
    return box * {"block": 1.0, "egg": math.pi / 6, "rod": math.pi / 4}[size.form]


def each_volume(thing: Inclusion) -> float:
    """Volume [m3] of one of several alike.

        V = V_told / sample,   or by its size,   or m / (rho sample)

    thing  what was told: a volume [m3] (stated, or water displaced by `sample` together), a size [m], or a
           mass [kg] with a density [kg/m3]
    Raises nothing: the document refuses a thing of which none is told. Valid for things alike. Source: by
    definition.
    """
    if thing.size_m is not None:
        return size_volume(thing.size_m)
    if thing.mass_kg is not None and thing.density_kg_m3 is not None:
        return thing.mass_kg.value / thing.density_kg_m3.value / thing.sample
    assert thing.volume_m3 is not None  # the document's own check
    return thing.volume_m3.value / thing.sample


def body_inputs(thing: Inclusion) -> list[Input]:
    """The readings its volume rests on."""
    name = f"{thing.count} × {thing.name}"
    together = f", {thing.sample} together" if thing.sample > 1 else ""
    if thing.size_m is not None:
        return [
            getattr(thing.size_m, f"{side}_m").as_input(f"{name}: {side} ({thing.size_m.form})")
            for side in ("length", "width", "height")
        ]
    if thing.mass_kg is not None and thing.density_kg_m3 is not None:
        return [
            thing.mass_kg.as_input(f"{name}: mass{together}"),
            thing.density_kg_m3.as_input(f"{name}: density"),
        ]
    assert thing.volume_m3 is not None
    return [
        thing.volume_m3.as_input(
            f"{name}, {'each' if thing.sample == 1 else 'together ' + str(thing.sample)}"
        )
    ]
