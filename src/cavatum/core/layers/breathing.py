"""Wood that warms while the resin on it is still liquid breathes out into it. Rule 4.3."""

from __future__ import annotations

import numpy as np

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Figure, Input, Workbook
from ..heat import kernel
from .course import Course
from .model import LayerPlan

BREATHES_K = 5.0  # own judgement: air in pores swells by 1.7 % then, and warm wood gives off water
SHOWN_FROM_K = 0.5


def wood_rise(course: Course, index: int) -> float | None:
    """By how much [K] the wood beside and under a layer warms until all of the layer has gelled.

        max over t of (T_wood(t) - T_wood(pouring)),   T_wood the warmest cell next to the resin, a
        fourteenth of a wall's or a floor's thickness from it

    course  with kept states;  index  of the layer
    Raises nothing; None where no wood is beside it, where the layer does not gel, or where no states were
    kept. Valid within the cells' size (6 mm of a 40 mm wall); a floor counts for the first layer only, as
    cured resin seals it. Source: the same run as the plan's.
    """
    layer = course.layers[index]
    gelled_s = course.first(index, kernel.LEAST_CURED, layer.cure.kinetics.gel)
    cells = _wood_beside(course, index)
    kept = [done for done, layers in course.marches if layers > index and len(done.kept_t)]
    if gelled_s is None or not cells or not kept:
        return None
    began = kept[0].kept_t[0, cells]
    warmest = [(done.kept_t[done.times <= gelled_s][:, cells] - began).max(initial=0.0) for done in kept]
    return float(max(warmest))


def _wood_beside(course: Course, index: int) -> list[int]:
    """Cells of wood next to a layer: of its wall, and for the first one of its floor."""
    grid, surround = course.stack.grid, course.stack.surround
    assert grid is not None
    number = grid.layer.reshape(grid.shape)
    solid = (number < 0) & (grid.capacity.reshape(grid.shape) > 0)
    resin = number == index
    beside = np.zeros(grid.shape, bool)
    if surround.wall == "wood":
        beside[:, 1:] |= solid[:, 1:] & resin[:, :-1]
        beside[:, :, 1:] |= solid[:, :, 1:] & resin[:, :, :-1]
    if surround.floor == "wood" and index == 0:
        beside[:-1] |= solid[:-1] & resin[1:]
    return [int(one) for one in np.flatnonzero(beside)]


def wood_rise_figure(
    book: Workbook, course: Course, index: int, name: str, pointer: str, told: list[Input]
) -> Figure | None:
    """The rise, with its working; None where there is none to speak of. told: what stands round it."""
    rise = wood_rise(course, index)
    if rise is None or rise < SHOWN_FROM_K:
        return None
    layer = course.layers[index]
    gelled_s = course.first(index, kernel.LEAST_CURED, layer.cure.kinetics.gel) or layer.at_s
    inputs = [
        Input(
            name="gelled everywhere after",
            value=gelled_s - layer.at_s,
            quantity="duration",
            origin="computed",
        ),
        *told,
    ]
    return book.figure(
        pointer,
        f"{name}: wood warms before it gels by",
        rise,
        "temperature_difference",
        "max(T wood(t) − T wood(poured)), t until all of it has gelled",
        inputs,
        "the same heat balance as the peak; the wood's own cells next to the resin",
        ["Air in its pores swells with it, and warm wood gives off water: both come out as bubbles."],
    )


def breathing_verdict(
    called: str, void_name: str, layer: LayerPlan, wording: Wording, *, is_sealed: bool
) -> list[Verdict]:
    """Said from BREATHES_K on: a warning for wood that nobody has sealed."""
    rise = layer.heat.wood_rise if layer.heat else None
    if rise is None or rise.value <= BREATHES_K:
        return []
    return [
        Verdict(
            weight="note" if is_sealed else "warning",
            stage="layers",
            code="wood-breathes",
            rule="4.3",
            title=f"The wood breathes out into {called}",
            text=f"{void_name}: the wood next to it warms by {wording.difference(rise.value)} before the "
            "resin gels. Air and water in its pores swell and come out as bubbles.",
            todo="It is sealed: look along the wood for bubbles until it gels, and burst them."
            if is_sealed
            else "Seal it with a thin coat first; or warm the wood beforehand and pour while it cools; or "
            "fill in thirds, the first one thin.",
        )
    ]
