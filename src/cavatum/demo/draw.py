"""The drawings and the mesh that ship with the demo, made from formulas: python -m cavatum.demo.draw writes
them anew.
"""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np

from ..core.measure.triangles import Solid
from ..formats.drawings_out import Ring, Sheet, write_dxf, write_svg
from ..formats.solids_out import write_stl

FILES = Path(__file__).parent / "files"
DISC_M = 0.090  # half of 180 mm


def _circle(radius_m: float, count: int = 180) -> Ring:
    return [
        (radius_m * math.cos(2 * math.pi * i / count), radius_m * math.sin(2 * math.pi * i / count))
        for i in range(count)
    ]


def waymark() -> Sheet:
    """A disc of 180 mm with a ring pocket and an arrow pocket."""
    arrow = [
        (0.0, 0.052),
        (0.034, 0.008),
        (0.014, 0.008),
        (0.014, -0.048),
        (-0.014, -0.048),
        (-0.014, 0.008),
        (-0.034, 0.008),
    ]
    return Sheet(
        {"disc": [_circle(DISC_M)], "ring pocket": [_circle(0.080), _circle(0.066)], "arrow pocket": [arrow]},
        "Waymark disc, pockets 5.2 mm deep",
    )


def fern_tray(count: int = 120, levels: int = 14) -> Solid:
    """A shallow tray of 0.61 L, 240 x 168 mm at the rim, its walls curving in to a flat floor."""
    depth, long, wide = 0.0178, 0.120, 0.084
    rows = []
    for j in range(levels + 1):
        t = j / levels
        inset = 0.009 * (1 - t) ** 2
        turn = [2 * math.pi * i / count for i in range(count)]
        power = 2 / 3.4  # a superellipse: straight sides, round corners
        rows.append(
            [
                (
                    (long - inset) * math.copysign(abs(math.cos(a)) ** power, math.cos(a)),
                    (wide - inset) * math.copysign(abs(math.sin(a)) ** power, math.sin(a)),
                    depth * t,
                )
                for a in turn
            ]
        )
    corners = np.array([point for row in rows for point in row] + [(0, 0, 0), (0, 0, depth)])
    floor, lid = len(corners) - 2, len(corners) - 1
    faces = []
    for i in range(count):
        k = (i + 1) % count
        faces += [(floor, k, i), (lid, levels * count + i, levels * count + k)]
        for j in range(levels):
            a, b, c, d = j * count + i, j * count + k, (j + 1) * count + k, (j + 1) * count + i
            faces += [(a, b, c), (a, c, d)]
    return Solid(corners, np.array(faces, np.int64))


def main() -> None:
    FILES.mkdir(exist_ok=True)
    (FILES / "waymark.svg").write_bytes(write_svg(waymark()))
    (FILES / "waymark.dxf").write_bytes(write_dxf(waymark()))
    (FILES / "fern-tray.stl").write_bytes(write_stl(fern_tray()))


if __name__ == "__main__":
    main()
