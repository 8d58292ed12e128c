"""The full life of one piece through the interface: survey, measure, resin, layers, mix, clock, pour, finish,
log, care note, logbook, and a way back.

The server's clock is moved on where the work has to wait; everything else is done on the page.
"""

import contextlib
import re
import threading
import time
from datetime import UTC, datetime, timedelta

import pypdfium2
import pytest
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from playwright.sync_api import expect

from cavatum.machine import ports
from tests.browser.test_frame import complaints_of_axe, settled
from tests.browser.test_main_job import begin, measure_box, stage, total
from tests.browser.test_pour import DONE, hear


class Clock:
    """Real time, moved on by hand."""

    def __init__(self):
        self.ahead = timedelta(0)

    def __call__(self) -> datetime:
        return datetime.now(UTC) + self.ahead


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def demo_address(make_app, clock, demo_address):
    """The same demo behind a clock that can be moved: what open_page opens in this file."""
    from werkzeug.serving import make_server

    server = make_server("127.0.0.1", ports.free_port(), make_app(now=clock), threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.port}"
    server.shutdown()
    thread.join()
    server.server_close()


def row_of(page, piece: int) -> dict:
    return page.request.get(f"/api/v1/runs?piece_id={piece}&only_open=false").json()["runs"][0]


def kinds_done(page, piece: int) -> list[str]:
    """Of each step the record calls done. What was tapped is another thing: a slow tap may count twice."""
    run = page.request.get(f"/api/v1/runs/{row_of(page, piece)['id']}").json()
    kinds = {step["id"]: step["kind"] for step in run["script"]["steps"]}
    return [kinds[one["event"]["step"]] for one in run["events"] if one["event"]["kind"] in ("done", "test")]


def go_on(page, clock: Clock, piece: int, result: str) -> str:
    """One step of the run, its wait passed over. Returns its kind."""
    hear(page)
    row = row_of(page, piece)
    for _ in range(100):  # the last tap may still be on its way to the server
        if row["step"] == page.get_by_role("heading", level=1).inner_text():
            break
        page.wait_for_timeout(200)
        hear(page)
        row = row_of(page, piece)
    opens = datetime.fromisoformat(row["opens_at"]) if row["opens_at"] else clock()
    if opens > clock():
        clock.ahead += opens - clock() + timedelta(minutes=1)
        page.reload()
        hear(page)
    press(
        page,
        re.compile(f"^Too late|^{result}$")
        if row["kind"] == "test"
        else re.compile(rf"^Too late|{DONE.pattern}"),
    )
    page.wait_for_timeout(450)
    return row["kind"]


def press(page, name: re.Pattern) -> None:
    """A key of bench mode; an alarm that rings in between is heard first."""
    for _ in range(8):
        hear(page)
        before = page.get_by_role("heading", level=1).inner_text()
        with contextlib.suppress(PlaywrightTimeout):
            page.get_by_label("Timer and keys").get_by_role("button", name=name).first.click(timeout=1500)
            return
        page.wait_for_timeout(420)
        if page.get_by_role("heading", level=1).inner_text() != before:  # slow, and it has counted
            return
    raise AssertionError(f"no key {name.pattern} on {page.inner_text('main')[:300]}")


@pytest.mark.long
@pytest.mark.timeout(900)
def test_from_survey_to_care_note_and_what_was_learned_of_it(open_page, clock, tmp_path):
    page = open_page("/pieces")
    begin(page, "Window tray")
    piece = int(re.search(r"/pieces/(\d+)", page.url).group(1))
    measure_box(page, "20 cm", "120 mm", "18 mm")
    stage(page, "Survey")
    page.get_by_label("made of").select_option("oak")
    page.get_by_label("surface", exact=True).select_option("sealed")
    stage(page, "Resin")
    page.get_by_role("radio", name=re.compile("Casting epoxy 2:1")).click()
    stage(page, "Layers")
    expect(page.get_by_role("radio", name=re.compile("Fewest"))).to_be_checked()
    expect(total(page, "To fill")).to_contain_text("432")  # 20 x 12 x 1.8 cm, by hand
    stage(page, "Mix")
    expect(page.get_by_role("region", name="Pour 1")).to_be_visible()
    stage(page, "Clock")
    expect(page.get_by_role("heading", name="When am I needed?")).to_be_visible()
    stage(page, "Pour")
    page.get_by_role("button", name="Begin this run").click()
    page.wait_for_url(re.compile(r"/runs/\d+"))
    seen, until = [], time.monotonic() + 600
    while row_of(page, piece)["step"] and "finish" not in seen and time.monotonic() < until:
        seen.append(go_on(page, clock, piece, "Not passed" if seen.count("test") == 0 else "Passed"))
    done = kinds_done(page, piece)
    assert done.count("test") >= 1 and {"weigh", "stir", "pour", "watch"} <= set(done)
    finish(page, clock, piece)
    write_it_down(page, piece, tmp_path)
    find_it_again(page)
    mend_it(page)


def finish(page, clock: Clock, piece: int) -> None:
    page.goto(f"/pieces/{piece}/finish")
    page.get_by_label("wanted").select_option("polish")
    page.get_by_label("as it is now").select_option("sawn")
    ladder = page.get_by_role("region", name="Ladder of grits")
    expect(ladder).to_contain_text("P3000")
    gate = page.get_by_role("listitem", name="Gate: Sanding")
    gate.get_by_role("button", name="not sure").click()
    expect(gate).to_contain_text("Not sure counts as not passed")
    clock.ahead += timedelta(days=4)
    page.reload()
    gate.get_by_role("button", name="Sanding: passed").click()
    expect(gate).not_to_contain_text("Not sure")
    assert complaints_of_axe(page) == []
    link = page.get_by_role("link", name="Care note to print").get_attribute("href")
    words = pypdfium2.PdfDocument(page.request.get(link).body())[0].get_textpage().get_text_bounded()
    assert "Window tray" in words and "Heat" in words and "certified" in words


def write_it_down(page, piece: int, tmp_path) -> None:
    stage(page, "Log")
    field = page.get_by_label("left in the cup", exact=True)
    field.fill("21.5 g")
    field.press("Tab")
    expect(page.get_by_role("status")).to_contain_text("Kept: left in the cup 21.5 g")
    page.get_by_role("radio", name="4 of 5").click()
    expect(page.get_by_role("radio", name="4 of 5")).to_be_checked()
    poured = next(
        pour["poured_at"]
        for pour in page.request.get(f"/api/v1/runs/{row_of(page, piece)['id']}/record").json()["record"][
            "pours"
        ]
    )
    begun = datetime.fromisoformat(poured)
    log = tmp_path / "probe.csv"
    log.write_text(
        "time;temp °C\n"
        + "".join(
            f"{(begun + timedelta(minutes=30 * n)).isoformat()};{22 + min(n, 30) / 8:.2f}\n".replace(
                ".", ",", 0
            )
            for n in range(90)
        )
    )
    files = page.get_by_label("Photos and temperature logs")
    files.set_input_files(log)
    expect(page.get_by_role("status")).to_contain_text("90 readings taken in")
    nonsense = tmp_path / "photo.jpg"
    nonsense.write_bytes(b"this is no photo at all")
    files.set_input_files(nonsense)
    expect(page.get_by_role("alert")).to_be_visible()
    page.get_by_role("button", name="The run is over").click()
    expect(page.get_by_text(re.compile("finished \\d+ "))).to_be_visible()
    expect(page.get_by_role("table", name="Batches")).to_contain_text("21.5 g")
    assert complaints_of_axe(page) == []


def find_it_again(page) -> None:
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Logbook").click()
    page.get_by_label("Search the logbook").fill("window tray")
    runs = page.get_by_role("list", name="Runs").get_by_role("listitem")
    expect(runs).to_have_count(1)
    expect(runs.first).to_contain_text("Window tray")
    page.get_by_label("Search the logbook").fill("")
    for box in page.get_by_role("checkbox", name=re.compile("^Compare (Window|Door)")).all()[:2]:
        box.check()
    page.get_by_role("button", name="Compare the two").click()
    expect(page.get_by_role("table", name="Two runs")).to_contain_text("Window tray")
    page.goto("/logbook/learned")
    waste = page.get_by_role("listitem", name=re.compile("What stays in the cup, every other"))
    expect(waste).to_contain_text("5 runs")
    waste.get_by_role("button", name="Do not use this").click()
    expect(waste).to_contain_text("set aside by you")
    waste.get_by_role("button", name="Use it again").click()
    expect(waste).to_contain_text("Used by the next plans")


def mend_it(page) -> None:
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Mend").click()
    page.get_by_role("button", name=re.compile("Dust, hair, a fly")).click()
    page.get_by_label("of which piece").select_option(label="Window tray")
    page.get_by_label("lint or hair").check()
    causes = page.get_by_role("list", name="Causes").get_by_role("listitem")
    expect(causes.first).to_contain_text("Not covered")
    expect(page.get_by_text("1.2 mm unless said")).to_be_visible()
    area = page.get_by_label("whole surface to coat")
    area.fill("240 cm2")
    area.press("Tab")
    settled(page)
    assert complaints_of_axe(page) == []
    page.get_by_role("button", name="Plan the way back").click()
    expect(page.get_by_role("heading", name="Window tray: dust, hair, a fly")).to_be_visible()
    page.get_by_role(
        "radio", name=re.compile("Coating epoxy")
    ).click()  # the casting epoxy of the tray may not be laid so thin
    expect(total(page, "To fill")).to_contain_text("28.8")  # 240 cm2 at 1.2 mm, by hand
    stage(page, "Survey")
    expect(page.get_by_text("Sand the whole surface").first).to_be_visible()
