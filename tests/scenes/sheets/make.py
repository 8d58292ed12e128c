"""Sets the corpus: python -m tests.scenes.sheets.make FOLDER. Each sheet as NAME.html, NAME.pdf and NAME.json, the
truth; a third as NAME.jpg too, as somebody photographs it.
"""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path

from tests.scenes.sheets.facts import Fact, Say, product
from tests.scenes.sheets.held_back import HELD_BACK
from tests.scenes.sheets.layouts import LAYOUTS, Layout
from tests.scenes.sheets.pictures import degraded

EACH = 4
LANGUAGES = ("en", "de", "fr", "es", "it")


def sheet(layout: Layout, number: int, copy: int) -> tuple[str, str, list[Fact]]:
    """Name, page and truth of one sheet."""
    rng = random.Random(1000 * number + copy)
    language = LANGUAGES[(number * EACH + copy) % len(LANGUAGES)]
    html, told = layout(product(rng), Say(language, rng), rng)
    return f"{number:02d}-{layout.__name__.replace('_', '-')}-{copy}-{language}", html, told


def is_photographed(number: int, copy: int) -> bool:
    """One of four of every layout, and another of every third: a third of all."""
    return copy == 1 or (copy == 3 and number % 3 == 0)


def make(folder: Path, layouts: list[tuple[int, Layout]]) -> None:
    from playwright.sync_api import sync_playwright

    from cavatum.machine.packages import find_chromium

    folder.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=find_chromium(), args=["--no-sandbox"])
        page = browser.new_page()
        for number, layout in layouts:
            for copy in range(EACH):
                name, html, told = sheet(layout, number, copy)
                (folder / f"{name}.html").write_text(html)
                page.set_content(html)
                page.pdf(
                    path=folder / f"{name}.pdf",
                    format="A4",
                    margin=dict.fromkeys(("top", "bottom", "left", "right"), "18mm"),
                )
                if is_photographed(number, copy):
                    photo = degraded((folder / f"{name}.pdf").read_bytes(), 100 * number + copy)
                    (folder / f"{name}.jpg").write_bytes(photo)
                truth = {"language": name[-2:], "facts": [one.truth() for one in told]}
                (folder / f"{name}.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1) + "\n")
        browser.close()


if __name__ == "__main__":
    make(Path(sys.argv[1]), list(enumerate([*LAYOUTS, *HELD_BACK])))
