"""Plans are equal, figure by figure, to those kept when a change of figures was last meant (release 0.7.0
until docs/decisions/0033); and what the core writes about a piece is what was read and kept: plan, script,
debrief, record, what was learned, evidence, causes, finish. What is true of it is checked in the other files.
"""

import math
import re
from datetime import datetime

import pytest

from tests import as_before, as_written

pytestmark = pytest.mark.slow

RELATIVE = 1e-6  # the kept figures have nine digits; a march in other steps would differ by 1e-4 and more
ABSOLUTE = 1e-9
MOMENT_S = 1.0  # figures this near, of times of up to weeks, move a moment by less

# (case, path of the figure, why it is another one today)
MEANT: list[tuple[str, str, str]] = []
CASES = as_before.read()


def is_meant(case: str, path: str) -> bool:
    return any(re.fullmatch(name, case) and re.fullmatch(figure, path) for name, figure, _ in MEANT)


def is_equal(one: object, other: object) -> bool:
    if isinstance(one, dict) and isinstance(other, dict):
        return one.keys() == other.keys() and all(is_equal(one[key], other[key]) for key in one)
    if (
        isinstance(one, bool)
        or isinstance(other, bool)
        or not (isinstance(one, int | float) and isinstance(other, int | float))
    ):
        return one == other or is_same_moment(one, other)
    return math.isclose(one, other, rel_tol=RELATIVE, abs_tol=ABSOLUTE)


def is_same_moment(one: object, other: object) -> bool:
    if not (isinstance(one, str) and isinstance(other, str)):
        return False
    try:
        apart = datetime.fromisoformat(one) - datetime.fromisoformat(other)
    except ValueError:
        return False
    return abs(apart.total_seconds()) < MOMENT_S


DOCUMENT_RELATIVE = 2e-6


def differences(path: str, before: object, today: object) -> list[str]:
    if isinstance(before, dict) and isinstance(today, dict):
        keys = sorted(before.keys() | today.keys())
        return [one for key in keys for one in differences(f"{path}/{key}", before.get(key), today.get(key))]
    if isinstance(before, list) and isinstance(today, list) and len(before) == len(today):
        return [
            one
            for number, pair in enumerate(zip(before, today, strict=True))
            for one in differences(f"{path}/{number}", *pair)
        ]
    if isinstance(before, float) and isinstance(today, int | float):
        return (
            []
            if math.isclose(before, today, rel_tol=DOCUMENT_RELATIVE, abs_tol=1e-9)
            else [f"{path}: {today}"]
        )
    if before == today or is_same_moment(before, today):
        return []
    return [f"{path}: {before!r} is now {today!r}"]


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_figures_are_those_last_meant_and_the_document_is_as_it_was_read(case):
    """One test, since both rest on one plan, which is what takes the time."""
    made = as_before.Made(case)
    before, today = case["figures"], as_before.figures_of(made)
    different = {
        path: (before.get(path), today.get(path))
        for path in before.keys() | today.keys()
        if not is_equal(before.get(path), today.get(path)) and not is_meant(case["name"], path)
    }
    assert not different, dict(sorted(different.items())[:10])
    found = differences("", as_written.read()[case["name"]], as_written.document_of(made))
    assert not found, "\n".join(found[:20])


def test_a_figure_that_changed_is_found():
    before = CASES[0]["figures"]
    path = next(one for one in before if one.endswith("/peak/value"))
    assert not is_equal(before[path], before[path] * (1 + 1e-5))
    assert not is_equal(before["workings"], {**before["workings"], "total/net": 1.0})


def test_a_changed_word_and_a_changed_figure_are_found():
    before = {"plan": {"verdicts": [{"text": "20 °C"}], "totals": {"net": 1.5}}}
    assert differences("", before, {"plan": {"verdicts": [{"text": "21 °C"}], "totals": {"net": 1.5}}})
    assert differences("", before, {"plan": {"verdicts": [{"text": "20 °C"}], "totals": {"net": 1.50001}}})
    assert not differences("", before, before)
