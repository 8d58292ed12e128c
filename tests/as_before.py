"""The figures of a plan, flattened so that two releases can be compared figure by figure. Words are left out:
they are meant to get better.

`python -m tests.as_before FILE` writes the figures that today's code gives for the cases kept in FILE, back
into FILE. Do it only for a change of
figures that is meant, and say why in docs/decisions/.
"""

from __future__ import annotations

import gzip
import json
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

KEPT = Path(__file__).parent / "examples" / "plans.json.gz"
NOW = datetime(2026, 3, 2, 12, 7, tzinfo=UTC)
DIGITS = 9
WORDS = ("heat_notes", "cautions", "typical", "workings", "stages")


class Made:
    """A case as the core takes it, its plan and its ways to split, worked out once."""

    def __init__(self, case: dict[str, Any]):
        from cavatum.core.common.workshop import Workshop
        from cavatum.core.options import compare
        from cavatum.core.piece.document import Piece
        from cavatum.core.piece.shelf_items import ShelfItems
        from cavatum.core.plan import make_plan
        from cavatum.core.resin.typical import typical_systems

        self.piece, self.workshop = (
            Piece.model_validate(case["piece"]),
            Workshop.model_validate(case["workshop"]),
        )
        self.shelf_items = ShelfItems.model_validate(case["goods"])
        self.systems = {one.id: one for one in typical_systems()}
        self.plan = make_plan(self.piece, self.systems, self.workshop, NOW, shelf_items=self.shelf_items)
        self.options = compare(self.piece, self.systems, self.workshop, NOW, self.shelf_items)


def figures_of(made: Made) -> dict[str, Any]:
    """Of one case: every figure of its plan, its ways to split, and its heat run through again from the
    finished plan.
    """
    from cavatum.core.plan import courses_of

    plan = made.plan
    dumped = plan.model_dump(mode="json", exclude=set(WORDS))
    for drawn in dumped["heat_maps"]:
        drawn["cure"], drawn["temperature_c"] = (
            [sum(map(sum, drawn["cure"]))],
            [sum(map(sum, drawn["temperature_c"]))],
        )
    found = dict(_leaves("plan", dumped))
    found["verdicts"] = sorted(f"{one.weight} {one.code} {one.where}" for one in plan.verdicts)
    found["workings"] = {key: _rounded(one.value) for key, one in sorted(plan.workings.items())}
    found["stages"] = [f"{one.stage} {one.state}" for one in plan.stages]
    for option in made.options:
        found.update(_leaves(f"split {option.choice}", option.model_dump(mode="json")))
    for void, course in courses_of(made.piece, made.systems, made.workshop, plan, made.shelf_items).items():
        found[f"replay {void}"] = _rounded(course.peak_c())
    return found


def _leaves(path: str, value: Any) -> Iterator[tuple[str, Any]]:
    if isinstance(value, dict):
        for key, one in value.items():
            yield from _leaves(f"{path}/{key}", one)
    elif isinstance(value, list):
        for number, one in enumerate(value):
            yield from _leaves(f"{path}/{number}", one)
    elif isinstance(value, bool | int | float):
        yield path, _rounded(value)
    elif isinstance(value, str) and _is_moment(value):
        yield path, value


def _rounded(value: float) -> float:
    return value if isinstance(value, bool) else float(f"{value:.{DIGITS}g}")


def _is_moment(text: str) -> bool:
    return len(text) >= 19 and text[4] == text[7] == "-" and text[10] == "T"


def read(file: Path = KEPT) -> list[dict[str, Any]]:
    """0.7.0 called weights otherwise; that they are the same weights is part of what is compared."""
    from cavatum.core.common.verdict import BEFORE_0_8

    cases = json.loads(gzip.decompress(file.read_bytes()))
    for case in cases:
        said = (one.split(" ", 1) for one in case["figures"]["verdicts"])
        case["figures"]["verdicts"] = sorted(
            f"{BEFORE_0_8.get(weight, weight)} {rest}" for weight, rest in said
        )
    return cases


def write(cases: list[dict[str, Any]], file: Path = KEPT) -> None:
    file.write_bytes(gzip.compress(json.dumps(cases, sort_keys=True, ensure_ascii=False).encode(), mtime=0))


if __name__ == "__main__":
    kept = read(Path(sys.argv[1]))
    write([{**case, "figures": figures_of(Made(case))} for case in kept], Path(sys.argv[1]))
