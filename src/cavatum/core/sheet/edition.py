"""A new edition of a sheet beside the one on the shelf: what changes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ..common.plain_numbers import minutes_or_hours, plainly
from ..common.readings import Reading
from ..common.working import Data
from ..resin.system import DepthRule, System, WorkingTime

UNITS = {
    "length": (1e3, "mm"),
    "mass": (1e3, "g"),
    "temperature": (1.0, "°C"),
    "fraction": (1e2, "%"),
    "density": (1e-3, "g/mL"),
    "viscosity": (1e3, "mPa s"),
    "pressure": (1e-5, "bar"),
    "heat": (1e-3, "kJ/kg"),
}  # from SI
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
        shown = value.as_typed or _in_units(value)
        return f"{shown}, typical" if value.origin == "typical" else shown
    if isinstance(value, WorkingTime):
        at = f"{_shown(value.mass_kg)} at {_shown(value.temperature_c)}"
        return f"{said(value.time_s)}; {at}; {value.criterion}"
    if isinstance(value, DepthRule):
        return said(value.most_depth_m) + (f" up to {_shown(value.up_to_kg)}" if value.up_to_kg else "")
    if isinstance(value, list):
        return ", ".join(said(one) for one in value)
    return str(value)


def _shown(value: Reading) -> str:
    return value.as_typed or _in_units(value)


def _in_units(value: Reading) -> str:
    """Of a value that nobody typed."""
    if value.quantity == "duration":
        return minutes_or_hours(value.value)
    factor, unit = UNITS.get(value.quantity, (1.0, ""))
    return f"⟦{plainly(value.value * factor, 4)} {unit}⟧" if unit else plainly(value.value, 4)
