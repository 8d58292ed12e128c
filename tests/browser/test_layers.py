"""The Layers stage as a maker uses it: how hot, what if, too early, in three dimensions, a probe laid over
it; the pot clock at Mix.
"""

import os
import re
import subprocess
import sys

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import PATIENCE_MS
from tests.conftest import as_shop

AS_A_WORKER = "import os; os.nice = lambda by: by; import cavatum.jobs.worker as one; one.main()"


@pytest.fixture(scope="module")
def worker(database_url):
    """A worker as the start command runs it, but that it gives way to nobody: other tests keep the machine
    busy all the time.
    """
    process = subprocess.Popen(
        [sys.executable, "-c", AS_A_WORKER],
        env={
            **os.environ,
            "CAVATUM_DATABASE_URL": database_url,
            "CAVATUM_SHOP_URL": as_shop(database_url),
            "PYTHONPATH": "src",
        },
    )
    yield process
    process.terminate()
    process.wait(PATIENCE_MS / 1000)  # it ends what it is at, and gives way to everybody else meanwhile


def at_layers(open_page, piece="Seed-head block", stage="layers", **options):
    page = open_page("/pieces", **options)
    page.get_by_role("link", name=re.compile(piece)).first.click()
    page.wait_for_url(re.compile(r"/pieces/\d+"))
    page.goto(re.sub(r"(/pieces/\d+).*", rf"\1/{stage}", page.url))
    return page


def test_every_layer_shows_how_hot_it_gets_and_its_band_follows(open_page, worker):
    page = at_layers(open_page)
    section = page.get_by_role("group", name=re.compile("Section of"))
    expect(section.get_by_role("img", name=re.compile(r"Hottest \d+ °C")).first).to_be_visible()
    expect(page.get_by_text("Of a hundred such pours").first).to_be_visible()
    expect(
        section.get_by_role("img", name=re.compile(r"between \d+ °C and \d+ °C, wanted at most 60 °C")).first
    ).to_be_visible()
    section.get_by_role("button", name=re.compile("hottest: .* Show the working")).first.click()
    expect(page.get_by_text("heat of reaction, of the class")).to_be_visible()
    expect(page.get_by_text(re.compile("Cure speed worked out from"))).to_be_visible()


def test_the_time_cursor_tints_the_section(open_page):
    page = at_layers(open_page)
    page.get_by_role("button", name="temperature").click()
    section = page.get_by_role("group", name=re.compile("Section of"))
    expect(section.locator("linearGradient").first).to_be_attached()
    page.get_by_role("button", name="cure", exact=True).click()
    expect(section.get_by_text(re.compile(r"% cured")).first).to_be_visible()


def test_what_if_it_were_warmer_is_tried_and_put_back(open_page):
    page = at_layers(open_page)
    page.get_by_label("room", exact=True).fill("33")
    expect(page.get_by_text("Preview only; not saved.")).to_be_visible()
    expect(
        page.get_by_role("img", name=re.compile(r"Hottest [4-6]\d °C")).first
    ).to_be_visible()  # from 29 at 21.4 degC in the room
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_text("Preview only; not saved.")).to_have_count(0)
    page.get_by_label("standing on").select_option("foam")
    expect(page.get_by_text("Preview only; not saved.")).to_be_visible()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Preview only; not saved.")).to_have_count(0)
    page.get_by_text("What stands round it").click()
    expect(page.get_by_label("stands on", exact=True)).to_have_value("foam")


def test_plans_stand_side_by_side_with_their_heat(open_page):
    page = at_layers(open_page)
    split = page.get_by_role("radiogroup", name="Split")
    for name in ("Fewest pours", "Coolest", "Soonest", "In thirds"):
        expect(split.get_by_role("radio", name=re.compile(name))).to_contain_text(re.compile(r"to \d+ °C"))
    split.get_by_role("radio", name=re.compile("Coolest")).click()
    expect(split.get_by_role("radio", name=re.compile("Coolest"))).to_be_checked()
    expect(page.get_by_role("slider", name=re.compile("Boundary above layer")).first).to_be_visible()


def test_a_boundary_moved_by_key_answers_with_its_heat(open_page):
    page = at_layers(open_page)
    boundary = page.get_by_role("slider", name="Boundary above layer 1", exact=True)
    before = boundary.get_attribute("aria-valuenow")
    boundary.focus()
    boundary.press("Shift+ArrowUp")
    expect(boundary).not_to_have_attribute("aria-valuenow", before)
    expect(page.get_by_text("as you drew it").first).to_be_visible()
    expect(page.get_by_role("img", name=re.compile(r"Hottest \d+ °C")).first).to_be_visible()


def test_too_early_and_too_late_stand_on_one_drawing(open_page):
    page = at_layers(open_page)
    drawing = page.get_by_role("region", name="Too early or too late")
    expect(drawing.get_by_role("img", name=re.compile("Takes a bond from")).first).to_be_visible()
    expect(drawing.get_by_text(re.compile("no longer bonds by itself")).first).to_be_visible()


def test_a_run_in_three_dimensions_shows_its_progress_and_its_cut(open_page, worker):
    page = at_layers(open_page, "Fern tray")
    page.get_by_role("button", name="Check in 3D").click()
    expect(page.get_by_role("img", name=re.compile("Middle cut, hottest"))).to_be_visible()
    expect(page.get_by_text(re.compile("in the plan")).first).to_be_visible()


def test_a_probes_curve_refits_the_resin_and_can_be_set_aside(open_page):
    page = at_layers(open_page, "Entrance bench seat")
    page.get_by_text("Lay a measured curve over it").click()
    page.get_by_role("button", name="Take the stand-in probe's").click()
    expect(page.get_by_text("off by, on average")).to_be_visible()
    page.get_by_role("radio", name="this workshop alone").check()
    expect(page.get_by_role("button", name="Use it for this workshop")).to_be_visible()
    expect(page.get_by_text("speed of cure")).to_have_count(0)
    page.get_by_role("radio", name="resin and workshop").check()
    expect(page.get_by_text("speed of cure")).to_be_visible()
    page.get_by_role("button", name="Use it for both").click()
    page.get_by_text("What the heat rests on").click()
    expect(page.get_by_text(re.compile("a measured curve of"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Workshop")).first.click()
    learned = page.get_by_text(re.compile("Heat leaves here ×"))
    expect(learned).to_be_visible()
    learned.get_by_role("button", name="Do not use this").click()
    expect(learned).to_have_count(0)
    page.goto("/shelf/slow-casting-epoxy")
    expect(page.get_by_text(re.compile("Refitted to a measured curve"))).to_be_visible()
    page.get_by_role("button", name="Do not use this").click()
    expect(page.get_by_text(re.compile("Refitted to a measured curve"))).to_have_count(0)


def test_a_log_that_says_nothing_is_refused_in_words(open_page, tmp_path):
    log = tmp_path / "flat.csv"
    log.write_text("time min,temp C\n" + "".join(f"{i * 10},21.5\n" for i in range(30)))
    page = at_layers(open_page, "Entrance bench seat")
    page.get_by_text("Lay a measured curve over it").click()
    page.get_by_label("Probe log").set_input_files(str(log))
    expect(page.get_by_role("alert").filter(has_text="rise")).to_be_visible()


def test_mix_shows_the_pot_clock(open_page):
    page = at_layers(open_page, "Lamp column blank", "mix")
    page.get_by_text("The batch in its cup").first.click()
    pot = page.get_by_role("region", name="Pot clock").first
    expect(pot.get_by_text(re.compile("from the first stir"))).to_be_visible()
    expect(pot.get_by_text(re.compile("Part the colours at"))).to_be_visible()
    expect(pot.get_by_text(re.compile("glitter sinks"))).to_be_visible()


def test_a_night_can_be_set_for_the_room(open_page):
    page = open_page("/bench")
    page.get_by_role("button", name=re.compile("Quillstone Yard")).click()
    page.get_by_label("room at night").fill("15 C")
    page.get_by_label("room at night").press("Enter")
    night = page.get_by_label("night, as 22:00-06:00")
    expect(night).to_have_value("22:00-06:00")
    page.get_by_label("room at night").fill("")
    page.get_by_label("room at night").press("Enter")
    expect(night).to_have_count(0)
