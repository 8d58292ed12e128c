"""The frame, the places, themes, units, keys, narrow screens and accessibility."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
PLACES = [
    "/",
    "/pieces",
    "/shelf",
    "/shelf/colours",
    "/shelf/forms",
    "/shelf/stock",
    "/shelf/patch",
    "/logbook",
    "/logbook/learned",
    "/logbook/trials",
    "/mend",
    "/mend?trouble=bubbles",
]
WIDTHS = [1440, 1280, 1920, 768, 640, 390, 360]  # 640: 1280 px at 200 % zoom
# Laid out and painted twice: what watches its own size has answered.
DRAWN = "new Promise(go => requestAnimationFrame(() => requestAnimationFrame(() => go(true))))"
STAGES = ["survey", "measure", "resin", "layers", "mix", "clock", "finish", "log"]


def piece_path(page, name):
    page.goto("/pieces")
    return page.get_by_role("link", name=re.compile(name)).get_attribute("href").rsplit("/", 1)[0]


def settled(page):
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()
    expect(page.get_by_text(re.compile(r"^Opening|^Trying each"))).to_have_count(0)


LEVELS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
COLOURS = {"runOnly": {"type": "rule", "values": ["color-contrast"]}, "resultTypes": ["violations"]}
EVERYTHING = {"runOnly": LEVELS, "resultTypes": ["violations"]}


def complaints_of_axe(page, options=EVERYTHING):
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found = page.evaluate("options => axe.run(document, options)", options)
    return [f"{one['id']}: {one['nodes'][0]['html'][-260:]}" for one in found["violations"]]


def complaints_by_theme(page, themes=("paper", "night")):
    """All rules in the first theme; the others differ from it by their colours alone."""
    found = []
    for theme in themes:
        in_theme(page, theme)
        options = EVERYTHING if theme == themes[0] else COLOURS
        found += [f"{theme}, {one}" for one in complaints_of_axe(page, options)]
    return found


def in_theme(page, theme):
    page.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)
    page.evaluate(DRAWN)


@pytest.mark.long
@pytest.mark.parametrize(("width", "themes"), [(1280, ["paper", "night"]), (360, ["night"])])
def test_axe_finds_nothing_on_any_view(open_page, themes, width):
    page = open_page("/", theme=themes[0], width=width)
    path = piece_path(page, "Seed-head block")
    for view in [*PLACES, *(f"{path}/{stage}" for stage in (*STAGES, "sheet"))]:
        page.goto(view)
        settled(page)
        assert complaints_by_theme(page, themes) == [], view


@pytest.mark.parametrize(
    ("piece", "stage"),
    [
        ("Newel post", "survey"),
        ("Newel post", "ready"),
        ("Refectory counter", "measure"),
        ("Planter rings", "measure"),
        ("Fern tray", "measure"),
        ("Entrance bench seat", "measure"),
    ],
)
def test_axe_finds_nothing_where_pieces_are_surveyed_and_measured(open_page, piece, stage):
    page = open_page("/")
    page.set_viewport_size({"width": 1280, "height": 2400})  # a key half under the strip is no small key
    page.goto(f"{piece_path(page, piece)}/{stage}")
    settled(page)
    assert complaints_by_theme(page) == []


def too_wide(page):
    """At which of the WIDTHS the page scrolls sideways."""
    found = []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        page.evaluate(DRAWN)
        if page.evaluate("document.documentElement.scrollWidth") > width:
            found.append(width)
    return found


@pytest.mark.long
def test_no_measured_piece_is_wider_than_the_screen(open_page):
    page = open_page("/")
    for name in (
        "Newel post",
        "Refectory counter",
        "Planter rings",
        "Fern tray",
        "Entrance bench seat",
        "Waymark discs",
        "Brush pots",
    ):
        path = piece_path(page, name)
        for stage in ("survey", "measure", "layers"):
            page.goto(f"{path}/{stage}")
            settled(page)
            assert too_wide(page) == [], f"{name} {stage}"


# Type under 12 px and keys under 40, as they are shown: what is drawn is scaled with its drawing.
TOO_SMALL = """() => {
  const shown = one => {
    const box = one.getBoundingClientRect();
    return box.width > 1 && box.height > 1 && !one.closest(".sr-only");
  };
  const size = one => {
    const svg = one.closest("svg");
    const scale = svg && svg.viewBox.baseVal && svg.viewBox.baseVal.width ? svg.getScreenCTM().a : 1;
    return parseFloat(getComputedStyle(one).fontSize) * scale;
  };
  const hasText = one => [...one.childNodes].some(node => node.nodeType === 3 && node.textContent.trim());
  const small = [...document.querySelectorAll("body *")]
    .filter(one => hasText(one) && shown(one) && size(one) < 11.95)
    .map(one => `type ${size(one).toFixed(1)}: ${one.textContent.trim().slice(0, 40)}`);
  const low = [...document.querySelectorAll(".key, .box, button.quiet")]
    .filter(one => shown(one) && one.getBoundingClientRect().height < 39.5)
    .map(one => `key: ${(one.textContent || one.id).trim().slice(0, 40)}`);
  return [...small, ...low];
}"""


@pytest.mark.long
def test_no_view_is_wider_than_the_screen_and_on_a_phone_nothing_is_small(open_page):
    page = open_page("/")
    path = piece_path(page, "Drawer pulls")
    for view in [*PLACES, "/new", *(f"{path}/{stage}" for stage in (*STAGES, "pour", "sheet"))]:
        page.goto(view)
        settled(page)
        assert too_wide(page) == [], view
        page.set_viewport_size({"width": 390, "height": 844})
        page.evaluate(DRAWN)
        assert page.evaluate(TOO_SMALL) == [], view


def test_in_inches_and_with_a_long_name_nothing_is_wider_than_the_screen(open_page):
    page = open_page("/")
    page.get_by_role("button", name=re.compile("^mm · g")).click()
    expect(page.get_by_role("button", name=re.compile("^in · lb"))).to_be_visible()
    path = piece_path(page, "Seed-head block")
    page.goto(f"{path}/mix")
    page.get_by_role("button", name="Piece", exact=True).click()
    page.get_by_role("menuitem", name=re.compile("^Name, due day")).click()
    name = page.get_by_label("name", exact=True)
    before = name.input_value()
    for text in ("Seed-head block for the arboretum's new visitor centre, second of three", before):
        name.fill(text)
        name.press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", level=1, name=text)).to_be_visible()
        if text == before:
            break
        for stage in ("measure", "resin", "layers", "mix", "clock"):
            page.goto(f"{path}/{stage}")
            settled(page)
            assert too_wide(page) == [], stage
        page.set_viewport_size({"width": 1280, "height": 800})
        page.get_by_role("button", name="Piece", exact=True).click()
        page.get_by_role("menuitem", name=re.compile("^Name, due day")).click()
    page.get_by_role("button", name=re.compile("^in · lb")).click()


QUESTIONS = {  # what has to be on the screen of 1280 by 800 without scrolling
    "measure": "depth",
    "resin": "Resin system",
    "layers": "Section and clock",
    "mix": "Pour 1",
    "clock": "Clock of this piece",
}


@pytest.mark.parametrize("piece", ["Seed-head block", "Entrance bench seat", "Drawer pulls"])
def test_no_stage_scrolls_for_its_own_question(open_page, piece):
    page = open_page("/")
    path = piece_path(page, piece)
    for stage, name in QUESTIONS.items():
        page.goto(f"{path}/{stage}")
        found = page.get_by_label(name, exact=True).first
        expect(found).to_be_visible()
        box = found.bounding_box()
        ends = box["y"] + (box["height"] if stage in ("measure",) else min(box["height"], 300))
        assert box["y"] >= 0 and ends <= 800, f"{stage}: ends at {ends}"


def test_a_phone_shows_the_drawing_first_and_folds_the_totals(open_page):
    page = open_page("/", width=390, height=844)
    path = piece_path(page, "Seed-head block")
    for stage in ("measure", "mix", "resin"):
        page.goto(f"{path}/{stage}")
        drawn = page.get_by_role("region", name="Section and clock")
        expect(drawn).to_be_visible()
        box = drawn.bounding_box()
        assert box["y"] + box["height"] < 844, stage
        head = page.get_by_role("heading", level=1).locator("xpath=../..").bounding_box()
        assert head["height"] <= 96
        here = page.get_by_role("navigation", name="Stages").locator("[aria-current=step]").bounding_box()
        assert here["x"] >= 0 and here["x"] + here["width"] <= 390
    page.get_by_role("button", name=re.compile("all totals")).click()
    expect(page.get_by_text("hands on, 4 visits")).to_be_visible()


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_one_sheet_of_paper_stands_at_the_bench(open_page, paper):
    import pypdfium2

    page = open_page("/")
    page.goto(f"{piece_path(page, 'Seed-head block')}/sheet")
    expect(page.get_by_role("heading", name="Seed-head block")).to_be_visible()
    expect(page.get_by_role("region", name="Pour 3")).to_be_visible()
    printed = pypdfium2.PdfDocument(page.pdf(format=paper))
    text = "".join(printed[number].get_textpage().get_text_range() for number in range(len(printed)))
    assert len(printed) <= 2
    assert printed[0].get_width() == pytest.approx({"A4": 595, "Letter": 612}[paper], abs=1)  # points
    for said in ("Part A", "then part B", "Gloves and eye protection", "mix, pour 1"):
        assert said in text, said


def test_a_field_tells_how_it_is_measured(open_page):
    page = open_page("/")
    page.goto(f"{piece_path(page, 'Seed-head block')}/measure")
    page.get_by_role("button", name="Help with depth").click()
    told = page.get_by_role("region", name="About depth")
    expect(told).to_contain_text("Measure it:")
    expect(told).to_contain_text("If it is wrong:")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text(
        "the time in which the next layer bonds without sanding"
    )


def test_the_bench_names_the_next_moment(open_page):
    page = open_page("/")
    expect(page.get_by_role("region", name="Next to do").get_by_role("heading")).to_be_visible()
    expect(page.get_by_text(re.compile(r"^now "))).to_be_visible()


def test_digits_jump_between_stages_and_slash_searches(open_page):
    page = open_page("/")
    page.goto(piece_path(page, "Seed-head block"))
    expect(page.get_by_role("heading", name="Seed-head block")).to_be_visible()
    page.keyboard.press("5")
    expect(page.get_by_role("heading", name="What do I weigh?")).to_be_visible()
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="How shall it be poured?")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    expect(page.get_by_role("searchbox")).to_be_focused()
    page.keyboard.type("newel")
    expect(page.get_by_role("link", name=re.compile("Seed-head"))).to_have_count(0)


def test_n_begins_a_new_piece(open_page):
    page = open_page("/")
    settled(page)
    page.keyboard.press("n")
    expect(page.get_by_role("heading", name="What lies on the bench?")).to_be_visible()


def test_units_switch_for_the_whole_workshop(open_page):
    page = open_page("/")
    path = piece_path(page, "Door plaque")
    page.goto(f"{path}/measure")
    page.get_by_role("button", name=re.compile("switch to inches")).click()
    # 300 x 180 x 12 mm is 21.9 US fluid ounces: 648 mL / 29.574
    expect(page.get_by_role("button", name=re.compile("^To fill: "))).to_contain_text("21.9 fl oz")


def test_the_theme_is_kept(open_page):
    page = open_page("/")
    page.get_by_role("button", name=re.compile("Theme")).click()
    page.reload()
    assert page.evaluate("document.documentElement.dataset.theme") == "night"


def test_the_room_is_changed_where_it_is_shown(open_page):
    page = open_page("/")
    page.get_by_role("button", name=re.compile("^Workshop and room")).click()
    page.get_by_label("room now").fill("68 F")
    page.get_by_label("room now").press("Tab")
    expect(
        page.get_by_role("button", name=re.compile("^Workshop and room"), include_hidden=True)
    ).to_contain_text("20.0 °C")
    page.get_by_label("Monday").fill("8 to noon")
    page.get_by_label("Monday").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("Write hours like")
    expect(page.get_by_label("Monday")).to_have_value("8 to noon")


def test_a_sheet_is_changed_into_a_new_version_and_doubted(open_page):
    page = open_page("/shelf/slow-casting-epoxy")
    page.get_by_label("density of A").fill("2.1 g/mL")
    page.get_by_label("density of A").press("Tab")
    expect(page.get_by_role("region", name="Doubts about this sheet")).to_contain_text("2.10 g/mL is outside")
    expect(page.get_by_text(re.compile("^version 2;"))).to_be_visible()
    page.get_by_label("ratio is by").select_option("")
    expect(page.get_by_role("region", name="Doubts about this sheet")).to_contain_text(
        "By volume or by weight?"
    )


def test_typical_values_are_confirmed_at_once(open_page):
    page = open_page("/shelf/coating-epoxy")
    page.get_by_role("button", name="They all match my data sheet").click()
    expect(page.get_by_role("link", name=re.compile("Coating epoxy 1:1"))).to_contain_text("all confirmed")


def test_a_system_is_put_on_the_shelf_from_a_class(open_page):
    page = open_page("/shelf")
    page.get_by_role("button", name="Add a system").click()
    page.get_by_label("what you call it").fill("My slow one")
    page.get_by_label("start from the class").select_option("slow-casting-epoxy")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("heading", name="My slow one")).to_be_visible()


def test_an_unknown_piece_is_told(open_page):
    page = open_page("/pieces/99999")
    expect(page.get_by_role("alert")).to_contain_text("There is no piece 99999")


def test_a_part_of_the_program_that_is_gone_leaves_the_page_standing(open_page):
    """As after an update, when a page of before asks for a part that the server has no more."""
    page = open_page("/")
    settled(page)
    page.route("**/assets/Shelf-*.js", lambda route: route.fulfill(status=404, body="gone"))
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("alert")).to_contain_text("Cavatum was updated")
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()
    page.unroute("**/assets/Shelf-*.js")
    page.get_by_role("button", name="Load the page again").click()
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
    open_page.complaints.clear()


def test_the_kept_pictures_show_something():
    from docs.screenshots.take import FOLDER, MOST_ALIKE, alike

    pictures = sorted(FOLDER.glob("*.png"))
    assert 0 < len(pictures) < 20
    for picture in pictures:
        assert alike(picture.read_bytes()) < MOST_ALIKE, picture.name
