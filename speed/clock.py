"""./cavatum speed clock: the workshop's schedule against planted solutions, the pour's fold and answers, and
the sizes of bench mode in the browser.
"""

from __future__ import annotations

import json
import os
import re
import sys
import time
import uuid
from concurrent.futures import ProcessPoolExecutor
from datetime import UTC, datetime, timedelta
from statistics import median

import psycopg
from common import Board, own_database, served, timed

from cavatum.core.clock.schedule import solve
from cavatum.core.clock.schedule_check import broken
from cavatum.core.clock.schedule_cpsat import visits_of
from cavatum.core.clock.schedule_model import Solution
from cavatum.core.clock.starts import best_start, latest_of_the_day, try_starts
from cavatum.core.clock.windows import whole_half_hour
from cavatum.core.plan import make_plan
from cavatum.core.pour.script import compile_script
from cavatum.core.pour.state import fold
from cavatum.core.pour.view import look
from cavatum.demo import scenario
from cavatum.store.workshops import implied_workshop
from tests.samples import NOW, SHEETS, box_piece, workshop
from tests.scenes.clocks import faults, planned
from tests.scenes.runs import T0, done, kept, script
from tests.scenes.starts import judged_by_hand, latest_by_hand, random_job
from tests.scenes.workshops import planted

RANDOM, PIECES, DAYS, CLOCKS = 10_000, 40, 21, 3_000
SOLVE_S, VISITS_OVER, FOLD_MS, COMPILE_MS, SAID_MS, LOOK_MS = 10.0, 0.02, 20.0, 30.0, 60.0, 60.0


def one_workshop(seed: int) -> tuple[int, int, float]:
    """(rules broken, windows missed or late against the planted schedule, seconds)."""
    jobs, shop, found = planted(100_000 + seed, pieces=2 + seed % 2, days=12)
    begun = time.perf_counter()
    answer = solve(jobs, shop, seconds=1.5, workers=1)
    took = time.perf_counter() - begun
    if not isinstance(answer, Solution):
        return 1, 1, took
    return (
        len(broken(jobs, shop, answer.placed)),
        int(answer.missed > 0 or answer.late_s > 0 or answer.visits > visits_of(found, shop)),
        took,
    )


def many(board: Board) -> None:
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(one_workshop, range(RANDOM), chunksize=50))
    board.line(f"windows broken in {RANDOM} random workshops", sum(one[0] for one in found), "rules", most=0)
    board.line("of these worse than the planted schedule", sum(one[1] for one in found), "shops", most=0)
    board.line("one of these, median", median(one[2] for one in found) * 1000, "ms")


def forty(board: Board) -> None:
    slowest, over, unproven = 0.0, 0.0, 0
    for seed in range(5):
        jobs, shop, found = planted(seed, pieces=PIECES, days=DAYS)
        said: list[float] = []
        begun = time.perf_counter()
        answer = solve(jobs, shop, tell=lambda share, words, said=said: said.append(share) or True)
        slowest = max(slowest, time.perf_counter() - begun)
        assert isinstance(answer, Solution) and not broken(jobs, shop, answer.placed) and len(said) >= 4
        unproven += not answer.proven or answer.missed > 0 or answer.late_s > 0
        over = max(over, answer.visits / answer.visits_bound - 1 if answer.visits_bound else 1.0)
        board.line(
            f"visits of {PIECES} pieces, seed {seed}, against the planted schedule",
            answer.visits / visits_of(found, shop),
            "times",
            most=1.0,
        )
    board.line(f"{PIECES} pieces over {DAYS} days, slowest of 5", slowest, "s", most=SOLVE_S)
    board.line("windows and lateness not proven best, of 5", unproven, "shops", most=0)
    board.line("visits over the proven bound, worst of 5", over, "share", most=VISITS_OVER)


def sixty(board: Board) -> None:
    """Sixty open pieces together, and eight that are all due on one day."""
    from dataclasses import replace
    from datetime import timedelta

    from cavatum.core.piece.shelf_items import NONE
    from cavatum.core.schedule.plan_together import plan_together
    from tests.core.test_together import many as pieces_of
    from tests.samples import NOW, SHEETS, workshop

    shop = workshop(people=1, shelves=4)
    begun = time.perf_counter()
    result = plan_together(pieces_of(60, shop), SHEETS, shop, NONE, NOW, lambda *_: True)
    assert result is not None
    board.line("60 pieces planned together", time.perf_counter() - begun, "s", most=120)
    board.line("  pieces that have a place", len(result.proposals), "", least=60)
    board.line("  windows missed beyond the bound", result.missed - result.missed_bound, "", most=0)
    board.line("  days late beyond the bound", result.late_days - result.late_bound_days, "d")
    few = workshop(people=1, shelves=2)
    for pieces, days in ((8, 4), (8, 10), (12, 6), (20, 8)):
        due = (NOW + timedelta(days=days)).date()
        together = [
            replace(one, must_due=True, piece=one.piece.model_copy(update={"due": due}))
            for one in pieces_of(pieces, few)
        ]
        clash = plan_together(together, SHEETS, few, NONE, NOW, lambda *_: True, 4.0)
        assert clash is not None
        ways = len(clash.ways_out) if not clash.feasible else 1
        board.line(f"{pieces} pieces due in {days} days: ways out, or a schedule", ways, "", least=1)


def pour(board: Board) -> None:
    made = script()
    long = [
        kept(number, number / 2, done(made.steps[number % len(made.steps)].id)) for number in range(1, 2001)
    ]
    folded = timed(lambda: fold(made, long), 5)
    board.line("a log of 2,000 events folded", folded * 1000, "ms", most=FOLD_MS)
    state = fold(made, long[:8])
    board.line("how it stands at a moment", timed(lambda: look(made, state, T0), 20) * 1000, "ms")
    piece, shop = box_piece(), workshop()
    plan = make_plan(piece, SHEETS, shop, NOW)
    compiled = compile_script(1, piece, plan, shop)
    board.line(
        "a plan compiled into its script",
        timed(lambda: compile_script(1, piece, plan, shop), 10) * 1000,
        "ms",
        most=COMPILE_MS,
    )
    board.line(
        "a script of three pours, as it travels", len(compiled.model_dump_json()) / 1000, "kB", most=200
    )


def _ask(address: str, path: str, token: str, cookie: str, body: object = None) -> tuple[dict, float]:
    import urllib.request

    request = urllib.request.Request(
        f"{address}/api/v1{path}",
        None if body is None else json.dumps(body).encode(),
        {"Content-Type": "application/json", "X-CSRFToken": token, "Cookie": cookie},
    )
    begun = time.perf_counter()
    with urllib.request.build_opener(urllib.request.ProxyHandler({})).open(request, timeout=30) as answer:
        found = json.loads(answer.read())
    return found, (time.perf_counter() - begun) * 1000


def over_the_wire(board: Board, address: str) -> None:
    import urllib.request

    with urllib.request.build_opener(urllib.request.ProxyHandler({})).open(
        f"{address}/api/v1/session"
    ) as answer:
        token, cookie = json.loads(answer.read())["csrf_token"], answer.headers["Set-Cookie"].split(";")[0]
    pieces, _ = _ask(address, "/pieces", token, cookie)
    ring = next(one["id"] for one in pieces["pieces"] if one["name"] == "Planter rings")
    run, _ = _ask(address, f"/pieces/{ring}/runs", token, cookie, {"rehearse": None})
    device, times, looks = str(uuid.uuid4()), [], []
    for seq in range(1, 201):
        moment = datetime.now(UTC).isoformat()
        event = {
            "event_id": str(uuid.uuid4()),
            "device": device,
            "seq": seq,
            "at": moment,
            "device_at": moment,
            "event": {"kind": "note", "text": f"{seq}"},
        }
        times.append(
            _ask(address, f"/runs/{run['id']}/events", token, cookie, {"since": seq - 1, "events": [event]})[
                1
            ]
        )
    for _ in range(30):
        looks.append(_ask(address, f"/runs/{run['id']}/events?since=200", token, cookie)[1])
    board.line("an event kept and answered, median of 200", median(times), "ms", most=SAID_MS)
    board.line("a bench looks for news, median", median(looks), "ms", most=LOOK_MS)
    board.line("against an event", median(looks) / median(times), "times")


def in_the_browser(board: Board, address: str) -> None:
    from playwright.sync_api import sync_playwright

    from cavatum.machine.packages import find_chromium
    from tests.browser.test_pour import begin, sizes, tap

    arguments = [
        "--disable-background-networking",
        "--disable-gpu",
        *(["--no-sandbox"] if os.geteuid() == 0 else []),
    ]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_chromium(), args=arguments)
        for width, height, title in ((360, 740, 34), (1280, 800, 64)):
            page = browser.new_context(
                viewport={"width": width, "height": height}, base_url=address, locale="en-GB"
            ).new_page()
            page.goto("/pieces")
            page.get_by_role("link", name=re.compile("Fern tray")).first.click()
            page.wait_for_url(re.compile(r"/pieces/\d+"))
            page.goto(re.sub(r"(/pieces/\d+).*", r"\1/pour", page.url))
            begin(page, rehearse=True, speed="as slow as it is", troubles=False)
            while "Stir" not in page.get_by_role("heading", level=1).inner_text():
                tap(page)
            tap(page, re.compile("^Start"))
            found = sizes(page)
            board.line(f"bench mode at {width} px: instruction", found["title"], "px", least=title)
            board.line(f"bench mode at {width} px: timer", found["timer"], "px", least=80)
            board.line(
                f"bench mode at {width} px: smallest target",
                min(tall for _, tall in found["targets"]),
                "px",
                least=64,
            )
            board.line(f"bench mode at {width} px: cut off at the side", max(found["wide"], 0), "px", most=0)
        browser.close()


def one_clock(seed: int) -> tuple[bool, list[str]]:
    """(whether there is a clock at all, what is wrong with it)."""
    return planned(seed)[2].clock is not None, faults(seed)


def one_start(seed: int) -> tuple[int, int, int]:
    """(starts tried, of these judged otherwise than by the days laid out, latest starts that a brute force
    by the
    minute has otherwise). Every tenth is tried by the minute."""
    job, shop = random_job(seed)
    starts = [T0 + timedelta(minutes=173 * number) for number in range(40)]
    tried = try_starts(job, shop, starts)
    wrong = 0
    for place, start in enumerate(starts):
        by_hand = judged_by_hand(job, shop, start)
        mine = bool(tried.possible[place]), int(tried.missed[place]), int(tried.alone[place])
        wrong += mine[0] != by_hand[0] or (mine[0] and mine != by_hand)
    if seed % 10:
        return len(starts), wrong, 0
    best = best_start(job, shop, whole_half_hour(job.ready))
    day = best.at if best else job.ready
    found = latest_of_the_day(job, shop, day)
    latest = found.at if found and found.missed + found.alone == 0 else None
    return len(starts), wrong, int(latest != latest_by_hand(job, shop, day))


def clocks(board: Board) -> None:
    with ProcessPoolExecutor(2) as pool:
        made = list(pool.map(one_clock, range(CLOCKS), chunksize=20))
        tried = list(pool.map(one_start, range(CLOCKS), chunksize=20))
    wrong = [fault for _, faults_ in made for fault in faults_]
    board.line(
        f"random workshops and pieces of all kinds, of {CLOCKS} with a clock",
        sum(one for one, _ in made),
        "clocks",
    )
    board.line(
        "moments outside hours in silence",
        sum("silence" in one or "outside" in one for one in wrong),
        "faults",
        most=0,
    )
    board.line(
        "steps before their anchor or after their latest",
        sum("before its" in one or "its latest" in one for one in wrong),
        "faults",
        most=0,
    )
    board.line(
        "steps in another order than by hand", sum(one.startswith("pour ") for one in wrong), "faults", most=0
    )
    board.line(
        "gates opened earlier by a failed test",
        sum("opened" in one or "again" in one for one in wrong),
        "faults",
        most=0,
    )
    board.line("starts tried at once", sum(one[0] for one in tried), "starts")
    board.line("of these otherwise than the days laid out", sum(one[1] for one in tried), "starts", most=0)
    board.line(
        f"latest starts off a brute force by the minute, of {CLOCKS // 10}",
        sum(one[2] for one in tried),
        "days",
        most=0,
    )


def main() -> None:
    board = Board()
    clocks(board)
    forty(board)
    sixty(board)
    pour(board)
    with own_database() as url:
        from cavatum.store.migrate import migrate

        migrate(url)
        with psycopg.connect(url) as connection:
            scenario.ensure(connection, implied_workshop(connection), datetime.now(UTC))
        with served(url) as address:
            over_the_wire(board, address)
            in_the_browser(board, address)
    many(board)
    sys.stdout.flush()
    board.leave()


if __name__ == "__main__":
    main()
