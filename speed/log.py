"""./cavatum speed log: learning against hidden truths, calibrated tests, diagnosis, blind refits, a logbook
of 5,000 runs with two million readings.
"""

from __future__ import annotations

import json
import time
import urllib.request
from statistics import median

import psycopg
from common import Board, own_database, served
from psycopg.types.json import Jsonb

from cavatum.core.layers.paces import slowness, slowness_by_time
from cavatum.core.layers.refit import refit
from cavatum.core.learn.factors import FACTORS
from cavatum.core.learn.robust import estimate
from cavatum.core.mend.diagnose import commonest, diagnose
from cavatum.core.plan import courses_of, make_plan
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.script_windows import last_pour_id
from cavatum.core.resin.system import LearnedPace
from cavatum.store import pieces, runs, systems
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.core.test_mend import asked
from tests.core.test_refit_blind import hidden_log
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop
from tests.scenes.learning import (
    WORLDS,
    brier,
    centre_of,
    cure_tested,
    described,
    known_noise_width,
    reliability,
    simulated,
    width_of,
)

SHOPS, CURES, RUNS, READINGS = 600, 4000, 5_000, 2_000_000
CODES, COUNTS = ("film", "waste", "soak", "pace", "leftover", "scale"), (3, 4, 6, 10, 20, 40)


def learned(board: Board) -> None:
    for world in WORLDS:
        held, ratios, moved = 0, [], 0
        for seed in range(SHOPS):
            code, count = CODES[seed % len(CODES)], COUNTS[seed // len(CODES) % len(COUNTS)]
            factor = FACTORS[code]
            truth, wobble, values = simulated(seed, code, world, count)
            found = estimate(factor, centre_of(factor), values)
            held += found.low <= truth <= found.high
            ratios.append(width_of(factor, found.low, found.high) / known_noise_width(factor, wobble, count))
            absurd = factor.most * 0.98 if seed % 2 or factor.is_share else factor.least * 1.02
            after = estimate(factor, centre_of(factor), [*values, absurd])
            moved += not found.low <= after.value <= found.high
        board.line(f"learned: 90 % bands that hold the truth, {world}", held / SHOPS * 100, "%", least=85)
        board.line(
            "  width over that of a fit that knows the noise, mean", sum(ratios) / SHOPS, "times", most=1.5
        )
        board.line("  moved past its band by one absurd run", moved, "shops", most=0)


def calibrated(board: Board) -> None:
    for name, fuzz, spread in (
        ("as modelled", 0.08, 0.22),
        ("cures wobble by 0.30", 0.08, 0.30),
        ("tests twice as fuzzy", 0.16, 0.22),
    ):
        pairs = [pair for seed in range(CURES) for pair in cure_tested(seed, fuzz, spread)]
        ours, base = brier(pairs)
        board.line(f"tests foretold, {name}: Brier over the base rate's", ours / base, "times", most=1.0)
        for said, passed, many in reliability(pairs):
            board.line(f"  said {said:.2f}: passed, of {many}", passed, "share")
        if name == "as modelled":
            worst = max(abs(said - passed) for said, passed, many in reliability(pairs) if many > 100)
            board.line("  worst bin, said against passed", worst, "share", most=0.05)


def diagnosed(board: Board) -> None:
    cases = [(case, *one) for case in described() for one in asked(case)]
    pairs = [
        (case["cause"], [one.cause for one in diagnose(case["seen"], answers, facts)])
        for case, answers, facts in cases
    ]
    board.line(
        f"{len(described())} troubles, confused: cause in the first two",
        100 * sum(one in found[:2] for one, found in pairs) / len(pairs),
        "%",
        least=90,
    )
    board.line("  in the first", 100 * sum(one == found[0] for one, found in pairs) / len(pairs), "%")
    board.line(
        "  always guessing the commonest",
        100 * sum(case["cause"] == commonest(case["seen"]) for case, _, _ in cases) / len(cases),
        "%",
    )


def refits(board: Board) -> None:
    for made_by in ("the model", "SciPy"):
        worst = 0.0
        for system_id, depth_m in (
            ("slow-casting-epoxy", 0.04),
            ("slow-casting-epoxy", 0.03),
            ("casting-epoxy-25", 0.025),
            ("coating-epoxy", 0.006),
        ):
            for times in (0.75, 0.9, 1.1, 1.3):
                thought, log = hidden_log(system_id, depth_m, times, made_by)
                worst = max(worst, abs(refit(thought, 0, log).rate_factor / times - 1))
        board.line(f"k2 from a probe's log made by {made_by}, worst of 16", worst * 100, "% off", most=5)


def foretold(board: Board) -> None:
    """Runs that took so many times as long, learned, and the plan made with it against the very runs."""
    worst = 0.0
    for system_id, depth in (
        ("slow-casting-epoxy", "35 mm"),
        ("casting-epoxy-25", "20 mm"),
        ("coating-epoxy", "6 mm"),
    ):
        piece = box_piece(voids=[box_void(depth=depth)], system_id=system_id, layering="even")
        before = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
        course = next(iter(courses_of(piece, SHEETS, workshop(), before).values()))
        table = slowness_by_time(course, 0)["demould"]
        for times in (0.8, 0.9, 1.2, 1.38, 1.6):
            slower = slowness(table, times)
            pace = LearnedPace(times=slower, low=slower, high=slower, runs=4)
            sheets = {**SHEETS, system_id: SHEETS[system_id].model_copy(update={"learned_pace": pace})}
            after = make_plan(piece, sheets, workshop(), NOW, in_full=False)
            worst = max(worst, abs(after.windows[0].demould_s / before.windows[0].demould_s / times - 1))
    board.line("runs foretold by what they taught, worst of 15", worst * 100, "% off", most=3)


def fill(url: str) -> tuple[int, int]:
    """(a run with 400 readings, a run with 60,000); 5,000 runs of one piece, two million readings in all."""
    with psycopg.connect(url) as connection:
        shop = implied_workshop(connection)
        systems.add_version(connection, shop, SHEETS["slow-casting-epoxy"])
        piece = box_piece(voids=[box_void(depth="30 mm")], first_pour_at=NOW)
        stored = pieces.create(connection, shop, piece)
        plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
        script = compile_script(stored.id, piece, plan, workshop())
        run, _ = runs.begin(connection, shop, stored.id, 1, plan, script, NOW, 22.0, None)
        connection.execute("update run set ended_at = begun_at + interval '9 days'")
        connection.execute(
            "insert into run (workshop_id, piece_id, revision, plan, script, room_c, begun_at, ended_at) "
            "select workshop_id, piece_id, 1, plan, script, room_c,"
            " begun_at - n * interval '5 hours', begun_at - n * interval '5 hours' + interval '9 days' "
            "from run, generate_series(1, %s) n",
            (RUNS - 1,),
        )
        record = {
            "how": "finished",
            "systems": ["Slow casting epoxy 3:1"],
            "planned_kg": 5.0,
            "used_kg": None,
            "pours": [],
            "photos": [],
            "words": "",
        }
        connection.execute(
            "insert into run_log (run_id, workshop_id, begun_at, ended_at, piece, kind_of_work, stars, "
            "troubled, words, record, observations)"
            " select id, workshop_id, begun_at, ended_at, 'Sample block ' || id, 'block', 1 + id %% 5, "
            "id %% 9 = 0,"
            " 'sample block ' || id || ' slow casting epoxy 3:1 lot l' || id %% 400"
            " || ' moss paste rust mica '"
            " || repeat('poured in thirds, a clear surface ', 6), %s, '[]'"
            " from run",
            (Jsonb(record),),
        )
        each = (READINGS - 60_000) // (RUNS - 1)
        connection.execute(
            "insert into run_reading (workshop_id, run_id, what, pour, at, value, source)"
            " select workshop_id, id, 'probe_c', 1, begun_at + n * interval '5 minutes', 25 + 8 * sin(n "
            "/ 60.0), 'probe'"
            " from run, generate_series(1, %s) n where id <> %s",
            (each, run.id),
        )
        connection.execute(
            "insert into run_reading (workshop_id, run_id, what, pour, at, value, source)"
            " select workshop_id, id, 'probe_c', 1, begun_at + n * interval '10 seconds', 25 + 8 * sin(n "
            "/ 3000.0), 'probe'"
            " from run, generate_series(1, 60000) n where id = %s",
            (run.id,),
        )
        poured = last_pour_id(plan.pours[0])
        for one in (run.id, run.id + 1):
            connection.execute(
                "insert into run_event (workshop_id, run_id, number, event_id, device, seq, event, at, "
                "device_at, received_at)"
                " select workshop_id, id, 1, gen_random_uuid(), gen_random_uuid(), 1, %s, begun_at, "
                "begun_at, begun_at from run where id = %s",
                (Jsonb({"kind": "done", "step": poured}), one),
            )
        connection.execute("update run_log set made_at = clock_timestamp()")
        total = connection.execute("select count(*) from run_reading").fetchone()
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute("analyze")
    assert total is not None and total[0] > 0.99 * READINGS
    return run.id + 1, run.id


def asked_ms(address: str, path: str, times: int = 15) -> float:
    found = []
    for number in range(times + 1):
        begun = time.perf_counter()
        with urllib.request.urlopen(f"{address}/api/v1{path}") as answer:
            json.load(answer)
        if number:
            found.append((time.perf_counter() - begun) * 1000)
    return median(found)


def logbook(board: Board) -> None:
    with own_database() as url:
        migrate(url)
        few, many = fill(url)
        with served(url) as address:
            for words in (
                "",
                "moss",
                "l37%20rust",
                "nothing%20like%20that",
                "epoxy%203:1&stars=4&troubled=true",
            ):
                board.line(
                    f"search of {RUNS} runs: {words.replace('%20', ' ') or 'all'}",
                    asked_ms(address, f"/logbook?q={words}"),
                    "ms",
                    most=200,
                )
            for one in (few, many):
                with urllib.request.urlopen(f"{address}/api/v1/runs/{one}/heat") as answer:
                    assert len(json.load(answer)["pours"][0]["probe"]) > 300
            board.line(
                "a run's curve of 388 readings", asked_ms(address, f"/runs/{few}/heat"), "ms", most=300
            )
            board.line(
                "a run's curve of 60,000 readings, thinned in the database",
                asked_ms(address, f"/runs/{many}/heat"),
                "ms",
                most=300,
            )


if __name__ == "__main__":
    board = Board()
    learned(board)
    calibrated(board)
    diagnosed(board)
    refits(board)
    foretold(board)
    logbook(board)
    board.leave()
