"""Drawings to scale as closed rings: the opening, a layer seen from above, a dam, a patch over a defect."""

from __future__ import annotations

import shapely
from shapely.geometry import Polygon

from ..piece.survey_findings import Defect
from ..survey.patches import patch_of
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


def patch_rings(defect: Defect) -> dict[str, list[Ring]]:
    """The hole as an ellipse of its length and width, and the tape over it at its least and its greatest
    width.
    """
    patch = patch_of(defect)
    hole = shapely.affinity.scale(
        shapely.Point(0, 0).buffer(1, quad_segs=24), defect.length_m.value / 2, defect.width_m.value / 2
    )

    def strip(width_m: float) -> Ring:
        x, y = patch.length_m / 2, width_m / 2
        return [(-x, -y), (x, -y), (x, y), (-x, y)]

    return {
        "hole": [[(x, y) for x, y in hole.exterior.coords[:-1]]],
        "tape at least": [strip(patch.tape_from_m)],
        "tape up to": [strip(patch.tape_to_m)],
    }
