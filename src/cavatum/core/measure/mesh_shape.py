"""From a closed mesh to the shape that goes into the document: area by height, rim and middle cut."""

from __future__ import annotations

from typing import Literal

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.ops import linemerge

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.unit_table import UNITS
from ..piece.shapes import Mesh, MeshRow, Source, Unit, Up
from .triangles import ByHeight, Floats, Solid, by_height, check_solid, signed_volume, turned

ROWS = 201
MOST_FLATS = 100
MOST_RING_POINTS = 400
LEVEL = 1e-6  # of a face that stands upright, rounding leaves no more
OFF_MIDDLE = 1e-6  # of the length: the cut is moved off the middle so that it meets no corner exactly
Ring = list[tuple[float, float]]
Role = Literal["cavity", "body"]


def mesh_shape(
    solid: Solid,
    source: Source,
    *,
    unit: Literal["mm", "cm", "m", "in"],
    up: Literal["x", "y", "z", "-x", "-y", "-z"] = "z",
    role: Role = "cavity",
    form_m: tuple[float, float, float] | None = None,
) -> Mesh:
    """The shape of a mesh.

    solid   corners in the file's unit
    unit    of the file, said by the person: never guessed
    form_m  length, width and depth of the box form the body stands in, in the middle of its floor; for role
            "body" only
    Raises DomainError where the mesh is open or broken, flat, over 10 m, or does not fit into its form.
    """
    check_solid(solid)
    placed = placed_mesh(solid, unit, up)
    size = placed.low_high[1] - placed.low_high[0]
    _check_size(size, unit)
    if role == "body":
        return _around(placed, size, source, unit, up, form_m)
    found = by_height(placed, _heights(placed, float(size[2])), open_top=True)
    return Mesh(
        source=source,
        role=role,
        unit=unit,
        up=up,
        form_m=None,
        size_m=(float(size[0]), float(size[1])),
        rows=_rows(found),
        rim_m=_rim(placed, float(size[2])),
        cut_m=middle_cut(placed),
        skin_m2=skin_area(placed),
        upward_m2=skin_area(placed, upward=True),
    )


def skin_area(solid: Solid, *, upward: bool = False) -> float:
    """Area of a mesh's faces [m2]; upward: of those that look up by more than LEVEL alone.

        sum of |(b - a) x (c - a)| / 2

    solid  placed, faces outwards [m]
    Raises nothing. Exact for the mesh. Source: area of a triangle.
    """
    a, b, c = np.moveaxis(solid.corners[solid.triangles], 1, 0)
    normals = np.cross(b - a, c - a)
    twice = np.linalg.norm(normals, axis=1)
    if upward:
        twice = np.where(normals[:, 2] > LEVEL * np.maximum(twice, 1e-300), twice, 0.0)
    return float(twice.sum() / 2)


def placed_mesh(solid: Solid, unit: str, up: str) -> Solid:
    """In metres, the chosen side up, the middle of its floor at nought, faces outwards."""
    placed = turned(Solid(solid.corners * UNITS["length"][unit][0], solid.triangles), up)
    low, high = placed.low_high
    placed = Solid(placed.corners - np.array([*((low + high)[:2] / 2), low[2]]), placed.triangles)
    if signed_volume(placed) < 0:  # all faces inwards: the same body, turned inside out as a whole
        placed = Solid(placed.corners, placed.triangles[:, ::-1])
    return placed


def _check_size(size: Floats, unit: str) -> None:
    if size.max() > 10.0:
        raise DomainError(
            argument="mesh",
            value=f"{plainly(size.max(), 4)} m long when read in {unit}",
            allowed="it is at most 10 m",
            way_out="Choose the unit it was drawn in.",
            code="wrong-unit",
        )
    if size.min() < 1e-4:
        raise DomainError(
            argument="mesh",
            value=f"{plainly(size.min() * 1000, 3)} mm thin when read in {unit}",
            allowed="every side is over 0.1 mm",
            way_out="Choose the unit it was drawn in.",
            code="wrong-unit",
        )


def _heights(solid: Solid, top: float) -> Floats:
    """Equal steps, and every height at which part of the mesh lies level: there the area jumps."""
    levels = solid.corners[solid.triangles][:, :, 2]
    flat = levels[np.ptp(levels, axis=1) < top * 1e-9][:, 0]
    steps = np.linspace(0.0, top, ROWS)
    jumps = np.unique(np.round(flat, 9))[:MOST_FLATS]
    every = np.unique(np.concatenate([steps, jumps[(jumps > 0) & (jumps < top)]]))
    keep = np.concatenate([[True], np.diff(every) > top * 1e-7])
    keep[-1], every[-1] = True, top
    return np.asarray(every[keep])


def _rows(found: ByHeight) -> list[MeshRow]:
    """Rounding may make a sum fall by 1e-16: it is held level, which is far below any digit that is shown."""
    volume, wetted = (
        np.maximum.accumulate(np.maximum(found.volume, 0)),
        np.maximum.accumulate(np.maximum(found.wetted, 0)),
    )
    volume[0] = 0.0
    return [
        MeshRow(height_m=float(h), area_m2=float(max(a, 0.0)), volume_m3=float(v), wetted_m2=float(w))
        for h, a, v, w in zip(found.heights, found.area, volume, wetted, strict=True)
    ]


def _around(
    solid: Solid, size: Floats, source: Source, unit: Unit, up: Up, form_m: tuple[float, float, float] | None
) -> Mesh:
    """The space between a body and the box form it stands in."""
    if form_m is None:
        raise DomainError(
            argument="form",
            value="not given",
            allowed="a body needs the form it stands in",
            way_out="Type the form's inside length, width and depth.",
            code="no-form",
        )
    length, width, depth = form_m
    if size[0] > length + 1e-9 or size[1] > width + 1e-9:
        raise DomainError(
            argument="form",
            value=f"{plainly(length * 1000)} × {plainly(width * 1000)} mm inside",
            allowed=f"the body is {plainly(size[0] * 1000, 4)} × {plainly(size[1] * 1000, 4)} mm",
            way_out="Enlarge the form, or choose the unit the mesh was drawn in.",
            code="no-room",
        )
    heights = np.unique(np.concatenate([_heights(solid, float(size[2])), np.linspace(0, depth, 101)]))
    heights = heights[heights <= depth]
    heights = heights[np.concatenate([[True], np.diff(heights) > depth * 1e-7])]
    body = by_height(solid, heights, open_top=False)
    stands_on = float(body.area[0])
    around = ByHeight(
        heights=heights,
        area=length * width - np.where(heights < size[2], body.area, 0.0),
        volume=length * width * heights - body.volume,
        wetted=length * width + 2 * (length + width) * heights + body.wetted - 2 * stands_on,
    )
    if around.area.min() < -1e-9 or around.volume[-1] <= 0:
        raise DomainError(
            argument="form",
            value="filled by the body",
            allowed="room must be left for resin",
            way_out="Enlarge the form.",
            code="no-room",
        )
    x, y = length / 2, width / 2
    across = width / 2 if size[0] >= size[1] else length / 2
    return Mesh(
        source=source,
        role="body",
        unit=unit,
        up=up,
        form_m=form_m,
        size_m=(length, width),
        rows=_rows(around),
        rim_m=[(-x, -y), (x, -y), (x, y), (-x, y)],
        cut_m=[[(-across, 0.0), (across, 0.0), (across, depth), (-across, depth)], *middle_cut(solid)],
    )


def _rim(solid: Solid, top: float) -> Ring:
    """The outline just under the opening; where it falls apart, the hull round all of it."""
    rings = level_cut(solid, top * (1 - 1e-4))
    if len(rings) == 1 and Polygon(rings[0]).is_valid:
        return rings[0]
    hull = shapely.convex_hull(shapely.multipoints(solid.corners[:, :2]))
    return _thin(list(hull.exterior.coords[:-1]))


def level_cut(solid: Solid, height_m: float) -> list[Ring]:
    return _slice(solid, 2, height_m, (0, 1))


def middle_cut(solid: Solid) -> list[Ring]:
    """Closed rings of (across, height) where a plane across the longer side cuts the mesh in its middle."""
    low, high = solid.low_high
    size = high - low
    along, across = (0, 1) if size[0] >= size[1] else (1, 0)
    return _slice(solid, along, float((low + high)[along] / 2 + OFF_MIDDLE * size[along]), (across, 2))


def _crossing(tri: Floats, d: Floats, keep: tuple[int, int]) -> list[tuple[float, ...]]:
    """Where the edges of a triangle pass through the plane; d: its corners' distances from it."""
    ends = [
        tri[i] + (tri[j] - tri[i]) * d[i] / (d[i] - d[j])
        for i, j in ((0, 1), (1, 2), (2, 0))
        if d[i] * d[j] < 0
    ]
    return [tuple(round(float(one[k]), 9) for k in keep) for one in ends[:2]]


def _slice(solid: Solid, axis: int, at: float, keep: tuple[int, int]) -> list[Ring]:
    """Rings in which the plane axis = at cuts the mesh."""
    corners = solid.corners[solid.triangles]
    side = corners[:, :, axis] - at
    side[side == 0] = 1e-12
    cut = np.flatnonzero((side.min(axis=1) < 0) & (side.max(axis=1) > 0))
    pairs = [_crossing(tri, d, keep) for tri, d in zip(corners[cut], side[cut], strict=True)]
    lines = [LineString(pair) for pair in pairs if len(set(pair)) == 2]
    if not lines:
        return []
    merged = linemerge(lines)
    parts = [merged] if merged.geom_type == "LineString" else list(merged.geoms)
    rings = [_thin(list(part.coords[:-1])) for part in parts if part.is_ring and len(part.coords) > 3]
    return sorted(rings, key=lambda ring: -Polygon(ring).area)[:100]


def _thin(ring: list[tuple[float, ...]]) -> Ring:
    """At most MOST_RING_POINTS points, the fewest that stay within a growing tolerance; for drawing, never
    for volume.
    """
    line, tolerance = Polygon(ring), 0.0
    span = max(line.bounds[2] - line.bounds[0], line.bounds[3] - line.bounds[1])
    while len(ring) > MOST_RING_POINTS:
        tolerance = tolerance * 2 or span * 1e-5
        ring = list(shapely.simplify(line, tolerance).exterior.coords[:-1])
    return [(float(x), float(y)) for x, y in ring]
