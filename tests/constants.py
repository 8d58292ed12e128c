"""The constants of the core, as numbers by their name: tables of sheets, materials, limits, times and shares;
with them the limits of its models' fields and the numbers that its functions take where none is given.

They stand twice, in the code and in examples/constants.json, so that none changes unseen. Where each comes
from is said in docs/rules.md, docs/references.md and beside it in the code. `python -m tests.constants keep`
writes today's.
"""

from __future__ import annotations

import contextlib
import dataclasses
import importlib
import inspect
import json
import pkgutil
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from pydantic import BaseModel

KEPT = Path(__file__).parent / "examples" / "constants.json"


def numbers() -> dict[str, float]:
    import cavatum.core

    found: dict[str, float] = {}
    for module in pkgutil.walk_packages(cavatum.core.__path__, "cavatum.core."):
        if module.ispkg:
            continue
        loaded = importlib.import_module(module.name)
        for name, value in vars(loaded).items():
            own = name.lstrip("_").isupper() and not name.startswith("__")
            if own and _is_home(loaded, name):
                at = f"{module.name.removeprefix('cavatum.core.')}.{name}"
                found.update(_numbers(at, value))
            elif getattr(value, "__module__", None) == module.name:
                found.update(_given(f"{module.name.removeprefix('cavatum.core.')}.{name}", value))
    return found


def _given(at: str, value: Any) -> Iterator[tuple[str, float]]:
    """Limits of a model's fields; numbers that a function or a dataclass takes where none is given."""
    if isinstance(value, type) and issubclass(value, BaseModel):
        for name, field in value.model_json_schema().get("properties", {}).items():
            yield from _numbers(f"{at}.{name}", _limits(field))
        return
    parameters: dict[str, inspect.Parameter] = {}
    with contextlib.suppress(TypeError, ValueError):
        parameters = dict(inspect.signature(value).parameters)
    for name, one in parameters.items():
        if one.default is not inspect.Parameter.empty:
            yield from _numbers(f"{at}({name})", one.default)


def _limits(schema: Any) -> Any:
    """Without the default of a default: a workshop's whole self stands where it is defined."""
    if isinstance(schema, list):
        return [_limits(one) for one in schema]
    if not isinstance(schema, dict):
        return schema
    return {key: _limits(one) for key, one in schema.items() if key != "default" or not isinstance(one, dict)}


def _is_home(module: Any, name: str) -> bool:
    """Assigned there, not imported."""
    source = "\n" + Path(module.__file__).read_text()
    return any(text in source for text in (f"\n{name} = ", f"\n{name}: ", f"{name}, "))


def _numbers(at: str, value: Any) -> Iterator[tuple[str, float]]:
    if isinstance(value, bool | str | bytes) or value is None:
        return
    if isinstance(value, int | float):
        yield at, float(f"{value:.9g}")
    elif isinstance(value, dict):
        for key, one in value.items():
            yield from _numbers(f"{at}[{key}]", one)
    elif isinstance(value, list | tuple):
        for place, one in enumerate(value):
            yield from _numbers(f"{at}[{place}]", one)
    elif isinstance(value, set | frozenset):
        for one in sorted(value, key=str):
            yield from _numbers(f"{at}{{}}", one)
    elif isinstance(value, BaseModel):
        yield from _numbers(at, value.model_dump())
    elif dataclasses.is_dataclass(value) and not isinstance(value, type):
        for field in dataclasses.fields(value):
            yield from _numbers(f"{at}.{field.name}", getattr(value, field.name))


if __name__ == "__main__":
    text = json.dumps(numbers(), indent=0, sort_keys=True) + "\n"
    KEPT.write_text(text) if sys.argv[1:] == ["keep"] else print(text)
