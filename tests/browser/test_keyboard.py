"""By the keyboard alone: from nothing to the bench, one stop for a choice, the focus where the work is."""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.test_frame import piece_path

MOST_PRESSES = 78  # half of the 157 that it took before


class Keys:
    """Presses and counts."""

    def __init__(self, page):
        self.page, self.pressed = page, 0

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
            self.pressed += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.pressed += len(text)

    def tab_to(self, found, most: int = 30) -> None:
        for _ in range(most):
            if found.evaluate("one => one === document.activeElement"):
                return
            self.press("Tab")
        raise AssertionError("Tab does not come to it")


@pytest.fixture
def empty_page(open_page, database_url):
    page = open_page("/pieces")
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()
    return page


def test_from_a_new_piece_to_the_bench_by_keys(empty_page):
    page, keys = empty_page, Keys(empty_page)
    keys.press("n")
    heading = page.get_by_role("heading", name="What lies on the bench?")
    expect(heading).to_be_focused()
    chosen = page.get_by_role("radio", name="block or form")
    expect(chosen).to_be_checked()
    keys.tab_to(chosen)
    keys.tab_to(page.get_by_label("length", exact=True))
    for number in ("230", "170", "40"):
        keys.type(number)
        keys.press("Enter")
    keep = page.get_by_role("button", name="Keep it as a piece")
    expect(keep).to_be_enabled()
    keys.tab_to(keep)
    keys.press("Enter")
    page.wait_for_url(re.compile(r"/pieces/\d+/measure"))
    expect(page.locator("h1")).to_be_focused()
    keys.press("7")
    begin = page.get_by_role("button", name="Begin this run")
    expect(begin).to_be_visible()
    keys.tab_to(begin)
    keys.press("Enter")
    page.wait_for_url(re.compile(r"/runs/\d+"))
    expect(page.get_by_role("button").first).to_be_visible()
    assert keys.pressed <= MOST_PRESSES, keys.pressed
    expect(page.locator("h1, h2").first).to_be_focused()


def test_a_page_that_comes_late_takes_the_focus_all_the_same(open_page):
    page = open_page("/")
    path = piece_path(page, "Seed-head block")

    def late(route):
        time.sleep(4)
        route.continue_()

    page.goto("/pieces")
    expect(page.get_by_role("heading", name="Pieces")).to_be_visible()
    page.route(f"**/api/v1{path}", late)
    link = page.get_by_role("link", name=re.compile("Seed-head block")).first
    link.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Seed-head block")).to_be_focused()


def test_a_choice_is_one_stop_and_moves_by_arrows(open_page):
    page = open_page("/")
    page.goto(f"{piece_path(page, 'Seed-head block')}/layers")
    split = page.get_by_role("radiogroup", name="Split")
    chosen = split.get_by_role("radio", name=re.compile("Fewest"))
    chosen.focus()
    page.keyboard.press("ArrowDown", delay=80)  # as long as a finger takes
    expect(split.get_by_role("radio", name=re.compile("Coolest"))).to_be_checked()
    page.keyboard.press("Tab")
    assert not page.evaluate("!!document.activeElement.closest('[role=radiogroup]')")
    page.keyboard.press("Shift+Tab")
    expect(split.get_by_role("radio", name=re.compile("Coolest"))).to_be_focused()
    page.get_by_role("button", name="Undo").click()
    expect(chosen).to_be_checked()


def test_esc_brings_the_focus_back_to_what_opened_a_sheet(open_page):
    page = open_page("/")
    room = page.get_by_role("button", name=re.compile("^Workshop and room"))
    room.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(room).to_be_focused()
    page.goto(f"{piece_path(page, 'Seed-head block')}/mix")
    page.get_by_role("button", name="Piece", exact=True).click()
    page.get_by_role("menuitem", name=re.compile("^Name, due day")).click()
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Piece", exact=True)).to_be_focused()


def test_the_section_and_the_clock_grow_by_a_key(open_page):
    page = open_page("/")
    page.goto(f"{piece_path(page, 'Seed-head block')}/mix")
    expect(page.get_by_role("region", name="Section and clock")).to_be_visible()
    page.keyboard.press("s")
    expect(page.get_by_role("group", name="Section of Block, to scale")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_role("slider", name="Time cursor")).to_be_visible()
    expect(page.get_by_role("group", name="Section of Block, to scale")).to_have_count(0)
    page.keyboard.press("c")
    expect(page.get_by_role("slider", name="Time cursor")).to_have_count(0)


def test_every_line_that_can_be_moved_moves_by_keys(open_page):
    page = open_page("/")
    path = piece_path(page, "Seed-head block")
    page.goto(f"{path}/layers")
    line = page.get_by_role("slider", name="Fill line")
    before = float(line.get_attribute("aria-valuenow"))
    line.press("ArrowUp")
    expect(line).to_have_attribute("aria-valuenow", re.compile(rf"^{before + 1:g}"))
    expect(page.get_by_text("fill to here, 3 mm to sand off")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("fill to here, 2 mm to sand off")).to_be_visible()
    page.goto(f"{piece_path(page, 'Foyer panel')}/layers")
    film = page.get_by_role("slider", name="Film of the top coat")
    film.press("ArrowUp")
    expect(film).to_have_attribute("aria-valuetext", re.compile("^0.95 mm"))
    page.get_by_role("button", name="Undo").click()
    expect(film).to_have_attribute("aria-valuetext", re.compile("^0.85 mm"))
    page.goto(f"{piece_path(page, 'Drawer pulls')}/clock")
    start = page.get_by_role("slider", name="Start of the first mix")
    said = start.get_attribute("aria-valuetext")
    assert said is not None
    start.press("ArrowRight")
    hours, minutes = (int(one) for one in re.search(r"(\d+):(\d+)", said).groups())
    later = f"{(hours + (minutes + 30) // 60) % 24:02d}:{(minutes + 30) % 60:02d}"
    expect(page.get_by_role("slider", name="Start of the first mix")).to_have_attribute(
        "aria-valuetext", re.compile(later)
    )
    page.get_by_role("button", name="Undo").click()
