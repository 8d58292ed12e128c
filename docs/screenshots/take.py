"""Takes the pictures of this folder from a running demo: .cavatum/venv/bin/python docs/screenshots/take.py (address)"""

import os
import re
import sys
from pathlib import Path

from playwright.sync_api import sync_playwright

FOLDER = Path(__file__).parent
ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8040"
# name -> piece ("" for a place), address or stage, theme, width, height
PICTURES = {
    "bench": ("", "/", "paper", 1280, 800), "pieces": ("", "/pieces", "paper", 1280, 800),
    "shelf": ("", "/shelf/slow-casting-epoxy", "paper", 1280, 800),
    "measure": ("Seed-head block", "measure", "paper", 1280, 800), "resin": ("Drawer pulls", "resin", "paper", 1280, 800),
    "layers": ("Seed-head block", "layers", "paper", 1280, 800), "mix-night": ("Entrance bench seat", "mix", "night", 1280, 800),
    "clock": ("Entrance bench seat", "clock", "paper", 1280, 800), "phone": ("Entrance bench seat", "layers", "paper", 390, 844),
    "working": ("Seed-head block", "mix", "paper", 1280, 800),
}


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
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(500)
            if name == "working":
                page.get_by_role("button", name=re.compile("Part A by weight")).first.click()
                page.wait_for_timeout(300)
            page.screenshot(path=FOLDER / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
