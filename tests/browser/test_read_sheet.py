"""From a dropped data sheet to a system on the shelf by keys."""

import re

from playwright.sync_api import expect

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
