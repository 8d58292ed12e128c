"""What the core writes about a piece is what was read and kept: plan, script, debrief, record, what was
learned, evidence, causes, finish. What is true of it is checked in the other files; here a change is seen.
"""

import math

import pytest

from tests import as_before, as_written

pytestmark = pytest.mark.slow

RELATIVE = 2e-6


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
        return [] if math.isclose(before, today, rel_tol=RELATIVE, abs_tol=1e-9) else [f"{path}: {today}"]
    return [] if before == today else [f"{path}: {before!r} is now {today!r}"]


@pytest.mark.parametrize("case", as_before.read(), ids=lambda case: case["name"])
def test_the_document_is_as_it_was_read(case):
    found = differences("", as_written.read()[case["name"]], as_written.document_of(case))
    assert not found, "\n".join(found[:20])


def test_a_changed_word_and_a_changed_figure_are_found():
    before = {"plan": {"verdicts": [{"text": "20 °C"}], "totals": {"net": 1.5}}}
    assert differences("", before, {"plan": {"verdicts": [{"text": "21 °C"}], "totals": {"net": 1.5}}})
    assert differences("", before, {"plan": {"verdicts": [{"text": "20 °C"}], "totals": {"net": 1.50001}}})
    assert not differences("", before, before)
