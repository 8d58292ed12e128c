"""The clock's word in the browser: a start at night is said and a band sets another, what was typed at the
bench is there after a reload, and what was poured yesterday is entered with its own times.
"""

import re
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from playwright.sync_api import expect

from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.browser.test_pour import begin, stored, tap

LONDON = ZoneInfo("Europe/London")


def workday(days: int) -> datetime:
    """A day of the week in the demo's zone, at least so many days on."""
    moment = datetime.now(LONDON) + timedelta(days=days)
    while moment.weekday() > 3:
        moment += timedelta(days=1)
    return moment


def test_a_start_at_night_says_by_when_and_a_band_sets_another(open_page):
    page = piece_at(open_page, "Fern tray", "clock")
    night = workday(2).strftime("%Y-%m-%dT02:00")
    page.locator("#start").fill(night)
    page.locator("#start").blur()
    said = page.get_by_role("region", name="What it says")
    expect(said).to_contain_text("Nobody is here to mix pour 1")
    expect(said).to_contain_text(re.compile(r"Start by \w{3} \d+ \w{3}, \d\d:\d\d"))
    expect(page.get_by_role("link", name=re.compile("Clock.*needs you", re.I)).first).to_be_visible()
    page.get_by_text("When should I begin?").click()
    band = page.get_by_role("button", name=re.compile("everything meets somebody")).last
    expect(band).to_be_visible()
    assert complaints_of_axe(page) == []
    band.click()
    expect(page.get_by_text("Nobody is here to mix")).to_have_count(0)
    expect(page.get_by_text("now set")).to_be_visible()


def test_what_was_typed_of_a_part_is_there_after_a_reload(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour")
    run = begin(page, rehearse=True, speed="as slow as it is", troubles=False)
    while "Weigh" not in page.get_by_role("heading", level=1).inner_text():
        tap(page)
    page.get_by_role("button", name=re.compile("^Part A came out different")).click()
    for digit in "13.0":
        page.get_by_role("dialog").get_by_role("button", name=digit, exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Take it").click()
    follows = page.get_by_text(re.compile(r"Part B follows the 13\.0 g"))
    expect(follows).to_be_visible()
    expect(page.get_by_text(re.compile(r"· \d+ kept"))).to_be_visible()
    page.reload()
    expect(follows).to_be_visible()
    page.get_by_role("button", name=re.compile("^Part B came out different")).click()
    for digit in "99":
        page.get_by_role("dialog").get_by_role("button", name=digit, exact=True).first.click()
    page.get_by_role("dialog").get_by_role("button", name="Take it").click()
    page.wait_for_timeout(450)
    page.get_by_label("Timer and keys").get_by_role("button", name=re.compile("^Done")).click()
    warned = page.get_by_role("alertdialog", name="Off its ratio")
    expect(warned).to_be_visible()
    assert complaints_of_axe(page) == []
    page.wait_for_timeout(450)
    warned.get_by_role("button", name="End it off its ratio").click()
    expect(page.get_by_role("heading", level=1)).to_have_text(re.compile("Stir"))
    expect(page.get_by_text(re.compile(r"· \d+ kept"))).to_be_visible()  # the page is ahead of what it sent
    done = [one.event for one in stored(database_url, run) if one.event.kind == "done"]
    assert done[-1].step.endswith("/weigh") and done[-1].knowing


def test_what_was_poured_yesterday_is_entered_with_its_own_time(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour")
    page.get_by_text("It was poured already: enter it").click()
    when = datetime.now(LONDON) - timedelta(days=1, hours=1)
    page.get_by_label(re.compile("pour 1 was poured")).fill(when.strftime("%Y-%m-%dT%H:%M"))
    page.get_by_role("button", name="Keep it in the record").click()
    page.wait_for_url(re.compile(r"/runs/\d+"))
    kept = stored(database_url, int(page.url.rpartition("/")[2]))
    poured = [one for one in kept if one.event.kind == "done" and one.event.step.endswith("/pour")]
    assert poured and all(one.entered for one in kept)
    assert poured[-1].at.astimezone(LONDON).strftime("%d %H:%M") == when.strftime("%d %H:%M")


def test_a_start_that_has_passed_is_asked_about_and_leads_to_what_was_done(open_page):
    page = piece_at(open_page, "Planter rings", "clock")
    page.locator("#start").fill((datetime.now(LONDON) - timedelta(days=2)).strftime("%Y-%m-%dT09:00"))
    page.locator("#start").blur()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.goto(page.url.replace("/clock", "/pour"))
    page.get_by_role("button", name="Begin this run").click()
    asked = page.get_by_role("region", name="Its start has passed")
    expect(asked).to_contain_text("Was it poured then?")
    assert complaints_of_axe(page) == []
    asked.get_by_role("button", name="Yes: enter what was done").click()
    expect(page.get_by_label(re.compile("pour 1 was poured"))).to_be_focused()
    page.get_by_role("button", name="Begin this run").click()
    asked.get_by_role("button", name=re.compile("^No: begin now")).click()
    page.wait_for_url(re.compile(r"/runs/\d+"))
