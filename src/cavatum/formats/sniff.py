"""Which format a file is in, by its content first and its name where content does not tell."""

from __future__ import annotations

import re
import struct
from typing import Literal

from ..core.common.errors import DomainError

Kind = Literal["svg", "dxf", "stl", "obj", "ply", "3mf", "csv", "photo", "pdf", "html", "text"]
MOST_BYTES: dict[str, int] = {
    "svg": 8 << 20,
    "dxf": 32 << 20,
    "csv": 1 << 20,
    "photo": 32 << 20,
    "stl": 64 << 20,
    "obj": 64 << 20,
    "ply": 64 << 20,
    "3mf": 64 << 20,
    "pdf": 16 << 20,
    "html": 4 << 20,
    "text": 1 << 20,
}
PHOTO_MARKS = (b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")


def kind_of(data: bytes, name: str) -> Kind:
    """Raises DomainError: empty, over the format's size, or none of the formats that are read."""
    kind = _kind(data, name.lower())
    if kind is None:
        raise DomainError(
            argument="file",
            value=f"{name or 'without a name'}, of a kind that is not read here",
            allowed="SVG, DXF, STL, OBJ, PLY, 3MF, CSV stations, JPEG, PNG, WebP, PDF, HTML and text are",
            way_out="Export it in one of these.",
            code="unknown-kind",
        )
    if len(data) > MOST_BYTES[kind]:
        raise DomainError(
            argument=f"{kind} file",
            value=f"{len(data) / 1e6:.0f} MB",
            allowed=f"at most {MOST_BYTES[kind] >> 20} MB are read",
            way_out="Make it smaller.",
            code="too-large",
        )
    return kind


def _is_3mf(data: bytes, name: str) -> bool:
    return name.endswith(".3mf") or b"3D/" in data[:65536] or b"[Content_Types]" in data[:4096]


def _is_stl(data: bytes, text: bytes) -> bool:
    """Binary: as long as its count of triangles says. Text: solid, and facets in it."""
    if len(data) >= 84 and len(data) == 84 + 50 * struct.unpack_from("<I", data, 80)[0]:
        return True
    return text.startswith(b"solid") and b"facet" in data[:65536]


def _is_dxf(head: bytes, text: bytes) -> bool:
    begins = re.match(rb"(?:999\s.*?\n)*\s*0\s*\r?\n\s*SECTION", text, re.S)
    return head.startswith(b"AutoCAD Binary DXF") or begins is not None


def _kind(data: bytes, name: str) -> Kind | None:
    if not data:
        raise DomainError(
            argument="file",
            value="empty",
            allowed="it holds something",
            way_out="Choose another.",
            code="empty",
        )
    head = data[:4096]
    if head.startswith(PHOTO_MARKS) or (head[:4] == b"RIFF" and head[8:12] == b"WEBP"):
        return "photo"
    if head.startswith(b"PK\x03\x04"):
        return "3mf" if _is_3mf(data, name) else None
    if re.match(rb"ply\r?\n", head):
        return "ply"
    text = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    if _is_stl(data, text):
        return "stl"
    if _is_dxf(head, text):
        return "dxf"
    return _of_pages(data, text) or _by_name(name)


def _of_pages(data: bytes, text: bytes) -> Kind | None:
    """A page of HTML may hold small drawings, and is none."""
    if text.startswith(b"%PDF-"):
        return "pdf"
    if re.match(rb"(?:<!--.*?-->\s*)*<(?:!doctype html|html|head|body)", text, re.I | re.S):
        return "html"
    if text.startswith(b"<") and re.search(rb"<(?:\w+:)?svg[\s>]", data[:65536]):
        return "svg"
    return None


def _by_name(name: str) -> Kind | None:
    for ending, kind in (
        (".stl", "stl"),
        (".obj", "obj"),
        (".csv", "csv"),
        (".tsv", "csv"),
        (".txt", "csv"),
        (".sheet", "text"),
        (".htm", "html"),
        (".html", "html"),
        (".dxf", "dxf"),
    ):
        if name.endswith(ending):
            return kind  # type: ignore[return-value]
    return None
