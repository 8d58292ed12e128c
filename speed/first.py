"""./cavatum speed first: a scripted newcomer's taps, fields and time to the first weights in twelve jobs; the
first script; the workspace against its own text; how often a drag is drawn.
"""

from __future__ import annotations

import os
import secrets
import time
from statistics import median

import psycopg
from common import Board, own_database, served
from playwright.sync_api import Page, sync_playwright

from cavatum.core.common.workshop import typical_workshop
from cavatum.demo import scenario
from cavatum.machine import packages
from cavatum.store import workshops
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.browser.newcomer import JOBS, walk
from tests.conftest import _empty
from tests.samples import NOW
from web import first_load_kb

SCRIPT_KB, MOST_S, ANSWER_MS, TEXT_TIMES, FRAMES = 120, 60, 150, 1.2, 50
LOCALES = {"metric": "en-GB", "us": "en-US"}


def newcomers(browser, board: Board) -> None:
    """Each in an empty workshop, on a phone: nothing is on the shelf."""
    answers: list[float] = []
    with own_database() as url:
        migrate(url)
        with served(url) as address:
            for job in JOBS:
                _empty(url)
                with psycopg.connect(url) as connection:
                    settings = typical_workshop().model_copy(update={"units": job.units})
                    workshops.write(connection, implied_workshop(connection), settings, False)
                context = browser.new_context(
                    viewport={"width": 390, "height": 844}, locale=LOCALES[job.units], base_url=address
                )
                page = context.new_page()
                page.goto("/pieces")
                page.get_by_role("link", name="New piece").first.wait_for()
                took = walk(page, job)
                context.close()
                answers += took.answers_ms
                board.line(f"{job.name}: fields", took.fields, "", most=job.most_fields)
                board.line(f"{job.name}: taps", took.taps, "", most=job.most_taps)
                board.line(f"{job.name}: a person's seconds", took.person_s, "", most=MOST_S)
    board.line("answers while typing, median", median(answers), "ms", most=ANSWER_MS)
    board.line("answers while typing, nine of ten", sorted(answers)[int(0.9 * len(answers))], "ms")


def opened(browser, address: str) -> tuple[float, float]:
    """Seconds until the text of the workspace is there, and until its drawing can be worked with."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    begun = time.perf_counter()
    page.goto(f"{address}/pieces/2/layers")
    page.get_by_role("heading", name="How shall it be poured?").wait_for()
    text = time.perf_counter() - begun
    page.get_by_role("slider", name="Boundary above layer 1").wait_for()
    usable = time.perf_counter() - begun
    page.close()
    return text, usable


FRAMES_OF = """() => new Promise(resolve => {
  const at = [];
  const step = now => {
    at.push(now);
    if (window.draggingOver) resolve(at); else requestAnimationFrame(step);
  };
  window.draggingOver = false;
  requestAnimationFrame(step);
})"""


def frames_of_a_drag(page: Page) -> float:
    """Frames a second while a boundary is dragged, by the page's own frames."""
    grip = page.get_by_role("slider", name="Boundary above layer 1")
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + 30, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(f"() => void (window.framesOfDrag = ({FRAMES_OF})())")
    for step in range(120):
        page.mouse.move(x, y + 30 * (1 + (step % 40) / 20 if step % 80 < 40 else 3 - (step % 40) / 20) / 3)
    page.evaluate("() => void (window.draggingOver = true)")
    at = page.evaluate("() => window.framesOfDrag")
    page.mouse.up()
    gaps = [after - before for before, after in zip(at, at[1:], strict=False)]
    return 1000 / median(gaps)


def main() -> None:
    board = Board()
    os.environ["CAVATUM_SECRET_KEY"] = secrets.token_urlsafe(32)
    board.line("first-load script, compressed", first_load_kb(), "kB", most=SCRIPT_KB)
    with sync_playwright() as playwright:
        arguments = ["--disable-background-networking", *(["--no-sandbox"] if os.geteuid() == 0 else [])]
        browser = playwright.chromium.launch(executable_path=packages.find_chromium(), args=arguments)
        with own_database() as url:
            migrate(url)
            with psycopg.connect(url) as connection:
                scenario.ensure(connection, implied_workshop(connection), NOW)
            with served(url) as address:
                opened(browser, address)
                times = [opened(browser, address) for _ in range(7)]
                board.line(
                    "workspace usable, against its own text",
                    median(b / a for a, b in times),
                    "times",
                    most=TEXT_TIMES,
                )
                page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
                page.goto(f"{address}/pieces/2/layers")
                page.get_by_role("slider", name="Boundary above layer 1").wait_for()
                board.line("frames of a drag", frames_of_a_drag(page), "1/s", least=FRAMES)
        newcomers(browser, board)
        browser.close()
    board.leave()


if __name__ == "__main__":
    main()
