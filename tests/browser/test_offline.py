"""Without a network: every page that was seen opens with what it last knew and says since when; photos
wait through a
reload; nothing that an instrument shows is kept.
"""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.browser.test_pour import begin, stored

KEPT = re.compile(r"No connection: what you see is as it was \w{3} \d+")


def offline_at(page, path=None):
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    if path:
        page.goto(path)
    page.reload()  # the worker is there now, and keeps what is asked for
    expect(page.get_by_role("heading").first).to_be_visible()
    page.wait_for_timeout(2500)  # a person looks at it
    page.context.set_offline(True)
    page.reload()


def weights(page):
    return re.findall(r"[\d.]+ g\b", page.locator("body").inner_text())


@pytest.mark.parametrize("stage", ["measure", "layers", "mix", "clock", "sheet"])
def test_a_page_that_was_seen_opens_without_a_network_and_says_since_when(open_page, stage):
    page = piece_at(open_page, "Fern tray", stage, offline=True)
    expect(page.get_by_role("heading").first).to_be_visible()
    page.wait_for_timeout(1500)
    before = weights(page)
    offline_at(page)
    expect(page.get_by_text("Fern tray").first).to_be_visible()
    if stage != "sheet":
        expect(page.get_by_role("status").filter(has_text=KEPT)).to_be_visible()
        if stage == "measure":
            assert complaints_of_axe(page) == []
    if stage in ("mix", "sheet"):
        until = time.monotonic() + 60
        while weights(page) != before and time.monotonic() < until:
            page.wait_for_timeout(200)
        assert len(before) > 4 and weights(page) == before
    page.context.set_offline(False)
    page.reload()
    expect(page.get_by_role("status").filter(has_text=KEPT)).to_have_count(0)


def test_the_weights_of_a_batch_open_without_a_network(open_page):
    page = piece_at(open_page, "Drawer pulls", "weigh/1/1", offline=True)
    expect(page.get_by_text("Pour part A (resin)")).to_be_visible()
    offline_at(page)
    expect(page.get_by_text("Pour part A (resin)")).to_be_visible()
    expect(page.get_by_text(re.compile("No connection"))).to_be_visible()


def test_a_photo_waits_through_a_reload_and_is_sent_when_the_network_is_back(
    open_page, database_url, tmp_path
):
    from PIL import Image

    page = piece_at(open_page, "Planter rings", "pour", offline=True)
    run = begin(page, rehearse=False)
    offline_at(page)
    expect(page.get_by_role("button", name="Note, photo, reading")).to_be_visible()
    page.get_by_role("button", name="Note, photo, reading").click()
    Image.new("RGB", (64, 48), "#D39A3C").save(tmp_path / "photo.png")
    page.get_by_label("Photo", exact=True).set_input_files(tmp_path / "photo.png")
    expect(page.get_by_text("One photo is kept on this device")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Note, photo, reading").click()
    expect(page.get_by_text("One photo is kept on this device")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("One photo is kept on this device")).to_have_count(0)
    until = time.monotonic() + 30
    while time.monotonic() < until and not [
        one for one in stored(database_url, run) if one.event.kind == "photo"
    ]:
        page.wait_for_timeout(200)
    assert len([one for one in stored(database_url, run) if one.event.kind == "photo"]) == 1
