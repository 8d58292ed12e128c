"""Takes the pictures of this folder from a running demo: .cavatum/venv/bin/python docs/screenshots/take.py (address)"""

import os
import re
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright

FOLDER = Path(__file__).parent
sys.path.insert(0, str(FOLDER.parents[1]))
sys.path.insert(0, str(FOLDER.parents[1] / "src"))
ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8040"
# name -> piece ("" for a place), address or stage, theme, width, height
PICTURES = {
    "bench": ("", "/", "paper", 1280, 800), "pieces": ("", "/pieces", "paper", 1280, 800),
    "shelf": ("", "/shelf/slow-casting-epoxy", "paper", 1280, 800),
    "measure": ("Seed-head block", "measure", "paper", 1280, 800), "resin": ("Drawer pulls", "resin", "paper", 1280, 800),
    "layers": ("Seed-head block", "layers", "paper", 1280, 800), "mix-night": ("Entrance bench seat", "mix", "night", 1280, 800),
    "clock": ("Entrance bench seat", "clock", "paper", 1280, 800), "phone": ("Entrance bench seat", "layers", "paper", 390, 844),
    "working": ("Seed-head block", "mix", "paper", 1280, 800), "survey": ("Newel post", "survey", "paper", 1280, 800),
    "coat": ("Refectory counter", "measure", "paper", 1280, 800), "weigh": ("Waymark discs", "weigh/1/1", "paper", 1280, 800),
    "stock": ("", "/shelf/stock", "paper", 1280, 800), "colours": ("", "/shelf/colours", "paper", 1280, 800),
    "mesh": ("Fern tray", "measure", "paper", 1280, 800), "trace": ("Newel post", "measure", "paper", 1280, 800),
    "heat": ("Seed-head block", "layers", "night", 1280, 800),
}


def trace(page) -> None:
    """A rendered photograph, its card set and its hollow tapped."""
    import cv2
    import numpy as np

    from tests.scenes.photo import CARD_M, render

    scene = render(np.random.default_rng(3))
    photo = Path(tempfile.mkdtemp()) / "inlet.jpg"
    photo.write_bytes(cv2.imencode(".jpg", scene.image)[1].tobytes())
    page.get_by_role("button", name="Add a void").click()
    page.get_by_role("radio", name="outline × depth").click()
    page.get_by_label("From a photo").set_input_files(photo)
    board = page.get_by_role("group", name="The photo")
    board.wait_for()
    page.wait_for_timeout(800)
    scale, left, top = board.evaluate("svg => { const m = svg.getScreenCTM(); return [m.a, m.e, m.f]; }")
    high, wide = scene.image.shape[:2]
    for start, corner in zip([(0.2, 0.2), (0.5, 0.2), (0.5, 0.5), (0.2, 0.5)], scene.corners_px, strict=True):
        page.mouse.move(start[0] * wide * scale + left, start[1] * high * scale + top)
        page.mouse.down()
        page.mouse.move(corner[0] * scale + left, corner[1] * scale + top, steps=3)
        page.mouse.up()
    for label, side in zip(("from corner 1 to 2", "from corner 2 to 3"), CARD_M, strict=True):
        page.get_by_label(label).fill(f"{side * 1000:g} mm")
    page.mouse.click(scene.seed_px[0][0] * scale + left, scene.seed_px[0][1] * scale + top)
    page.get_by_role("region", name="What was traced").wait_for(timeout=20_000)


def too_much(page) -> None:
    """The stand-in's hands: a cup, part A, and ten grams of B too much."""
    page.get_by_text("This scale is a stand-in").click()
    for key in ("lift the cup", "set a cup down"):
        page.get_by_role("button", name=key, exact=True).click()
        page.wait_for_timeout(2500)
    page.get_by_role("button", name="Cup is on: count from here").click()
    page.get_by_text("Pour part A.", exact=True).wait_for()
    page.get_by_role("button", name="pour what is missing").click()
    page.get_by_text("Then pour part B").wait_for(timeout=60_000)
    page.get_by_role("button", name="pour what is missing").click()
    page.wait_for_timeout(1000)
    page.get_by_role("button", name="pour 10 g").click()
    page.get_by_text("Too much. Take it as it is").wait_for(timeout=60_000)
    page.get_by_role("button", name="Take it as it is").click()
    page.get_by_text("the ratio is right again").wait_for()
    page.get_by_text("This scale is a stand-in").click()
    page.wait_for_timeout(600)


def main() -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"] if os.geteuid() == 0 else [])
        for name, (piece, place, theme, width, height) in PICTURES.items():
            page = browser.new_context(viewport={"width": width, "height": height}, base_url=ADDRESS, locale="en-GB").new_page()
            page.add_init_script(f"localStorage.setItem('cavatum-theme', '{theme}')")
            if piece:
                page.goto("/pieces")
                path = page.get_by_role("link", name=re.compile(piece)).get_attribute("href")
                place = path.rsplit("/", 1)[0] + "/" + place
            page.goto(place)
            if name != "weigh":  # the bench view never stops asking
                page.wait_for_load_state("networkidle")
            page.wait_for_timeout(500)
            if name == "working":
                page.get_by_role("button", name=re.compile("Part A by weight")).first.click()
                page.wait_for_timeout(300)
            if name in ("layers", "heat"):
                page.get_by_text("in eight of ten draws").first.wait_for(timeout=30_000)
            if name == "heat":
                page.get_by_label("room", exact=True).fill("33")
                page.get_by_role("button", name="temperature").click()
                page.wait_for_timeout(2500)
                page.evaluate("window.scrollTo(0, 0)")
                page.wait_for_timeout(300)
            if name == "mesh":
                page.get_by_role("button", name="Show it in three dimensions").click()
                page.locator("canvas").wait_for()
                page.wait_for_timeout(800)
            if name == "resin":
                page.get_by_text(re.compile(r"peak.*\(\d+ to \d+\)")).first.wait_for(timeout=60_000)
            if name == "stock":
                page.get_by_text(re.compile("pieces together")).wait_for(timeout=60_000)
            if name == "weigh":
                too_much(page)
            if name == "colours":
                page.get_by_role("button", name="Rust", exact=True).click()
                page.wait_for_timeout(600)
            if name == "trace":
                trace(page)
            page.screenshot(path=FOLDER / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
