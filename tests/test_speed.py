"""The benchmarks judge a time by its ratio to a reference of the same run: a slow machine fails nothing,
slow code does.
"""

import importlib.util
import os
import subprocess
import sys
from pathlib import Path

import pytest

FILE = Path(__file__).resolve().parents[1] / "speed" / "common.py"
SPEC = importlib.util.spec_from_file_location("speed_common", FILE)
common = importlib.util.module_from_spec(SPEC)
SPEC.loader.exec_module(common)


def board(slab_s: float):
    made = common.Board()
    made.reference.now_s = lambda: slab_s
    return made


@pytest.mark.parametrize(
    ("slower", "took_ms", "short"), [(1, 390, 0), (1, 410, 1), (4, 1500, 0), (4, 1700, 1)]
)
def test_a_time_is_held_by_the_reference_of_its_run(slower, took_ms, short, capsys):
    made = board(slower * common.REFERENCE_S)
    made.line("a plan", took_ms, "ms", most=400)
    assert made.short == short
    said = capsys.readouterr().out
    assert "slabs" in said and f"{took_ms} ms" in said


def test_what_is_no_time_is_held_as_it_is(capsys):
    made = board(1.0)
    made.line("peak", 0.2, "K", most=0.1)
    made.line("kernel over SciPy", 25, "times", least=20)
    assert made.short == 1 and "slabs" not in capsys.readouterr().out


def test_the_reference_is_scipys_slab():
    assert common.Reference().now_s() > 0


@pytest.mark.parametrize("name", sorted(path.stem for path in FILE.parent.glob("*.py")))
def test_every_benchmark_finds_what_it_measures(name):
    """Nobody runs all of them at every change: what they import may have moved."""
    asked = [sys.executable, "-c", f"import {name}"]
    paths = os.pathsep.join(str(FILE.parents[1] / one) for one in ("src", ".", "speed"))
    found = subprocess.run(asked, capture_output=True, text=True, env={**os.environ, "PYTHONPATH": paths})
    assert found.returncode == 0, found.stderr[-600:]
