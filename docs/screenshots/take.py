"""Takes the pictures of this folder from a running demo: .cavatum/venv/bin/python docs/screenshots/take.py
(address)
"""

import io
import os
import re
import sys
import tempfile
from pathlib import Path

from PIL import Image
from playwright.sync_api import sync_playwright

FOLDER = Path(__file__).parent
sys.path.insert(0, str(FOLDER.parents[1]))
sys.path.insert(0, str(FOLDER.parents[1] / "src"))
from cavatum.machine.packages import find_whole_chromium  # noqa: E402
from tests.scenes.watch import Scene, as_film  # noqa: E402

SCENE = Scene(seed=1, kind="quiet", minutes=3.0)
ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8040"
# name -> piece ("" for a place), address or stage, theme, width, height
PICTURES = {
    "bench": ("", "/", "paper", 1280, 800),
    "workshop": ("", "/workshop", "paper", 1280, 800),
    "new": ("", "/new", "paper", 1280, 800),
    "pour": ("Planter rings", "pour", "paper", 1280, 800),
    "shelf": ("", "/shelf/slow-casting-epoxy", "paper", 1280, 800),
    "measure": ("Seed-head block", "measure", "paper", 1280, 800),
    "resin": ("Drawer pulls", "resin", "paper", 1280, 800),
    "layers": ("Seed-head block", "layers", "paper", 1280, 800),
    "mix-night": ("Entrance bench seat", "mix", "night", 1280, 800),
    "clock": ("Entrance bench seat", "clock", "paper", 1280, 800),
    "survey": ("Newel post", "survey", "paper", 1280, 800),
    "finish": ("Entrance bench seat", "finish", "paper", 1280, 800),
    "log": ("Door plaque", "log", "paper", 1280, 800),
    "mend": ("Bookend pair", "log", "night", 1280, 800),
    "weigh": ("Waymark discs", "weigh/1/1", "paper", 1280, 800),
    "stock": ("", "/shelf/stock", "paper", 1280, 800),
    "told": ("", "/told", "paper", 1280, 800),
    "instruments": ("", "/instruments", "paper", 1280, 800),
    "camera": ("Planter rings", "pour", "night", 390, 844),  # the last: it begins a run
}


# A place that is still being opened says so; a picture is taken once it says something else.
HAS_CONTENT = """() => {
    const said = document.body.innerText.trim();
    return said.length > 80 && !/Opening [^.]* …/.test(said);
}"""
MOST_ALIKE = 0.97  # own judgement: the barest page of the demo has 93 % of one colour


def alike(picture: bytes) -> float:
    """The share of a picture's commonest colour."""
    colours = Image.open(io.BytesIO(picture)).convert("RGB").getcolors(1 << 24) or []
    return max(count for count, _ in colours) / sum(count for count, _ in colours)


def _keep(name: str, picture: bytes) -> None:
    if alike(picture) > MOST_ALIKE:
        sys.exit(f"{name}: {alike(picture):.1%} of the picture is one colour; it shows nothing")
    (FOLDER / f"{name}.png").write_bytes(picture)


def too_much(page) -> None:
    """The stand-in's hands: a cup, part A, and ten grams of B too much; a batch that an earlier run left open
    is given up first.
    """
    page.get_by_text("stand-in scale").wait_for()
    if page.get_by_role("button", name="Undo the last").is_enabled():
        at = page.url
        page.get_by_role("button", name="Give up this batch").click()
        page.get_by_role("button", name="Give it up").click()
        page.wait_for_url(re.compile("/mix$"))
        page.goto(at)
    page.get_by_text("Practice scale: use these buttons").click()
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
    page.get_by_text("Too much. Tap Record this weight").wait_for(timeout=60_000)
    page.get_by_role("button", name="Record this weight").click()
    page.get_by_text("the ratio is right again").wait_for()
    page.get_by_text("Practice scale: use these buttons").click()
    page.evaluate("window.scrollTo(0, 0)")
    page.wait_for_timeout(600)


def at_the_bench(page, until: str) -> None:
    """A rehearsal as slow as it is, up to a step; its timer started where it has one."""
    page.get_by_label("how many times as fast").select_option(label="as slow as it is")
    page.get_by_label("with things going wrong").set_checked(False)
    page.get_by_role("button", name="Begin a rehearsal").click()
    page.locator("main.bench-mode h1").wait_for()
    while until not in page.locator("main.bench-mode h1").inner_text():
        page.get_by_role("button", name=re.compile(r"^(Done|Seen|Start|Let it rest)")).first.click()
        page.wait_for_timeout(500)
    if until.startswith("Stir"):
        page.get_by_role("button", name=re.compile("^Start")).click()
        page.wait_for_timeout(2500)


def people(page) -> None:
    """Two who are told, one after the other."""
    for name, way, address in (
        ("Wren", "mail address", "wren@workshop.example"),
        ("Tobin", "MQTT topic", "workshop/cavatum"),
    ):
        if page.get_by_text(name, exact=True).count():
            continue
        page.get_by_role("button", name="Add a person").click()
        page.get_by_label("name", exact=True).fill(name)
        if way == "MQTT topic":
            page.get_by_text("House control").click()
        page.get_by_label(way, exact=True).fill(address)
        page.get_by_role("button", name="Add", exact=True).click()
        page.wait_for_timeout(600)
    page.evaluate("window.scrollTo(0, 0)")


def marked(page) -> None:
    """A phone over a piece, its outline found."""
    heard = page.get_by_role("button", name="Heard: go on")
    page.add_locator_handler(page.get_by_role("alertdialog", name="Alarm"), lambda: heard.click())
    page.get_by_text(re.compile("^(Begin this run|Go on in bench mode)$")).click()
    page.get_by_role("link", name="Camera").click()
    page.get_by_role("button", name="Use this device's camera").click()
    page.get_by_role("button", name="Take the picture to mark").click()
    page.get_by_text("The outline was found").wait_for(timeout=30_000)
    page.get_by_label("long, far left to far right").fill(f"{SCENE.length_mm:.0f} mm")
    page.get_by_label("wide, far to near").fill(f"{SCENE.width_mm:.0f} mm")


def main() -> None:
    with sync_playwright() as playwright, tempfile.NamedTemporaryFile(suffix=".y4m") as film:
        as_film(SCENE, Path(film.name))
        camera = ["--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream"]
        browser = playwright.chromium.launch(
            executable_path=find_whole_chromium(),
            args=[
                *(["--no-sandbox"] if os.geteuid() == 0 else []),
                *camera,
                f"--use-file-for-fake-video-capture={film.name}",
            ],
        )
        wanted = sys.argv[2:] or PICTURES
        for name, (piece, place, theme, width, height) in ((one, PICTURES[one]) for one in wanted):
            page = browser.new_context(
                viewport={"width": width, "height": height}, base_url=ADDRESS, locale="en-GB"
            ).new_page()
            page.add_init_script(f"localStorage.setItem('cavatum-theme', '{theme}')")
            if piece:
                page.goto("/pieces")
                path = page.get_by_role("link", name=re.compile(piece)).get_attribute("href")
                place = path.rsplit("/", 1)[0] + "/" + place
            page.goto(place)
            if name != "weigh":  # the bench view never stops asking
                page.wait_for_load_state("networkidle")
            page.wait_for_timeout(500)
            if name == "new":
                page.get_by_role("radio", name="picture or panel").check(force=True)
                for label, typed in (
                    ("length", "860"),
                    ("width", "330"),
                    ("the amount you would mix", "200 mL in all"),
                ):
                    page.get_by_label(label, exact=True).fill(typed)
                page.get_by_text("Taken for now").wait_for()
            if name == "mend":
                page.get_by_role("link", name="Something went wrong").click()
                page.get_by_role("button", name=re.compile("Sticky or soft")).click()
                page.get_by_label("patches").check()
                page.get_by_text("The record shows").wait_for()
                page.wait_for_timeout(600)
            if name == "layers":
                page.get_by_text("Of a hundred such pours").first.wait_for(timeout=30_000)
            if name == "resin":
                page.get_by_text(re.compile(r"^\d+ to \d+$")).first.wait_for(timeout=60_000)
            if name == "stock":
                page.get_by_text(re.compile("pieces together")).wait_for(timeout=60_000)
            if name == "weigh":
                too_much(page)
            if name == "workshop":
                page.get_by_role("button", name="Plan all together").click()
                page.get_by_role("table", name="Proposed starts").wait_for(timeout=120_000)
                page.get_by_role("button", name="Plan all together").scroll_into_view_if_needed()
                page.mouse.wheel(0, 420)
                page.wait_for_timeout(500)
            if name == "pour":
                at_the_bench(page, "Stir batch 1")
            if name == "told":
                people(page)
            if name == "camera":
                marked(page)
            page.wait_for_function(HAS_CONTENT, timeout=60_000)
            _keep(name, page.screenshot())
        browser.close()


if __name__ == "__main__":
    main()
