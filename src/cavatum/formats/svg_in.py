"""SVG into lines by layer. Run in the child process only."""

from __future__ import annotations

import io
import re
from typing import Any

import numpy as np

from ..core.common.errors import DomainError
from .drawings_in import Drawing
from .svg_flat import flattened

CURVE_POINTS = 64
MOST_SEGMENTS = 20_000
MM_PX = 25.4 / 96  # CSS: 96 px to the inch; a drawing with a size in mm or in comes out in mm


def _declared_unit(data: bytes) -> str:
    """The unit of the drawing's width; empty where it has none, or pixels."""
    root = re.search(rb"<(?:\w+:)?svg[^>]*>", data, re.S)
    width = rb"""\swidth\s*=\s*["']\s*[\d.eE+-]+\s*(mm|cm|in|m|pt|pc|q)\s*["']"""
    found = re.search(width, root.group(0), re.I) if root else None
    return found.group(1).decode().lower() if found else ""


def _layer_of(element: Any, layer: str, depth: int) -> str:
    """Groups at the top are layers, by label or else id; those deeper belong to the layer they lie in."""
    named = element.values.get("{http://www.inkscape.org/namespaces/inkscape}label")
    named = named or (element.id if depth else None)
    return str(named)[:80] if named and depth <= 1 else layer


def read_svg(data: bytes) -> Drawing:
    """Every path, rectangle, circle, ellipse, line and polygon, moved as its groups say, clones and drawings
    within among them. Refuses entities and document types.
    """
    if re.search(rb"<!ENTITY", data, re.I):
        raise DomainError(
            argument="svg file",
            value="with entities of its own",
            allowed="plain SVG is read",
            way_out="Save it as plain SVG.",
            code="entities",
        )
    import svgelements as svg

    drawing = Drawing()
    if declared := _declared_unit(data):
        drawing.unit, drawing.unit_mm = declared, 1.0
    scale = MM_PX if declared else 1.0
    flat = flattened(data, drawing.leave_out)
    tree = svg.SVG.parse(io.BytesIO(flat), reify=True, on_error="ignore")
    stack = [(tree, "drawing", 0)]
    while stack:
        element, layer, depth = stack.pop()
        if isinstance(element, svg.Group) and depth < 60:
            inside = _layer_of(element, layer, depth)
            stack += [(child, inside, depth + 1) for child in element]
        elif isinstance(element, svg.Shape):
            _add_shape(drawing, element, layer, scale)
        else:
            drawing.leave_out(type(element).__name__)
    return drawing


def _add_shape(drawing: Drawing, element: Any, layer: str, scale: float) -> None:
    import svgelements as svg

    # abs: what turns and scales it is worked into its points
    path = svg.Path(element)
    if len(path) > MOST_SEGMENTS:
        raise DomainError(
            argument="svg file",
            value=f"a path of over {MOST_SEGMENTS} parts",
            allowed=f"at most {MOST_SEGMENTS} are read in one",
            way_out="Simplify it, or export only the outline.",
            code="too-heavy",
        )
    lines = [_svg_points(svg.Path(sub)) for sub in abs(path).as_subpaths()]
    for points in lines:
        drawing.add(layer, points * np.array([scale, -scale]))
    if all(len(points) < 2 for points in lines):
        drawing.leave_out("a path that is broken")


def _svg_points(path: Any) -> np.ndarray:
    points: list[np.ndarray] = []
    for segment in path:
        kind = type(segment).__name__
        if kind == "Move":
            points.append(np.array([[segment.end.x, segment.end.y]]))
        elif kind in ("Line", "Close"):
            if segment.end is not None:
                points.append(np.array([[segment.end.x, segment.end.y]]))
        else:
            points.append(
                np.array(
                    [
                        [one.x, one.y]
                        for one in (segment.point(t) for t in np.linspace(0, 1, CURVE_POINTS + 1)[1:])
                    ]
                )
            )
    return np.concatenate(points) if points else np.empty((0, 2))
