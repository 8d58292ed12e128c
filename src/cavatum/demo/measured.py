"""What was measured on Quillstone Yard's pieces, each in its own way. Invented."""

from __future__ import annotations

import hashlib
from functools import cache
from typing import Any

from ..core.measure.mesh_shape import mesh_shape
from ..core.piece.shapes import Source
from .draw import FILES

# Widths of the natural-edge inlet every 115 mm along the 1380 mm seat, and where its near edge runs [mm].
INLET_WIDTHS_MM = [104, 118, 131, 127, 139, 152, 148, 136, 129, 141, 133, 117, 98]
INLET_NEAR_EDGE_MM = [152, 147, 139, 143, 136, 128, 131, 138, 144, 137, 141, 150, 158]
# The drying shake every 80 mm: 3 to 14 mm wide at the face, closing to a line [mm].
SHAKE_WIDTHS_MM = [3, 6, 9, 12, 14, 13, 10, 7, 4]


def box(length: str, width: str, depth: str) -> dict[str, Any]:
    return {"kind": "box", "length_m": length, "width_m": width, "depth_m": depth}


def cone(top: str, bottom: str, depth: str) -> dict[str, Any]:
    return {"kind": "cone", "top_diameter_m": top, "bottom_diameter_m": bottom, "depth_m": depth}


def inlet() -> dict[str, Any]:
    stations = [
        {"at_m": f"{115 * i} mm", "width_m": f"{wide} mm ± 1 mm", "edge_m": f"{edge} mm"}
        for i, (wide, edge) in enumerate(zip(INLET_WIDTHS_MM, INLET_NEAR_EDGE_MM, strict=True))
    ]
    return {"kind": "river", "stations": stations, "depth_m": "42 mm ± 0.5 mm"}


def shake() -> dict[str, Any]:
    stations = [
        {"at_m": f"{80 * i} mm", "width_m": f"{wide} mm ± 0.5 mm", "bottom_width_m": "0 mm"}
        for i, wide in enumerate(SHAKE_WIDTHS_MM)
    ]
    return {"kind": "river", "stations": stations, "depth_m": "48 mm ± 2 mm"}


def file_of(name: str) -> tuple[str, bytes]:
    data = (FILES / name).read_bytes()
    return hashlib.sha256(data).hexdigest(), data


@cache
def fern_tray() -> dict[str, Any]:
    """The tray as read from the STL that ships with the demo."""
    from ..formats.meshes_in import read_mesh

    sha, data = file_of("fern-tray.stl")
    solid, _ = read_mesh(data, "stl")
    return mesh_shape(solid, Source(format="stl", name="fern-tray.stl", file=sha), unit="mm").model_dump(
        mode="json"
    )


@cache
def waymark_pockets() -> dict[str, dict[str, Any]]:
    """Both pockets as read from the drawing that ships with the demo, by layer."""
    from ..formats.drawings_in import outlines_of
    from ..formats.svg_in import read_svg

    sha, data = file_of("waymark.svg")
    found = outlines_of(read_svg(data), None, ["ring pocket", "arrow pocket"])
    source = {
        "format": "svg",
        "name": "waymark.svg",
        "file": sha,
        "read_as": "layers ring pocket, arrow pocket; in mm, as the file says",
    }
    return {
        shape["layer"]: {
            "kind": "outline",
            "points_m": shape["points_m"],
            "holes_m": shape["holes_m"],
            "depth_m": "5.2 mm ± 0.1 mm",
            "source": source,
        }
        for shape in found["shapes"]
    }
