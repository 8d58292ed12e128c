"""From a dropped data sheet to a system on the shelf by keys."""

import re

import pytest
from playwright.sync_api import expect

from cavatum.formats.sandbox import PATIENCE_FOR
from tests.browser.test_frame import complaints_of_axe
from tests.scenes.sheets.score import SHEETS


def test_a_dropped_sheet_is_confirmed_by_keys_and_stands_on_the_shelf(open_page):
    page = open_page("/shelf/read")
    page.get_by_label("Choose a data sheet").set_input_files(SHEETS / "03-method-column-0-fr.pdf")
    found = page.get_by_role("list", name="Values found").get_by_role("listitem")
    expect(found.first).to_contain_text("mixing ratio")
    expect(page.get_by_role("img", name="Page 1 of the sheet")).to_be_visible()
    page.locator("body").press("a")
    page.locator("body").press("j")
    expect(found.nth(1)).to_have_attribute("aria-current", "true")
    page.locator("body").press("x")
    expect(found.nth(1)).to_contain_text("left out")
    page.locator("body").press("k")
    page.locator("body").press("Enter")
    expect(found.nth(1)).to_contain_text("✓ taken")
    assert complaints_of_axe(page) == []
    page.get_by_label("what you call it").fill("Moss deep")
    page.get_by_label("what you call it").press("Enter")
    page.wait_for_url(re.compile(r"/shelf/system-\d+$"))
    expect(page.get_by_role("heading", name="Moss deep")).to_be_visible()
    expect(page.get_by_label("demould after").first).to_have_value("48 h")


def test_what_is_no_data_sheet_is_said(open_page):
    page = open_page("/shelf/read")
    page.get_by_label("or paste its text").fill("A paint for fences. Two coats, dry in a day.")
    page.get_by_role("button", name="Read this text").click()
    expect(page.get_by_role("alert")).to_contain_text("Is it the technical data sheet?")
    page.goto(f"{page.url.split('/shelf')[0]}/shelf/read")
    page.get_by_label("Choose a data sheet").set_input_files(
        {"name": "x.pdf", "mimeType": "application/pdf", "buffer": b"%PDF-1.7 broken"}
    )
    expect(page.get_by_role("alert")).to_be_visible()
    open_page.complaints[:] = [one for one in open_page.complaints if "422" not in one]


class Keys:
    """Presses keys at a page, and counts them."""

    def __init__(self, page):
        self.page, self.pressed = page, 0

    def press(self, key: str) -> None:
        self.page.locator("body").press(key)
        self.pressed += 1


@pytest.mark.timeout(900)
@pytest.mark.parametrize("name", ["02-unit-column-0-es.pdf", "02-unit-column-1-it.jpg"])
def test_from_a_dropped_sheet_to_a_plan_on_it_in_ten_keys(open_page, name):
    """By its text, and by a photo that lies on its side."""
    page = open_page("/pieces")
    page.get_by_role("link", name=re.compile("Drawer pulls")).first.click()
    page.wait_for_url(re.compile(r"/pieces/\d+"))
    piece = re.search(r"/pieces/(\d+)", page.url).group(1)
    page.goto(re.sub(r"/pieces/.*", f"/shelf/read?for={piece}", page.url))
    keys = Keys(page)
    page.get_by_label("Choose a data sheet").set_input_files(SHEETS / name)
    found = page.get_by_role("list", name="Values found").get_by_role("listitem")
    expect(found.first).to_be_visible(timeout=1000 * PATIENCE_FOR["sheet"])  # a picture, on a busy machine
    keys.press("a")
    # What is not sure is looked at and taken one by one, as long as keys are left for it.
    for _ in range(4):
        keys.press("j")
    keys.press("Enter")
    expect(
        page.get_by_role("button", name=re.compile(r"^Plan the piece with it: \d+ values"))
    ).to_be_enabled()
    keys.press("p")
    page.wait_for_url(re.compile(rf"/pieces/{piece}/resin$"))
    expect(page.get_by_role("radio", name=re.compile("My resin"))).to_be_checked()
    assert keys.pressed <= 10
    expect(page.get_by_role("region", name="On its sheet").get_by_role("link").first).to_be_visible()
    page.goto(page.url.replace("/resin", "/mix"))
    page.get_by_role("button", name=re.compile("^Part A by weight")).first.click()
    expect(page.get_by_role("link", name="data sheet").first).to_be_visible()


def test_a_figure_opens_to_its_line(open_page):
    page = open_page("/shelf/read")
    page.get_by_label("Choose a data sheet").set_input_files(SHEETS / "03-method-column-0-fr.pdf")
    found = page.get_by_role("list", name="Values found").get_by_role("listitem")
    expect(found.first).to_be_visible()
    shown = page.evaluate("""async () => {
        const sheet = location.pathname.split("/").pop();
        const read = await (await fetch(`/api/v1/sheets/${sheet}`)).json();
        const row = read.rows.find((one) => one.found.quantity === "demould");
        const [box, size] = [row.found.where[0], read.pages[0]];
        return [box.top / size.height, box.x0 / size.width, row.found.as_typed];
    }""")
    page.goto(f"{page.url}?page=1&down={shown[0]:.3f}&right={shown[1]:.3f}")
    here = page.locator("[aria-current=true]", has=page.get_by_role("textbox"))
    expect(here.get_by_role("textbox")).to_have_value(shown[2])
    expect(here).to_contain_text("demould")


def test_a_new_edition_shows_what_it_changes_before_it_is_kept(open_page):
    page = open_page("/shelf/read")
    page.get_by_label("Choose a data sheet").set_input_files(SHEETS / "03-method-column-0-fr.pdf")
    expect(page.get_by_role("list", name="Values found").get_by_role("listitem").first).to_be_visible()
    page.locator("body").press("a")
    edition = page.get_by_label("what the sheet does not say is typical of")
    edition.select_option("edition slow-casting-epoxy")
    changes = page.get_by_role("table", name=re.compile("What this edition changes"))
    expect(changes).to_be_visible()
    expect(changes.get_by_role("row", name=re.compile("demould after"))).to_contain_text("48 h")
    expect(page.get_by_role("group", name="What it changes")).to_contain_text("planned with it")
    assert complaints_of_axe(page) == []


def test_a_safety_data_sheet_offers_its_cautions(open_page):
    page = open_page("/shelf/read")
    text = "Safety data sheet. Section 2: H302 H315 H317 H319 H411. P261 P273 P280 P302 P333."
    page.get_by_label("or paste its text").fill(text)
    page.get_by_role("button", name="Read this text").click()
    expect(page.get_by_role("alert")).to_contain_text("This is a safety data sheet")
    cautions = page.get_by_role("region", name="Cautions of this sheet")
    expect(cautions).to_contain_text("May cause an allergic skin reaction")
    cautions.get_by_role("button", name="Say them in its plans").click()
    expect(cautions.get_by_role("status")).to_contain_text("Its plans say these cautions now")
    assert complaints_of_axe(page) == []
