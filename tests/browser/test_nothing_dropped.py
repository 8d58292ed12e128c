"""Two that change the same, a device without room, a device that was put out: each is said, nothing goes."""

import os
import re
import time
from datetime import UTC, datetime, timedelta

import psycopg
from playwright.sync_api import expect

from cavatum.store import pairings
from cavatum.store.workshops import implied_workshop
from tests.browser.test_door import network_address, open_page, shop_screen  # noqa: F401, fixtures
from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.browser.test_pour import begin, stored

FULL_ON_THIS_DEVICE = """
const real = Storage.prototype.setItem;
Storage.prototype.setItem = function (key, value) {
  if (key !== "cavatum-theme") throw new DOMException("full", "QuotaExceededError");
  return real.call(this, key, value);
};
"""


def look(page, name: str) -> None:
    """For whoever wants to see it: CAVATUM_PICTURES=FOLDER."""
    if "CAVATUM_PICTURES" in os.environ:
        page.screenshot(path=f"{os.environ['CAVATUM_PICTURES']}/{name}.png")


def workshop_sheet(page):
    page.get_by_role("button", name=re.compile("^Workshop")).click()
    return page.get_by_role("dialog").get_by_label("name", exact=True)


def test_the_same_setting_changed_on_two_devices_is_asked_about(open_page):  # noqa: F811
    here, there = open_page("/"), open_page("/")
    mine = workshop_sheet(here)
    theirs = workshop_sheet(there)
    theirs.fill("Their shed")
    theirs.press("Tab")
    expect(there.locator("body")).to_contain_text("Their shed")
    there.wait_for_timeout(500)
    asked: list[str] = []

    def answer(dialog):
        asked.append(dialog.message)
        dialog.dismiss() if len(asked) == 1 else dialog.accept()

    here.on("dialog", answer)
    mine.fill("My shed")
    mine.press("Tab")
    expect(mine).to_have_value("Their shed")
    here.wait_for_timeout(800)
    assert len(asked) == 1 and "“Their shed” there, “My shed” here" in asked[0]
    with here.expect_response(lambda one: one.request.method == "PUT" and one.status == 200):
        mine.fill("My shed")
        mine.press("Tab")
    there.reload()
    expect(workshop_sheet(there)).to_have_value("My shed")
    open_page.complaints[:] = [one for one in open_page.complaints if "409" not in one]


def test_a_device_without_room_says_so_and_drops_nothing(open_page):  # noqa: F811
    page = piece_at(open_page, "Planter rings", "pour")
    page.add_init_script(FULL_ON_THIS_DEVICE)
    page.reload()
    page.get_by_label("who is at the bench").fill("Wren")
    page.get_by_label("who is at the bench").press("Tab")
    page.get_by_role("link", name="Pieces").first.click()
    expect(page.get_by_role("alert").filter(has_text="storage is full")).to_be_visible()
    assert complaints_of_axe(page) == []
    look(page, "full")
    page.set_viewport_size({"width": 390, "height": 844})
    look(page, "full-phone")


def test_what_a_device_that_was_put_out_still_holds_goes_to_the_owner(
    open_page,  # noqa: F811
    shop_screen,  # noqa: F811
    network_address,  # noqa: F811
    database_url,
):
    with psycopg.connect(database_url) as connection:
        shop = implied_workshop(connection)
        code, _ = pairings.offer(connection, shop, "bench tablet", timedelta(days=7), datetime.now(UTC))
    tablet = open_page(f"{network_address}/pair#{code}", width=390, height=844)
    expect(tablet.get_by_role("navigation", name="Places")).to_be_visible()
    tablet.goto(f"{network_address}/pieces")
    tablet.get_by_role("link", name=re.compile("Planter rings")).first.click()
    tablet.wait_for_url(re.compile(r"/pieces/\d+"))
    tablet.goto(re.sub(r"(/pieces/\d+).*", r"\1/pour", tablet.url))
    run = begin(tablet, rehearse=False)
    tablet.context.set_offline(True)
    tablet.get_by_role("button", name="Note, photo, reading").click()
    tablet.wait_for_timeout(2500)  # it asks every second and a half, and has noticed by then
    tablet.get_by_role("textbox", name="Note", exact=True).fill("tapped without a network")
    tablet.get_by_role("button", name="Keep the note").click()
    with psycopg.connect(database_url) as connection:
        connection.execute("update pairing set ended_at = now() where name = 'bench tablet'")
    expect(tablet.get_by_text("The note is kept on this device until")).to_be_visible()
    tablet.context.set_offline(False)
    sheet = tablet.get_by_role("dialog", name="Note, photo, reading")
    expect(sheet.get_by_role("alert").filter(has_text="bench tablet is no longer let in")).to_be_visible()
    sheet.get_by_role("alert").scroll_into_view_if_needed()
    look(tablet, "put-out")
    assert not [one for one in stored(database_url, run) if one.event.kind == "note"]
    owner = shop_screen("/phones")
    expect(owner.get_by_text("tapped without a network")).to_be_visible()
    look(owner, "handed-in")
    owner.get_by_role("button", name="Accept", exact=True).first.click()
    until = time.monotonic() + 60
    while time.monotonic() < until and not [
        one for one in stored(database_url, run) if one.event.kind == "note"
    ]:
        owner.wait_for_timeout(200)
    assert [one.event.text for one in stored(database_url, run) if one.event.kind == "note"] == [
        "tapped without a network"
    ]
    open_page.complaints[:] = [one for one in open_page.complaints if "401" not in one and "ERR_" not in one]
