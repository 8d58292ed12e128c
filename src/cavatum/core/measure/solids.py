"""Measured hollows as solids: for files to print or mill, and as a second way to the same volume. Through
manifold3d.

Round shapes are turned with SEGMENTS sides, so their volume is smaller by 2 pi^2 / (3 SEGMENTS^2), 0.03 %.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from manifold3d import CrossSection, FillRule, JoinType, Manifold
from manifold3d import Mesh as ManifoldMesh
from shapely import Polygon

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
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
from .outline import OutlineHollow
from .shape_hollow import hollow_of
from .stations import RiverHollow
from .triangles import Solid

SEGMENTS = 160
SLABS = 48
HAIR_M = 1e-6  # a floor or an edge that closes to a line is made this wide


def solid_of(shape: Shape, mesh: Solid | None = None) -> Manifold:
    """The hollow as a solid, floor at height 0, in metres.

    mesh  of a mesh shape, in metres, up is z, its floor at 0
    Raises DomainError for what has no known form (fill test, stated volume).
    """
    match shape:
        case Box():
            return _prism(
                [
                    (shape.length_m.value, shape.width_m.value, 0.0),
                    (shape.length_m.value, shape.width_m.value, shape.depth_m.value),
                ]
            )
        case Tapered():
            return _prism(
                [
                    (shape.bottom_length_m.value, shape.bottom_width_m.value, 0.0),
                    (shape.length_m.value, shape.width_m.value, shape.depth_m.value),
                ]
            )
        case Cylinder() | Cone() | Bowl() | Profile():
            return _turned(shape)
        case Crack():
            return _crack(shape)
        case River():
            return _river(shape)
        case Outline():
            return _outline(shape)
        case Nested():
            return solid_of(shape.outer) - solid_of(shape.inner).translate((0, 0, shape.inner_from_m.value))
        case Mesh():
            return _mesh(shape, mesh)
        case FillTest() | Stated():
            raise DomainError(
                argument="shape",
                value="known by its volume only",
                allowed="a file needs its form",
                way_out="Measure its outline or its sizes.",
                code="no-form",
            )
    raise DomainError(
        argument="shape",
        value=str(shape),
        allowed="it is not one of the known kinds",
        way_out="Choose a shape.",
        code="unknown",
    )


def _prism(levels: list[tuple[float, float, float]]) -> Manifold:
    corners = [
        (sx * max(length, HAIR_M) / 2, sy * max(width, HAIR_M) / 2, z)
        for length, width, z in levels
        for sx in (-1, 1)
        for sy in (-1, 1)
    ]
    return Manifold.hull_points(np.array(corners))


def _turned(shape: Cylinder | Cone | Bowl | Profile) -> Manifold:
    hollow = hollow_of(shape)
    if isinstance(shape, Profile):
        heights = [row.height_m.value for row in shape.rows]
    else:
        heights = (
            [hollow.depth_m * (1 - math.cos(math.pi / 2 * i / 64)) for i in range(65)]
            if isinstance(shape, Bowl)
            else [0.0, hollow.depth_m]
        )
    half = [(0.0, heights[0]), *((hollow.width(h) / 2, h) for h in heights), (0.0, heights[-1])]
    return CrossSection([np.array(half)], FillRule.NonZero).revolve(SEGMENTS)


def _crack(shape: Crack) -> Manifold:
    hollow = hollow_of(shape)
    rows = (
        [hollow.depth_m * (i / 40) ** 2 for i in range(41)]
        if shape.form == "round"
        else [0.0, hollow.depth_m]
    )
    side = [(max(hollow.width(h), HAIR_M) / 2, h) for h in rows]
    ring = np.array([(-x, h) for x, h in side] + [(x, h) for x, h in reversed(side)])[::-1]
    flat = CrossSection([ring], FillRule.NonZero).extrude(shape.length_m.value)
    return flat.rotate((90, 0, 90)).translate((-shape.length_m.value / 2, 0, 0))


def _river(shape: River) -> Manifold:
    """Between each two stations the hull of their two cross-cuts. Straight lines: the volume is the
    trapezoid's.
    """
    hollow = hollow_of(shape)
    assert isinstance(hollow, RiverHollow)
    near = hollow._near
    cuts = []
    for x, y, top, low in zip(hollow.at_m, near, hollow.top_m, hollow.bottom_m, strict=True):
        middle, a, b = y + top / 2, max(top, HAIR_M) / 2, max(low, HAIR_M) / 2
        cuts.append(
            [
                (x, middle - b, 0.0),
                (x, middle + b, 0.0),
                (x, middle - a, hollow.depth_m),
                (x, middle + a, hollow.depth_m),
            ]
        )
    return Manifold.batch_boolean(
        [Manifold.hull_points(np.array(one + other)) for one, other in zip(cuts, cuts[1:], strict=False)],
        _add(),
    )


def _add() -> Any:
    from manifold3d import OpType

    return OpType.Add


def _section(polygon: Polygon) -> CrossSection:
    rings = [
        np.array(polygon.exterior.coords[:-1]),
        *(np.array(one.coords[:-1]) for one in polygon.interiors),
    ]
    return CrossSection(rings, FillRule.EvenOdd)


def _outline(shape: Outline) -> Manifold:
    """Straight walls exactly; with draft in slabs, each as wide as half way up it."""
    hollow = hollow_of(shape)
    assert isinstance(hollow, OutlineHollow)
    if hollow.slope == 0:
        return _section(hollow.polygon).extrude(hollow.depth_m)
    step = hollow.depth_m / SLABS
    slabs = [
        _section(hollow.section((i + 0.5) * step)).extrude(step).translate((0, 0, i * step))
        for i in range(SLABS)
    ]
    return Manifold.batch_boolean(slabs, _add())


def _mesh(shape: Mesh, mesh: Solid | None) -> Manifold:
    if mesh is None:
        raise DomainError(
            argument="mesh",
            value="not at hand",
            allowed="its file is needed",
            way_out="Read the mesh file again.",
            code="no-file",
        )
    body = from_triangles(mesh)
    if shape.role == "cavity":
        return body
    length, width, depth = shape.form_m or (0.0, 0.0, 0.0)
    return _prism([(length, width, 0.0), (length, width, depth)]) - body


def from_triangles(solid: Solid) -> Manifold:
    made = Manifold(ManifoldMesh(solid.corners.astype(np.float32), solid.triangles.astype(np.uint32)))
    if made.is_empty():
        raise Infeasible(
            argument="mesh",
            value="joined in a way no solid is",
            allowed="a closed surface that does not cut itself is needed",
            way_out="Unite its bodies and export it again.",
            code="not-manifold",
        )
    return made


def layer_of(whole: Manifold, from_m: float, to_m: float) -> Manifold:
    """What lies between two heights."""
    return whole.trim_by_plane((0, 0, 1), from_m).trim_by_plane((0, 0, -1), -to_m)


def dam_of(shape: Shape, height_m: float, wall_m: float) -> Manifold:
    """A ring round the opening, as high as the dam and wall_m thick, standing on the rim at height 0."""
    if height_m <= 0 or wall_m <= 0:
        raise DomainError(
            argument="dam",
            value=f"{plainly(height_m * 1000)} mm high, {plainly(wall_m * 1000)} mm thick",
            allowed="both are more than 0",
            way_out="Give the dam a height and a thickness.",
        )
    opening = CrossSection([np.array(hollow_of(shape).rim())], FillRule.EvenOdd)
    return (opening.offset(wall_m, JoinType.Round, 2.0, SEGMENTS) - opening).extrude(height_m)


def triangles_of(made: Manifold) -> Solid:
    mesh = made.to_mesh()
    return Solid(np.asarray(mesh.vert_properties, float)[:, :3], np.asarray(mesh.tri_verts, np.int64))
