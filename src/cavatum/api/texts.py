"""Text as it comes in: halves of characters (lone surrogates) are refused before anything is done."""

from __future__ import annotations

import json
import re
from typing import Any

from flask import request

from ..core.common.errors import DomainError

_HALF = re.compile(rb"\\u[dD][89a-fA-F]|\xed[\xa0-\xbf]")  # written out, or as bytes that are no UTF-8


def refuse_broken_text() -> None:
    """Raises DomainError for a body with half a character in it: nothing that keeps text takes it."""
    if "json" not in (request.mimetype or ""):
        return
    data = request.get_data()
    if not _HALF.search(data):
        return
    try:
        found = json.loads(data.decode("utf-8", "surrogatepass"))
    except (ValueError, RecursionError):
        return  # refused as no JSON, where it is read
    if _is_broken(found):
        raise broken()


def broken() -> DomainError:
    return DomainError(
        argument="the text",
        value="broken: half a character is in it",
        allowed="whole characters are kept",
        way_out="Type that word again; copied from another program it may have been cut.",
        code="broken-text",
    )


def _is_broken(value: Any) -> bool:
    if isinstance(value, str):
        return any("\ud800" <= one <= "\udfff" for one in value)
    if isinstance(value, dict):
        return any(_is_broken(key) or _is_broken(one) for key, one in value.items())
    return isinstance(value, list) and any(_is_broken(one) for one in value)
