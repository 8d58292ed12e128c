"""A file with a data sheet in it, read: its pages, its language, what it says. In the child only."""

from __future__ import annotations

import base64
import io
from typing import Any

import numpy as np

from ..core.common.errors import DomainError
from ..core.sheet.hazards import hazards_of
from ..core.sheet.judging import judged
from ..core.sheet.kind import document_of
from ..core.sheet.page import Page
from ..core.sheet.reading import hits_of, language_of
from .sheet_words import vocabularies

SCREEN_SIDE = 1600  # px of a page's longer side, for the screen


def read_sheet(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """Pages, language, document and findings, as plain JSON. Words go along only where there is no picture
    of the page.

    Raises DomainError: what the readers of its kind refuse; no text at all.
    """
    pages, language = _pages(data, options["kind"])
    if not any(page.words for page in pages):
        raise DomainError(
            argument="data sheet",
            value="pictures without text" if options["kind"] == "pdf" else "no text",
            allowed="words are needed",
            way_out="Photograph or scan the page and drop the picture.",
            code="no-text",
        )
    words = vocabularies()[language]
    found = judged(hits_of(pages, words), words)
    shown = [
        page if options["kind"] in ("html", "text") else page.model_copy(update={"words": []})
        for page in pages
    ]
    return {
        "language": language,
        "document": document_of(pages, found),
        "hazards": [one.model_dump(mode="json") for one in hazards_of(pages)],
        "pages": [one.model_dump(mode="json") for one in shown],
        "found": [one.model_dump(mode="json") for one in found],
    }


def _pages(data: bytes, kind: str) -> tuple[list[Page], str]:
    from .pages_in import read_html, read_pdf, read_text

    known = vocabularies()
    if kind == "photo":
        return _photographed(data)
    if kind == "pdf":
        pages = read_pdf(data)
    elif kind == "html":
        pages = read_html(data)
    else:
        pages = read_text(data.decode("utf-8", "replace"))
    return pages, language_of(pages, known)


def read_label(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """The words of a bottle's label by photo, each with its place: {"page": Page}.

    Raises DomainError: no picture, or nothing that reads it.
    """
    from .pictures_of_text import page_of, straightened

    return {"page": page_of(straightened(data), "en").model_dump(mode="json")}


def _photographed(data: bytes) -> tuple[list[Page], str]:
    """Read in English first; where its words are another language's, in that."""
    from .pictures_of_text import page_of, straightened

    picture = straightened(data)
    page = page_of(picture, "en")
    language = language_of([page], vocabularies())
    return [page if language == "en" else page_of(picture, language)], language


def page_picture(data: bytes, options: dict[str, Any]) -> dict[str, Any]:
    """A JPEG of one page, for the screen.

    Raises DomainError: no such page.
    """
    picture = _pdf_page(data, options["page"]) if options["kind"] == "pdf" else _photo_page(data)
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
    page = document[number - 1]
    drawn = page.render(scale=SCREEN_SIDE / max(page.get_size()), grayscale=True)
    return np.asarray(drawn.to_numpy())


def _photo_page(data: bytes) -> np.ndarray:
    from .pictures_of_text import straightened

    return straightened(data)
