"""An SVG as plain groups and shapes: clones (`use`) drawn where they stand, drawings within drawings moved
and scaled
once, and what is no line of its own named. Run in the child process only.
"""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from collections.abc import Callable

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly

SVG = "{http://www.w3.org/2000/svg}"
HREFS = ("href", "{http://www.w3.org/1999/xlink}href")
LABEL = "{http://www.inkscape.org/namespaces/inkscape}label"
SHAPES = ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon")
GROUPS = ("g", "a", "switch")
# Drawn only where something else calls for them, or never.
UNDRAWN = (
    *("defs", "symbol", "clipPath", "mask", "pattern", "marker", "filter", "linearGradient"),
    *("radialGradient", "metadata", "title", "desc", "style", "script", "namedview", "view"),
)
WORDS = {"text": "words", "image": "a picture", "foreignObject": "a page within"}
SCALE_BAR = "scale bar"  # the group that Cavatum's own drawings carry to check a print by
MOST_ELEMENTS = 60_000
DEEPEST = 60
PX = {
    "": 1.0,
    "px": 1.0,
    "mm": 96 / 25.4,
    "cm": 960 / 25.4,
    "in": 96.0,
    "pt": 4 / 3,
    "pc": 16.0,
    "q": 24 / 25.4,
}


def flattened(data: bytes, leave_out: Callable[[str], None]) -> bytes:
    """The same drawing of groups and shapes alone, in the same units.

    leave_out  told of each thing that is not drawn, in a person's words
    Raises DomainError for clones of clones without end, and for over MOST_ELEMENTS elements.
    Source: SVG 1.1, 5.6 (use), 7.8 (preserveAspectRatio), 7.9 (nested svg).
    """
    root = ET.fromstring(data)  # noqa: S314  entities are refused before; the child has its limits
    known = {one.get("id"): one for one in root.iter() if one.get("id")}
    flat = _Flat(known, leave_out)
    out = ET.Element(root.tag, dict(root.attrib))
    flat.into(out, root, _viewport(root, (300.0, 150.0)), 0, ())
    return ET.tostring(out)


def _local(element: ET.Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _length(said: str | None, whole: float, default: float) -> float:
    """In user units; percent of the whole; the default where nothing is said or it cannot be read."""
    found = re.fullmatch(r"\s*([-+\d.eE]+)\s*(%|[a-zA-Z]*)\s*", said or "")
    try:
        value = float(found.group(1)) if found else default
    except ValueError:
        return default
    if not found:
        return default
    return value * whole / 100 if found.group(2) == "%" else value * PX.get(found.group(2).lower(), 1.0)


def _box(element: ET.Element) -> list[float] | None:
    try:
        box = [float(one) for one in re.split(r"[\s,]+", element.get("viewBox", "").strip())]
    except ValueError:
        return None
    return box if len(box) == 4 and box[2] > 0 and box[3] > 0 else None


def _viewport(element: ET.Element, around: tuple[float, float]) -> tuple[float, float]:
    """Width and height that a percentage inside refers to."""
    box = _box(element)
    if box:
        return box[2], box[3]
    return _length(element.get("width"), around[0], around[0]), _length(
        element.get("height"), around[1], around[1]
    )


def _is_hidden(element: ET.Element) -> bool:
    style = re.sub(r"\s", "", element.get("style", ""))
    return (
        element.get("display") == "none"
        or element.get("visibility") == "hidden"
        or "display:none" in style
        or "visibility:hidden" in style
    )


def _fit(element: ET.Element, place: ET.Element, around: tuple[float, float]) -> str:
    """The transform of a drawing within: moved by x and y, its view box fitted into width and height."""
    wide, high = (
        _length(place.get(side) or element.get(side), whole, whole)
        for side, whole in zip(("width", "height"), around, strict=True)
    )
    x, y = (_length(element.get(name), whole, 0.0) for name, whole in zip("xy", around, strict=True))
    box = _box(element)
    if box is None:
        return f"translate({x!r} {y!r})"
    across, down = wide / box[2], high / box[3]
    words = (element.get("preserveAspectRatio") or "xMidYMid meet").split()
    if words[0] != "none":
        across = down = (max if "slice" in words else min)(across, down)
        spare = (wide - box[2] * across, high - box[3] * down)
        share = [
            0.0 if "Min" in one else 1.0 if "Max" in one else 0.5 for one in (words[0][:4], words[0][4:])
        ]
        x, y = x + spare[0] * share[0], y + spare[1] * share[1]
    return f"translate({x!r} {y!r}) scale({across!r} {down!r}) translate({-box[0]!r} {-box[1]!r})"


class _Flat:
    """known: elements by id; leave_out: told of what is not drawn."""

    def __init__(self, known: dict[str | None, ET.Element], leave_out: Callable[[str], None]) -> None:
        self.known, self.leave_out, self.count = known, leave_out, 0

    def into(
        self,
        out: ET.Element,
        element: ET.Element,
        around: tuple[float, float],
        depth: int,
        within: tuple[str, ...],
    ) -> None:
        """The children of an element, drawn into `out`. within: ids of the clones this lies in."""
        for child in element:
            self.count += 1
            if self.count > MOST_ELEMENTS or depth > DEEPEST:
                raise DomainError(
                    argument="svg file",
                    value=f"over {plainly(MOST_ELEMENTS)} things in it, clones of clones counted",
                    allowed="a drawing of outlines is read",
                    way_out="Export only the layer with the outline.",
                    code="too-heavy",
                )
            self.one(out, child, around, depth, within)

    def one(
        self,
        out: ET.Element,
        child: ET.Element,
        around: tuple[float, float],
        depth: int,
        within: tuple[str, ...],
    ) -> None:
        kind = _local(child)
        if not kind or kind in UNDRAWN:
            return
        if _is_hidden(child):
            self.leave_out("hidden")
        elif child.get("id") == SCALE_BAR:
            self.leave_out(SCALE_BAR)
        elif kind in SHAPES:
            self._noted(child)
            ET.SubElement(out, child.tag, dict(child.attrib))
        elif kind in GROUPS:
            self._noted(child)
            self.into(ET.SubElement(out, SVG + "g", dict(child.attrib)), child, around, depth + 1, within)
        elif kind == "svg":
            self._within(out, child, child, around, depth, within)
        elif kind == "use":
            self._clone(out, child, around, depth, within)
        else:
            self.leave_out(WORDS.get(kind, kind))

    def _noted(self, element: ET.Element) -> None:
        if element.get("clip-path") or element.get("mask"):
            self.leave_out("a clip or mask: what it cuts is read whole")

    def _within(
        self,
        out: ET.Element,
        element: ET.Element,
        place: ET.Element,
        around: tuple[float, float],
        depth: int,
        within: tuple[str, ...],
    ) -> None:
        group = ET.SubElement(out, SVG + "g", {"transform": _fit(element, place, around)})
        if element.get("id"):
            group.set("id", str(element.get("id")))
        self.into(group, element, _viewport(element, around), depth + 1, within)

    def _clone(
        self,
        out: ET.Element,
        use: ET.Element,
        around: tuple[float, float],
        depth: int,
        within: tuple[str, ...],
    ) -> None:
        name = next((use.get(one, "") for one in HREFS if use.get(one)), "").lstrip("#")
        target = self.known.get(name)
        if target is None or name in within:
            self.leave_out("a clone of what is not in the file" if target is None else "a clone of itself")
            return
        x, y = (_length(use.get(one), whole, 0.0) for one, whole in zip("xy", around, strict=True))
        moved = f"{use.get('transform', '')} translate({x!r} {y!r})".strip()
        group = ET.SubElement(out, SVG + "g", {"transform": moved})
        if use.get("id"):
            group.set("id", str(use.get("id")))
        inner = (*within, name)
        if _local(target) in ("symbol", "svg"):
            self._within(group, target, use, around, depth + 1, inner)
        else:
            self.one(group, target, around, depth + 1, inner)
