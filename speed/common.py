"""Lines of the benchmarks: name, value, unit, wanted bound, held or short. Medians, measured in this run."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "src"))
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))


class Board:
    """Prints each figure as it is measured and remembers whether all held."""

    def __init__(self) -> None:
        self.short = 0

    def line(self, name: str, value: float, unit: str, most: float | None = None, least: float | None = None) -> None:
        held = (most is None or value <= most) and (least is None or value >= least)
        wanted = f"<= {most:g}" if most is not None else f">= {least:g}" if least is not None else "-"
        self.short += not held
        shown = f"{value:.3f}" if value == 0 or abs(value) >= 1e-3 else f"{value:.1e}"
        print(f"{name:<62} {shown:>10} {unit:<7} {wanted:>10}  {'held' if held else 'short'}", flush=True)

    def leave(self) -> None:
        sys.exit(1 if self.short else 0)


def timed(work: Callable[[], object], times: int = 20) -> float:
    """Median seconds of `times` runs, after one to warm up."""
    work()
    seconds = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        seconds.append(time.perf_counter() - begun)
    return median(seconds)
