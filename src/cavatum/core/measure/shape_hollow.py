"""From what was read to the hollow it makes: the one place that knows all kinds of shape."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..common.errors import DomainError
from ..common.readings import Reading
from ..common.working import Data, Input
from ..piece.shapes import (
    Bowl,
    Box,
    Cone,
    Crack,
    Cylinder,
    FillTest,
    Mesh,
    Nested,
    Outline,
    Profile,
    River,
    Shape,
    Stated,
    Tapered,
)
from .hollow import BowlHollow, BoxHollow, ConeHollow, Hollow
from .nested import nested_hollow
from .sloped import CrackHollow, TaperedHollow, whole_hollow
from .stations import profile_hollow, river_hollow
from .table import TableHollow


def hollow_of(shape: Shape) -> Hollow:
    """The hollow of a measured shape. Raises DomainError or Infeasible where the readings allow none."""
    found = _simple(shape)
    if found is not None:
        return found
    if isinstance(shape, Outline):
        from .outline import outline_hollow  # Shapely is slow to import and most pieces need none

        return outline_hollow(shape)
    if isinstance(shape, FillTest):
        volume = shape.mass_kg.value / shape.density_kg_m3.value
        return whole_hollow(
            volume,
            shape.depth_m.value,
            shape.opening_m2.value if shape.opening_m2 else None,
            f"mass of the {shape.filled_with} that filled it / its "
            f"{'bulk ' if shape.filled_with == 'grain' else ''}density",
            "volume = mass / density",
        )
    if isinstance(shape, Stated):
        return whole_hollow(
            shape.volume_m3.value,
            shape.depth_m.value,
            shape.opening_m2.value if shape.opening_m2 else None,
            "as stated",
            shape.stated_by or "stated by the person",
        )
    if isinstance(shape, Nested):
        return nested_hollow(hollow_of(shape.outer), hollow_of(shape.inner), shape.inner_from_m.value)
    if isinstance(shape, Mesh):
        return TableHollow(shape)
    raise DomainError(
        argument="shape",
        value=str(shape),
        allowed="it is not one of the known kinds",
        way_out="Choose a shape.",
        code="unknown",
    )


def _simple(shape: Shape) -> Hollow | None:
    match shape:
        case Box():
            return BoxHollow(shape.length_m.value, shape.width_m.value, shape.depth_m.value)
        case Tapered():
            return TaperedHollow(
                length_m=shape.length_m.value,
                width_m=shape.width_m.value,
                bottom_length_m=shape.bottom_length_m.value,
                bottom_width_m=shape.bottom_width_m.value,
                depth_m=shape.depth_m.value,
            )
        case Cylinder():
            return ConeHollow(shape.diameter_m.value / 2, shape.diameter_m.value / 2, shape.depth_m.value)
        case Cone():
            return ConeHollow(
                shape.bottom_diameter_m.value / 2, shape.top_diameter_m.value / 2, shape.depth_m.value
            )
        case Bowl():
            return BowlHollow(shape.rim_diameter_m.value / 2, shape.depth_m.value)
        case Crack():
            return CrackHollow(
                length_m=shape.length_m.value,
                face_width_m=shape.width_m.value,
                depth_m=shape.depth_m.value,
                form=shape.form,
            )
        case Profile():
            return profile_hollow(shape)
        case River():
            return river_hollow(shape)
    return None


def readings_of(
    part: Any, path: tuple[str | int, ...] = ()
) -> Iterator[tuple[tuple[str | int, ...], Reading]]:
    """Every reading inside a part of the document with the way to it, in the order of the document."""
    if isinstance(part, Reading):
        yield path, part
    elif isinstance(part, Data):
        for name in type(part).model_fields:
            yield from readings_of(getattr(part, name), (*path, name))
    elif isinstance(part, list):
        for index, one in enumerate(part):
            yield from readings_of(one, (*path, index))


_PLACES = {"stations": "station", "rows": "reading", "inclusions": "embedded thing"}
_SAID = {"at": "place", "count": "number", "film": "film", "mass": "mass"}


def words_of(path: tuple[str | int, ...]) -> str:
    """ "width at station 5" from ("stations", 4, "width_m"): how a person would call this reading."""
    last = str(path[-1])
    stem, _, unit = last.rpartition("_")
    word = (
        (stem if unit in ("m", "m2", "m3", "kg", "deg", "m3") and stem else last)
        .removesuffix("_kg")
        .replace("_", " ")
    )
    word = _SAID.get(word, word)
    for before, index in zip(path, path[1:], strict=False):
        if isinstance(index, int):
            return f"{word} at {_PLACES.get(str(before), str(before))} {index + 1}"
    owner = str(path[-2]) if len(path) > 1 else ""
    return f"{owner} {word}" if owner in ("outer", "inner", "notch") else word


def shape_inputs(shape: Shape) -> list[Input]:
    """The readings of a shape as the inputs of its working; of many stations the first and last, and how many
    there are.
    """
    found = [reading.as_input(words_of(path)) for path, reading in readings_of(shape)]
    if len(found) <= 16:
        return found
    return [
        *found[:6],
        Input(name="readings left out here", value=len(found) - 12, quantity="count", origin="computed"),
        *found[-6:],
    ]
