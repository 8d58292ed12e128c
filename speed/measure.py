"""./cavatum speed measure: the core's own figures, and the plan of a piece file from the command line."""

from __future__ import annotations

import subprocess
import tempfile
import time
from pathlib import Path
from statistics import median

from common import Board, timed
from scipy.integrate import quad

from cavatum.core.measure.shape_hollow import hollow_of
from cavatum.core.options import compare
from cavatum.core.plan import make_plan
from cavatum.core.shapes import Outline
from tests.samples import NOW, SHEETS, box_piece, workshop

ROOT = Path(__file__).resolve().parents[1]
POINTS = [(0.0, 0.0), (0.3, 0.0), (0.3, 0.1), (0.1, 0.1), (0.1, 0.2), (0.0, 0.2)]


def plan_command(times: int = 5) -> float:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "piece.json"
        file.write_text(box_piece().model_dump_json())
        seconds = []
        for _ in range(times):
            begun = time.perf_counter()
            subprocess.run([str(ROOT / "cavatum"), "plan", str(file)], check=True, capture_output=True)
            seconds.append(time.perf_counter() - begun)
    return median(seconds)


def main() -> None:
    board = Board()
    shop = workshop()
    board.line("plan of a piece file, command to end", plan_command(), "s", most=2.0)
    board.line("plan of a box in three pours", timed(lambda: make_plan(box_piece(), SHEETS, shop, NOW)) * 1000, "ms", most=50)
    board.line("all ways to split it", timed(lambda: compare(box_piece(), SHEETS, shop, NOW)) * 1000, "ms", most=150)
    shape = Outline.model_validate({"points_m": POINTS, "depth_m": "40 mm", "draft_deg": "5 deg"})
    ours = timed(lambda: hollow_of(shape).volume(0.04))
    hollow = hollow_of(shape)
    theirs = timed(lambda: quad(hollow.area, 0, 0.04, epsrel=1e-9), 5)
    board.line("drafted outline: time against SciPy quadrature", ours / theirs, "times")
    exact = quad(hollow.area, 0, 0.04, epsrel=1e-9)[0]
    board.line("drafted outline: difference from SciPy quadrature", abs(hollow.volume(0.04) / exact - 1), "rel", most=1e-6)
    board.leave()


if __name__ == "__main__":
    main()
