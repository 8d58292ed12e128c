"""Pages to print, read back with another library (pdfium): what stands on them, and that nothing runs off the
page.
"""

import math

import numpy as np
import pypdfium2
import pytest

from cavatum.core.common.errors import DomainError
from cavatum.core.common.wording import Wording
from cavatum.core.finish.care import CareNote
from cavatum.core.pour.debrief import Debrief
from cavatum.formats.drawings_out import Sheet
from cavatum.formats.pdf import care_pdf, record_pdf
from cavatum.formats.pdf_drawing import EDGE_MM, FOOT_MM, LAP_MM, tiles, write_pdf
from tests.core.test_learned import record_of
from tests.samples import workshop

SAY = Wording(workshop(name="Quillstone Yard"))
MARGIN_PT = 40


def text_of(pdf: bytes) -> list[str]:
    return [" ".join(page.get_textpage().get_text_bounded().split()) for page in pypdfium2.PdfDocument(pdf)]


def ink_of(pdf: bytes):
    """Dark share of the page, and of its outer margins."""
    page = pypdfium2.PdfDocument(pdf)[0]
    grey = page.render(scale=1, grayscale=True).to_numpy().squeeze()
    dark = grey < 160
    sides = dark[:, :MARGIN_PT].mean() + dark[:, -MARGIN_PT:].mean()
    return dark.mean(), sides


@pytest.fixture
def note():
    parts = [
        ("Heat", "Above about 50 °C it softens. × 2/3"),
        ("Food", "Not made for touching food."),
        ("Besides", "<b>Ask Łucja</b> & Wren"),
    ]
    return CareNote(
        title="Door plaque",
        for_whom="Fernhollow Arboretum",
        made_by="Quillstone Yard",
        cured_at=None,
        parts=parts,
    )


def test_the_care_note_is_one_page_with_all_its_words(note):
    pages = text_of(care_pdf(note, SAY))
    assert len(pages) == 1
    for words in (
        "Door plaque",
        "Fernhollow Arboretum",
        "50 °C",
        "<b>Ask Łucja</b> & Wren",
        "data sheet comes before it",
    ):
        assert words in pages[0]


def test_the_same_note_gives_the_same_file(note):
    assert care_pdf(note, SAY) == care_pdf(note, SAY)


def test_the_record_fits_its_page():
    record = record_of(
        [
            {"kind": "note", "text": "clear as water"},
            {"kind": "rating", "stars": 4, "text": "Next time slower."},
        ]
    )
    pdf = record_pdf(
        record,
        Debrief(
            steps=[], done=0, skipped=0, late=0, early=0, tests=0, mishaps=0, absurd=0, repeats=0, says=[]
        ),
        SAY,
    )
    pages = text_of(pdf)
    assert (
        "Sample block" in pages[0]
        and "not weighed" in pages[0]
        and any("Next time slower" in one for one in pages)
    )
    dark, sides = ink_of(pdf)
    assert dark > 0.005 and sides == 0


PT_MM = 72 / 25.4


@pytest.mark.parametrize(
    ("changes", "size"),
    [
        ({}, (210, 297)),
        ({"units": "us"}, (215.9, 279.4)),
        ({"units": "us", "paper": "A4"}, (210, 297)),
        ({"paper": "letter"}, (215.9, 279.4)),
    ],
)
def test_pages_have_the_size_of_the_workshops_paper(note, changes, size):
    """ISO 216 and ANSI/ASME Y14.1."""
    pdf = care_pdf(note, Wording(workshop(**changes)))
    found = pypdfium2.PdfDocument(pdf)[0].get_size()
    assert found == pytest.approx([one * PT_MM for one in size], abs=0.1)


def rectangle(wide, high):
    return Sheet({"opening": [[(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]]})


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_a_template_that_fits_is_one_sheet_at_its_true_size(paper):
    pdf = write_pdf(rectangle(0.12, 0.08), "Sample patch", paper)
    assert len(pypdfium2.PdfDocument(pdf)) == 1
    (words,) = text_of(pdf)
    assert "To scale" in words and "50 mm" in words and "sheet" not in words
    image = pypdfium2.PdfDocument(pdf)[0].render(scale=4, grayscale=True).to_numpy().squeeze()
    dark = image < 140
    top = dark[: round(len(dark) * 0.5)]  # the drawing alone, without foot
    columns = np.flatnonzero(top.any(axis=0))
    assert (columns[-1] - columns[0]) / 4 / PT_MM == pytest.approx(120, abs=0.5)


@pytest.mark.parametrize("paper", ["A4", "letter"])
@pytest.mark.parametrize(("wide", "high"), [(0.2, 0.4), (0.9, 0.3), (0.35, 0.35), (2.0, 0.7)])
def test_a_large_template_is_tiled_so_that_laps_cover_it_and_every_sheet_says_which_it_is(paper, wide, high):
    across, down, shows_wide, shows_high = tiles(wide * 1000, high * 1000, paper)
    for count, shows, whole in ((across, shows_wide, wide), (down, shows_high, high)):
        assert count * shows - (count - 1) * LAP_MM >= whole * 1000  # nothing is left uncovered
        assert count == 1 or (count - 1) * shows - (count - 2) * LAP_MM < whole * 1000  # and none too many
    pages = text_of(write_pdf(rectangle(wide, high), "Sample", paper))
    assert len(pages) == across * down > 1
    assert all("To scale" in one for one in pages)
    assert "sheet A1 of" in pages[0] and f"sheet {chr(64 + down)}{across} of" in pages[-1]
    size = pypdfium2.PdfDocument(write_pdf(rectangle(wide, high), "Sample", paper))[0].get_size()
    assert math.isclose(size[0], (shows_wide + 2 * EDGE_MM) * PT_MM, abs_tol=0.5)
    assert math.isclose(size[1], (shows_high + 2 * EDGE_MM + FOOT_MM) * PT_MM, abs_tol=0.5)


def test_a_template_of_a_hundred_sheets_is_refused():
    with pytest.raises(DomainError, match="sheets of A4"):
        write_pdf(rectangle(9.0, 3.0), "Sample", "A4")
