"""The piece file: one piece as JSON with the sheets and the workshop it was planned with. Schema:
docs/formats/piece.md.
"""

from __future__ import annotations

import json
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..core.common.errors import DomainError
from ..core.piece.document import FORMAT, VERSION, Piece
from ..core.piece.shapes import SHAPE_KINDS

MOST_BYTES = 2 * 1024 * 1024
DEEPEST_NESTING = 40


def read_piece(data: bytes) -> Piece:
    """The piece of a file. Raises DomainError (too large, not JSON, other format, newer version) or
    ValidationError.
    """
    if len(data) > MOST_BYTES:
        raise DomainError(
            argument="piece file",
            value=f"{len(data) / 1e6:.1f} MB",
            allowed=f"at most {MOST_BYTES // 1024 // 1024} MB are read",
            way_out="Export it again; a piece file holds no photos or meshes.",
            code="too-large",
        )
    try:
        document: Any = json.loads(data.decode("utf-8-sig"), parse_constant=_no_constant)
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError) as error:
        raise DomainError(
            argument="piece file",
            value=f"broken ({error})",
            allowed="it must be JSON in UTF-8",
            way_out="Export it again.",
            code="broken",
        ) from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise DomainError(
            argument="piece file",
            value="of another format",
            allowed=f'its "format" must be "{FORMAT}"',
            way_out="Choose a piece file.",
            code="other-format",
        )
    version = document.get("version")
    if not isinstance(version, int) or version > VERSION:
        raise DomainError(
            argument="piece file",
            value=f"of version {version}",
            allowed=f"this Cavatum reads up to version {VERSION}",
            way_out="Update Cavatum, or export it from the older one.",
            code="newer-version",
        )
    return Piece.model_validate(document)


def _no_constant(name: str) -> float:
    raise json.JSONDecodeError(f"{name} is no number", name, 0)


def write_piece(piece: Piece) -> bytes:
    return piece.model_dump_json(indent=2).encode() + b"\n"


def schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the file, made from the types that check it."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **TypeAdapter(Piece).json_schema()}


def explain(error: ValidationError) -> list[dict[str, Any]]:
    """Each complaint with a JSON pointer to the field, the value, and the way out, for any edge to show."""
    problems = []
    for one in error.errors(include_url=False):
        cause = one.get("ctx", {}).get("error")
        problem: dict[str, Any] = {
            "pointer": "".join(f"/{part}" for part in _pointer_parts(one["loc"])),
            "message": one["msg"],
            "value": _shortened(one["input"]),
            "way_out": "Correct this value.",
            "code": one["type"],
        }
        if isinstance(cause, DomainError):
            problem |= {
                "message": f"{cause.argument.capitalize()} is {cause.value}; {cause.allowed}.",
                "way_out": cause.way_out,
                "code": cause.code,
                "choices": cause.choices,
            }
        problems.append(problem)
    return problems


_UNION_TAGS = {*SHAPE_KINDS, "board", "disc", "drawn", "stations", "cup", "mesh", "area"}
_UNIONS = {"shape", "outer", "inner", "surface"}


def _pointer_parts(location: tuple[int | str, ...]) -> list[str]:
    """Pydantic names the chosen kind of a union in the path; the document has no such level (it follows one
    of _UNIONS).
    """
    return [
        str(part)
        for index, part in enumerate(location)
        if not (part in _UNION_TAGS and index > 0 and location[index - 1] in _UNIONS)
    ]


def _shortened(value: object) -> str:
    if isinstance(value, dict):
        value = value.get("as_typed") or value.get("value") or "…"
    text = str(value)
    return text if len(text) <= 80 else text[:79] + "…"
