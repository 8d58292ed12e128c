"""The commands that look at the code itself: tests, benchmarks, mutation testing, reference pages."""

from __future__ import annotations

import argparse

from . import cluster, packages, paths
from .setting_up import in_venv, set_up
from .turns import one_at_a_time

SPEED_SUBJECTS = ["measure", "heat", "mix", "clock", "log", "first", "sheet", "watch", "web"]
QUICK = ["tests/core", "tests/formats", "tests/test_boundaries.py", "-m", "not slow"]


def test(options: argparse.Namespace) -> int:
    """All tests in five processes side by side, each with a database of its own on the one cluster (on two
    cores: half of their time they wait for a browser or a clock); named tests in one. --quick: what needs no
    database and no browser.
    """
    quick = "--quick" in options.rest
    rest = [one for one in options.rest if one != "--quick"]
    with one_at_a_time():
        set_up(testing=True)
        database, started_database = (None, False) if quick else cluster.ensure_running()
    spread = ["--dist", "worksteal"]
    if quick:
        rest = [*QUICK, "-n", "2", *spread, *rest]
    elif not rest:
        rest = ["-n", "5", *spread, "--cov=cavatum.core", "--cov-report=term:skip-covered"]
    try:
        return in_venv(["-m", "pytest", f"--rootdir={paths.CHECKOUT}", *rest])
    finally:
        if database is not None and started_database:
            cluster.stop(database)


def speed(options: argparse.Namespace) -> int:
    with one_at_a_time():
        set_up(testing=True)
    worst = 0
    for subject in [options.subject] if options.subject else SPEED_SUBJECTS:
        worst = max(worst, in_venv([str(paths.CHECKOUT / "speed" / f"{subject}.py"), *options.parts]))
    return worst


def mutants(options: argparse.Namespace) -> int:
    """Mutation testing, with its own tools on top of those of the tests."""
    with one_at_a_time():
        set_up(testing=True)
        packages.install_mutation_tools()
    return in_venv([str(paths.CHECKOUT / "tests" / "mutants.py"), *options.rest])


def reference(_: argparse.Namespace) -> int:
    """Reference pages of the core from its docstrings, as HTML."""
    with one_at_a_time():
        set_up(testing=True)
    docs = paths.CHECKOUT / "docs"
    pages = ["--no-show-source", "-t", str(docs / "reference_style"), "-o", str(docs / "reference")]
    return in_venv(["-m", "pdoc", *pages, "cavatum.core"])
