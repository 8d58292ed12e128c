"""The pour as it is done: a whole rehearsal, pages closed and reopened, no network for ten steps, two
browsers on one run, a server killed in the middle.
"""

import contextlib
import os
import re
import signal
import time

import psycopg
import pytest
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from playwright.sync_api import expect

from cavatum.machine import ports, server
from cavatum.store import runs
from cavatum.store.workshops import implied_workshop
from tests.browser.conftest import PATIENCE_MS
from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.conftest import addresses, as_shop

HEARD, DONE = "Heard: go on", re.compile(r"^(Done|Seen|Start|Let it rest: start)")


def begin(page, rehearse: bool, speed: str = "240 times", troubles: bool = True) -> int:
    if rehearse:
        page.get_by_label("how many times as fast").select_option(label=speed)
        page.get_by_label("with things going wrong").set_checked(troubles)
        page.get_by_role("button", name="Begin a rehearsal").click()
    else:
        page.get_by_role("button", name="Begin this run").click()
    page.wait_for_url(re.compile(r"/runs/\d+"))
    expect(page.locator("main.bench-mode h1")).to_be_visible()
    return int(page.url.rpartition("/")[2])


def hear(page) -> None:
    """Whatever rings is heard first, as somebody at the bench would."""
    key = page.get_by_role("button", name=HEARD)
    while key.count():
        key.click()
        page.wait_for_timeout(60)


class NoKey(AssertionError):
    """The page has gone on by its own clock between a look and a tap."""


def tap(page, name=DONE) -> None:
    """One tap on the large key, past its guard against a double knock; what rings in between is heard
    first.
    """
    for _ in range(20):
        hear(page)
        key = page.get_by_label("Timer and keys").get_by_role("button", name=name)
        if key.count():
            before = page.get_by_role("heading", level=1).inner_text()
            try:
                key.first.click(timeout=1500)
            except PlaywrightTimeout:  # an alarm came up in between, or the tap was slow and has counted
                page.wait_for_timeout(420)
                if page.get_by_role("heading", level=1).inner_text() == before:
                    continue
            page.wait_for_timeout(420)
            return before
        page.wait_for_timeout(100)
    raise NoKey(f"no key {name} on {page.inner_text('main')[:300]}")


def stored(database_url: str, run: int):
    with psycopg.connect(database_url) as connection:
        return runs.events(connection, implied_workshop(connection), run)


def each_once(kept) -> bool:
    return len({one.event_id for one in kept}) == len(kept) and [one.number for one in kept] == list(
        range(1, len(kept) + 1)
    )


def do_what_it_says(page) -> str:
    """One thing, as the page asks for it. Returns what was done; an alarm that comes up in between is heard
    in the next round.
    """
    page.set_default_timeout(3000)
    try:
        return _do(page)
    except (PlaywrightTimeout, NoKey):
        return "again"
    finally:
        page.set_default_timeout(PATIENCE_MS)


def _do(page) -> str:
    hear(page)
    # A sheet that was opened before an alarm came up, or opened slowly, is gone on with.
    leaks = page.get_by_role("dialog").get_by_role("button", name="It leaks")
    if leaks.count():
        leaks.click()
    over = page.get_by_role("button", name="It is over: back to the steps")
    if over.count():
        over.click()
        return "trouble"
    trouble = (
        page.get_by_label("Now")
        .get_by_role("alert")
        .get_by_role("button", name=re.compile("Something is wrong|Seen"))
    )
    if trouble.count():
        said = trouble.first.inner_text()
        trouble.first.click()
        if "wrong" in said:
            page.get_by_role("dialog").get_by_role("button", name="It leaks").click()
            page.get_by_role("button", name="It is over: back to the steps").click()
        return "trouble"
    on = page.get_by_role("button", name="On to when it is due")
    keys = page.get_by_label("Timer and keys")
    for name, what in ((re.compile("^Too late"), "late"), (re.compile("^Passed"), "test")):
        if keys.get_by_role("button", name=name).count():
            if what == "test" and on.count():
                break
            keys.get_by_role("button", name=name).click()
            page.wait_for_timeout(400)
            return what
    if on.count():
        with contextlib.suppress(PlaywrightTimeout):  # the run's own clock may have got there by itself
            on.click(timeout=1500)
        page.wait_for_timeout(300)
        return "jump"
    tap(page)
    return "tap"


@pytest.mark.long
@pytest.mark.timeout(900)
def test_a_two_layer_pour_is_rehearsed_from_ready_to_hand_over_and_debriefed(open_page, database_url):
    page = piece_at(open_page, "Fern tray", "pour")
    # slowly enough that a busy machine misses no window
    run = begin(page, rehearse=True, speed="60 times")
    did: list[str] = []
    over = page.get_by_role("heading", name="Nothing is left to do.")
    until = time.monotonic() + 600
    while not over.count() and time.monotonic() < until:
        did.append(do_what_it_says(page))
        if len(did) == 12:  # closed in the middle and opened again on another device
            page.reload()  # on a full machine the page may still be on its way to what was done last
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            title = page.get_by_role("heading", level=1).inner_text()
            page.close()
            page = open_page(f"/runs/{run}", width=390, height=844, theme="night")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            # The rehearsal's clock runs on, so what rings may have come up over the same step.
            assert (
                page.get_by_role("heading", level=1).inner_text() == title
                or page.get_by_role("button", name=HEARD).count()
            )
            over = page.get_by_role("heading", name="Nothing is left to do.")
    hear(page)
    expect(over).to_be_visible()
    page.get_by_role("button", name="End this run").click()
    expect(page.get_by_role("heading", name=re.compile("Debrief of the rehearsal"))).to_be_visible()
    expect(page.get_by_role("table", name="Steps")).to_be_visible()
    kept = stored(database_url, run)
    assert each_once(kept) and {"jump", "tap"} <= set(did)
    heard = [one.event.alarm for one in kept if one.event.kind == "heard"]
    assert any(one.startswith("trouble/") for one in heard), (did, heard)
    poured = [one.event.step for one in kept if one.event.kind == "done" and one.event.step.endswith("/pour")]
    assert {step.split("/")[0] for step in poured} == {"p1", "p2"} and any(
        one.event.kind == "mishap-over" for one in kept
    )


def test_ten_steps_without_a_network_are_kept_and_sent_once(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour", offline=True)
    run = begin(page, rehearse=False)
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    expect(page.get_by_role("button", name=DONE)).to_be_visible()
    page.context.set_offline(True)
    for _ in range(5):
        tap(page)
    expect(page.get_by_text(re.compile(r"no connection, \d+ kept here"))).to_be_visible()
    page.reload()  # the phone fell asleep and its page was thrown away
    expect(page.get_by_role("button", name=DONE)).to_be_visible()
    for _ in range(5):
        tap(page)
    title = page.get_by_role("heading", level=1).inner_text()
    assert stored(database_url, run) == []
    page.context.set_offline(False)
    expect(page.get_by_text(re.compile(r"^\d\d:\d\d · 1\d kept$"))).to_be_visible()
    kept = stored(database_url, run)
    assert len(kept) >= 10 and each_once(kept) and not any(one.doubted for one in kept)
    assert page.get_by_role("heading", level=1).inner_text() == title


def test_two_browsers_on_one_pour_agree_also_when_both_tap_at_once(open_page, database_url):
    first = piece_at(open_page, "Planter rings", "pour")
    run = begin(first, rehearse=False)
    second = open_page(f"/runs/{run}", width=390, height=844, theme="night")
    expect(second.get_by_role("heading", level=1)).to_have_text("Ready before mixing")
    tap(first)
    expect(second.get_by_role("heading", level=1)).to_have_text(re.compile("Weigh batch"))
    keys = [page.get_by_label("Timer and keys").get_by_role("button", name=DONE) for page in (first, second)]
    for key in keys:
        key.click()
    for page in (first, second):
        expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("Stir batch"))
        expect(page.get_by_text(re.compile("· 3 kept"))).to_be_visible()
    kept = stored(database_url, run)
    assert each_once(kept) and len({one.device for one in kept}) == 2
    # taken back on one, seen on the other
    second.wait_for_timeout(450)
    second.get_by_role("button", name="Undo the last").click()
    second.wait_for_timeout(450)
    second.get_by_role("button", name="Undo the last").click()
    expect(first.get_by_role("heading", level=1)).to_have_text(re.compile("Weigh batch"))


def test_a_server_killed_in_the_middle_loses_and_doubles_nothing(chromium, demo_address, database_url):
    port = ports.free_port()
    process = server.launch(addresses(database_url), port)
    server.wait_until_it_answers(process, port)
    context = chromium.new_context(
        viewport={"width": 390, "height": 844},
        base_url=f"http://127.0.0.1:{port}",
        locale="en-GB",
        service_workers="block",
    )
    try:
        page = context.new_page()
        page.goto("/pieces")
        page.get_by_role("link", name=re.compile("Planter rings")).first.click()
        page.wait_for_url(re.compile(r"/pieces/\d+"))
        page.goto(re.sub(r"(/pieces/\d+).*", r"\1/pour", page.url))
        run = begin(page, rehearse=False)
        for _ in range(2):
            tap(page)
        for pid in server._family(process.pid):
            os.kill(pid, signal.SIGKILL)
        process.wait()
        for _ in range(3):
            tap(page)
        expect(page.get_by_text(re.compile("no connection, [3-9] kept here"))).to_be_visible()
        process = server.launch(addresses(database_url), port)
        server.wait_until_it_answers(process, port)
        tap(page)
        expect(page.get_by_text(re.compile(r"^\d\d:\d\d · [6-9] kept$"))).to_be_visible()
        kept = stored(database_url, run)
        assert each_once(kept) and len(kept) >= 6
    finally:
        context.close()
        server.end(process)


def test_a_page_opened_again_shows_what_was_missed_and_by_how_much(open_page, database_url):
    page = piece_at(open_page, "Fern tray", "pour")
    run = begin(page, rehearse=True, troubles=False)
    while "round" not in page.get_by_role("heading", level=1).inner_text().lower():
        tap(page)
    url = page.url
    page.close()
    with psycopg.connect(database_url) as connection:  # three quarters of an hour pass in the rehearsal
        shop = implied_workshop(connection)
        one = runs.read(connection, shop, run)
        runs.jump(
            connection,
            shop,
            run,
            one.rehearsal.model_copy(update={"jumped_s": one.rehearsal.jumped_s + 2700.0}),
        )
    again = open_page(re.sub(r"http://[^/]+", "", url))
    expect(again.get_by_role("alertdialog", name="Alarm")).to_be_visible()
    expect(again.get_by_text(re.compile(r"\d+ min ago")).first).to_be_visible()


def sizes(page):
    """Targets, instruction and timer as they stand on the screen, in px."""
    return page.evaluate("""() => {
        const seen = (what) => [...document.querySelectorAll(what)].filter((one) => one.offsetParent);
        const size = (one) => parseFloat(getComputedStyle(one).fontSize);
        const speaks = (one) => [...one.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
        const height = (one) => Math.round(one.getBoundingClientRect().height);
        return {
            targets: seen('main button, main a').map((one) => [one.innerText, height(one)]),
            title: size(document.querySelector('h1')),
            timer: Math.max(0, ...[...document.querySelectorAll('[data-figure=timer]')].map(size)),
            small: Math.min(...seen('main *').filter(speaks).map(size)),
            wide: document.documentElement.scrollWidth - window.innerWidth }; }""")


@pytest.mark.parametrize(
    ("width", "height", "theme", "title"),
    [(1280, 800, "paper", 64), (360, 740, "night", 34), (390, 844, "paper", 34), (1920, 1080, "night", 64)],
)
def test_bench_mode_is_for_sticky_gloves_and_two_metres(open_page, width, height, theme, title):
    page = piece_at(open_page, "Fern tray", "pour", width=width, height=height, theme=theme)
    begin(page, rehearse=True, speed="as slow as it is", troubles=False)
    assert complaints_of_axe(page) == []
    while "Stir" not in page.get_by_role("heading", level=1).inner_text():
        tap(page)
    tap(page, re.compile("^Start"))
    found = sizes(page)
    assert found["title"] >= title and found["timer"] >= 80 and found["small"] >= 16 and found["wide"] <= 0
    assert all(height >= 64 for _, height in found["targets"]), found["targets"]
    page.get_by_role("button", name="Something is wrong").click()
    assert complaints_of_axe(page) == []
    page.get_by_role("button", name="Nothing: back").click()
    page.get_by_role("button", name="Note, photo, reading").click()
    assert complaints_of_axe(page) == [] and sizes(page)["wide"] <= 0


def test_space_and_the_pedal_go_on_page_up_takes_back_and_m_asks_what_is_wrong(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour")
    run = begin(page, rehearse=False)
    expect(page.get_by_label("Timer and keys").get_by_role("button", name=DONE)).to_be_enabled()
    page.wait_for_timeout(450)  # the page opens with its guard up
    page.evaluate(
        "for (const key of ['PageDown', ' ']) document.body.dispatchEvent(new KeyboardEvent('keydown', { "
        "key, bubbles: true }))"
    )  # the second knock is none
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("Weigh batch 1"))
    page.wait_for_timeout(450)
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("Stir batch 1"))
    page.wait_for_timeout(450)
    page.keyboard.press("PageUp")
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("Weigh batch 1"))
    page.keyboard.press("m")
    expect(page.get_by_role("heading", name="What is wrong?")).to_be_visible()
    page.get_by_role("button", name="Cup or piece smokes").click()
    expect(page.get_by_text("Do not breathe it. Everyone out of the fumes, air moving.")).to_be_visible()
    page.get_by_role("button", name="Wrong problem: back").click()
    page.get_by_role("button", name="Nothing: back").click()
    page.wait_for_timeout(2500)
    kinds = [one.event.kind for one in stored(database_url, run)]
    assert kinds == ["done", "done", "undo", "mishap", "undo"]


def test_a_reading_a_note_and_a_photo_go_into_the_record(open_page, database_url, tmp_path):
    from PIL import Image

    page = piece_at(open_page, "Planter rings", "pour")
    run = begin(page, rehearse=False)
    page.get_by_role("button", name="Note, photo, reading").click()
    page.get_by_role("button", name="Surface, typed").click()
    for digit in "23.5":
        page.get_by_role("dialog", name="Surface temperature").get_by_role(
            "button", name=digit, exact=True
        ).click()
    page.get_by_role("button", name="Take it").click()
    page.get_by_label("Note", exact=True).fill("a drop under the form, wiped")
    page.get_by_role("button", name="Keep the note").click()
    Image.new("RGB", (64, 48), "#D39A3C").save(tmp_path / "photo.png")
    page.get_by_label("Photo", exact=True).set_input_files(tmp_path / "photo.png")
    expect(page.get_by_text("The photo is in the record.")).to_be_visible()
    page.get_by_role("button", name="Back to the steps").click()
    expect(page.get_by_text(re.compile("· 3 kept"))).to_be_visible()
    reading, note, photo = (one.event for one in stored(database_url, run))
    assert (reading.value, note.text) == (23.5, "a drop under the form, wiped") and len(photo.sha256) == 64


@pytest.mark.parametrize(("width", "theme"), [(1280, "paper"), (360, "night")])
def test_the_wall_the_bench_and_the_workshops_clock_are_sound(open_page, width, theme):
    page = open_page("/wall", width=width, height=800, theme=theme)
    expect(page.get_by_label("Next to do")).to_be_visible()
    found = sizes(page)
    assert found["title"] >= (64 if width > 1000 else 34) and found["timer"] >= 80 and found["wide"] <= 0
    assert all(height >= 64 for _, height in found["targets"]) and complaints_of_axe(page) == []
    for path in ("/workshop", "/phones", "/"):
        page.goto(path)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        assert complaints_of_axe(page) == [] and sizes(page)["wide"] <= 0, path


def test_the_demo_seat_is_on_the_bench_with_its_readings_over_the_prediction(open_page):
    page = open_page("/")
    expect(page.get_by_label("On the bench", exact=True).get_by_text("Entrance bench seat")).to_be_visible()
    page.goto("/pieces")
    page.get_by_role("link", name=re.compile("Entrance bench seat")).first.click()
    page.wait_for_url(re.compile(r"/pieces/\d+"))
    page.goto(re.sub(r"(/pieces/\d+).*", r"\1/pour", page.url))
    expect(page.get_by_role("link", name="Go on in bench mode")).to_be_visible()


@pytest.mark.long
def test_pieces_are_planned_together_and_a_start_is_kept(open_page, database_url):
    from cavatum.jobs import work

    page = open_page("/workshop")
    page.get_by_role("button", name="Plan all together").click()
    with psycopg.connect(database_url) as connection:
        for _ in range(100):
            row = connection.execute("select id from job where kind = 'schedule'").fetchone()
            if row:
                break
            connection.rollback()
            time.sleep(0.05)
    assert work.work(database_url, row[0], as_shop(database_url)) == "done"
    table = page.get_by_role("table", name="Proposed starts")
    expect(table).to_be_visible()
    expect(
        page.get_by_text(re.compile("No schedule has fewer windows missed or less lateness"))
    ).to_be_visible()
    table.get_by_role("button", name="Keep the start of Foyer panel").click()
    expect(page.get_by_text("The start is set; undo it at the piece.")).to_be_visible()
