"""A patch over a defect as a drawing to scale: the hole, and the tape over it. Rule 1.5."""

from __future__ import annotations

import shapely

from ..measure.hollow import Ring
from ..piece.survey_findings import Defect
from .patches import patch_of


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
