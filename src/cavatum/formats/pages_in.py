"""Files with a data sheet in them into pages of words: PDF, HTML, plain text. In the child only."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator
from typing import Any

from ..core.common.errors import DomainError
from ..core.sheet.page import Page, Word

MOST_PAGES = 24
MOST_WORDS = 20_000
RAISED = 0.8  # of the line's height: smaller, a digit behind a word is a footnote's mark
SUPERSCRIPT = str.maketrans("123456", "¹²³⁴⁵⁶")
TEXT_WIDTH, TEXT_HEIGHT, LINE = 7.0, 12.0, 18.0  # of a page that is made of text alone


def read_pdf(data: bytes) -> list[Page]:
    """Words of each page, with small raised digits as superscripts.

    Raises DomainError: locked by a password, over MOST_PAGES pages, no PDF.
    """
    import pdfplumber
    from pdfminer.pdfdocument import PDFPasswordIncorrect
    from pdfplumber.utils.exceptions import PdfminerException

    try:
        document = pdfplumber.open(io.BytesIO(data))
    except PdfminerException as error:
        if any(
            isinstance(one, PDFPasswordIncorrect) for one in (*error.args, error.__cause__, error.__context__)
        ):
            raise _refused("locked with a password", "Save it without the password.", "locked") from error
        raise
    with document:
        if len(document.pages) > MOST_PAGES:
            raise _refused(
                f"{len(document.pages)} pages", "Choose the pages with the values.", "too-many-pages"
            )
        return [_page(one, number) for number, one in enumerate(document.pages, 1)]


def _page(page: Any, number: int) -> Page:
    found = page.extract_words(x_tolerance=1.5, y_tolerance=2, extra_attrs=["size"], use_text_flow=False)
    if len(found) > MOST_WORDS:
        raise _refused(f"{len(found)} words on a page", "Choose the pages with the values.", "too-many-words")
    words = [
        Word(text=one["text"][:200], x0=one["x0"], top=one["top"], x1=one["x1"], bottom=one["bottom"])
        for one in found
    ]
    page.close()
    return Page(number=number, width=float(page.width), height=float(page.height), words=list(_marked(words)))


def _marked(words: list[Word]) -> Iterator[Word]:
    """A small digit that hangs on the word before it is a footnote's mark, or an exponent."""
    for place, word in enumerate(words):
        last = words[place - 1] if place else None
        high = (last.bottom - last.top) if last else 0.0
        is_small = (
            last is not None
            and word.bottom - word.top < RAISED * high
            and abs(word.x0 - last.x1) < 0.3 * high
            and word.bottom < last.bottom
        )
        if word.text.isdigit() and (is_small or _begins_note(words, place)):
            yield word.model_copy(update={"text": word.text.translate(SUPERSCRIPT)})
        else:
            yield word


def _begins_note(words: list[Word], place: int) -> bool:
    """A small digit before larger text at the beginning of a line."""
    word = words[place]
    after = words[place + 1] if place + 1 < len(words) else None
    before = words[place - 1] if place else None
    if after is None or (before is not None and before.bottom > word.bottom and before.x1 < word.x0):
        return False
    high = after.bottom - after.top
    return (
        word.bottom - word.top < RAISED * high and abs(after.x0 - word.x1) < high and after.bottom > word.top
    )


def read_text(text: str) -> list[Page]:
    """Lines of plain text as a page; a tab, or three blanks, begins another cell.

    Raises DomainError: too many words.
    """
    return [_lines(line.replace("\t", "    ") for line in text.splitlines())]


def _lines(lines: Iterable[str]) -> Page:
    words: list[Word] = []
    widest = 1
    for row, line in enumerate(lines):
        widest, at = max(widest, len(line)), 0
        for part in line.split():
            at = line.index(part, at)
            words.append(
                Word(
                    text=part[:200],
                    x0=at * TEXT_WIDTH,
                    x1=(at + len(part)) * TEXT_WIDTH,
                    top=row * LINE,
                    bottom=row * LINE + TEXT_HEIGHT,
                )
            )
            at += len(part)
    if len(words) > MOST_WORDS:
        raise _refused(f"{len(words)} words", "Choose the part with the values.", "too-many-words")
    bottom = max((one.bottom for one in words), default=TEXT_HEIGHT)
    return Page(number=1, width=widest * TEXT_WIDTH, height=bottom, words=words)


def _refused(value: str, way_out: str, code: str) -> DomainError:
    return DomainError(
        argument="data sheet",
        value=value,
        allowed=f"at most {MOST_PAGES} pages of text are read",
        way_out=way_out,
        code=code,
    )
