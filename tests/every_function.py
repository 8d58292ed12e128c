"""Every function of the core whose arguments are plain (numbers, words, a sheet, a class of resin, a
workshop, a moment), called with drawn arguments: what it gives, or the words it refuses with.

It says nothing of what is right, which the other tests check against their sources; it makes a change
visible, so that somebody reads it. `python -m tests.every_function keep` writes what today's code gives.
"""

from __future__ import annotations

import dataclasses
import importlib
import inspect
import json
import math
import pkgutil
import random
import sys
import types
import typing
import warnings
from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import date, datetime, timedelta
from enum import Enum
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel

import cavatum.core
from cavatum.core.calibration.from_sheet import PotLife
from cavatum.core.calibration.of_system import Cure, cure_of
from cavatum.core.common.errors import DomainError
from cavatum.core.common.readings import Fraction
from cavatum.core.common.wording import Wording
from cavatum.core.common.workshop import Workshop
from cavatum.core.cure.parameters import CLASSES, Kinetics
from cavatum.core.resin.ratio import MixRatio, ratio_of
from cavatum.core.resin.system import System
from tests.samples import NOW, SHEETS, workshop

KEPT = Path(__file__).parent / "examples" / "every_function.json"
CALLS, DIGITS, MOST = 16, 7, 12
NUMBERS = [0.0, -1.0, 0.0004, 0.003, 0.02, 0.09, 0.4, 0.75, 1.0, 2.5, 18.0, 60.0, 296.15, 1100.0, 40_000.0]
SHOPS = [
    workshop(),
    workshop(units="us"),
    workshop(room_c="14 °C", recoat="cure and sand", stir_with="drill"),
]
RESINS = [SHEETS[one] for one in sorted(SHEETS)]
DRAWN: dict[Any, list[Any]] = {
    float: NUMBERS,
    int: [0, 1, 2, 3, 7, 40],
    bool: [False, True],
    str: ["", "A", "mica", "oak", "open", "board", "P120", "12.5 mm", "1 1/2 in", "coating-epoxy", "gel"],
    Kinetics: [CLASSES[one] for one in sorted(CLASSES)],
    System: RESINS,
    Workshop: SHOPS,
    Wording: [Wording(one) for one in SHOPS],
    MixRatio: [ratio_of(one) for one in RESINS],
    datetime: [NOW, NOW + timedelta(hours=9), NOW + timedelta(days=3, minutes=20)],
    date: [NOW.date(), NOW.date() + timedelta(days=400)],
    timedelta: [timedelta(0), timedelta(minutes=50), timedelta(hours=30)],
    PotLife: [
        PotLife(time_s=2400.0, mass_kg=0.5, temperature_c=24.0, criterion="gel"),
        PotLife(time_s=720.0, mass_kg=0.4, temperature_c=23.0, criterion="too thick to pour"),
    ],
    Fraction: [Fraction(value=0.0), Fraction(value=0.04), Fraction(value=0.5, origin="measured")],
    Cure: [cure_of(one) for one in RESINS],
    tuple[float, float]: [(0.0, 0.0), (0.3, 1.2), (-2.0, 5.0)],
}
LISTS: dict[Any, list[list[Any]]] = {
    float: [[], [0.02], [0.0, 0.01, 0.04, 0.09], [3.0, 1.0, 2.0, 2.0], [-1.0, 18.0, 60.0]],
    int: [[], [80, 120, 180, 240], [3, 1, 2]],
    str: [[], ["A"], ["mica", "white", "oak"]],
    System: [[], RESINS[:1], RESINS[1:4]],
    tuple[float, float]: [[], [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)], [(0.0, 23.0), (600.0, 41.0)]],
}
ARRAYS = [np.array(one) for one in LISTS[float] if len(one) > 1]
# Asked for tons by drops it counts for long; no batch of a scale is like that.
LEFT_OUT = {"strokes"}
# Its loops are parts of one march, which every test of heat runs.
COMPILED = "cavatum.core.heat.kernel"


def functions() -> Iterator[tuple[str, Callable[..., Any], dict[str, Any]]]:
    """(name, function, its arguments' types) of all functions that can be called with drawn arguments."""
    for module in sorted(one.name for one in pkgutil.walk_packages(cavatum.core.__path__, "cavatum.core.")):
        if module == COMPILED:
            continue
        held = importlib.import_module(module)
        for name, found in sorted(vars(held).items()):
            inner = inspect.unwrap(found) if callable(found) else found
            if not inspect.isfunction(inner) or inner.__module__ != module or name in LEFT_OUT:
                continue
            try:
                hints = typing.get_type_hints(inner)
            except (NameError, TypeError):
                continue
            wanted = inspect.signature(inner).parameters
            if wanted and all(choices(hints.get(one)) for one in wanted):
                yield (
                    f"{module.removeprefix('cavatum.core.')}.{name}",
                    inner,
                    {one: hints[one] for one in wanted},
                )


def choices(kind: Any) -> list[Any]:
    """What is drawn for a type; nothing where it cannot be drawn."""
    if kind in DRAWN:
        return DRAWN[kind]
    origin, inner = typing.get_origin(kind), typing.get_args(kind)
    if kind is np.ndarray or origin is np.ndarray:
        return ARRAYS
    if origin in (list, Sequence) and inner and inner[0] in LISTS:
        return LISTS[inner[0]]
    if origin is typing.Literal:
        return list(typing.get_args(kind))
    if origin in (types.UnionType, typing.Union):
        some = [choices(one) if one is not type(None) else [None] for one in typing.get_args(kind)]
        return [value for one in some for value in one] if all(some) else []
    return []


def answers() -> dict[str, list[Any]]:
    found: dict[str, list[Any]] = {}
    for name, function, kinds in functions():
        draw = random.Random(name)
        found[name] = []
        for _ in range(CALLS):
            arguments = {one: draw.choice(choices(kind)) for one, kind in kinds.items()}
            found[name].append(answer(function, arguments))
    return found


def answer(function: Callable[..., Any], arguments: Mapping[str, Any]) -> Any:
    with np.errstate(all="ignore"), warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            return plain(function(**arguments))
        except DomainError as refused:
            return f"refused: {refused}"
        except Exception as error:  # drawn arguments make no sense to many a helper: which kind is kept
            return f"raised: {type(error).__name__}"


def plain(value: Any) -> Any:
    """As it can be written and compared: floats to DIGITS digits, everything else by what it holds."""
    if value is None or isinstance(value, bool | str):
        return value
    if isinstance(value, int | float | np.number):
        number = float(value)
        return str(number) if not math.isfinite(number) else float(f"{number:.{DIGITS}g}")
    if isinstance(value, BaseModel):
        return plain(value.model_dump())
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {one.name: plain(getattr(value, one.name)) for one in dataclasses.fields(value)}
    if isinstance(value, Enum):
        return plain(value.value)
    if isinstance(value, Mapping):
        return {str(key): plain(one) for key, one in sorted(value.items(), key=lambda pair: str(pair[0]))}
    if isinstance(value, set | frozenset):
        return sorted(str(one) for one in value)
    if isinstance(value, list | tuple | np.ndarray):
        return [plain(one) for one in value][:MOST]
    if isinstance(value, datetime | date | timedelta):
        return str(value)
    return type(value).__name__


if __name__ == "__main__":
    told = json.dumps(answers(), indent=0, sort_keys=True, ensure_ascii=False)
    if sys.argv[1:] == ["keep"]:
        KEPT.write_text(told + "\n")
    else:
        print(told)
