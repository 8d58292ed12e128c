"""The first minute as a newcomer has it: an empty shelf, a kind on the bench, a few numbers, weights."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.newcomer import JOBS, walk
from tests.browser.test_frame import complaints_of_axe

BOX = {"length": "300", "width": "200", "depth": "40"}


@pytest.fixture
def demo_address(live_address, database_url):
    """No demo: an empty workshop."""
    from tests.conftest import _empty

    _empty(database_url)
    yield live_address
    _empty(database_url)


def typed(page, fields: dict[str, str]) -> None:
    for label, text in fields.items():
        page.get_by_label(label, exact=True).fill(text)


def said_by_its_plan(page, shown: str) -> None:
    """The rest lies within the time to pour; out of the form counts from the last pour's own window."""
    piece = re.search(r"/pieces/(\d+)", page.url).group(1)
    plan = page.request.get(f"/api/v1/pieces/{piece}/plan").json()["plan"]
    batch, last = plan["pours"][0]["batches"][0], plan["windows"][-1]
    by_s = batch["stir_s"] + (batch["stir_again_s"] or 0) + batch["pour_within"]["value"]
    assert times_in(shown, "on the piece by") == pytest.approx([by_s], rel=0.03)
    if "out of the form" in shown:
        assert times_in(shown, "out of the form") == pytest.approx([last["demould_s"]], rel=0.03)


def times_in(shown: str, line: str) -> list[float]:
    rest = shown[shown.index(line) + len(line) :].strip().splitlines()[0]
    seconds = {"min": 60.0, "h": 3600.0, "days": 86400.0}
    return [float(n) * seconds[unit] for n, unit in re.findall(r"([\d.]+) (min|h|days)", rest)][:1]


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (390, 844)])
@pytest.mark.parametrize("job", JOBS, ids=lambda job: job.name)
def test_an_empty_workshop_weighs_within_a_minute(open_page, job, width, height):
    page = open_page("/pieces", width=width, height=height)
    expect(page.get_by_role("status")).to_contain_text("Set by your browser: millimetres and grams, GBP")
    if job.units == "us":
        page.get_by_role("button", name="Switch to in · lb").click()
        expect(page.get_by_role("button", name=re.compile("^in · lb"))).to_be_visible()
    page.get_by_role("button", name="All right").click()
    took = walk(page, job)
    assert took.fields <= job.most_fields and took.taps <= job.most_taps and took.person_s < 60
    assert "stir" in took.weights
    if job.name == "thin coat by amount":
        assert "116.0" in took.weights  # 200 mL by 1:1, half of it A: 100 mL of 1.16 g/mL
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.get_by_role("button", name="Weigh it now").click()
    page.wait_for_url(re.compile(r"/pieces/\d+/weigh/1/1"))
    said_by_its_plan(page, took.weights)
    expect(page.get_by_role("heading", level=1)).to_be_visible()


def test_what_was_taken_for_granted_opens_its_field(open_page):
    page = open_page("/new")
    page.get_by_role("radio", name="block or form").check(force=True)
    typed(page, BOX)
    page.get_by_role("button", name="room 22 °C").click()
    expect(page.get_by_label("room now")).to_be_focused()
    page.get_by_label("room now").fill("17 C")
    page.get_by_label("room now").press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="room 17 °C")).to_be_visible()
    page.get_by_role("button", name=re.compile("stay in the cup")).click()
    expect(page.get_by_label("Left in cup, % of mix")).to_be_focused()


def test_a_sample_stands_ready_to_be_looked_at(open_page):
    page = open_page("/")
    page.get_by_role("button", name="Look at a sample piece").click()
    page.wait_for_url(re.compile(r"/pieces/\d+/layers"))
    expect(page.get_by_role("heading", name="Sample block, to look at")).to_be_visible()


def test_a_system_put_on_the_shelf_from_a_piece_leads_back_to_it(open_page):
    page = open_page("/new")
    page.get_by_role("radio", name="something else").check(force=True)
    page.get_by_label("name", exact=True).fill("Odd thing")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("link", name=re.compile("^Resin")).click()
    page.get_by_role("link", name="Put a system on it").click()
    page.get_by_role("button", name="Put it on the shelf").click()
    page.wait_for_url(re.compile(r"/pieces/\d+/resin"))
    expect(page.get_by_role("radiogroup", name="Resin system").get_by_role("radio")).to_have_count(1)


def test_what_is_typed_survives_another_kind_and_a_reload(open_page):
    page = open_page("/new")
    page.get_by_role("radio", name="block or form").check(force=True)
    typed(page, BOX)
    page.get_by_role("radio", name="carved pocket").check(force=True)
    expect(page.get_by_label("length", exact=True)).to_have_value("300")
    page.reload()
    expect(page.get_by_label("depth", exact=True)).to_have_value("40")
    page.get_by_role("button", name="Keep it as a piece").click()
    page.wait_for_url(re.compile(r"/pieces/\d+/measure"))
    expect(page.get_by_role("heading", name="Carved pocket")).to_be_visible()


def test_a_wrong_number_says_so_at_its_line_and_a_bare_ounce_is_asked(open_page):
    page = open_page("/new")
    page.get_by_role("radio", name="picture or panel").check(force=True)
    typed(page, {"length": "3/0", "width": "330"})
    expect(page.get_by_role("alert")).to_contain_text("divided by 0")
    expect(page.get_by_label("What to weigh")).to_have_count(0)
    typed(page, {"length": "860", "the amount you would mix": "8 oz"})
    page.get_by_role("button", name="8 fl oz", exact=True).click()
    page.get_by_role("button", name="8 fl oz in all").click()
    expect(page.get_by_label("the amount you would mix")).to_have_value("8 fl oz in all")
    expect(page.get_by_label("What to weigh")).to_be_visible()
    typed(page, {"your rule": "2 fl oz per ft2"})
    expect(page.get_by_label("the amount you would mix")).to_have_value("")
    expect(page.get_by_text(re.compile("0.64 mm .* is a flood"))).to_be_visible()
    assert complaints_of_axe(page) == []


def test_amounts_alone_and_pieces_to_measure_are_begun_there_too(open_page):
    page = open_page("/pieces")
    expect(page.get_by_role("heading", name="No pieces yet")).to_be_visible()
    page.keyboard.press("n")
    page.wait_for_url(re.compile("/new$"))
    page.get_by_role("radio", name="something else").check(force=True)
    expect(page.get_by_role("heading", name="Just an amount")).to_be_visible()
    page.get_by_label("name", exact=True).fill("Odd thing")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="Odd thing")).to_be_visible()
