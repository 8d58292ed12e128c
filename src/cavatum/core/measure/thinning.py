"""Fewer triangles for the screen: corners in the same small cell become one. Drawing only, never for
volume.
"""

from __future__ import annotations

import numpy as np

from .triangles import Solid


def thinned(solid: Solid, most: int) -> Solid:
    """The mesh itself where it has at most `most` triangles, else clustered on an ever coarser grid until it
    has.
    """
    if len(solid.triangles) <= most:
        return solid
    low, high = solid.low_high
    cells = 256.0
    while True:
        few = _clustered(solid, low, float((high - low).max()) / cells)
        if len(few.triangles) <= most:
            return few
        cells *= 0.8


def _clustered(solid: Solid, low: np.ndarray, cell: float) -> Solid:
    grid = np.floor((solid.corners - low) / cell).astype(np.int64)
    _, where, counts = np.unique(
        grid @ np.array([1 << 42, 1 << 21, 1]), return_inverse=True, return_counts=True
    )
    where = where.reshape(-1)
    corners = np.stack([np.bincount(where, weights=solid.corners[:, k]) / counts for k in range(3)], axis=1)
    triangles = where[solid.triangles]
    kept = triangles[
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    ]
    return Solid(corners, np.unique(kept, axis=0))
