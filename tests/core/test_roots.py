"""Brent's method against SciPy's, step for step."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq as scipys

from cavatum.core.common.errors import DomainError
from cavatum.core.common.roots import brentq

FUNCTIONS = {
    "cubic": lambda root: lambda x: (x - root) ** 3 + 0.01 * (x - root),
    "exponential": lambda root: lambda x: math.exp(x) - math.exp(root),
    "arctangent": lambda root: lambda x: math.atan(9 * (x - root)),
    "steps": lambda root: lambda x: math.copysign(1.0, x - root) * abs(x - root) ** 0.2,
}


@given(
    st.sampled_from(sorted(FUNCTIONS)),
    st.floats(-2, 2),
    st.floats(0.1, 5),
    st.floats(0.1, 5),
    st.sampled_from([(1e-3, 8.9e-16), (1e-9, 8.9e-16), (2e-12, 8.9e-16), (1e-4, 1e-6)]),
)
def test_every_step_is_that_of_scipy(name, root, below, above, tolerance):
    xtol, rtol = tolerance
    ours, theirs = [], []

    def heard(by):
        inner = FUNCTIONS[name](root)

        def off(x):
            by.append(x)
            return inner(x)

        return off

    low, high = root - below, root + above
    found = brentq(heard(ours), low, high, xtol=xtol, rtol=rtol)
    assert found == scipys(heard(theirs), low, high, xtol=xtol, rtol=rtol)
    assert ours == theirs
    assert abs(found - root) <= xtol + rtol * abs(found) or name == "steps"


def test_a_root_at_an_end_is_handed_back_at_once():
    assert brentq(lambda x: x, 0.0, 1.0) == 0.0
    assert brentq(lambda x: x - 1, 0.0, 1.0) == 1.0


def test_without_a_root_between_the_bounds_it_is_refused():
    with pytest.raises(DomainError, match="between"):
        brentq(lambda x: x * x + 1, -1.0, 1.0)
