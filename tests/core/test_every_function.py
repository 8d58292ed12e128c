"""What every function with plain arguments gives, or refuses with, is as it was last read."""

from __future__ import annotations

import json
import math

from tests import every_function

RELATIVE = 1e-5  # seven digits are kept; iterations may end a little elsewhere on another machine


def is_same(one: object, other: object) -> bool:
    if isinstance(one, dict) and isinstance(other, dict):
        return one.keys() == other.keys() and all(is_same(one[key], other[key]) for key in one)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(map(is_same, one, other))
    if isinstance(one, float | int) and isinstance(other, float | int):
        return one is other or math.isclose(one, other, rel_tol=RELATIVE, abs_tol=1e-12)
    return one == other


def test_every_function_gives_what_it_gave_when_it_was_last_read():
    before, today = json.loads(every_function.KEPT.read_text()), every_function.answers()
    assert len(before) > 200
    changed = {
        name: [pair for pair in zip(*both, strict=False) if not is_same(*pair)][:1] or "more or fewer"
        for name in sorted(before.keys() | today.keys())
        if not is_same(*(both := (before.get(name, []), today.get(name, []))))
    }
    assert not changed, "read it, then: PYTHONPATH=src python -m tests.every_function keep"


def test_the_net_is_not_blind():
    answers = json.loads(every_function.KEPT.read_text())
    refused = [one for some in answers.values() for one in some if str(one).startswith("refused: ")]
    assert len(set(refused)) > 100
    assert not is_same(answers, {**answers, "cure.kinetics.rate_constant": [0.0]})
    assert not is_same({"a": [1.0, 2.0]}, {"a": [1.0, 2.001]}) and is_same([1.0], [1.0000001])
