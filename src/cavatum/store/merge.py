"""Two edits of one document joined: what both left alone or one alone changed is taken, what both changed is
a clash.
"""

from __future__ import annotations

from typing import Any

_GONE = object()


def merge(base: Any, theirs: Any, yours: Any) -> tuple[Any, list[dict[str, Any]]]:
    """Three-way merge of JSON values -> (merged, clashes). Lists of things with ids are joined by id, others
    as a whole.

    A reading ({"value", "as_typed", ...}) is one value: its number and its text are never taken from
    different devices.
    """
    clashes: list[dict[str, Any]] = []
    merged = _merge(base, theirs, yours, "", clashes)
    return merged, clashes


def _merge(base: Any, theirs: Any, yours: Any, pointer: str, clashes: list[dict[str, Any]]) -> Any:
    if yours == base or theirs == yours:
        return theirs
    if theirs == base:
        return yours
    if all(isinstance(one, dict) and "as_typed" not in one for one in (base, theirs, yours)) and _same_kind(
        base, theirs, yours
    ):
        return _merge_keys(base, theirs, yours, pointer, clashes)
    if all(_has_ids(one) for one in (base, theirs, yours)):
        return _merge_lists(base, theirs, yours, pointer, clashes)
    clashes.append(
        {
            "pointer": pointer,
            "base": _shown(base),
            "theirs": _shown(theirs),
            "yours": _shown(yours),
        }
    )
    return theirs


def _same_kind(*values: dict[str, Any]) -> bool:
    return len({value.get("kind") for value in values}) == 1


def _shown(value: Any) -> Any:
    return None if value is _GONE else value


def _merge_keys(
    base: dict[str, Any], theirs: dict[str, Any], yours: dict[str, Any], pointer: str, clashes: list[Any]
) -> dict[str, Any]:
    merged = {}
    for key in dict.fromkeys([*theirs, *yours]):
        value = _merge(
            base.get(key, _GONE), theirs.get(key, _GONE), yours.get(key, _GONE), f"{pointer}/{key}", clashes
        )
        if value is not _GONE:
            merged[key] = value
    return merged


def _has_ids(value: Any) -> bool:
    return isinstance(value, list) and all(isinstance(one, dict) and "id" in one for one in value)


def _merge_lists(
    base: list[Any], theirs: list[Any], yours: list[Any], pointer: str, clashes: list[Any]
) -> list[Any]:
    """Their order first, then what you added."""
    by_id = [{one["id"]: one for one in side} for side in (base, theirs, yours)]
    merged = []
    for key in dict.fromkeys([one["id"] for one in theirs] + [one["id"] for one in yours]):
        base_one, their_one, your_one = (side.get(key, _GONE) for side in by_id)
        value = _merge(base_one, their_one, your_one, f"{pointer}/{key}", clashes)
        if value is not _GONE:
            merged.append(value)
    return merged
