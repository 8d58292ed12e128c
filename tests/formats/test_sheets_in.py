"""Files with a data sheet in them: what they are told to be, what is read of them, what is refused."""

import io

import pytest
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen import canvas

from cavatum.core.common.errors import DomainError
from cavatum.formats import sandbox
from cavatum.formats.pages_in import MOST_PAGES, read_html, read_pdf, read_text
from cavatum.formats.sniff import kind_of
from tests.scenes.sheets.score import read, score_of_text

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


@pytest.mark.slow
def test_the_made_up_sheets_are_read_and_nothing_wrong_is_called_sure():
    """120 sheets in thirty layouts and five languages; a third of the layouts was made after the rules."""
    score = score_of_text()
    assert score.share > 0.95 and len(score.wrong_and_sure) < 0.005 * score.found, score.wrong_and_sure
