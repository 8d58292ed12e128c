"""Lines of a drawing into closed outlines by layer, with what is open or crosses explained. Run
in the child
process only.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely.geometry import LineString, Polygon
from shapely.ops import linemerge
from shapely.validation import explain_validity

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.common.unit_table import UNITS
from ..core.piece.shapes import MOST_OUTLINE_POINTS

MOST_LINES = 20_000
MOST_OUTLINES = 400
JOIN = 1e-5  # of the drawing's size: ends nearer than this meet
FINE = 2e-5  # of the drawing's size: how far a simplified line may leave the drawn one
SAME = 1e-4  # of the drawing's size: outlines nearer than this all along are one drawn twice
GAP_M = 5e-5  # own judgement: ends of one outline nearer than this were meant to meet; no saw cuts finer
GAP_SHARE = 2e-4  # of the drawing's size, where its unit is not known
GAP_MOST = 1e-3  # of the drawing's size, whatever its unit: a small outline keeps its openings


@dataclass(kw_only=True)
class Drawing:
    """Lines by layer in the file's unit, y upwards; the unit where the file names one, as mm per file
    unit.
    """

    layers: dict[str, list[np.ndarray]] = field(default_factory=dict)
    left_out: dict[str, int] = field(default_factory=dict)
    unit: str | None = None
    unit_mm: float | None = None

    def leave_out(self, what: str) -> None:
        """Counts something that is not read, in a person's words."""
        self.left_out[what] = self.left_out.get(what, 0) + 1

    def add(self, layer: str, points: np.ndarray) -> None:
        if not np.isfinite(points).all():
            raise DomainError(
                argument="drawing",
                value="broken: a coordinate is no number",
                allowed="every point has two numbers",
                way_out="Export it again.",
                code="not-a-number",
            )
        lines = self.layers.setdefault(layer, [])
        if sum(len(one) for one in self.layers.values()) >= MOST_LINES:
            raise DomainError(
                argument="drawing",
                value=f"over {MOST_LINES} lines",
                allowed=f"at most {MOST_LINES} are read",
                way_out="Export only the layer with the outline.",
                code="too-heavy",
            )
        if len(points) > 1:
            lines.append(points)


def _metres_a_unit(drawing: Drawing, unit: str | None) -> float | None:
    """As the person says, else as the file declares; None where neither does."""
    if unit:
        return UNITS["length"][unit][0]
    return drawing.unit_mm / 1000 if drawing.unit_mm else None


def _chosen_lines(drawing: Drawing, chosen: list[str] | None) -> list[tuple[str, np.ndarray[Any, Any]]]:
    lines = [
        (layer, one)
        for layer, some in drawing.layers.items()
        if chosen is None or layer in chosen
        for one in some
    ]
    if not lines:
        raise DomainError(
            argument="drawing",
            value="without lines" if chosen is None else "without lines on the chosen layers",
            allowed="it holds an outline",
            way_out="Choose another layer, or draw the outline as a path.",
            code="empty",
        )
    return lines


def outlines_of(drawing: Drawing, unit: str | None, chosen: list[str] | None) -> dict[str, Any]:
    """Closed outlines with their holes in metres, by layer, and what stands in the way of the others.

    unit    of the drawing, said by the person; else as declared; where neither, sizes are in the file's own
            unit and no shape is given
    chosen  names of layers; None takes all
    """
    factor = _metres_a_unit(drawing, unit)
    lines = _chosen_lines(drawing, chosen)
    corners = np.concatenate([one for _, one in lines])
    size = _size(corners)
    gap = _gap(size, factor)
    rings, problems, closed = _rings(lines, size, gap)
    shapes, more = _nested(rings, size)
    low, spans = corners.min(axis=0), [float(one) for one in np.ptp(corners, axis=0)]
    shown = shapes[:MOST_OUTLINES] if factor else []
    return {
        "layers": [{"name": name, "lines": len(some)} for name, some in drawing.layers.items()],
        "declared": drawing.unit,
        "unit": unit or ("declared" if drawing.unit_mm else None),
        "size": [round(one, 6) for one in spans],
        "size_m": (np.array(spans) * factor).tolist() if factor else None,
        "problems": [*problems, *more][:30],
        "left_out": drawing.left_out,
        "notes": _gap_notes(closed, gap, factor),
        "shapes": [_shape(layer, outer, holes, low, factor or 1.0) for layer, outer, holes in shown],
        "found": len(shapes),
    }


def _gap(size: float, factor: float | None) -> float:
    """How far apart two ends may lie and still meet, in the drawing's own unit."""
    return min(GAP_M / factor, GAP_MOST * size) if factor else GAP_SHARE * size


def _size(corners: np.ndarray) -> float:
    size = float(np.ptp(corners, axis=0).max())
    if size <= 0:
        raise DomainError(
            argument="drawing",
            value="a single point",
            allowed="it holds an outline",
            way_out="Export it again.",
            code="no-area",
        )
    return size


def _gap_notes(closed: list[float], gap: float, factor: float | None) -> list[str]:
    if not closed:
        return []

    def said(one: float) -> str:
        return f"{plainly(one * factor * 1000, 2)} mm" if factor else f"{plainly(one, 2)} of its own units"

    many = "A gap" if len(closed) == 1 else f"{len(closed)} gaps"
    apart = f"ends up to {said(gap)} apart are taken as one"
    return [f"{many} of up to {said(max(closed))} in an outline closed: {apart}."]


def _rings(
    lines: list[tuple[str, np.ndarray]], size: float, gap: float
) -> tuple[list[tuple[str, Polygon]], list[str], list[float]]:
    """Closed rings; open lines joined where their ends meet or lie within the gap, the rest told with what
    keeps
    them open; and the gaps that were closed.
    """
    gaps: list[float] = []
    rings: list[tuple[str, Polygon]] = []
    problems: list[str] = []
    loose: dict[str, list[LineString]] = {}
    for layer, points in lines:
        if np.linalg.norm(points[0] - points[-1]) <= JOIN * size and len(points) > 3:
            _add_ring(rings, problems, layer, points, size)
        else:
            snapped = points.copy()
            snapped[[0, -1]] = np.round(points[[0, -1]] / (JOIN * size)) * (JOIN * size)
            if len(snapped) > 1 and not np.allclose(snapped[0], snapped[-1]):
                loose.setdefault(layer, []).append(LineString(snapped))
    for layer, some in loose.items():
        for line in _met(_merged(some), gap, gaps):
            points = np.array(line.coords)
            if _is_closed(line):
                _add_ring(rings, problems, layer, points, size)
            else:
                apart = float(np.linalg.norm(points[0] - points[-1]))
                problems.append(
                    f"A line on {layer} is open: its ends lie {plainly(apart, 4)} apart, at "
                    f"{plainly(points[0][0], 4)} "
                    f"{plainly(points[0][1], 4)} and "
                    f"{plainly(points[-1][0], 4)} {plainly(points[-1][1], 4)}. Close it in the drawing."
                )
    return rings, problems, gaps


def _merged(lines: list[LineString]) -> list[LineString]:
    found = linemerge(lines)
    return [found] if found.geom_type == "LineString" else list(found.geoms)


def _is_closed(line: LineString) -> bool:
    return bool(line.is_ring or line.is_closed)


def _met(lines: list[LineString], gap: float, gaps: list[float]) -> list[LineString]:
    """Open lines with ends that lie within the gap of one other end drawn to the middle between both."""
    closed, loose = [one for one in lines if _is_closed(one)], [one for one in lines if not _is_closed(one)]
    if not loose:
        return closed
    ends = np.array([one.coords[k] for one in loose for k in (0, -1)])
    moved = _ends_met(ends, gap, gaps)
    drawn = []
    for index, line in enumerate(loose):
        points = np.array(line.coords)
        points[0], points[-1] = moved[2 * index], moved[2 * index + 1]
        drawn.append(LineString(points))
    return closed + _merged(drawn)


def _ends_met(ends: np.ndarray, gap: float, gaps: list[float]) -> np.ndarray:
    pairs = cKDTree(ends).query_pairs(gap, output_type="ndarray")
    seen, moved = np.bincount(pairs.ravel(), minlength=len(ends)), ends.copy()
    for one, other in pairs:
        # Where three ends meet nobody can say which two belong together.
        if seen[one] == seen[other] == 1:
            moved[[one, other]] = (ends[one] + ends[other]) / 2
            gaps.append(float(np.linalg.norm(ends[one] - ends[other])))
    return moved


def _add_ring(
    rings: list[tuple[str, Polygon]], problems: list[str], layer: str, points: np.ndarray, size: float
) -> None:
    polygon = Polygon(points)
    if not polygon.is_valid:
        place = re.search(r"\[(\S+) (\S+)\]", explain_validity(polygon))
        where = (
            f" near {plainly(float(place.group(1)), 4)} {plainly(float(place.group(2)), 4)}" if place else ""
        )
        problems.append(
            f"An outline on {layer} crosses or touches itself{where}. Draw it without the crossing."
        )
    elif polygon.area <= (size * 1e-4) ** 2:
        problems.append(f"An outline on {layer} encloses next to nothing and is left out.")
    else:
        rings.append((layer, polygon))


def _parent_of(
    index: int, ordered: list[tuple[str, Polygon]], tree: shapely.STRtree, smallest: float
) -> tuple[int | None, list[str]]:
    """The smallest larger ring of the same layer around this one, and what it crosses."""
    layer, polygon = ordered[index]
    parent, problems = None, []
    for other in sorted(int(one) for one in tree.query(polygon, predicate="intersects")):
        if other >= index or ordered[other][0] != layer:
            continue
        if ordered[other][1].contains(polygon):
            parent = other
            continue
        shared = ordered[other][1].intersection(polygon)
        if shared.area > smallest:
            spot = shared.representative_point()
            problems.append(
                f"Two outlines cross near {plainly(round(spot.x, 6), 4)} "
                f"{plainly(round(spot.y, 6), 4)} ({layer}). Unite them or "
                "take one out."
            )
    return parent, problems


def _once(rings: list[tuple[str, Polygon]], size: float) -> tuple[list[tuple[str, Polygon]], list[str]]:
    """An outline that is drawn over another one of its layer is the same outline, and no hole in it."""
    kept: list[tuple[str, Polygon]] = []
    twice: Counter[str] = Counter()
    for layer, polygon in rings:
        if any(layer == on and _is_same(polygon, other, size * SAME) for on, other in kept):
            twice[layer] += 1
        else:
            kept.append((layer, polygon))
    said = [
        f"{'An outline' if count == 1 else f'{count} outlines'} on {layer} "
        f"{'is' if count == 1 else 'are'} drawn twice and counted once."
        for layer, count in twice.items()
    ]
    return kept, said


def _is_same(one: Polygon, other: Polygon, near: float) -> bool:
    apart = np.abs(np.subtract(one.bounds, other.bounds)).max()
    return bool(apart <= near and shapely.hausdorff_distance(one.exterior, other.exterior) <= near)


def _nested(
    rings: list[tuple[str, Polygon]], size: float
) -> tuple[list[tuple[str, Polygon, list[Polygon]]], list[str]]:
    """Within a layer, rings inside of rings are holes, rings inside of holes are outlines again. Crossing
    rings are told.
    """
    ordered, problems = _once(sorted(rings, key=lambda one: -one[1].area)[:MOST_OUTLINES], size)
    tree = shapely.STRtree([polygon for _, polygon in ordered])
    found = [_parent_of(index, ordered, tree, (size * 1e-5) ** 2) for index in range(len(ordered))]
    parents = [parent for parent, _ in found]
    problems += [problem for _, some in found for problem in some]
    levels: list[int] = []
    for parent in parents:
        levels.append(0 if parent is None else levels[parent] + 1)
    shapes = []
    for index, (layer, polygon) in enumerate(ordered):
        if levels[index] % 2 == 0:
            holes = [ordered[child][1] for child, parent in enumerate(parents) if parent == index]
            shapes.append((layer, polygon, holes))
    return shapes, problems


def _shape(
    layer: str, outer: Polygon, holes: list[Polygon], low: np.ndarray, factor: float
) -> dict[str, Any]:
    """In metres from the drawing's lower left corner, with few enough points for a document."""
    count = sum(len(one.exterior.coords) for one in (outer, *holes))
    span = max(outer.bounds[2] - outer.bounds[0], outer.bounds[3] - outer.bounds[1])
    tolerance = span * FINE / 4
    full = outer.area - sum(hole.area for hole in holes)
    while True:
        thin = [one.simplify(tolerance) for one in (outer, *holes)]
        count = sum(len(one.exterior.coords) for one in thin)
        if count <= MOST_OUTLINE_POINTS - 10 and all(len(one.exterior.coords) <= 1990 for one in thin):
            break
        tolerance *= 1.5
    kept = thin[0].area - sum(one.area for one in thin[1:])

    def placed(one: Polygon) -> list[list[float]]:
        return [
            [round((x - low[0]) * factor, 7), round((y - low[1]) * factor, 7)]
            for x, y in one.exterior.coords[:-1]
        ]

    return {
        "layer": layer,
        "points_m": placed(thin[0]),
        "holes_m": [placed(one) for one in thin[1:]],
        "area_m2": full * factor**2,
        "kept": kept / full,
        "size_m": [
            (outer.bounds[2] - outer.bounds[0]) * factor,
            (outer.bounds[3] - outer.bounds[1]) * factor,
        ],
    }
