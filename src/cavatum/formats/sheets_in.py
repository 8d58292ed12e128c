"""A file with a data sheet in it, read: its pages, its language, what it says. In the child only."""

from __future__ import annotations

import base64
import io
from typing import Any

import numpy as np

from ..core.common.errors import DomainError
from ..core.sheet.hazards import hazards_of
from ..core.sheet.judging import agreed, judged
from ..core.sheet.kind import document_of
from ..core.sheet.marks import with_daggers
from ..core.sheet.names import part_names
from ..core.sheet.page import Page
from ..core.sheet.reading import hits_of, language_of
from .sheet_words import vocabularies

SCREEN_SIDE = 1600  # px of a page's longer side, for the screen
SCAN_SIDE, MOST_SCANNED = 2100, 3  # px, and pages, of a PDF of pictures: each takes seconds


def read_sheet(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Pages, language, document and findings, as plain JSON; left_out: how many pages of pictures were not
    read. Words go along only where there is no picture of the page.

    Raises DomainError: what the readers of its kind refuse; no text at all.
    """
    pages, again, language = _pages(data, options["kind"])
    if not any(page.words for page in (*pages, *again)):
        raise DomainError(
            argument="data sheet",
            value="no text",
            allowed="words are needed",
            way_out="Photograph the page from straight above, so that it fills the picture.",
            code="no-text",
        )
    words = vocabularies()[language]
    found = judged(hits_of(pages, words), words)
    if again:
        found = agreed(found, judged(hits_of(again, words), words))
    shown = [
        page if options["kind"] in ("html", "text") else page.model_copy(update={"words": []})
        for page in pages
    ]
    return {
        "left_out": _pages_of(data) - len(pages) if options["kind"] == "pdf" else 0,
        "language": language,
        "document": document_of(pages, found),
        "names": [one.model_dump(mode="json") for one in part_names(pages, words)],
        "hazards": [one.model_dump(mode="json") for one in hazards_of(pages)],
        "pages": [one.model_dump(mode="json") for one in shown],
        "found": [one.model_dump(mode="json") for one in found],
    }


def _pages(data: bytes, kind: str) -> tuple[list[Page], list[Page], str]:
    """The pages, the same read a second time where they are pictures, and their language."""
    from .pages_in import read_html, read_pdf, read_text

    if kind == "photo":
        return _photographed([_photo(data)])
    if kind == "pdf":
        pages = read_pdf(data)
        if not any(page.words for page in pages):
            return _scanned(data)
    elif kind == "html":
        pages = read_html(data)
    else:
        pages = read_text(data.decode("utf-8", "replace"))
    return pages, [], language_of(pages, vocabularies())


def _scanned(data: bytes) -> tuple[list[Page], list[Page], str]:
    """A PDF of pictures without text: its first pages read as pictures."""
    import pypdfium2

    document = pypdfium2.PdfDocument(io.BytesIO(data))
    return _photographed([_scan(document[number]) for number in range(min(len(document), MOST_SCANNED))])


def _pages_of(data: bytes) -> int:
    import pypdfium2

    return len(pypdfium2.PdfDocument(io.BytesIO(data)))


def _photo(data: bytes) -> np.ndarray:
    from .pictures_of_text import grey_of, straight

    return straight(grey_of(data))


def _scan(page: Any) -> np.ndarray:
    """A PDF's page as a straight picture."""
    from .pictures_of_text import straight

    drawn = np.asarray(page.render(scale=SCAN_SIDE / max(page.get_size()), grayscale=True).to_numpy())
    return straight(drawn.reshape(drawn.shape[:2]))


def read_label(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """The words of a bottle's label by photo, each with its place, read twice: {"pages": [Page, Page]}.

    Raises DomainError: no picture, or nothing that reads it.
    """
    from .pictures_of_text import pages_of, without_rules

    both = pages_of([without_rules(_photo(data))], "en")
    return {"pages": [page.model_dump(mode="json") for (page,) in both]}


def _photographed(pictures: list[np.ndarray]) -> tuple[list[Page], list[Page], str]:
    """Read in English first; where its words are another language's, in that."""
    from .pictures_of_text import pages_of, without_rules

    clean = [without_rules(one) for one in pictures]
    first, second = pages_of(clean, "en")
    language = language_of(first, vocabularies())
    if language != "en":
        first, second = pages_of(clean, language)
    words = vocabularies()[language]
    first, second = ([with_daggers(one, words) for one in pages] for pages in (first, second))
    return _numbered(first), _numbered(second), language


def _numbered(pages: list[Page]) -> list[Page]:
    return [one.model_copy(update={"number": at + 1}) for at, one in enumerate(pages)]


def page_picture(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """A JPEG of one page, for the screen.

    Raises DomainError: no such page.
    """
    picture = _pdf_page(data, options["page"]) if options["kind"] == "pdf" else _photo(data)
    from .photos_in import as_jpeg

    return {"jpeg": base64.b64encode(as_jpeg(picture, 80)).decode()}


def _pdf_page(data: bytes, number: int) -> np.ndarray:
    import pypdfium2

    document = pypdfium2.PdfDocument(io.BytesIO(data))
    if not 1 <= number <= len(document):
        raise DomainError(
            argument="page",
            value=str(number),
            allowed=f"it has {len(document)}",
            way_out="Choose one of these.",
            code="no-such-page",
        )
    if not any(page.get_textpage().count_chars() for page in document):
        return _scan(document[number - 1])  # its words were read on the straight picture
    page = document[number - 1]
    drawn = page.render(scale=SCREEN_SIDE / max(page.get_size()), grayscale=True)
    return np.asarray(drawn.to_numpy())
