"""Random workshops and pieces of every kind against everything a clock may not do; 3,000 of them are in
./cavatum
speed clock.
"""

import pytest

from tests.scenes.clocks import faults


@pytest.mark.parametrize("seed", range(39))
def test_no_clock_breaks_a_rule(seed):
    assert faults(seed) == []
