"""The plan's cells against refined runs in three dimensions, on bodies drawn over boxes to 10:1 and four
widths deep, rivers in wood, cones, bowls, rings and outlines, in six resins and all form materials.

    python speed/bodies.py    draws and runs 200 anew and writes docs/validation/bodies.csv
"""

from __future__ import annotations

import csv
import math
import os
import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from common import Board

from cavatum.core.calibration.of_system import cure_of
from cavatum.core.heat.around import body_of, surround_of
from cavatum.core.heat.grid import Room
from cavatum.core.layers.course import Course
from cavatum.core.layers.heat_figures import RUNAWAY_C
from cavatum.core.layers.three import in_three
from cavatum.core.measure.cavity import cavity_of
from cavatum.core.piece.document import Void
from cavatum.core.resin.typical import typical_systems
from cavatum.machine import paths
from tests.samples import box_void

COUNT, SEED, ROOM_C = 200, 4, 23.0
SHEETS = {one.id: one for one in typical_systems()}
DEEPEST_M = {
    "thin-sealing-epoxy": 0.01,
    "coating-epoxy": 0.02,
    "craft-casting-epoxy": 0.03,
    "casting-epoxy-25": 0.06,
    "slow-casting-epoxy": 0.2,
    "fast-casting-polyurethane": 0.15,
}
KINDS = ["box", "box", "box", "river", "cone", "bowl", "ring", "outline"]
COLUMNS = ("kind", "wall", "resin", "plan_c", "three_c", "within_k")
KEPT = paths.CHECKOUT / "docs" / "validation" / "bodies.csv"
Row = tuple[str, str, str, float, float, float]


def _mm(metres: float) -> str:
    return f"{metres * 1000:.1f} mm"


def drawn_body(random: np.random.Generator) -> tuple[str, Void, str]:
    """Kind, void and resin."""
    kind = str(random.choice(KINDS))
    wall = str(random.choice(["board", "silicone", "plastic", "metal", "wood", "glass"]))
    system_id = str(random.choice(sorted(DEEPEST_M)))
    wide = math.exp(random.uniform(math.log(0.03), math.log(0.3)))
    most = min(4 * wide, DEEPEST_M[system_id])
    deep = math.exp(random.uniform(math.log(0.006), math.log(most)))
    void = box_void(_mm(min(wide * random.uniform(1, 10), 1.5)), _mm(wide), _mm(deep), wall=wall)
    if kind == "river":
        void["wall"] = "wood"
        void["around"] = {
            "wall_m": _mm(random.uniform(0.02, 0.06)),
            "floor_m": _mm(random.uniform(0.02, 0.05)),
        }
    elif kind != "box":
        void["shape"] = SHAPES[kind](random, wide, deep)
    return kind, Void.model_validate(void), system_id


def _cone(random: np.random.Generator, wide: float, deep: float) -> dict[str, object]:
    below = _mm(wide * random.uniform(0.5, 1.3))
    return {"kind": "cone", "top_diameter_m": _mm(wide), "bottom_diameter_m": below, "depth_m": _mm(deep)}


def _bowl(random: np.random.Generator, wide: float, deep: float) -> dict[str, object]:
    return {"kind": "bowl", "rim_diameter_m": _mm(wide), "depth_m": _mm(min(deep, wide * 0.47))}


def _ring(random: np.random.Generator, wide: float, deep: float) -> dict[str, object]:
    inside = wide * (1 - 2 * random.uniform(0.1, 0.3))
    return {
        "kind": "nested",
        "outer": {"kind": "cylinder", "diameter_m": _mm(wide), "depth_m": _mm(deep)},
        "inner": {"kind": "cylinder", "diameter_m": _mm(inside), "depth_m": _mm(deep)},
        "inner_from_m": "0 mm",
    }


def _outline(random: np.random.Generator, wide: float, deep: float) -> dict[str, object]:
    """A pond: a stretched circle with two to five lobes of up to a quarter of its radius."""
    longer, lobes, swing = random.uniform(1, 3), int(random.integers(2, 6)), random.uniform(0.05, 0.25)
    turn = random.uniform(0, 2 * math.pi)
    round_ = np.linspace(0, 2 * math.pi, 24, endpoint=False)
    radius = wide / 2 * (1 + swing * np.sin(lobes * round_ + turn))
    points = np.column_stack([longer * radius * np.cos(round_), radius * np.sin(round_)])
    points -= points.min(axis=0)
    return {"kind": "outline", "points_m": np.round(points, 5).tolist(), "depth_m": _mm(deep)}


SHAPES = {"cone": _cone, "bowl": _bowl, "ring": _ring, "outline": _outline}


def run(drawn: tuple[str, Void, str]) -> Row:
    """Hottest by the plan and in three dimensions [degC], and how far the latter still moved [K]."""
    kind, void, system_id = drawn
    cavity = cavity_of(void)
    course = Course.empty(body_of(cavity), surround_of(void)[0], Room.steady(ROOM_C))
    course = course.pour(0.0, cavity.fill_m, cure_of(SHEETS[system_id])).until_ready()
    three = in_three(void.shape, None, course, cavity.fill_m)
    return kind, void.wall, system_id, round(course.peak_c(), 2), three.peak_c[0], three.within_k


def sweep(count: int = COUNT, seed: int = SEED) -> list[Row]:
    random = np.random.default_rng(seed)
    drawn = [drawn_body(random) for _ in range(count)]
    with ProcessPoolExecutor(max_workers=os.cpu_count()) as pool:
        return list(pool.map(run, drawn))


def judged(rows: list[Row]) -> tuple[int, np.ndarray, np.ndarray]:
    """How many run away in both (a class, no number); of the others how far the plan is off [K], and how far
    it may be.
    """
    plain = [one for one in rows if min(one[3], one[4]) <= RUNAWAY_C]
    plan, three, within = (np.array([one[i] for one in plain], float) for i in (3, 4, 5))
    return len(rows) - len(plain), plan - three, np.maximum(3.0, 0.05 * (three - ROOM_C)) + within


def bodies_against_three(board: Board) -> None:
    rows = sweep()
    away, off, allowed = judged(rows)
    board.line("bodies against three dimensions, of them running away in both", away, f"of {len(rows)}")
    board.line("plan over three dimensions, worst cold", float(off.min()), "K")
    board.line("plan over three dimensions, worst hot", float(off.max()), "K")
    board.line(
        "bodies within 3 K or 5 % of the rise", float(np.mean(np.abs(off) <= allowed)) * 100, "%", least=98
    )
    board.line("bodies more than 2 K cold", float(np.mean(off < -2.0)) * 100, "%", most=0)


def keep() -> None:
    rows = sweep()
    with KEPT.open("w", newline="") as file:
        csv.writer(file).writerows([COLUMNS, *rows])
    away, off, allowed = judged(rows)
    share = np.mean(np.abs(off) <= allowed)
    print(f"{len(rows)} run, {away} away; {off.min():.1f} K cold, {off.max():.1f} K hot, {share:.1%} within")


if __name__ == "__main__":
    sys.exit(keep())
