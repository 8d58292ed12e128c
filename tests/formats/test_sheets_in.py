"""Files with a data sheet in them: what they are told to be, what is read of them, what is refused."""

import base64
import io
import zlib
from pathlib import Path

import pytest
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen import canvas

from cavatum import formats
from cavatum.core.common.errors import DomainError
from cavatum.core.sheet.container import borne_out, label_of, likeness
from cavatum.core.sheet.page import Page, Word
from cavatum.formats import sandbox
from cavatum.formats.pages_in import MOST_PAGES, read_html, read_pdf, read_text
from cavatum.formats.pictures_of_text import apart, as_meant, stretched
from cavatum.formats.sheet_words import words_of_labels
from cavatum.formats.sheets_in import MOST_SCANNED, read_sheet
from cavatum.formats.sniff import kind_of
from tests.scenes.sheets.score import read, score_of_pictures, score_of_text

FONT = next(Path(formats.__file__).parent.joinpath("fonts").glob("*.ttf"))
LINES = ["Mix ratio 2:1 by volume", "Pot life 30 min", "Demould 24 h", "Full cure 7 days"]
HTML = """<!doctype html><html><head><title>x</title><script>alert("Pot life 99 min")</script>
<link rel=stylesheet href="http://outside.example/x.css"></head><body><h1>Larch</h1><table><tr><td>Pot life
<td>30 min<sup>1</sup></tr><tr><td>Density (Part A)</td><td>1.10 g/cm<sup>3</sup></td></tr></table>
<p>Full cure: 7&nbsp;days.</p>
<p><sup>1</sup> at 25 °C, 150 g</p><img src="file:///etc/passwd"></body></html>"""


def pdf(pages: int = 1, lines=LINES, **more) -> bytes:
    out = io.BytesIO()
    sheet = canvas.Canvas(out, **more)
    for _ in range(pages):
        for at, line in enumerate(lines):
            sheet.drawString(72, 720 - 24 * at, line)
        sheet.showPage()
    sheet.save()
    return out.getvalue()


def values(pages) -> dict[str, float]:
    return {one.quantity: one.low for one in read(pages)[1]}


def test_kinds_are_told_by_content():
    assert kind_of(pdf(), "x.bin") == "pdf" and kind_of(HTML.encode(), "x") == "html"
    assert kind_of(b"Pot life 30 min", "pasted.sheet") == "text"


def test_a_pdf_a_page_and_a_text_say_the_same():
    wanted = {"ratio": 2, "working_time": 1800, "demould": 86400, "full_cure": 604800}
    assert values(read_pdf(pdf())) == wanted
    assert values(read_text("\n".join(LINES))) == wanted
    page = "<html><body>" + "".join(f"<p>{one}</p>" for one in LINES) + "</body></html>"
    assert values(read_html(page.encode())) == wanted


def test_a_saved_page_is_read_without_its_scripts_and_with_its_footnotes():
    found = {one.quantity: one for one in read(read_html(HTML.encode()))[1]}
    assert found["working_time"].low == 1800 and found["working_time"].at_c == 25
    assert found["density"].low == 1100 and found["full_cure"].low == 604800


def test_an_old_page_in_another_encoding_is_read():
    assert values(
        read_html(
            "<html><body>Aushärtung: 7 Tage, Topfzeit: 30 Minuten bei 20 °C</body></html>".encode("cp1252")
        )
    )


@pytest.mark.parametrize(
    ("data", "kind", "code"),
    [
        (pdf(encrypt=StandardEncryption("secret")), "pdf", "locked"),
        (pdf(MOST_PAGES + 1), "pdf", "too-many-pages"),
        (pdf(lines=[]), "pdf", "no-text"),
        (b"", "text", "no-text"),
        (b"%PDF-1.7 broken", "pdf", "broken"),
        (b"<html>" + b"<div>" * 20_000, "html", "too-deep"),
        (b"x " * 30_000, "text", "too-many-words"),
    ],
)
def test_what_cannot_be_read_is_said_in_words(data, kind, code):
    with pytest.raises(DomainError) as refused:
        sandbox.ask("sheet", data, {"kind": kind})
    assert refused.value.code == code and refused.value.way_out


def test_a_page_is_shown_and_one_that_is_not_there_refused():
    shown = sandbox.ask("sheet page", pdf(), {"kind": "pdf", "page": 1})
    assert shown["jpeg"].startswith("/9j/")
    with pytest.raises(DomainError, match="page"):
        sandbox.ask("sheet page", pdf(), {"kind": "pdf", "page": 2})


def drawn(lines, size: int = 30) -> Image.Image:
    """Black on white, as a sheet or a label is printed."""
    picture = Image.new("L", (1400, 1000), 255)
    brush = ImageDraw.Draw(picture)
    font = ImageFont.truetype(str(FONT), size)
    for at, line in enumerate(lines):
        brush.text((120, 100 + 3 * size * at), line, fill=20, font=font)
    return picture


def test_a_scan_as_pdf_without_text_is_read_as_a_picture():
    out = io.BytesIO()
    drawn(LINES).convert("RGB").save(out, "PDF", resolution=150)
    found = sandbox.ask("sheet", out.getvalue(), {"kind": "pdf"})
    values = {one["quantity"]: one["low"] for one in found["found"]}
    assert values == {"ratio": 2, "working_time": 1800, "demould": 86400, "full_cure": 604800}
    assert [one["number"] for one in found["pages"]] == [1] and found["left_out"] == 0
    shown = sandbox.ask("sheet page", out.getvalue(), {"kind": "pdf", "page": 1})["jpeg"]
    picture = Image.open(io.BytesIO(base64.b64decode(shown)))
    page = found["pages"][0]
    assert picture.size == (page["width"], page["height"])  # marks stand where the words were read


def test_of_a_long_scan_the_pages_that_are_not_read_are_counted():
    out = io.BytesIO()
    pages = [drawn(LINES).convert("RGB").resize((560, 400)) for _ in range(MOST_SCANNED + 2)]
    pages[0].save(out, "PDF", resolution=60, save_all=True, append_images=pages[1:])
    assert read_sheet(out.getvalue(), {"kind": "pdf"})["left_out"] == 2


def test_a_picture_without_words_is_told_to_have_none():
    out = io.BytesIO()
    Image.new("L", (900, 1200), 230).save(out, "JPEG")
    with pytest.raises(DomainError) as refused:
        sandbox.ask("sheet", out.getvalue(), {"kind": "photo"})
    assert refused.value.code == "no-text"


@pytest.mark.parametrize("turn", [0, 90, 180])
def test_the_label_of_a_bottle_is_read_however_it_was_held(turn):
    out = io.BytesIO()
    label = drawn(["Riverbend Clear 30", "Part B Hardener", "Lot K4471-02", "Use by 2027-06"], 44)
    label.rotate(turn, expand=True, fillcolor=255).save(out, "JPEG", quality=70)
    pages = sandbox.ask("label", out.getvalue(), {"kind": "photo"})["pages"]
    read_labels = [label_of([Page.model_validate(one)], words_of_labels()) for one in pages]
    label = borne_out(*read_labels)
    assert (label.part, label.lot) == ("b", "K4471-02")
    assert label.best_before.isoformat() == "2027-06-30"
    assert likeness(label, "Riverbend Clear 30") == 1.0


BOMB = b"""<!DOCTYPE h [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c
"&b;&b;&b;&b;&b;&b;&b;&b;"><!ENTITY d "&c;&c;&c;&c;&c;&c;&c;&c;"><!ENTITY e "&d;&d;&d;&d;&d;&d;&d;&d;">]>
<html><body><p>Pot life 30 min &e;&e;&e;</p><p>Full cure 7 days</p></body></html>"""
HOSTILE = b"""<!DOCTYPE html>
<!-- saved from somewhere --><html><body><p>Pot life 30 min</p><p>Full cure 7 days</p>
<p style="display:none">Pot life 99 min</p><p hidden>Full cure 99 days</p><!-- Demould 99 h -->
<iframe src="http://outside.example/"></iframe><object data="file:///etc/passwd"></object>
<svg><script>Demould 98 h</script></svg><template>Demould 97 h</template><noscript>Demould 96 h</noscript>
<link rel=import href=http://outside.example/y><base href=http://outside.example/></body></html>"""


@pytest.mark.parametrize("page", [BOMB, HOSTILE])
def test_a_hostile_page_is_read_as_a_person_sees_it(page):
    found = sandbox.ask("sheet", page, {"kind": "html"})
    values = {one["quantity"]: one["low"] for one in found["found"]}
    assert values == {"working_time": 1800, "full_cure": 604800}


def with_actions() -> bytes:
    """A PDF that runs a script, opens another file and an address when it is opened."""
    return pdf().replace(
        b"/Type /Catalog",
        b"/OpenAction << /S /JavaScript /JS (app.alert\\(1\\)) /Next << /S /Launch /F (/bin/sh) >> >> "
        b"/AA << /O << /S /URI /URI (http://outside.example/) >> >> /Type /Catalog",
    )


def swollen() -> bytes:
    """A page whose compressed stream unpacks to a hundred million bytes."""
    squeezed = zlib.compress(b"0 0 m " * 17_000_000, 9)
    head = b"%PDF-1.4\n"
    parts = [
        b"1 0 obj << /Type /Catalog /Pages 2 0 R >> endobj\n",
        b"2 0 obj << /Type /Pages /Kids [3 0 R] /Count 1 >> endobj\n",
        b"3 0 obj << /Type /Page /Parent 2 0 R /MediaBox [0 0 600 800] /Contents 4 0 R >> endobj\n",
        b"4 0 obj << /Length %d /Filter /FlateDecode >> stream\n" % len(squeezed)
        + squeezed
        + b"\nendstream endobj\n",
    ]
    return head + b"".join(parts) + b"trailer << /Root 1 0 R >>\n%%EOF"


def test_a_pdf_that_would_act_is_only_read():
    assert {one["quantity"] for one in sandbox.ask("sheet", with_actions(), {"kind": "pdf"})["found"]} >= {
        "ratio",
        "working_time",
    }


def test_a_pdf_that_unpacks_without_end_is_refused_in_words():
    with pytest.raises(DomainError) as refused:
        sandbox.ask("sheet", swollen(), {"kind": "pdf"})
    assert refused.value.code in ("too-heavy", "broken", "no-text") and refused.value.way_out


@pytest.mark.slow
def test_the_made_up_sheets_are_read_and_nothing_wrong_is_called_sure():
    """One in three of 120 sheets in thirty layouts and five languages; all of them: ./cavatum speed sheet. A
    third of the layouts was made after the rules.
    """
    score = score_of_text(every=3)
    assert score.share > 0.95 and len(score.wrong_and_sure) < 0.005 * score.found, score.wrong_and_sure


PHOTOGRAPHED = ("02-unit-column-1-it", "03-method-column-3-en", "07-cards-1-it")  # on its side, and upright


@pytest.mark.slow
def test_photographed_sheets_are_read_and_nothing_wrong_is_called_sure():
    score = score_of_pictures(PHOTOGRAPHED)
    assert score.share > 0.85 and score.wrong_and_sure == []
    assert sum(score.said.values()) > 45


@pytest.mark.parametrize(
    ("read", "meant"),
    [
        ("a25°C", ["a", "25°C"]),
        ("4ha25C", ["4h", "a", "25C"]),
        ("16bis30°C", ["16", "bis", "30°C"]),
        ("3a8", ["3", "a", "8"]),
        ("48ha23", ["48h", "a", "23"]),
        ("ta25°C", ["t", "a", "25°C"]),
        ("Tatto", ["Tatto"]),
        ("A25", ["A25"]),
    ],
)
def test_what_a_picture_stuck_together_comes_apart_in_its_place(read, meant):
    parts = apart(Word(text=read, x0=10, x1=10 + len(read), top=0, bottom=1, sure=0.8))
    assert [one.text for one in parts] == meant
    assert (parts[0].x0, parts[-1].x1) == (10, pytest.approx(10 + len(read)))


@pytest.mark.parametrize(
    ("read", "meant"),
    [
        ("1,09", "1,09"),
        ("g/cm®", "g/cm³"),
        ("m?/L", "m²/L"),
        ("4m/L", "4m²/L"),
        ("25*C,", "25°C,"),
        ("mm/L", "mm/L"),
        ("acme*C", "acme*C"),
    ],
)
def test_a_sign_that_a_picture_misread_at_the_end_of_a_word_is_known(read, meant):
    assert as_meant(read) == meant


def test_a_number_that_is_too_wide_for_its_figures_is_doubted():
    """As photographed: "2-6 h" whose dash was read by neither reading."""

    def row(texts, widths):
        return [
            Word(text=text, x0=0, x1=wide, top=40 * at, bottom=40 * at + 20, sure=0.9)
            for at, (text, wide) in enumerate(zip(texts, widths, strict=True))
        ]

    words = row(["24", "72h", "100", "25", "60", "26h", "wide"], [22, 35, 33, 23, 22, 49, 90])
    assert [one.text for one in stretched(words)] == ["26h"]
    assert stretched(words[4:]) == []  # too few to know how wide figures are
