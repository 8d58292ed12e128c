"""Mixing as a maker does it: the stand-in scale through the real interface, by hand when it goes quiet; the
Shelf's colours and stock; choosing a resin.
"""

import contextlib
import io
import math
import re
import threading

import psycopg
import pytest
from playwright.sync_api import expect

from cavatum.devices import reader
from cavatum.devices.stand_in_scale import Server
from cavatum.store import weighings
from cavatum.store.workshops import implied_workshop
from tests.browser.test_frame import complaints_of_axe, piece_path
from tests.conftest import as_shop
from tests.formats.test_sheets_in import drawn


@pytest.fixture
def scale(database_url, monkeypatch):
    """The stand-in with the reader on it, as the devices process runs them; unplugged and plugged in again by
    itself.
    """
    monkeypatch.setattr(reader, "PATIENCE_S", 0.5)
    server = Server(("127.0.0.1", 0))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    monkeypatch.setenv("CAVATUM_STAND_IN_SCALE_PORT", str(server.server_address[1]))
    over = threading.Event()

    def read_on() -> None:
        while not over.is_set():
            with contextlib.suppress(OSError, psycopg.Error):
                reader.read_scale(as_shop(database_url), f"socket://127.0.0.1:{server.server_address[1]}")
            over.wait(0.2)

    thread = threading.Thread(target=read_on, daemon=True)
    thread.start()
    yield server
    over.set()
    with server.lock:
        server.pan.away_until_s = math.inf  # unplugged: who reads it hears no more
    server.shutdown()
    server.server_close()
    thread.join(10)


def piece_at(open_page, name: str, where: str, **options):
    page = open_page("/pieces", **options)
    page.get_by_role("link", name=re.compile(name)).first.click()
    page.wait_for_url(re.compile(r"/pieces/\d+"))
    page.goto(re.sub(r"(/pieces/\d+).*", rf"\1/{where}", page.url))
    return page


def hand(page, key: str) -> None:
    page.get_by_role("button", name=key, exact=True).click()


def pad(page, digits: str) -> None:
    page.get_by_role("button", name="Type weight").click()
    for digit in digits:
        page.get_by_role("dialog").get_by_role("button", name=digit, exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Take it").click()


def wanted(page) -> str:
    """What is still to be weighed, as the bar says it."""
    return re.search(
        r"of ([\d.]+) grams",
        page.get_by_role("img", name=re.compile("percent of")).get_attribute("aria-label"),
    ).group(1)


def test_a_two_part_batch_is_weighed_overshot_put_right_and_finished_by_hand(open_page, scale, database_url):
    page = piece_at(open_page, "Drawer pulls", "weigh/1/1")
    page.get_by_text("Practice scale: use these buttons").click()
    hand(page, "set a cup down")
    expect(page.locator("[data-figure=weighing]")).to_contain_text(re.compile(r"180\.\d"))
    page.get_by_role("button", name="Cup is on: count from here").click()
    page.get_by_role("radio", name=re.compile("lot C-1107A")).click()
    expect(page.get_by_text("Pour part A.", exact=True)).to_be_visible()
    hand(page, "pour what is missing")
    # At rest on its target it moves on by itself.
    expect(page.get_by_text("Then pour part B (hardener)")).to_be_visible()
    hand(page, "pour 100 g")
    expect(
        page.get_by_text("Too much. Tap Record this weight; the next amount is corrected.")
    ).to_be_visible()
    page.get_by_role("button", name="Record this weight").click()
    expect(page.get_by_text(re.compile(r"Add [\d.]+ g of part A: the ratio is right again"))).to_be_visible()
    expect(page.get_by_text("Add part A (resin)")).to_be_visible()
    # The plug is pulled: the wanted weight stands large, and the hand goes on.
    hand(page, "pull the plug 8 s")
    expect(page.get_by_text(re.compile("The scale has been quiet"))).to_be_visible()
    pad(page, wanted(page))
    expect(page.get_by_text("Add Moss paste")).to_be_visible()
    pad(page, wanted(page))
    expect(page.get_by_text("All of it is in.")).to_be_visible()
    expect(
        page.get_by_text(re.compile(r"Stir 3 min, scrape walls, bottom and stick\. Into a clean cup"))
    ).to_be_visible()
    page.get_by_role("button", name="It is mixed: keep the record").click()
    page.get_by_role("button", name="Yes, it is mixed").click()
    expect(page.get_by_role("heading", name="Mixed and in the record")).to_be_visible()
    rows = page.get_by_role("table", name="What was weighed").get_by_role("row")
    expect(rows).to_have_count(5)
    with psycopg.connect(database_url) as connection:
        one = next(
            one
            for one in weighings.newest(connection, implied_workshop(connection))
            if one.task.piece == "Drawer pulls"
        )
    taken = [(event.step, event.by) for event in one.plain if event.kind == "taken"]
    assert taken == [("A", "scale"), ("B", "scale"), ("A", "hand"), ("0/moss-paste", "hand")]
    assert len({entry.event_id for entry in one.events}) == len(one.events) and one.ended_at is not None


def test_the_record_books_the_bottle_and_the_mix_stage_knows_it(open_page, scale):
    page = piece_at(open_page, "Drawer pulls", "weigh/1/1")
    page.get_by_role("radio", name=re.compile("lot C-1107A")).click()
    first = wanted(page)  # by the plan, with what the demo's runs taught of the cups
    pad(page, first)
    page.get_by_role("radio", name=re.compile("lot C-1107B")).click()
    pad(page, wanted(page))
    expect(page.get_by_text("Add Moss paste")).to_be_visible()
    pad(page, wanted(page))
    page.get_by_role("button", name="It is mixed: keep the record").click()
    page.get_by_role("button", name="Yes, it is mixed").click()
    page.get_by_role("link", name="Back to the piece").click()
    expect(page.get_by_role("link", name=re.compile("Batch 1 was weighed"))).to_be_visible()
    page.goto("/shelf/stock")
    left = f"{860.0 - float(first):.1f} g"
    expect(page.get_by_text(left, exact=True)).to_be_visible()
    page.get_by_role("button", name=re.compile(left)).click()
    page.get_by_text("What was booked").click()
    expect(page.get_by_text("Drawer pulls, pour 1, batch 1")).to_be_visible()


def test_an_undo_a_wrong_entry_and_a_batch_given_up_stay_in_the_record(open_page, scale):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    pad(page, "500")
    expect(page.get_by_text(re.compile("500.0 g are in"))).to_be_visible()
    page.get_by_role("button", name="Undo the last").click()
    expect(page.get_by_role("button", name="Undo the last")).to_be_disabled()
    page.get_by_role("button", name="Give up this batch").click()
    page.get_by_role("button", name="Give it up").click()
    expect(page.get_by_role("heading", name="What do I weigh?")).to_be_visible()


def test_an_overshoot_larger_than_the_cup_goes_on_in_a_larger_one_or_is_left_on_purpose(open_page, scale):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    pad(page, "2500")
    pad(page, "900")
    expect(page.get_by_text("Too much for the cup or the scale.")).to_be_visible()
    page.get_by_role("button", name="It is in a larger cup now").click()
    for digit in "9000":
        page.get_by_role("dialog").get_by_role("button", name=digit, exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Take it").click()
    expect(page.get_by_role("button", name="It is in a larger cup now")).to_have_count(0)
    page.get_by_role("button", name="Keep the wrong ratio").click()
    expect(page.get_by_text("Ratio still wrong.")).to_be_visible()


def test_no_key_moves_away_under_a_knuckle_when_others_come(open_page, scale):
    """A key that came beside them pushed the others on: a tap that had begun went to another, or to none."""
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    names = ("Undo the last", "Type weight", "Right bottle?")

    def places():
        page.evaluate("window.scrollTo(0, 0)")
        return [page.get_by_role("button", name=one, exact=True).bounding_box() for one in names]

    pad(page, "2500")
    before = places()
    pad(page, "900")
    expect(page.get_by_role("button", name="It is in a larger cup now")).to_be_visible()
    assert places() == before


def test_the_photo_of_a_label_tells_the_bottle(open_page, scale):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    page.get_by_role("button", name="Right bottle?").click()
    label = page.get_by_role("region", name="Its label")
    label.get_by_label("Photograph its label").set_input_files(
        {"name": "label.jpg", "mimeType": "image/jpeg", "buffer": label_photo("Part B", "Lot S-0931B")}
    )
    expect(label).to_contain_text("This is part B")
    expect(label).to_contain_text("lot S-0931B")
    label.get_by_label("Photograph its label").set_input_files(
        {"name": "label.jpg", "mimeType": "image/jpeg", "buffer": label_photo("Part A", "Lot S-0931A")}
    )
    expect(label).to_contain_text("The right bottle")
    label.get_by_role("button", name=re.compile("Pour from this bottle, lot S-0931A")).click()
    expect(page.get_by_role("radio", name=re.compile("lot S-0931A"))).to_have_attribute(
        "aria-checked", "true"
    )


def label_photo(part: str, lot: str) -> bytes:
    out = io.BytesIO()
    label = drawn(["Slow casting epoxy 3:1", part, lot, "Use by 2031-06"], 44)
    label.save(out, "JPEG", quality=80)
    return out.getvalue()


def test_two_taps_faster_than_the_server_are_both_kept_in_their_order(open_page, scale, database_url):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    expect(page.get_by_text("Pour part A (resin)")).to_be_visible()

    def slowly(route):
        threading.Event().wait(0.4)
        route.continue_()

    page.route("**/entries", slowly)
    page.get_by_role("radio", name=re.compile("lot S-0931A")).dispatch_event("click")
    page.get_by_role("button", name="Cup is on: count from here").dispatch_event("click")
    expect(page.get_by_text("Pour part A.", exact=True)).to_be_visible()
    with psycopg.connect(database_url) as connection:
        one = weighings.newest(connection, implied_workshop(connection))[0]
    assert [event.kind for event in one.plain] == ["bottle", "zero"]


def test_a_tap_while_the_weight_before_is_on_its_way_is_not_lost_and_one_that_comes_twice_counts_once(
    open_page, scale, database_url
):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    page.route("**/quantities", lambda route: (threading.Event().wait(0.4), route.continue_()))
    held = []
    page.route("**/entries", lambda route: held.append(route))
    page.get_by_role("button", name="Type weight").click()
    for digit in "100":
        page.get_by_role("dialog").get_by_role("button", name=digit, exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Take it").dblclick()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Type weight").click()
    # Whose part the next weight is turns on the one before: nothing is asked for until that is known
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert len(held) == 1
    page.unroute("**/entries")
    held[0].continue_()
    expect(page.get_by_role("dialog")).to_be_visible()
    with psycopg.connect(database_url) as connection:
        one = weighings.newest(connection, implied_workshop(connection))[0]
    assert [event.kind for event in one.plain] == ["taken"]


def test_what_a_tap_waits_for_is_given_up_when_the_line_is_down(open_page, scale):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    page.route("**/entries", lambda route: route.abort())
    pad(page, "100")
    expect(page.get_by_text(re.compile("1 kept here, sent later"))).to_be_visible()
    expect(page.get_by_role("button", name="Type weight")).to_be_disabled()
    page.unroute("**/entries")
    expect(page.get_by_text(re.compile("kept here"))).to_have_count(0)
    expect(page.get_by_role("button", name="Type weight")).to_be_enabled()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_taps_while_the_line_is_down_are_kept_and_sent_once(open_page, scale, database_url):
    page = piece_at(open_page, "Seed-head block", "weigh/1/1")
    expect(page.get_by_text("Pour part A (resin)")).to_be_visible()
    page.route("**/entries", lambda route: route.abort())
    page.get_by_role("button", name="Cup is on: count from here").click()
    expect(page.get_by_text(re.compile("1 kept here, sent later"))).to_be_visible()
    page.unroute("**/entries")
    expect(page.get_by_text(re.compile("kept here"))).to_have_count(0)
    expect(page.get_by_text("Pour part A.", exact=True)).to_be_visible()
    with psycopg.connect(database_url) as connection:
        one = weighings.newest(connection, implied_workshop(connection))[0]
    assert [event.kind for event in one.plain] == ["zero"]


@pytest.mark.parametrize(("width", "theme"), [(1280, "paper"), (1280, "night"), (360, "paper")])
def test_the_bench_view_is_large_reachable_and_passes_axe(open_page, scale, width, theme):
    page = piece_at(open_page, "Drawer pulls", "weigh/1/1", width=width, theme=theme)
    expect(page.locator("[data-figure=weighing]")).to_be_visible()
    expect(page.get_by_text("stand-in scale")).to_be_visible()
    page.get_by_text("Practice scale: use these buttons").click()
    tall = page.locator("[data-figure=weighing]").evaluate(
        "one => parseFloat(getComputedStyle(one).fontSize)"
    )
    assert tall >= 96
    small = page.evaluate("""() => [...document.querySelectorAll('button, a, summary')]
        .filter((one) => one.offsetParent && one.getBoundingClientRect().height < 63.9)
        .map((one) => one.textContent)""")
    assert small == []
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    assert complaints_of_axe(page) == []
    page.get_by_role("button", name="Type weight").click()
    assert complaints_of_axe(page) == []


def test_systems_are_compared_on_the_piece_with_reasons_and_purchase(open_page):
    page = piece_at(open_page, "Seed-head block", "resin")
    options = page.get_by_role("radiogroup", name="Resin system")
    page.get_by_role("button", name="Show them all the same").click()
    expect(options.get_by_role("radio")).to_have_count(6)
    expect(options.get_by_text("Against:").first).to_be_visible()
    expect(page.get_by_role("region", name="To buy for this piece")).to_contain_text("from the shelf")
    options.get_by_role("radio", name=re.compile("Fast casting")).click()
    expect(page.get_by_role("region", name="To buy for this piece")).to_contain_text("1.80 kg")


def test_a_recipe_is_scaled_two_are_poured_together_and_last_months_comes_back(open_page):
    page = open_page("/shelf/colours")
    page.get_by_role("button", name="Rust", exact=True).click()
    batch = page.get_by_role("region", name="For a batch")
    expect(batch.get_by_text("12.0 g").or_(batch.get_by_text("12 g"))).to_be_visible()  # 2.4 % of 500 g
    expect(page.get_by_role("region", name="How opaque")).to_contain_text("opaque")
    page.get_by_role("button", name="Pour two colours together").click()
    group = page.get_by_role("navigation", name="Recipes")
    group.get_by_label("weighs, as mixed").first.fill("100 g")
    group.get_by_label("weighs, as mixed").last.fill("50 g")
    group.get_by_label("weighs, as mixed").last.press("Tab")
    group.get_by_role("button", name="What comes of it?").click()
    group.get_by_role("button", name="Keep it as a recipe").click()
    expect(page.get_by_role("heading", name="Amber and Cream")).to_be_visible()
    page.get_by_role("button", name="Last month's colour again").click()
    group.get_by_role("button", name=re.compile("Door plaque, pour 1")).click()
    expect(group.get_by_text(re.compile("lot MP-8 then, lot MP-9 now"))).to_be_visible()


def test_a_bottle_is_weighed_anew_and_below_zero_is_refused_at_the_field(open_page):
    page = open_page("/shelf/stock")
    page.get_by_role("button", name=re.compile(r"part B.*140\.0 g")).click()
    page.get_by_label("take out").fill("200 g")
    page.get_by_label("take out").press("Enter")
    expect(page.get_by_text(re.compile("Weigh the bottle"))).to_be_visible()
    page.get_by_label("weighed anew: left in it").fill("120 g")
    page.get_by_label("weighed anew: left in it").press("Enter")
    expect(page.get_by_text("120.0 g", exact=True)).to_be_visible()
    expect(page.get_by_role("complementary", name="Buying")).to_contain_text("together")


def test_a_second_ratio_that_does_not_fit_is_doubted_beside_its_numbers(open_page):
    page = open_page("/shelf/coating-epoxy")
    page.get_by_label("ratio by weight, if stated").fill("100:100")
    page.get_by_label("ratio by weight, if stated").press("Enter")
    expect(page.get_by_text("Its two ratios do not fit its densities")).to_be_visible()
    expect(page.get_by_text(re.compile("100:87.9 by weight"))).to_be_visible()
    page.get_by_role("button", name="same on mine").first.click()
    expect(page.get_by_text(re.compile(r"\d+ values are typical"))).to_be_visible()


def test_the_mixing_sheet_prints_every_batch(open_page):
    page = piece_at(open_page, "Waymark discs", "mix")
    expect(page.get_by_text("One clear mix, stirred clear, then parted:")).to_be_visible()
    page.get_by_role("link", name="Print the sheet").click()
    expect(page.get_by_role("heading", name="Waymark discs")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("of it into rust"))).to_be_visible()


def test_an_amount_without_in_all_or_of_each_part_is_asked_about(open_page):
    page = piece_at(open_page, "Drawer pulls", "mix")
    page.get_by_text("Another amount").click()
    page.get_by_label("amount", exact=True).fill("100 mL")
    page.get_by_label("amount", exact=True).press("Enter")
    page.get_by_role("button", name="100 mL of each part").click()
    expect(page.get_by_role("table", name=re.compile("Weighed out: 100 mL of each part"))).to_contain_text(
        "114.0 g"
    )  # 1.14 g/mL


def test_a_size_is_added_to_a_sheet_and_a_kit_comes_home_as_two_bottles(open_page):
    page = open_page("/shelf/casting-epoxy-25")
    page.get_by_label("A and B together").fill("750 g")
    page.get_by_label("price, GBP").fill("24,50")
    page.get_by_role("button", name="Add the size").click()
    expect(page.get_by_role("region", name="Sold in")).to_contain_text("£24.50")
    page.goto("/shelf/stock")
    page.get_by_text("Put something on the shelf").click()
    page.get_by_label("a kit of").select_option(label="Casting epoxy 2:1, 25 mm")
    page.get_by_label("size").select_option(label="750.0 g")
    page.get_by_label("lot").first.fill("Q-1")
    page.get_by_role("button", name="Bring the kit home").click()
    bottles = page.get_by_role("region", name="Casting epoxy 2:1, 25 mm")
    expect(bottles.get_by_role("button", name=re.compile("lot Q-1"))).to_have_count(2)
    bottles.get_by_role("button", name=re.compile("part A")).click()
    page.get_by_role("button", name="Take the bottle off the shelf").click()
    page.get_by_role("button", name="Bring it back").click()
    expect(bottles.get_by_role("button", name=re.compile("lot Q-1"))).to_have_count(2)


def test_a_form_of_the_shelf_is_chosen_for_a_void_and_listed_with_its_values(open_page):
    page = open_page("/shelf/forms")
    page.get_by_label("another one, starting from").select_option(label="Silicone")
    page.get_by_role("button", name="Add it").click()
    page.get_by_text("Silicone, mine").click()
    opened = page.locator("details[open]")
    opened.get_by_label("conductivity").fill("0.3 W/m K")
    opened.get_by_label("conductivity").press("Enter")
    expect(page.get_by_text(re.compile(r"0\.3 W/\(m·K\)"))).to_be_visible()
    page = piece_at(open_page, "Newel finials", "layers")
    page.get_by_text("What stands round it").click()
    page.get_by_label("form of the shelf").select_option(label="Silicone, mine")
    expect(page.get_by_label("form of the shelf")).to_have_value(re.compile("^form"))


def test_a_swatch_photo_is_read_under_its_patch_and_kept_with_the_recipe(open_page, tmp_path):
    from tests.api.test_shelf_and_weighing import photo

    picture = tmp_path / "swatch.png"
    picture.write_bytes(photo((0.3, 0.1, 0.05), (1.3, 1.0, 0.7)))
    page = open_page("/shelf/colours")
    page.get_by_role("button", name="Rust", exact=True).click()
    swatch = page.get_by_role("region", name="Swatch photo")
    swatch.get_by_label("A photo of swatch and patch").set_input_files(picture)
    image = swatch.get_by_role("img", name=re.compile("tap the patch"))
    expect(swatch.get_by_text("Tap the grey patch.")).to_be_visible()
    box = image.bounding_box()
    image.click(position={"x": box["width"] * 0.25, "y": box["height"] * 0.5})
    expect(swatch.get_by_text("Now tap the swatch.")).to_be_visible()
    image.click(position={"x": box["width"] * 0.75, "y": box["height"] * 0.5})
    expect(swatch.get_by_text(re.compile(r"L\* \d+"))).to_be_visible()
    swatch.get_by_role("button", name="Keep it with the recipe").click()
    expect(page.get_by_text("version 2", exact=False).first).to_be_visible()


def test_a_recipe_is_chosen_for_a_portion_and_stands_on_its_card(open_page):
    page = piece_at(open_page, "Newel finials", "measure")
    page.get_by_role("button", name=re.compile("Cube")).first.click()
    page.get_by_label("by the recipe").select_option(label="Slate")
    page.goto(page.url.replace("/measure", "/mix"))
    expect(page.get_by_role("region", name="Colour").first).to_contain_text("Slate mica")


def test_no_batch_is_offered_as_the_next_where_it_is_not_known_which_are_mixed(open_page):
    page = open_page("/")
    path = piece_path(page, "Seed-head block")
    page.goto(f"{path}/mix")
    keys = page.get_by_role("link", name=re.compile("^Weigh"))
    expect(keys.first).to_be_visible()
    assert not all("waiting" in key.get_attribute("class") for key in keys.all())
    page.route("**/weighings", lambda route: route.abort())
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("Which batches are mixed already could not be read")
    assert all("waiting" in key.get_attribute("class") for key in keys.all()) and keys.count()
