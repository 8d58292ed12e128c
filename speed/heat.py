"""./cavatum speed heat: the kernel against SciPy's BDF, blocks, calibration, planning, the API with a worker,
and every figure of the heat's checks.
"""

from __future__ import annotations

import gc
import json
import os
import resource
import subprocess
import sys
import time
import urllib.request
from statistics import median

import numpy as np
import psycopg
from bodies import bodies_against_three
from common import Board, own_database, served, timed

from cavatum.core.calibration.from_sheet import PotLife, fit_film, fit_pot_life, scaled
from cavatum.core.calibration.of_system import Cure, cure_of
from cavatum.core.calibration.spread import resins_like
from cavatum.core.cure.parameters import CLASSES
from cavatum.core.heat import kernel
from cavatum.core.heat.block import block_grid
from cavatum.core.heat.body import Body
from cavatum.core.heat.cast import Cast
from cavatum.core.heat.column import Stack
from cavatum.core.heat.cup import cup_grid
from cavatum.core.heat.grid import Room, kinetics_row
from cavatum.core.heat.materials import Surround
from cavatum.core.heat.run import march
from cavatum.core.layers.chance import chances_of, peaks_of, pourings
from cavatum.core.layers.course import Course
from cavatum.core.options import compare
from cavatum.core.plan import make_plan
from cavatum.core.resin.system import CureFit, LearnedPace
from cavatum.core.resin.typical import typical_systems
from cavatum.machine import paths
from cavatum.store import pieces, systems
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.core.test_heat import EXPECTED, bdf_slab, box, cup_mean, line, peak_c, run_away
from tests.core.test_never import check_order, drawn
from tests.samples import NOW, box_piece, box_void, workshop

SLOW, COATING, PU = (
    CLASSES["slow-casting-epoxy"],
    CLASSES["coating-epoxy"],
    CLASSES["fast-casting-polyurethane"],
)
SHEETS = {one.id: one for one in typical_systems()}
BOX = box_piece(voids=[box_void(wall="board")])
COLUMN = box_piece(
    kind_of_work="pressure casting",
    system_id="fast-casting-polyurethane",
    voids=[
        {
            "id": "column",
            "name": "Column",
            "wall": "plastic",
            "shape": {"kind": "cylinder", "diameter_m": "92 mm", "depth_m": "310 mm"},
            "portions": [{"id": "column-1"}],
        }
    ],
).model_dump(mode="json")


def against_scipy(board: Board) -> None:
    """A bare slab of 60 cells over 72 h, the same equations both ways."""
    cells, depth = 60, 0.04
    dz, k, rho = depth / cells, SLOW.conductivity_w_m_k, SLOW.density_kg_m3
    grid = line(0, cells, kinetics=kinetics_row(SLOW))
    g, groom = np.zeros(cells), np.zeros(cells)
    g[:-1] = k / dz
    groom[0], groom[-1] = 1 / (dz / 2 / k + 1 / 5), 1 / (dz / 2 / k + 1 / 10)
    full = lambda value: np.full(cells, value)  # noqa: E731
    from dataclasses import replace

    grid = replace(
        grid,
        capacity=full(rho * SLOW.heat_capacity_j_kg_k * dz),
        heat=full(rho * SLOW.heat_j_kg * dz),
        gz=g,
        groom=groom,
    )

    def ours():
        return march(grid, full(296.15), full(0.0), Room.steady(23), 0, 72 * 3600.0)

    def theirs():
        return bdf_slab(SLOW, depth, cells, 296.15, 72)

    quick, slow = timed(ours), timed(theirs)
    board.line("slab of 60 cells over 72 h, SciPy's BDF over this kernel", slow / quick, "times", least=20)
    board.line("that slab, this kernel", quick * 1000, "ms")
    board.line(
        "peak of that slab, off SciPy's", abs(ours().peak(0)[0] - theirs().y[0::2].max()), "K", most=0.1
    )


def blocks(board: Board) -> None:
    for n in (20, 40):
        grid = block_grid(SLOW, 0.0958, 0.0958, 0.1, Surround(wall_m=0.0, floor_m=0.0), (n, n, n))
        seconds = timed(
            lambda grid=grid: march(
                grid, np.full(grid.cells, 296.15), np.zeros(grid.cells), Room.steady(23), 0, 72 * 3600.0
            ),
            3,
        )
        board.line(f"block of {n} x {n} x {n} cells over 72 h", seconds, "s", most=0.5 if n == 20 else 8)
    peaks = [
        march(g, np.full(g.cells, 296.15), np.zeros(g.cells), Room.steady(23), 0, 40 * 3600.0).peak(0)[0]
        for g in (block_grid(SLOW, 0.0958, 0.0958, 0.1, Surround(), (n, n, n)) for n in (12, 24))
    ]
    board.line("block of 1 kg, coarse against a refined grid", abs(peaks[0] - peaks[1]), "K", most=0.5)


def calibration(board: Board) -> None:
    pot = PotLife(time_s=2400, mass_kg=0.5, temperature_c=24, criterion="gel")
    board.line(
        "calibration from a pot life",
        timed(lambda: fit_pot_life(scaled(COATING, 0.5), pot), 5) * 1000,
        "ms",
        most=100,
    )
    board.line(
        "calibration from pot life and tack-free film",
        timed(lambda: fit_film(scaled(COATING, 0.5), pot, 0.003, 5.5 * 3600), 3) * 1000,
        "ms",
        most=1000,
    )


def planning(board: Board) -> None:
    board.line(
        "plan of the 600 x 250 x 90 mm box, with all it shows",
        timed(lambda: make_plan(BOX, SHEETS, workshop(), NOW), 5) * 1000,
        "ms",
        most=600,
    )
    board.line(
        "all kinds of plan of that box",
        timed(lambda: compare(BOX, SHEETS, workshop(), NOW), 5) * 1000,
        "ms",
        most=1400,  # 400 for the plans, a second for their chances
    )


def many_layers(board: Board) -> None:
    """What a layer more costs: from 4 to 16 of them over what the first four cost each."""
    cure, empty = (
        cure_of(SHEETS["slow-casting-epoxy"]),
        Course.empty(Body.wide(), Surround(), Room.steady(23)),
    )

    def filled(count: int) -> None:
        course = empty
        for i in range(count):
            course = course.pour(i * 0.03, (i + 1) * 0.03, cure).until_ready()

    four, sixteen = (timed(lambda count=count: filled(count), 5) for count in (4, 16))
    board.line(
        "a layer from the fifth to the sixteenth over one of the first four",
        (sixteen - four) / 12 / (four / 4),
        "times",
        most=2.5,
    )


def six_sheets(board: Board) -> None:
    """A box in each of the six, as the Resin stage asks: at once, and with how often each gets too hot. Never
    the same box twice; the sheets themselves are known from the first on.
    """

    def asked_for(wide_mm: int, *, chances: bool) -> float:
        piece = box_piece(voids=[box_void(width=f"{wide_mm} mm", wall="board")])
        begun = time.perf_counter()
        for one in SHEETS:
            make_plan(
                piece.model_copy(update={"system_id": one}),
                SHEETS,
                workshop(),
                NOW,
                in_full=False,
                provisional=True,
                chances=chances,
            )
        return time.perf_counter() - begun

    board.line("a first box in six new sheets", asked_for(250, chances=True), "s")
    gc.collect()
    gc.freeze()  # as every web process does once it is loaded
    for chances, most in ((False, 1.0), (True, None)):
        seconds = median(asked_for(260 + i + 10 * chances, chances=chances) for i in range(5))
        board.line(
            f"a box in six sheets, {'with' if chances else 'without'} chances", seconds, "s", most=most
        )


def from_a_file(board: Board) -> None:
    """What `./cavatum plan` takes of the processor, start of Python and all imports included."""
    file = paths.CHECKOUT / "examples" / "seed-head-block.cavatum.json"
    command = [sys.executable, "-m", "cavatum.cli", "plan", str(file), "--now", "2026-03-02T12:00+00:00"]
    seconds = []
    for _ in range(4):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        environment = {**os.environ, "PYTHONPATH": str(paths.CHECKOUT / "src")}
        subprocess.run(command, check=True, capture_output=True, env=environment)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        seconds.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    # A second for the plan, and one more for its chances.
    board.line("a plan from a file, processor time in all", median(seconds[1:]), "s", most=2.0)


def physics(board: Board) -> None:
    """The figures of the checks, each a line; the tests hold them at their tolerances too."""
    for metric, name, critical, within in (
        (0, "slab", 0.8785, 5e-4),
        (1, "cylinder", 2.000, 1e-3),
        (2, "sphere", 3.322, 2e-3),
    ):
        low, high = critical - 0.02, critical + 0.02
        for _ in range(9):
            middle = (low + high) / 2
            low, high = (low, middle) if run_away(metric, middle) else (middle, high)
        board.line(
            f"critical delta of a {name}, off {critical:g}",
            abs((low + high) / 2 - critical),
            "-",
            most=within,
        )
    worst, late = 0.0, 0.0
    for name, mm, peak, gel_h, *_ in EXPECTED:
        if peak >= 100:
            continue
        done = (
            Stack(body=Body.wide(), surround=Surround(), room=Room.steady(23))
            .pour(Cast(from_m=0, to_m=mm / 1000, kinetics=CLASSES[name]))
            .wait(120 * 3600)[1]
        )
        worst = max(worst, abs(done.peak(0)[0] - 273.15 - peak))
        if gel_h > 1:
            late = max(late, abs(done.first(0, kernel.MOST_CURED, CLASSES[name].gel) / 3600 / gel_h - 1))
    board.line("expected table below 100 degC, worst peak", worst, "K", most=3)
    board.line("expected table below 100 degC, worst gel time over 1 h", late * 100, "%", most=5)


def trade(board: Board) -> None:
    """Common practice, no source."""
    wide = Body.wide()
    board.line("slow casting, wide 40 mm at 23 degC", peak_c(wide, 0.04, SLOW), "degC", most=45)
    board.line("slow casting, wide 60 mm", peak_c(wide, 0.06, SLOW), "degC", least=80)
    board.line("1 kg block 100 mm deep at 23 degC", peak_c(box(0.0958, 0.0958), 0.1, SLOW), "degC", most=60)
    board.line(
        "1 kg block 100 mm deep at 30 degC", peak_c(box(0.0958, 0.0958), 0.1, SLOW, 30.0), "degC", least=80
    )
    for hours, bound in ((12, {"least": 150}), (48, {"most": 60})):
        stack = (
            Stack(body=wide, surround=Surround(), room=Room.steady(23))
            .pour(Cast(from_m=0, to_m=0.04, kinetics=SLOW))
            .wait(hours * 3600.0)[0]
        )
        board.line(
            f"a second 40 mm after {hours} h",
            stack.pour(Cast(from_m=0.04, to_m=0.08, kinetics=SLOW))
            .wait((hours + 72) * 3600.0)[1]
            .hottest.max()
            - 273.15,
            "degC",
            **bound,
        )
    made = make_plan(BOX, SHEETS, workshop(), NOW)
    board.line(
        "hottest below a new layer at the planner's gate",
        max(layer.heat.below_c or 0 for pour in made.pours for layer in pour.layers),
        "degC",
        most=35,
    )
    at_3, at_11 = cup_mean(PU, 0.8, 20.3, 20.0, [3, 11])
    board.line("fast polyurethane 800 g at 3 min, off 25 degC", abs(at_3 - 25), "K", most=1)
    board.line("fast polyurethane 800 g at 11 min, off 41 degC", abs(at_11 - 41), "K", most=1.5)
    board.line(
        "100 g of it at 11 min, cooler by", at_11 - cup_mean(PU, 0.1, 20.3, 20.0, [11])[0], "K", least=1.5
    )
    board.line("coating epoxy 6 mm", peak_c(wide, 0.006, COATING), "degC", most=40)
    board.line("coating epoxy 20 mm", peak_c(wide, 0.02, COATING), "degC", least=100)

    def gel(room_c: float) -> float:
        grid = cup_grid(COATING, 0.5)
        return march(
            grid, np.full(grid.cells, room_c + 273.15), np.zeros(grid.cells), Room.steady(room_c), 0, 18000.0
        ).first(0, kernel.MOST_CURED, COATING.gel)

    board.line("pot life at 20 over that at 30 degC", gel(20) / gel(30), "times", least=1.8, most=2.3)


def asked(address: str, path: str, body: dict | None = None, token: str = "", cookie: str = ""):
    request = urllib.request.Request(
        address + path,
        None if body is None else json.dumps(body).encode(),
        {"Content-Type": "application/json", "X-CSRFToken": token, "Cookie": cookie},
    )
    begun = time.perf_counter()
    with urllib.request.urlopen(request) as answer:
        return json.load(answer), time.perf_counter() - begun, answer.headers


def over_the_web(board: Board) -> None:
    """Server and worker as the start command starts them, on a database of their own."""
    with own_database() as url:
        migrate(url)
        with psycopg.connect(url) as connection:
            shop = implied_workshop(connection)
            for one in ("slow-casting-epoxy", "fast-casting-polyurethane"):
                systems.add_version(connection, shop, SHEETS[one])
            stored = pieces.create(connection, shop, BOX)
        begun = time.monotonic()
        with served(url) as address:
            board.line("start of the server, kernel in its cache", time.monotonic() - begun, "s", most=8)
            measure_web(board, f"{address}/api/v1", stored.id)


def measure_web(board: Board, address: str, piece: int) -> None:
    session, _, headers = asked(address, "/session")
    token, cookie = session["csrf_token"], headers["Set-Cookie"].split(";")[0]
    stored, *_ = asked(address, f"/pieces/{piece}")
    for _ in range(3):
        asked(address, f"/pieces/{piece}/options")
    plan_s = median(asked(address, f"/pieces/{piece}/options")[1] for _ in range(8))
    board.line("all plan kinds of the box in the API, warm", plan_s * 1000, "ms", most=400)
    for called, document, boundaries in (
        ("", stored["piece"], lambda step: [0.030 + step * 2e-4, 0.060]),
        (" of the lamp column in six", COLUMN, lambda step: [0.050 + step * 2e-4, 0.1, 0.15, 0.2, 0.25]),
    ):
        drags = []
        for step in range(-6, 25):  # the first few find every process cold
            document["layering"] = "own"
            document["voids"][0]["portions"][0]["boundaries_m"] = [
                {"value": at, "origin": "chosen"} for at in boundaries(step)
            ]
            answer, seconds, _ = asked(
                address, "/pieces/try", {"piece": document, "in_full": False}, token, cookie
            )
            heat = answer["plan"]["pours"][0]["layers"][0]["heat"]
            assert heat["peak"]["value"] > 20 and heat["chance"]["high_c"] > 20
            if step >= 0:
                drags.append(seconds)
        board.line(f"a boundary{called} dragged, median", median(drags) * 1000, "ms", most=150)
        board.line(f"a boundary{called} dragged, slowest", max(drags) * 1000, "ms", most=150)


def compiled_at_set_up(board: Board) -> None:
    """A new process loads the kernel from its cache instead of compiling it."""
    code = (
        "import time; b = time.perf_counter(); from cavatum.core.heat.warm import warm; warm(); "
        "print(time.perf_counter() - b)"
    )
    environment = {**os.environ, "PYTHONPATH": str(paths.CHECKOUT / "src")}
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, env=environment
    )
    board.line("first run of the kernel in a new process", float(done.stdout), "s", most=3)


def order_of_cure(board: Board, count: int = 1000) -> None:
    """gelled <= next pour <= out of the form <= fully cured, for random layers, forms and rooms."""
    random, never = np.random.default_rng(1), 0
    for _ in range(count):
        window, _ = drawn(random)
        check_order(window)
        never += window.cured_s is None
    board.line("layers, forms and rooms drawn whose cure keeps its order", count, "", least=count)
    board.line("of them never fully cured in their room", never / count, "of all")


def truths_in_their_bands(board: Board, each: int = 500) -> None:
    """Resins and pours drawn by another seed, more of them than a plan has, from what each sheet may be
    about: 80 of a hundred have their peak inside the band that the plan shows, and as many pass "never" as it
    says.
    """
    held = asked_of = 0
    off: list[float] = []
    for cure, course in sheets_of_three_kinds():
        chance = chances_of(course)[0]
        peaks = true_peaks(cure, course, each)
        share = float(((peaks >= chance.low_c) & (peaks <= chance.high_c)).mean())
        board.line(f"true peaks inside the band, {cure.fitted_to[:34]}", share * 100, "%")
        off.append(abs(float((peaks > cure.never_c).mean()) - chance.over_never))
        held, asked_of = held + share * each, asked_of + each
    board.line(
        f"{asked_of} simulated truths inside their bands, off 80 %",
        abs(held / asked_of - 0.8) * 100,
        "points",
        most=3,
    )
    board.line("chance of passing never, furthest off theirs", max(off) * 100, "points", most=6)


def sheets_of_three_kinds() -> list[tuple[Cure, Course]]:
    """Two typical sheets, one refitted to a curve, one whose pace runs taught; each with a wide band."""
    slow, casting = SHEETS["slow-casting-epoxy"], SHEETS["casting-epoxy-25"]
    fit = CureFit(rate_factor=1.1, top_w_m2k=9.0, before_k=2.0, after_k=0.3, points=80, note="speed")
    pace = LearnedPace(times=0.9, low=0.82, high=0.98, runs=5)
    kinds = [
        (slow, 0.045),
        (casting, 0.022),
        (slow.model_copy(update={"cure_fit": fit}), 0.040),
        (slow.model_copy(update={"learned_pace": pace}), 0.040),
        (SHEETS["fast-casting-polyurethane"], 0.04),
        (SHEETS["coating-epoxy"], 0.008),
    ]
    found = []
    for sheet, depth_m in kinds:
        cure = cure_of(sheet)
        empty = Course.empty(Body.wide(), Surround(), Room.steady(23.0))
        found.append((cure, empty.pour(0.0, depth_m, cure).until_ready()))
    return found


def true_peaks(cure: Cure, course: Course, count: int) -> np.ndarray:
    """Of resins and pours drawn by a seed of their own [degC]."""
    likely = resins_like(cure.subject, count=count, prior=2 * count, seed=977)
    drawn = pourings(air_is_measured=course.stack.surround.air_is_measured, count=count, seed=978)
    return np.array(
        [
            peaks_of(course, pouring, {cure.system_id: kinetics})[0]
            for pouring, kinetics in zip(drawn, likely, strict=True)
        ]
    )


def main() -> None:
    board = Board()
    against_scipy(board)
    blocks(board)
    calibration(board)
    planning(board)
    many_layers(board)
    six_sheets(board)
    from_a_file(board)
    physics(board)
    trade(board)
    order_of_cure(board)
    truths_in_their_bands(board)
    bodies_against_three(board)
    compiled_at_set_up(board)
    over_the_web(board)
    board.leave()


if __name__ == "__main__":
    main()
