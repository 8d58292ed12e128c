"""The first minute as a newcomer has it: an empty shelf, a kind on the bench, a few numbers, weights."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_frame import complaints_of_axe

COAT = {"length": "860", "width": "330", "the amount you would mix": "200 mL"}
CUP = {
    "diameter at the lip": "86",
    "diameter at the foot": "64",
    "height": "140",
    "bare band at the lip": "10",
    "the film it leaves": "0.5 mm",
}
RIVER = {
    "length": "1200",
    "width at one end": "100",
    "width in the middle": "140",
    "width at the other end": "120",
    "depth": "40",
}
BOX = {"length": "300", "width": "200", "depth": "40"}
NEWCOMERS = [
    ("picture or panel", COAT, "116.0"),
    ("cup on a rotator", CUP, "g"),
    ("river or crack", RIVER, "g"),
    ("block or form", BOX, "g"),
]


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
@pytest.mark.parametrize(("bench", "fields", "grams"), NEWCOMERS)
def test_an_empty_workshop_weighs_within_a_minute(open_page, bench, fields, grams, width, height):
    page = open_page("/new", width=width, height=height)
    page.get_by_role("radio", name=bench).check(force=True)
    typed(page, fields)
    weights = page.get_by_label("What to weigh")
    expect(weights).to_contain_text(re.compile(rf"{grams}.* g"))
    expect(weights).to_contain_text("stir")
    shown = weights.inner_text()
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.get_by_role("button", name="Weigh it now").click()
    page.wait_for_url(re.compile(r"/pieces/\d+/weigh/1/1"))
    said_by_its_plan(page, shown)
    expect(page.get_by_role("heading", level=1)).to_be_visible()


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
