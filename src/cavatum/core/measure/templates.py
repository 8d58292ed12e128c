"""Drawings to scale as closed rings: the opening, a layer seen from above, a dam."""

from __future__ import annotations

import shapely
from shapely.geometry import Polygon

from .hollow import Hollow, Ring
from .outline import OutlineHollow


def opening_rings(hollow: Hollow) -> list[Ring]:
    """The opening with its holes."""
    if isinstance(hollow, OutlineHollow):
        return [hollow.rim(), *([(x, y) for x, y in one.coords[:-1]] for one in hollow.polygon.interiors)]
    return [hollow.rim()]


def dam_rings(hollow: Hollow, wall_m: float) -> list[Ring]:
    outer = shapely.buffer(Polygon(hollow.rim()), wall_m, quad_segs=16)
    return [[(x, y) for x, y in outer.exterior.coords[:-1]], hollow.rim()]
