"""./cavatum speed web: the server under gunicorn and the page in Chromium with 1,000 pieces; a full shop;
broken files, questions and a bad day.
"""

from __future__ import annotations

import contextlib
import gzip
import os
import re
import secrets
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from statistics import median

import guard
import psycopg
from common import Board, own_app, own_database, served, serving
from load import run_load
from playwright.sync_api import sync_playwright

from cavatum.demo import scenario
from cavatum.machine import cluster, packages, paths, ports, server
from cavatum.store import pieces
from cavatum.store.migrate import migrate
from cavatum.store.pool import within
from cavatum.store.workshops import implied_workshop
from tests.api.test_asked import DOCUMENT, caller, laid_out
from tests.conftest import Client
from tests.samples import NOW, box_piece
from tests.scenes import asked as asked_all
from tests.scenes import faults, hostile

PIECES = 1000
FILES, QUESTIONS, LOAD_MIN = 20_000, 20, 15
KILLS, DISKS, CUTS, CLOCKS = 250, 1, 2, 5  # of each day
DAYS = (20261125, 20261130, 20261201, 20261202)  # their seeds
LIST_MS, BENCH_MS, OPEN_S, SCRIPT_KB, DRAG_MS, SECOND_START_S = 100, 600, 1.5, 250, 150, 8


def fill(url: str) -> None:
    migrate(url)
    with psycopg.connect(url) as connection:
        shop = implied_workshop(connection)
        scenario.ensure(connection, shop, NOW)
        for number in range(PIECES - 6):
            pieces.create(connection, shop, box_piece(name=f"Piece {number}"))


def first_load_kb() -> float:
    """Compressed size of every script that the page names itself."""
    html = (paths.WEB / "dist" / "index.html").read_text()
    names = re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', html)
    return (
        sum(len(gzip.compress((paths.WEB / "dist" / name.lstrip("/")).read_bytes())) for name in names) / 1000
    )


def asked(address: str, times: int = 30) -> float:
    seconds = []
    for _ in range(times):
        begun = time.perf_counter()
        urllib.request.urlopen(address).read()
        seconds.append(time.perf_counter() - begun)
    return median(seconds[1:])


def in_the_browser(address: str, board: Board) -> None:
    with sync_playwright() as playwright:
        arguments = ["--disable-background-networking", *(["--no-sandbox"] if os.geteuid() == 0 else [])]
        browser = playwright.chromium.launch(executable_path=packages.find_chromium(), args=arguments)
        opened = []
        for _ in range(5):
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            begun = time.perf_counter()
            page.goto(f"{address}/pieces/2/layers")
            page.get_by_role("slider", name="Boundary above layer 1").wait_for()
            opened.append(time.perf_counter() - begun)
        board.line("workspace usable after opening, cold cache", median(opened), "s", most=OPEN_S)
        drag(page, board)
        browser.close()


def drag(page, board: Board) -> None:
    """Each step of a drag: when the boundary is redrawn, and when the server's figures for it are in."""
    page.evaluate("""() => {
      window.answers = [];
      const real = window.fetch;
      window.fetch = async (...all) => {
        const begun = performance.now();
        const got = await real(...all);
        if (String(all[0]).endsWith("/pieces/try")) window.answers.push(performance.now() - begun);
        return got;
      };
    }""")
    grip = page.get_by_role("slider", name="Boundary above layer 1")
    box = grip.bounding_box()
    x, y = box["x"] + 30, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    redraws = []
    for step in range(1, 21):
        before = grip.get_attribute("aria-valuenow")
        begun = time.perf_counter()
        page.mouse.move(x, y + 2 * step)
        page.wait_for_function(
            "([grip, before]) => grip.getAttribute('aria-valuenow') !== before",
            arg=[grip.element_handle(), before],
        )
        redraws.append(time.perf_counter() - begun)
        page.wait_for_timeout(120)
    page.mouse.up()
    answers = page.evaluate("window.answers")
    board.line(
        "dragged boundary redrawn (driver's round trip included)", median(redraws) * 1000, "ms", most=DRAG_MS
    )
    board.line("figures of a dragged boundary, median of 20 steps", median(answers), "ms", most=DRAG_MS)
    board.line("figures of a dragged boundary, slowest", max(answers), "ms", most=DRAG_MS)


def second_start() -> float:
    """From the command to its ready line on a set-up machine; ended again at once."""
    port = ports.free_port()
    begun = time.perf_counter()
    with subprocess.Popen(
        [str(paths.CHECKOUT / "cavatum"), "start", "--port", str(port)], stderr=subprocess.PIPE, text=True
    ) as process:
        for text in process.stderr:
            if "ready in" in text or "Already running" in text:
                break
        seconds = time.perf_counter() - begun
        process.terminate()
        process.stderr.read()
    return seconds


def bad_files(board: Board) -> None:
    """In two processes side by side, each with a seed of its own."""
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(hostile.campaign, [FILES // 2] * 2, [1, 2]))
    board.line(
        f"{sum(one.files for one in found)} broken files: neither read nor refused in words",
        sum(len(one.wrong) for one in found),
        "",
        most=0,
    )
    board.line("the slowest of them", max(one.slowest_s for one in found), "s", most=hostile.LONGEST_S)
    board.line(
        "the most memory one of them took", max(one.largest_bytes for one in found) / 2**20, "MB", most=1024
    )
    for one in [text for each in found for text in each.wrong][:5]:
        print("  ", one)


def bad_questions(board: Board) -> None:
    """The whole API from its own document, in this process."""
    with own_database() as url:
        migrate(url)
        app = own_app(url)
        client = Client(app)
        found = asked_all.campaign(DOCUMENT, caller(client), QUESTIONS, 7, laid_out(client))
        for name in ("cavatum-pool", "cavatum-door"):
            app.extensions[name].close()
    board.line(
        f"{found.calls} questions to {found.operations} operations: mistakes and hangs",
        len(found.wrong),
        "",
        most=0,
    )
    board.line(f"the slowest answer ({found.slowest})", found.slowest_s, "s", most=asked_all.LONGEST_S)
    for text in found.wrong[:5]:
        print("  ", text)


def _a_day(seed: int) -> faults.Day:
    """In a network, and on a disk, of its own."""
    with tempfile.TemporaryDirectory() as folder:
        is_root = os.geteuid() == 0
        if is_root:  # a file system of its own, small enough to be filled
            subprocess.run(["mount", "-t", "tmpfs", "-o", "size=700m,mode=755", "tmpfs", folder], check=True)
        try:
            with faults.own_network() if is_root else contextlib.nullcontext():
                return faults.bad_day(
                    faults.own_home(Path(folder)),
                    KILLS,
                    seed,
                    full_disks=DISKS if is_root else 0,
                    cuts=CUTS if is_root else 0,
                    clock_jumps=CLOCKS,
                )
        finally:
            if is_root:
                subprocess.run(["umount", "-l", folder], check=True)


def bad_day(board: Board) -> None:
    """One after another, each with a seed of its own."""
    days, ended = [], list[str]()
    for seed in DAYS:
        try:
            days.append(_a_day(seed))
            day = days[-1]
            told = [*day.wrong, *(f"job {one} undone" for one in sorted(day.jobs_asked - day.jobs_done))]
            kept = sum(map(len, day.acknowledged.values()))
            print(
                f"   day {seed}: {sum(day.kills.values())} killed, {kept} events kept, wrong: {told}",
                flush=True,
            )
        except (AssertionError, OSError) as error:
            ended.append(f"day {seed}: {error}")
            print("  ", ended[-1], flush=True)
    kills = sum((day.kills for day in days), Counter())
    board.line(
        f"processes killed ({', '.join(f'{number} {kind}' for kind, number in kills.items())})",
        sum(kills.values()),
        "",
        least=KILLS * len(DAYS),
    )
    board.line("kinds of process among them", len(kills), "", least=len(faults.KINDS))
    disks, cuts = sum(day.full_disks for day in days), sum(day.cuts for day in days)
    board.line("times the disk was full", disks, "", least=DISKS * len(DAYS))
    board.line("times the network was cut between all of them", cuts, "", least=CUTS * len(DAYS))
    jumps = sum(day.clock_jumps for day in days)
    board.line("times the server's clock jumped, by up to 400 days", jumps, "", least=CLOCKS * len(DAYS))
    events = sum(len(one) for day in days for one in day.acknowledged.values())
    undone = sum(len(day.jobs_asked - day.jobs_done) for day in days)
    wrong = [*ended, *(text for day in days for text in day.wrong)]
    board.line(
        f"{events} acknowledged events, {sum(len(day.jobs_done) for day in days)} jobs: lost, doubled or "
        "undone",
        len(wrong) + undone,
        "",
        most=0,
    )
    board.line("longest time away", max((day.longest_away_s for day in days), default=0.0), "s")
    for text in wrong[:5]:
        print("  ", text)


def full_shop(board: Board) -> None:
    with own_database() as url:
        migrate(url)
        with serving(url) as (address, pid):
            run_load(address, url, pid, LOAD_MIN * 60, board)


WORKSHOPS, MANY = 50, 50_000
COPIES = """
with made as (
    insert into piece (workshop_id, head, name, for_whom, kind, due, summary)
    select workshop.id, 1, one.name || ' ' || n, one.for_whom, one.kind, one.due, one.summary
    from (select * from piece where workshop_id = %(of)s) as one, generate_series(1, %(times)s) n, workshop
    where workshop.id = any(%(into)s) returning id, workshop_id
)
insert into piece_revision (piece_id, workshop_id, revision, document, what, content_of)
select made.id, made.workshop_id, 1, (select document from piece_revision where workshop_id = %(of)s
    order by piece_id desc limit 1), 'made', 1 from made
"""


def large(board: Board) -> None:
    """One workshop of 50,000 pieces and 49 of a thousand beside it; against the same with 1,000 pieces."""
    with own_database() as url:
        fill(url)
        with served(url) as address:
            small = asked(f"{address}/api/v1/bench", 8)
        with psycopg.connect(url, autocommit=True) as connection:
            shop = implied_workshop(connection)
            others = [
                row[0]
                for row in connection.execute(
                    "insert into workshop (settings, is_demo) select settings, false from workshop, "
                    "generate_series(2, %s) where id = %s returning id",
                    (WORKSHOPS, shop),
                )
            ]
            connection.execute(COPIES, {"of": shop, "times": 1, "into": others})
            connection.execute(COPIES, {"of": shop, "times": MANY // PIECES, "into": [shop]})
            connection.execute("vacuum analyze piece, piece_revision")
            held = connection.execute(
                "select count(*), count(distinct workshop_id) from piece"
            ).fetchone() or (0, 0)
        board.line("pieces in all workshops", held[0], "", least=MANY)
        board.line("workshops", held[1], "", least=WORKSHOPS)
        with served(url) as address:
            for name, path, most in (
                (f"list of {MANY}, first page", "pieces", LIST_MS),
                (f"list of {MANY}, last page", f"pieces?offset={MANY - 50}", 2 * LIST_MS),
                (f"search in {MANY}, a few found", "pieces?search=head", LIST_MS),
                (f"search in {MANY}, all found", "pieces?search=e", 2 * LIST_MS),
                (f"search in {MANY}, none found", "pieces?search=nowhere", LIST_MS),
            ):
                board.line(name, asked(f"{address}/api/v1/{path}") * 1000, "ms", most=most)
            bench_s = asked(f"{address}/api/v1/bench", 8)
        board.line(f"bench with 24 of {MANY} pieces", bench_s * 1000, "ms", most=BENCH_MS)
        board.line(f"the same, to that of {PIECES} pieces", bench_s / small, "times")
        with psycopg.connect(cluster.read_record().shop_url(url.rpartition("/")[2])) as connection:
            within(connection, others[-1])
            seconds = []
            for _ in range(9):
                begun = time.perf_counter()
                pieces.listed(connection, others[-1], "head", 50, 0)
                seconds.append(time.perf_counter() - begun)
        board.line("search of a small workshop beside them", median(seconds) * 1000, "ms", most=LIST_MS)


PARTS = {
    "page": lambda board: page_and_lists(board),
    "large": large,
    "idle": guard.idle,
    "zones": guard.zones,
    "revisions": guard.revisions,
    "replication": guard.replication,
    "load": full_shop,
    "files": bad_files,
    "questions": bad_questions,
    "faults": bad_day,
}


def main() -> None:
    """All parts, or those that are named: python speed/web.py load faults."""
    board = Board()
    os.environ["CAVATUM_SECRET_KEY"] = secrets.token_urlsafe(32)
    for name in sys.argv[1:] or PARTS:
        PARTS[name](board)
    board.leave()


def page_and_lists(board: Board) -> None:
    board.line("first-load script, compressed", first_load_kb(), "kB", most=SCRIPT_KB)
    if server.read_running() is None:
        board.line("second start, command to ready", second_start(), "s", most=SECOND_START_S)
    else:
        print("second start: not measured, a server of this checkout is running; stop it first")
        board.short += 1
    with own_database() as url:
        fill(url)
        with served(url) as address:
            listing = asked(f"{address}/api/v1/pieces")
            health = asked(f"{address}/api/v1/health")
            board.line(f"list of {PIECES} pieces, first page", listing * 1000, "ms", most=LIST_MS)
            board.line("list against an empty answer of the same server", listing / health, "times")
            board.line(
                f"search in {PIECES} pieces",
                asked(f"{address}/api/v1/pieces?search=head") * 1000,
                "ms",
                most=LIST_MS,
            )
            board.line("bench with 24 pieces, plans stored", asked(f"{address}/api/v1/bench", 8) * 1000, "ms")
            in_the_browser(address, board)


if __name__ == "__main__":
    main()
