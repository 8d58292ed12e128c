"""STL, OBJ, PLY and 3MF into corners and triangles, through trimesh and lib3mf. Run in the child process
only.
"""

from __future__ import annotations

import io
import re
import struct
import zipfile
from typing import Any

import numpy as np

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.measure.triangles import Solid

MOST_TRIANGLES = 1_500_000
MOST_UNPACKED = 400 << 20
UNITS_3MF = {0: "um", 1: "mm", 2: "cm", 3: "in", 4: "ft", 5: "m"}


def read_mesh(data: bytes, kind: str) -> tuple[Solid, str | None]:
    """Corners in the file's unit, equal corners joined, and the unit where the file names one (3MF only)."""
    _check_count(data, kind)
    if kind == "3mf":
        return _read_3mf(data)
    if kind == "stl" and _is_binary(data):
        return _read_binary_stl(data), None
    import trimesh

    mesh = trimesh.load(io.BytesIO(data), file_type=kind, force="mesh", process=False)
    if not isinstance(mesh, trimesh.Trimesh):
        raise DomainError(
            argument="mesh",
            value="without triangles",
            allowed="it holds a body",
            way_out="Export the body itself.",
            code="empty",
        )
    return _joined(np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64)), None


def _check_count(data: bytes, kind: str) -> None:
    """The number of triangles by the file's own header or lines, before anything is built from it."""
    count = 0
    if kind == "stl":
        count = struct.unpack_from("<I", data, 80)[0] if _is_binary(data) else data.count(b"endfacet")
    elif kind == "obj":
        count = len(re.findall(rb"(?m)^f\s", data))
    elif kind == "ply":
        found = re.search(rb"element\s+face\s+(\d{1,18})", data[:65536])
        count = int(found.group(1)) if found else 0
    if count > MOST_TRIANGLES:
        raise DomainError(
            argument="mesh",
            value=f"{count / 1e6:.1f} million triangles",
            allowed=f"at most {plainly(MOST_TRIANGLES / 1e6)} million are read",
            way_out="Reduce it in your modelling program; a tenth of the triangles gives the same litres.",
            code="too-heavy",
        )


def _is_binary(data: bytes) -> bool:
    return len(data) >= 84 and len(data) == 84 + 50 * struct.unpack_from("<I", data, 80)[0]


def _read_binary_stl(data: bytes) -> Solid:
    """Eighty bytes of header, a count, then 50 bytes a triangle: normal, three corners, two spare bytes."""
    rows = np.frombuffer(
        data, dtype=np.dtype([("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")]), offset=84
    )
    corners = rows["c"].reshape(-1, 3)
    return _joined(corners, np.arange(len(corners), dtype=np.int64).reshape(-1, 3))


def _joined(corners: np.ndarray, triangles: np.ndarray) -> Solid:
    """Corners with the very same coordinates become one; triangles that then have two equal corners are left
    out.
    """
    if triangles.size and (triangles.min() < 0 or triangles.max() >= len(corners)):
        raise DomainError(
            argument="mesh",
            value="broken: a triangle names a corner that is not there",
            allowed="every corner is in the file",
            way_out="Export it again.",
            code="broken",
        )
    exact = np.ascontiguousarray(corners + 0.0)  # -0 and 0 are one place
    keys = exact.view(np.dtype((np.void, exact.dtype.itemsize * 3))).ravel()
    _, first, where = np.unique(keys, return_index=True, return_inverse=True)
    joined = where.reshape(-1)[triangles]
    sound = (joined[:, 0] != joined[:, 1]) & (joined[:, 1] != joined[:, 2]) & (joined[:, 2] != joined[:, 0])
    return Solid(exact[first].astype(float), joined[sound].astype(np.int64))


def _check_3mf(data: bytes) -> None:
    """Before anything is unpacked: not too large, and no document type that could name files of ours."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        unpacked = sum(entry.file_size for entry in archive.infolist())
        if unpacked > MOST_UNPACKED or len(archive.infolist()) > 2000:
            raise DomainError(
                argument="3mf file",
                value=f"{unpacked / 1e6:.0f} MB unpacked",
                allowed=f"at most {MOST_UNPACKED >> 20} MB are",
                way_out="Export only the one body.",
                code="too-heavy",
            )
        for entry in archive.infolist():
            if entry.filename.endswith(".model"):
                with archive.open(entry) as part:
                    if b"<!DOCTYPE" in part.read(4096):
                        raise DomainError(
                            argument="3mf file",
                            value="with a document type of its own",
                            allowed="plain 3MF is read",
                            way_out="Export it again.",
                            code="doctype",
                        )


def _read_3mf(data: bytes) -> tuple[Solid, str | None]:
    _check_3mf(data)
    import lib3mf

    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.QueryReader("3mf").ReadFromBuffer(data)
    parts: list[Solid] = []
    items = model.GetBuildItems()
    while items.MoveNext():
        item = items.GetCurrent()
        parts += _placed(item.GetObjectResource(), np.array(item.GetObjectTransform().Fields, float), 0)
    if not parts:
        raise DomainError(
            argument="mesh",
            value="empty",
            allowed="it holds a body",
            way_out="Export the body itself.",
            code="empty",
        )
    offsets = np.cumsum([0, *(len(part.corners) for part in parts)])
    solid = _joined(
        np.concatenate([part.corners for part in parts]),
        np.concatenate([part.triangles + start for part, start in zip(parts, offsets, strict=False)]),
    )
    return solid, UNITS_3MF.get(
        int(model.GetUnit().value if hasattr(model.GetUnit(), "value") else model.GetUnit())
    )


def _placed(thing: Any, transform: np.ndarray, depth: int) -> list[Solid]:
    if depth > 8:
        raise DomainError(
            argument="3mf file",
            value="nested more than eight deep",
            allowed="components are nested less",
            way_out="Export the body itself.",
            code="too-heavy",
        )
    if thing.IsComponentsObject():
        found = []
        for index in range(min(thing.GetComponentCount(), 500)):
            part = thing.GetComponent(index)
            inner = np.array(part.GetTransform().Fields, float)
            found += [
                Solid(one.corners @ transform[:3] + transform[3], one.triangles)
                for one in _placed(part.GetObjectResource(), inner, depth + 1)
            ]
        return found
    corners = np.array([list(vertex.Coordinates) for vertex in thing.GetVertices()], float).reshape(-1, 3)
    triangles = np.array(
        [list(triangle.Indices) for triangle in thing.GetTriangleIndices()], np.int64
    ).reshape(-1, 3)
    return [Solid(corners @ transform[:3] + transform[3], triangles)]
