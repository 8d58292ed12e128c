"""Packages that only some of the work needs, and that an installation may leave out."""

from __future__ import annotations

from .errors import DomainError

EXTRA_OF = {
    "cv2": "photo",
    "ortools": "schedule",
    "trimesh": "meshes",
    "lib3mf": "meshes",
    "pdfplumber": "sheets",
    "lxml": "sheets",
}
WORK_OF = {
    "photo": "measuring off photos and watching through a camera",
    "schedule": "planning many pieces together",
    "meshes": "reading and writing of 3D models",
    "sheets": "reading of data sheets",
}


def left_out(error: ModuleNotFoundError) -> DomainError:
    """The refusal for a person whose installation lacks a package. error: as Python raised it; raised again
    where the missing module is none of the optional ones.

    No units. Exact: by the names in EXTRA_OF. Source: the extras of pyproject.toml.
    """
    extra = EXTRA_OF.get((error.name or "").partition(".")[0])
    if extra is None:
        raise error
    return DomainError(
        argument=WORK_OF[extra],
        value="not installed here",
        allowed=f"it is in the extra '{extra}' of the package",
        way_out=f"Whoever keeps the computer runs: pip install 'cavatum[{extra}]'",
        code="left-out",
    )
