"""Pages to print, read back with another library (pdfium): what stands on them, and that nothing runs off the
page.
"""

import pypdfium2
import pytest

from cavatum.core.common.wording import Wording
from cavatum.core.finish.care import CareNote
from cavatum.core.pour.debrief import Debrief
from cavatum.formats.pdf import care_pdf, record_pdf
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
