"""A row of a query as the typed object that it is read into."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields
from typing import Any, TypeVar

T = TypeVar("T")


def record(of: type[T], row: Sequence[Any]) -> T:
    """The dataclass `of` from a row whose columns stand in the order of its fields.

    Raises ValueError where there are more or fewer columns than fields.
    """
    names = (one.name for one in fields(of))  # type: ignore[arg-type]  # every caller's class is a dataclass
    return of(**dict(zip(names, row, strict=True)))
