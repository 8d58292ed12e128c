"""What the child process can be asked: each task takes the file and options and gives plain JSON."""

from __future__ import annotations

import base64
from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING, Any
from zoneinfo import ZoneInfo

import numpy as np

from ..core.common.errors import DomainError
from ..core.piece.shapes import Source

if TYPE_CHECKING:  # OpenCV is loaded only for a photo
    from ..core.measure.photo_reference import Lengths, Rectangle
    from ..core.measure.triangles import Solid

Task = Callable[[bytes, dict[str, Any]], dict[str, Any]]
PREVIEW_TRIANGLES = 24_000


def outlines(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from .drawings_in import outlines_of
    from .dxf_in import read_dxf
    from .svg_in import read_svg

    drawing = read_svg(data) if options["kind"] == "svg" else read_dxf(data)
    return outlines_of(drawing, options.get("unit"), options.get("layers"))


def mesh_about(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Size in the file's own unit, so that the person can say which unit it is."""
    solid, declared, notes = _sound(data, options["kind"])
    low, high = solid.low_high
    return {
        "triangles": len(solid.triangles),
        "size": [float(one) for one in high - low],
        "declared": declared,
        "notes": notes,
    }


def _sound(data: bytes, kind: str) -> tuple[Solid, str | None, list[str]]:
    """Read, checked and joined to one body; the unit the file names; how it was joined, in words."""
    from .meshes_in import read_mesh
    from .solids_in import joined

    solid, declared = read_mesh(data, kind)
    whole, notes = joined(solid)
    return whole, declared, notes


def mesh(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from ..core.measure.mesh_shape import mesh_shape

    solid, _, notes = _sound(data, options["kind"])
    source = Source.model_validate(options["source"])
    made = mesh_shape(
        solid,
        source.model_copy(update={"read_as": " ".join([source.read_as, *notes]).strip()}),
        unit=options["unit"],
        up=options["up"],
        role=options["role"],
        form_m=tuple(options["form_m"]) if options.get("form_m") else None,
    )
    return made.model_dump(mode="json")


def mesh_preview(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Few triangles for the screen, placed as the shape is: metres, up is z, middle of the floor at
    nought.
    """
    from ..core.measure.mesh_shape import placed_mesh
    from ..core.measure.thinning import thinned

    solid, _, _ = _sound(data, options["kind"])
    placed = placed_mesh(solid, options["unit"], options["up"])
    low, high = placed.low_high
    few = thinned(placed, PREVIEW_TRIANGLES)
    return {
        "corners": base64.b64encode(few.corners.astype("<f4").tobytes()).decode(),
        "triangles": base64.b64encode(few.triangles.astype("<u4").tobytes()).decode(),
        "of": len(solid.triangles),
        "shown": len(few.triangles),
        "size_m": [float(one) for one in high - low],
    }


def export_source(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Corners and triangles in full, for cutting a layer out of a mesh."""
    solid, _, _ = _sound(data, options["kind"])
    return {
        "corners": base64.b64encode(solid.corners.astype("<f8").tobytes()).decode(),
        "triangles": base64.b64encode(solid.triangles.astype("<i8").tobytes()).decode(),
    }


def photo_view(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from .photos_in import as_jpeg, read_photo

    picture = read_photo(data)
    return {
        "width": picture.shape[1],
        "height": picture.shape[0],
        "jpeg": base64.b64encode(as_jpeg(picture)).decode(),
    }


def trace(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """The outline found from seeds, or the person's own points, put into metres with its band."""
    from ..core.measure.photo import find_outline, outline_area, traced
    from ..core.measure.photo_doubt import Borne, borne_out, both, check_sides
    from ..core.measure.photo_reference import Parallax, Rectangle, on_its_edges
    from .photos_in import read_photo

    picture = read_photo(data)
    reference = _reference(options["reference"])
    sides = Borne()
    if isinstance(reference, Rectangle):
        reference = on_its_edges(picture, reference)
        sides = check_sides(reference, picture.shape[1], picture.shape[0])
    by_hand = options.get("outline_px")
    outside = np.array(options["outside_px"], float) if options.get("outside_px") else None
    outline = (
        np.array(by_hand, float)
        if by_hand
        else find_outline(picture, np.array(options["seeds_px"], float), outside)
    )
    parallax = Parallax(**options["parallax"]) if options.get("parallax") else None
    is_drawn = bool(by_hand) and options.get("moved", True)
    if not is_drawn:  # what a person drew is theirs: the picture is not asked
        sheet = reference.corners_px if isinstance(reference, Rectangle) else None
        sides = both(borne_out(picture, outline, sheet), sides)
    found = traced(outline, reference, parallax, by_hand=is_drawn, borne=sides)
    keep = _few(found.points_m)
    thin = found.points_m[keep]
    thin = thin.mean(axis=0) + (thin - thin.mean(axis=0)) * np.sqrt(
        found.area_m2 / outline_area(thin)
    )  # encloses what was traced
    set_corners = reference.corners_px if isinstance(reference, Rectangle) else reference.ends_px
    return {
        "outline_px": [[round(float(x), 2), round(float(y), 2)] for x, y in outline[keep]],
        "points_m": [[round(float(x), 6), round(float(y), 6)] for x, y in thin],
        "area_m2": found.area_m2,
        "half_m2": found.half_m2,
        "shares": found.shares,
        "reference_px": np.asarray(set_corners, float).round(2).tolist(),
        "corner_sigma_px": getattr(reference, "corner_sigma_px", None),
        "by_hand": bool(by_hand),
        "doubts": list(found.doubts),
        "is_good": found.is_good,
    }


def _few(points: np.ndarray, most: int = 64) -> np.ndarray:
    """Indices of few enough points to correct by hand, that keep the outline's shape: its area stays within
    0.3 %.
    """
    import shapely

    ring = shapely.Polygon(points)
    if not ring.is_valid:
        raise DomainError(
            argument="outline",
            value="crossing itself",
            allowed="it goes round once without crossing",
            way_out="Move the points that were swapped.",
            code="crosses-itself",
        )
    tolerance = float(np.ptp(points, axis=0).max()) * 1e-5
    while True:
        kept = shapely.simplify(ring, tolerance)
        coords = {tuple(one) for one in np.asarray(kept.exterior.coords[:-1])}
        if len(coords) <= most or abs(kept.area / ring.area - 1) > 3e-3:
            return np.array([i for i, one in enumerate(points) if tuple(one) in coords])
        tolerance *= 1.3


def _reference(said: dict[str, Any]) -> Rectangle | Lengths:
    from ..core.measure.photo_reference import Lengths, Rectangle

    points = np.array(said["points_px"], float)
    first, second = said["first_m"], said["second_m"]
    spreads = {name: said.get(name, 0.0) for name in ("first_spread_m", "second_spread_m")}
    if said["kind"] == "rectangle":
        return Rectangle(corners_px=points.reshape(4, 2), first_side_m=first, second_side_m=second, **spreads)
    return Lengths(ends_px=points.reshape(2, 2, 2), first_m=first, second_m=second, **spreads)


def photo_fields(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Mean linear sRGB of rectangles, given as shares of width and height, and how much of each is cut off at
    an end of the scale; the first is the grey patch.
    """
    from ..core.mix.swatch import burnt_share, linear
    from .photos_in import read_photo

    picture = read_photo(data)
    high, wide = picture.shape[:2]
    means, burnt = [], []
    for place, field in enumerate(options["fields"]):
        cut = picture[
            int(field["top"] * high) : int(field["bottom"] * high),
            int(field["left"] * wide) : int(field["right"] * wide),
        ]
        if cut.size < 3 * 100:
            raise DomainError(
                argument="field",
                value="smaller than 100 pixels",
                allowed="it covers a good part of patch or swatch",
                way_out="Draw it larger.",
                code="too-small",
            )
        burnt.append(burnt_share(cut.reshape(-1, 3), is_patch=place == 0))
        means.append([float(one) for one in linear(cut.reshape(-1, 3)[:, ::-1] / 255.0).mean(axis=0)])
    return {"means": means, "burnt": burnt}


def flaws(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """What a photo in low side light shows."""
    import cv2

    from ..core.watch.raking import flaws_in
    from .photos_in import read_photo

    picture = read_photo(data)
    found = flaws_in(
        cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY).astype(np.uint8),
        np.array(options["corners_px"], np.float64),
        options["length_m"],
        options["width_m"],
        options["lamp"],
    )
    return {
        "size": [picture.shape[1], picture.shape[0]],
        "flaws": [one.model_dump(mode="json") for one in found],
    }


def faces(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Four-cornered faces in a camera's picture."""
    from ..core.watch.outline import faces_in
    from .photos_in import read_frame

    picture = read_frame(data)
    return {
        "size": [picture.shape[1], picture.shape[0]],
        "faces": [face.round(1).tolist() for face in faces_in(picture)],
    }


def calendar(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Busy times of an iCalendar."""
    from .calendar import read_busy

    said = ZoneInfo(options["said"]) if options["said"] else None
    from_at = datetime.fromisoformat(options["from_at"])
    found = read_busy(data, from_at, ZoneInfo(options["zone"]), said)
    return {
        "busy": [one.model_dump(mode="json") for one in found.busy],
        "left_out": found.left_out,
        "asks": found.asks,
    }


def sheet(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from .sheets_in import read_sheet

    return read_sheet(data, options)


def sheet_page(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from .sheets_in import page_picture

    return page_picture(data, options)


def label(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    from .sheets_in import read_label

    return read_label(data, options)


TASKS: dict[str, Task] = {
    "calendar": calendar,
    "outlines": outlines,
    "mesh about": mesh_about,
    "mesh": mesh,
    "mesh preview": mesh_preview,
    "mesh source": export_source,
    "photo view": photo_view,
    "flaws": flaws,
    "faces": faces,
    "photo fields": photo_fields,
    "trace": trace,
    "sheet": sheet,
    "sheet page": sheet_page,
    "label": label,
}
