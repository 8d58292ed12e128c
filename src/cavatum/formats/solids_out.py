"""Solids as STL (binary) and 3MF, in millimetres."""

from __future__ import annotations

import numpy as np

from ..core.measure.triangles import Solid


def write_stl(solid: Solid) -> bytes:
    """Binary STL in mm. The format names no unit: mm is its common use, and the file's name says so."""
    corners = (solid.corners * 1000).astype("<f4")[solid.triangles]
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.linalg.norm(cross, axis=1, keepdims=True)
    rows = np.zeros(len(corners), dtype=np.dtype([("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")]))
    rows["n"], rows["c"] = cross / np.where(length > 0, length, 1), corners
    return b"Cavatum, millimetres".ljust(80) + np.uint32(len(rows)).tobytes() + rows.tobytes()


def write_3mf(solid: Solid, name: str) -> bytes:
    """3MF in mm, through lib3mf."""
    import lib3mf

    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    body = model.AddMeshObject()
    body.SetName(name)
    vertices = [lib3mf.Position(tuple(float(x) for x in corner * 1000)) for corner in solid.corners]
    triangles = [lib3mf.Triangle(tuple(int(i) for i in one)) for one in solid.triangles]
    body.SetGeometry(vertices, triangles)
    model.AddBuildItem(body, wrapper.GetIdentityTransform())
    return bytes(model.QueryWriter("3mf").WriteToBuffer())
