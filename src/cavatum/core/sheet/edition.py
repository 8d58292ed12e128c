"""A new edition of a sheet beside the one on the shelf: what changes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ..common.plain_numbers import plainly
from ..common.readings import Reading
from ..common.working import Data
from ..resin.system import DepthRule, System, WorkingTime

SILENT = frozenset({"id", "version", "name", "read_from", "learned_pace", "cure_fit", "class_name"})


class Change(Data):
    """One value of a system before and after, in words; empty where there is none. field: of System."""

    field: str
    before: str
    after: str


def changes(before: System, after: System) -> list[Change]:
    """Every value of the sheet that another edition says otherwise, in the sheet's order. A value that was
    typical and is confirmed as it stood is a change too: it counts from now on.

    Raises nothing. Exact. Source: definition.
    """
    return [
        Change(field=name, before=said(old), after=said(new))
        for name, old, new in _pairs(before, after)
        if not _same(old, new)
    ]


def _pairs(before: System, after: System) -> Iterator[tuple[str, Any, Any]]:
    for name in System.model_fields:
        if name not in SILENT:
            yield name, getattr(before, name), getattr(after, name)


def _same(old: object, new: object) -> bool:
    if isinstance(old, Reading) and isinstance(new, Reading):
        as_much = math.isclose(old.value, new.value, rel_tol=1e-6) and old.spread == new.spread
        return as_much and (old.origin == "typical") == (new.origin == "typical")
    return said(old) == said(new)


def said(value: object) -> str:
    """A value of a system as it would be typed, a typical one marked as such.

    Raises nothing. Exact. Source: none needed.
    """
    if value is None:
        return ""
    if isinstance(value, Reading):
        shown = value.as_typed or plainly(value.value, 6)
        return f"{shown}, typical" if value.origin == "typical" else shown
    if isinstance(value, WorkingTime):
        return f"{said(value.time_s)}; {_grams(value)} at {_degrees(value)}; {value.criterion}"
    if isinstance(value, DepthRule):
        upto = f" up to {said(value.up_to_kg) if value.up_to_kg.as_typed else _kg(value.up_to_kg.value)}" \
            if value.up_to_kg else ""  # fmt: skip
        return f"{said(value.most_depth_m)}{upto}"
    if isinstance(value, list):
        return ", ".join(said(one) for one in value)
    return str(value)


def _grams(work: WorkingTime) -> str:
    return work.mass_kg.as_typed or _kg(work.mass_kg.value)


def _degrees(work: WorkingTime) -> str:
    return work.temperature_c.as_typed or f"{plainly(work.temperature_c.value)} °C"


def _kg(mass: float) -> str:
    return f"{plainly(mass * 1000, 4)} g" if mass < 1 else f"{plainly(mass, 4)} kg"
