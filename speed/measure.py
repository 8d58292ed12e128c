"""./cavatum speed measure: the core's own figures, meshes by height, photos traced, files read, and the plan
of a piece file.
"""

from __future__ import annotations

import math
import resource
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise
from pathlib import Path
from statistics import median

import numpy as np
from common import Board, timed
from scipy.integrate import quad

from cavatum.core.common.errors import Infeasible
from cavatum.core.measure.shape_hollow import hollow_of
from cavatum.core.measure.triangles import Solid, by_height, check_solid
from cavatum.core.options import compare
from cavatum.core.piece.shapes import Outline
from cavatum.core.plan import make_plan
from cavatum.demo.scenario import demo_pieces
from cavatum.demo.scenario import workshop as demo_workshop
from cavatum.formats import sandbox
from cavatum.formats.solids_out import write_stl
from tests.samples import NOW, SHEETS, box_piece, workshop

ROOT = Path(__file__).resolve().parents[1]
POINTS = [(0.0, 0.0), (0.3, 0.0), (0.3, 0.1), (0.1, 0.1), (0.1, 0.2), (0.0, 0.2)]
HEIGHTS = 200
PHOTOS = 100
SLICES_TIMED = 6


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


def plans(board: Board) -> None:
    shop = workshop()
    board.line("plan of a piece file, command to end", plan_command(), "s", most=2.0)
    board.line(
        "plan of a box in three pours",
        timed(lambda: make_plan(box_piece(), SHEETS, shop, NOW)) * 1000,
        "ms",
        most=50,
    )
    board.line(
        "all ways to split it", timed(lambda: compare(box_piece(), SHEETS, shop, NOW)) * 1000, "ms", most=150
    )
    slowest = max(
        timed(lambda piece=piece: make_plan(piece, SHEETS, demo_workshop(), NOW), 5)
        for piece in demo_pieces(NOW)
    )
    board.line("slowest plan of the demo's pieces, with bands", slowest * 1000, "ms", most=150)
    shape = Outline.model_validate({"points_m": POINTS, "depth_m": "40 mm", "draft_deg": "5 deg"})
    ours = timed(lambda: hollow_of(shape).volume(0.04))
    hollow = hollow_of(shape)
    theirs = timed(lambda: quad(hollow.area, 0, 0.04, epsrel=1e-9), 5)
    board.line("drafted outline: time against SciPy quadrature", ours / theirs, "times")
    exact = quad(hollow.area, 0, 0.04, epsrel=1e-9)[0]
    board.line(
        "drafted outline: difference from SciPy quadrature",
        abs(hollow.volume(0.04) / exact - 1),
        "rel",
        most=1e-6,
    )


def torus(around: int = 1000, across: int = 500) -> Solid:
    """A closed bumpy ring of 2 x around x across triangles [m]: a million of them, with overhangs."""
    u, v = np.meshgrid(
        np.arange(around) * 2 * np.pi / around, np.arange(across) * 2 * np.pi / across, indexing="ij"
    )
    r = 0.03 * (1 + 0.1 * np.sin(5 * u) * np.cos(3 * v))
    corners = np.stack(
        [(0.1 + r * np.cos(v)) * np.cos(u), (0.1 + r * np.cos(v)) * np.sin(u), r * np.sin(v)], axis=-1
    ).reshape(-1, 3)
    i, j = (one.reshape(-1) for one in np.meshgrid(np.arange(around), np.arange(across), indexing="ij"))
    a, b = i * across + j, ((i + 1) % around) * across + j
    c, d = ((i + 1) % around) * across + (j + 1) % across, i * across + (j + 1) % across
    return Solid(corners, np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)]))


def mesh_alone() -> None:
    """In a process of its own: seconds for all heights, how far the top is from the compensated sum, and the
    peak of memory.
    """
    body = torus()
    check_solid(body)
    heights = np.linspace(0, float(np.ptp(body.corners[:, 2])), HEIGHTS)
    seconds = timed(lambda: by_height(body, heights, open_top=False), 3)
    volume = by_height(body, heights, open_top=False).volume[-1]
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    a, b, c = (body.corners[body.triangles[:, k]] for k in range(3))
    exact = math.fsum(np.einsum("ij,ij->i", a, np.cross(b, c))) / 6
    print(len(body.triangles), seconds, abs(volume / exact - 1), peak)


def slicing_seconds() -> float:
    """trimesh cutting the same mesh section by section: a few cuts timed, reckoned up to all heights."""
    import trimesh

    body = torus()
    mesh = trimesh.Trimesh(body.corners, body.triangles, process=False)
    low, high = mesh.bounds[:, 2]
    begun = time.perf_counter()
    for share in np.linspace(0.1, 0.9, SLICES_TIMED):
        trimesh.intersections.mesh_plane(mesh, [0, 0, 1], [0, 0, low + share * (high - low)])
    return (time.perf_counter() - begun) / SLICES_TIMED * HEIGHTS


def meshes(board: Board) -> None:
    alone = subprocess.run(
        [sys.executable, __file__, "mesh"], check=True, capture_output=True, text=True
    ).stdout.split()
    count, seconds, apart, peak = (float(one) for one in alone)
    board.line(
        f"mesh of {count / 1e6:.1f} million triangles: V(h) at {HEIGHTS} heights", seconds, "s", most=1.5
    )
    board.line("  peak of memory of that process, mesh loaded", peak, "MB", most=1024)
    board.line("  top against the compensated sum over tetrahedra", apart, "rel", most=1e-9)
    board.line(
        "  time against slicing it with trimesh, cut by cut", seconds / slicing_seconds(), "times", most=1.0
    )
    data = write_stl(torus(1000, 500))
    begun = time.perf_counter()
    sandbox.ask(
        "mesh",
        data,
        {
            "kind": "stl",
            "unit": "mm",
            "up": "z",
            "role": "cavity",
            "source": {"format": "stl", "name": "ring"},
        },
    )
    board.line(
        f"STL of {len(data) / 1e6:.0f} MB read, checked and measured in the child",
        time.perf_counter() - begun,
        "s",
        most=15,
    )
    board.line(
        "  most memory any child took",
        resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024,
        "MB",
        most=1024,
    )


def drawn(board: Board) -> None:
    """Drawings and meshes with a known truth: clones, drawings within, gaps, bodies that overlap."""
    from tests.formats import test_drawn_true as truths

    off = 0.0
    for inside, wanted in truths.DRAWN.values():
        found = truths.corners(truths.outlines(truths.HEAD + inside + "</svg>"))
        off = max(
            [
                off,
                *(
                    abs(a - b)
                    for one, other in zip(found, wanted, strict=True)
                    for a, b in zip(one, other, strict=True)
                ),
            ]
        )
    board.line(
        f"{len(truths.DRAWN)} drawings with clones and drawings within: worst place or size",
        off,
        "mm",
        most=0.01,
    )
    left_open = 0
    for micrometres in range(3, 50):
        corners = [(0, 0), (200, 0), (200, 100), (0, 100), (0, micrometres / 1000)]

        def draw(space: object, corners: list = corners) -> None:
            for a, b in pairwise(corners):
                space.add_line(a, b)  # type: ignore[attr-defined]

        found = truths.outlines(truths.dxf(draw), "dxf")
        left_open += found["found"] != 1 or not found["notes"]
    board.line("outlines with gaps of 3 to 49 micrometres: not closed and said", left_open, "", most=0)
    worst = 0.0
    for meshes, wanted in truths.BODIES.values():
        body, _ = truths.joined(truths.solid(truths.trimesh.util.concatenate(meshes)))
        worst = max(worst, abs(truths.signed_volume(body) / wanted - 1))
    board.line(f"{len(truths.BODIES)} meshes of several bodies: worst volume", worst, "rel", most=1e-6)


def one_photo(seed: int) -> tuple[float, float, float]:
    """Error, half width (both relative) and seconds of one rendering, its corners set by hand a pixel off."""
    from tests.scenes.photo import read_as_a_person, render

    scene = render(np.random.default_rng(seed))
    begun = time.perf_counter()
    found = read_as_a_person(scene)
    return found.area_m2 / scene.area_m2 - 1, found.half_m2 / found.area_m2, time.perf_counter() - begun


def photos(board: Board) -> None:
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(one_photo, range(PHOTOS)))
    errors, halves, seconds = (np.array(column) for column in zip(*found, strict=True))
    board.line(
        f"photo: worst error of area in {PHOTOS} renderings", float(np.abs(errors).max()) * 100, "%", most=1.5
    )
    board.line(
        "  renderings whose band holds the truth",
        float((np.abs(errors) <= halves).mean()) * 100,
        "of 100",
        least=95,
    )
    board.line("  median half width of the band", float(np.median(halves)) * 100, "%", most=1.5)
    board.line("  deviation of the error (root mean square)", float(np.sqrt((errors**2).mean())) * 100, "%")
    board.line("  time to trace one, median", float(np.median(seconds)), "s", most=2.0)
    with ProcessPoolExecutor() as pool:
        bad = list(pool.map(one_bad_photo, range(PHOTOS * 2)))
    for kind in sorted({one[0] for one in bad}):
        of_kind = [one for one in bad if one[0] == kind]
        read = [one for one in of_kind if one[1] is not None]
        board.line(f"  photos {kind}: refused", 100 * (1 - len(read) / len(of_kind)), "of 100")
        true = sum(one[1] is None or abs(one[1]) <= one[2] for one in of_kind)
        board.line("    refused, or the band holds the truth", 100 * true / len(of_kind), "of 100", least=90)
        called = [abs(one[1]) for one in read if one[3]]
        board.line("    worst error that was called good", 100 * max(called, default=0.0), "%", most=5.0)


def one_bad_photo(seed: int) -> tuple[str, float | None, float, bool]:
    """Its kind, error and half width (both relative) and whether it is called good; no error where
    refused."""
    from tests.scenes.photo import KINDS, SHEETS_M, read_as_a_person, render

    kind = KINDS[1:][seed % (len(KINDS) - 1)]
    scene = render(np.random.default_rng(1000 + seed), kind, list(SHEETS_M)[seed % len(SHEETS_M)])
    try:
        found = read_as_a_person(scene)
    except Infeasible:
        return kind, None, 0.0, False
    return kind, found.area_m2 / scene.area_m2 - 1, found.half_m2 / found.area_m2, found.is_good


def main() -> None:
    if sys.argv[1:] == ["mesh"]:
        mesh_alone()
        return
    board = Board()
    plans(board)
    meshes(board)
    drawn(board)
    photos(board)
    board.leave()


if __name__ == "__main__":
    main()
