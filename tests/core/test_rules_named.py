"""Each rule of stages 6 to 10 names a test that fails when it is left out: the test is there, and is one."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
TEXT = (ROOT / "docs" / "rules.md").read_text()
NAMED = re.compile(r"`(tests/[\w/]+\.py)::(test_\w+)`")
ROWS = {found[1]: line for line in TEXT.splitlines() if (found := re.match(r"\| ([6-9]\.\d+)\b", line))}
ROWS["10"] = TEXT[TEXT.index("## 10 Mend") : TEXT.index("## Hazards")]


def test_all_of_the_later_stages_are_there():
    assert len(ROWS) >= 20 and {key.split(".")[0] for key in ROWS} == {"6", "7", "8", "9", "10"}


@pytest.mark.parametrize("rule", sorted(ROWS))
def test_a_rule_names_the_test_that_fails_without_it(rule):
    found = NAMED.findall(ROWS[rule].partition("fails when left out")[2])
    assert found, rule
    for path, name in found:
        source = (ROOT / path).read_text()
        body = source[source.index(f"def {name}(") :].split("\ndef ")[0]
        assert "assert" in body, name
