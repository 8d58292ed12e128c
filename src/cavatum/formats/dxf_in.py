"""A DXF drawing's lines by layer, blocks taken apart. Run in the child process only."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from ..core.common.errors import DomainError
from .drawings_in import FINE, Drawing

MOST_ENTITIES = 60_000  # blocks taken apart
DXF_WORDS = {
    "TEXT": "words",
    "MTEXT": "words",
    "DIMENSION": "a dimension",
    "HATCH": "a hatch",
    "POINT": "a point",
    "INSERT": "blocks more than six deep",
}


def read_dxf(data: bytes) -> Drawing:
    """Lines, arcs, circles, ellipses, splines and polylines of the model space, blocks taken apart, by
    layer.
    """
    import ezdxf
    from ezdxf import path, recover

    document, _ = recover.read(io.BytesIO(data))
    drawing = Drawing()
    declared = {1: ("in", 25.4), 2: ("ft", 304.8), 4: ("mm", 1.0), 5: ("cm", 10.0), 6: ("m", 1000.0)}.get(
        document.header.get("$INSUNITS", 0)
    )
    if declared:
        drawing.unit, drawing.unit_mm = declared
    _refuse_endless(document)
    size = _dxf_size(document)
    for count, entity in enumerate(_taken_apart(document.modelspace(), 0)):
        if count >= MOST_ENTITIES:
            raise _too_many()
        try:
            made = path.make_path(entity)
        except (TypeError, ezdxf.DXFError):
            kind = entity.dxftype()
            drawing.leave_out(DXF_WORDS.get(kind, kind.lower()))
            continue
        for one in made.sub_paths():
            drawing.add(
                entity.dxf.layer,
                np.array([[point.x, point.y] for point in one.flattening(size * FINE, segments=8)]),
            )
    return drawing


def _refuse_endless(document: Any) -> None:
    """Blocks within blocks are counted by what each holds before any is taken apart, and each once: a few
    lines of a file can stand for billions. Raises DomainError.
    """
    held: dict[str, int] = {}

    def things(entities: Iterable[Any]) -> int:
        found = 0
        for entity in entities:
            found += entity.mcount * of_block(entity.dxf.name) if entity.dxftype() == "INSERT" else 1
            if found > MOST_ENTITIES:
                raise _too_many()
        return found

    def of_block(name: str) -> int:
        key = name.casefold()  # names of blocks know no capitals
        if key not in held:
            held[key] = MOST_ENTITIES + 1  # one that holds itself never ends
            block = document.blocks.get(name)
            held[key] = things(block) if block is not None else 0
        return held[key]

    try:
        things(document.modelspace())
    except RecursionError:
        raise _too_many() from None


def _dxf_size(document: Any) -> float:
    from ezdxf import bbox

    box = bbox.extents(list(document.modelspace())[:5000], fast=True)
    return max(float(box.size.x), float(box.size.y), 1e-6) if box.has_data else 1.0


def _too_many() -> DomainError:
    return DomainError(
        argument="drawing",
        value=f"over {MOST_ENTITIES} things in it, blocks taken apart",
        allowed=f"at most {MOST_ENTITIES} are read",
        way_out="Export only the layer with the outline.",
        code="too-heavy",
    )


def _taken_apart(entities: Iterable[Any], depth: int) -> Iterator[Any]:
    for entity in entities:
        if entity.dxftype() == "INSERT":
            if depth < 6:
                yield from _taken_apart(entity.virtual_entities(), depth + 1)
            else:
                yield entity  # no path is made of it: it is left out by name
        else:
            yield entity
